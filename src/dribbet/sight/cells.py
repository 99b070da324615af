"""Cells: closed, mostly convex regions of one colour inside another, ring included, 1 mm and up.

Candidates come from `outlines`; each is judged by shape, by how many thresholds agree, and by the colours just inside,
just outside and further beyond its rim; overlapping ones are settled by the better score.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.records import Report, silent
from dribbet.sight import trees
from dribbet.sight.outlines import Outlines, find_outlines, rim_points
from dribbet.sight.rims import at_half_step

if TYPE_CHECKING:
    import numpy.typing as npt

    from dribbet.sight.arrays import Lab, Labels, Mask

    Floats = npt.NDArray[np.float64]
    Features = npt.NDArray[np.float32]

CELL_PX_PER_MM: Final = 6.0
LEAST_MM: Final = 1.0
FOREST: Final = "cells"
ACCEPT: Final = -0.6  # log odds; where F1 is flat on held-out panels of our own
OVERLAP: Final = 0.25  # of the smaller one
RING_CENTRE: Final = 0.15  # of the diameter
RING_AREA: Final = (1.06, 2.2)
RING_ODDS: Final = 2.0  # an outline round the best one may be so much less sure and still be its ring
TOUCHING_MM: Final = 0.4
RIM_MM: Final = (-0.45, 0.30, 0.90)  # inside the rim, just outside, beyond


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


def describe(lab: Lab, found: Outlines, centres: Floats, px_per_mm: float) -> Features:
    """Features of each candidate, shape (n, 29): shape, votes, colours along the rim. Order matters to the forest."""
    x, y, area, perimeter, solid, fit, elongation = found.shape.T
    diameter = np.sqrt(area * 1.2732)
    circularity = 12.566 * area / np.maximum(perimeter, 1.0) ** 2
    rim = rim_points(found.contours)
    middle = np.stack([x, y], axis=1)[:, None, :]
    outward = rim - middle
    outward /= np.maximum(np.linalg.norm(outward, axis=2, keepdims=True), 1e-6)
    colours = []
    for away in RIM_MM:
        place = np.round(rim + outward * away * px_per_mm).astype(int)
        place[..., 0] = place[..., 0].clip(0, lab.shape[1] - 1)
        place[..., 1] = place[..., 1].clip(0, lab.shape[0] - 1)
        colours.append(lab[place[..., 1], place[..., 0]])
    inside, outside, beyond = colours
    step = np.linalg.norm(inside - outside, axis=2)
    mean_out = outside.mean(axis=1)
    spread_in = np.linalg.norm(inside - inside.mean(axis=1, keepdims=True), axis=2).mean(axis=1)
    spread_out = np.linalg.norm(outside - mean_out[:, None], axis=2).mean(axis=1)
    spread_far = np.linalg.norm(beyond - beyond.mean(axis=1, keepdims=True), axis=2).mean(axis=1)
    median_out = np.median(outside, axis=1)
    near_out = np.mean(np.linalg.norm(outside - median_out[:, None], axis=2) < 10.0, axis=1)
    median_in = np.median(inside, axis=1)
    near_in = np.mean(np.linalg.norm(inside - median_in[:, None], axis=2) < 10.0, axis=1)
    core = lab[y.round().astype(int).clip(0, lab.shape[0] - 1), x.round().astype(int).clip(0, lab.shape[1] - 1)]
    border = np.min(np.stack([x, y, lab.shape[1] - 1 - x, lab.shape[0] - 1 - y]), axis=0) - diameter / 2
    rivals = _rivals(x, y, area, diameter)
    # A mesh of a web holds the same paint inside and beyond its rim, with a thin line between; a cell seldom does.
    through = np.linalg.norm(inside - beyond, axis=2)
    thin = np.mean((step > 6.0) & (np.linalg.norm(outside - beyond, axis=2) > 6.0) & (through < 8.0), axis=1)
    lines_near, lines_all = _thin_lines(lab, x, y, px_per_mm)
    size = diameter / px_per_mm
    per_dm2 = len(x) / (lab.shape[0] * lab.shape[1] / (px_per_mm * 100) ** 2)
    columns = [
        np.log(size),
        circularity,
        solid,
        fit,
        elongation,
        found.votes[:, 0],
        found.votes[:, 1],
        np.median(step, axis=1),
        np.percentile(step, 10, axis=1),
        np.mean(step > 6.0, axis=1),
        spread_in,
        spread_out,
        spread_far,
        near_in,
        near_out,
        np.linalg.norm(outside.mean(axis=1) - beyond.mean(axis=1), axis=1),
        np.linalg.norm(core - median_in, axis=1),
        np.linalg.norm(core - median_out, axis=1),
        median_in[:, 0] - median_out[:, 0],
        border / px_per_mm,
        rivals[:, 0],
        rivals[:, 1],
        np.full(len(x), np.log(per_dm2 + 1.0)),
        np.full(len(x), float(len(centres))),
        np.linalg.norm(median_in - np.median(beyond, axis=1), axis=1),
        np.median(through, axis=1),
        thin,
        lines_near,
        np.full(len(x), lines_all),
    ]
    return np.stack(columns, axis=1).astype(np.float32)


def _rivals(x: Floats, y: Floats, area: Floats, diameter: Floats) -> Floats:
    """How crowded each place is with rival outlines, and how much larger the next one round it is; shape (n, 2)."""
    rivals = np.zeros((len(x), 2))
    order = np.argsort(x)
    sorted_x, sorted_y, sorted_area = x[order], y[order], area[order]
    first = np.searchsorted(sorted_x, x - diameter / 2, side="left")
    last = np.searchsorted(sorted_x, x + diameter / 2, side="right")
    for i in range(len(x)):
        window = slice(first[i], last[i])
        near = (sorted_x[window] - x[i]) ** 2 + (sorted_y[window] - y[i]) ** 2 <= (diameter[i] / 2) ** 2
        ratio = sorted_area[window][near] / area[i]
        larger = ratio[(ratio > 1.15) & (ratio < 4.0)]
        rivals[i] = len(ratio), larger.max() if larger.size else 1.0
    return rivals


def _thin_lines(lab: Lab, x: Floats, y: Floats, px_per_mm: float) -> tuple[Floats, float]:
    """Share of thin lines of either polarity round each place, and on the whole panel."""
    size = max(3, round(0.9 * px_per_mm) | 1)
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size))
    lightness = np.ascontiguousarray(lab[..., 0])
    thin = np.maximum(cv2.morphologyEx(lightness, cv2.MORPH_TOPHAT, kernel), cv2.morphologyEx(lightness, cv2.MORPH_BLACKHAT, kernel)) > 8.0
    window = (max(3, round(10.0 * px_per_mm) | 1),) * 2
    share = cv2.blur(thin.astype(np.float32), window)
    rows, columns = y.round().astype(int).clip(0, lab.shape[0] - 1), x.round().astype(int).clip(0, lab.shape[1] - 1)
    return np.asarray(share[rows, columns], dtype=np.float64), float(thin.mean())


def candidates(lab: Lab, centres: Floats, px_per_mm: float, report: Report = silent) -> tuple[Outlines, Features]:
    """Candidates of a panel with their features, at the scale of `lab`."""
    smooth = cv2.GaussianBlur(lab, (0, 0), 0.10 * px_per_mm)
    found = find_outlines(np.asarray(smooth, np.float32), centres, px_per_mm, report)
    return found, describe(np.asarray(smooth, np.float32), found, centres, px_per_mm) if len(found.contours) else np.zeros((0, 29), np.float32)


def _by_rules(features: Features) -> Floats:
    """Log odds without a forest: round, solid, a step of colour along the whole rim, one colour outside."""
    return np.asarray(
        8.0 * (features[:, 1] - 0.8) + 12.0 * (features[:, 3] - 0.97) + 3.0 * (features[:, 9] - 0.9) + 2.0 * (features[:, 14] - 0.7), float
    )


def find_cells(lab: Lab, centres: Floats, px_per_mm: float, film: Mask, report: Report = silent) -> Cells:
    """Cells of a rectified panel.

    Parameters
    ----------
    lab : ndarray, shape (rows, columns, 3)
        CIELAB of the rectified panel.
    centres : ndarray, shape (n, 3)
        Its colour modes.
    film : ndarray of bool
        Where there is paint; satellites of the pour on bare base are no cells.
    """
    k = min(CELL_PX_PER_MM, px_per_mm)
    shrink = k / px_per_mm
    small = cv2.resize(lab, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA) if shrink < 1.0 else lab
    k = small.shape[1] / lab.shape[1] * px_per_mm
    cover = cv2.resize(film.astype(np.uint8), (small.shape[1], small.shape[0]), interpolation=cv2.INTER_NEAREST)
    found, features = candidates(np.asarray(small, np.float32), centres, k, report)
    odds = trees.scores(FOREST, features)[:, 0] if trees.exists(FOREST) else _by_rules(features)
    fine = np.ascontiguousarray(small, dtype=np.float32)
    labels = np.zeros(small.shape[:2], np.uint16)
    items: list[Cell] = []
    pinholes = 0
    paper = cv2.morphologyEx(cover, cv2.MORPH_OPEN, np.ones((3, 3), np.uint8))
    for i in np.argsort(-odds):
        if odds[i] < ACCEPT:
            break
        i = _with_ring(found.shape, odds, int(i))
        outline = at_half_step(fine, found.contours[i], k)
        contour = np.round(outline).astype(np.int32)
        left, top, width, height = cv2.boundingRect(contour)
        window = np.s_[top : top + height, left : left + width]
        blob = np.zeros((height, width), np.uint8)
        cv2.drawContours(blob, [contour], -1, 1, -1, offset=(-left, -top))
        inside = blob.astype(bool)
        pixels = int(inside.sum())
        if paper[window][inside].mean() < 0.95:
            continue
        taken = labels[window][inside]
        if np.count_nonzero(taken) > OVERLAP * pixels:
            continue
        other = np.bincount(taken)[1:]
        if other.size and any(n > OVERLAP * items[j].area_mm2 * k * k for j, n in enumerate(other) if n):
            continue
        diameter = float(np.sqrt(4 * pixels / np.pi) / k)
        if diameter < LEAST_MM:
            pinholes += 1
            continue
        free = inside & (labels[window] == 0)
        if len(items) < 65535:
            labels[window][free] = len(items) + 1
            items.append(_cell(found, int(i), outline, float(free.sum()), k, float(odds[i])))
    full = cv2.resize(labels, (lab.shape[1], lab.shape[0]), interpolation=cv2.INTER_NEAREST)
    return Cells(
        items=tuple(sorted(items, key=lambda c: -c.area_mm2)),
        labels=np.asarray(full, dtype=np.uint16),
        pinholes=pinholes,
        touching_fraction=touching_share(labels, len(items), k),
    )


def _with_ring(shape: Floats, odds: Floats, i: int) -> int:
    """Return the candidate that holds the ring of candidate i too: a cell is fill and ring; i itself where there is none."""
    x, y, area = shape[i, :3]
    near = np.hypot(shape[:, 0] - x, shape[:, 1] - y) < RING_CENTRE * np.sqrt(area * 1.2732)
    ratio = shape[:, 2] / area
    round_it = near & (ratio > RING_AREA[0]) & (ratio < RING_AREA[1]) & (odds > max(ACCEPT, odds[i] - RING_ODDS))
    return int(np.flatnonzero(round_it)[np.argmax(shape[round_it, 2])]) if round_it.any() else i


def _cell(found: Outlines, i: int, contour: npt.NDArray[np.float32], pixels: float, k: float, odds: float) -> Cell:
    x, y, _, _, _, _, elongation = found.shape[i]
    perimeter = cv2.arcLength(contour, True)
    area = pixels / k**2
    outer = perimeter / k + np.pi / k * 0.5
    keep = max(1, len(contour) // 36)
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
