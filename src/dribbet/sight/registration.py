"""Lays one rectified photograph of a panel exactly over another: a phone is nudged between lamps, corners are found to tenths of a millimetre."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.sight import geometry
from dribbet.sight.card import luminance

if TYPE_CHECKING:
    from dribbet.sight.arrays import Mask, Plane, Points, Rgb

SCALE_PX_PER_MM: Final = 4.0
"""Scale at which photographs are compared."""
FINE_MM: Final = 0.25  # flakes and noise are finer
BROAD_MM: Final = 4.0  # the lamps' own fall of light is broader
ROUGH_MM: Final = 0.5  # structure by which a first guess of the shift is made
LEAST_ALIKE: Final = 0.5  # correlation of the structure once it lies: less, and nothing is moved
MOST_SHIFT_MM: Final = 8.0  # beyond that it is another pose, not a nudge
LEAST_STRUCTURE: Final = 0.05  # standard deviation of the log luminance: a panel of one colour has nothing to hold on to
THIN_MM: Final = 1.2  # lines no wider are left out where photographs are laid,
LEAST_THIN: Final = 0.06  # those that are so much lighter or darker than what they lie in (of the log luminance)
SURELY_ALIKE: Final = 0.9
PULLED_MM: Final = 0.1
AS_ONE: Final = 0.992  # alike by all there is: walls of grooves would make them less so
LEAST_GAIN: Final = 1.2  # times less unlike between the lines, or the weave of a canvas has jumped by half a thread
LITTLE_SAY: Final = 0.2  # of the structure (mean square): lines that are less of it hardly pull
LEAST_ACROSS: Final = 0.05
LEAST_KEPT: Final = 0.25  # of the panel: of a film of nothing but thin lines too little is left
LITTLE: Final = 1e-3  # of a weight
MOST_OF_SIZE: Final = 2.0  # of its own size round a place: the mirrored edge itself is no paint
UNTIL: Final = (cv2.TERM_CRITERIA_COUNT | cv2.TERM_CRITERIA_EPS, 60, 1e-6)
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
    sure: bool = True
    """Whether thin lines may be held against each other: by all else the two are alike, so that lines had no say in how they lie."""
    lost: bool = False
    """Whether there is structure to hold on to, and they still do not fit: another pose, or another panel."""


def laid_over(moving: Rgb, fixed: Rgb, px_per_mm: float, *, mirrored: bool = False) -> Laid:
    """How `moving` lies over `fixed`, two rectified photographs of one panel under unlike lamps.

    The map (affine, then of the plane) that makes their structure (log luminance between `FINE_MM` and `BROAD_MM`) correlate best, from no shift and
    from the shift that phase correlation finds (Kuglin and Hines 1975); by the enhanced correlation coefficient, which light and contrast leave alone
    (Evangelidis and Psarakis 2008); then by all but thin lines. Where the best is less alike than `LEAST_ALIKE`, or was moved farther than
    `MOST_SHIFT_MM`, nothing is moved.

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
    lights = [_light(rgb, shrink) for rgb in (moving, fixed)]
    over, under = (_structure(light, k) for light in lights)
    told = float(under.std()) > LEAST_STRUCTURE
    if mirrored:
        over, under = (_evened(p, k) for p in (over, under))
    rough = [np.ascontiguousarray(cv2.GaussianBlur(p, (0, 0), ROUGH_MM * k)) for p in (under, over)]
    (x, y), _ = cv2.phaseCorrelate(rough[0], rough[1], cv2.createHanningWindow(under.shape[::-1], cv2.CV_32F))
    alike, matrix = max((_fitted(over, under, shift) for shift in ((0.0, 0.0), (x, y))), key=lambda f: f[0])
    sure = False
    if not mirrored:
        sure, matrix = _by_all_but_lines(lights[0], lights[1], k, alike, matrix) if alike >= LEAST_ALIKE else (False, matrix)
    moved_mm = _shift_mm(matrix, under.shape, k)
    if alike < LEAST_ALIKE or moved_mm > MOST_SHIFT_MM:
        return Laid(matrix=np.eye(3), shift_mm=0.0, alike=alike, sure=False, lost=told)
    grow = np.diag([1.0 / shrink, 1.0 / shrink, 1.0])
    return Laid(matrix=grow @ matrix @ np.linalg.inv(grow), shift_mm=moved_mm, alike=alike, sure=sure)


def corners_of(laid: Laid, corners_px: Points, width_mm: float, height_mm: float, px_per_mm: float) -> Points:
    """Corners of the panel in the photograph that was laid over the fixed one, px; `corners_px` are those it was rectified by."""
    frame = np.array([[0.0, 0.0], [width_mm, 0.0], [width_mm, height_mm], [0.0, height_mm]])
    there = geometry.apply(laid.matrix, frame * px_per_mm) / px_per_mm
    return geometry.apply(geometry.homography(corners_px, width_mm, height_mm), there)


def _light(rgb: Rgb, shrink: float) -> Plane:
    small = cv2.resize(rgb, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA) if shrink < 1.0 else rgb
    return np.asarray(np.log(luminance(small) + np.float32(0.01)), np.float32)


