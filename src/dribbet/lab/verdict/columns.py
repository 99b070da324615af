"""A test as a matrix: factors coded so that every effect is a mean over all others, blocks and what moved along beside them.

Every factor is coded in deviations (its columns sum to zero over its levels), so a factor's coefficients compare marginal means: a main effect is
the mean over the levels of all other factors, whether they matter or not (Yates 1934; Searle, *Linear Models*, 1971).
"""

from __future__ import annotations

from dataclasses import dataclass
from itertools import combinations
from typing import TYPE_CHECKING, Final

import numpy as np

from dribbet.lab.verdict.effects import sorted_levels

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    import numpy.typing as npt

    Floats = npt.NDArray[np.float64]

MIDDLE: Final = "\0middle"
"""Level of a panel that stands halfway between all levels of a factor (centre points); it is no level of its own."""
LEAST_DF: Final = 2
"""Degrees of freedom that must be left before a product of two factors is taken into the model."""
TOLERANCE: Final = 1e-8


@dataclass(frozen=True, slots=True)
class Contrast:
    """One question: what is compared, and its weights on the columns."""

    what: str
    first: str
    """Level whose mean is taken first; empty for a product of two factors."""
    second: str
    factors: tuple[str, ...]
    weights: Floats


@dataclass(frozen=True, slots=True)
class Columns:
    """Model matrix of some panels, and what is asked of it."""

    x: Floats
    contrasts: tuple[Contrast, ...]
    cells: npt.NDArray[np.intp]
    """Number of the recipe that each panel is of: all factors at the same levels."""
    shared: bool = False
    """Whether blocks or covariates stand in it, too: panels of one recipe differ by them as well."""

    @property
    def rank(self) -> int:
        """Independent columns."""
        return int(np.linalg.matrix_rank(self.x))

    def tells(self, weights: Floats) -> bool:
        """Whether a contrast follows from the panels at all: its weights lie in the rows of the matrix."""
        solved = np.linalg.lstsq(self.x.T, weights, rcond=None)[0]
        return bool(np.abs(self.x.T @ solved - weights).max() < TOLERANCE)


def _table(count: int) -> Floats:
    """Rows of a factor's levels: 1 at each one's own column, -1 throughout at the last."""
    return np.vstack([np.eye(count - 1), -np.ones(count - 1)])


def deviations(levels: Sequence[str], column: Sequence[str]) -> Floats:
    """Columns (n, levels - 1) of a factor: 1 at its own level, -1 at the last, 0 elsewhere and halfway."""
    at = {level: i for i, level in enumerate([*levels, MIDDLE])}
    table = np.vstack([_table(len(levels)), np.zeros(len(levels) - 1)])
    return np.asarray(table[[at[v] for v in column]], np.float64)


def numbered(*columns: Sequence[object]) -> npt.NDArray[np.intp]:
    """Number of each row's combination of values, from 0 in the order in which they come."""
    known: dict[tuple[object, ...], int] = {}
    return np.array([known.setdefault(row, len(known)) for row in zip(*columns, strict=True)], np.intp)


def columns_of(
    factors: Mapping[str, Sequence[str]], *, blocks: Sequence[Sequence[object]] = (), covariates: Mapping[str, Sequence[float]] | None = None
) -> Columns:
    """Model of some panels: mean, factors, blocks, covariates, and each product of two factors that the panels can tell.

    Parameters
    ----------
    factors : mapping of name to n levels
        At least one of them with two levels or more.
    blocks : sequences of n labels
        What panels share without being asked: days, sheets.
    covariates : mapping of name to n values
        What moved along; centred here.
    """
    n = len(next(iter(factors.values())))
    levels = {name: sorted_levels([v for v in column if v != MIDDLE]) for name, column in factors.items()}
    coded = {name: deviations(levels[name], column) for name, column in factors.items() if len(levels[name]) > 1}
    parts: list[tuple[tuple[str, ...], Floats]] = [((), np.ones((n, 1))), *(((name,), part) for name, part in coded.items())]
    middle = np.array([all(v == MIDDLE for v in row) for row in zip(*factors.values(), strict=True)], np.float64)
    if 0.0 < middle.sum() < n:  # a response that bends lies otherwise in the middle than the ends' mean
        parts.append((("",), middle[:, None]))
    shared = False
    for labels in blocks:
        known = sorted_levels([str(v) for v in labels])
        if len(known) > 1:
            parts.append((("",), deviations(known, [str(v) for v in labels])))
            shared = True
    for values in (covariates or {}).values():
        centred = np.asarray(values, np.float64) - np.mean(values)
        if np.ptp(centred) > 0.0:
            shared = True
            parts.append((("",), (centred / np.ptp(centred))[:, None]))
    x = np.hstack([part for _, part in parts])
    rank = int(np.linalg.matrix_rank(x))
    for a, b in combinations(coded, 2):
        product = np.einsum("ij,ik->ijk", coded[a], coded[b]).reshape(n, -1)
        wider = np.hstack([x, product])
        more = int(np.linalg.matrix_rank(wider))
        if more == rank + product.shape[1] and n - more >= LEAST_DF:
            parts.append(((a, b), product))
            x, rank = wider, more
    return Columns(x=x, contrasts=tuple(_contrasts(parts, levels)), cells=numbered(*factors.values()), shared=shared)


def _contrasts(parts: Sequence[tuple[tuple[str, ...], Floats]], levels: Mapping[str, list[str]]) -> list[Contrast]:
    width = sum(part.shape[1] for _, part in parts)
    found, at = [], 0
    for names, part in parts:
        here = slice(at, at + part.shape[1])
        at += part.shape[1]
        if len(names) == 1 and names[0]:
            found += _pairs(names[0], levels[names[0]], here, width)
        elif len(names) == 2:
            found += _products(names, levels, here, width)
    return found


def _pairs(name: str, levels: list[str], here: slice, width: int) -> list[Contrast]:
    table = _table(len(levels))
    if len(levels) == 2:  # high minus low
        pairs = [(1, 0, name)]
    else:
        pairs = [(i, j, f"{name} {levels[i]} - {levels[j]}") for i, j in combinations(range(len(levels)), 2)]
    made = []
    for i, j, what in pairs:
        weights = np.zeros(width)
        weights[here] = table[i] - table[j]
        made.append(Contrast(what, levels[i], levels[j], (name,), weights))
    return made


def _products(names: tuple[str, ...], levels: Mapping[str, list[str]], here: slice, width: int) -> list[Contrast]:
    """Half the difference of a difference: how much more the first factor does at the second's high level than on the mean."""
    a, b = names
    weights = np.zeros(width)
    if len(levels[a]) == len(levels[b]) == 2:
        weights[here] = 2.0
        return [Contrast(f"{a}:{b}", "", "", (a, b), weights)]
    made = []
    ta, tb = (_table(len(levels[f])) for f in names)
    for (i, j), (k, m) in ((p, q) for p in combinations(range(len(levels[a])), 2) for q in combinations(range(len(levels[b])), 2)):
        each = weights.copy()
        each[here] = np.outer(ta[i] - ta[j], tb[k] - tb[m]).ravel() / 2.0
        made.append(Contrast(f"{a}:{b} {levels[a][i]} - {levels[a][j]}, {levels[b][k]} - {levels[b][m]}", "", "", (a, b), each))
    return made
