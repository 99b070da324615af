"""What came due says so once, whichever page is open: looks, and the time of what is in the oven."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime, timedelta

from PyQt6.QtCore import QRect

from dribbet.bench.notices import Notices
from dribbet.bench.parts.time_bands import CODE_PX, BandsView, BandView, TimeBands
from dribbet.records import After
from dribbet.studio import sensors
from dribbet.studio.acts import drying
from dribbet.studio.standing import looks


def test_a_look_and_an_oven_are_told_once(window, desk, clock):
    notices = Notices(window, desk)
    assert notices.tell(desk.now()) == ""
    first = next(a for a in looks.ahead(desk) if a.due > desk.now())
    desk.choose_series(next(s.id for s in desk.all_series() if any(p.id == first.panel.id for p in desk.load(s.id).panels)))
    for m in desk.shelf():
        desk.notebook.replace(replace(m, bakeable=True))
    clock.now = first.due + timedelta(seconds=30)
    said = notices.tell(desk.now())
    assert said.startswith(f"Look at {first.panel.code}, {first.look}.")
    assert notices.tell(desk.now()) == ""
    clock.now += timedelta(days=40)
    notices.tell(desk.now())
    if desk.need_run().arm(first.panel).silicone_drops_per_100g:
        drying.treat(desk, first.panel, After.WASH)
    drying.treat(desk, first.panel, After.BAKE, celsius=150.0, seconds=600.0)
    drying.go_on(desk, next(t for t in desk.need_run().treated if t.kind is After.BAKE))
    clock.now += timedelta(minutes=9, seconds=50)
    assert notices.tell(desk.now()) == ""
    clock.now += timedelta(minutes=1)
    assert notices.tell(desk.now()).startswith(f"Bake of {first.panel.code}: time is up.")
    assert notices.tell(desk.now()) == ""
    assert len(notices.said) == 3


def test_a_sensor_that_stays_away_is_told_of_once(window, desk, clock, tmp_path):
    desk.set_rules(replace(desk.rules, climate_file=str(tmp_path / "nothing.csv")))
    desk.notebook.put_setting(sensors.SETTING, sensors.FILE)
    desk.read_anew()
    page = window.pages[window.current]
    window._listen(desk.now())
    assert page.trouble.count() == 1
    page.say_trouble("")
    clock.now += timedelta(minutes=1)
    window._listen(desk.now())
    assert page.trouble.count() == 0


def test_looks_from_before_the_axis_are_not_drawn_over_the_codes(window):
    start = datetime(2026, 11, 20, tzinfo=UTC)
    bare = BandView("p", "K3-a1", start - timedelta(days=4))
    bands = TimeBands()
    bands.resize(800, 240)

    def drawn(band: BandView) -> object:
        bands.show_bands(BandsView((band,), start, start + timedelta(days=20), start + timedelta(days=9), "now"))
        return bands.grab().toImage()

    without = drawn(bare)
    assert drawn(replace(bare, looks=(start - timedelta(days=1),))) == without
    assert drawn(replace(bare, looks=(start + timedelta(days=1),))) != without
    code = QRect(0, 0, CODE_PX - 1, 240)  # an older crack stands at the edge of its band, not on the code
    cracked = drawn(replace(bare, crack_seen=start - timedelta(days=2)))
    assert cracked != without
    assert cracked.copy(code) == without.copy(code)
