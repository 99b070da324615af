"""What came due says so once, whichever page is open: looks, and the time of what is in the oven."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

from dribbet.bench.notices import Notices
from dribbet.records import After
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
