"""How a panel's cells lie to each other: gaps, clusters and chains of those that touch, and the direction in which they are drawn out.

From outlines alone, at the reading; where a person takes cells or zones out later it is no longer said (a tenth of a second for 200 cells is too
long for the window's thread).
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Final

import cv2
import numpy as np

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    import numpy.typing as npt

    Floats = npt.NDArray[np.float64]

TOUCHING_MM: Final = 0.4  # as the reader counts two cells as touching
STEP_MM: Final = 0.3  # between points of an outline
AROUND: Final = 16  # points round each point, among which another rim is looked for: 2 mm of its own to either side
FEWEST_IN_CLUSTER: Final = 3
CHAIN: Final = 3.0  # a cluster so many times as long as wide is a chain
CHAINED: Final = 4  # and holds at least so many cells
SURE: Final = 0.05
STRONG: Final = 0.05  # weaker than this, all cells are nearly round


def arrangement(outlines_mm: Sequence[Sequence[Sequence[float]]]) -> dict[str, Any]:
    """How cells lie to each other.

    Parameters
    ----------
    outlines_mm : sequence of outlines
        One closed line of (x, y) for each cell, y downwards.

    Returns
    -------
    dict
        `gap_mm` the median distance of a rim to the nearest other (None with fewer than two cells); `clusters` of three and more that touch;
        `largest_cluster` in cells; `chained_fraction` of all cells that lie in chains; `direction_deg` in which they are drawn out, 0 to the right
        and 90 upwards, 0 <= d < 180, and `direction_strength` from 0 (every way) to 1 (all one way, long): axial mean of the main axes, each
        with the weight (a - b) / (a + b) of its standard deviations along and across (Mardia and Jupp 2000, 1.4); `direction_p` by
        Rayleigh's test with those weights, at most 0.05 where a
        direction may be named. Nones where there are no cells.
    """
    dense = [d for line in outlines_mm if len(line) > 2 and len(d := _dense(line))]
    if not dense:
        return {"gap_mm": None, "clusters": 0, "largest_cluster": 0, "chained_fraction": 0.0,
                "direction_deg": None, "direction_strength": 0.0, "direction_p": None}  # fmt: skip
    gaps, pairs = _gaps(dense)
    groups = _groups(len(dense), pairs)
    centres = np.array([d.mean(axis=0) for d in dense])
    chained = sum(len(g) for g in groups if len(g) >= CHAINED and _long(np.concatenate([dense[i] for i in g])) >= CHAIN)
    mean, strength, p = _direction(dense)
    return {
        "gap_mm": round(float(np.median(gaps)), 2) if len(centres) > 1 else None,
        "clusters": sum(len(g) >= FEWEST_IN_CLUSTER for g in groups),
        "largest_cluster": max(len(g) for g in groups),
        "chained_fraction": round(chained / len(dense), 3),
        "direction_deg": round(mean, 1),
        "direction_strength": round(strength, 3),
        "direction_p": round(p, 4),
    }


def named_direction(told: Mapping[str, Any]) -> float | None:
    """Direction in degrees where one may be named; None else."""
    p = told.get("direction_p")
    return told["direction_deg"] if p is not None and p <= SURE and told["direction_strength"] >= STRONG else None


def _dense(line: Sequence[Sequence[float]]) -> Floats:
    """Points every `STEP_MM` along a closed outline."""
    corners = np.asarray([*line, line[0]], np.float64)
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(corners, axis=0).T))])
    places = np.linspace(0.0, along[-1], max(int(np.ceil(along[-1] / STEP_MM)), 8), endpoint=False)
    return np.stack([np.interp(places, along, corners[:, i]) for i in (0, 1)], axis=1)


def _gaps(dense: Sequence[Floats]) -> tuple[Floats, list[tuple[int, int]]]:
    """Distance of each rim to the nearest other one, and the pairs that touch."""
    from scipy.spatial import cKDTree

    points = np.concatenate(dense)
    owner = np.repeat(np.arange(len(dense)), [len(d) for d in dense])
    tree = cKDTree(points)
    nearest = np.full(len(dense), np.inf)
    if len(dense) < 2:
        return nearest, []
    far, which = tree.query(points, k=min(AROUND, len(points)))
    far = np.where(owner[which] == owner[:, None], np.inf, far)
    np.minimum.at(nearest, owner, far.min(axis=1))
    for i in np.flatnonzero(np.isinf(nearest)).tolist():  # none but its own points are near: all others are asked
        others = owner != i
        nearest[i] = float(cKDTree(points[others]).query(dense[i])[0].min())
    rows, columns = np.nonzero(far <= TOUCHING_MM)
    met = np.unique(np.sort(np.stack([owner[rows], owner[which[rows, columns]]], axis=1), axis=1), axis=0)
    return nearest, [(int(a), int(b)) for a, b in met]


def _groups(count: int, pairs: Sequence[tuple[int, int]]) -> list[list[int]]:
    """Cells that hang together, those alone as groups of one."""
    from scipy.sparse import coo_array
    from scipy.sparse.csgraph import connected_components

    i, j = np.array(pairs, int).reshape(-1, 2).T
    _, label = connected_components(coo_array((np.ones(len(pairs)), (i, j)), shape=(count, count)), directed=False)
    order = np.argsort(label, kind="stable")
    return [[int(i) for i in g] for g in np.split(order, np.flatnonzero(np.diff(label[order])) + 1)]


def _axes(outline: Floats) -> tuple[float, float, float]:
    """Standard deviations of an outline's face along its main axis and across it, and that axis's angle (y upwards)."""
    m = cv2.moments((outline - outline.mean(axis=0)).astype(np.float32).reshape(-1, 1, 2))
    if m["m00"] <= 0.0:
        return 0.0, 0.0, 0.0
    spread = np.array([[m["mu20"], m["mu11"]], [m["mu11"], m["mu02"]]]) / m["m00"]
    values, vectors = np.linalg.eigh(spread)
    across, along = np.sqrt(np.maximum(values, 0.0))
    return float(along), float(across), float(np.arctan2(-vectors[1, 1], vectors[0, 1]))


def _long(points: Floats) -> float:
    """How many times as long as wide some points lie."""
    across, along = np.sqrt(np.maximum(np.linalg.eigvalsh(np.cov(points.T)), 0.0))
    return float(along / max(across, 1e-9))


def _direction(dense: Sequence[Floats]) -> tuple[float, float, float]:
    """Axial mean of the cells' main axes (degrees), its strength, and the chance of one as strong where each cell lies any way."""
    axes = [_axes(d) for d in dense]
    weight = np.array([(a - b) / max(a + b, 1e-9) for a, b, _ in axes])
    drawn = weight * np.exp(2j * np.array([angle for _, _, angle in axes]))
    total, scatter = float(abs(drawn.sum())), float((weight**2).sum())
    p = float(np.exp(-(total**2) / scatter)) if scatter > 0.0 else 1.0
    return float(np.degrees(np.angle(drawn.sum())) / 2.0 % 180.0), total / len(axes), p
