"""One verdict per pot, with an amount; offsets, contradictions, decisions, and what no longer holds."""

from dataclasses import replace

import pytest

from dribbet.lab.cup import house_rules, matching
from dribbet.lab.cup.matching import Outvoted, Pot
from dribbet.lab.paint.consistency import Match
from dribbet.lab.paint.learning import Line
from dribbet.records import CheckKind, GradeWindow, HouseRules, Offset, Role, Stream, Technique
from dribbet.words.check import cautions
from dribbet.words.units import Units
from tests.made_up import check, mix, weighing

RULES = HouseRules()
LINE = Line("conditioner")
VOLUMES = {"paint": 21e-6, "medium": 45e-6, "water": 13e-6}


def pot(name, *checks, role=Role.COLOUR):
    cup = mix(name)
    made = tuple(check(cup, *c) if isinstance(c, tuple) else replace(c, mix_id=cup.id) for c in checks)
    return Pot(mix_id=cup.id, name=name, role=role, checks=made, density_kg_m3=1070.0, volumes_m3=VOLUMES, line=LINE)


def drips(**runs_mm):
    return [pot(name, ("drip", mm / 1e3)) for name, mm in runs_mm.items()]


def test_outlier_gets_one_instruction_with_an_amount_and_its_doubt():
    found = matching.judge(drips(foam=66, teal=41, green=64, slate=70, ochre=61), RULES)
    teal = found.pots["m-teal"]
    assert (teal.match, teal.add) == (Match.TOO_THICK, "water")
    assert 0 < teal.low_kg <= teal.first_kg <= teal.amount_kg <= teal.high_kg < 0.05
    assert [p.match for n, p in found.pots.items() if n != "m-teal"] == [Match.GOOD] * 4
    assert (found.kind, found.middle, found.matched) == (CheckKind.DRIP, 0.064, False)
    assert found.band == pytest.approx((0.048, 0.080))
    assert teal.rests_on.readings == 0  # the tables' word, and it says so


def test_too_thin_is_mended_with_paint():
    thin = matching.judge(drips(foam=66, teal=85, green=64), RULES).pots["m-teal"]
    assert (thin.match, thin.add, thin.anew) == (Match.TOO_THIN, "paint", False)
    assert 0 < thin.amount_kg <= 0.5 * sum(VOLUMES.values()) * 1070.0


def test_cup_that_would_want_more_than_half_of_itself_is_started_anew():
    far = matching.judge(drips(foam=66, teal=110, green=64), RULES).pots["m-teal"]
    assert (far.match, far.add, far.amount_kg, far.anew) == (Match.TOO_THIN, "", 0.0, True)
    assert far.rests_on.value > 0.5 * sum(VOLUMES.values())


def test_weaker_thinner_takes_more_of_itself():
    water, weak = (
        replace(p, thinner=n, thinner_strength=s) for p, n, s in zip(drips(foam=41) * 2, ("water", "gentle thinner"), (1.0, 0.9), strict=True)
    )
    others = drips(teal=66, green=64, slate=65)
    amounts = [matching.judge([one, *others], RULES).pots["m-foam"] for one in (water, weak)]
    assert amounts[1].amount_kg == pytest.approx(amounts[0].amount_kg / 0.9)
    assert (amounts[0].add, amounts[1].add) == ("water", "gentle thinner")


def test_set_with_lumps_is_not_matched_until_it_was_kept():
    pots = [
        pot(n, ("drip", 0.065), ("stream", float(list(Stream).index(Stream.LUMPS)), 31.0)) if n == "foam" else pot(n, ("drip", 0.066))
        for n in ("foam", "teal")
    ]
    found = matching.judge(pots, RULES)
    assert (found.pots["m-foam"].lumpy, found.pots["m-teal"].lumpy, found.matched) == (True, False, False)
    kept = [replace(pots[0], checks=(*pots[0].checks, check(mix("foam"), "kept", 0.0, 40.0))), pots[1]]
    assert matching.judge(kept, RULES).matched


def test_farther_out_takes_more():
    amounts = [matching.judge(drips(foam=66, teal=t, green=64), RULES).pots["m-teal"].amount_kg for t in (45, 40, 32, 24)]
    assert amounts == sorted(amounts)
    assert amounts[0] < amounts[-1]


