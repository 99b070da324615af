"""What several tests of one thing show together: random effects, so that tests may differ by more than their luck.

The variance between tests is that of Paule and Mandel (1982, J. Res. NBS 87); the interval that of Hartung and Knapp (2001, Statistics
in Medicine 20), with Student's t at one less than the number of tests, never narrower than the plain one.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import Enum
from typing import TYPE_CHECKING, Final

import numpy as np
from scipy.special import chdtrc, ndtri, stdtrit

from dribbet.lab.verdict.judge import CONFIDENCE

if TYPE_CHECKING:
    from collections.abc import Sequence

ROUNDS: Final = 200
UNLIKE_P: Final = 0.10
"""Tests are said to disagree below this chance: Cochran's Q finds little in few tests, so one in ten is usual."""


class Strength(Enum):
    """How well a claim stands."""

    STANDS = "stands"
    ONE = "one test only"
    AGAINST = "for and against"
    NOTHING = "nothing seen"
    OPEN = "open"


@dataclass(frozen=True, slots=True, kw_only=True)
class Shown:
    """What one test shows: a difference with its interval and the interval's level, and how its judge called it."""

    difference: float
    low: float
    high: float
    real: bool
    level: float = CONFIDENCE

    @property
    def sd(self) -> float:
        """Standard error, from the half-width of the interval as if it were normal: of few panels that is on the careful side."""
        return max(self.high - self.low, 1e-12) / (2.0 * float(ndtri(0.5 + self.level / 2.0)))


@dataclass(frozen=True, slots=True, kw_only=True)
class Pooled:
    """All tests together."""

    difference: float
    low: float
    high: float
    between: float
    """Standard deviation of what tests truly show, beyond their luck."""
    unlike_p: float
    """Chance of so much disagreement by luck alone (Cochran 1954); 1 of a single test."""
    tests: int


def pool(tests: Sequence[Shown]) -> Pooled:
    """Put tests together.

    Raises
    ------
    ValueError
        If there is none.

    Examples
    --------
    >>> one = Shown(difference=4.0, low=2.0, high=6.0, real=True)
    >>> pool([one]).low, round(pool([one, one]).difference, 3)
    (2.0, 4.0)
    """
    if not tests:
        raise ValueError("There is no test to put together.")
    if len(tests) == 1:
        one = tests[0]
        return Pooled(difference=one.difference, low=one.low, high=one.high, between=0.0, unlike_p=1.0, tests=1)
    y = np.array([t.difference for t in tests])
    v = np.array([t.sd**2 for t in tests])
    plain = _spread(y, v, 0.0)
    tau2 = _between(y, v)
    weights = 1.0 / (v + tau2)
    mean = float(weights @ y / weights.sum())
    widened = max(_spread(y, v, tau2) / (len(y) - 1), 1.0)
    half = float(stdtrit(len(y) - 1, 0.5 + CONFIDENCE / 2.0)) * math.sqrt(widened / weights.sum())
    return Pooled(
        difference=mean, low=mean - half, high=mean + half, between=math.sqrt(tau2), unlike_p=float(chdtrc(len(y) - 1, plain)), tests=len(y)
    )


def _spread(y: np.ndarray, v: np.ndarray, tau2: float) -> float:
    """Weighted squares about the weighted mean."""
    w = 1.0 / (v + tau2)
    return float(w @ (y - w @ y / w.sum()) ** 2)


def _between(y: np.ndarray, v: np.ndarray) -> float:
    """Variance between tests at which the weighted squares are what they should be, by bisection."""
    df = len(y) - 1
    if _spread(y, v, 0.0) <= df:
        return 0.0
    low, high = 0.0, float(np.var(y) * len(y) + v.max())
    for _ in range(ROUNDS):
        middle = (low + high) / 2.0
        low, high = (middle, high) if _spread(y, v, middle) > df else (low, middle)
    return (low + high) / 2.0


def strength(tests: Sequence[Shown]) -> Strength:
    """How well a claim stands on its tests.

    Two tests that are real and point apart contradict each other, however they average; so do tests that disagree by more than luck
    and whose mean hangs on which are counted.
    """
    if not tests:
        return Strength.OPEN
    real = [t for t in tests if t.real]
    if any(t.difference > 0.0 for t in real) and any(t.difference < 0.0 for t in real):
        return Strength.AGAINST
    if len(tests) == 1:
        return Strength.ONE if real else Strength.NOTHING
    all_of = pool(tests)
    signs = {t.difference > 0.0 for t in tests}
    if all_of.unlike_p < UNLIKE_P and len(signs) > 1:
        return Strength.AGAINST
    if (len(real) > 1 and len({t.difference > 0.0 for t in real}) == 1) or all_of.low > 0.0 or all_of.high < 0.0:
        return Strength.STANDS
    return Strength.ONE if real else Strength.NOTHING
