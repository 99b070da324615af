"""Outlines that could be cells, as the network's maps draw them: bodies, parted where they touch, at several levels of chance; and basins.

A cell's core is where the network sees a cell and no border; every other place of a body goes to the core that is nearest, so that touching cells
part at their bisector. A body without a core (small ones are all border) is one of its own. Where the network is unsure what is a cell, it still
draws faint borders: a basin is what they enclose, flooded from where there is least border to the crest between (watershed), at several levels of a
border that is measured against the strongest one nearby. Which of the outlines are cells is chosen in `cells`.
"""

from __future__ import annotations

import itertools
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np
from scipy.ndimage import find_objects

from dribbet.sight.outlines import LEAST_MM, Outlines, shape_of

if TYPE_CHECKING:
    from collections.abc import Iterable

    import numpy.typing as npt

    from dribbet.sight.arrays import Plane

    Numbers = npt.NDArray[np.int32]

SURE: Final = 0.5
PARTED_AT: Final = (SURE, 0.3, 0.7)
WHOLE_AT: Final = (0.35, 0.5, 0.65, 0.8)
CORE_BORDER: Final = 0.5
LEAST_CORE_MM2: Final = 0.12
LEAST_SOLID: Final = 0.6
MOST_LONG: Final = 9.0
BASINS_AT: Final = (0.1, 0.2, 0.35, 0.55)
"""Of the strongest border nearby: below it floods begin."""
NEARBY_MM: Final = 3.0
LEAST_BORDER: Final = 0.02  # where all is fainter, nothing is a border
LEAST_FLOOD_MM2: Final = 0.19
LEAST_SOLID_BASIN: Final = 0.5
MOST_MM: Final = 40.0
SAME_CENTRE: Final = 0.08  # of the width
SAME_AREA: Final = 1.12


def parted(inside: Plane, border: Plane, level: float, px_per_mm: float) -> Numbers:
    """Bodies where the chance of a cell is above `level`, parted at their borders, numbered from 1."""
    body = inside > level
    core = body & (border < CORE_BORDER)
    _, cores, stats, _ = cv2.connectedComponentsWithStats(core.astype(np.uint8), connectivity=4)
    large = stats[:, cv2.CC_STAT_AREA] >= LEAST_CORE_MM2 * px_per_mm**2
    large[0] = False
    cores = np.where(large[cores], cores, 0).astype(np.int32)
    labels = np.zeros(body.shape, np.int32)
    if cores.any():
        _, owner = cv2.distanceTransformWithLabels((cores == 0).astype(np.uint8), cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL)
        table = np.zeros(int(owner.max()) + 1, np.int32)
        table[owner[cores > 0]] = cores[cores > 0]
        labels = np.where(body, table[owner], 0).astype(np.int32)
    _, bodies = cv2.connectedComponents(body.astype(np.uint8), connectivity=4)
    seeded = np.zeros(int(bodies.max()) + 1, bool)
    seeded[np.unique(bodies[cores > 0])] = True
    alone = body & ~seeded[bodies]
    return np.where(alone, bodies + int(labels.max()), np.where(seeded[bodies], labels, 0)).astype(np.int32)


def beside_nearby(border: Plane, px_per_mm: float) -> Plane:
    """Chance of a border as a share of the strongest one nearby, 0..1: what is drawn faintly all round counts as much as what is sure."""
    reach = round(NEARBY_MM * px_per_mm)
    strongest = cv2.GaussianBlur(cv2.dilate(border, np.ones((2 * reach + 1, 2 * reach + 1), np.uint8)), (0, 0), 2 * reach / 3)
    return np.asarray(np.minimum(border / np.maximum(strongest, LEAST_BORDER), 1.0), np.float32)


def basins(border: Plane, level: float, px_per_mm: float) -> Numbers:
    """What borders enclose, flooded from where `border` (0..1) is below `level`, numbered; 0 on the crests."""
    height = np.round(border * 255.0).astype(np.uint8)
    _, floods, stats, _ = cv2.connectedComponentsWithStats((border < level).astype(np.uint8), connectivity=4)
    small = stats[:, cv2.CC_STAT_AREA] < LEAST_FLOOD_MM2 * px_per_mm**2
    small[0] = True
    flooded = cv2.watershed(cv2.merge([height] * 3), np.where(small[floods], 0, floods).astype(np.int32))
    return np.asarray(np.maximum(flooded, 0), np.int32)


