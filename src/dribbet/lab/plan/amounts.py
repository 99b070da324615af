"""How much paint a test needs (science: how much paint)."""

from __future__ import annotations

import math
from typing import Final

from dribbet.records import BasePlan, Constants, Outline, Technique

# Poured depth in m by how much of the panel is covered; practitioners' starting figures.
FULL_COVER_M: Final = 2.2e-3
OVER_BASE_M: Final = 1.4e-3
DEPTH_M: Final = {  # where a way of pouring needs less than full cover
    Technique.SWIPE: 1.6e-3,
    Technique.DUTCH_POUR: 1.2e-3,
    Technique.BLOOM: 0.5e-3,
}
BASE_COVERS: Final = {BasePlan.NONE: 0.0, BasePlan.MIST: 0.0, BasePlan.RIM: 0.3, BasePlan.FULL: 1.0, BasePlan.PILLOW: 0.65}
"""Share of the face under the base: a rim, all of it, or a pillow that stops 2 to 3 cm from the edge."""
CUP_LOSS: Final = 0.10  # stays in the cup, before anyone has weighed a cup


def covered_area_m2(width_m: float, height_m: float, side_m: float = 0.0, outline: Outline = Outline.SQUARE) -> float:
    """Face of a panel, plus its sides where they are to be covered: L W + 2 d (L + W), or the same for an ellipse.

    The rim of an ellipse is Ramanujan's second formula (1914), exact for a circle.
    """
    if outline is Outline.ROUND:
        a, b = width_m / 2.0, height_m / 2.0
        h = ((a - b) / (a + b)) ** 2
        rim = math.pi * (a + b) * (1.0 + 3.0 * h / (10.0 + math.sqrt(4.0 - 3.0 * h)))
        return math.pi * a * b + side_m * rim
    return width_m * height_m + 2.0 * side_m * (width_m + height_m)


def face_m2(held: Constants) -> float:
    """Face of the panel alone."""
    return covered_area_m2(held.panel_width_m, held.panel_height_m, 0.0, held.outline)


def poured_depth_m(technique: Technique, base: BasePlan) -> float:
    """Depth to pour by default: full cover, or less over a base or where the technique needs less."""
    depth = FULL_COVER_M if base in (BasePlan.NONE, BasePlan.MIST, BasePlan.RIM) else OVER_BASE_M
    return min(depth, DEPTH_M.get(technique, depth))


def suggested_poured_kg(held: Constants, density_kg_m3: float) -> float:
    """Paint to pour on one panel of this size, by technique and base."""
    area = covered_area_m2(held.panel_width_m, held.panel_height_m, held.side_m, held.outline)
    return area * poured_depth_m(held.technique, held.base_plan) * density_kg_m3


def base_m3(held: Constants) -> float:
    """Volume of base on one panel."""
    return face_m2(held) * BASE_COVERS[held.base_plan] * held.base_m


def with_loss(mass_kg: float, held: Constants) -> float:
    """Mass to mix so that this much can be poured: with what stays in the cup and the reserve."""
    return mass_kg * (1.0 + held.cup_loss + held.reserve)
