"""Claims over all series: what is put together, what never is, and the test that settles one."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.lab.verdict.causes import Trait
from dribbet.lab.verdict.pooled import Strength
from dribbet.lab.verdict.poured import level_name
from dribbet.records import Aim, BasePlan, Factor, Goal, Level, Response, SeriesState, Wanted, Word
from dribbet.studio.acts import following
from dribbet.studio.standing import differs, findings, how_made, scoring, verdict
from dribbet.words import findings as words
from dribbet.words.units import Units
from tests.made_up import numbers
from tests.studio.test_what_to_pour_next import poured

UNITS = Units()
FEW = {"a": (20, 22, 21), "b": (70, 74, 72)}
MANY = {"a": (70, 74, 72), "b": (20, 22, 21)}


def cells(desk, factor):
    """Claims of one factor about the number of cells, but those of the demo's own series."""
    return [c for c in findings.claims(desk) if c.varied.factor is factor and c.response is Response.CELL_COUNT]


def test_two_series_of_one_thing_are_one_claim_that_stands(desk):
    poured(desk, Factor.DWELL, numbers(10.0, 120.0), FEW)
    poured(desk, Factor.DWELL, numbers(10.0, 120.0), FEW, code="Z2", name="Zostera 02")
    (claim,) = cells(desk, Factor.DWELL)
    assert (claim.strength, len(claim.tests), claim.more) == (Strength.STANDS, 2, True)
    assert claim.pooled.difference == pytest.approx(51.0 / 3.0)  # panels of 3 dm2
    assert words.claim(claim, UNITS) == "A longer rest under the cup makes more cells."
    assert words.strength(claim) == "stands: 2 series"
    assert words.size(claim, UNITS) == "10\u202fs to 2\u202fmin: 17 in each dm² more"
    assert all(p.speaks_for for p in claim.points)
    assert words.headline([claim]) == "Rest under the cup decides cell count."


def test_a_longer_step_counts_for_as_much_as_it_is_longer(desk):
    """Water from 10 to 22 % does twice what 10 to 16 % does: told for the step in the middle, both say the same."""
    poured(desk, Factor.WATER_SHARE, numbers(0.10, 0.16), {"a": (20, 22, 21), "b": (50, 52, 51)})
    poured(desk, Factor.WATER_SHARE, numbers(0.10, 0.22), {"a": (20, 22, 21), "b": (80, 82, 81)}, code="Z2", name="Zostera 02")
    claim = next(c for c in cells(desk, Factor.WATER_SHARE) if c.tests)
    assert claim.second == Level(value=0.19)
    assert [b.shown.difference for b in claim.tests] == [pytest.approx(15.0), pytest.approx(15.0)]
    assert claim.pooled.between == 0.0


def test_tests_that_point_apart_are_for_and_against(desk):
    poured(desk, Factor.DWELL, numbers(10.0, 120.0), FEW)
    poured(desk, Factor.DWELL, numbers(10.0, 120.0), MANY, code="Z2", name="Zostera 02")
    (claim,) = cells(desk, Factor.DWELL)
    assert claim.strength is Strength.AGAINST
    assert words.size(claim, UNITS).endswith("2 tests disagree")
    assert words.against(claim, UNITS).startswith("Zostera 0")
    assert {p.speaks_for for p in claim.points} == {True, False}
    assert words.headline([claim]) == "Nothing stands yet."


def test_unlike_bases_and_coats_are_never_put_together(desk):
    held = desk.load("k2").series.constants
    poured(desk, Factor.DWELL, numbers(10.0, 120.0), FEW)
    poured(desk, Factor.DWELL, numbers(10.0, 120.0), MANY, code="Z2", name="Zostera 02", constants=replace(held, base_plan=BasePlan.FULL))
    poured(desk, Factor.DWELL, numbers(10.0, 120.0), MANY, code="Z3", name="Zostera 03", constants=replace(held, after="varnish"))
    assert [len(c.tests) for c in cells(desk, Factor.DWELL)] == [1, 1, 1]


