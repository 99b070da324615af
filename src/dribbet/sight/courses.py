"""How thin lines run: film breaks in short straight steps and sharp turns, a hair or a thread of paint bends evenly.

Lines are followed from end to end and softened a little, so that the steps of pixels are none of the line's own.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

import numpy as np
from scipy.sparse import coo_array
from scipy.sparse.csgraph import dijkstra

if TYPE_CHECKING:
    import numpy.typing as npt

    from dribbet.sight.arrays import Mask

    Floats = npt.NDArray[np.float64]
    Ints = npt.NDArray[np.int64]

STEPS_MM: Final = (0.5, 1.0, 2.0)
"""Lengths of the two arms between which a turn is told: short ones tell ragged rims, long ones where a line is going."""
SOFT: Final = 0.4  # of a step to either side a line is softened over
WINDOW: Final = 2.0  # steps to either side over which turns go one way, or do not
BY_STEP: Final = 3
BY_TURN: Final = BY_STEP * len(STEPS_MM)
APART: Final = 1e5  # px between two lines, so that nothing reaches from one to the next


def bends(labels: npt.NDArray[np.integer], k: float) -> Floats:
    """How lines bend.

    Parameters
    ----------
    labels : int array, shape (rows, columns)
        Lines one pixel wide and without junctions, numbered from 1.
    k : float
        px/mm.

    Returns
    -------
    ndarray, shape (lines, `BY_TURN`)
        For each of `STEPS_MM`: how much it turns on a mm (radians), by how much turns a step apart differ (radians on a mm), and the share of
        its turning that goes one way. Nought of a line that is not as long as two steps.
    """
    rows, columns, which, away = _followed(labels)
    count = int(labels.max(initial=0))
    turning = np.zeros((count, BY_TURN))
    if count == 0:
        return turning
    along = which * APART + away
    length = np.zeros(count)
    np.maximum.at(length, which, away)
    places = np.stack([rows, columns], axis=1).astype(np.float64)
    begin = np.asarray(which * APART, np.float64)
    end = begin + length[which]
    for s, step in enumerate(STEPS_MM):
        arm = step * k
        soft = _averaged(along, places, SOFT * arm, begin, end)
        here, back, on = (np.stack([np.interp(along + by, along, soft[:, c]) for c in (0, 1)], axis=1) for by in (0.0, -arm, arm))
        a, b = here - back, on - here
        turn = np.arctan2(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0], (a * b).sum(axis=1))
        told = (away >= arm) & (away <= length[which] - arm)
        turn[~told] = 0.0
        further = told & (away <= length[which] - 2 * arm)
        change = np.abs(np.interp(along + arm, along, turn) - turn)
        one_way = np.abs(_averaged(along, turn[:, None], WINDOW * arm, begin + arm, end - arm)[:, 0])
        mean = _share(which, np.abs(turn), told, count)
        turning[:, BY_STEP * s] = mean / step
        turning[:, BY_STEP * s + 1] = _share(which, change, further, count) / step
        turning[:, BY_STEP * s + 2] = _share(which, one_way, told, count) / np.maximum(mean, 1e-9)
    return turning


def _share(which: Ints, values: Floats, these: Mask, count: int) -> Floats:
    """Mean over some of each line's places."""
    total, n = (np.bincount(which[these], w, minlength=count) for w in (values[these], None))
    return np.asarray(total / np.maximum(n, 1), np.float64)


def _averaged(along: Floats, values: Floats, reach: float, begin: Floats, end: Floats) -> Floats:
    """Moving mean of (n, m) `values` over `reach` to either side, as far as the line goes and the same to both sides; along is in order."""
    half = np.clip(np.minimum(along - begin, end - along), 0.0, reach)
    low, high = np.searchsorted(along, along - half - 1e-6), np.searchsorted(along, along + half + 1e-6)
    total = np.concatenate([np.zeros((1, values.shape[1])), np.cumsum(values, axis=0)])
    return np.asarray((total[high] - total[low]) / np.maximum(high - low, 1)[:, None], np.float64)


def _followed(labels: npt.NDArray[np.integer]) -> tuple[Ints, Ints, Ints, Floats]:
    """Places of all lines in order, one line after the other: row, column, line from 0, and how far along it, px."""
    rows, columns = np.nonzero(labels)
    if not len(rows):
        return rows, columns, rows, np.zeros(0)
    which = labels[rows, columns].astype(np.int64) - 1
    begin, finish, cost = _links(rows, columns, which)
    degree = np.bincount(np.concatenate([begin, finish]), minlength=len(rows))
    # A line begins where fewest places touch; a ring is opened there.
    order = np.lexsort((degree, which))
    start = order[np.unique(which[order], return_index=True)[1]]
    shut = np.zeros(len(begin), bool)
    for place in start[degree[start] > 1]:
        shut[np.flatnonzero((begin == place) | (finish == place))[1:]] = True
    graph = coo_array((cost[~shut], (begin[~shut], finish[~shut])), shape=(len(rows), len(rows))).tocsr()
    away = np.asarray(dijkstra(graph, directed=False, indices=start, min_only=True), np.float64)
    there = np.isfinite(away)
    order = np.lexsort((away, which))
    order = order[there[order]]
    return rows[order], columns[order], which[order], away[order]


def _links(rows: Ints, columns: Ints, which: Ints) -> tuple[Ints, Ints, Floats]:
    """Places of one line that touch, of places in reading order: both, and how far apart they are in px."""
    wide = int(columns.max()) + 3  # no place has a neighbour round the edge
    place = rows * wide + columns
    pairs = []
    for down, right, cost in ((0, 1, 1.0), (1, 0, 1.0), (1, 1, 2**0.5), (1, -1, 2**0.5)):
        beside = place + down * wide + right
        there = np.minimum(np.searchsorted(place, beside), len(place) - 1)
        both = np.flatnonzero((place[there] == beside) & (which[there] == which))
        pairs.append((both, there[both], np.full(len(both), cost)))
    begin, finish, cost_ = (np.concatenate(p) for p in zip(*pairs, strict=True))
    return begin, finish, cost_
