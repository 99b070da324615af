"""Cells that cracks cross: looked for once more on a panel whose cracks are painted over.

A crack through a cell leaves two halves, neither of which looks like one, and fields that it closes look like some. What the film was before it broke
is drawn back from both sides of each crack (Telea 2004), and read again.
"""

from __future__ import annotations

import math
from dataclasses import replace
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.records import Report, silent
from dribbet.sight import cells as sight
from dribbet.sight import colour
from dribbet.sight.arrays import told_of
from dribbet.sight.fields import without_fields
from dribbet.sight.network import see

if TYPE_CHECKING:
    from dribbet.sight.arrays import Mask, Rgb
    from dribbet.sight.cells import Cell, Cells, Floats

WIDER_PX: Final = 2  # on either side of a crack: its edge is mixed with what shows in it
REACH_PX: Final = 3.0  # round each place that is drawn back
SURE: Final = 0.8
"""What was not there before the cracks were painted over has to be as likely as this: of such that a crack crosses 64 were cells and 11 none, of all
others 24 and 117 (docs/decisions/0033)."""
CROSSED: Final = 0.02  # of a cell is crack: on others a second look is as good as the first
SAME: Final = 0.5  # of their union two overlap: one and the same
HALF: Final = 0.5  # of a piece lies in a cell: it was part of it
TAKEN: Final = 0.3  # of a cell is another's: they cannot both be


def across(
    found: Cells,
    rgb: Rgb,
    gain: tuple[float, float, float],
    centres: Floats,
    film: Mask,
    cracks: Mask,
    px_per_mm: float,
    *,
    face: Mask | None = None,
    report: Report = silent,
) -> Cells:
    """Cells of a cracked panel, with those that cracks cross.

    Parameters
    ----------
    found : Cells
        Those that were found without regard to cracks.
    rgb : ndarray, shape (rows, columns, 3)
        The rectified panel; `gain` of its photograph, by the card.
    centres : ndarray, shape (n, 3)
        Its colour modes.
    film, cracks, face : ndarray of bool, shape (rows, columns)
        Where there is paint, where it is cracked, and the face of a round panel.
    """
    found = without_fields(found, cracks, px_per_mm)
    if not cracks.any():
        return found
    size = 2 * WIDER_PX + 1
    gone = cv2.dilate(cracks.astype(np.uint8), np.ones((size, size), np.uint8))
    even = colour.balanced(cv2.inpaint(np.ascontiguousarray(rgb), gone, REACH_PX, cv2.INPAINT_TELEA), gain)
    maps = see(even, px_per_mm, report=report)
    lab = colour.lab_of(even)
    del even
    again = sight.find_cells(lab, centres, px_per_mm, film, maps, face=face, report=report)
    return joined(found, without_fields(again, cracks, px_per_mm), gone > 0, px_per_mm)


def joined(found: Cells, again: Cells, gone: Mask, px_per_mm: float) -> Cells:
    """What was found at first, and what only shows with the cracks painted over (`gone`): sure, crossed by a crack, instead of its own pieces."""
    labels = found.labels.copy()
    areas = np.bincount(found.labels.ravel(), minlength=len(found.items) + 1)
    kept: list[Cell | None] = list(found.items)
    for number, cell in enumerate(again.items, 1):
        if cell.sureness < SURE:
            continue
        window = _window(cell, px_per_mm, labels.shape)
        inside = again.labels[window] == number
        pixels = int(np.count_nonzero(inside))
        if not pixels or gone[window][inside].mean() < CROSSED:
            continue
        met = np.bincount(labels[window][inside], minlength=len(areas))
        known = np.arange(1, len(areas))
        shared = met[1:]
        if (shared > SAME * (pixels + areas[1:] - shared)).any():
            continue
        pieces = known[(shared > HALF * areas[1:]) & (shared > 0)]
        taken = int(shared.sum() - shared[pieces - 1].sum())
        if taken > TAKEN * pixels:
            continue
        for piece in pieces:
            kept[piece - 1] = None
            labels[labels == piece] = 0
        free = inside & (labels[window] == 0)
        share = np.count_nonzero(free) / pixels
        kept.append(replace(cell, area_mm2=cell.area_mm2 * share, diameter_mm=cell.diameter_mm * math.sqrt(share)))
        labels[window][free] = len(kept)
        areas = np.append(areas, np.count_nonzero(free))
    left = [i for i, cell in enumerate(kept) if cell is not None]
    if left == list(range(len(found.items))):
        return found
    table = np.zeros(len(kept) + 1, np.uint16)
    table[np.array(left, np.int64) + 1] = np.arange(1, len(left) + 1)
    return sight.told([c for c in kept if c is not None], told_of(labels, table), found.pinholes, found.passed_over, px_per_mm)


def _window(cell: Cell, px_per_mm: float, shape: tuple[int, ...]) -> tuple[slice, slice]:
    """The rows and columns that a cell takes up, with a little room."""
    points = np.array(cell.outline_mm) * px_per_mm
    room = 2.0 + 0.1 * cell.diameter_mm * px_per_mm  # its outline is kept at a few dozen points
    (left, top), (right, bottom) = points.min(axis=0) - room, points.max(axis=0) + room
    return slice(max(0, int(top)), min(shape[0], int(bottom) + 1)), slice(max(0, int(left)), min(shape[1], int(right) + 1))
