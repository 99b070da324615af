"""Thin bands of paint that look like cracks: a crack breaks the film whatever colours it meets, a band lies between two others and crosses none.

How many borders between colours a line should cross is known from how dense they lie round it (Buffon's needle); how many it does cross is seen
beside it. Rings and waves of thin bands cross next to none of many.
"""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np
from scipy.ndimage import distance_transform_edt, find_objects

from dribbet.sight.arrays import told_of

if TYPE_CHECKING:
    import numpy.typing as npt

    from dribbet.sight.arrays import Anything, Lab, Mask, Plane
    from dribbet.sight.breaks import Pieces

    Floats = npt.NDArray[np.float64]
    Flags = npt.NDArray[np.bool_]

COARSE_PX_PER_MM: Final = 4.0
SOFT_MM: Final = 0.3  # over so much colours are told: flecks of paint are no border
ROUND_MM: Final = 12.0  # so wide a square round each place is asked how dense its borders lie
LEAST_ROOM: Final = 0.05  # of that square is not taken up by lines
BESIDE_PX: Final = 2  # from a line is walked round it
LEAST_RUN: Final = 3  # pixels of one colour beside a line: fewer are where two others blend
EXPECTED: Final = 5.0
"""Borders that a piece should cross, from which on it is asked by itself,"""
MET: Final = 0.1
"""and the share of them up to which it is a band: of 1,172 true pieces on 201 panels none, of those of drawn rings 376 of 644 mm (decisions/0033)."""
ALL_EXPECTED: Final = 20.0
"""Borders that all pieces of a panel together should cross, from which on they are asked together,"""
ALL_MET: Final = 0.25
"""and the share of them up to which all are bands: of panels with a crack the least was 0.33."""
ENDS: Final = 1.0
"""Of what each of them meets: a band between two unlike paints has them beside its two ends, as if it crossed one border."""
NOWHERE: Final = 1e-3


def are_bands(pieces: Pieces, likely: Flags, lab: Lab, centres: Floats, px_per_mm: float) -> Flags:
    """Which of the pieces that are `likely` cracks are bands of paint, shape (pieces,)."""
    expected, met = borders(pieces, likely, lab, centres, px_per_mm)
    if expected.sum() >= ALL_EXPECTED and np.maximum(met - ENDS, 0.0).sum() <= ALL_MET * expected.sum():
        return likely
    return np.asarray(likely & (expected >= EXPECTED) & (met <= MET * expected))


def borders(pieces: Pieces, likely: Flags, lab: Lab, centres: Floats, px_per_mm: float) -> tuple[Floats, Floats]:
    """How many borders between the panel's colours each of the likely pieces should cross, and how many it does, shape (pieces,); nought of others.

    Parameters
    ----------
    lab : ndarray, shape (rows, columns, 3)
        CIELAB of the panel.
    centres : ndarray, shape (n, 3)
        Its colour modes.

    Notes
    -----
    A line of length l among borders of a length of d to each unit of area, which run any way, crosses 2 l d / pi of them (Buffon). A border that is
    crossed parts the colours on both sides of the line, so that walking once round the line meets it twice.
    """
    k = min(COARSE_PX_PER_MM, px_per_mm)
    rows, columns = (max(1, round(n * k / px_per_mm)) for n in lab.shape[:2])

    def coarse(image: Anything) -> Anything:
        return cv2.resize(image, (columns, rows), interpolation=cv2.INTER_NEAREST)

    here = told_of(pieces.numbers, np.concatenate([[0], np.where(likely, np.arange(1, len(likely) + 1), 0)]).astype(np.int32))
    here[~pieces.body] = 0
    numbers = coarse(cv2.dilate(here.astype(np.float32), np.ones((3, 3), np.uint8))).astype(np.int32)  # a line one pixel wide must not be lost
    zone = cv2.dilate(coarse(cv2.dilate(pieces.body.astype(np.uint8), np.ones((3, 3), np.uint8))), np.ones((3, 3), np.uint8)) > 0
    colours = _colours(cv2.resize(lab, (columns, rows), interpolation=cv2.INTER_AREA), centres, ~zone, k)
    density = _density(colours, ~zone, k)
    spots = np.nonzero(pieces.spine & (here > 0))
    number = here[spots]
    at = tuple(np.minimum((spot * (k / px_per_mm)).astype(np.int64), n - 1) for spot, n in zip(spots, (rows, columns), strict=True))
    count = len(likely) + 1
    dense = np.bincount(number, density[at], minlength=count)[1:] / np.maximum(np.bincount(number, minlength=count)[1:], 1)
    expected = 2.0 / math.pi * pieces.length_mm * dense
    met = np.zeros(len(likely))
    for i, box in enumerate(find_objects(numbers, len(likely))):
        if box is not None:
            met[i] = _changes(numbers, i + 1, box, colours) / 2.0
    return np.asarray(np.where(likely, expected, 0.0), np.float64), met


