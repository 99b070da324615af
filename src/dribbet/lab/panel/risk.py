"""Whether a film cracks: a logistic score that starts from the craft's weights and is refitted, gently, by the person's own panels."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING, Final

import numpy as np

from dribbet.lab.panel.drying import RISK_WEIGHTS, skin_number

if TYPE_CHECKING:
    from collections.abc import Sequence

    import numpy.typing as npt

NAMES: Final = tuple(RISK_WEIGHTS)
GIVE: Final = (1.0, 0.8, 0.5, 0.2, 0.15, 0.6)
"""How far each weight is believed to be off before any panel was seen (standard deviations of the prior, in the order of `NAMES`)."""
SAFE_BELOW: Final = 0.25
CRACKS_FROM: Final = 0.5
"""Risks at which the gauge's safe zone ends and its last one begins: about 1.9 and 2.5 mm with the starting weights."""
REACH_M: Final = (0.2e-3, 6.0e-3)


@dataclass(frozen=True, slots=True, kw_only=True)
class Causes:
    """What cracking follows from, for one panel."""

    wet_film_m: float
    water_share: float
    evaporation_kg_m2_s: float
    silicone_drops: float = 0.0
    anti_craze_share: float = 0.0

    def columns(self) -> tuple[float, ...]:
        """Values in the order of `NAMES`, the intercept first."""
        pe = skin_number(self.wet_film_m, self.evaporation_kg_m2_s / 998.0)
        return (
            1.0, self.wet_film_m * 1e3 - 1.7, (self.water_share - 0.16) / 0.10, pe - 1.0, self.silicone_drops, self.anti_craze_share / 0.10,
        )  # fmt: skip


@dataclass(frozen=True)
class Risk:
    """Weights, and what they rest on."""

    weights: tuple[float, ...]
    panels: int = 0
    cracked: int = 0

    def of(self, causes: Causes) -> float:
        """Probability that a panel cracks."""
        z = sum(w * x for w, x in zip(self.weights, causes.columns(), strict=True))
        return 1.0 / (1.0 + math.exp(-z)) if z > -700.0 else 0.0

    def film_m(self, like: Causes, risk: float) -> float:
        """Wet film at which a panel like this has so much risk; the ends of `REACH_M` where none within them has."""
        from dataclasses import replace

        low, high = REACH_M
        if self.of(replace(like, wet_film_m=low)) >= risk:
            return low
        if self.of(replace(like, wet_film_m=high)) <= risk:
            return high
        for _ in range(60):
            middle = (low + high) / 2.0
            low, high = (middle, high) if self.of(replace(like, wet_film_m=middle)) < risk else (low, middle)
        return low

    @cached_property
    def own(self) -> bool:
        """Whether own panels have moved it."""
        return self.panels > 0


STARTING: Final = Risk(tuple(RISK_WEIGHTS.values()))


def fit(cases: Sequence[tuple[Causes, bool]]) -> Risk:
    """Weights most likely after these panels: logistic likelihood times a normal prior round the starting weights (ridge towards them).

    Newton's method; the penalty makes the problem strictly concave, so it has one answer also where panels part perfectly.
    """
    if not cases:
        return STARTING
    x = np.array([c.columns() for c, _ in cases])
    y = np.array([1.0 if cracked else 0.0 for _, cracked in cases])
    prior = np.array(STARTING.weights)
    stiff = 1.0 / np.array(GIVE) ** 2
    w: npt.NDArray[np.float64] = prior.copy()
    for _ in range(50):
        p = 1.0 / (1.0 + np.exp(-np.clip(x @ w, -35, 35)))
        slope = x.T @ (y - p) - stiff * (w - prior)
        curve = (x * (p * (1 - p))[:, None]).T @ x + np.diag(stiff)
        step = np.linalg.solve(curve, slope)
        w = w + step
        if float(np.abs(step).max()) < 1e-10:
            break
    return Risk(tuple(float(v) for v in w), panels=len(cases), cracked=int(y.sum()))
