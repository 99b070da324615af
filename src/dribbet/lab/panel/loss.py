"""Drying by weight: what a panel lost since it was poured, against the water that its film held.

The surface misleads: it is dry to the touch while the inside is wet. Weight does not: what is gone is gone.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import numpy as np

from dribbet.records import ALCOHOL, WATER

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from dribbet.records import Material

DRY_SHARE: Final = 0.95
"""Share of the volatile part that is gone when a film is called dry by weight."""
LEAST_POINTS: Final = 3
VOLATILE: Final = (WATER, ALCOHOL)
SLOWEST_S: Final = 60 * 86400.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Loss:
    """How far a film has dried by its weight."""

    lost_kg: float
    volatile_kg: float
    """What can go at all: water and alcohol of its own, and the water of paint and mediums."""
    dry_at_s: float | None
    """Seconds after the pour at which 95 % will be gone, by the curve of this panel; None before three weighings tell."""
    sd_s: float = 0.0

    @property
    def share(self) -> float:
        """Share of it that is gone; above one where more was lost than the cup can have held."""
        return self.lost_kg / self.volatile_kg if self.volatile_kg > 0.0 else 0.0

    @property
    def ready(self) -> bool:
        """Whether it may be called dry by weight."""
        return self.share >= DRY_SHARE


def volatile_share(cup: Mapping[str, float], shelf: Sequence[Material]) -> float:
    """Mass share of a cup that can evaporate.

    Water and alcohol go whole; of everything else what is not solid, taken as water: by volume 1 - s, of density 998.
    """
    known = {m.key: m for m in shelf}
    total = 0.0
    for name, share in cup.items():
        m = known.get(name)
        if name in VOLATILE:
            total += share
        elif m is not None and m.alcohol_share > 0.0:
            total += share
        elif m is not None:
            total += share * min((1.0 - m.volume_solids) * 998.0 / m.density_kg_m3, 1.0)
    return total


def loss(poured_kg: float, left_kg: float, volatile: float, weighings: Sequence[tuple[float, float]]) -> Loss:
    """How far a film has dried.

    Parameters
    ----------
    poured_kg : float
        Panel with its wet film, in kg.
    left_kg : float
        The wet film alone, in kg.
    volatile : float
        Share of it that can evaporate.
    weighings : sequence of (s, kg)
        Seconds after the pour, and the panel's weight then.

    The curve is an exponential approach to the volatile mass, 1 - exp(-(t / a)^b), b between one half (diffusion) and one
    (a falling rate): fitted by least squares in ln(-ln(1 - share)) against ln t, where the share lies between 2 and 98 %.
    """
    whole = left_kg * volatile
    lost = [(t, poured_kg - kg) for t, kg in weighings if t > 0.0]
    newest = max(lost, default=(0.0, 0.0))[1]
    points = [(math.log(t), math.log(-math.log(1.0 - kg / whole))) for t, kg in lost if whole > 0.0 and 0.02 < kg / whole < 0.98]
    if len(points) < LEAST_POINTS:
        return Loss(lost_kg=newest, volatile_kg=whole, dry_at_s=None)
    x, y = np.array(points).T
    slope = float(np.clip(np.polyfit(x, y, 1)[0], 0.5, 1.0))
    offset = float(np.mean(y - slope * x))
    residual = float(np.std(y - slope * x - offset, ddof=1)) if len(points) > LEAST_POINTS - 1 else 0.0
    wanted = math.log(-math.log(1.0 - DRY_SHARE))
    at = math.exp((wanted - offset) / slope)
    return Loss(lost_kg=newest, volatile_kg=whole, dry_at_s=min(at, SLOWEST_S), sd_s=min(at * residual / slope / math.sqrt(len(points)), SLOWEST_S))