def _colours(lab: Lab, centres: Floats, free: Mask, k: float) -> npt.NDArray[np.uint8]:
    """Number of the panel's colour that each place has, told by what is `free` of lines round it."""
    away = np.full(free.shape, np.inf, np.float32)
    own = np.zeros(free.shape, np.uint8)
    for i, centre in enumerate(centres.astype(np.float32)):
        off = ((lab - centre) ** 2).sum(axis=2)
        own[off < away] = i
        np.minimum(away, off, out=away)
    most, colour = np.full(free.shape, NOWHERE, np.float32), np.zeros(free.shape, np.uint8)
    for i in range(len(centres)):
        votes = cv2.GaussianBlur(((own == i) & free).astype(np.float32), (0, 0), SOFT_MM * k)
        colour[votes > most] = i
        np.maximum(most, votes, out=most)
    nowhere = most <= NOWHERE
    if nowhere.any() and not nowhere.all():
        nearest = distance_transform_edt(nowhere, return_distances=False, return_indices=True)
        colour = colour[tuple(nearest)]
    return colour


def _density(colours: npt.NDArray[np.uint8], free: Mask, k: float) -> Plane:
    """Length of borders to each unit of area, 1/mm, of what is free of lines round each place."""
    border = np.zeros(free.shape, bool)
    border[:, :-1] |= colours[:, 1:] != colours[:, :-1]
    border[:-1] |= colours[1:] != colours[:-1]
    window = (round(ROUND_MM * k) | 1,) * 2
    room = np.maximum(cv2.blur(free.astype(np.float32), window), LEAST_ROOM)
    return np.asarray(cv2.blur((border & free).astype(np.float32), window) / room * k, np.float32)


def _changes(numbers: npt.NDArray[np.int32], piece: int, box: tuple[slice, slice], colours: npt.NDArray[np.uint8]) -> int:
    """How often the colour changes on the way round a piece that lies in a box, and round each field that it encloses."""
    top, left = (max(0, side.start - BESIDE_PX - 1) for side in box)
    window = numbers[top : box[0].stop + BESIDE_PX + 1, left : box[1].stop + BESIDE_PX + 1]
    ring = np.ones((2 * BESIDE_PX + 1,) * 2, np.uint8)
    beside = cv2.dilate((window == piece).astype(np.uint8), ring)
    contours, _ = cv2.findContours(beside, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE, offset=(left, top))
    rows, columns = numbers.shape
    total = 0
    for contour in contours:
        x, y = contour[:, 0].T
        inner = (x > 1) & (x < columns - 2) & (y > 1) & (y < rows - 2)
        met = colours[y[inner], x[inner]]
        starts = np.concatenate([[0], np.flatnonzero(met[1:] != met[:-1]) + 1])
        runs = met[starts][np.diff(np.append(starts, len(met))) >= LEAST_RUN] if len(met) else met
        if len(runs) > 1:
            total += int(np.count_nonzero(runs != np.roll(runs, 1)))
    return total
