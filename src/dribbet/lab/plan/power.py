"""What a test can show, and how many panels a wanted difference takes: means, counts, shares and yes/no each by its own model."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import Enum
from functools import lru_cache
from typing import TYPE_CHECKING, Any, Final

import numpy as np

from dribbet.lab.verdict.exact import fisher_p
from dribbet.lab.verdict.judge import CONFIDENCE, LEAST_UNSURE, POWER, pooled_sd, smallest_difference

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    import numpy.typing as npt

    Floats = npt.NDArray[np.float64]

MOST_PANELS: Final = 400
PLAYS: Final = 4096  # of the scatter, for the judge's own power: exact to half a point
SURE_NU: Final = 20.0  # degrees of freedom of each recipe from which on it hardly matters whether it stands for itself
FARTHEST_SD: Final = 30.0  # standard deviations up to which a difference of means is searched for: beyond, eyes tell it without a test
NODES: Final = 96  # of the quadrature: exact to 1e-4 of the published power from 2 degrees of freedom on
NO_FEWER: Final = 2  # panels of each recipe: with one there is no scatter to judge by


class Model(Enum):
    """How a response scatters."""

    MEAN = "Student's t"
    COUNT = "Poisson rates with overdispersion"
    LENGTH = "least squares, scatter grows with the root of the mean"
    SHARE = "arcsine of the root of the share"
    YES_NO = "Fisher's exact test"


@dataclass(frozen=True, slots=True, kw_only=True)
class Scatter:
    """How much panels poured alike differ in one response, and what that rests on. In the response's unit."""

    sd: float
    df: int
    mean: float
    dispersion: float
    panels: int
    sources: tuple[str, ...]
    """Names of the series it rests on, newest last."""


def scatter_of(groups: Sequence[Sequence[float]], sources: Sequence[str], least_sd: float = 0.0) -> Scatter | None:
    """Scatter from panels poured alike, one group a recipe; None without repeats.

    The dispersion of counts is Pearson's statistic per degree of freedom, at least 1 (science: counts).
    """
    pooled = pooled_sd(groups)
    if pooled is None:
        return None
    repeated = [np.asarray(g, dtype=np.float64) for g in groups if len(g) > 1]
    pearson = sum(float(np.sum((g - g.mean()) ** 2) / g.mean()) for g in repeated if g.mean() > 0)
    df = sum(len(g) - 1 for g in repeated if g.mean() > 0)
    return Scatter(
        sd=max(pooled[0], least_sd),
        df=pooled[1],
        mean=float(np.mean(np.concatenate(repeated))),
        dispersion=max(1.0, pearson / df) if df else 1.0,
        panels=sum(len(g) for g in repeated),
        sources=tuple(dict.fromkeys(sources)),
    )


def _laws() -> Any:
    """Distribution functions, at the first question asked of them."""
    from scipy import special

    return special


@lru_cache(maxsize=1)
def _quantiles() -> tuple[Floats, Floats]:
    """Gauss-Legendre nodes on 0 to 1 and their weights: an eigenvalue problem, solved once."""
    nodes, weights = np.polynomial.legendre.leggauss(NODES)
    return (nodes + 1.0) / 2.0, weights / 2.0


@lru_cache(maxsize=256)
def _scatter_ratios(df: float) -> tuple[Floats, Floats]:
    """Estimated over true standard deviation, sqrt(chi2 / df), at Gauss-Legendre nodes of its quantile, with their weights."""
    quantiles, weights = _quantiles()
    return np.sqrt(2.0 * _laws().gammaincinv(df / 2.0, quantiles) / df), weights


def _t_power(shift: float, df: float, questions: int = 1) -> float:
    """Power of a two-sided t test whose statistic is shifted by so many standard errors: the noncentral t law.

    As the mean over the estimated scatter S of Phi(shift - t S) + Phi(-shift - t S); the library's own noncentral t gives
    no number for large shifts.
    """
    laws = _laws()
    edge = float(laws.stdtrit(df, _level(questions)))
    ratios, weights = _scatter_ratios(float(df))
    return float(np.dot(weights, laws.ndtr(shift - edge * ratios) + laws.ndtr(-shift - edge * ratios)))


def _level(questions: int) -> float:
    """Quantile at which one of several questions is judged: Holm's first step, which no answer has to pass worse."""
    return 1.0 - (1.0 - CONFIDENCE) / questions / 2.0


