"""Days, looks by protocol, equal flow, goals and predictions."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import timedelta
from types import SimpleNamespace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dribbet.lab.cup import flow_gate
from dribbet.lab.cup.matching import Pot
from dribbet.lab.paint.consistency import GRADE_VISCOSITY_PA_S
from dribbet.lab.paint.learning import Line
from dribbet.lab.panel import progress
from dribbet.lab.plan import day_plan, design, goals, planning
from dribbet.lab.plan.arm import grade_viscosity_pa_s, level_at
from dribbet.lab.plan.day_plan import Mind
from dribbet.lab.verdict import predicted
from dribbet.lab.verdict.judge import Word
from dribbet.records import (
    BETWEEN,
    Aim,
    Check,
    CheckKind,
    DribbetError,
    Factor,
    Goal,
    HouseRules,
    Judging,
    Layout,
    Level,
    Look,
    Mix,
    Panel,
    Photo,
    Prediction,
    Response,
    Role,
    Series,
    Stage,
    Step,
    StepMark,
    Varied,
    Wanted,
    Weighing,
)  # fmt: skip
from dribbet.words import days
from tests.made_up import NOON, ids, mix, series


def plan_of(s: Series, **changed) -> day_plan.DayPlan:
    usual = {"pace": day_plan.paces((), (), ()), "sitting_s": 4 * 3600.0, "rack_slots": 20, "rack_taken": 0, "begins": NOON}
    return day_plan.plan(s, design.arms(s), len(planning.mixes(s, ids())), **(usual | changed))


def test_small_test_fits_one_day_and_large_one_is_mixed_the_day_before():
    small = plan_of(series(factor=Factor.ORDER, levels=(Level(name="as given"), Level(name="turned round"))))
    assert [(s.mixes, s.pours) for s in small.sittings] == [(3, 4)]
    large = plan_of(series(repeats=4))
    assert (large.sittings[0].mixes, large.sittings[0].pours) == (9, 0)
    assert sum(s.pours for s in large.sittings) == 12
    assert (Mind.DAY_BEFORE, ()) in large.minds


def test_days_follow_the_blocks_and_a_crowded_rack_is_said():
    made = plan_of(series(repeats=3, layout=Layout(blocks=3)), rack_slots=6)
    assert [s.pours for s in made.sittings if s.pours] == [3, 3, 3]
    assert (Mind.RACK_SHORT, (6, 9)) in made.minds
    assert days.mind(Mind.RACK_SHORT, (6, 9)) == "The rack has 6 free places for 9 panels. Pour in parts, or clear it first."
    unblocked = plan_of(series(repeats=8), sitting_s=2 * 3600.0)
    (told,) = [figures for what, figures in unblocked.minds if what is Mind.DAYS_APART]
    assert told == (sum(bool(s.pours) for s in unblocked.sittings),)


def test_looks_are_dated_from_each_pour_and_through_dry_is_a_window():
    made = plan_of(series(protocol=(Judging(response=Response.CRACK_LENGTH, times=("24 h", "cured")),)))
    assert {d.look for d in made.looks} == {"24 h", "dry", "cured"}
    pour = next(s for s in made.sittings if s.pours)
    first = next(d for d in made.looks if d.look == "24 h")
    assert first.first == NOON + timedelta(days=pour.day, hours=21)
    assert made.dry_from_s < made.dry_until_s


def test_own_logs_replace_the_starting_figures_from_three_on():
    mixes = [Mix(id=f"m{i}", series_id="s", colour="foam", recipes="a", place=i, plan=(), done=True) for i in range(4)]
    weighings = [
        Weighing(id=f"{m.id}{j}", mix_id=m.id, ingredient="x", mass_kg=0.01, at=NOON + timedelta(seconds=100 * j)) for m in mixes for j in range(4)
    ]
    steps = [
        StepMark(id=f"{p}{s}", panel_id=f"p{p}", step=s, planned_s=20.0, at=NOON + timedelta(seconds=t))
        for p in range(2)
        for s, t in ((Step.FILL, 0), (Step.WEIGH, 300))
    ]
    found = {p.work: p for p in day_plan.paces(mixes, weighings, steps)}
    assert (found["mix one colour"].seconds, found["mix one colour"].logs) == (pytest.approx(400.0), 4)
    assert found["pour one panel"].logs == 0  # two are too few


def panel(**changed) -> Panel:
    return Panel(**({"id": "p", "series_id": "s1", "code": "T1-a1", "recipe": "a", "repeat": 1, "place": 1, "settings": (0,)} | changed))


def test_protocol_makes_the_tasks_of_dry_and_shoot():
    s = series(protocol=(Judging(response=Response.CRACK_LENGTH, times=("48 h", "7 d")),))
    names = progress.looks_of(s)
    assert names == ("48 h", "dry", "7 d")
    assert progress.next_look(panel(), NOON, (), NOON, names).name == "48 h"
    made = [Look(id="l", panel_id="p", due=n, at=NOON) for n in ("48 h", "dry")]
    assert progress.next_look(panel(), NOON, made, NOON, names).name == "7 d"
    stages = progress.photo_stages(s)
    assert progress.photo_due(panel(), NOON, (), NOON + timedelta(hours=50), stages) is Stage.H48
    assert progress.photo_due(panel(), NOON, (), NOON + timedelta(hours=2), stages) is None
    assert progress.photo_due(panel(), NOON, (), NOON + timedelta(hours=500), stages) is Stage.DRY


def test_late_photo_counts_as_dry_until_the_dry_one_is_there():
    wanted = (Stage.DRY, Stage.D7)
    assert progress.stage_now(200.0, [], wanted) is Stage.DRY
    assert progress.stage_now(200.0, [Stage.DRY], wanted) is Stage.D7
    assert progress.stage_now(200.0, [Stage.DRY], (Stage.DRY,)) is Stage.DRY
    assert progress.stage_now(30.0, [], wanted) is Stage.H24
    shot = Photo(id="f", panel_id="p", sha256="0" * 64, suffix=".jpg", name="n", stage=Stage.DRY, lamp="diffuse", width_px=9, height_px=9,
                 taken_at=None,
                 added_at=NOON)  # fmt: skip
    assert progress.photo_due(panel(), NOON, [shot], NOON + timedelta(hours=200), wanted) is Stage.D7


def drips(mixes: list[Mix], runs: list[float]) -> list[Check]:
    return [Check(id=m.id, mix_id=m.id, kind=CheckKind.DRIP, value=r, at=NOON) for m, r in zip(mixes, runs, strict=True)]


def compared(mixes: list[Mix], readings: list[Check], grades: dict[str, float] | None = None) -> list[flow_gate.Compared]:
    return [
        flow_gate.Compared(pot=pot(m, [c for c in readings if c.mix_id == m.id]), recipes=m.recipes, grade=(grades or {}).get(m.recipes, 0.0))
        for m in mixes
    ]


def pot(of: Mix, checks: list[Check]) -> Pot:
    volumes = {"paint": 2e-5, "medium": 4e-5, "water": 1e-5, "others": 0.0}
    line = Line("conditioner", [])
    return Pot(mix_id=of.id, name=of.colour, role=Role.COLOUR, checks=tuple(checks), density_kg_m3=1100.0, volumes_m3=volumes, line=line)


def test_equal_flow_is_found_by_readings_within_the_band():
    mixes = [mix("foam", id=f"f{r}", recipes=r) for r in "abc"]
    assert flow_gate.unlike(compared(mixes, drips(mixes, [0.060, 0.061, 0.074])), HouseRules()) is None  # 21 % farther: inside the band
    apart = flow_gate.unlike(compared(mixes, drips(mixes, [0.060, 0.061, 0.020])), HouseRules())
    assert (apart.recipes, apart.kind, apart.apart) == ("c", CheckKind.DRIP, pytest.approx(1 / 3))
    strict = HouseRules(match_within=0.15)
    assert flow_gate.unlike(compared(mixes, drips(mixes, [0.060, 0.061, 0.074])), strict).recipes == "c"
    some = drips(mixes[:2], [0.060, 0.061])
    assert (flow_gate.unlike(compared(mixes, some), HouseRules()).recipes, flow_gate.unlike(compared(mixes, some), HouseRules()).kind) == ("c", None)


def test_unlike_grades_on_purpose_are_taken_out_before_flow_is_compared():
    mixes = [mix("foam", id=f"f{r}", recipes=r) for r in "ab"]
    grades = {"a": 2.0, "b": 4.0}
    meant = (grade_viscosity_pa_s(2.0) / grade_viscosity_pa_s(4.0)) ** (1 / 3)  # a run goes as the viscosity to the power of -1/3
    readings = drips(mixes, [0.060, 0.060 * meant])
    assert flow_gate.unlike(compared(mixes, readings, grades), HouseRules()) is None
    assert flow_gate.unlike(compared(mixes, readings), HouseRules()) is not None
    alike = drips(mixes, [0.060, 0.060])
    assert flow_gate.unlike(compared(mixes, alike, grades), HouseRules()) is not None


def goal(*aims: Aim) -> Goal:
    return Goal(id="g", name="many round cells", aims=aims)


def test_ranking_turns_where_one_thing_weighs_more_than_the_other():
    """a is best in spread (1, against 0.25 for b) and second in cells (0.25 against 1); with three aims the rest keep their shares.

    Spread at a share w of all weight: a has 1^w 0.25^(1 - w), b the reverse; they meet at a half.
    """
    aims = tuple(Aim(response=r, weight=w, low=0.0, high=h) for r, w, h in ((Response.SPREAD, 3.0, 80.0), (Response.CELL_COUNT, 1.0, 40.0)))
    goal = Goal(id="g", name="both", aims=aims)
    wanted = dict.fromkeys((Response.SPREAD, Response.CELL_COUNT), Wanted.MORE)
    values = {
        "a": {Response.SPREAD: [80.0], Response.CELL_COUNT: [70.0]},  # 30 beyond a range of 40: 0.25
        "b": {Response.SPREAD: [140.0], Response.CELL_COUNT: [40.0]},  # 60 beyond a range of 80: 0.25
    }
    told = goals.weighed(goal, wanted, values, Response.SPREAD, (0.0, 0.25, 0.5, 1.0))
    assert told["a"] == pytest.approx((0.25, 0.25**0.75, 0.5, 1.0))
    assert told["b"] == pytest.approx((1.0, 0.25**0.25, 0.5, 0.25))
    three = replace(goal, aims=(*aims, Aim(response=Response.LACING, weight=1.0, low=0.0, high=1.0)))
    values = {n: v | {Response.LACING: [1.75]} for n, v in values.items()}  # 0.25 for both
    told = goals.weighed(three, wanted | {Response.LACING: Wanted.LESS}, values, Response.LACING, (0.5,))
    assert told["a"] == pytest.approx((0.25**0.5 * 0.25 ** (0.5 * 0.25),))  # cells keep a quarter of what is left, spread three


def test_recipe_inside_the_goals_range_comes_first_whatever_is_more():
    aims = goal(Aim(response=Response.CELL_COUNT, weight=2.0, low=20.0, high=40.0), Aim(response=Response.SPREAD, weight=1.0))
    wanted = {Response.CELL_COUNT: Wanted.MORE, Response.SPREAD: Wanted.MORE}
    values = {
        "a": {Response.CELL_COUNT: [30.0, 34.0], Response.SPREAD: [98.0]}, "b": {Response.CELL_COUNT: [90.0], Response.SPREAD: [99.0]}, "c": {},
    }  # fmt: skip
    ranked = goals.ranked(aims, wanted, values)
    assert [r for r, _ in ranked] == ["a", "b"]
    assert 0.0 <= ranked[1][1] < ranked[0][1] <= 1.0


@given(st.floats(-50, 150), st.floats(0, 40), st.floats(41, 90))
def test_desirability_is_a_share_and_one_inside_the_range(value, low, high):
    d = goals.desirability(value, Aim(response=Response.SPREAD, weight=1.0, low=low, high=high), Wanted.MORE, (0.0, 100.0))
    assert 0.0 <= d <= 1.0
    assert d == 1.0 or not low <= value <= high


def difference(value: float, low: float, high: float, word: Word) -> SimpleNamespace:
    return SimpleNamespace(difference=value, low=low, high=high, word=word)


@pytest.mark.parametrize(
    ("wanted", "size", "found", "outcome"),
    [
        (Wanted.LESS, 20.0, difference(30.0, 12.0, 48.0, Word.REAL), predicted.Outcome.MET),
        (Wanted.LESS, 60.0, difference(30.0, 12.0, 48.0, Word.REAL), predicted.Outcome.SMALLER),
        (Wanted.MORE, 20.0, difference(30.0, 12.0, 48.0, Word.REAL), predicted.Outcome.NOT_MET),
        (Wanted.MORE, 20.0, difference(-30.0, -48.0, -12.0, Word.REAL), predicted.Outcome.MET),
        (Wanted.LESS, 0.0, difference(5.0, -12.0, 22.0, Word.CHANCE), predicted.Outcome.OPEN),
        (Wanted.LESS, 30.0, difference(5.0, -12.0, 22.0, Word.CHANCE), predicted.Outcome.NOT_MET),
        (Wanted.LESS, 20.0, difference(5.0, -12.0, 22.0, Word.CHANCE), predicted.Outcome.OPEN),
        (Wanted.MORE, 20.0, difference(5.0, -12.0, 22.0, Word.CHANCE), predicted.Outcome.NOT_MET),
        (Wanted.LESS, 0.0, difference(5.0, 0.0, 0.0, Word.TOO_FEW), predicted.Outcome.OPEN),
    ],
)
def test_prediction_is_met_by_a_real_difference_of_its_direction_and_size(wanted, size, found, outcome):
    """Differences are first level minus last; a prediction is about the last."""
    assert predicted.outcome(Prediction(response=Response.CRACK_LENGTH, more_or_less=wanted, size=size), found) is outcome


def test_same_thing_twice_and_too_many_things_are_refused():
    water = series().varied[0]
    with pytest.raises(DribbetError, match="same thing twice"):
        replace(series(), varied=(water, water))
    many = tuple(Varied(factor=f, levels=(Level(value=0.1), Level(value=0.2))) for f in list(Factor)[:6])
    with pytest.raises(DribbetError, match="Choose one to 5"):
        replace(series(), varied=many)
    with pytest.raises(DribbetError, match="ends before it begins"):
        Aim(response=Response.SPREAD, weight=1.0, low=5.0, high=1.0)
    with pytest.raises(DribbetError, match="at least one response that counts"):
        goal(Aim(response=Response.SPREAD, weight=0.0))


@pytest.mark.parametrize("grade", [1, 2, 3, 4, 5])
def test_a_whole_grade_has_its_own_viscosity_and_between_two_it_is_their_geometric_mean(grade):
    assert grade_viscosity_pa_s(grade) == pytest.approx(GRADE_VISCOSITY_PA_S[grade])
    if grade < 5:
        between = math.sqrt(GRADE_VISCOSITY_PA_S[grade] * GRADE_VISCOSITY_PA_S[grade + 1])
        assert grade_viscosity_pa_s(grade + 0.5) == pytest.approx(between)


def test_a_recipe_between_the_levels_has_their_middle_and_each_other_its_own():
    s = series()
    first, *_, last = s.varied[0].levels
    assert [level_at(s, 0, (i,)) for i in range(len(s.varied[0].levels))] == list(s.varied[0].levels)
    middle = level_at(s, 0, (BETWEEN,))
    assert middle.value == pytest.approx((first.value + last.value) / 2.0)


def test_a_pour_that_took_more_than_an_hour_is_a_break_not_a_pace():
    def marks(panel: str, minutes: float) -> list[StepMark]:
        return [
            StepMark(id=f"{panel}{i}", panel_id=panel, step=step, planned_s=60.0, at=NOON + timedelta(minutes=at))
            for i, (step, at) in enumerate(((Step.FILL, 0.0), (Step.WEIGH, minutes - 1.0)))
        ]

    within = [m for k, minutes in enumerate((20, 40, 59)) for m in marks(f"p{k}", minutes)]
    pace = {p.work: p for p in day_plan.paces((), (), (*within, *marks("q", 61)))}["pour one panel"]
    assert (pace.logs, pace.seconds) == (3, 2400.0)  # four quarters of an hour are the longest that counts
