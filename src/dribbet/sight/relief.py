"""Relief of a dried film from two raking photographs: how uneven it is, and where pits and bumps are.

Both lamps see the same colours; what is unlike between them is slope, flakes that face one lamp, and the lamps' own fall of light. For a matt surface
under lamps at an angle e on both sides, log(left/right) = 2 artanh(p / tan e) with p the slope along the lamps: colour falls out.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.records.results import FaultKind

if TYPE_CHECKING:
    import numpy.typing as npt

    from dribbet.sight.arrays import Mask, Plane

SCALE_PX_PER_MM: Final = 4.0
LAMP_DEG: Final = 25.0
"""How high the lamps are taken to stand (nobody measures it): slopes of one studio compare with each other, less so with another's."""
SOFT_MM: Final = 0.2
BROAD_MM: Final = 6.0  # broader waves are the lamps' own, or a sheen
MOST_RATIO: Final = 1.5  # of the natural log: more is a lamp's own mirror image
WAVES_MM: Final = (1.2, 8.0)
"""Lengths of the waves that make a film uneven to the finger and the eye,"""
MADE_MM: Final = (1.2, 24.0)
"""and of those that look like shimmer, if nobody takes them out."""
BINS: Final = 9
ROUNDS: Final = 5
SIZES_MM: Final = (1.6, 2.2, 3.0, 4.0, 5.5, 7.5)
"""Widths of faults that are sought, four standard deviations of a Gaussian section."""
LEAST_LIKE: Final = 0.8  # correlation with the pair of flanks that a round pit or bump shows
LEAST_PEAK: Final = 0.10  # of the log ratio at its flanks: a slope of some 0.02
OVER_NOISE: Final = 8.0  # times the root mean square of the same fit round it: flakes, waves and noise make pairs of flanks, too
ROUND_MM: Final = 6.0  # so far round a fault, the fault itself left out
OWN: Final = 0.6  # of its width
ACROSS: Final = 1.5  # of its width: so far round, flanks across the lamps tell what flakes do (a pit has none)
BESIDE: Final = 1.2  # of a fault's width: its flanks make weaker ones of the other kind beside it
EDGES_MM: Final = 0.03  # photographs lie over each other to so much: along a colour's edge the ratio may be that many mm of its steepness by itself
ROOM: Final = 2.5  # standard deviations of the section, round its middle, in which it is compared
EDGE_MM: Final = 1.0  # from the edge of the film nothing is told
LEAST_FILM: Final = 0.95  # of the place that a fault takes