def _by_all_but_lines(moving: Plane, fixed: Plane, k: float, alike: float, matrix: Points) -> tuple[bool, Points]:
    """Whether lines surely had no say in how two photographs lie, and how they lie: as `matrix` says, unless lines had pulled them apart.

    Walls of a groove are bright under one lamp and dark under the other: held against each other as light they pull photographs apart, by 0.3 mm on
    a film of one colour with a net of cracks.
    """
    if alike >= AS_ONE:
        return True, matrix
    kept = [_without_lines(light, k) for light in (moving, fixed)]
    whole = _structure(fixed, k) ** 2
    if float(whole[~kept[1]].sum()) < LITTLE_SAY * float(whole.sum()):
        return True, matrix
    both = kept[0] & (cv2.warpPerspective(kept[1].astype(np.uint8), matrix, moving.shape[::-1], borderValue=1) > 0)
    if float(both.mean()) < LEAST_KEPT:
        return False, matrix
    over, under = (_structure(light, k, m) for light, m in zip((moving, fixed), kept, strict=True))
    across, down = (float((np.diff(under, axis=axis) ** 2).sum()) for axis in (1, 0))
    if across < LEAST_ACROSS * down:  # brush strokes along the lamps slide over each other
        return False, matrix
    alike, there = _closer(over, under, both, matrix)
    if alike < SURELY_ALIKE:
        return False, matrix
    if _shift_mm(np.linalg.inv(matrix) @ there, fixed.shape, k) <= PULLED_MM:
        return True, matrix
    unlike = [1.0 - _correlation(over, under, kept, m) for m in (matrix, there)]
    return (True, there) if unlike[0] > LEAST_GAIN * unlike[1] else (False, matrix)


def _correlation(moving: Plane, fixed: Plane, kept: list[Mask], matrix: Points) -> float:
    """Of what is kept of both, the one laid over the other."""
    back = cv2.WARP_INVERSE_MAP
    over = cv2.warpPerspective(moving, matrix, fixed.shape[::-1], flags=cv2.INTER_LINEAR | back)
    there = kept[1] & (cv2.warpPerspective(kept[0].astype(np.uint8), matrix, fixed.shape[::-1], flags=cv2.INTER_NEAREST | back) > 0)
    return float(np.corrcoef(over[there], fixed[there])[0, 1]) if np.count_nonzero(there) > 2 else 0.0


def _structure(light: Plane, k: float, kept: Mask | None = None) -> Plane:
    """What is broader than `FINE_MM` and finer than `BROAD_MM`; of `kept` alone where it is given (normalised convolution, Knutsson 1993)."""
    if kept is None:
        return np.asarray(cv2.GaussianBlur(light, (0, 0), FINE_MM * k) - cv2.GaussianBlur(light, (0, 0), BROAD_MM * k), np.float32)
    weight = kept.astype(np.float32)
    fine, broad = (
        cv2.GaussianBlur(light * weight, (0, 0), mm * k) / (cv2.GaussianBlur(weight, (0, 0), mm * k) + np.float32(LITTLE))
        for mm in (FINE_MM, BROAD_MM)
    )
    return np.asarray(fine - broad, np.float32)


def _without_lines(light: Plane, k: float) -> Mask:
    """Where no thin line is."""
    soft = cv2.GaussianBlur(light, (0, 0), FINE_MM * k)  # flakes are no lines
    size = round(THIN_MM * k) | 1
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size))
    thin = np.maximum(cv2.morphologyEx(soft, cv2.MORPH_TOPHAT, kernel), cv2.morphologyEx(soft, cv2.MORPH_BLACKHAT, kernel)) > LEAST_THIN
    return np.asarray(cv2.dilate(thin.astype(np.uint8), np.ones((5, 5), np.uint8)) == 0)


def _evened(structure: Plane, k: float) -> Plane:
    """Structure in units of its own size round each place, so that no place counts for more than another."""
    size = np.sqrt(cv2.GaussianBlur(structure**2, (0, 0), BROAD_MM * k)) + np.float32(LEAST_STRUCTURE)
    return np.asarray(np.clip(structure / size, -MOST_OF_SIZE, MOST_OF_SIZE), np.float32)


def _fitted(moving: Plane, fixed: Plane, shift: tuple[float, float]) -> tuple[float, Points]:
    """Correlation and map from a first guess, affine and then of the plane; no correlation where the search runs away."""
    start = np.array([[1.0, 0.0, shift[0]], [0.0, 1.0, shift[1]]], np.float32)
    try:
        alike, found = cv2.findTransformECC(fixed, moving, start, cv2.MOTION_AFFINE, UNTIL, None, SMOOTHING_PX)
    except cv2.error:  # it did not converge: nothing in common
        return -1.0, np.eye(3)
    whole = np.vstack([found, [0.0, 0.0, 1.0]])
    return _closer(moving, fixed, None, whole) if alike >= LEAST_ALIKE else (float(alike), whole)


def _closer(moving: Plane, fixed: Plane, kept: Mask | None, start: Points) -> tuple[float, Points]:
    """Correlation and map of the plane from one that nearly fits, by what is `kept` of the moving one."""
    mask = None if kept is None else kept.astype(np.uint8)
    try:
        alike, whole = cv2.findTransformECC(fixed, moving, start.astype(np.float32), cv2.MOTION_HOMOGRAPHY, UNTIL, mask, SMOOTHING_PX)
    except cv2.error:
        return -1.0, np.eye(3)
    return float(alike), np.asarray(whole, np.float64)


def _shift_mm(matrix: Points, shape: tuple[int, ...], k: float) -> float:
    rows, columns = shape[:2]
    y, x = np.mgrid[0:rows:20, 0:columns:20]
    points = np.stack([x.ravel(), y.ravel(), np.ones(x.size)])
    after = matrix @ points
    return float(np.sqrt(((after[:2] / after[2] - points[:2]) ** 2).sum(axis=0).mean()) / k)
