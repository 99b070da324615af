"""What each thing that a test may vary means: its unit, its reach, its first levels, and the constant it replaces."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from enum import Enum
from typing import Any, Final

from dribbet.records import (
    ALCOHOL,
    AS_GIVEN,
    TURNED_ROUND,
    WATER,
    BasePlan,
    Constants,
    Does,
    Doing,
    DribbetError,
    Factor,
    Figure,
    Level,
    Step,
    Swap,
    Technique,
    Varied,
)
from dribbet.records.wording import first_up


class Measure(Enum):
    """How levels of a factor are counted."""

    SHARE = "share"
    PARTS = "parts"
    DROPS = "drops"
    LENGTH = "length"
    SECONDS = "seconds"
    HOURS = "hours"
    COUNT = "count"
    GRADE = "grade"
    ROUNDS = "rounds"
    MASS = "mass"
    TURNS = "turns"
    SPEED = "speed"
    PLAIN = "plain"
    NAMED = "named"


SHOWN_AS: Final = {
    Measure.SHARE: (100.0, " %"), Measure.LENGTH: (1e3, " mm"), Measure.MASS: (1e3, " g"), Measure.SECONDS: (1.0, " s"),
    Measure.HOURS: (1.0 / 3600.0, " h"), Measure.SPEED: (60.0, " turns a minute"),
}  # fmt: skip
"""Factor and unit in which a refusal names a figure that is held in SI."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Nature:
    """What there is to know about a factor before anything is poured."""

    means: str
    measure: Measure
    field: str
    """Constant that a level replaces."""
    start: tuple[float | str, ...]
    """First levels to offer; starting figures of the craft."""
    least: float = 0.0
    most: float = 1e9
    zero_is_without: bool = False
    """Whether 0 (or the first name) is the control that an effect has to stand against."""
    without: str = ""
    """Name of the level that goes without it."""
    doing: tuple[Step, Does] | None = None
    """Step and figure of the pour that a level replaces, where it is not a constant of its own."""


EXCHANGES: Final = (Factor.PAINT, Factor.OPACITY, Factor.FINISH)
"""Factors that put one paint in place of another; the last two by a word that names its container."""

