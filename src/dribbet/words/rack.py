"""The rack of Ask: a recipe as one says it whole, the heads of its columns and rows, and what stands besides."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.plan.factors import NATURES
from dribbet.records import BETWEEN, BasePlan
from dribbet.records.wording import first_up
from dribbet.words.levels import level_text
from dribbet.words.tongue import Counted, t
from dribbet.words.units import count_text, dose_text, percent

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.lab.plan.arm import Arm
    from dribbet.records import Series
    from dribbet.words.units import Units

BESIDES: Final = t("Besides")
OF_EACH: Final = Counted("{repeats} repeat of each recipe", "{repeats} repeats of each recipe")
SAID_BY_THE_CUP: Final = ("water_share", "medium_parts", "medium", "silicone_drops_per_100g", "added")
"""Fields of things varied that the parts of the cup tell already."""


def settings(series: Series, which: Sequence[int], at: Sequence[int], units: Units) -> str:
    """Levels of one column or row, or of one recipe: '10 %, two drops'."""
    return ", ".join(level_text(series.varied[i].factor, series.varied[i].levels[n], units) for i, n in zip(which, at, strict=True) if n >= 0)


def of_what(series: Series, down: Sequence[int], at: Sequence[int], units: Units) -> str:
    """What the levels of a row are levels of, where they do not say it themselves."""
    said = settings(series, down, at, units)
    return ", ".join(series.varied[i].words for i in down if series.varied[i].words not in said)


def varied(series: Series, which: Sequence[int]) -> str:
    """What runs along the columns, where several things do: 'Silicone and heat'."""
    return first_up(t(" and ").join(series.varied[i].words for i in which))


def besides(series: Series, arm: Arm, units: Units, *, covered: bool) -> str:
    """A recipe besides the design."""
    if arm.extra is None:
        said = t("halfway, {panels}", panels=count_text(arm.panels, "panel"))
    else:
        said = settings(series, range(len(arm.settings)), arm.settings, units)
        if arm.extra.instead:
            factor, level = arm.extra.instead[-1]
            said = t("{levels}, but {factor} {level}", levels=said, factor=factor, level=level_text(factor, level, units))
    return said if covered else f"{arm.letter}: {said}"


def recipe(series: Series, arm: Arm, units: Units, *, covered: bool) -> str:
    """Everything in a recipe, and what it stands on."""
    held = arm.held
    said = [
        t("{share} paint", share=percent(arm.paint_share)),
        _of(arm.medium_share, arm.medium, units),
        t("{share} thinner", share=percent(arm.water_share + arm.alcohol_share)),
    ]
    beside = ((arm.shimmer_share, held.shimmer_medium), (arm.anti_craze_share, held.anti_craze), *((share, key) for key, share in arm.added))
    said += [_of(share, key, units) for share, key in beside if share]
    if arm.silicone_drops_per_100g > 0.0:
        said.append(dose_text(arm.silicone_drops_per_100g, held.drop_kg, units.called(held.silicone)))
    if held.base_plan is not BasePlan.NONE:
        base = t("on {plan} of {base}", plan=held.base_plan, base=units.called(held.base))
        craze = _of(held.base_craze_share, held.anti_craze, units)
        said.append(t("{base} with {additive}", base=base, additive=craze) if held.base_craze_share else base)
    for v, n in zip(series.varied, arm.settings, strict=True):
        if n != BETWEEN and NATURES[v.factor].field not in SAID_BY_THE_CUP:
            said.append(f"{v.words} {level_text(v.factor, v.levels[n], units)}")
    whole = ", ".join(said)
    return t("Recipe: {whole}", whole=whole) if covered else t("Recipe {letter}: {whole}", letter=arm.letter, whole=whole)


def _of(share: float, key: str, units: Units) -> str:
    return t("{share} {name}", share=percent(share), name=units.called(key))
