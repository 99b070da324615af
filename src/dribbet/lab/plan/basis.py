"""Basis of a comparison: what is made equal between recipes, and what is then not (domain: basis of a medium comparison)."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import Enum, auto
from typing import TYPE_CHECKING, Final

import numpy as np

from dribbet.lab.plan.arm import MOST_THIN, Arm, mixed, thinned_to
from dribbet.lab.plan.factors import NATURES
from dribbet.records import DribbetError, Equal, Factor
from dribbet.records.wording import first_up

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

MOST_PARTS: Final = 20.0
CLASHES: Final = {  # what making this equal would undo
    Equal.FLOW: (Factor.WATER_SHARE, Factor.GRADE, Factor.THIRD_LIQUID),
    Equal.PAINT: (Factor.WATER_SHARE, Factor.GRADE),
    Equal.COST: (Factor.RATIO,),
}


class Quantity(Enum):
    """A quantity that recipes may not share."""

    THINNER = auto()
    """Share of thinner in the cup."""
    PARTS = auto()
    """Parts of medium to one of paint, where thinner is equal."""
    FLOW = auto()
    PAINT = auto()
    """Share of paint in the cup."""
    COST = auto()


EQUAL_WITHIN: Final = {Quantity.THINNER: 0.01, Quantity.PARTS: 0.02, Quantity.FLOW: 0.25, Quantity.PAINT: 0.01, Quantity.COST: 0.05}
"""How much may differ before it is said: parts and cost as shares of the mean, flow as the matching band, thinner and paint in percent points."""


@dataclass(frozen=True, slots=True, kw_only=True)
class RecipeStanding:
    """The four quantities of one recipe."""

    letter: str
    thinner_share: float
    medium_parts: float
    paint_share: float
    flow_per_pa_s: float
    cost_per_kg: float


def cost_per_kg(arm: Arm, layer_prices: Mapping[str, float]) -> float:
    """Money for a kilogram of the cup: paints by their share of the cup, the rest by the recipe."""
    paint = sum(layer.share * layer_prices.get(layer.material, 0.0) for layer in arm.layers)
    return sum(share * (paint if name == "paint" else layer_prices.get(name, 0.0)) for name, share in arm.parts.items())


def standing(arm: Arm, prices: Mapping[str, float]) -> RecipeStanding:
    """Recipe, flow, paint share and cost of one recipe."""
    return RecipeStanding(
        letter=arm.letter,
        thinner_share=arm.water_share + arm.alcohol_share,
        medium_parts=arm.medium_share / arm.paint_share,
        paint_share=arm.paint_share,
        flow_per_pa_s=1.0 / arm.viscosity_pa_s,
        cost_per_kg=cost_per_kg(arm, prices),
    )


def equalised(arms: Sequence[Arm], equal: Equal, prices: Mapping[str, float]) -> tuple[Arm, ...]:
    """Recipes with one quantity made like the first recipe's; a recipe that cannot be says so in `trouble`.

    Flow: each gets its own water. Paint share: medium stays in its ratio, water gives way. Cost: dearer medium, fewer
    parts of it, the thinner's share held.
    """
    if equal in (Equal.RECIPE, Equal.OWN) or not arms:
        return tuple(arms)
    first = arms[0]
    if equal is Equal.FLOW:
        return (first, *(a if a.extra else thinned_to(a, first.viscosity_pa_s) for a in arms[1:]))
    if equal is Equal.PAINT:
        return (first, *(a if a.extra else _at_paint(a, first.paint_share) for a in arms[1:]))
    target = cost_per_kg(first, prices)
    return (first, *(a if a.extra else _at_cost(a, target, prices) for a in arms[1:]))


def _at_paint(arm: Arm, paint: float) -> Arm:
    rest = paint * (1.0 + arm.held.medium_parts + arm.held.shimmer_parts)
    water = 1.0 - rest - arm.alcohol_share - arm.held.beside_share
    if not 0.0 <= water <= MOST_THIN - arm.alcohol_share:
        said = "no room for its medium" if water < 0 else "more water than paint can take"
        return replace(arm, trouble=f"At {paint * 100:.0f} % paint, recipe {arm.letter} has {said}.")
    return mixed(arm, water, arm.alcohol_share)


def _at_cost(arm: Arm, target: float, prices: Mapping[str, float]) -> Arm:
    def at(ratio: float) -> float:
        return cost_per_kg(mixed(arm, arm.water_share, arm.alcohol_share, ratio), prices)

    ratios = np.linspace(0.0, MOST_PARTS, 201)
    costs = np.array([at(float(r)) for r in ratios])
    low, high = float(costs.min()), float(costs.max())
    if not low <= target <= high:
        return replace(arm, trouble=f"Recipe {arm.letter} costs {low:.2f} to {high:.2f} a kilogram whatever its parts, never {target:.2f}.")
    rising = costs if costs[-1] >= costs[0] else costs[::-1]
    parts = ratios if costs[-1] >= costs[0] else ratios[::-1]
    return mixed(arm, arm.water_share, arm.alcohol_share, float(np.interp(target, rising, parts)))


def clash(equal: Equal, factors: Sequence[Factor]) -> Factor | None:
    """Return the factor that making this equal would undo, if the test varies it."""
    return next((f for f in CLASHES.get(equal, ()) if f in factors), None)


def need_no_clash(equal: Equal, factors: Sequence[Factor]) -> None:
    """Refuse a basis that undoes what is tested.

    Raises
    ------
    DribbetError
        In words, with what to do.
    """
    found = clash(equal, factors)
    if found is not None:
        raise DribbetError(f"{first_up(str(equal))} would undo the {found} that you test. Choose equal recipe, or test something else.")


BESIDES: Final = ("medium", "base", "base_plan", "technique", "poured_kg", "water_source", "silicone_drops_per_100g", "anti_craze_share", "film_m")
"""Constants that may come along with a level; where they differ unasked, it is said."""


def also_differs(arms: Sequence[Arm], asked: Sequence[Factor]) -> tuple[str, ...]:
    """Constants, by field, that differ between recipes without being what the test varies."""
    varied = {NATURES[f].field for f in asked} | ({"base"} if Factor.BASE_SHEEN in asked else set())
    return tuple(f for f in BESIDES if f not in varied and len({getattr(a.held, f) for a in arms}) > 1)


def differs(standings: Sequence[RecipeStanding]) -> dict[Quantity, tuple[float, float]]:
    """Quantities that are not equal, each from low to high; of a recipe the thinner's share, or the parts where that is equal."""
    thin, parts = [s.thinner_share for s in standings], [s.medium_parts for s in standings]
    flow, paint, cost = [s.flow_per_pa_s for s in standings], [s.paint_share for s in standings], [s.cost_per_kg for s in standings]
    found = {}
    if max(thin) - min(thin) > EQUAL_WITHIN[Quantity.THINNER]:
        found[Quantity.THINNER] = (min(thin), max(thin))
    elif _apart(parts) > EQUAL_WITHIN[Quantity.PARTS]:
        found[Quantity.PARTS] = (min(parts), max(parts))
    if _apart(flow) > EQUAL_WITHIN[Quantity.FLOW]:
        found[Quantity.FLOW] = (min(flow), max(flow))
    if max(paint) - min(paint) > EQUAL_WITHIN[Quantity.PAINT]:
        found[Quantity.PAINT] = (min(paint), max(paint))
    if _apart(cost) > EQUAL_WITHIN[Quantity.COST]:
        found[Quantity.COST] = (min(cost), max(cost))
    return found


def _apart(values: Sequence[float]) -> float:
    """How far the ends lie apart, as a share of the mean."""
    mean = sum(values) / len(values)
    return (max(values) - min(values)) / mean if mean else 0.0
