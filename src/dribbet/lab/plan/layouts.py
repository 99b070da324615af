"""Which recipes of all possible ones a test pours: every combination, a chosen part, centre points, blocks, regions of a panel.

Two-level fractions and reduced mixed-level designs come from pydoe; the tables below only say which of its words to use.
"""

from __future__ import annotations

import math
from functools import lru_cache
from itertools import product
from typing import TYPE_CHECKING, Final

import numpy as np

from dribbet.records import BETWEEN, Design, DribbetError, Layout

if TYPE_CHECKING:
    from collections.abc import Sequence

# Generators by factors and halvings, of highest resolution (Box, Hunter and Hunter; Montgomery, table of 2^(k-p) designs).
GENERATORS: Final = {
    (3, 1): "a b ab",
    (4, 1): "a b c abc",
    (5, 1): "a b c d abcd",
    (5, 2): "a b c ab ac",
}
RESOLUTION: Final = {(3, 1): 3, (4, 1): 4, (5, 1): 5, (5, 2): 3}
QUARTERED_FROM: Final = 24  # recipes of unlike numbers of levels from which a quarter still covers every level
REGIONS_MOST: Final = 8

Settings = tuple[int, ...]


def every(levels: Sequence[int]) -> list[Settings]:
    """Every combination of level numbers; the first factor runs fastest."""
    return [tuple(reversed(row)) for row in product(*(range(n) for n in reversed(levels)))]


def most_halvings(levels: Sequence[int]) -> int:
    """How often a design of these levels can be halved; 0 where it cannot."""
    if len(levels) < 2:
        return 0
    if all(n == 2 for n in levels):
        return max((p for k, p in GENERATORS if k == len(levels)), default=0)
    if len(levels) < 3:  # half of two factors with several levels leaves the two moving together
        return 0
    return 2 if math.prod(levels) >= QUARTERED_FROM else 1


def fraction(levels: Sequence[int], halvings: int) -> list[Settings]:
    """Choose a part of all combinations in which as much as possible can still be told apart.

    Raises
    ------
    DribbetError
        If these levels cannot be halved so often.
    """
    if halvings > most_halvings(levels):
        raise DribbetError("So few recipes cannot be halved. Pour every combination, or test one thing more.")
    chosen = _chosen(tuple(levels), halvings)
    return [row for row in every(levels) if row in chosen]


@lru_cache(maxsize=64)
def _chosen(levels: tuple[int, ...], halvings: int) -> frozenset[Settings]:
    import pydoe  # a second to import: only where a part is chosen

    if all(n == 2 for n in levels):
        coded = np.asarray(pydoe.fracfact(GENERATORS[len(levels), halvings]))
        return frozenset(tuple(int(v > 0) for v in row) for row in coded)
    return frozenset(tuple(int(v) for v in row) for row in np.asarray(pydoe.gsd(list(levels), 2**halvings)))


def recipes(levels: Sequence[int], layout: Layout) -> list[Settings]:
    """Settings of every recipe of a layout, centre point last."""
    chosen = fraction(levels, layout.halvings) if layout.design is Design.FRACTION else every(levels)
    return [*chosen, (BETWEEN,) * len(levels)] if layout.centre_points else chosen


def regions(count: int, width_m: float, height_m: float) -> list[tuple[float, float, float, float]]:
    """Parts of one panel, side by side along its longer side, two rows from four on: left, top, right, bottom as shares.

    Raises
    ------
    DribbetError
        If there are more than `REGIONS_MOST`.
    """
    if count > REGIONS_MOST:
        raise DribbetError(f"{count} recipes do not fit side by side on one panel. Pour at most {REGIONS_MOST}, or give each its own panel.")
    rows = 2 if count >= 4 else 1
    columns = math.ceil(count / rows)
    made = []
    for i in range(count):
        row, column = divmod(i, columns)
        box = (column / columns, row / rows, (column + 1) / columns, (row + 1) / rows)
        made.append(box if width_m >= height_m else (box[1], box[0], box[3], box[2]))
    return made


def left_out_share(boxes: Sequence[tuple[float, float, float, float]], width_m: float, height_m: float, strip_m: float) -> float:
    """Share of the panel that the strips along shared borders take out of the measuring."""
    kept = sum((r - x) * (b - t) for x, t, r, b in (inner(box, width_m, height_m, strip_m) for box in boxes))
    return 1.0 - kept


def inner(box: Sequence[float], width_m: float, height_m: float, strip_m: float) -> tuple[float, float, float, float]:
    """Part of a region that is measured: without the strip on the sides where a neighbour lies."""
    x, y = strip_m / width_m, strip_m / height_m
    left, top, right, bottom = box
    return (
        left + x if left > 0 else left,
        top + y if top > 0 else top,
        right - x if right < 1 else right,
        bottom - y if bottom < 1 else bottom,
    )


def neighbours(boxes: Sequence[Sequence[float]]) -> list[tuple[int, int]]:
    """Pairs of regions that share a border."""

    def touch(a: Sequence[float], b: Sequence[float]) -> bool:
        across = math.isclose(a[2], b[0]) or math.isclose(b[2], a[0])
        down = math.isclose(a[3], b[1]) or math.isclose(b[3], a[1])
        overlaps_y = min(a[3], b[3]) - max(a[1], b[1]) > 1e-9
        overlaps_x = min(a[2], b[2]) - max(a[0], b[0]) > 1e-9
        return (across and overlaps_y) or (down and overlaps_x)

    return [(i, j) for i in range(len(boxes)) for j in range(i + 1, len(boxes)) if touch(boxes[i], boxes[j])]


def pouring_order(blocks: Sequence[int], seed: int) -> tuple[int, ...]:
    """Places drawn by lot from a stored seed, block after block: entry i is when panel i is poured, from 1."""
    rng = np.random.default_rng(seed)
    places = np.empty(len(blocks), dtype=int)
    at = 1
    for block in sorted(set(blocks)):
        mine = np.flatnonzero(np.asarray(blocks) == block)
        places[mine[rng.permutation(len(mine))]] = np.arange(at, at + len(mine))
        at += len(mine)
    return tuple(int(p) for p in places)


def rack_places(count: int, seed: int) -> tuple[int, ...]:
    """Places on the drying rack drawn by lot, apart from the pouring order."""
    return tuple(int(p) + 1 for p in np.random.default_rng(seed + 1).permutation(count))
