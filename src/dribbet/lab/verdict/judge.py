"""Is a difference real? Pairs of settings, counts, crack lengths with many zeros, and what n panels can show."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING, Any, Final

import numpy as np

if TYPE_CHECKING:
    from collections.abc import Sequence

    import numpy.typing as npt

    Floats = npt.NDArray[np.float64]

CONFIDENCE: Final = 0.95
POWER: Final = 0.80
PERMUTATIONS: Final = 10_000
MANY_ZEROS: Final = 0.3  # above this share of panels without any, lengths are judged by permutation


class Word(StrEnum):
    """The only three answers."""

    REAL = "real"
    CHANCE = "could be chance"
    TOO_FEW = "too few panels to say"


@dataclass(frozen=True, slots=True, kw_only=True)
class Difference:
    """Mean of the first setting minus mean of the second, with its interval and its word."""

    difference: float
    low: float | None
    high: float | None
    p: float | None
    word: Word
    method: str
    n_first: int
    n_second: int
    band: float
    """Half-width of the measuring noise; a smaller difference is never real."""


def _laws() -> Any:
    """Distribution functions alone, at the first question asked of them: scipy takes a fifth of the window's start to import."""
    from scipy import special

    return special


def smallest_difference(sd: float, panels_each: int, df: int) -> float:
    """Smallest difference that a test can show four times in five: (t_.975 + t_.80) s sqrt(2/n)."""
    return float((_laws().stdtrit(df, 0.5 + CONFIDENCE / 2.0) + _laws().stdtrit(df, POWER)) * sd * math.sqrt(2.0 / panels_each))


def pooled_sd(groups: Sequence[Sequence[float]]) -> tuple[float, int] | None:
    """Scatter of panels poured alike, pooled over settings, and its degrees of freedom; None without repeats."""
    df = sum(len(g) - 1 for g in groups if len(g) > 1)
    if df == 0:
        return None
    total = math.fsum(math.fsum((np.asarray(g) - np.mean(g)) ** 2) for g in groups if len(g) > 1)
    return math.sqrt(total / df), df


def holm(p_values: Sequence[float | None]) -> list[float | None]:
    """Holm's adjustment of p values for how many things were asked; None stays None."""
    known = sorted((p, i) for i, p in enumerate(p_values) if p is not None)
    adjusted: list[float | None] = [None] * len(p_values)
    running = 0.0
    for rank, (p, i) in enumerate(known):
        running = max(running, min(1.0, p * (len(known) - rank)))
        adjusted[i] = running
    return adjusted


def fisher_p(yes_first: int, n_first: int, yes_second: int, n_second: int) -> float:
    """Two-sided P of Fisher's exact test: all tables as unlikely as this one or more so."""
    laws = _laws()
    yes = yes_first + yes_second
    low, high = max(0, yes - n_second), min(n_first, yes)
    k = np.arange(low, high + 1)

    def log_choose(n: float, r: Any) -> Any:
        return laws.gammaln(n + 1.0) - laws.gammaln(np.asarray(r) + 1.0) - laws.gammaln(n - np.asarray(r) + 1.0)

    logs = log_choose(n_first, k) + log_choose(n_second, yes - k) - log_choose(n_first + n_second, yes)
    chances = np.exp(logs)
    return float(min(1.0, chances[chances <= chances[yes_first - low] * (1.0 + 1e-7)].sum()))


def permutation_p(first: Floats, second: Floats) -> float:
    """Two-sided permutation test of the difference of means; exact where there are few arrangements."""
    from scipy import stats  # seconds to import: only where it is needed

    def statistic(a: Floats, b: Floats, axis: int = -1) -> Floats:
        return np.asarray(np.mean(a, axis=axis) - np.mean(b, axis=axis))

    rng = np.random.default_rng(20)
    test = stats.permutation_test((first, second), statistic, n_resamples=PERMUTATIONS, vectorized=True, rng=rng)
    return float(test.pvalue)


def compare(
    first: Sequence[float],
    second: Sequence[float],
    *,
    others: Sequence[Sequence[float]] = (),
    measuring_sd: float = 0.0,
    count: bool = False,
    yes_no: bool = False,
    questions: int = 1,
) -> Difference:
    """Compare two settings of a test.

    Parameters
    ----------
    first, second : sequences of float
        One value per panel.
    others : sequences of float
        Panels of the remaining settings; they lend their scatter when lengths are compared.
    measuring_sd : float
        Scatter of the same panel photographed again.
    count : bool
        The values are counts: Poisson rates compared with the overdispersion that the panels show.
    yes_no : bool
        The values are 0 or 1: Fisher's exact test, Newcombe's interval.
    questions : int
        How many responses are asked of this test; the interval widens with it (Bonferroni), the words come from Holm
        in `judge_all`.

    Returns
    -------
    Difference
        `word` by this response alone; fewer than two panels on either side is `TOO_FEW`.
    """
    a, b = np.asarray(first, dtype=np.float64), np.asarray(second, dtype=np.float64)
    difference = float(a.mean() - b.mean()) if a.size and b.size else math.nan
    band = 1.96 * measuring_sd * math.sqrt(1.0 / max(a.size, 1) + 1.0 / max(b.size, 1))
    low: float | None
    high: float | None
    if a.size < 2 or b.size < 2:
        return Difference(
            difference=difference,
            low=None,
            high=None,
            p=None,
            word=Word.TOO_FEW,
            method="fewer than two panels",
            n_first=a.size,
            n_second=b.size,
            band=band,
        )
    level = 0.5 + (1.0 - (1.0 - CONFIDENCE) / questions) / 2.0
    p: float | None
    if yes_no:
        low, high, p = _chance_difference(a, b, level)
        method = "Fisher's exact test"
    elif count:
        low, high, p = _rate_difference(a, b, level)
        method = "Poisson rates with overdispersion"
    else:
        low, high, p, method = _means(a, b, others, level)
        zeros = float(np.mean(np.concatenate([a, b]) == 0.0))
        if zeros > MANY_ZEROS and 2.0 / math.comb(a.size + b.size, a.size) * questions < 1.0 - CONFIDENCE:
            p = permutation_p(a, b)  # only where the panels are enough for it to answer at all
            method = "permutation of panels"
    real = p is not None and p < 1.0 - CONFIDENCE and abs(difference) > band
    return Difference(
        difference=difference,
        low=low,
        high=high,
        p=p,
        word=Word.REAL if real else Word.CHANCE,
        method=method,
        n_first=a.size,
        n_second=b.size,
        band=band,
    )


