"""Corners, homographies and the rectified panel. Pixel (i, j) of it covers (i/k … (i+1)/k, j/k … (j+1)/k) mm."""

from __future__ import annotations

from typing import Final

import cv2
import numpy as np

from dribbet.sight.arrays import Points, Rgb, SightError

MOST_PX_PER_MM: Final = 8.0
MOST_PIXELS: Final = 6.0e6  # large panels are read a little coarser rather than slower
LEAST_CORNER_SINE: Final = 0.2


def check_corners(corners_px: Points, width_px: int, height_px: int) -> None:
    """Refuse corners that make no clockwise convex quadrilateral in the photo.

    Raises
    ------
    SightError
        If they cross, lie on a line, run anticlockwise, or leave the photo by more than a tenth of it.
    """
    if corners_px.shape != (4, 2) or not np.all(np.isfinite(corners_px)):
        raise SightError("Four corners are needed, each as x,y in pixels, clockwise from the panel's top left.")
    sides = np.roll(corners_px, -1, axis=0) - corners_px
    lengths = np.linalg.norm(sides, axis=1)
    if lengths.min() < 8.0:
        raise SightError("Two corners lie on each other. Mark the four corners of the panel, clockwise from its top left.")
    after = np.roll(sides, -1, axis=0)
    sines = (sides[:, 0] * after[:, 1] - sides[:, 1] * after[:, 0]) / (lengths * np.roll(lengths, -1))
    if np.all(sines < 0.0):
        raise SightError("The corners run anticlockwise. Give them clockwise, from the panel's top left.")
    if not np.all(sines > LEAST_CORNER_SINE):
        raise SightError("The corners make no quadrilateral. Mark the four corners of the panel, clockwise from its top left.")
    low = np.array([-0.1 * width_px, -0.1 * height_px])
    high = np.array([1.1 * width_px, 1.1 * height_px])
    if np.any(corners_px < low) or np.any(corners_px > high):
        raise SightError("A corner lies outside the photo. Take the photo again with the whole panel in view.")


def working_scale(width_mm: float, height_mm: float) -> float:
    """Pixels per millimetre to read a panel at."""
    return float(min(MOST_PX_PER_MM, np.sqrt(MOST_PIXELS / (width_mm * height_mm))))


def homography(corners_px: Points, width_mm: float, height_mm: float) -> Points:
    """3 × 3 matrix from millimetres on the panel to pixels of the photo."""
    flat = np.array([[0, 0], [width_mm, 0], [width_mm, height_mm], [0, height_mm]], np.float32)
    return np.asarray(cv2.getPerspectiveTransform(flat, corners_px.astype(np.float32)), dtype=np.float64)


def apply(matrix: Points, points: Points) -> Points:
    """Points through a homography."""
    lifted = np.c_[points, np.ones(len(points))] @ matrix.T
    return np.asarray(lifted[:, :2] / lifted[:, 2:], dtype=np.float64)


def rectify(rgb: Rgb, corners_px: Points, width_mm: float, height_mm: float, px_per_mm: float) -> Rgb:
    """Panel seen from straight above at `px_per_mm`; photos that are finer are averaged, not skipped."""
    size = (round(width_mm * px_per_mm), round(height_mm * px_per_mm))
    matrix = homography(corners_px, width_mm, height_mm)
    sides = np.linalg.norm(np.roll(corners_px, -1, axis=0) - corners_px, axis=1)
    photo_px_per_mm = float(np.mean(sides / [width_mm, height_mm, width_mm, height_mm]))
    fine = 2 if photo_px_per_mm > 1.3 * px_per_mm else 1
    k = px_per_mm * fine
    to_mm = np.array([[1 / k, 0, 0.5 / k], [0, 1 / k, 0.5 / k], [0, 0, 1]])
    # Photo coordinates count pixel centres as whole numbers, as the corners do.
    flat = cv2.warpPerspective(
        rgb, matrix @ to_mm, (size[0] * fine, size[1] * fine), flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP, borderMode=cv2.BORDER_REPLICATE
    )
    if fine > 1:
        flat = cv2.resize(flat, size, interpolation=cv2.INTER_AREA)
    return np.asarray(flat, dtype=np.uint8)


def part_of(corners_px: Points, box: tuple[float, float, float, float]) -> Points:
    """Corners of a part of a panel, given as left, top, right, bottom shares of it; shape (4, 2)."""
    left, top, right, bottom = box
    return apply(homography(corners_px, 1.0, 1.0), np.array([[left, top], [right, top], [right, bottom], [left, bottom]]))


def photo_scale(corners_px: Points, width_mm: float, height_mm: float) -> float:
    """Mean pixels per millimetre of the photo itself."""
    sides = np.linalg.norm(np.roll(corners_px, -1, axis=0) - corners_px, axis=1)
    return float(np.mean(sides / [width_mm, height_mm, width_mm, height_mm]))
