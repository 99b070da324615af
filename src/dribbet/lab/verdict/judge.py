"""Words of a verdict, scatter of panels poured alike, and what n panels can show; the model itself is `model`."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Any, Final

import numpy as np

from dribbet.records import Word

if TYPE_CHECKING:
    from collections.abc import Sequence

    import numpy.typing as npt

    Floats = npt.NDArray[np.float64]

__all__ = ["CONFIDENCE", "LEAST_UNSURE", "POWER", "UNLIKE_P", "UNLIKE_PAIRS_P", "Word", "pooled_sd", "smallest_difference"]

CONFIDENCE: Final = 0.95
POWER: Final = 0.80
UNLIKE_P: Final = 0.5
"""Below this, recipes are taken to scatter unlike (Bartlett): few panels seldom tell, so little doubt is enough. With a quarter, three panels
each and one recipe that scatters five times, 7 of 100 tests of nothing found something; with a half, 5."""
UNLIKE_PAIRS_P: Final = 0.25
"""The same where a recipe has two panels only: they hardly tell, and standing for itself with one degree of freedom shows next to nothing."""
LEAST_UNSURE: Final = 0.9
"""Share of a variance that is taken as estimated at least: an estimate of nothing beyond Poisson is an estimate too."""


def _laws() -> Any:
    """Distribution functions alone, at the first question asked of them: scipy takes a fifth of the window's start to import."""
    from scipy import special

    return special


def smallest_difference(sd: float, panels_each: int, df: int, questions: int = 1) -> float:
    """Smallest difference that a test can show four times in five: (t_.975 + t_.80) s sqrt(2/n); .975 grows with what else is asked (Holm)."""
    return float((_laws().stdtrit(df, 1.0 - (1.0 - CONFIDENCE) / questions / 2.0) + _laws().stdtrit(df, POWER)) * sd * math.sqrt(2.0 / panels_each))


def pooled_sd(groups: Sequence[Sequence[float]]) -> tuple[float, int] | None:
    """Scatter of panels poured alike, pooled over settings, and its degrees of freedom; None without repeats."""
    df = sum(len(g) - 1 for g in groups if len(g) > 1)
    if df == 0:
        return None
    total = math.fsum(math.fsum((np.asarray(g) - np.mean(g)) ** 2) for g in groups if len(g) > 1)
    return math.sqrt(total / df), df
