"""Density, cup order and bubbles (science: density and the cup)."""

from __future__ import annotations

import math
from itertools import pairwise
from typing import TYPE_CHECKING, Final

from dribbet.lab.paint.consistency import GRAVITY_M_S2

if TYPE_CHECKING:
    from collections.abc import Sequence


ALIKE_KG_M3: Final = 15.0
"""Densities nearer than this do not sink past each other in the time that paint has; two weighings of a syringe part by as much."""


def overturning_joints(densities_kg_m3: Sequence[float], alike_kg_m3: float = ALIKE_KG_M3) -> tuple[int, ...]:
    """Indices i of layers, from below, whose upper neighbour i + 1 is heavier by more than `alike_kg_m3`."""
    return tuple(i for i, (below, above) in enumerate(pairwise(densities_kg_m3)) if above - below > alike_kg_m3)


def fastest_wavelength_m(density_step_kg_m3: float, tension_n_m: float) -> float:
    """Fastest wavelength of a heavy film over a light one: 2 pi sqrt 2 sqrt(gamma / (delta rho g))."""
    return 2.0 * math.pi * math.sqrt(2.0) * math.sqrt(tension_n_m / (density_step_kg_m3 * GRAVITY_M_S2))


def growth_rate_per_s(density_step_kg_m3: float, tension_n_m: float, film_m: float, viscosity_pa_s: float) -> float:
    """Growth rate of that wavelength: (delta rho g)^2 h^3 / (12 mu gamma)."""
    return (density_step_kg_m3 * GRAVITY_M_S2) ** 2 * film_m**3 / (12.0 * viscosity_pa_s * tension_n_m)


def bubble_rest_s(radius_m: float, viscosity_pa_s: float, density_kg_m3: float, depth_m: float) -> float:
    """Time for bubbles of a radius to leave a cup: d / v with v = 2 rho g r^2 / (9 mu)."""
    return depth_m * 9.0 * viscosity_pa_s / (2.0 * density_kg_m3 * GRAVITY_M_S2 * radius_m**2)