NATURES: Final = {
    Factor.PAINT: Nature(means="Paint", measure=Measure.NAMED, field="swaps", start=()),
    Factor.OPACITY: Nature(means="Opacity", measure=Measure.NAMED, field="swaps", start=()),
    Factor.MEDIUM: Nature(means="Medium", measure=Measure.NAMED, field="medium", start=()),
    Factor.RATIO: Nature(
        means="Medium to one part of paint", measure=Measure.PARTS, field="medium_parts", start=(1.0, 2.0, 3.0), most=20.0
    ),
    Factor.WATER_SHARE: Nature(
        means="Water share of the mix", measure=Measure.SHARE, field="water_share", start=(0.10, 0.16, 0.22), most=0.89
    ),
    Factor.THIRD_LIQUID: Nature(means="Third liquid", measure=Measure.NAMED, field="third_liquid", start=(WATER, ALCOHOL)),
    Factor.WATER_SOURCE: Nature(
        means="Where the water is from", measure=Measure.NAMED, field="water_source", start=("tap", "distilled")
    ),
    Factor.GRADE: Nature(means="Consistency grade", measure=Measure.GRADE, field="grade", start=(2.0, 3.0, 4.0), least=1.0, most=5.0),
    Factor.SILICONE: Nature(
        means="Drops of silicone in each 100 g", measure=Measure.DROPS, field="silicone_drops_per_100g", start=(0.0, 2.0), most=60.0,
        zero_is_without=True, without="no silicone",
    ),
    Factor.SILICONE_COLOUR: Nature(means="Colour that gets the silicone", measure=Measure.NAMED, field="silicone_colours", start=()),
    Factor.SILICONE_KIND: Nature(
        means="Kind of silicone", measure=Measure.NAMED, field="silicone", start=("belt silicone", "hair serum")
    ),
    Factor.ALCOHOL: Nature(
        means="Alcohol share of the mix", measure=Measure.SHARE, field="alcohol_share", start=(0.0, 0.10), most=0.5,
        zero_is_without=True, without="no alcohol",
    ),
    Factor.ALCOHOL_STRENGTH: Nature(
        means="Strength of the alcohol", measure=Measure.SHARE, field="alcohol_strength", start=(0.70, 0.91), least=0.01, most=1.0
    ),
    Factor.ANTI_CRAZE: Nature(
        means="Anti-craze additive, share of the mix", measure=Measure.SHARE, field="anti_craze_share", start=(0.0, 0.10, 0.20), most=0.6,
        zero_is_without=True, without="no additive",
    ),
    Factor.SHIMMER: Nature(
        means="Shimmer medium to one part of paint", measure=Measure.PARTS, field="shimmer_parts", start=(0.0, 0.5, 1.0, 2.0), most=20.0,
        zero_is_without=True, without="no shimmer",
    ),
    Factor.FINISH: Nature(means="Finish of the paint", measure=Measure.NAMED, field="swaps", start=()),
    Factor.BASE: Nature(means="Base on the panel", measure=Measure.NAMED, field="base_plan", start=("no base", "flood coat")),
    Factor.BASE_SHEEN: Nature(means="Sheen of the base", measure=Measure.NAMED, field="base_sheen", start=("satin", "semi-gloss")),
    Factor.BASE_DEPTH: Nature(
        means="Thickness of the base", measure=Measure.LENGTH, field="base_m", start=(1.0e-3, 2.0e-3), most=8e-3
    ),
    Factor.BASE_WATER: Nature(
        means="Water in the base", measure=Measure.SHARE, field="base_water_share", start=(0.0, 0.10, 0.20), most=0.6
    ),
    Factor.BASE_PAINT: Nature(means="Product of the base", measure=Measure.NAMED, field="base", start=()),
    Factor.BASE_CRAZE: Nature(
        means="Additive in the base, share of it", measure=Measure.SHARE, field="base_craze_share", start=(0.0, 0.10), most=0.6,
        zero_is_without=True, without="no additive",
    ),
    Factor.ACTIVATOR: Nature(means="Cell activator", measure=Measure.NAMED, field="activator", start=("activator A", "activator B"), without="none"),
    Factor.TECHNIQUE: Nature(
        means="Way to pour", measure=Measure.NAMED, field="technique", start=(str(Technique.FLIP_CUP), str(Technique.OPEN_CUP))
    ),
    Factor.ORDER: Nature(means="Order of the layers", measure=Measure.NAMED, field="order", start=(AS_GIVEN, TURNED_ROUND)),
    Factor.LAYERS: Nature(means="Times the layers are repeated", measure=Measure.ROUNDS, field="rounds", start=(1.0, 2.0), least=1.0, most=12.0),
    Factor.POURED: Nature(means="Paint poured on a panel", measure=Measure.MASS, field="poured_kg", start=(0.060, 0.075), least=1e-3, most=20.0),
    Factor.FILM_LEFT: Nature(
        means="Wet film left on the panel", measure=Measure.LENGTH, field="film_m", start=(1.2e-3, 2.3e-3), least=1e-4, most=1e-2
    ),
    Factor.HEAT: Nature(
        means="Passes of the torch", measure=Measure.COUNT, field="torch_passes", start=(0.0, 2.0), most=20.0, zero_is_without=True, without="no heat"
    ),
    Factor.HEAT_AFTER: Nature(
        means="First heat after the pour", measure=Measure.SECONDS, field="heat_after_s", start=(10.0, 120.0), most=3600.0
    ),
    Factor.HEAT_DISTANCE: Nature(
        means="Distance of the flame", measure=Measure.LENGTH, field="doing", start=(0.10, 0.20), least=0.01, most=1.0,
        doing=(Step.TORCH, Does.DISTANCE)
    ),
    Factor.SECOND_HEAT: Nature(
        means="Passes of a second heat", measure=Measure.COUNT, field="second_passes", start=(0.0, 2.0), most=20.0, zero_is_without=True,
        without="no second heat",
    ),
    Factor.DWELL: Nature(means="The cup rests on the panel", measure=Measure.SECONDS, field="dwell_s", start=(10.0, 120.0), most=7200.0),
    Factor.POUR_HEIGHT: Nature(
        means="Height of the pour", measure=Measure.LENGTH, field="doing", start=(0.03, 0.20), most=2.0, doing=(Step.POUR, Does.HEIGHT)
    ),
    Factor.BLOW_TOOL: Nature(
        means="What it is blown with", measure=Measure.NAMED, field="doing", start=("cool hair dryer", "straw"), doing=(Step.BLOW, Does.TOOL)
    ),
    Factor.BLOW_DISTANCE: Nature(
        means="Distance of the blow", measure=Measure.LENGTH, field="doing", start=(0.05, 0.20), least=0.005, most=1.0,
        doing=(Step.BLOW, Does.DISTANCE)
    ),
    Factor.SPIN_TURNS: Nature(
        means="Turns of the spin", measure=Measure.TURNS, field="doing", start=(5.0, 15.0), most=500.0, doing=(Step.SPIN, Does.TURNS)
    ),
    Factor.GROW: Nature(means="Wait before the stretch", measure=Measure.SECONDS, field="grow_s", start=(0.0, 120.0), most=7200.0, without="no wait"),
    Factor.TILT_TIME: Nature(means="Time of tilting", measure=Measure.SECONDS, field="tilt_s", start=(30.0, 120.0), most=3600.0),
    Factor.ACTIVATOR_MASS: Nature(
        means="Activator on a panel", measure=Measure.MASS, field="activator_kg", start=(0.0, 0.004), most=1.0, zero_is_without=True,
        without="no activator",
    ),
    Factor.ACTIVATOR_PLACE: Nature(
        means="Where the activator lies", measure=Measure.NAMED, field="doing", start=("middle", "rim"), doing=(Step.ACTIVATE, Does.ZONE)
    ),
    Factor.SILICONE_STIR: Nature(
        means="How the silicone is stirred in", measure=Measure.NAMED, field="doing", start=("folded in", "beaten in"), doing=(Step.FILL, Does.STIR)
    ),
    Factor.TILT_WAY: Nature(
        means="Way of the tilt", measure=Measure.NAMED, field="doing", start=("corner by corner", "side by side"), doing=(Step.TILT, Does.DIRECTION)
    ),
    Factor.HEAT_ZONE: Nature(
        means="Where the flame goes", measure=Measure.NAMED, field="doing", start=("whole face", "middle"), doing=(Step.TORCH, Does.ZONE)
    ),
    Factor.LIFT_HEIGHT: Nature(
        means="Height of the lift", measure=Measure.LENGTH, field="doing", start=(0.05, 0.15), most=1.0, doing=(Step.LIFT, Does.HEIGHT)
    ),
    Factor.LIFT_WAY: Nature(
        means="Which cup is lifted first", measure=Measure.NAMED, field="doing", start=("smallest first", "largest first"),
        doing=(Step.LIFT, Does.DIRECTION),
    ),
    Factor.POUR_PLACE: Nature(
        means="Where it is poured", measure=Measure.NAMED, field="doing", start=("middle", "along a path"), doing=(Step.POUR, Does.ZONE)
    ),
    Factor.RING_HEIGHT: Nature(
        means="Height of the rings", measure=Measure.LENGTH, field="doing", start=(0.02, 0.08), most=1.0, doing=(Step.RING, Does.HEIGHT)
    ),
    Factor.RING_WIDTH: Nature(
        means="Width of the rings", measure=Measure.LENGTH, field="doing", start=(0.01, 0.03), most=0.5, doing=(Step.RING, Does.DISTANCE)
    ),
    Factor.PULL_WAY: Nature(
        means="Way of the pull", measure=Measure.NAMED, field="doing", start=("along", "across"), doing=(Step.PULL, Does.DIRECTION)
    ),
    Factor.SWIPE_TOOL: Nature(
        means="What it is swiped with", measure=Measure.NAMED, field="doing", start=("wet card", "wet towel"), doing=(Step.SWIPE, Does.TOOL)
    ),
    Factor.SWIPE_WAY: Nature(
        means="Way of the swipe", measure=Measure.NAMED, field="doing", start=("across", "along"), doing=(Step.SWIPE, Does.DIRECTION)
    ),
    Factor.SWIPE_PASSES: Nature(
        means="Passes of the swipe", measure=Measure.COUNT, field="doing", start=(1.0, 2.0), least=1.0, most=20.0, doing=(Step.SWIPE, Does.PASSES)
    ),
    Factor.BLOW_WAY: Nature(
        means="Direction of the blow", measure=Measure.NAMED, field="doing", start=("outwards", "one way"), doing=(Step.BLOW, Does.DIRECTION)
    ),
    Factor.SPIN_SPEED: Nature(
        means="Speed of the spin", measure=Measure.SPEED, field="doing", start=(0.5, 1.5), least=0.01, most=50.0, doing=(Step.SPIN, Does.SPEED)
    ),
    Factor.PRESS_TOOL: Nature(
        means="What is pressed on", measure=Measure.NAMED, field="doing", start=("second panel", "film"), doing=(Step.PRESS, Does.TOOL)
    ),
    Factor.REST: Nature(means="The mix rests", measure=Measure.HOURS, field="rest_s", start=(0.0, 14400.0), most=14 * 86400.0),
    Factor.AFTER: Nature(
        means="Treatment when dry", measure=Measure.NAMED, field="after", start=("nothing", "varnish"), without="nothing"
    ),
    Factor.PANEL_SIZE: Nature(means="Size of the panel", measure=Measure.NAMED, field="panel", start=("200 x 150", "300 x 200")),
    Factor.ADDED: Nature(
        means="Share of the mix", measure=Measure.SHARE, field="added", start=(0.0, 0.02, 0.05), most=0.5, zero_is_without=True, without="none"
    ),
    Factor.OWN: Nature(means="", measure=Measure.NAMED, field="own", start=("without", "with"), without="without"),
}  # fmt: skip
"""Named levels without a start come from the shelf or the cup; the person's own may be numbers as well."""

