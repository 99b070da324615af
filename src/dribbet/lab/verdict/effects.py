"""Effects and analysis of variance by ordinary least squares (science: what a test shows)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from decimal import Decimal
from itertools import combinations
from typing import TYPE_CHECKING, Final

import numpy as np
from scipy.special import fdtrc, stdtr, stdtrit

from dribbet.records import DribbetError

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    import numpy.typing as npt

    Floats = npt.NDArray[np.float64]

CONFIDENCE: Final = 0.95


class EffectsError(DribbetError):
    """Runs that no effect can be computed from."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Term:
    """A two-level factor or an interaction of some: effect, interval and p; None where no error can be given."""

    term: str
    effect: float
    low: float | None
    high: float | None
    p: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Anova:
    """Analysis of variance between the settings that were run."""

    ss_between: float
    ms_between: float
    df_between: int
    ss_within: float
    ms_within: float | None
    df_within: int
    f: float | None
    p: float | None
    r_squared: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Effects:
    """What the runs show; residual figures are those of repeats alone."""

    n: int
    residual_df: int
    residual_sd: float | None
    terms: tuple[Term, ...]
    anova: Anova


def sorted_levels(column: Sequence[str]) -> list[str]:
    """Levels in sorted order; numbers as numbers."""
    levels = set(column)
    try:
        return sorted(levels, key=float)
    except ValueError:
        return sorted(levels)


def _shifted(response: Floats) -> Floats:
    """Differences from the middle run, of the shortest decimals that stand for each value."""
    zero = Decimal(repr(float(response[len(response) // 2])))
    return np.array([float(Decimal(repr(float(v))) - zero) for v in response])


def anova(response: Floats, cells: Sequence[object]) -> Anova:
    """One-way analysis of variance.

    Parameters
    ----------
    response : ndarray, shape (n,)
        Finite values. They are taken as the decimals that were typed, shifted by one of them and centred, so that large
        common offsets cost no digits (NIST's hardest sets differ in the thirteenth digit, where binary fractions no
        longer hold a tenth).
    cells : sequence, length n
        The setting of each run.
    """
    y = _shifted(response)
    y = y - math.fsum(y) / len(y)
    groups: dict[object, list[int]] = {}
    for i, cell in enumerate(cells):
        groups.setdefault(cell, []).append(i)
    within: list[float] = []
    between: list[float] = []
    for rows in groups.values():
        members = y[rows]
        mean = math.fsum(members) / len(rows)
        between.append(len(rows) * mean * mean)
        deviations = members - mean
        deviations -= math.fsum(deviations) / len(rows)
        within.extend(deviations * deviations)
    ss_b, ss_w = math.fsum(between), math.fsum(within)
    df_b, df_w = len(groups) - 1, len(y) - len(groups)
    ms_b = ss_b / df_b if df_b else 0.0
    ms_w = ss_w / df_w if df_w else None
    f = p = None
    if ms_w is not None and df_b and ms_w > 0.0:
        f = ms_b / ms_w
        p = float(fdtrc(df_b, df_w, f))
    total = ss_b + ss_w
    return Anova(
        ss_between=ss_b,
        ms_between=ms_b,
        df_between=df_b,
        ss_within=ss_w,
        ms_within=ms_w,
        df_within=df_w,
        f=f,
        p=p,
        r_squared=ss_b / total if total > 0.0 else None,
    )


def effects(response: Floats, factors: Mapping[str, Sequence[str]], *, interactions: bool = False) -> Effects:
    """Effects of two-level factors with intervals from the scatter of repeats, and the analysis of variance.

    Parameters
    ----------
    response : ndarray, shape (n,)
        One value per run.
    factors : mapping of name to n levels
        Levels as they stand in the table.
    interactions : bool
        Add all two-factor interactions.

    Raises
    ------
    EffectsError
        If there are too few runs, a value is not finite, or two columns of the design always move together.

    Notes
    -----
    A two-level factor is coded -1/2, +1/2 in sorted order, so its coefficient is mean(high) - mean(low) in an orthogonal
    design and the adjusted difference otherwise. Solved with statsmodels' OLS on the centred response; the error is the
    pooled variance of repeats, with Student's t.
    """
    y = np.asarray(response, dtype=np.float64)
    if y.size < 2 or not np.all(np.isfinite(y)):
        raise EffectsError("The response needs at least two runs with ordinary numbers in it. Fill the gaps or leave those rows out.")
    cells = list(zip(*factors.values(), strict=True))
    table = anova(y, cells)
    sd = None if table.ms_within is None else math.sqrt(table.ms_within)
    coded: dict[str, Floats] = {}
    others: list[Floats] = []
    for name, column in factors.items():
        levels = sorted_levels(column)
        if len(levels) < 2:
            raise EffectsError(f"{name} has the same level in every run, so it has no effect to show. Leave it out of --factors.")
        if len(levels) == 2:
            coded[name] = np.array([0.5 if v == levels[1] else -0.5 for v in column])
        else:
            others.extend(np.array([float(v == level) for v in column]) for level in levels[1:])
    if interactions:
        for a, b in combinations(list(coded), 2):
            coded[f"{a}:{b}"] = coded[a] * coded[b] * 2.0
    if not coded or (len(factors) == 1 and others):
        return Effects(n=y.size, residual_df=table.df_within, residual_sd=sd, terms=(), anova=table)
    design = np.column_stack([np.ones(y.size), *coded.values(), *others])
    if np.linalg.matrix_rank(design) < design.shape[1]:
        raise EffectsError(f"{_together(coded)} Add runs in which they differ, or leave one out of --factors.")
    import statsmodels.api as sm  # seconds to import: only when it is needed

    fit = sm.OLS(_shifted(y) - np.mean(_shifted(y)), design).fit()
    inverse = np.linalg.inv(design.T @ design)
    terms = []
    for i, name in enumerate(coded, start=1):
        effect = float(fit.params[i])
        low = high = p = None
        if sd is not None and table.df_within > 0:
            error = sd * math.sqrt(inverse[i, i])
            reach = float(stdtrit(table.df_within, 0.5 + CONFIDENCE / 2.0)) * error
            low, high = effect - reach, effect + reach
            p = float(2.0 * stdtr(table.df_within, -abs(effect) / error)) if error > 0.0 else None
        terms.append(Term(term=name, effect=effect, low=low, high=high, p=p))
    return Effects(n=y.size, residual_df=table.df_within, residual_sd=sd, terms=tuple(terms), anova=table)


def _together(coded: Mapping[str, Floats]) -> str:
    for a, b in combinations(coded, 2):
        if abs(float(np.corrcoef(coded[a], coded[b])[0, 1])) > 0.999:
            return f"{a} and {b} always move together, so their effects cannot be told apart."
    return "Some of these factors move together, so their effects cannot be told apart."