def _means(a: Floats, b: Floats, others: Sequence[Sequence[float]], level: float) -> tuple[float, float, float | None, str]:
    difference = float(a.mean() - b.mean())
    lending = [g for g in others if len(g) > 1]
    if lending:
        pooled = pooled_sd([a.tolist(), b.tolist(), *lending])
        assert pooled is not None  # a and b have two panels each
        error, df = pooled[0] * math.sqrt(1.0 / a.size + 1.0 / b.size), float(pooled[1])
        method = "Student's t, scatter of all repeats"
    else:
        va, vb = float(a.var(ddof=1)) / a.size, float(b.var(ddof=1)) / b.size
        error = math.sqrt(va + vb)
        df = (va + vb) ** 2 / (va**2 / (a.size - 1) + vb**2 / (b.size - 1)) if error > 0.0 else float(a.size + b.size - 2)
        method = "Welch's t"
    if error == 0.0:
        return difference, difference, None, method
    reach = float(_laws().stdtrit(df, level)) * error
    return difference - reach, difference + reach, float(2.0 * _laws().stdtr(df, -abs(difference) / error)), method


def _rate_difference(a: Floats, b: Floats, level: float) -> tuple[float | None, float | None, float | None]:
    """Quasi-Poisson: difference of rates, variance (rate_a/n_a + rate_b/n_b) times the dispersion, at least one."""
    df = a.size + b.size - 2
    rates = (float(a.sum()) + 0.5) / a.size, (float(b.sum()) + 0.5) / b.size  # half a cell more: none found is not none there
    pearson = float(np.sum((a - a.mean()) ** 2) / rates[0] + np.sum((b - b.mean()) ** 2) / rates[1])
    dispersion = max(1.0, pearson / df)
    difference = float(a.mean() - b.mean())
    error = math.sqrt(dispersion * (rates[0] / a.size + rates[1] / b.size))
    # With dispersion at its floor the error is known, not estimated: the normal law; otherwise Student's t.
    known = dispersion == 1.0
    reach = float(_laws().ndtri(level) if known else _laws().stdtrit(df, level)) * error
    tail = -abs(difference) / error
    return difference - reach, difference + reach, float(2.0 * (_laws().ndtr(tail) if known else _laws().stdtr(df, tail)))


def _chance_difference(a: Floats, b: Floats, level: float) -> tuple[float, float, float]:
    """Interval from the two Wilson intervals (Newcombe 1998, method 10); P by Fisher's exact test."""
    z = float(_laws().ndtri(level))

    def wilson(yes: float, n: int) -> tuple[float, float, float]:
        share = yes / n
        middle = (share + z * z / (2 * n)) / (1 + z * z / n)
        reach = z * math.sqrt(share * (1 - share) / n + z * z / (4 * n * n)) / (1 + z * z / n)
        return share, middle - reach, middle + reach

    pa, la, ua = wilson(float(a.sum()), a.size)
    pb, lb, ub = wilson(float(b.sum()), b.size)
    d = pa - pb
    low, high = d - math.hypot(pa - la, ub - pb), d + math.hypot(ua - pa, pb - lb)
    return low, high, fisher_p(int(a.sum()), a.size, int(b.sum()), b.size)


def judge_all(differences: Sequence[Difference]) -> list[Difference]:
    """Words for several responses of one test together: Holm's adjustment, then the measuring band."""
    from dataclasses import replace

    judged = []
    for d, p in zip(differences, holm([d.p for d in differences]), strict=True):
        if d.word is Word.TOO_FEW:
            judged.append(d)
            continue
        real = p is not None and p < 1.0 - CONFIDENCE and abs(d.difference) > d.band
        judged.append(replace(d, p=p, word=Word.REAL if real else Word.CHANCE))
    return judged


def bracket(values: Sequence[float], liked: Sequence[float]) -> float | None:
    """Next level to try between the two best settings: weighted towards the better one; None with fewer than two.

    Parameters
    ----------
    values : sequence of float
        Level of each setting.
    liked : sequence of float
        How well each did, larger is better, in units of its scatter.
    """
    if len(values) < 2:
        return None
    order = np.argsort(liked)[::-1]
    best, second = int(order[0]), int(order[1])
    gain = max(liked[best] - liked[second], 0.0)
    weight = 0.5 + 0.25 * gain / (gain + 1.0)  # from the middle up to three quarters of the way to the better one
    return float(weight * values[best] + (1.0 - weight) * values[second])