@lru_cache(maxsize=256)
def _edges(involved: int, recipes: int, nu: float, df: float, questions: int) -> Floats:
    """How many true standard errors a difference must be off to be called real, by the judge's own way, for each of many plays of the scatter.

    Each recipe's scatter is played with `nu` degrees of freedom, alike in truth; where Bartlett's test doubts that it is, each recipe of the
    contrast stands for itself (Satterthwaite), else all lend theirs. Shape (`PLAYS`,).
    """
    from dribbet.lab.verdict.laws import bartlett_p, doubt_from

    own = np.random.default_rng(PLAYS).chisquare(nu, (PLAYS, recipes)) / nu
    apart = own[:, :involved]
    free = apart.sum(1) ** 2 / (apart**2 / nu).sum(1)
    doubted = bartlett_p(own, np.full(recipes, nu)) < doubt_from(nu)
    level, stdtrit = _level(questions), _laws().stdtrit
    quantile = np.full(PLAYS, float(stdtrit(df, level)))
    quantile[doubted] = stdtrit(free[doubted], level)
    return np.asarray(quantile * np.sqrt(np.where(doubted, apart.mean(1), own.mean(1))), np.float64)


def _with_doubt(shift: float, df: float, panels_each: float, repeats: float | None, questions: int) -> float:
    """Power of the judge's t test, which lends scatter only where recipes seem to scatter alike: the mean over many plays of the scatter."""
    each = repeats or panels_each
    nu = max(each - 1.0, 0.5)
    if nu > SURE_NU:
        return _t_power(shift, df, questions)
    involved = max(round(2.0 * panels_each / each), 2)
    ndtr, edges = _laws().ndtr, _edges(involved, max(round(df / nu), involved), nu, float(df), questions)
    return float((ndtr(shift - edges) + ndtr(-shift - edges)).mean())


def power_of_means(difference: float, sd: float, panels_each: float, df: float, questions: int = 1, repeats: float | None = None) -> float:
    """Power of Student's t for a difference of two means with equal panels on each side, as one of so many questions.

    `repeats` is how many panels each recipe has, where several stand behind a level or lend their scatter; None: two recipes alone, and no doubt.
    """
    if sd <= 0.0:
        return 1.0 if difference else 0.0
    shift = abs(difference) / (sd * math.sqrt(2.0 / panels_each))
    return _t_power(shift, df, questions) if repeats is None else _with_doubt(shift, df, panels_each, repeats, questions)


def power_of_counts(first: float, second: float, panels_each: float, dispersion: float, df: float, questions: int = 1) -> float:
    """Power of comparing two rates per panel: negative binomial, `dispersion` being variance over mean at the first, with the judge's freedom."""
    excess = (max(dispersion, 1.0) - 1.0) / max(first, 1e-9)
    known, found = first + second, excess * (first**2 + second**2)
    if known <= 0.0:
        return 0.0
    unsure = max(found / (known + found), LEAST_UNSURE)
    return _t_power(abs(first - second) / math.sqrt((known + found) / panels_each), df / unsure**2, questions)


def power_of_lengths(
    first: float, second: float, panels_each: float, dispersion: float, df: float, questions: int = 1, repeats: float | None = None
) -> float:
    """Power of comparing two mean lengths, variance = dispersion x mean."""
    error = math.sqrt(max(dispersion, 1e-9) * max(first + second, 1e-9) / panels_each)
    return _with_doubt(abs(first - second) / error, df, panels_each, repeats, questions)


def power_of_shares(
    first: float, second: float, panels_each: float, sd: float, at: float, df: float, questions: int = 1, repeats: float | None = None
) -> float:
    """Power for two mean shares (0 to 1): on arcsin(sqrt p), where the scatter that was seen at one share holds at all."""
    at = min(max(at, 0.005), 0.995)
    scale = sd / (2.0 * math.sqrt(at * (1.0 - at)))
    a, b = (math.asin(math.sqrt(min(max(p, 0.0), 1.0))) for p in (first, second))
    return power_of_means(a - b, scale, panels_each, df, questions, repeats)


