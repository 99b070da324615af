"""Shimmer: how unlike a panel looks with the lamp left and right."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.sight.card import linear_from_srgb
from dribbet.sight.grooves import Raked, laid_closer
from dribbet.sight.relief import Relief, find_relief

if TYPE_CHECKING:
    from dribbet.sight.arrays import Mask, Plane, Rgb

FINE_MM: Final = 0.25  # flakes are smaller than this
SHARP_MM: Final = 0.06  # walls of a groove are no wider
SOFT_MM: Final = 0.6
"""What is compared is softened over so much (two standard deviations): a sharper or nearer photograph would shimmer more (docs/measuring.md)."""
AS_BEFORE: Final = 1.6
"""So much more would be told with flakes softened over their own width alone, as readers to `sight-11` did (rendered mica, 1.40 to 1.66): what they
told, and what a person wants, stays comparable."""
MOST_RATIO: Final = 1.5  # of the natural log: more is a lamp's own mirror image
LEAST_PX: Final = 100
GLINT_STEP: Final = 0.35  # of the local luminance
BURNT: Final = 254  # of 255, in all three colours
LEAST_TOLD: Final = 0.2  # of the film must not be burnt out


@dataclass(frozen=True, slots=True, kw_only=True)
class Shimmer:
    """Index (0 for a matt panel) and glints per square centimetre."""

    index: float
    glints_per_cm2: float
    relief: Relief
    energy: Plane | None = None
    """Square of the log ratio at each pixel, scaled: its mean over the film is the square of the index."""


def raked(left: Rgb, right: Rgb, film: Mask, px_per_mm: float) -> Raked:
    """A film under both lamps as lines are asked about, softened less than anything that flakes are to be taken out of."""
    a, b = (cv2.GaussianBlur(_luminance(one), (0, 0), SHARP_MM * px_per_mm) for one in (left, right))
    told = _told(left, right, film, FINE_MM * px_per_mm)
    if np.count_nonzero(told) < LEAST_PX:
        told = np.ones(film.shape, bool)
    ratio = np.clip(_level(a, b, told), -MOST_RATIO, MOST_RATIO)
    light = np.asarray(np.log(a * b) / np.float32(2.0), np.float32)
    return laid_closer(ratio, light, told, px_per_mm)


def _luminance(rgb: Rgb) -> Plane:
    linear = linear_from_srgb(rgb)
    return np.asarray(linear @ np.array([0.2126, 0.7152, 0.0722], np.float32) + np.float32(0.004), dtype=np.float32)


def _told(left: Rgb, right: Rgb, film: Mask, soft_px: float) -> Mask:
    """The film without what is burnt out in all three colours on either photograph, and where softening carries that; all where little is left."""
    burnt = (left.min(axis=2) >= BURNT) | (right.min(axis=2) >= BURNT)
    size = round(2.0 * soft_px) | 1
    left_over = film & ~np.asarray(cv2.dilate(burnt.astype(np.uint8), np.ones((size, size), np.uint8)), dtype=bool)
    return left_over if left_over.sum() >= LEAST_TOLD * film.sum() else film


def _level(left: Plane, right: Plane, film: Mask) -> Plane:
    """Log of the ratio of two luminances without the plane that fits it best on the film."""
    ratio = np.log(left / right)
    rows, columns = np.nonzero(film)
    pick = slice(None, None, max(1, len(rows) // 20_000))
    design = np.c_[np.ones(len(rows[pick])), rows[pick], columns[pick]].astype(np.float64)
    weight, *_ = np.linalg.lstsq(design, ratio[rows[pick], columns[pick]].astype(np.float64), rcond=None)
    y, x = np.mgrid[0 : ratio.shape[0], 0 : ratio.shape[1]].astype(np.float32)
    return np.asarray(ratio - (weight[0] + weight[1] * y + weight[2] * x).astype(np.float32), np.float32)


def find_shimmer(left: Rgb, right: Rgb, film: Mask, px_per_mm: float) -> Shimmer:
    """Shimmer from two rectified photographs of one pose.

    The log ratio of the two luminances, softened over more than a flake's width so that neither camera noise nor sharpness counts, loses its plane
    (the lamps' own gradient); what is left, root mean square over the film and without what slopes of the surface make of it (`relief`, from the
    ratio softened less), times `AS_BEFORE`, is the index. Broad sheens count as much as single glints: flakes turn with the flow, and on rendered
    mica half of the unlikeness lies at 4 to 16 mm. Where a photograph is burnt out nothing is known of it: what lies there counts as the rest of
    the film does.
    """
    if np.count_nonzero(film) < LEAST_PX:
        return Shimmer(index=0.0, glints_per_cm2=0.0, relief=Relief(slope=0.0, slope_sd=0.0, faults=(), energy=0.0))
    fine, soft = FINE_MM * px_per_mm, SOFT_MM * px_per_mm
    told = _told(left, right, film, fine)
    light = (_luminance(left), _luminance(right))
    a, b = (cv2.GaussianBlur(one, (0, 0), fine / 2) for one in light)
    uneven = find_relief(_level(a, b, told), np.log(a * b) / np.float32(2.0), told, px_per_mm, SOFT_MM / 2)
    film = _told(left, right, film, soft)
    ratio = _level(cv2.GaussianBlur(light[0], (0, 0), soft / 2), cv2.GaussianBlur(light[1], (0, 0), soft / 2), film)
    energy = np.asarray(np.clip(ratio, -MOST_RATIO, MOST_RATIO) ** 2, np.float32)
    whole = float(energy[film].mean())
    index = AS_BEFORE * float(np.sqrt(max(whole - uneven.energy, 0.0)))
    energy *= np.float32(index**2 / max(whole, 1e-12))
    energy[~film] = index**2
    relative = a / cv2.GaussianBlur(a, (0, 0), 1.0 * px_per_mm) - 1.0
    size = max(3, round(0.4 * px_per_mm) | 1)
    peak = (relative == cv2.dilate(relative, np.ones((size, size), np.uint8))) & (relative > GLINT_STEP) & told
    area_cm2 = told.sum() / (px_per_mm * 10) ** 2
    return Shimmer(index=index, glints_per_cm2=float(peak.sum() / max(area_cm2, 1e-6)), relief=uneven, energy=energy)
