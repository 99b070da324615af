"""Cells: closed regions of one colour inside another, ring included, 1 mm and up.

Candidates are outlines that came back at many thresholds (`outlines`) and bodies that the network drew (`instances`); a small forest judges each by
its shape, by how many thresholds agree, by the colours just inside, just outside and further beyond its rim, and by what the network saw there
(`looks`); another looks again, by how each stands among those that were chosen at first (`company`); of those that overlap the one with better odds
stays.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.records import Report, silent
from dribbet.sight import looks, trees
from dribbet.sight.arrays import told_of
from dribbet.sight.company import LEAST_MM, ON_FILM, OVERLAP, company
from dribbet.sight.instances import beside_nearby, find_basins, find_bodies
from dribbet.sight.network import MAPS_PX_PER_MM
from dribbet.sight.outlines import Outlines, filled, find_outlines, shape_of
from dribbet.sight.polygons import enclosed, traced
from dribbet.sight.rims import drawn_anew

if TYPE_CHECKING:
    from collections.abc import Sequence

    import numpy.typing as npt

    from dribbet.sight.arrays import Lab, Labels, Mask
    from dribbet.sight.network import Maps

    Floats = npt.NDArray[np.float64]
    Features = npt.NDArray[np.float32]
    Outline = npt.NDArray[np.float32]

CELL_PX_PER_MM: Final = 6.0
FOREST: Final = "cells"
FOREST_AGAIN: Final = "cells_again"
HOPELESS_ODDS: Final = -4.0  # of the first look: what is as unlikely is not looked at again
ACCEPT: Final = -0.75  # log odds; where F1 is flat on the shared panels and on held-out ones of our own
HALF: Final = 0.5  # of a cell that is mirrored at a round panel's rim lies on the panel
HOPELESS: Final = 0.5  # of an outline on better ones: no rim is moved that far, so it is not looked at more closely
LEAST_LIKELY: Final = -2.5  # log odds down to which a candidate that was passed over may still be a cell
LUCK: Final = 2.0  # times the scatter of independent chances: a panel's chances err together (held-out panels of the painter, docs/measuring.md)
ROUND_MM: Final = 0.7  # so far round a cell there is paint,
BY_BASE: Final = 0.15  # but on so much of that: what stands in bare base, or hangs on the ragged edge of a pour, is a splash or a band's end
TOUCHING_MM: Final = 0.4
SMOOTH_MM: Final = 0.10
MOST: Final = 65_535  # labels are sixteen bits
OUTLINE_POINTS: Final = 36


@dataclass(frozen=True, slots=True, kw_only=True)
class Cell:
    """One cell in mm of the panel."""

    x_mm: float
    y_mm: float
    area_mm2: float
    diameter_mm: float
    circularity: float
    elongation: float
    outline_mm: tuple[tuple[float, float], ...]
    sureness: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Cells:
    """Cells of a panel, largest first, their label image at the panel's scale (in that order, from 1), and the pinholes' number."""

    items: tuple[Cell, ...]
    labels: Labels
    pinholes: int
    touching_fraction: float
    count_sd: float
    """How far the count may be off by the reader's own doubt of each cell, and of candidates that it passed over (standard deviation)."""
    passed_over: tuple[float, ...] = ()
    """Chances of those candidates."""


def candidates(lab: Lab, centres: Floats, px_per_mm: float, maps: Maps, report: Report = silent) -> tuple[Outlines, Features, Features]:
    """Candidates of a panel at the scale of `lab`, what each looks like, shape (n, 69), and its colours within and beyond the rim, shape (n, 6)."""
    smooth = np.asarray(cv2.GaussianBlur(lab, (0, 0), SMOOTH_MM * px_per_mm), np.float32)
    drawn = find_outlines(smooth, centres, px_per_mm, report)
    size = (lab.shape[1], lab.shape[0])
    inside, border = (np.asarray(cv2.resize(m, size, interpolation=cv2.INTER_LINEAR), np.float32) for m in (maps.inside, maps.border))
    bodies, own = find_bodies(inside, border, px_per_mm)
    nearby = beside_nearby(maps.border, MAPS_PX_PER_MM)
    flooded = find_basins(nearby, MAPS_PX_PER_MM, size)
    every = (drawn, bodies, flooded)
    found = Outlines(
        contours=[c for some in every for c in some.contours],
        shape=np.concatenate([some.shape for some in every]),
        votes=np.concatenate([some.votes for some in every]),
    )
    if not found.contours:
        return found, np.zeros((0, looks.COLUMNS), np.float32), np.zeros((0, 6), np.float32)
    source = np.repeat([0.0, 1.0, 2.0], [len(some.contours) for some in every])[:, None]
    rims = looks.Rims.of(found)
    by_colour = looks.by_colour(smooth, rims, len(centres), px_per_mm)
    by_network = looks.by_network(maps, own, nearby, rims, px_per_mm)
    return found, np.concatenate([by_colour, by_network, source], axis=1).astype(np.float32), looks.colours(smooth, rims, px_per_mm)


