"""Mix as facts: the way back after an overshoot, what lies in a cup, what to mind, what it really holds; worked by hand."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

import pytest

from dribbet.lab.cup.filling import filling
from dribbet.records import Hazard, MarkKind, MixMark, Weighing
from dribbet.studio.acts.mixing import Mixing
from dribbet.studio.standing import contents, cups, mixing
from dribbet.studio.standing.mixing import Minding
from dribbet.words import mix as mix_words
from dribbet.words.units import Units
from tests.made_up import material, mix, weighing
from tests.studio.test_six_plans import Bench

PLAN = (("teal", 0.030), ("conditioner", 0.060), ("water", 0.010))
CUP = mix(plan=PLAN)
SHELF = {n: material(n) for n in ("teal", "conditioner")}


def now(*added, shelf=SHELF, **changed):
    ledger = [weighing(CUP, name, kg, i) for i, (name, kg) in enumerate(added)]
    return filling(CUP, ledger, [], shelf, tolerance_kg=0.2e-3, drop_kg=29e-6, **changed)


@pytest.fixture
def planned(desk):
    Bench(desk).plan.draw_lots()
    return desk


def test_half_as_much_water_again_wants_half_as_much_of_the_rest(desk):
    found = mixing.way_back(desk, CUP, now(("teal", 0.030), ("conditioner", 0.060), ("water", 0.015)))
    assert dict(found.adds_kg) == pytest.approx({"teal": 0.015, "conditioner": 0.030})
    assert found.total_kg == pytest.approx(0.150)
    assert found.overshoot.key == "water"
    assert found.overshoot.over_kg == pytest.approx(0.005)
    assert (found.overshoot.planned, found.overshoot.stands) == pytest.approx((0.10, 15 / 105))
    assert mixing.way_back(desk, CUP, now(("teal", 0.030))) is None


def test_other_way_takes_paint_out_first_and_ends_at_the_plan(desk):
    over = now(("teal", 0.030), ("conditioner", 0.060), ("water", 0.015))
    found = mixing.way_back(desk, CUP, over)
    assert found.take_out_kg == pytest.approx(0.035)  # 70 g of the mix hold the plan's 10 g of water
    after = mixing.after_taking_out(desk, over)
    assert dict(after.adds_kg) == pytest.approx({"teal": 0.010, "conditioner": 0.020})  # 20 and 40 g are left of 30 and 60
    assert after.total_kg == pytest.approx(0.100)


def test_cup_that_would_run_over_says_so(desk):
    small = replace(desk.rules, cups_kg=(0.14,))
    desk.set_rules(small)
    found = mixing.way_back(desk, CUP, now(("teal", 0.030), ("conditioner", 0.060), ("water", 0.015)))
    assert found.too_full  # it grows to 150 g in a cup of 140
    note = mix_words.back(found, Units())[3]
    assert "more than the cup holds" in note
    desk.set_rules(replace(small, cups_kg=(0.16,)))
    assert not mixing.way_back(desk, CUP, now(("teal", 0.030), ("conditioner", 0.060), ("water", 0.015))).too_full


def test_what_was_taken_out_is_off_every_layer_in_proportion(planned):
    run = planned.need_run()
    cup = run.mixes[0]
    at = planned.now()
    went = [("teal", 0.030), ("conditioner", 0.060), ("taken out", 0.009), ("water", 0.005)]
    ledger = tuple(Weighing(id=f"w{i}", mix_id=cup.id, ingredient=n, mass_kg=kg, at=at + timedelta(seconds=i)) for i, (n, kg) in enumerate(went))
    poured = replace(run, weighings=ledger)
    found = mixing.went_in(poured, cup, replace(now(("teal", 0.030)), over={"conditioner": 0.004}))
    assert [(one.key, one.kg, one.over_kg) for one in found] == [
        ("teal", pytest.approx(0.027), 0.0), ("conditioner", pytest.approx(0.054), 0.004), ("water", 0.005, 0.0)
    ]  # fmt: skip


def test_powder_and_flame_are_minded_before_they_go_in_and_an_open_cup_after(planned):
    run = planned.need_run()
    cup = run.mixes[0]
    dusty = {cup.colour: material(cup.colour, hazards=(Hazard.FLAMMABLE, Hazard.FUMES))}
    due = cups.filling_of(planned, run, cup)
    found = mixing.minded(planned, run, cup, due, dusty)
    assert (found.what, found.hazard) == (Minding.HAZARD, Hazard.FLAMMABLE)
    old = {cup.colour: material(cup.colour, strained_at=planned.now() - timedelta(days=14, hours=1))}
    full = replace(due, held={"x": 1.0})
    assert mixing.minded(planned, run, cup, full, old).what is Minding.STRAIN
    fresh = {cup.colour: material(cup.colour, strained_at=planned.now() - timedelta(days=13, hours=23))}
    assert mixing.minded(planned, run, cup, full, fresh) is None
    Mixing(planned).enter(cups.filling_of(planned, run, cups.in_hand(planned, run)).left[0][1], "typed")
    planned.clock.now += timedelta(seconds=planned.rules.cover_after_s + 2)
    run = planned.need_run()
    stands = mixing.minded(planned, run, cups.in_hand(planned, run), cups.filling_of(planned, run, cups.in_hand(planned, run)), {})
    assert stands.what is Minding.OPEN
    assert stands.figure == pytest.approx(planned.rules.cover_after_s / 60.0, abs=0.2)


def test_time_that_has_passed_today_is_tomorrow_s(planned):
    here = planned.local(planned.now())
    later = mixing.next_time(planned, (here + timedelta(hours=1)).hour, 0)
    assert timedelta(0) <= later - planned.now() <= timedelta(hours=2)
    past = here - timedelta(minutes=5)
    tomorrow = mixing.next_time(planned, past.hour, past.minute)
    assert timedelta(hours=23) < tomorrow - planned.now() < timedelta(hours=24)
    with pytest.raises(ValueError, match="hour"):
        mixing.next_time(planned, 24, 0)


def test_dose_is_told_for_the_colour_and_for_the_cup(planned):
    run = planned.need_run()
    silicone = next(m for m in planned.shelf() if m.wash_off)
    cup = replace(run.mixes[0], drops=2, drop_material=silicone.key)
    drop = cups.drop_kg(planned, run, cup)
    held = replace(now(("teal", 0.030)), held={cup.colour: 0.030 - 2 * drop, silicone.key: 2 * drop})
    found = contents.contents(planned, run, cup, held, {silicone.key: silicone, cup.colour: material(cup.colour)}).dropped
    assert found.drops == pytest.approx(2.0)
    assert found.of_colour == pytest.approx(2 * drop * 1e6 / 0.3)  # mg in 100 g of 30 g
    share = sum(layer.share for layer in run.series.layers if layer.material == cup.colour)
    assert found.of_cup == pytest.approx(found.of_colour * share)


def test_shimmer_is_told_wet_and_dry_and_where_it_shows():
    gull = material("gull", density_kg_m3=1000.0, volume_solids=0.2, smallest_share=0.33)
    teal = material("teal", density_kg_m3=1000.0, volume_solids=0.6)
    (one,) = contents.shimmers({"gull": 0.25, "teal": 0.75}, {"gull": gull, "teal": teal})
    assert (one.wet, one.dry, one.shows_from) == (0.25, pytest.approx(0.05 / 0.50), 0.33)
    (enough,) = contents.shimmers({"gull": 0.33, "teal": 0.67}, {"gull": gull, "teal": teal})
    assert enough.shows_from is None


def test_plan_as_a_ratio_by_weight_and_by_volume(desk):
    shelf = {"teal": material("teal", density_kg_m3=1200.0), "conditioner": material("conditioner", density_kg_m3=1000.0)}
    found = contents.ratio(desk, CUP, shelf)
    assert dict(found.by_mass) == pytest.approx({"teal": 1.0, "conditioner": 2.0, "water": 1 / 3})
    assert found.by_volume["conditioner"] == pytest.approx(2.0 * 1.2)
    assert found.shares["water"] == pytest.approx(0.1)
    assert found.off < 1e-6  # every amount is a whole number of steps
    uneven = replace(CUP, plan=(("teal", 0.03004), ("conditioner", 0.060), ("water", 0.010)))
    assert contents.ratio(desk, uneven, shelf).off == pytest.approx(0.03004 / 0.10004 - 0.0300 / 0.1000, rel=1e-6)
    assert contents.ratio(desk, replace(CUP, plan=(("teal", 0.03),)), shelf) is None


def test_cup_must_be_mixed_its_rest_before_the_pour(planned):
    run = planned.need_run()
    assert all(one.mix_by is None for one in mixing.cups_of_the_day(planned, run))
    pour = planned.now() + timedelta(hours=5)
    Mixing(planned).pour_at(pour)
    run = planned.need_run()
    assert mixing.pour_at(planned, run) == pour
    found = mixing.cups_of_the_day(planned, run)
    assert len(found) == len(run.mixes)
    assert all(one.mix_by < pour for one in found)


def test_flagged_cup_tells_what_got_into_it(planned):
    Mixing(planned).contaminate("stick from the silicone cup")
    flagged = [one for one in mixing.cups_of_the_day(planned, planned.need_run()) if one.batch.contaminated]
    assert [one.batch.why for one in flagged] == ["stick from the silicone cup"]
    planned.notebook.add(MixMark(id="x", mix_id=flagged[0].batch.mix.id, kind=MarkKind.STIRRED, at=planned.now()))
    assert mix_words.flag("") == "contaminated: no reason given"