def find_basins(border: Plane, px_per_mm: float, size: tuple[int, int]) -> Outlines:
    """Outlines of all basins, each once.

    Parameters
    ----------
    border : ndarray
        As `beside_nearby` gives it, at `px_per_mm`.
    size : (columns, rows)
        Of the picture in whose pixels the outlines are.
    """
    scale = size[0] / border.shape[1] * px_per_mm
    least, most = (np.pi / 4 * (mm * scale) ** 2 for mm in (LEAST_MM, MOST_MM))
    found = (basins(border, level, px_per_mm).astype(np.float32) for level in BASINS_AT)
    fields = (cv2.resize(numbers, size, interpolation=cv2.INTER_NEAREST).astype(np.int32) for numbers in found)
    return _shaped(fields, least, most, LEAST_SOLID_BASIN)


def find_bodies(inside: Plane, border: Plane, px_per_mm: float) -> tuple[Outlines, Numbers]:
    """Outlines of all bodies, and the bodies of middle chance by number; `inside` and `border` at `px_per_mm`."""
    least = np.pi / 4 * (LEAST_MM * px_per_mm) ** 2
    own = parted(inside, border, SURE, px_per_mm)
    more = (parted(inside, border, level, px_per_mm) for level in PARTED_AT[1:])
    whole = (cv2.connectedComponents((inside > level).astype(np.uint8), connectivity=4)[1] for level in WHOLE_AT)
    return _shaped(itertools.chain([own], more, whole), least, np.inf, LEAST_SOLID), own


def _shaped(fields: Iterable[Numbers], least: float, most: float, solid: float) -> Outlines:
    """Outlines of all fields that are large, small, solid and short enough, each once; of one field at a time, as each is as large as the panel."""
    rows: list[tuple[float, ...]] = []
    contours: list[npt.NDArray[np.int32]] = []
    for numbers in fields:
        for contour in _outlines(numbers, least):
            shape = shape_of(contour)
            if shape is not None and shape[2] < most and shape[4] > solid and shape[6] < MOST_LONG:
                rows.append(shape)
                contours.append(contour)
    return _once(np.array(rows).reshape(-1, 7), contours)


def _outlines(numbers: Numbers, least: float) -> list[npt.NDArray[np.int32]]:
    """Outer outline of each body that is large enough, in px."""
    found = []
    for number, window in enumerate(find_objects(numbers), 1):
        if window is None:
            continue
        piece = (numbers[window] == number).astype(np.uint8)
        traced, _ = cv2.findContours(piece, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE, offset=(window[1].start, window[0].start))
        contour = np.asarray(max(traced, key=cv2.contourArea), np.int32)
        if len(contour) >= 5 and cv2.contourArea(contour) + 0.5 * len(contour) >= least:
            found.append(contour)
    return found


def _once(rows: npt.NDArray[np.float64], contours: list[npt.NDArray[np.int32]]) -> Outlines:
    """Each outline once, with how many levels drew it."""
    kept: list[int] = []
    votes: list[int] = []
    heads = np.zeros((len(rows), 3))
    for i, (x, y, area) in enumerate(rows[:, :3]):
        reach = SAME_CENTRE * np.sqrt(area * 4 / np.pi)
        had = heads[: len(kept)]
        ratio = had[:, 2] / area
        same = np.flatnonzero((np.abs(had[:, 0] - x) < reach) & (np.abs(had[:, 1] - y) < reach) & (ratio < SAME_AREA) & (ratio > 1 / SAME_AREA))
        if len(same):
            votes[int(same[0])] += 1
        else:
            heads[len(kept)] = x, y, area
            kept.append(i)
            votes.append(1)
    counted = np.stack([np.zeros(len(kept)), np.array(votes, np.float64)], axis=1)
    return Outlines(contours=[contours[i] for i in kept], shape=rows[kept], votes=counted)