AFTER_TREATMENTS: Final = ("nothing", "wash", "varnish", "resin", "bake", "hot cup")
FILM_BY_TECHNIQUE_M: Final = {  # what usually stays, before anyone has weighed; replaced by own weighings
    Technique.FLIP_CUP: 1.7e-3,
    Technique.OPEN_CUP: 1.8e-3,
    Technique.STRAIGHT_POUR: 1.5e-3,
    Technique.RING_POUR: 1.9e-3,
    Technique.PULL_BACK: 1.6e-3,
    Technique.SWIPE: 1.2e-3,
    Technique.DUTCH_POUR: 1.1e-3,
    Technique.BLOOM: 2.0e-3,
    Technique.DIRTY_POUR: 1.5e-3,
    Technique.GRADUATED: 1.7e-3,
    Technique.TRANSPOSED: 1.2e-3,
}


def blend(name: str) -> dict[str, float]:
    """Shares of a medium that may be a blend, such as 'conditioner 60 + glue 40'; without figures all the same.

    Raises
    ------
    DribbetError
        If a figure is zero, or a name is missing.
    """
    parts: dict[str, float] = {}
    for piece in name.split("+"):
        words, _, figure = piece.strip().rpartition(" ")
        try:
            share = float(figure.removesuffix("%")) if "_" not in figure else math.nan
        except ValueError:
            words, share = piece.strip(), 1.0
        if not words or not 0.0 < share <= 1e4:
            raise DribbetError(f"“{name}” is no blend. Type names with parts, such as conditioner 60 + glue 40.")
        parts[words.strip()] = parts.get(words.strip(), 0.0) + share
    total = sum(parts.values())
    return {word: share / total for word, share in parts.items()}