def power_of_yes_no(first: float, second: float, panels_each: int, questions: int = 1) -> float:
    """Power of Fisher's exact test for two chances, summed over every outcome."""
    n = panels_each
    laws = _laws()
    k = np.arange(n + 1)
    log_c = laws.gammaln(n + 1.0) - laws.gammaln(k + 1.0) - laws.gammaln(n - k + 1.0)

    def chance(p: float) -> Any:
        p = min(max(p, 1e-12), 1.0 - 1e-12)
        return np.exp(log_c + k * math.log(p) + (n - k) * math.log1p(-p))

    a, b = chance(first), chance(second)
    total = 0.0
    for i in k:
        for j in k:
            if a[i] * b[j] > 1e-9 and fisher_p(int(i), n, int(j), n) < (1.0 - CONFIDENCE) / questions:
                total += float(a[i] * b[j])
    return total


def _power(
    model: Model,
    base: float,
    difference: float,
    known: Scatter,
    each: float,
    df: float,
    factor: float,
    questions: int = 1,
    repeats: float | None = None,
) -> float:
    """Power for a difference from the base, both in the response's unit; `factor` turns shares of one into that unit."""
    if model is Model.COUNT:
        return power_of_counts(base, max(base + difference, 0.0), each, known.dispersion, df, questions)
    if model is Model.LENGTH:
        spread = known.sd**2 / max(base, 1e-9)  # as wide as panels poured alike were at the usual length
        return power_of_lengths(base, max(base + difference, 0.0), each, spread, df, questions, repeats)
    if model is Model.SHARE:
        return power_of_shares(base / factor, (base + difference) / factor, each, known.sd / factor, known.mean / factor, df, questions, repeats)
    if model is Model.YES_NO:
        return power_of_yes_no(base, min(max(base + difference, 0.0), 1.0), round(each), questions)
    return power_of_means(difference, known.sd, each, df, questions, repeats)


def can_show(
    model: Model,
    known: Scatter,
    panels_each: int,
    df: int,
    factor: float = 1.0,
    upward: bool = True,
    questions: int = 1,
    repeats: float | None = None,
) -> float | None:
    """Smallest difference from what is usual that a test shows four times in five, as one of so many questions; None where no difference does.

    Two recipes' means by the closed formula of science.md; all else by searching its own power.
    """
    if df < 1:
        return None
    if model is Model.MEAN and repeats is None:
        return smallest_difference(known.sd, panels_each, df, questions)
    base = known.mean
    far = known.sd * FARTHEST_SD
    ends = {
        Model.MEAN: far, Model.LENGTH: base + far, Model.COUNT: max(base, 1.0) * 40.0 + 50.0, Model.SHARE: factor - base,
        Model.YES_NO: 1.0 - base,
    }  # fmt: skip
    top = ends[model] if upward or model is Model.MEAN else base
    sign = 1.0 if upward else -1.0
    if model is Model.SHARE and top <= 0.02 * factor:  # hardly any room above: look below
        sign, top = -sign, base if upward else factor - base

    def power(size: float) -> float:
        return _power(model, base, sign * size, known, panels_each, df, factor, questions, repeats)

    if power(top) < POWER:
        return None
    low, high = 0.0, top
    for _ in range(30):
        middle = (low + high) / 2.0
        low, high = (low, middle) if power(middle) >= POWER else (middle, high)
    return high


def panels_needed(power: Callable[[int], float], wanted_power: float = POWER, most: int = MOST_PANELS) -> int | None:
    """Fewest panels of each recipe at which the power is reached, which grows with them; None beyond `most`."""
    if power(most) < wanted_power:
        return None
    few, enough = NO_FEWER - 1, NO_FEWER
    while enough < most and power(enough) < wanted_power:
        few, enough = enough, min(2 * enough, most)
    while enough - few > 1:
        middle = (few + enough) // 2
        few, enough = (few, middle) if power(middle) >= wanted_power else (middle, enough)
    return enough


def repeats_for(
    model: Model,
    known: Scatter,
    difference: float,
    recipes: int,
    behind_level: float,
    factor: float = 1.0,
    wanted_power: float = POWER,
    most: int = 60,
    questions: int = 1,
) -> int | None:
    """Repeats of each recipe that show a wanted difference.

    Parameters
    ----------
    difference : float
        In the response's unit, with its sign.
    recipes : int
        How many recipes share the scatter.
    behind_level : float
        How many recipes stand behind each level that is compared.
    questions : int
        How many answers the test gives in all; each is judged beside the others.
    """
    return panels_needed(
        lambda n: _power(model, known.mean, difference, known, n * behind_level, max(recipes * (n - 1), 1), factor, questions, n), wanted_power, most
    )
