"""Shimmer: how unlike a panel looks with the lamp left and right."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.sight.card import luminance
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
    ratio = _level(a, b, told)
    return laid_closer(np.clip(ratio, -MOST_RATIO, MOST_RATIO, out=ratio), _both(a, b), told, px_per_mm)


def _luminance(rgb: Rgb) -> Plane:
    told = luminance(rgb)
    told += np.float32(0.004)
    return told


def _both(left: Plane, right: Plane) -> Plane:
    """Log of the luminance under both lamps (their geometric mean)."""
    light = left * right
    np.log(light, out=light)
    light /= np.float32(2.0)
    return light


def _told(left: Rgb, right: Rgb, film: Mask, soft_px: float) -> Mask:
    """The film without what is burnt out in all three colours on either photograph, and where softening carries that; all where little is left."""
    burnt = (left.min(axis=2) >= BURNT) | (right.min(axis=2) >= BURNT)
    size = round(2.0 * soft_px) | 1
    left_over = film & ~np.asarray(cv2.dilate(burnt.astype(np.uint8), np.ones((size, size), np.uint8)), dtype=bool)
    return left_over if left_over.sum() >= LEAST_TOLD * film.sum() else film


def _level(left: Plane, right: Plane, film: Mask) -> Plane:
    """Log of the ratio of two luminances without the plane that fits it best on the film."""
    ratio = left / right
    np.log(ratio, out=ratio)
    places = np.flatnonzero(film)
    rows, columns = np.unravel_index(places[:: max(1, len(places) // 20_000)], film.shape)
    weight, *_ = np.linalg.lstsq(np.c_[np.ones(len(rows)), rows, columns], ratio[rows, columns].astype(np.float64), rcond=None)
    across = weight[2] * np.arange(ratio.shape[1])
    for row in range(len(ratio)):  # the whole plane at once would take as much again, twice
        ratio[row] -= (weight[0] + weight[1] * row + across).astype(np.float32)
    return ratio


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
    a, b = (cv2.GaussianBlur(_luminance(one), (0, 0), fine / 2) for one in (left, right))
    ratio, lit = _level(a, b, told), _both(a, b)
    del b
    glints = _glints(a, told, px_per_mm)
    del a
    uneven = find_relief(ratio, lit, told, px_per_mm, SOFT_MM / 2)
    del ratio, lit
    film = _told(left, right, film, soft)
    a, b = (cv2.GaussianBlur(_luminance(one), (0, 0), soft / 2) for one in (left, right))
    energy = _level(a, b, film)
    np.clip(energy, -MOST_RATIO, MOST_RATIO, out=energy)
    energy *= energy
    whole = float(energy[film].mean())
    index = AS_BEFORE * float(np.sqrt(max(whole - uneven.energy, 0.0)))
    energy *= np.float32(index**2 / max(whole, 1e-12))
    energy[~film] = index**2
    return Shimmer(index=index, glints_per_cm2=glints, relief=uneven, energy=energy)


def _glints(light: Plane, film: Mask, px_per_mm: float) -> float:
    """Bright points of a film, to each square centimetre."""
    relative = cv2.GaussianBlur(light, (0, 0), 1.0 * px_per_mm)
    np.divide(light, relative, out=relative)
    relative -= np.float32(1.0)
    size = max(3, round(0.4 * px_per_mm) | 1)
    peak = (relative == cv2.dilate(relative, np.ones((size, size), np.uint8))) & (relative > GLINT_STEP) & film
    area_cm2 = film.sum() / (px_per_mm * 10) ** 2
    return float(peak.sum() / max(area_cm2, 1e-6))