def test_drip_that_did_not_run_is_too_thick_and_its_amount_stays_in_reason():
    stuck = matching.judge(drips(foam=60, teal=0, green=60), RULES).pots["m-teal"]
    assert (stuck.match, stuck.add) == (Match.TOO_THICK, "water")
    assert stuck.amount_kg <= 0.6 * sum(VOLUMES.values()) * 998.0 + 1e-9
    none = matching.judge(drips(foam=0, teal=0, green=0), RULES)
    assert [p.match for p in none.pots.values()] == [Match.TOO_THICK] * 3


def test_band_is_the_same_band_whatever_was_read():
    """Runs go as the inverse cube root of viscosity, mounds as viscosity: a run 24 % short is a mound 1 / 0.76^3 as long."""
    for factor, good in ((0.77, True), (0.73, False), (1.23, True), (1.27, False)):
        by_drip = matching.judge([pot("a", ("drip", 0.06)), pot("b", ("drip", 0.06)), pot("c", ("drip", 0.06 * factor))], RULES)
        by_mound = matching.judge([pot("a", ("mound", 2.0)), pot("b", ("mound", 2.0)), pot("c", ("mound", 2.0 * factor**-3))], RULES)
        assert (by_drip.pots["m-c"].match is Match.GOOD) == (by_mound.pots["m-c"].match is Match.GOOD) == good


def test_a_run_that_was_read_late_stands_for_the_one_at_the_usual_moment():
    """Eight times as late: twice as far, as runs grow with the cube root of time."""
    late = replace(check(mix("a"), "drip", 0.08, 40.0), seconds=8 * RULES.drip_seconds)
    assert matching.reading(pot("a", late), CheckKind.DRIP, RULES) == pytest.approx((0.08, 0.04))
    assert matching.reading(pot("a", replace(late, seconds=0.0)), CheckKind.DRIP, RULES) == pytest.approx((0.08, 0.08))


def test_flow_cups_are_compared_within_their_range_only():
    ok = [check(mix(n), "flow cup", s, tool="ISO 2431, 4 mm") for n, s in (("a", 60.0), ("b", 62.0))]
    assert matching.judge([pot("a", ok[0]), pot("b", ok[1])], RULES).matched
    short = replace(ok[1], value=12.0)
    found = matching.judge([pot("a", ok[0]), pot("b", short)], RULES)
    assert found.unread == ("b",)
    assert not found.matched


def test_set_is_compared_by_the_kind_that_all_have():
    mixed = [pot("a", ("drip", 0.06), ("mound", 2.0)), pot("b", ("mound", 2.1))]
    assert matching.judge(mixed, RULES).kind is CheckKind.MOUND
    half = [pot("a", ("drip", 0.06)), pot("b", ("mound", 2.1))]
    assert matching.judge(half, RULES).unread == ("b",)
    assert matching.judge([pot("a"), pot("b")], RULES).unread == ("a", "b")


def test_role_may_run_farther_on_purpose():
    pots = [*drips(foam=66, teal=64, green=65), pot("brass", ("drip", 0.050), role=Role.METALLIC)]
    assert matching.judge(pots, RULES).pots["m-brass"].match is Match.GOOD  # just inside
    asked = replace(RULES, offsets=(Offset(role=Role.METALLIC, runs=1.3),))
    assert matching.judge(pots, asked).pots["m-brass"].match is Match.TOO_THICK
    assert house_rules.offset(Role.METALLIC, asked) == 1.3
    assert house_rules.offset(Role.BASE, asked) == 1.0


def test_base_stands_beside_the_colours_until_it_gets_an_offset():
    pots = [*drips(foam=66, teal=64, green=65), pot("pillow", ("drip", 0.020), role=Role.BASE)]
    found = matching.judge(pots, RULES)
    assert found.matched
    assert found.middle == 0.065  # the base has no say in it
    assert found.pots["m-pillow"].beside == (Role.BASE, pytest.approx(0.020 / 0.065))
    asked = replace(RULES, offsets=(Offset(role=Role.BASE, runs=0.6),))
    assert matching.judge(pots, asked).pots["m-pillow"].match is Match.TOO_THICK


def test_ring_outranks_the_drip_until_the_person_says_otherwise():
    pots = [*drips(foam=66, green=64), pot("teal", ("drip", 0.041), ("ring", 0.5))]
    first = matching.judge(pots, RULES).pots["m-teal"]
    assert first.match is Match.GOOD
    assert not first.add
    assert first.outvoted is Outvoted.BY_RING
    order = (CheckKind.DRIP, CheckKind.RING, CheckKind.FLOW_CUP, CheckKind.MOUND, CheckKind.SLUMP)
    other = matching.judge(pots, replace(RULES, check_order=order)).pots["m-teal"]
    assert other.match is Match.TOO_THICK
    assert other.outvoted is Outvoted.BY_READING
    slight = [*drips(foam=66, green=64), pot("teal", ("drip", 0.041), ("ring", 0.2))]
    assert matching.judge(slight, RULES).pots["m-teal"].match is Match.TOO_THICK


