"""Finds the photo card: scale in its plane, exposure and white balance from its grey patches."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.records.cards import MARKER_MM, PATCH_LIGHTNESS, PATCH_X_MM, PATCH_Y_MM, PHOTO_CARD, patch_reflectance
from dribbet.sight.geometry import apply

if TYPE_CHECKING:
    from collections.abc import Mapping

    import numpy.typing as npt

    from dribbet.sight.arrays import Plane, Points, Rgb

PATCH_HALF_MM: Final = 3.5  # of 5.5: the rim is left out, it blurs
CLIPPED: Final = 250
LONGEST_SIDE_PX: Final = 1800
LUMINANCE: Final = (0.2126, 0.7152, 0.0722)


@dataclass(frozen=True, slots=True, kw_only=True)
class Card:
    """A card in view: its homography (mm to px) and how its greys came out."""

    matrix: Points
    gain: tuple[float, float, float]
    """Linear gain of the photo per channel against the true reflectances."""
    exposure_ev: float
    white_balance: tuple[float, float, float]
    patch_error: float
    """Largest departure of a patch from the fitted greys, in L*."""


def linear_from_srgb(srgb: npt.NDArray[np.uint8]) -> npt.NDArray[np.float32]:
    """Linear light 0..1 of 8-bit sRGB values."""
    table = np.arange(256) / 255.0
    table = np.where(table <= 0.04045, table / 12.92, ((table + 0.055) / 1.055) ** 2.4)
    return np.asarray(table.astype(np.float32)[srgb], dtype=np.float32)


def luminance(rgb: Rgb, gain: tuple[float, float, float] = (1.0, 1.0, 1.0)) -> Plane:
    """Luminance, linear, in shares of a perfect white: Y of sRGB's primaries (IEC 61966-2-1); `gain`: of the photograph, by its card."""
    linear = linear_from_srgb(np.arange(256, dtype=np.uint8))
    red, green, blue = (cv2.LUT(rgb[..., c], linear * np.float32(LUMINANCE[c] / gain[c])) for c in range(3))
    red += green
    red += blue
    return np.asarray(red, np.float32)


def find_markers(rgb: Rgb, wanted: Mapping[int, tuple[float, float]]) -> tuple[Points, Points] | None:
    """Corners of the card's markers on the card (mm) and in the photo (px); None with fewer than two of them."""
    grey = cv2.cvtColor(rgb, cv2.COLOR_RGB2GRAY)
    detector = cv2.aruco.ArucoDetector(cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_4X4_50))
    for longest in (LONGEST_SIDE_PX, 10 * LONGEST_SIDE_PX):  # first small: quick and kinder to noise
        shrink = min(1.0, longest / max(grey.shape))
        small = grey if shrink == 1.0 else cv2.resize(grey, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA)
        found, ids, _ = detector.detectMarkers(small)
        flat: list[tuple[float, float]] = []
        seen: list[Points] = []
        for corners, marker in zip(found, [] if ids is None else ids.ravel(), strict=True):
            if int(marker) in wanted:
                x, y = wanted[int(marker)]
                flat += [(x, y), (x + MARKER_MM, y), (x + MARKER_MM, y + MARKER_MM), (x, y + MARKER_MM)]
                seen.append((corners[0].astype(np.float64) + 0.5) / shrink - 0.5)
        if len(seen) >= 2:
            points = np.concatenate(seen).astype(np.float32)
            window = (max(2, round(2 / shrink)),) * 2
            criteria = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 20, 0.02)
            points = cv2.cornerSubPix(grey, points.reshape(-1, 1, 2), window, (-1, -1), criteria).reshape(-1, 2)
            return np.array(flat), np.asarray(points, dtype=np.float64)
        if shrink == 1.0:
            break
    return None


def find_card(rgb: Rgb) -> Card | None:
    """Find the photo card and read its greys; None where it is not in view."""
    marks = find_markers(rgb, PHOTO_CARD.markers)
    if marks is None:
        return None
    matrix, _ = cv2.findHomography(marks[0], marks[1])
    if matrix is None:
        return None
    reflect = np.array([patch_reflectance(lightness) for lightness in PATCH_LIGHTNESS])
    half = PATCH_HALF_MM
    means = np.zeros((6, 3))
    for i, x in enumerate(PATCH_X_MM):
        steps = np.linspace(-half, half, 12)
        grid = np.array([(x + dx, PATCH_Y_MM + dy) for dx in steps for dy in steps])
        places = np.round(apply(np.asarray(matrix), grid)).astype(int)
        places[:, 0] = places[:, 0].clip(0, rgb.shape[1] - 1)
        places[:, 1] = places[:, 1].clip(0, rgb.shape[0] - 1)
        seen = rgb[places[:, 1], places[:, 0]]
        means[i] = np.median(linear_from_srgb(seen), axis=0) if seen.max() < CLIPPED else np.nan
    good = np.all(np.isfinite(means), axis=1)
    if good.sum() < 2:
        return Card(matrix=np.asarray(matrix), gain=(1.0, 1.0, 1.0), exposure_ev=0.0, white_balance=(1.0, 1.0, 1.0), patch_error=float("inf"))
    ratio = np.log2(means[good] / reflect[good, None])
    gain = 2.0 ** np.median(ratio, axis=0)
    fitted = 116.0 * np.cbrt(np.clip(means[good] / gain, 1e-5, None)) - 16.0
    error = float(np.abs(fitted.mean(axis=1) - np.array(PATCH_LIGHTNESS)[good]).max())
    level = float(np.mean(gain))
    return Card(
        matrix=np.asarray(matrix, dtype=np.float64),
        gain=(float(gain[0]), float(gain[1]), float(gain[2])),
        exposure_ev=float(np.log2(level)),
        white_balance=(float(gain[0] / level), float(gain[1] / level), float(gain[2] / level)),
        patch_error=error,
    )
