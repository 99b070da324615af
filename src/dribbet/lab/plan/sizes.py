"""Three sizes of test for the same question: what each takes and what it can show (domain: replicates)."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import Enum, StrEnum, auto
from functools import lru_cache
from typing import TYPE_CHECKING, Final

from dribbet.lab.plan import design, layouts, power
from dribbet.lab.plan.responses import SCALES
from dribbet.lab.verdict.columns import columns_of
from dribbet.lab.verdict.judge import POWER
from dribbet.lab.verdict.poured import factors_of
from dribbet.records import BETWEEN, Design, DribbetError, Layout, Response, Series, Wanted

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.lab.plan.arm import Arm
    from dribbet.lab.plan.power import Scatter

LEAST_REPEATS: Final = 2
USUAL_REPEATS: Final = 3  # where nothing is known yet, and no size was expected
MOST_REPEATS: Final = 8
THOROUGH_POWER: Final = 0.95


class Size(StrEnum):
    """How much is put into a question."""

    SMALLEST = "smallest"
    SENSIBLE = "sensible"
    THOROUGH = "thorough"


class Tells(Enum):
    """What a plan can tell apart."""

    TWO_LEVELS = auto()
    EACH_LEVEL = auto()
    EACH_AND_PAIRS = auto()
    """Each thing varied, and what two of them do together."""
    EACH = auto()
    EACH_IF_NONE_WORK_TOGETHER = auto()


@dataclass(frozen=True, slots=True, kw_only=True)
class Offer:
    """One size of a test."""

    size: Size
    series: Series
    panels: int
    shows: float | None
    """Smallest difference in the first response's unit; None where it is not known."""
    tells: Tells
    bend: bool
    """Whether a bend between the levels is told as well."""


def behind_level(recipes: Sequence[Arm]) -> int:
    """Panels that stand behind the level with fewest, of what is varied first."""
    counted: dict[int, int] = {}
    for a in recipes:
        if a.extra is None and a.level != BETWEEN:
            counted[a.level] = counted.get(a.level, 0) + a.panels
    return min(counted.values())


def residual_df(series: Series, recipes: Sequence[Arm]) -> int:
    """Degrees of freedom of the scatter between panels poured alike, less those that blocks take."""
    if design.paired(series):  # each panel is a block of its own
        return (len(recipes) - 1) * (series.repeats - 1)
    return sum(a.panels - 1 for a in recipes) - (series.layout.blocks - 1)


def questions(series: Series, recipes: Sequence[Arm]) -> int:
    """How many answers a plan gives in all: every pair of levels and every product that it tells, for each response; all are judged together."""
    planned = [(a.letter, a.settings) for a in recipes for _ in range(a.panels)]
    return _told(tuple(factors_of(series, recipes, planned).values())) * len(series.responses)


@lru_cache(maxsize=256)
def _told(columns: tuple[tuple[str, ...], ...]) -> int:
    """Answers that panels with these levels give to one response."""
    if not columns:
        return 1
    design_ = columns_of({str(i): c for i, c in enumerate(columns)})
    return max(sum(design_.tells(c.weights) for c in design_.contrasts), 1)


def shows(series: Series, recipes: Sequence[Arm], known: Scatter | None) -> float | None:
    """Smallest difference of the first response that a plan shows four times in five; None where that is not known."""
    first = series.responses[0][0]
    if first is Response.FIRST_CRACK:  # panels that never cracked have no figure to take a scatter from: such plans are rehearsed
        return None
    if known is None or residual_df(series, recipes) < 1 or series.repeats < LEAST_REPEATS:
        return None
    scale = SCALES[first]
    upward = series.prediction is None or series.prediction.more_or_less is Wanted.MORE  # nothing expected: more, where figures scatter most
    each, df, asked = behind_level(recipes), residual_df(series, recipes), questions(series, recipes)
    return power.can_show(scale.model, known, each, df, scale.factor, upward, asked, series.repeats)