@dataclass(frozen=True, slots=True, kw_only=True)
class SurfaceFault:
    """One fault, in mm of the panel."""

    kind: FaultKind
    x_mm: float
    y_mm: float
    width_mm: float
    slope: float
    """Steepest slope of its flanks along the lamps."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Relief:
    """What two raking photographs tell of the surface."""

    slope: float
    """Root mean square slope along the lamps of waves of `WAVES_MM`, flakes and camera noise taken out."""
    slope_sd: float
    """How far it may be off, by how the power scatters between directions (standard deviation): strong flakes hide slopes, and look like some."""
    faults: tuple[SurfaceFault, ...]
    """Widest first."""
    energy: float
    """Mean square of the log ratio that waves of `MADE_MM` make once it is softened."""


def find_relief(ratio: Plane, light: Plane, film: Mask, px_per_mm: float, soft_mm: float = 0.0) -> Relief:
    """Relief of a film.

    Parameters
    ----------
    ratio : ndarray, shape (rows, columns)
        Natural log of the luminance with the lamp left over that with the lamp right, laid exactly over each other.
    light : ndarray, shape (rows, columns)
        Natural log of the luminance under both: its colours' edges.
    film : ndarray of bool, shape (rows, columns)
        Where it tells something: paint that is not burnt out.
    px_per_mm : float
        Scale of both.
    soft_mm : float
        Standard deviation of the Gaussian that softens what `energy` is to be taken from.

    Notes
    -----
    A slope is the derivative of a height along the lamps: where heights know no direction, its power goes with cos^2 of the angle between wave and
    lamps, while flakes and noise have the same power all round. Fitting a cos^2 + b to the power of the waves tells them apart; a/2 is the slope's.
    A round pit or bump is a pair of flanks, one bright and one dark: its likeness to the derivative of a Gaussian is sought at several widths.
    """
    k = min(SCALE_PX_PER_MM, px_per_mm)
    shrink = k / px_per_mm
    size = (round(ratio.shape[1] * shrink), round(ratio.shape[0] * shrink))
    small = cv2.resize(np.clip(ratio, -MOST_RATIO, MOST_RATIO), size, interpolation=cv2.INTER_AREA)
    there = cv2.resize(film.astype(np.float32), size, interpolation=cv2.INTER_AREA)
    steep = _high_passed(np.asarray(small, np.float32), np.asarray(there, np.float32), k)
    lightness = cv2.GaussianBlur(cv2.resize(light, size, interpolation=cv2.INTER_AREA), (0, 0), SOFT_MM * k)
    edges = np.hypot(cv2.Sobel(lightness, cv2.CV_32F, 1, 0, scale=k / 8.0), cv2.Sobel(lightness, cv2.CV_32F, 0, 1, scale=k / 8.0))
    steep = np.asarray(np.sign(steep) * np.maximum(np.abs(steep) - EDGES_MM * edges, 0.0), np.float32)
    inside = np.asarray(cv2.erode((there > 0.5).astype(np.uint8), np.ones((3, 3), np.uint8), iterations=max(1, round(EDGE_MM * k / 1.5))), bool)
    energy, sd, softened = _waves(steep, inside, k, soft_mm)
    low, high = (math.tan(math.radians(LAMP_DEG)) / 2.0 * math.sqrt(e) for e in (energy, energy + sd))
    return Relief(slope=low, slope_sd=high - low, faults=_faults(steep, inside, k), energy=softened)


def _high_passed(ratio: Plane, there: Plane, k: float) -> Plane:
    """The log ratio without its broad part, softened over flakes, nought beyond the film."""
    weight = cv2.GaussianBlur(there, (0, 0), BROAD_MM * k) + np.float32(1e-3)
    broad = cv2.GaussianBlur(ratio * there, (0, 0), BROAD_MM * k) / weight
    return np.asarray(cv2.GaussianBlur((ratio - broad) * there, (0, 0), SOFT_MM * k), np.float32)


def _waves(steep: Plane, inside: Mask, k: float, soft_mm: float) -> tuple[float, float, float]:
    """Mean square of the log ratio that is slope, of waves of `WAVES_MM`; its standard deviation; and of waves of `MADE_MM`, softened."""
    share = float(inside.mean())
    if share < 0.02:
        return 0.0, 0.0, 0.0
    taper = cv2.GaussianBlur(inside.astype(np.float32), (0, 0), 1.5 * k) * inside
    power = np.abs(np.fft.rfft2(steep * taper)) ** 2
    rows, columns = steep.shape
    fy, fx = np.fft.fftfreq(rows, 1.0 / k)[:, None], np.fft.rfftfreq(columns, 1.0 / k)[None, :]
    waves = np.hypot(fx, fy)
    band = (waves >= 1.0 / MADE_MM[1]) & (waves <= 1.0 / MADE_MM[0])
    waves = waves[band]
    passed = np.exp(-2.0 * (np.pi * SOFT_MM * waves) ** 2) * (1.0 - np.exp(-2.0 * (np.pi * BROAD_MM * waves) ** 2))  # of `_high_passed`
    power = power[band] / passed**2
    turn = np.arctan2(np.abs(fy), np.abs(fx))[band]
    scale = 2.0 / (rows * columns) / float((taper**2).sum())  # the half plane of a real transform, twice
    felt = (waves >= 1.0 / WAVES_MM[1]) & (waves <= 1.0 / WAVES_MM[0])
    left = np.exp(-2.0 * (np.pi * soft_mm * waves) ** 2)  # of a wave's height
    (energy, sd), (softened, _) = _of_slope(power[felt], turn[felt]), _of_slope(power * left**2, turn)
    return energy * scale, sd * scale, softened * scale


def _of_slope(power: npt.NDArray[np.float64], turn: npt.NDArray[np.float64]) -> tuple[float, float]:
    """What of the waves' power goes with the square of the cosine of the angle between wave and lamps, in all, and its standard deviation.

    The latter is that of least squares: (W'W)^-1 times the mean square of what is left, W the design over what is expected.
    """
    which = np.minimum((turn / (np.pi / 2) * BINS).astype(int), BINS - 1)
    count = np.bincount(which, minlength=BINS)
    if count.min() == 0 or not power.any():
        return 0.0, 0.0
    mean = np.bincount(which, power, minlength=BINS) / count
    middle = (np.arange(BINS) + 0.5) / BINS * np.pi / 2
    design = np.stack([np.cos(middle) ** 2, np.ones(BINS)], axis=1)
    expected = np.full(BINS, mean.mean())
    for _ in range(ROUNDS):  # power scatters with its size: each bin counts by what is expected there (by what was met, too little would come out)
        (slope, rest), *_ = np.linalg.lstsq(design / expected[:, None], mean / expected, rcond=None)
        expected = np.maximum(design @ (slope, rest), 1e-3 * mean.mean())
    weighed = design / expected[:, None]
    left = mean / expected - weighed @ (slope, rest)
    of_one = math.sqrt(float(np.linalg.inv(weighed.T @ weighed)[0, 0] * (left @ left)) / (BINS - 2))
    every = float((np.cos(turn) ** 2).sum())
    return max(float(slope), 0.0) * every, of_one * every


def _faults(steep: Plane, inside: Mask, k: float) -> tuple[SurfaceFault, ...]:
    """Pits and bumps, the likeliest first to take its place."""
    found: list[tuple[float, int, int, float, float]] = []
    cover = inside.astype(np.float32)
    for width in SIZES_MM:
        sd = width / 4.0 * k
        reach = math.ceil(ROOM * sd)
        y, x = np.mgrid[-reach : reach + 1, -reach : reach + 1].astype(np.float32)
        room = (np.hypot(x, y) <= ROOM * sd).astype(np.float32)
        flanks = -x / sd * np.exp(0.5 - (x**2 + y**2) / (2.0 * sd**2)) * room  # 1 at its steepest; a bump's: bright towards the left lamp
        norm = float((flanks**2).sum())
        number = float(room.sum())
        fit = cv2.filter2D(steep, cv2.CV_32F, flanks) / norm
        mean = cv2.filter2D(steep, cv2.CV_32F, room) / number
        energy = np.maximum(cv2.filter2D(steep**2, cv2.CV_32F, room) - number * mean**2, 1e-12)
        like = fit * math.sqrt(norm) / np.sqrt(energy)
        filmed = cv2.filter2D(cover, cv2.CV_32F, room) / number
        across = cv2.filter2D(steep, cv2.CV_32F, np.ascontiguousarray(flanks.T)) / norm
        reach_px = ACROSS * width * k
        flakes = np.sqrt(cv2.GaussianBlur(across**2 * cover, (0, 0), reach_px) / (cv2.GaussianBlur(cover, (0, 0), reach_px) + 1e-3))
        usual = np.maximum(_round(fit, cover, OWN * width * k, ROUND_MM * k), flakes)
        clear = (filmed >= LEAST_FILM) & (np.abs(fit) >= np.maximum(LEAST_PEAK, OVER_NOISE * usual))
        score = np.where(clear, np.abs(like), 0.0).astype(np.float32)
        peak = (score >= LEAST_LIKE) & (score >= cv2.dilate(score, np.ones((2 * max(1, reach // 2) + 1,) * 2, np.uint8)))
        found += [(float(score[r, c]), int(r), int(c), width, float(fit[r, c])) for r, c in np.argwhere(peak)]
    kept: list[SurfaceFault] = []
    for _, r, c, width, fit in sorted(found, reverse=True):
        at = ((c + 0.5) / k, (r + 0.5) / k)
        if all(math.hypot(at[0] - f.x_mm, at[1] - f.y_mm) > BESIDE * max(width, f.width_mm) for f in kept):
            slope = math.tan(math.radians(LAMP_DEG)) * math.tanh(abs(fit) / 2.0)
            kind = FaultKind.BUMP if fit > 0.0 else FaultKind.PIT
            kept.append(SurfaceFault(kind=kind, x_mm=at[0], y_mm=at[1], width_mm=width, slope=slope))
    return tuple(sorted(kept, key=lambda f: -f.width_mm))


def _round(fit: Plane, cover: Plane, own_px: float, round_px: float) -> Plane:
    """Root mean square of a fit round each place, what lies at the place itself left out."""
    own, wide = 2.0 * math.pi * own_px**2, 2.0 * math.pi * round_px**2
    energy, room = (wide * cv2.GaussianBlur(p, (0, 0), round_px) - own * cv2.GaussianBlur(p, (0, 0), own_px) for p in (fit**2 * cover, cover))
    return np.asarray(np.sqrt(np.maximum(energy, 0.0) / np.maximum(room, 1.0)), np.float32)