def test_names_are_held_against_each_other_whichever_stands_first(desk):
    poured(desk, Factor.MEDIUM, (Level(name="conditioner"), Level(name="varnish")), FEW)
    poured(desk, Factor.MEDIUM, (Level(name="varnish"), Level(name="conditioner")), MANY, code="Z2", name="Zostera 02")
    claim = next(c for c in cells(desk, Factor.MEDIUM) if len(c.tests) == 2)
    assert claim.strength is Strength.STANDS
    assert abs(claim.pooled.difference) == pytest.approx(17.0)
    assert claim.more is (claim.second == Level(name="varnish"))


def test_what_is_not_read_is_open(desk):
    poured(desk, Factor.DWELL, numbers(10.0, 120.0), {"a": (20,), "b": (60,)}, read="")
    (claim,) = cells(desk, Factor.DWELL)
    assert (claim.strength, claim.pooled, claim.unread) == (Strength.OPEN, None, 2)
    assert words.size(claim, UNITS).endswith("2 panels are to be read")
    assert words.claim(claim, UNITS).endswith("?")


def test_one_real_test_is_said_to_be_one(desk):
    poured(desk, Factor.DWELL, numbers(10.0, 120.0), FEW)
    (claim,) = cells(desk, Factor.DWELL)
    assert words.strength(claim) == "one test only"
    assert words.headline([claim]) == "Rest under the cup seems to move cell count."


def test_claims_that_stand_come_first(desk):
    poured(desk, Factor.DWELL, numbers(10.0, 120.0), FEW)
    poured(desk, Factor.DWELL, numbers(10.0, 120.0), FEW, code="Z2", name="Zostera 02")
    found = findings.claims(desk)
    assert found[0].varied.factor is Factor.DWELL
    ranks = [findings.RANK[c.strength] for c in found]
    assert ranks == sorted(ranks)


def test_luck_is_what_two_panels_poured_alike_may_differ_by(desk):
    poured(desk, Factor.DWELL, numbers(10.0, 120.0), FEW)
    (claim,) = cells(desk, Factor.DWELL)
    assert claim.luck == pytest.approx(1.96 * 2.0**0.5 * desk.learned.scatter(Response.CELL_COUNT).sd / 3.0)


def test_what_would_settle_it_is_asked_by_one_act(desk):
    poured(desk, Factor.DWELL, numbers(10.0, 60.0, 120.0), {"a": (20, 22, 21), "b": (40, 44, 42), "c": (70, 74, 72)})
    (claim,) = cells(desk, Factor.DWELL)
    following.settle(desk, claim, words.REPEATS)
    series = desk.need_run().series
    assert [level.value for level in series.levels] == [10.0, 120.0]
    assert (series.repeats, series.state, series.responses[0][0]) == (3, SeriesState.PLANNED, Response.CELL_COUNT)
    assert words.settle(claim, UNITS).endswith("3 panels each, all else as in Zostera 01.")


def test_series_are_judged_one_at_a_time(desk):
    desk.read_anew()
    assert not findings.ready(desk)
    steps = 0
    while findings.judge_one(desk):
        steps += 1
    assert steps == len([s for s in desk.all_series() if s.seed is not None])
    assert findings.ready(desk)
    run = desk.load("k2")
    assert verdict.shown(desk, run) is verdict.shown(desk, run)


