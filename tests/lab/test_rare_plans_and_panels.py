"""What few plans and panels ask for: what chosen parts tell, mended plans, films without anything volatile, steps that are done twice."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

import pytest

from dribbet.lab.panel import pouring
from dribbet.lab.panel.loss import Loss
from dribbet.lab.plan import basis, design, sizes, templates
from dribbet.lab.plan.confounding import Coupling
from dribbet.lab.plan.sizes import Tells
from dribbet.records import Design, Factor, Layout, Level, Step, StepMark, Varied
from dribbet.words import confounding as confounding_words
from tests.made_up import NOON, numbers, series

TWO = (Level(value=0.1), Level(value=0.2))


@pytest.mark.parametrize(
    ("things", "halvings", "tells"),
    [
        (3, 1, Tells.EACH_IF_NONE_WORK_TOGETHER),
        (4, 1, Tells.EACH),
        (5, 1, Tells.EACH_AND_PAIRS),
        (5, 2, Tells.EACH_IF_NONE_WORK_TOGETHER),
    ],
)
def test_a_chosen_part_says_what_it_can_tell(things, halvings, tells):
    factors = (Factor.WATER_SHARE, Factor.RATIO, Factor.SILICONE, Factor.POURED, Factor.FILM_LEFT)[:things]
    varied = tuple(Varied(factor=f, levels=TWO) for f in factors)
    plan = replace(series(), varied=varied, layout=Layout(design=Design.FRACTION, halvings=halvings))
    assert sizes.tells(plan) is tells


def test_what_nothing_can_leave_is_dried_by_no_share():
    whole = Loss(lost_kg=0.02, volatile_kg=0.04, dry_at_s=None)
    assert whole.share == 0.5
    assert replace(whole, volatile_kg=0.0).share == 0.0


def test_a_colour_without_a_price_costs_nothing_and_the_others_their_share():
    (first, *_) = design.arms(series())
    named = {layer.material: layer.share for layer in first.layers}
    known = next(iter(named))
    assert basis.cost_per_kg(first, {}) == 0.0
    assert basis.cost_per_kg(first, {known: 30.0}) == pytest.approx(first.parts["paint"] * named[known] * 30.0)


def test_a_mended_plan_counts_the_panels_that_it_adds():
    flawed = series(factor=Factor.SILICONE, levels=numbers(0, 4), repeats=2)
    made, told = templates.mended(flawed)
    assert told == (templates.Mend(what=templates.Mending.APART, coupling=Coupling.THICKNESS, panels=1),)
    assert confounding_words.mended(told[0]) == "1 more panel separates the silicone from what it thickens."
    assert design.sheets(made) == design.sheets(flawed) + 1


def test_the_same_step_begun_again_at_its_place_leaves_the_later_one_of_its_kind_to_do():
    plan = (
        pouring.Planned(step=Step.POUR, seconds=20.0),
        pouring.Planned(step=Step.WAIT, seconds=60.0),
        pouring.Planned(step=Step.POUR, seconds=20.0),
    )

    def mark(i: int, place: int) -> StepMark:
        return StepMark(id=str(i), panel_id="p", step=Step.POUR, planned_s=20.0, at=NOON + timedelta(seconds=10 * i), place=place)

    told = pouring.progress(plan, [mark(1, 0), mark(2, 0)])
    assert [s.mark.id if s.mark else None for s in told.stages] == ["2", None, None]
    older = pouring.progress(plan, [mark(1, -1), mark(2, -1)])
    assert [s.mark.id if s.mark else None for s in older.stages] == ["1", None, "2"]
