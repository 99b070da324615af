"""What a person does while panels dry: rooms, weights, looks, treatments in their order; and what stands between."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

import pytest
from icalendar import Calendar

from dribbet.lab.panel import aftercare
from dribbet.lab.panel.aftercare import Phase
from dribbet.lab.panel.drying import DryStage
from dribbet.paper.calendar import calendar
from dribbet.records import After, DribbetError, Feel, HouseRules, Look, PanelWeight, ReadBy, Series, Stuck, Treated
from dribbet.studio import sensors
from dribbet.studio.acts import drying, ways
from dribbet.studio.standing import looks, panels, turning
from tests.studio.test_six_plans import Bench

STATE = aftercare.State(
    code="K3-a1", dry=True, days=30.0, film_m=1.7e-3, silicone=False, washed=False, coated=False, baked=False, unbakeable=(),
    photographed=True, scored=True, discarded=False,
)  # fmt: skip


@pytest.mark.parametrize("kind", [After.WASH, After.VARNISH, After.RESIN, After.BAKE, After.HOT_CUP, After.DISCARD])
def test_a_dry_clean_panel_may_be_treated(kind):
    assert aftercare.barred(kind, STATE) is None
    assert aftercare.barred(kind, replace(STATE, discarded=True)) == "K3-a1 was discarded. Its record stays."


def test_nothing_but_throwing_away_before_it_is_dry():
    wet = replace(STATE, dry=False)
    assert [aftercare.barred(k, wet) is None for k in After] == [False] * 5 + [True]
    assert "Photograph" in aftercare.barred(After.DISCARD, replace(wet, photographed=False))
    assert "Read the photo" in aftercare.barred(After.DISCARD, replace(wet, scored=False))


def test_silicone_bars_coat_and_oven_until_it_is_washed_off():
    oily = replace(STATE, silicone=True)
    barred = {k: aftercare.barred(k, oily) is not None for k in After}
    assert barred == {
        After.WASH: False, After.VARNISH: True, After.RESIN: True, After.BAKE: True, After.HOT_CUP: False, After.DISCARD: False,
    }  # fmt: skip
    assert aftercare.barred(After.BAKE, replace(oily, washed=True)) is None


def test_an_oven_takes_only_what_its_labels_allow_and_nothing_coated():
    assert "Glue is in K3-a1" in aftercare.barred(After.BAKE, replace(STATE, unbakeable=("glue", "foam")))
    assert "coated" in aftercare.barred(After.BAKE, replace(STATE, coated=True))


def test_thick_films_cure_longer_and_a_sheet_names_what_was_passed():
    assert aftercare.cured_days(1.7e-3) == aftercare.cured_days(1.0e-3) == 21.0
    assert aftercare.cured_days(3.4e-3) == pytest.approx(42.0)
    assert aftercare.fitness(replace(STATE, washed=True, baked=True), "free") == ("cured", "washed", "baked", "hot cup: free")
    assert aftercare.fitness(replace(STATE, days=20.0), "") == ()
    assert aftercare.BAKE == (160.0, 1800.0)  # a common label bake: the label decides
    assert aftercare.HOT_CUP == (95.0, 30.0)


@pytest.fixture
def k3(desk):
    desk.choose_series("k3")
    return desk


def poured(desk):
    run = desk.need_run()
    return next(p for p in run.in_order() if run.weight(p, PanelWeight.POURED) is not None)


def test_a_panel_is_weighed_while_it_dries_and_its_loss_follows(k3):
    panel = poured(k3)
    wet = k3.need_run().weight(panel, PanelWeight.POURED)
    with pytest.raises(DribbetError, match="cannot be heavier than when it was wet"):
        drying.weigh_drying(k3, panel, wet + 0.01)
    drying.weigh_drying(k3, panel, wet - 0.010)
    told = panels.loss_of(k3, k3.need_run(), panel)
    assert told.lost_kg == pytest.approx(0.010)
    left = wet - k3.need_run().weight(panel, PanelWeight.BARE)
    assert 0.4 < told.volatile_kg / left < 0.9
    assert drying.take_back(k3) == panel.id
    assert panels.loss_of(k3, k3.need_run(), panel) is None


def test_rooms_that_were_read_move_the_drying_windows(k3):
    panel = poured(k3)
    at = k3.need_run().poured_at(panel)
    before = panels.windows(k3, k3.need_run(), panel)[0].latest_s
    for hours in range(0, 120, 6):
        drying.read_room(k3, 14.0, 0.85, at=at + timedelta(hours=hours))
    damp = panels.air_of(k3, k3.need_run(), panel)
    assert (damp.celsius, damp.damp, damp.read) == (pytest.approx(14.0), pytest.approx(0.85), 1.0)
    assert panels.windows(k3, k3.need_run(), panel)[0].latest_s > 2.0 * before


def test_a_file_of_the_room_is_taken_in_once(k3):
    from dribbet.devices.climate import AirReading

    told = [AirReading(at=k3.now() - timedelta(hours=h), celsius=20.0, damp=0.5) for h in (3, 2, 1)]
    assert drying.bring_in(k3, told) == 3
    assert drying.bring_in(k3, told) == 0
    assert {c.by for c in k3.climate()} == {ReadBy.FILE}


def test_a_sensor_is_written_down_every_quarter_of_an_hour_while_something_dries(k3):
    assert sensors.listen(k3) == ""
    assert not k3.climate()
    while sensors.chosen(k3) != sensors.PRACTICE:
        sensors.choose_next(k3)
    sensors.listen(k3)
    sensors.listen(k3)
    assert [c.by for c in k3.climate()] == [ReadBy.SENSOR]
    k3.clock.now += timedelta(minutes=16)
    sensors.listen(k3)
    assert len(k3.climate()) == 2
    assert sensors.choices(HouseRules()) == ["", "practice", "practice, with faults"]
    assert sensors.choices(HouseRules(climate_file="room.txt"))[-1] == sensors.FILE


def test_a_treatment_that_takes_its_time_is_finished_by_a_second_press(k3):
    run = k3.need_run()
    panel = poured(k3)
    for m in k3.shelf():
        k3.notebook.replace(replace(m, bakeable=True))
    k3.clock.now += timedelta(days=40)
    k3.changed()
    state = panels.state(k3, k3.need_run(), panel)
    assert state.dry
    assert state.days > 40
    if state.silicone:
        drying.treat(k3, panel, After.WASH)
    drying.treat(k3, panel, After.BAKE, celsius=150.0, seconds=1800.0)

    def bake() -> Treated:
        return next(t for t in k3.need_run().treated if t.kind is After.BAKE)

    def stands() -> tuple[Phase, float]:
        """To ten seconds: the clock of these tests ticks at each asking."""
        phase, seconds = aftercare.phase(bake(), k3.now())
        return phase, round(seconds, -1)

    assert stands() == (Phase.HEATING, 0.0)
    assert not panels.state(k3, k3.need_run(), panel).baked  # not before it is over
    k3.clock.now += timedelta(minutes=10)
    drying.go_on(k3, bake())
    began = k3.now()
    k3.clock.now += timedelta(minutes=29)
    assert stands() == (Phase.HELD, 60.0)
    assert panels.times_up(k3, began, k3.now()) == []
    k3.clock.now += timedelta(minutes=2)
    assert stands() == (Phase.UP, 60.0)
    assert [(p.id, t.kind) for p, t in panels.times_up(k3, began, k3.now())] == [(panel.id, After.BAKE)]
    assert panels.times_up(k3, k3.now() - timedelta(seconds=30), k3.now()) == []  # told once
    drying.go_on(k3, bake())
    assert aftercare.held_s(bake()) == pytest.approx(31 * 60.0, abs=20.0)
    k3.clock.now += timedelta(minutes=40)
    assert stands() == (Phase.COOLING, 2400.0)
    drying.go_on(k3, bake())
    assert stands() == (Phase.OVER, 0.0)
    for left in (Phase.COOLING, Phase.UP, Phase.HEATING):
        drying.take_back(k3)
        assert stands()[0] is left
    for _ in range(3):
        drying.go_on(k3, bake())
    assert panels.state(k3, k3.need_run(), panel).baked
    drying.treat(k3, panel, After.HOT_CUP, celsius=95.0, seconds=30.0)
    cup = next(t for t in k3.need_run().treated if t.kind is After.HOT_CUP)
    drying.finish(k3, cup, stuck=Stuck.STUCK)
    assert next(t for t in k3.need_run().treated if t.kind is After.HOT_CUP).stuck is Stuck.STUCK
    assert run.series.id == "k3"


def test_looks_ahead_go_into_a_calendar_with_alarms_and_their_own_identity(k3):
    found = looks.ahead(k3)
    assert found == sorted(found, key=lambda a: a.due)
    data = calendar([(f"{a.panel.id}-{a.look}", f"Look at {a.panel.code}", k3.local(a.due), "words") for a in found], k3.now())
    read = Calendar.from_ical(data)
    events = read.walk("VEVENT")
    assert len(events) == len(found) > 5
    assert len({str(e["UID"]) for e in events}) == len(events)
    assert all(e.walk("VALARM")[0]["TRIGGER"].dt == -timedelta(minutes=10) for e in events)
    first = min(events, key=lambda e: e["DTSTART"].dt)
    assert first["DTSTART"].dt == k3.local(found[0].due).replace(microsecond=0)


def test_own_looks_hold_from_the_drawing_of_lots_on(desk):
    desk.set_rules(replace(desk.rules, looks=("10 h", "3 d")))
    bench = Bench(desk)
    bench.plan.draw_lots()
    desk.set_rules(replace(desk.rules, looks=("1 h",)))
    assert {t for j in desk.need_run().series.protocol for t in j.times} == {"10 h", "3 d", "dry"}


def test_an_own_way_is_copied_changed_and_put_aside_and_tests_keep_theirs(desk):
    from dribbet.lab.panel import pouring
    from dribbet.records import Step
    from dribbet.studio.acts import asking
    from dribbet.words import ways as words
    from dribbet.words.units import units_of

    units = units_of(desk)
    slow = ways.copy(desk, "flip cup", "slow flip")
    with pytest.raises(DribbetError, match="already"):
        ways.copy(desk, "flip cup", "Slow flip")
    at = next(i for i, s in enumerate(slow.steps) if s.step is Step.LIFT)
    slow = ways.change(desk, slow, words.typed(slow.steps, at, "seconds 90, height 120", units))
    assert words.line(slow.steps[at], units) == "1:30 min, 120\u202fmm high"
    bench = Bench(desk)
    bench.plan.keep(desk.need_run().series, ways.kept(asking.pour_by(ways.offered(desk, desk.need_run().series), "slow flip")))
    bench.plan.draw_lots()
    held = desk.need_run().arms[0].held
    assert (held.way, [w.name for w in held.ways]) == ("slow flip", ["slow flip"])
    assert dict(pouring.steps(held))[Step.LIFT] == 90.0
    ways.change(desk, slow, pouring.without_step(slow.steps, at))
    ways.put_aside(desk, ways.own(desk)[0])
    assert ways.own(desk) == []
    assert dict(pouring.steps(desk.need_run().arms[0].held))[Step.LIFT] == 90.0


def test_cups_that_can_be_held_against_each_other(desk):
    bench = Bench(desk)
    run = desk.need_run()
    mine = turning.cup(desk, run, run.arms[0])
    others = turning.cups(desk, run, "a")
    assert others[0].turned_round
    assert [x.material for x in others[0].up] == [x.material for x in reversed(mine.up)]
    assert mine.hexes != others[0].hexes
    low, high = turning.SHOWN_S
    assert low <= turning.seconds(mine, others[0]) <= high
    assert bench.desk.notebook.get(Series, run.series.id)


def test_a_year_of_readings_is_looked_through_once(k3):
    from dribbet.devices.climate import AirReading

    now = k3.now()
    drying.bring_in(k3, [AirReading(at=now - timedelta(hours=h), celsius=15.0 + h % 7, damp=0.5) for h in range(400)])
    between = k3.climate_between(now - timedelta(hours=10, minutes=30), now - timedelta(hours=2, minutes=30))
    assert [c.celsius for c in between] == [15.0 + h % 7 for h in range(10, 2, -1)]
    assert k3.climate() is k3.climate()
    drying.read_room(k3, 22.0, 0.4)
    assert k3.climate()[-1].celsius == 22.0


def test_what_no_card_says_may_be_baked_is_named_but_never_the_water(k3):
    panel = poured(k3)
    for m in k3.shelf():
        k3.notebook.replace(replace(m, bakeable=m.key != "foam"))
    k3.changed()
    assert panels.state(k3, k3.need_run(), panel).unbakeable == ("foam",)
    for m in k3.shelf():
        k3.notebook.replace(replace(m, bakeable=True))
    k3.changed()
    assert "water" in k3.need_run().cup(panel)
    assert panels.state(k3, k3.need_run(), panel).unbakeable == ()


def test_a_panel_is_dry_from_the_later_end_of_its_window_on(k3):
    run = k3.need_run()
    panel = poured(k3)
    at = run.poured_at(panel)
    for look in [k for k in run.looks if k.panel_id == panel.id]:
        k3.notebook.replace(replace(look, taken_back=True))
    k3.changed()
    until = panels.windows(k3, k3.need_run(), panel)[2].latest_s
    for seconds, dry in ((until - 3600.0, False), (until + 3600.0, True)):
        k3.clock.now = at + timedelta(seconds=seconds)
        k3.read_anew()
        assert panels.state(k3, k3.need_run(), panel).dry == dry


def test_a_coat_lies_on_every_photograph_after_it_and_its_sheet_says_what_was_passed(k3):
    panel = poured(k3)
    k3.clock.now += timedelta(days=30)
    before = k3.now()
    drying.treat(k3, panel, After.WASH)
    drying.treat(k3, panel, After.VARNISH)
    run = k3.need_run()
    assert panels.coat_at(run, panel, before) is None
    assert panels.coat_at(run, panel, k3.now()) is After.VARNISH
    assert panels.passed(k3, run, panel) == ("cured", "washed", "coated")


def test_a_cup_is_held_against_every_recipe_that_lies_otherwise_and_no_other(desk):
    from dribbet.records import Factor, Varied
    from tests.made_up import numbers

    bench = Bench(desk)
    bench.vary(Varied(factor=Factor.WATER_SHARE, levels=numbers(0.10, 0.16, 0.22)))
    run = desk.need_run()
    assert [(c.letter, c.turned_round) for c in turning.cups(desk, run, "b")] == [("b", True), ("a", False), ("c", False)]
    bench.vary(Varied(factor=Factor.HEAT, levels=numbers(0.0, 2.0)))  # heat changes nothing of how the stack lies
    run = desk.need_run()
    assert [(c.letter, c.turned_round) for c in turning.cups(desk, run, "a")] == [("a", True)]


def test_check_ins_move_the_windows_of_all_panels(k3):
    run = k3.need_run()
    panel = poured(k3)
    through = {w.stage: w for w in panels.windows(k3, run, panel)}
    physics = {w.stage: w for w in panels.physics(k3, run, panel)}
    assert k3.learned.paces()[DryStage.TOUCH].panels > 0  # the demo's own looks
    assert through[DryStage.TOUCH] != physics[DryStage.TOUCH]
    assert through[DryStage.SKIN] == physics[DryStage.SKIN]
    before = k3.learned.paces()[DryStage.THROUGH]
    for one in [p for p in run.in_order() if run.poured_at(p) is not None]:
        made = (run.poured_at(one) + timedelta(seconds=physics[DryStage.THROUGH].latest_s * 1.5)).replace(microsecond=0)
        k3.notebook.add(Look(id=f"late {one.id}"[:32], panel_id=one.id, due="dry", at=made, feel=Feel.TACKY, cracked=False))
    k3.changed()
    after = k3.learned.paces()[DryStage.THROUGH]
    assert after.shift > before.shift
    assert panels.windows(k3, k3.need_run(), panel)[2].latest_s > through[DryStage.THROUGH].latest_s
