"""Every way to pour has its own steps, and what is held says which of them there are and how long they take."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.lab.panel import pouring
from dribbet.records import BasePlan, Constants, Step, Technique
from dribbet.records.ways import WAYS
from dribbet.words import pour as words


def steps(technique: Technique, **held) -> list[Step]:
    return [s for s, _ in pouring.steps(Constants(technique=technique, **({"torch_passes": 0} | held)))]


@pytest.mark.parametrize(
    ("technique", "expected"),
    [
        (Technique.FLIP_CUP, "fill rest lift tilt weigh"),
        (Technique.OPEN_CUP, "stand fill rest lift tilt weigh"),
        (Technique.STRAIGHT_POUR, "fill pour tilt weigh"),
        (Technique.RING_POUR, "fill ring tilt weigh"),
        (Technique.PULL_BACK, "fill rest pull tilt weigh"),
        (Technique.SWIPE, "lay swipe tilt weigh"),
        (Technique.DUTCH_POUR, "fill pour blow tilt weigh"),
        (Technique.BLOOM, "lay blow spin tilt weigh"),
        (Technique.DIRTY_POUR, "fill pour tilt weigh"),
        (Technique.GRADUATED, "fill rest lift tilt weigh"),
        (Technique.TRANSPOSED, "fill pour press tilt weigh"),
    ],
)
def test_each_technique_has_its_own_steps(technique, expected):
    assert " ".join(steps(technique)) == expected


def test_every_technique_is_there_and_ends_on_the_scale():
    assert set(WAYS) == set(Technique)
    assert all(way[-1].step is Step.WEIGH for way in WAYS.values())
    assert all(len({(one.step, one.held) for one in way}) == len(way) for way in WAYS.values())


def test_base_and_activator_are_steps_where_they_are_held():
    made = steps(Technique.BLOOM, base_plan=BasePlan.PILLOW, activator="glue", activator_kg=0.004)
    assert made == [Step.BASE, Step.LAY, Step.ACTIVATE, Step.BLOW, Step.SPIN, Step.TILT, Step.WEIGH]


@pytest.mark.parametrize("seconds", [10.0, 300.0])
def test_moment_of_heat_is_a_wait_of_its_own_length(seconds):
    plan = dict(pouring.steps(Constants(technique=Technique.FLIP_CUP, torch_passes=3, heat_after_s=seconds)))
    assert (plan[Step.WAIT], plan[Step.TORCH]) == (seconds, 9.0)
    assert list(plan)[2:5] == [Step.LIFT, Step.WAIT, Step.TORCH]


def test_nothing_is_heated_with_alcohol_in_the_mix():
    held = Constants(technique=Technique.FLIP_CUP, torch_passes=2, heat_after_s=20.0)
    assert {Step.WAIT, Step.TORCH}.isdisjoint(s for s, _ in pouring.steps(held, alcohol_share=0.05))
    assert {Step.WAIT, Step.TORCH} <= {s for s, _ in pouring.steps(held)}


def test_what_is_held_gives_the_times():
    held = Constants(technique=Technique.FLIP_CUP, dwell_s=75.0, tilt_s=33.0, torch_passes=0)
    assert pouring.steps(held) == [(Step.FILL, 40.0), (Step.REST, 75.0), (Step.LIFT, 20.0), (Step.TILT, 33.0), (Step.WEIGH, 20.0)]
    assert Step.REST not in [s for s, _ in pouring.steps(replace(held, dwell_s=0.0))]


@pytest.mark.parametrize("technique", list(Technique))
def test_nobody_is_told_to_flip_or_lift_what_is_neither(technique):
    said = " ".join(f"{words.said(technique, s).do} {words.said(technique, s).go}" for s in steps(technique)).lower()
    flips = "flip it" in said or "flipped cup" in said
    assert flips == (technique in (Technique.FLIP_CUP, Technique.PULL_BACK))
    lifted = (Technique.FLIP_CUP, Technique.OPEN_CUP, Technique.GRADUATED, Technique.TRANSPOSED)
    assert ("lift" in said) == (technique in lifted)
    assert all(words.said(technique, s).name and words.said(technique, s).do.endswith(".") for s in steps(technique))


def test_recipe_in_hand_is_said_with_its_own_levels_and_what_lies_under_it():
    from dribbet.lab.plan import design
    from dribbet.records import Factor, Level, Varied
    from dribbet.words.units import Units
    from tests.made_up import series

    s = series()
    held = replace(s.constants, base_plan=BasePlan.FULL, base="deck satin", activator="glue", activator_kg=0.004, silicone_colours=("teal",))
    varied = (
        Varied(factor=Factor.WATER_SHARE, levels=(Level(value=0.1), Level(value=0.2))),
        Varied(factor=Factor.SILICONE, levels=(Level(value=0.0), Level(value=2.0))),
    )
    arms = design.arms(replace(s, constants=held, varied=varied))
    said = [words.recipe(replace(s, constants=held, varied=varied), arm, Units(), covered=False) for arm in arms]
    assert said[0] == "Recipe a: water share 10\u202f%, no silicone. On a flood coat of deck satin. 4.0\u202fg of glue as activator."
    last = (
        "Recipe d: water share 20\u202f%, silicone 2 drops. 2 drops in 100 g of teal. On a flood coat of deck satin. 4.0\u202fg of glue as activator."
    )
    assert said[3] == last


def test_recipe_of_a_blind_test_is_not_told_at_the_pour():
    from dribbet.lab.plan import design
    from dribbet.words.units import Units
    from tests.made_up import series

    s = series()
    blind = replace(s, layout=replace(s.layout, blind=True))
    said = words.recipe(blind, design.arms(blind)[0], Units(), covered=True)
    assert "blind" in said
    assert "water" not in said


def test_what_became_of_further_actions_is_counted_by_what_pleased_before_and_after():
    from datetime import timedelta

    from dribbet.records import Does, Figure, How, StepMark
    from tests.conftest import NOW

    def pour(before: float | None, after: float | None) -> list[StepMark]:
        def mark(number: int, step: Step, how: How, good: float | None) -> StepMark:
            told = () if good is None else (Figure(does=Does.GOOD, value=good),)
            return StepMark(
                id=str(number), panel_id="p", step=step, planned_s=1.0, at=NOW + timedelta(seconds=number), how=how, figures=told, number=number
            )

        return [mark(1, Step.TORCH, How.ADDED, before), mark(2, Step.TORCH, How.ADDED, 0.1), mark(3, Step.WEIGH, How.DONE, after)]

    found = pouring.rescues([pour(0.5, 0.8), pour(0.8, 0.81), pour(0.8, 0.4), pour(0.8, 0.75), pour(None, 0.4), pour(0.7, None)])
    assert (found.better, found.same, found.worse, found.all) == (2, 1, 2, 5)  # where nobody said before the first, the second counts
    assert words.rescues(found) == "Of 5 panels to which you did more, 2 got better, 2 worse."
    assert words.rescues(pouring.Rescues()) == ""


def test_nothing_is_heated_after_a_can_whose_gas_burns():
    from dribbet.records import Does, Doing, Figure

    def blown_with(tool: str) -> list[Step]:
        doing = (Doing(step=Step.BLOW, figure=Figure(does=Does.TOOL, word=tool)),)
        return [s for s, _ in pouring.steps(Constants(technique=Technique.DUTCH_POUR, torch_passes=2, heat_after_s=20.0, doing=doing))]

    assert Step.TORCH in blown_with("straw")
    assert {Step.TORCH, Step.WAIT}.isdisjoint(blown_with("Air duster, can"))
