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
from dribbet.sight.company import LEAST_MM, ON_FILM, OVERLAP, company
from dribbet.sight.instances import beside_nearby, find_basins, find_bodies
from dribbet.sight.network import MAPS_PX_PER_MM
from dribbet.sight.outlines import Outlines, filled, find_outlines
from dribbet.sight.rims import at_half_step

if TYPE_CHECKING:
    import numpy.typing as npt

    from dribbet.sight.arrays import Lab, Labels, Mask
    from dribbet.sight.network import Maps

    Floats = npt.NDArray[np.float64]
    Features = npt.NDArray[np.float32]

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
    """Cells of a panel, largest first, their label image at the panel's scale, and the pinholes' number."""

    items: tuple[Cell, ...]
    labels: Labels
    pinholes: int
    touching_fraction: float
    count_sd: float
    """How far the count may be off by the reader's own doubt of each cell, and of candidates that it passed over (standard deviation)."""


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
    there = None if face is None else cv2.resize(face.astype(np.uint8), (small.shape[1], small.shape[0]), interpolation=cv2.INTER_NEAREST) > 0
    bare = cover == 0 if there is None else (cover == 0) & there
    base = bare if bare.any() else None
    found, features, colours = candidates(np.asarray(small, np.float32), centres, k, maps, report)
    odds = judged(found, features, colours, cover > 0, k)
    fine = np.ascontiguousarray(small, dtype=np.float32)
    labels = np.zeros(small.shape[:2], np.uint16)
    items: list[Cell] = []
    pinholes = 0
    passed = np.zeros(small.shape[:2], bool)
    doubts: list[float] = []
    for i in np.argsort(-odds, kind="stable"):
        if odds[i] < LEAST_LIKELY:
            break
        window, inside = filled(found.contours[i])
        if np.count_nonzero(labels[window][inside]) > HOPELESS * np.count_nonzero(inside):
            continue
        if odds[i] < ACCEPT:  # no cell; how likely one is missed here
            wide = np.sqrt(found.shape[i, 2] * 4 / np.pi) / k
            if wide >= LEAST_MM and np.count_nonzero(passed[window] & inside) <= OVERLAP * np.count_nonzero(inside):
                passed[window] |= inside
                doubts.append(float(odds[i]))
            continue
        outline = at_half_step(fine, found.contours[i], k)
        window, inside = filled(np.round(outline).astype(np.int32))
        if there is not None:
            whole, inside = inside, inside & there[window]
            if np.count_nonzero(inside) < HALF * np.count_nonzero(whole):  # the image, not the cell
                continue
            if not np.array_equal(inside, whole):
                outline = _traced(inside, window)
        pixels = int(inside.sum())
        if cover[window][inside].mean() < ON_FILM or (base is not None and _beside(base, window, inside, k) > BY_BASE):
            continue
        taken = labels[window][inside]
        if np.count_nonzero(taken) > OVERLAP * pixels:
            continue
        other = np.bincount(taken)[1:]
        if other.size and any(n > OVERLAP * items[j].area_mm2 * k * k for j, n in enumerate(other) if n):
            continue
        if np.sqrt(4 * pixels / np.pi) / k < LEAST_MM:
            pinholes += 1
            continue
        free = inside & (labels[window] == 0)
        if len(items) < MOST:
            labels[window][free] = len(items) + 1
            items.append(_cell(found, int(i), outline, float(free.sum()), k, float(odds[i])))
    full = cv2.resize(labels, (lab.shape[1], lab.shape[0]), interpolation=cv2.INTER_NEAREST)
    return Cells(
        items=tuple(sorted(items, key=lambda c: -c.area_mm2)),
        labels=np.asarray(full, dtype=np.uint16),
        pinholes=pinholes,
        touching_fraction=touching_share(labels, len(items), k),
        count_sd=count_sd([c.sureness for c in items] + [1 / (1 + np.exp(-o)) for o in doubts]),
    )


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


def _traced(inside: Mask, window: tuple[slice, slice]) -> npt.NDArray[np.float32]:
    """Outline of what is enclosed in a window, px of the whole picture."""
    lines, _ = cv2.findContours(inside.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE, offset=(window[1].start, window[0].start))
    return np.asarray(max(lines, key=len), np.float32)


def _cell(found: Outlines, i: int, contour: npt.NDArray[np.float32], pixels: float, k: float, odds: float) -> Cell:
    m = cv2.moments(contour)
    x, y = (m["m10"] / m["m00"], m["m01"] / m["m00"]) if m["m00"] > 0.0 else found.shape[i, :2]
    elongation = found.shape[i, 6]
    perimeter = cv2.arcLength(contour, True)
    area = pixels / k**2
    outer = perimeter / k + np.pi / k * 0.5
    keep = max(1, len(contour) // OUTLINE_POINTS)
    outline = tuple((round((p[0] + 0.5) / k, 2), round((p[1] + 0.5) / k, 2)) for p in contour[::keep, 0].tolist())
    return Cell(
        x_mm=float((x + 0.5) / k),
        y_mm=float((y + 0.5) / k),
        area_mm2=float(area),
        diameter_mm=float(np.sqrt(4 * area / np.pi)),
        circularity=float(min(1.0, 4 * np.pi * area / outer**2)),
        elongation=float(elongation),
        outline_mm=outline,
        sureness=float(1 / (1 + np.exp(-odds))),
    )


def touching_share(labels: Labels, count: int, k: float) -> float:
    """Share of cells with another one within `TOUCHING_MM` of their rim."""
    if count == 0:
        return 0.0
    reach = max(1, round(TOUCHING_MM * k))
    pairs = [(labels[:, :-reach], labels[:, reach:]), (labels[:-reach], labels[reach:])]
    met: set[int] = set()
    for a, b in pairs:
        differ = (a > 0) & (b > 0) & (a != b)
        met.update(np.unique(a[differ]).tolist())
        met.update(np.unique(b[differ]).tolist())
    return len(met) / count
