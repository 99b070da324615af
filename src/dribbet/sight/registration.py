"""Lays one rectified photograph of a panel exactly over another: a phone is nudged between lamps, corners are found to tenths of a millimetre."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.sight import geometry
from dribbet.sight.card import linear_from_srgb

if TYPE_CHECKING:
    from dribbet.sight.arrays import Plane, Points, Rgb

SCALE_PX_PER_MM: Final = 4.0
"""Scale at which photographs are compared."""
FINE_MM: Final = 0.25  # flakes and noise are finer
BROAD_MM: Final = 4.0  # the lamps' own fall of light is broader
ROUGH_MM: Final = 0.5  # structure by which a first guess of the shift is made
LEAST_ALIKE: Final = 0.5  # correlation of the structure once it lies: less, and nothing is moved
MOST_SHIFT_MM: Final = 8.0  # beyond that it is another pose, not a nudge
LEAST_STRUCTURE: Final = 0.05  # standard deviation of the log luminance: a panel of one colour has nothing to hold on to
MOST_STEPS: Final = 60
MOST_OF_SIZE: Final = 2.0  # of its own size round a place: the mirrored edge itself is no paint
ENOUGH: Final = 1e-6
SMOOTHING_PX: Final = 5


@dataclass(frozen=True, slots=True, kw_only=True)
class Laid:
    """How one photograph lies over another."""

    matrix: Points
    """3 x 3, from pixels of the fixed photograph to pixels of the one that is laid over it, both at the panel's scale."""
    shift_mm: float
    """How far it was moved, root mean square over the panel; 0 where nothing was sure enough to move it."""
    alike: float
    """Correlation of their fine structure where they lie over each other."""
    lost: bool = False
    """Whether there is structure to hold on to, and they still do not fit: another pose, or another panel."""


def laid_over(moving: Rgb, fixed: Rgb, px_per_mm: float, *, mirrored: bool = False) -> Laid:
    """How `moving` lies over `fixed`, two rectified photographs of one panel under unlike lamps.

    The map (affine, then of the plane) that makes their structure (log luminance between `FINE_MM` and `BROAD_MM`) correlate best, from no shift and
    from the shift that phase correlation finds (Kuglin and Hines 1975); by the enhanced correlation coefficient, which light and contrast leave alone
    (Evangelidis and Psarakis 2008). Where the best is less alike than `LEAST_ALIKE`, or was moved farther than `MOST_SHIFT_MM`, nothing is moved.

    Parameters
    ----------
    moving, fixed : ndarray, shape (rows, columns, 3)
        sRGB of the rectified panel.
    px_per_mm : float
        Scale of both.
    mirrored : bool
        Whether something bright is mirrored in part of `moving`: light that is added makes the paint's contrasts weaker there, so each place counts
        by its own.
    """
    k = min(SCALE_PX_PER_MM, px_per_mm)
    shrink = k / px_per_mm
    over, under = (_structure(rgb, shrink, k) for rgb in (moving, fixed))
    told = float(under.std()) > LEAST_STRUCTURE
    if mirrored:
        over, under = (_evened(p, k) for p in (over, under))
    rough = [np.ascontiguousarray(cv2.GaussianBlur(p, (0, 0), ROUGH_MM * k)) for p in (under, over)]
    (x, y), _ = cv2.phaseCorrelate(rough[0], rough[1], cv2.createHanningWindow(under.shape[::-1], cv2.CV_32F))
    alike, matrix = max((_fitted(over, under, shift) for shift in ((0.0, 0.0), (x, y))), key=lambda f: f[0])
    moved_mm = _shift_mm(matrix, under.shape, k)
    if alike < LEAST_ALIKE or moved_mm > MOST_SHIFT_MM:
        return Laid(matrix=np.eye(3), shift_mm=0.0, alike=alike, lost=told)
    grow = np.diag([1.0 / shrink, 1.0 / shrink, 1.0])
    return Laid(matrix=grow @ matrix @ np.linalg.inv(grow), shift_mm=moved_mm, alike=alike)


def corners_of(laid: Laid, corners_px: Points, width_mm: float, height_mm: float, px_per_mm: float) -> Points:
    """Corners of the panel in the photograph that was laid over the fixed one, px; `corners_px` are those it was rectified by."""
    frame = np.array([[0.0, 0.0], [width_mm, 0.0], [width_mm, height_mm], [0.0, height_mm]])
    there = geometry.apply(laid.matrix, frame * px_per_mm) / px_per_mm
    return geometry.apply(geometry.homography(corners_px, width_mm, height_mm), there)


def _structure(rgb: Rgb, shrink: float, k: float) -> Plane:
    small = cv2.resize(rgb, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA) if shrink < 1.0 else rgb
    light = np.log(linear_from_srgb(np.ascontiguousarray(small)) @ np.array([0.2126, 0.7152, 0.0722], np.float32) + np.float32(0.01))
    return np.asarray(cv2.GaussianBlur(light, (0, 0), FINE_MM * k) - cv2.GaussianBlur(light, (0, 0), BROAD_MM * k), np.float32)


def _evened(structure: Plane, k: float) -> Plane:
    """Structure in units of its own size round each place, so that no place counts for more than another."""
    size = np.sqrt(cv2.GaussianBlur(structure**2, (0, 0), BROAD_MM * k)) + np.float32(LEAST_STRUCTURE)
    return np.asarray(np.clip(structure / size, -MOST_OF_SIZE, MOST_OF_SIZE), np.float32)


def _fitted(moving: Plane, fixed: Plane, shift: tuple[float, float]) -> tuple[float, Points]:
    """Correlation and affine map from a first guess; no correlation where the search runs away."""
    start = np.array([[1.0, 0.0, shift[0]], [0.0, 1.0, shift[1]]], np.float32)
    until = (cv2.TERM_CRITERIA_COUNT | cv2.TERM_CRITERIA_EPS, MOST_STEPS, ENOUGH)
    try:
        alike, found = cv2.findTransformECC(fixed, moving, start, cv2.MOTION_AFFINE, until, None, SMOOTHING_PX)
        whole = np.vstack([found, [0.0, 0.0, 1.0]]).astype(np.float32)
        if alike >= LEAST_ALIKE:
            alike, whole = cv2.findTransformECC(fixed, moving, whole, cv2.MOTION_HOMOGRAPHY, until, None, SMOOTHING_PX)
    except cv2.error:  # it did not converge: nothing in common
        return -1.0, np.eye(3)
    return float(alike), np.asarray(whole, np.float64)


def _shift_mm(matrix: Points, shape: tuple[int, ...], k: float) -> float:
    rows, columns = shape[:2]
    y, x = np.mgrid[0:rows:20, 0:columns:20]
    points = np.stack([x.ravel(), y.ravel(), np.ones(x.size)])
    after = matrix @ points
    return float(np.sqrt(((after[:2] / after[2] - points[:2]) ** 2).sum(axis=0).mean()) / k)
