"""Outlines in mm as polygons: what they enclose, whether they fold over themselves, and what is left of one that does."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

if TYPE_CHECKING:
    import numpy.typing as npt

    from dribbet.sight.arrays import Mask

    Outline = npt.NDArray[np.float32]
    Window = tuple[slice, slice]

MOST_TURN_DEG: Final = 100.0
"""At one point: a sharper tip is no cell's."""
NODES: Final = 32
"""Points of an outline that are looked at for folds."""
THIN: Final = 0.05
"""Of a cell's width: what is no wider than twice this hangs on it, and is none of it."""
THIN_MM: Final = (0.13, 0.4)


def enclosed(outline: Outline, px_per_mm: float, shape: tuple[int, ...]) -> tuple[Window, Mask]:
    """Where an outline in mm lies in a picture of this shape, and which pixels' middles it encloses there."""
    from skimage.draw import polygon2mask  # OpenCV's own fill takes every pixel that the line touches

    px = outline.astype(np.float64) * px_per_mm - 0.5
    low, high = np.floor(px.min(axis=0)).astype(int).clip(0), np.ceil(px.max(axis=0)).astype(int) + 1
    right, bottom = min(int(high[0]), shape[1]), min(int(high[1]), shape[0])
    window = np.s_[int(low[1]) : max(bottom, int(low[1])), int(low[0]) : max(right, int(low[0]))]
    inside = polygon2mask((window[0].stop - window[0].start, window[1].stop - window[1].start), px[:, ::-1] - low[::-1])
    return window, np.asarray(inside, bool)


def traced(inside: Mask, window: Window, px_per_mm: float) -> Outline:
    """Outline in mm of what is enclosed in a window."""
    from skimage.measure import find_contours

    lines = find_contours(np.pad(inside, 1).astype(np.float32), 0.5)
    px = max(lines, key=len)[:-1, ::-1] - 1.0 + (window[1].start, window[0].start)
    return np.asarray((px + 0.5) / px_per_mm, np.float32)


def folded(outline: Outline) -> bool:
    """Whether an outline crosses itself or has a spike, at about `NODES` of its points."""
    a = outline[:: max(1, len(outline) // NODES)].astype(np.float64)
    b = np.roll(a, -1, axis=0)
    steps = b - a
    before = np.roll(steps, 1, axis=0)
    turn = np.arctan2(before[:, 0] * steps[:, 1] - before[:, 1] * steps[:, 0], (before * steps).sum(axis=1))
    if np.abs(turn).max() > np.radians(MOST_TURN_DEG):
        return True
    apart = _side(a[:, None], b[:, None], a[None]) * _side(a[:, None], b[:, None], b[None]) < 0.0
    return bool((apart & apart.T).any())


def _side(start: npt.NDArray[np.float64], end: npt.NDArray[np.float64], point: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
    """On which side of a line each point lies."""
    along, to = end - start, point - start
    return np.asarray(along[..., 0] * to[..., 1] - along[..., 1] * to[..., 0], np.float64)


def without_thin_parts(outline: Outline, px_per_mm: float, shape: tuple[int, ...]) -> Outline:
    """An outline without its folds, and without what is thinner than a tenth of the cell: the largest piece that is left."""
    from scipy.ndimage import binary_fill_holes

    window, inside = enclosed(outline, px_per_mm, shape)
    wide = 2.0 * np.sqrt(np.count_nonzero(inside) / np.pi) / px_per_mm
    reach = max(1, round(float(np.clip(THIN * wide, *THIN_MM)) * px_per_mm))
    brush = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * reach + 1, 2 * reach + 1))
    whole = np.pad(binary_fill_holes(inside), reach + 1).astype(np.uint8)
    left = cv2.morphologyEx(whole, cv2.MORPH_OPEN, brush)[reach + 1 : -reach - 1, reach + 1 : -reach - 1]
    count, labels, stats, _ = cv2.connectedComponentsWithStats(left)
    if count < 2:
        return outline
    return traced(labels == 1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA])), window, px_per_mm)