def number(level: Level, words: str) -> float:
    """Figure of a level.

    Raises
    ------
    DribbetError
        If the level is a name.
    """
    if level.value is None:
        raise DribbetError(f"The level {level.name!r} of {words} is not a number. Type a number.")
    return level.value


def size_m(name: str) -> tuple[float, float]:
    """Width and height in m of a panel size given as millimetres, such as '300 x 200'.

    Raises
    ------
    DribbetError
        If the words are no size.
    """
    try:
        width, height = (float(v) / 1e3 for v in name.lower().replace("×", "x").removesuffix("mm").split("x"))
    except ValueError:
        raise DribbetError(f"“{name}” is no panel size. Type width x height in millimetres, such as 300 x 200.") from None
    if not 0.02 <= min(width, height) <= max(width, height) <= 3.0:
        raise DribbetError("A panel is 20 to 3000 mm wide and high.")
    return width, height


def _resized(held: Constants, name: str) -> dict[str, Any]:
    width, height = size_m(name)
    grown = width * height / (held.panel_width_m * held.panel_height_m)
    return {"panel_width_m": width, "panel_height_m": height, "poured_kg": held.poured_kg * grown, "activator_kg": held.activator_kg * grown}


def applied(held: Constants, varied: Varied, level: Level) -> Constants:
    """Constants with one level in place of what was held, and with what the level brings.

    Raises
    ------
    DribbetError
        If the level is out of the factor's reach, in words.
    """
    held = _applied(held, varied, level)
    for factor, brought in level.brings:
        held = _applied(held, Varied(factor=factor, levels=(brought,), of=varied.of, layer=varied.layer), brought)
    return held