def enough_repeats(series: Series, known: Scatter | None, most: int = MOST_REPEATS + 4) -> tuple[int, float] | None:
    """Fewest repeats above the plan's own that show anything, and what; None where that is not known or no number does."""
    for repeats in range(series.repeats + 1, most + 1):
        bigger = replace(series, repeats=repeats)
        shown = shows(bigger, design.arms(bigger), known)
        if shown is not None:
            return repeats, shown
    return None


def repeats_for(series: Series, recipes: Sequence[Arm], known: Scatter | None, size: float, wanted_power: float) -> int | None:
    """Repeats of each recipe that show a difference of this size; None where nothing is known or no number does."""
    if known is None or size <= 0.0:
        return None
    first, wanted = series.responses[0]
    if first is Response.FIRST_CRACK:
        return None
    scale = SCALES[first]
    way = series.prediction.more_or_less if series.prediction else wanted
    plain = [a for a in recipes if a.extra is None and a.level != BETWEEN]
    levels = len({a.level for a in plain})
    signed = size if way is Wanted.MORE else -size
    return power.repeats_for(
        scale.model, known, signed, len(plain), len(plain) / levels, scale.factor, wanted_power, questions=questions(series, recipes)
    )


def offers(series: Series, known: Scatter | None) -> tuple[Offer, ...]:
    """Smallest, sensible and thorough plan for the question as it stands; those that cannot be laid out are left out."""
    levels = [len(v.levels) for v in series.varied]
    deepest = layouts.most_halvings(levels) if len(levels) > 2 else 0
    fits = len(layouts.every(levels)) <= len(design.LETTERS)
    keep = series.layout
    expected = series.prediction.size if series.prediction else 0.0

    def laid(layout: Layout, repeats: int) -> Series:
        return replace(series, layout=replace(layout, extras=keep.extras if layout.design is keep.design else ()), repeats=repeats)

    every = replace(keep, design=Design.EVERY, centre_points=0)
    part = replace(keep, design=Design.FRACTION, halvings=max(deepest, 1), centre_points=0)
    half = replace(part, halvings=1)
    paired = design.paired(series)
    whole = keep if paired else every if fits else half
    small = whole if paired or not deepest else part
    middle = whole if paired or len(layouts.every(levels)) <= 16 or not deepest else half
    plans: list[Series] = []
    base = laid(middle, LEAST_REPEATS)
    needed = repeats_for(base, design.arms(base), known, expected, POWER)
    usual = USUAL_REPEATS if len(levels) < 3 or paired else LEAST_REPEATS
    sensible = min(max(needed or usual, LEAST_REPEATS), MOST_REPEATS)
    best = repeats_for(base, design.arms(base), known, expected, THOROUGH_POWER)
    more = min(max(best or sensible + 1, sensible + 1), MOST_REPEATS + 2)
    numeric = all(level.value is not None for v in series.varied for level in v.levels) and all(n == 2 for n in levels) and not paired
    plans = [laid(small, LEAST_REPEATS), laid(middle, sensible), laid(replace(whole, centre_points=2 if numeric else 0), more)]
    made = []
    for size, plan in zip(Size, plans, strict=True):
        try:
            recipes = design.arms(plan)
        except DribbetError:
            continue
        made.append(
            Offer(
                size=size,
                series=plan,
                panels=design.sheets(plan),
                shows=shows(plan, recipes, known),
                tells=tells(plan),
                bend=plan.layout.centre_points > 0,
            )
        )
    return tuple(made)


def tells(series: Series) -> Tells:
    """What a plan can tell apart."""
    levels = [len(v.levels) for v in series.varied]
    if len(levels) == 1:
        return Tells.EACH_LEVEL if levels[0] > 2 else Tells.TWO_LEVELS
    if series.layout.design is not Design.FRACTION:
        return Tells.EACH_AND_PAIRS
    resolution = layouts.RESOLUTION.get((len(levels), series.layout.halvings), 3)
    return {3: Tells.EACH_IF_NONE_WORK_TOGETHER, 4: Tells.EACH, 5: Tells.EACH_AND_PAIRS}[resolution]
