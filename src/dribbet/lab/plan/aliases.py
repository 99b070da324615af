"""Which effects of a design can no longer be told apart, and the fewest further recipes that part them again.

A term is a thing varied, or two of them working together. Its columns are centred contrasts; two terms are mixed up as far as
their columns span the same directions (largest canonical correlation): > 0.999 fully, > 0.3 partly (science: confounded).
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations
from typing import TYPE_CHECKING, Final

import numpy as np

if TYPE_CHECKING:
    from collections.abc import Sequence

    import numpy.typing as npt

    Floats = npt.NDArray[np.float64]

FULL: Final = 0.999
PARTIAL: Final = 0.3
MOST_EXTRA: Final = 8

Term = tuple[int, ...]
"""One thing varied, (i,), or two of them together, (i, j)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Alias:
    """Two terms that move together."""

    first: Term
    second: Term
    strength: float

    @property
    def full(self) -> bool:
        """Whether nothing tells them apart."""
        return self.strength > FULL


def _main(rows: Floats, which: int, levels: int) -> Floats:
    """Contrast columns of one factor; halfway (-1) counts as the middle of its levels."""
    at = rows[:, which]
    if levels == 2:
        return np.where(at < 0, 0.0, 2.0 * at - 1.0)[:, None]
    column = np.zeros((len(rows), levels - 1))
    for j in range(1, levels):
        column[:, j - 1] = np.where(at < 0, 1.0 / levels, (at == j).astype(float))
    return column - 1.0 / levels


def columns(rows: Sequence[Sequence[int]], levels: Sequence[int], term: Term) -> Floats:
    """Contrasts of a term over the recipes, centred; shape (recipes, degrees of freedom)."""
    table = np.asarray(rows, dtype=np.float64)
    first = _main(table, term[0], levels[term[0]])
    if len(term) == 2:
        second = _main(table, term[1], levels[term[1]])
        first = np.einsum("ni,nj->nij", first, second).reshape(len(table), -1)
    centred: Floats = first - first.mean(axis=0)
    return centred


def _span(matrix: Floats) -> Floats:
    """Orthonormal directions that the columns span."""
    u, s, _ = np.linalg.svd(matrix, full_matrices=False)
    return np.asarray(u[:, s > 1e-9 * max(s.max(initial=0.0), 1.0)], dtype=np.float64)


def terms(factors: int) -> list[Term]:
    """All things varied, then all pairs."""
    return [(i,) for i in range(factors)] + list(combinations(range(factors), 2))


def aliases(rows: Sequence[Sequence[int]], levels: Sequence[int], least: float = PARTIAL) -> list[Alias]:
    """Pairs of terms that move together, strongest and simplest first.

    Parameters
    ----------
    rows : sequence of settings
        One per recipe.
    levels : sequence of int
        How many levels each factor has.
    least : float
        Weakest correlation that is reported.
    """
    return list(_aliases(tuple(tuple(r) for r in rows), tuple(levels), least))


@lru_cache(maxsize=64)  # asked again with each change of a level, which moves no column
def _aliases(rows: tuple[tuple[int, ...], ...], levels: tuple[int, ...], least: float) -> tuple[Alias, ...]:
    if len(rows) < 2:
        return ()
    spans = {t: _span(columns(rows, levels, t)) for t in terms(len(levels))}
    found = []
    for a, b in combinations(spans, 2):
        if not spans[a].shape[1] or not spans[b].shape[1]:
            continue
        strength = float(np.linalg.svd(spans[a].T @ spans[b], compute_uv=False).max())
        if strength > least:
            found.append(Alias(first=a, second=b, strength=strength))
    return tuple(sorted(found, key=lambda x: (len(x.first) + len(x.second), -round(x.strength, 6), x.first, x.second)))


def resolution(rows: Sequence[Sequence[int]], levels: Sequence[int]) -> int:
    """Resolution as far as pairs tell it: III a main effect with a pair, IV pairs with each other, V (or more) neither."""
    found = [a for a in aliases(rows, levels) if a.full]
    if any(len(a.first) == 1 and len(a.second) == 1 for a in found):
        return 2
    if any(len(a.first) == 1 for a in found):
        return 3
    return 4 if found else 5


def _told_apart(rows: Sequence[Sequence[int]], levels: Sequence[int], wanted: Sequence[Term]) -> tuple[int, float]:
    """Degrees of freedom of the wanted terms that the recipes can tell apart, and how well (log of what they span)."""
    matrix = np.concatenate([columns(rows, levels, t) for t in wanted], axis=1)
    s = np.linalg.svd(matrix, compute_uv=False)
    kept = s[s > 1e-9]
    return len(kept), float(np.log(kept).sum())


def fewest_extra(
    rows: Sequence[Sequence[int]], candidates: Sequence[Sequence[int]], levels: Sequence[int], wanted: Sequence[Term]
) -> list[tuple[int, ...]]:
    """Fewest further recipes after which all wanted terms can be told apart; greedy, best next one first.

    Every added recipe adds at most one direction, so no smaller number than the missing directions can do; the greedy
    choice reaches that number whenever the candidates allow it (the directions of a matrix form a matroid).

    Parameters
    ----------
    rows, candidates : sequences of settings
        What is poured, and what could be.
    levels : sequence of int
        How many levels each factor has.
    wanted : sequence of terms
        What should be told apart from each other.
    """
    have = [tuple(r) for r in rows]
    full = sum(columns(have, levels, t).shape[1] for t in wanted)
    added: list[tuple[int, ...]] = []
    left = [tuple(c) for c in candidates if tuple(c) not in have]
    known, _ = _told_apart(have, levels, wanted)
    while known < full and left and len(added) < MOST_EXTRA:
        best = max(left, key=lambda c: _told_apart([*have, *added, c], levels, wanted))
        now, _ = _told_apart([*have, *added, best], levels, wanted)
        if now <= known:
            break
        known = now
        added.append(best)
        left.remove(best)
    return added