def judged(found: Outlines, features: Features, colours: Features, film: Mask, px_per_mm: float) -> Floats:
    """Log odds of each candidate: by its looks at first, and for all that are not hopeless again by those among which it stands."""
    odds = trees.scores(FOREST, features)[:, 0]
    again = np.flatnonzero(odds > HOPELESS_ODDS)
    if len(again):
        beside = company(found, colours, odds, film, px_per_mm)
        odds[again] = trees.scores(FOREST_AGAIN, np.concatenate([features, beside], axis=1)[again])[:, 0]
    return odds


def find_cells(lab: Lab, centres: Floats, px_per_mm: float, film: Mask, maps: Maps, *, face: Mask | None = None, report: Report = silent) -> Cells:
    """Cells of a rectified panel.

    Parameters
    ----------
    lab : ndarray, shape (rows, columns, 3)
        CIELAB of the rectified panel.
    centres : ndarray, shape (n, 3)
        Its colour modes.
    film : ndarray of bool
        Where there is paint; satellites of the pour on bare base are no cells.
    maps : Maps
        What the network saw of the panel.
    face : ndarray of bool, optional
        Of a round panel: the paint beyond its rim is a mirror image, and a cell that reaches there ends at the rim.
    """
    k = min(CELL_PX_PER_MM, px_per_mm)
    shrink = k / px_per_mm
    small = cv2.resize(lab, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA) if shrink < 1.0 else lab
    k = small.shape[1] / lab.shape[1] * px_per_mm
    cover = cv2.resize(film.astype(np.uint8), (small.shape[1], small.shape[0]), interpolation=cv2.INTER_NEAREST)
    found, features, colours = candidates(np.asarray(small, np.float32), centres, k, maps, report)
    odds = judged(found, features, colours, cover > 0, k)
    placed = _Placed(film=film, face=face, px_per_mm=px_per_mm)
    tried = odds < ACCEPT
    while likely := _untried(found, odds, tried, placed.taken(cover.shape)):  # what a surer one hides that turns out to be none has its turn, too
        tried[likely] = True
        for i, outline in zip(likely, drawn_anew([found.contours[i] for i in likely], k, lab, px_per_mm, maps), strict=True):
            placed.put(outline, float(odds[i]))
    doubts = _passed_over(found, odds, placed.taken(cover.shape), k)
    return told(placed.items, placed.labels, placed.pinholes, [float(1 / (1 + np.exp(-o))) for o in doubts], px_per_mm)


def told(items: Sequence[Cell], labels: Labels, pinholes: int, passed_over: Sequence[float], px_per_mm: float) -> Cells:
    """What there is to say of cells; `labels` are numbered from 1 in their order, and may hold others, which are none."""
    order = sorted(range(len(items)), key=lambda i: -items[i].area_mm2)
    table = np.zeros(max(len(items), int(labels.max(initial=0))) + 1, np.uint16)
    table[np.array(order, np.int64) + 1] = np.arange(1, len(items) + 1)
    numbers = told_of(labels, table)
    return Cells(
        items=tuple(items[i] for i in order),
        labels=numbers,
        pinholes=pinholes,
        touching_fraction=touching_share(numbers, len(items), px_per_mm),
        count_sd=count_sd([*(c.sureness for c in items), *passed_over]),
        passed_over=tuple(passed_over),
    )


class _Placed:
    """Cells of a panel, put there one after the other, the surest first."""

    def __init__(self, *, film: Mask, face: Mask | None, px_per_mm: float) -> None:
        bare = ~film if face is None else ~film & face
        self._film, self._face, self._k = film, face, px_per_mm
        self._base = bare if bare.any() else None
        self.labels: Labels = np.zeros(film.shape, np.uint16)
        self.items: list[Cell] = []
        self._small = np.zeros(film.shape, bool)
        self.pinholes = 0

    def taken(self, shape: tuple[int, ...]) -> Mask:
        """Where cells and pinholes are, in a smaller picture."""
        here = ((self.labels > 0) | self._small).astype(np.uint8)
        return np.asarray(cv2.resize(here, (shape[1], shape[0]), interpolation=cv2.INTER_NEAREST) > 0)

    def put(self, outline: Outline, odds: float) -> None:
        """Put a cell where this outline in mm is, unless it is none there: bare, at the base, another's, off a round face or too small."""
        window, inside = enclosed(outline, self._k, self.labels.shape)
        if self._face is not None:
            there = inside & self._face[window]
            if np.count_nonzero(there) < HALF * np.count_nonzero(inside):  # the image, not the cell
                return
            if not np.array_equal(there, inside):
                inside, outline = there, traced(there, window, self._k)
        pixels = int(np.count_nonzero(inside))
        if not pixels or self._film[window][inside].mean() < ON_FILM:
            return
        if self._base is not None and _beside(self._base, window, inside, self._k) > BY_BASE:
            return
        others = np.bincount(self.labels[window][inside])
        if others[1:].sum() > OVERLAP * pixels:
            return
        if any(n > OVERLAP * self.items[j].area_mm2 * self._k**2 for j, n in enumerate(others[1:]) if n):
            return
        free = inside & (self.labels[window] == 0)
        cell = _cell(outline, np.count_nonzero(free) / pixels, odds)
        if cell.diameter_mm < LEAST_MM:
            self._small[window] |= inside
            self.pinholes += 1
        elif len(self.items) < MOST:
            self.items.append(cell)
            self.labels[window][free] = len(self.items)