def test_kept_pot_counts_as_matched_with_its_reason():
    kept = check(mix("teal"), "kept", 0.0, 40, note="contrast wanted")
    found = matching.judge([*drips(foam=66, green=64), pot("teal", ("drip", 0.041), kept)], RULES)
    assert found.matched
    assert found.pots["m-teal"].kept
    assert found.pots["m-teal"].kept_because == "contrast wanted"


def test_stream_that_no_amount_mends_says_what_does():
    lumpy = check(mix("teal"), "stream", list(Stream).index(Stream.LUMPS))
    found = matching.judge([*drips(foam=66), pot("teal", ("drip", 0.06), lumpy)], RULES)
    assert not found.matched
    assert "not mixed through" in cautions(found.pots["m-teal"], mix("teal"), found.kind, Units())[0]


def test_mound_is_the_mean_of_three_and_a_drip_the_last():
    cup = mix("teal")
    several = [check(cup, "mound", v, m) for v, m in ((9.0, 1), (2.0, 2), (2.2, 3), (2.4, 4))]
    assert matching.latest(several, CheckKind.MOUND)[0] == pytest.approx(2.2)
    twice = [check(cup, "drip", 0.05, 1), check(cup, "drip", 0.06, 2)]
    assert matching.latest(twice, CheckKind.DRIP) == (0.06, 0.0, 1)


def test_any_addition_makes_earlier_readings_the_past():
    cup = mix("teal")
    old, new = check(cup, "drip", 0.05, 10), check(cup, "drip", 0.06, 20)
    assert matching.current([old, new], {cup.id: weighing(cup, "water", 0.001, 15)}) == (new,)
    assert matching.current([old, new], {}) == (old, new)


def test_grades_and_windows_are_the_persons_own():
    own = replace(RULES, grade_limits_s=(0.1, 2.0, 4.0, 8.0), windows=(GradeWindow(technique=Technique.FLIP_CUP, low=2, high=4),))
    assert (house_rules.grade_of(1.5, RULES), house_rules.grade_of(1.5, own)) == (3, 2)
    assert house_rules.window(Technique.FLIP_CUP, own) == (2, 4)
    assert house_rules.window(Technique.RING_POUR, own) == (4, 4)
    assert house_rules.seconds_of(3, 3, own) == (2.0, 4.0)
    assert Technique.FLIP_CUP in house_rules.techniques_for([4, 4, 4], own)
    assert Technique.FLIP_CUP not in house_rules.techniques_for([4, 4, 4], RULES)


@pytest.mark.parametrize("seen", list(Stream))
def test_what_the_stream_did_last_is_told_whatever_it_was(seen):
    lumps = matching.judge([pot("foam", ("drip", 0.06), ("stream", float(list(Stream).index(seen))))], RULES).pots["m-foam"]
    assert lumps.seen is seen
    assert lumps.lumpy == (seen is Stream.LUMPS)


@pytest.mark.parametrize(("run_mm", "gel_ml"), [(85, 13.0), (110, 31.4)])
def test_gel_on_the_shelf_thickens_with_less_than_paint_does(run_mm, gel_ml):
    """By the starting figures 21 + 45 + 13 mL stand at ln -0.372; V = 79 r / (ln 150 + 0.372 - r), r = 3 ln(run / 66)."""
    pots = [replace(p, gel="peak gel", gel_kg_m3=1100.0) for p in drips(foam=66, teal=run_mm, green=64)]
    thin = matching.judge(pots, RULES).pots["m-teal"]
    assert (thin.match, thin.add, thin.anew) == (Match.TOO_THIN, "peak gel", False)
    assert thin.amount_kg == pytest.approx(gel_ml * 1e-6 * 1100.0, rel=0.08)
    assert thin.low_kg < thin.amount_kg < thin.high_kg


def test_cup_that_no_gel_thickens_within_half_of_itself_is_started_anew():
    pots = [replace(p, gel="peak gel") for p in drips(foam=66, teal=140, green=64)]
    assert matching.judge(pots, RULES).pots["m-teal"].anew