def test_a_rest_that_moved_along_is_taken_into_the_model_and_said(desk, monkeypatch):
    """The cups of one medium rested four times as long, and cells follow the rest: with the rest counted in the medium does nothing."""
    hours = iter([1.0, 2.0, 3.0, 6.0, 8.0, 10.0] * 40)
    made: dict[str, float] = {}
    real = how_made.figures_of

    def rested(desk_, run, panel):
        made.setdefault(panel.id, next(hours) * 3600.0)
        return real(desk_, run, panel) | {Trait.MIX_REST: made[panel.id]}

    monkeypatch.setattr(how_made, "figures_of", rested)
    poured(desk, Factor.MEDIUM, (Level(name="conditioner"), Level(name="varnish")), {"a": (20, 30, 40), "b": (70, 90, 110)})
    run = desk.need_run()
    for panel in run.panels:  # cells as the rest has them: ten an hour, and ten
        made[panel.id] = ((20, 30, 40) if panel.recipe == "a" else (70, 90, 110))[panel.repeat - 1] * 360.0 - 3600.0
    desk.read_anew()
    desk.choose_series(run.series.id)
    run = desk.need_run()
    told = verdict.shown(desk, run)
    assert set(told.test.covariates) == {"rest of the mix"}
    plain, with_it = (told.pair("0", level_name(0), level_name(1), plain=p)["cell count"] for p in (True, False))
    assert abs(plain.difference) == pytest.approx(20.0)
    assert abs(with_it.difference) < 0.5
    sides = differs.Sides(first="a", second="b", thing="0", levels=(level_name(0), level_name(1)))
    fact = next(b for b in differs.beside(desk, run, sides) if b.about is differs.About.MOVED)
    assert (fact.names, fact.changes) == (("rest of the mix",), True)


def test_what_hands_do_nearly_alike_moves_nothing(desk):
    told = verdict.shown(desk, desk.load("k2"))
    assert set(told.test.covariates) <= {"film"}
    assert not any(u.covariate == "drying air" for u in told.moved)


def test_what_goes_with_points_is_told_for_a_square_decimetre_where_it_grows_with_the_face(desk):
    desk.choose_series("k2")
    run = desk.need_run()
    measured = scoring._measured(run, Response.CELL_COUNT)
    assert measured
    for panel in run.panels:
        if panel.id in measured:
            face = run.held(panel).panel_width_m * run.held(panel).panel_height_m * 100.0
            assert face != pytest.approx(1.0)
            assert measured[panel.id] * face == pytest.approx(run.reading(panel).result["cells"]["count"])
    widths = scoring._measured(run, Response.CELL_WIDTH)
    assert all(run.reading(p).result["cells"]["median_diameter_mm"] == pytest.approx(widths[p.id]) for p in run.panels if p.id in widths)


def test_a_goal_says_which_recipe_would_be_first_by_one_response_alone(desk):
    goal = Goal(
        id="g", name="many that cover",
        aims=(Aim(response=Response.CELL_COUNT, weight=1.0, low=60.0, high=70.0), Aim(response=Response.CELL_WIDTH, weight=9.0, low=90.0)),
    )  # fmt: skip
    desk.notebook.add(goal)
    asked = ((Response.CELL_COUNT, Wanted.MORE), (Response.CELL_WIDTH, Wanted.MORE))
    poured(desk, Factor.DWELL, numbers(10.0, 120.0), {"a": (20, 22), "b": (64, 66)}, asked=asked, goal_id="g")
    fact = next(b for b in differs.beside(desk, desk.need_run(), differs.Sides(first="a", second="b")) if b.about is differs.About.GOAL)
    first_alone = dict(fact.record)
    assert first_alone.get(Response.CELL_COUNT, fact.codes[0]) == "b"
    assert fact.names == ("many that cover",)


def test_a_test_that_says_nothing_yet_does_not_choose_for_what_step_a_claim_is_told(desk):
    """Dulse 01 poured none to four drops; Squall 01, none to two, has one panel read: nobody poured the three drops between them."""
    one = next(c for c in findings.claims(desk) if c.response is Response.CELL_WIDTH and c.varied.factor is Factor.SILICONE)
    assert [t.series.code for t in one.tests if t.word is not Word.TOO_FEW] == ["D1"]
    assert (one.first.value, one.second.value) == (0.0, 4.0)
    desk.choose_series("d1")
    told = verdict.shown(desk, desk.need_run())
    assert one.pooled.difference == pytest.approx(told.pair("0", "003", "000")["cell width"].difference)