def _applied(held: Constants, varied: Varied, level: Level) -> Constants:
    factor, words = varied.factor, varied.words
    nature = NATURES[factor]
    if factor in EXCHANGES:
        return _exchanged(held, varied, level)
    if factor is Factor.PANEL_SIZE:
        return replace(held, **_resized(held, level.name))
    if factor is Factor.OWN:
        return replace(held, own=f"{words}: {level.name or f'{level.value:g}'}")
    if nature.measure is Measure.NAMED:
        return _done(held, nature.doing, word=_word(level, words)) if nature.doing else replace(held, **_named(held, factor, level))
    value = number(level, words)
    if value < nature.least or value > nature.most:
        each, unit = SHOWN_AS.get(nature.measure, (1.0, ""))
        low, high, said = (f"{v * each:g}{unit}" for v in (nature.least, nature.most, value))
        if value < 0:
            raise DribbetError(f"{first_up(words)} of {said} is below zero. Choose {low} to {high}.")
        raise DribbetError(f"{first_up(words)} of {said} is out of reach. Choose {low} to {high}.")
    if factor is Factor.ADDED:
        if not varied.of:
            raise DribbetError(f"What goes into the cup with {words}? Name its container.")
        return replace(held, added=(*(a for a in held.added if a[0] != varied.of), (varied.of, value)))
    if nature.doing:
        return _done(held, nature.doing, value=value)
    put: dict[str, Any] = {nature.field: int(value) if factor in (Factor.HEAT, Factor.SECOND_HEAT, Factor.LAYERS) else value}
    return replace(held, **put)


def _word(level: Level, words: str) -> str:
    if not level.name:
        raise DribbetError(f"{first_up(words)} needs names, not {level.value:g}. Type names with commas between them.")
    return level.name


def _done(held: Constants, what: tuple[Step, Does], *, value: float | None = None, word: str = "") -> Constants:
    """Constants with one figure of a step of the pour in place of what its way says."""
    step, does = what
    figure = Figure(does=does, value=value, word=word)
    kept = tuple(d for d in held.doing if (d.step, d.figure.does) != what)
    return replace(held, doing=(*kept, Doing(step=step, figure=figure)))


def _exchanged(held: Constants, varied: Varied, level: Level) -> Constants:
    """One paint in place of another, which takes over its drops and its parts of medium.

    A finish or an opacity is a word; the paint that it stands for comes with the level.
    """
    if varied.factor is not Factor.PAINT:
        return replace(held, finish=level.name) if varied.factor is Factor.FINISH else held
    if not varied.of:
        raise DribbetError(f"Which paint gives way to {level.name}? Name a colour of the cup first.")
    if level.name == varied.of:
        return held
    swaps = (*held.swaps, Swap(of=varied.of, to=level.name, layer=varied.layer))
    if varied.layer:
        return replace(held, swaps=swaps)
    colours = tuple(dict.fromkeys(level.name if c == varied.of else c for c in held.silicone_colours))
    parts = tuple((level.name if c == varied.of else c, n) for c, n in held.colour_parts)
    return replace(held, swaps=swaps, silicone_colours=colours, colour_parts=parts)


def _named(held: Constants, factor: Factor, level: Level) -> dict[str, Any]:
    if not level.name:
        raise DribbetError(f"{first_up(str(factor))} needs names, not {level.value:g}. Type names with commas between them.")
    if factor is Factor.TECHNIQUE:
        own = next((w for w in held.ways if w.name == level.name), None)
        if own is not None:
            return {"technique": own.of, "way": own.name, "film_m": FILM_BY_TECHNIQUE_M[own.of]}
        try:
            way = Technique(level.name)
        except ValueError:
            raise DribbetError(f"“{level.name}” is not a way to pour. There are {', '.join((*Technique, *(w.name for w in held.ways)))}.") from None
        return {"technique": way, "way": "", "film_m": FILM_BY_TECHNIQUE_M[way]}
    if factor is Factor.BASE:
        try:
            return {"base_plan": BasePlan(level.name)}
        except ValueError:  # another base material under the same plan
            plan = held.base_plan if held.base_plan is not BasePlan.NONE else BasePlan.FULL
            return {"base": level.name, "base_plan": plan}
    if factor in (Factor.BASE_SHEEN, Factor.BASE_PAINT) and held.base_plan is BasePlan.NONE:
        return {NATURES[factor].field: level.name, "base_plan": BasePlan.FULL}
    if factor is Factor.SILICONE_COLOUR:
        return {"silicone_colours": tuple(c.strip() for c in level.name.split("+"))}
    return {NATURES[factor].field: level.name}


def without(factor: Factor, levels: tuple[Level, ...]) -> bool:
    """Whether one of the levels goes without the thing, so that its effect has something to stand against.

    True for factors that have no such level at all.
    """
    nature = NATURES[factor]
    if nature.zero_is_without:
        return any(level.value == 0.0 for level in levels)
    return True


def between(levels: tuple[Level, ...], words: str) -> Level:
    """Halfway between the lowest and the highest level.

    Raises
    ------
    DribbetError
        If the levels are names.
    """
    values = [number(level, words) for level in levels]
    return Level(value=(min(values) + max(values)) / 2.0)
