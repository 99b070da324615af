"""Tests that go through what could have come out: yes and no over strata, panels that change places, times with some that have not come."""

from __future__ import annotations

import math
from itertools import combinations, product
from typing import TYPE_CHECKING, Any, Final

import numpy as np

if TYPE_CHECKING:
    from collections.abc import Sequence

    import numpy.typing as npt

    Floats = npt.NDArray[np.float64]
    Mask = npt.NDArray[np.bool_]
    Numbers = npt.NDArray[np.intp]

DRAWS: Final = 4_000
EXACT_UP_TO: Final = 5_000  # arrangements that are all gone through; more are drawn
SAME: Final = 1e-7  # chances nearer to each other than this are alike
Table = tuple[int, int, int, int]
"""Yes and number of the first level, yes and number of the second, in one stratum."""


def hypergeometric(yes: int, first: int, second: int) -> tuple[int, Floats]:
    """Chances of 'yes among the first' given how many yes there are in all: the least such number, and the chances from it on."""
    from scipy import special

    low, high = max(0, yes - second), min(first, yes)
    k = np.arange(low, high + 1)

    def log_choose(n: float, r: Any) -> Any:
        return special.gammaln(n + 1.0) - special.gammaln(np.asarray(r) + 1.0) - special.gammaln(n - np.asarray(r) + 1.0)

    logs = log_choose(first, k) + log_choose(second, yes - k)
    chances = np.exp(logs - logs.max())
    return low, np.asarray(chances / chances.sum(), np.float64)


def two_sided(chances: Floats, at: int) -> float:
    """P of an outcome: all that are as unlikely or more so."""
    return float(min(1.0, chances[chances <= chances[at] * (1.0 + SAME)].sum()))


def stratified(tables: Sequence[Table]) -> tuple[float, float] | None:
    """Exact conditional test over strata: P, and the least P that could have come; None where nothing could have come out otherwise.

    The conditional law of all yes among the first is the convolution of the strata's hypergeometric laws (Gart 1971).
    """
    low, chances, seen = 0, np.ones(1), 0
    for yes_a, n_a, yes_b, n_b in tables:
        if n_a and n_b:
            first, law = hypergeometric(yes_a + yes_b, n_a, n_b)
            low, chances, seen = low + first, np.convolve(chances, law), seen + yes_a
    if len(chances) < 2:
        return None
    return two_sided(chances, seen - low), min(two_sided(chances, 0), two_sided(chances, len(chances) - 1))


def fisher_p(yes_first: int, n_first: int, yes_second: int, n_second: int) -> float:
    """Two-sided P of Fisher's exact test: one stratum."""
    told = stratified([(yes_first, n_first, yes_second, n_second)])
    return 1.0 if told is None else told[0]


def unlike_strata(first: Table, second: Table) -> tuple[float, float] | None:
    """Exact test whether two strata differ in what a level does, given all yes among the first levels (Zelen 1971): P, least P."""
    (low_a, law_a), (low_b, law_b) = (hypergeometric(t[0] + t[2], t[1], t[3]) for t in (first, second))
    whole = first[0] + second[0]
    places = [a for a in range(low_a, low_a + len(law_a)) if low_b <= whole - a < low_b + len(law_b)]
    if len(places) < 2:
        return None
    chances = np.array([law_a[a - low_a] * law_b[whole - a - low_b] for a in places])
    chances /= chances.sum()
    return two_sided(chances, places.index(first[0])), min(two_sided(chances, 0), two_sided(chances, len(chances) - 1))


def log_rank_scores(hours: Floats) -> Floats:
    """Savage's scores of times, infinite where it has not come: the later, the larger; their difference of sums is the log-rank statistic."""
    came = np.isfinite(hours)
    hazard = {h: float((hours == h).sum()) / float((hours >= h).sum()) for h in np.unique(hours[came])}
    return np.array([sum(v for h, v in hazard.items() if h <= one) for one in hours]) - came


def shuffled(y: Floats, weights: Floats, strata: Numbers, first: Mask, second: Mask) -> tuple[float, float] | None:
    """P of a difference when panels of two levels change places within strata, and the least P that could have come.

    All arrangements where they can be gone through, else drawn ones, the same each time; None where none differs from another.

    Parameters
    ----------
    y, weights : ndarray, shape (n,)
        Figures, and what each counts in the difference.
    strata : ndarray of int, shape (n,)
    first, second : ndarray of bool, shape (n,)
        Panels of the two levels.
    """
    groups = []
    for s in np.unique(strata):
        rows = np.flatnonzero((strata == s) & (first | second))
        high = int(first[rows].sum())
        if 0 < high < len(rows):
            groups.append((y[rows], first[rows], high, float(np.abs(weights[rows][first[rows]]).sum()) or 1.0))
    count = math.prod(math.comb(len(values), high) for values, _, high, _ in groups)
    if count < 2 or float(np.ptp(y)) == 0.0:
        return None
    whole = count <= EXACT_UP_TO
    rng = np.random.default_rng(20)
    parts, seen = [], 0.0
    for values, mine, high, share in groups:
        size = len(values)
        chosen = np.array(list(combinations(range(size), high))) if whole else np.argsort(rng.random((DRAWS, size)), axis=1)[:, :high]
        of_first = values[chosen].sum(axis=1)
        parts.append(share * (of_first / high - (values.sum() - of_first) / (size - high)))
        seen += share * float(values[mine].mean() - values[~mine].mean())
    spread = np.abs(np.array([sum(p) for p in product(*parts)]) if whole else np.sum(parts, axis=0))
    more = int((spread >= abs(seen) * (1.0 - 1e-9)).sum())
    if not whole:
        return (more + 1.0) / (DRAWS + 1.0), 0.0
    return more / count, int((spread >= spread.max() * (1.0 - 1e-9)).sum()) / count
