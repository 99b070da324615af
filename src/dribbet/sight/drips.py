"""Reads a drip card: how far each colour ran from the start line, in mm."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.records.cards import DRIP_CARD, START_LINE_MM
from dribbet.sight.arrays import SightError, magnitude
from dribbet.sight.card import find_markers
from dribbet.sight.colour import hex_of, lab_of

if TYPE_CHECKING:
    import numpy.typing as npt

    from dribbet.sight.arrays import Rgb

PX_PER_MM: Final = 10.0
STEP: Final = 11.0  # delta E from the card's white that is paint beyond doubt
FAINT: Final = 1.2  # least delta E between a pale paint and the card on both sides of it, where the card is even enough to tell
FAINT_NOISE: Final = 6.0  # times the card's own unevenness
FAINT_OVER_MM: Final = (1.2, 2.5)  # a pale drip is looked for in means over so much across and along it
BESIDE_MM: Final = (5.0, 7.5, 10.0)  # what a pale drip is compared with lies so far to either side
FAINT_WIDE_MM: Final = (1.5, 14.0)
FAINT_EVEN: Final = 0.45  # largest spread of a pale drip's colour step against its mean: a shadow fades, paint does not
LEAST_MM2: Final = 8.0
FOOT_MM: Final = 2.5  # of the card's lower edge are not looked at
LANES_MM: Final = (20.5, 129.5)


@dataclass(frozen=True, slots=True, kw_only=True)
class Drip:
    """One drip: its place across the card, its run, its colour."""

    x_mm: float
    run_mm: float
    hex: str
    off_card: bool = False
    """Whether it ran further than the card shows: `run_mm` is only how far that is."""


def read_drips(rgb: Rgb) -> tuple[Drip, ...]:
    """Drips from left to right.

    Raises
    ------
    SightError
        If the card's markers are not in view.
    """
    marks = find_markers(rgb, DRIP_CARD.markers)
    if marks is None or len(marks[0]) < 12:
        raise SightError("The drip card's corner marks are not all in view. Photograph the whole card.")
    matrix, _ = cv2.findHomography(marks[0], marks[1])
    if matrix is None:
        raise SightError("The drip card cannot be squared up. Photograph it from straight ahead.")
    k = PX_PER_MM
    to_mm = np.array([[1 / k, 0, 0.5 / k], [0, 1 / k, 0.5 / k], [0, 0, 1]])
    size = (round(DRIP_CARD.width_mm * k), round(DRIP_CARD.height_mm * k))
    flat = cv2.warpPerspective(rgb, matrix @ to_mm, size, flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP, borderMode=cv2.BORDER_REPLICATE)
    lab = lab_of(flat.astype(np.float32) / 255.0)
    small = cv2.resize(lab, None, fx=0.1, fy=0.1, interpolation=cv2.INTER_AREA)
    paper = small.reshape(-1, 3)
    bright = paper[:, 0] > np.percentile(paper[:, 0], 60) - 6.0
    y, x = np.mgrid[0 : small.shape[0], 0 : small.shape[1]] / 100.0
    design = np.stack([np.ones_like(x), x, y], axis=-1).reshape(-1, 3)
    for _ in range(3):
        weight, *_ = np.linalg.lstsq(design[bright], paper[bright].astype(np.float64), rcond=None)
        bright = np.linalg.norm(paper - design @ weight, axis=1) < 6.0
    yy, xx = np.mgrid[0 : size[1], 0 : size[0]].astype(np.float32) / (100.0 * k)
    white = np.stack([weight[0, c] + weight[1, c] * xx + weight[2, c] * yy for c in range(3)], axis=-1)
    away = magnitude(cv2.GaussianBlur(lab, (0, 0), 1.2) - white)
    sure = _lanes_only(away > STEP, k)
    drips = _drips_in(sure, away, lab, white, k)
    against = _against_sides(lab - white.astype(np.float32), k)
    near = cv2.dilate(sure, np.ones((round(3.0 * k), round(3.0 * k)), np.uint8))
    lanes = _lanes_only(np.ones(against.shape, bool), k).astype(bool) & (near == 0)
    faint = max(FAINT, FAINT_NOISE * float(np.median(against[lanes]))) if lanes.any() else STEP
    if faint < STEP:
        pale = _lanes_only((against > faint) & (near == 0), k)
        drips += _drips_in(pale, against, lab, white, k, faint=True)
    return tuple(sorted(drips, key=lambda d: d.x_mm))


def _against_sides(from_white: npt.NDArray[np.float32], k: float) -> npt.NDArray[np.float32]:
    """Delta E between each place and the card beside it in the same rows, which shares its light.

    Of some places to either side the one that is most like the card's white is compared with; nought where all of them are paint or print.
    """
    across, along = (round(mm * k) | 1 for mm in FAINT_OVER_MM)
    soft = cv2.blur(from_white, (across, along))
    most = round(max(BESIDE_MM) * k)
    wide = cv2.copyMakeBorder(soft, 0, 0, most, most, cv2.BORDER_REPLICATE)
    whitest = np.full(soft.shape[:2], STEP, np.float32)
    against = np.zeros(soft.shape[:2], np.float32)
    for reach in (sign * round(mm * k) for mm in BESIDE_MM for sign in (-1, 1)):
        beside = wide[:, most + reach : most + reach + soft.shape[1]]
        paint = magnitude(beside)
        whiter = paint < whitest
        against[whiter] = magnitude(soft - beside)[whiter]
        whitest[whiter] = paint[whiter]
    against[magnitude(soft) < whitest] = 0.0  # what is whiter than all beside it is card between pale drips
    return against


def _lanes_only(paint: npt.NDArray[np.bool_], k: float) -> npt.NDArray[np.uint8]:
    """Paint between the marks, without specks and printed lines."""
    kept = paint.astype(np.uint8)
    low, high = (round(v * k) for v in LANES_MM)
    kept[:, :low] = kept[:, high:] = 0
    kept[: round(8 * k)] = kept[-round(FOOT_MM * k) :] = 0
    opened: npt.NDArray[np.uint8] = cv2.morphologyEx(kept, cv2.MORPH_OPEN, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (13, 13)))
    return opened


def _drips_in(
    paint: npt.NDArray[np.uint8],
    away: npt.NDArray[np.float32],
    lab: npt.NDArray[np.float32],
    white: npt.NDArray[np.float64],
    k: float,
    *,
    faint: bool = False,
) -> list[Drip]:
    """Drips among the patches of paint: those that hang from the start line. Pale ones must be as wide and as even as a drip."""
    count, labels, stats, centres = cv2.connectedComponentsWithStats(paint)
    drips = []
    for i in range(1, count):
        left, top, width, height, area = (int(v) for v in stats[i])
        if area < LEAST_MM2 * k * k or top > (START_LINE_MM + 2.0) * k or top + height < (START_LINE_MM - 8.0) * k:
            continue
        body = labels == i
        if faint:
            across = area / max(height, 1) / k
            step = away[body]
            if not FAINT_WIDE_MM[0] <= across <= FAINT_WIDE_MM[1] or height < 1.2 * width or float(step.std()) > FAINT_EVEN * float(step.mean()):
                continue
        colour = np.median(lab[body], axis=0)
        run = _lowest_px(away, body, left, width, top + height, float(np.linalg.norm(colour - white[body].mean(axis=0)))) / k - START_LINE_MM
        off = top + height >= paint.shape[0] - round(FOOT_MM * k) - 1
        drips.append(Drip(x_mm=float((centres[i][0] + 0.5) / k), run_mm=max(0.0, float(run)), hex=hex_of(colour), off_card=off))
    return drips


def _lowest_px(away: np.ndarray[tuple[int, ...], np.dtype[np.float32]], body: object, left: int, width: int, bottom: int, depth: float) -> float:
    """Lowest point to a fraction of a pixel: where the lowest column's colour step is half done."""
    mask = np.asarray(body)
    columns = np.flatnonzero(mask[bottom - 1, left : left + width]) + left
    middle = int(np.median(columns))
    profile = away[max(0, bottom - 12) : bottom + 6, max(0, middle - 2) : middle + 3].mean(axis=1)
    half = 0.5 * depth
    for i in range(len(profile) - 1, 0, -1):
        if profile[i] < half <= profile[i - 1]:
            share = (profile[i - 1] - half) / (profile[i - 1] - profile[i])
            return max(0, bottom - 12) + i - 1 + float(share) + 0.5
    return float(bottom)