def _untried(found: Outlines, odds: Floats, tried: Mask, taken: Mask) -> list[int]:
    """Candidates that do not lie mostly on what is taken or on surer ones, the surest first."""
    taken = taken.copy()
    likely: list[int] = []
    for i in np.argsort(-odds, kind="stable"):
        if tried[i]:
            continue
        window, inside = filled(found.contours[i])
        if np.count_nonzero(taken[window] & inside) <= HOPELESS * np.count_nonzero(inside):
            taken[window] |= inside
            likely.append(int(i))
    return likely


def _passed_over(found: Outlines, odds: Floats, taken: Mask, k: float) -> list[float]:
    """Log odds of candidates that are no cells and may be some, one a place, where none is."""
    passed = np.zeros(taken.shape, bool)
    doubts: list[float] = []
    for i in np.argsort(-odds, kind="stable"):
        if odds[i] >= ACCEPT or np.sqrt(found.shape[i, 2] * 4 / np.pi) / k < LEAST_MM:
            continue
        if odds[i] < LEAST_LIKELY:
            break
        window, inside = filled(found.contours[i])
        pixels = np.count_nonzero(inside)
        if np.count_nonzero(taken[window] & inside) <= HOPELESS * pixels and np.count_nonzero(passed[window] & inside) <= OVERLAP * pixels:
            passed[window] |= inside
            doubts.append(float(odds[i]))
    return doubts


def count_sd(chances: list[float]) -> float:
    """Standard deviation of how many of some candidates are cells: the law of independent chances, sum p (1 - p), times `LUCK`."""
    p = np.asarray(chances, np.float64)
    return float(LUCK * np.sqrt((p * (1.0 - p)).sum()))


def _beside(base: Mask, window: tuple[slice, slice], inside: Mask, k: float) -> float:
    """Share of what lies close round a cell that is bare base."""
    reach = round(ROUND_MM * k)
    rows, columns = (slice(max(s.start - reach, 0), s.stop + reach) for s in window)
    near = base[rows, columns]
    if not near.any():
        return 0.0
    body = np.zeros(near.shape, np.uint8)
    top, left = window[0].start - rows.start, window[1].start - columns.start
    body[top : top + inside.shape[0], left : left + inside.shape[1]] = inside
    ring = cv2.dilate(body, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * reach + 1, 2 * reach + 1))) > body
    return float(near[ring].mean())


def _cell(outline: Outline, free: float, odds: float) -> Cell:
    """What an outline in mm encloses, of which a share is no other cell's."""
    shape = shape_of(outline[:, None])
    (x, y), whole, perimeter, elongation = outline.mean(axis=0), 0.0, 1.0, 1.0
    if shape is not None:
        x, y, whole, perimeter, _, _, elongation = shape
    area = whole * free
    keep = max(1, len(outline) // OUTLINE_POINTS)
    return Cell(
        x_mm=float(x),
        y_mm=float(y),
        area_mm2=float(area),
        diameter_mm=float(np.sqrt(4 * area / np.pi)),
        circularity=float(min(1.0, 4 * np.pi * area / perimeter**2)),
        elongation=float(elongation),
        outline_mm=tuple((round(float(p[0]), 2), round(float(p[1]), 2)) for p in outline[::keep]),
        sureness=float(1 / (1 + np.exp(-odds))),
    )


def touching_share(labels: Labels, count: int, k: float) -> float:
    """Share of cells with another one within `TOUCHING_MM` of their rim."""
    if count == 0:
        return 0.0
    reach = int(TOUCHING_MM * k) + 1  # so many pixels from the last of one to the first of the next, where the gap is as wide
    pairs = [(labels[:, :-reach], labels[:, reach:]), (labels[:-reach], labels[reach:])]
    met: set[int] = set()
    for a, b in pairs:
        differ = (a > 0) & (b > 0) & (a != b)
        met.update(np.unique(a[differ]).tolist())
        met.update(np.unique(b[differ]).tolist())
    return len(met) / count
