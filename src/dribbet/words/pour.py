"""The steps of a pour, as one says them: a name for the bench line, what to do, and what the one key does."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from dribbet.records import BETWEEN, BasePlan, Step, Technique
from dribbet.words.levels import level_text
from dribbet.words.tongue import t
from dribbet.words.units import listed

if TYPE_CHECKING:
    from dribbet.lab.plan.arm import Arm
    from dribbet.records import Series
    from dribbet.words.units import Units


@dataclass(frozen=True, slots=True)
class Said:
    """One step in words."""

    name: str
    do: str
    go: str


STEPS: Final = {
    Step.BASE: Said(t("Base"), t("Lay the base. Burst its bubbles and take the crumbs out."), t("Lay the base")),
    Step.FILL: Said(t("Fill"), t("Fill the cup, layer by layer, from below."), t("Fill the cup")),
    Step.STAND: Said(t("Stand"), t("Stand the open cup on the panel and hold it down."), t("Stand the cup")),
    Step.REST: Said(t("Rest, flipped"), t("Let the flipped cup rest. Layers sort themselves."), t("Flip it: start the rest")),
    Step.LIFT: Said(t("Lift"), t("Lift the cup and let it drain."), t("Lift it")),
    Step.POUR: Said(t("Pour"), t("Pour it out in one stream, from one height."), t("Pour it")),
    Step.RING: Said(t("Ring"), t("Pour in small circles over one spot, slowly."), t("Pour rings")),
    Step.LAY: Said(t("Lay"), t("Lay the colours down in their order."), t("Lay the colours")),
    Step.PULL: Said(t("Pull"), t("Pull through the paint, in one go."), t("Pull now")),
    Step.SWIPE: Said(t("Swipe"), t("Swipe once across, barely touching."), t("Swipe now")),
    Step.BLOW: Said(t("Blow"), t("Blow from the height that was planned, then stop."), t("Blow now")),
    Step.ACTIVATE: Said(t("Activator"), t("Put the activator where it was planned."), t("Add the activator")),
    Step.WAIT: Said(t("Wait"), t("Let it grow. Heat comes next."), t("Start the wait")),
    Step.TORCH: Said(t("Torch"), t("Pass the flame high and short."), t("Torch now")),
    Step.SPIN: Said(t("Spin"), t("Spin it, and count the turns."), t("Spin now")),
    Step.TILT: Said(t("Tilt"), t("Tilt to each corner, slowly."), t("Tilt now")),
    Step.WEIGH: Said(t("Weigh"), t("Wipe the drips, weigh the panel, lay it level."), t("Done: weigh it")),
}
OTHERWISE: Final = {
    (Technique.OPEN_CUP, Step.FILL): Said(t("Fill"), t("Fill the standing cup, layer by layer; the first lies below."), t("Fill the cup")),
    (Technique.OPEN_CUP, Step.REST): Said(t("Rest, open"), t("Let the standing cup rest. Nothing is flipped."), t("Start the rest")),
    (Technique.DUTCH_POUR, Step.POUR): Said(t("Pour"), t("Pour the colours in a line onto the base."), t("Pour the line")),
    (Technique.DUTCH_POUR, Step.BLOW): Said(t("Blow"), t("Blow the base over the line, then the line outwards."), t("Blow now")),
    (Technique.BLOOM, Step.LAY): Said(t("Pillow"), t("Lay the pillow and the colours onto it."), t("Lay the pillow")),
}
"""Steps that one way to pour does otherwise than the rest."""


def said(technique: Technique, step: Step) -> Said:
    """A step of a way to pour."""
    return OTHERWISE.get((technique, step), STEPS[step])


def _named(what: str, level: str) -> str:
    """A level with what it is of, where it does not say that itself: water share 10 %, but no silicone."""
    return level if what in level else f"{what} {level}"


def recipe(series: Series, arm: Arm, units: Units) -> str:
    """The recipe in hand: its own levels, then what lies under it and goes onto it; of a blind test no word of them."""
    if series.layout.blind:
        return t("Recipe {letter}. This test is blind: what the letter stands for is not shown here.", letter=arm.letter)
    levels = [
        _named(v.words, level_text(v.factor, v.levels[at], units)) if at != BETWEEN else t("{what} halfway", what=v.words)
        for v, at in zip(series.varied, arm.settings, strict=True)
    ]
    if arm.extra is not None:
        levels = [*levels, *(f"{factor} {level_text(factor, level, units)}" for factor, level in arm.extra.instead)]
    held = arm.held
    said = [t("Recipe {letter}: {levels}.", letter=arm.letter, levels=", ".join(levels))]
    if arm.silicone_drops_per_100g:
        colours = listed([units.called(c) for c in held.silicone_colours])
        said.append(t("{drops:.2g} drops in 100 g of {colours}.", drops=arm.silicone_drops_per_100g, colours=colours))
    if held.base_plan is not BasePlan.NONE:
        said.append(t("On a {plan} of {base}.", plan=held.base_plan, base=units.called(held.base)))
    if held.activator_kg:
        said.append(t("{mass} of {activator} as activator.", mass=units.mass_text(held.activator_kg), activator=units.called(held.activator)))
    return " ".join(said)
