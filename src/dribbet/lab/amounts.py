"""How much paint a test needs (science: how much paint)."""

from __future__ import annotations

from typing import Final

# Poured depth in m by how much of the panel is covered; practitioners' starting figures.
FULL_COVER_M: Final = 2.2e-3
OVER_BASE_M: Final = 1.4e-3
CUP_LOSS: Final = 0.10  # stays in the cup
RESERVE: Final = 0.05  # mixed beyond that, for the last panel


def covered_area_m2(width_m: float, height_m: float, side_m: float = 0.0) -> float:
    """Face of a panel, plus its four sides where they are to be covered."""
    return width_m * height_m + 2.0 * side_m * (width_m + height_m)


def poured_volume_m3(area_m2: float, depth_m: float = FULL_COVER_M) -> float:
    """Volume to have in the cup for one panel, with what stays in the cup."""
    return area_m2 * depth_m * (1.0 + CUP_LOSS)


def batch_kg(poured_kg: float, share: float, panels: int) -> float:
    """Mass of one colour for so many panels from one batch, with cup loss and reserve."""
    return poured_kg * share * panels * (1.0 + CUP_LOSS + RESERVE)
