"""Cells: what opens in a film and shows another colour, ring included, 1 mm and up.

The network says where cells are (`network`), `instances` parts them; here each gets the outline along its own step of colour (`rims`), and figures.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.sight.cells import LEAST_MM, Cell, Cells, touching_share
from dribbet.sight.rims import at_half_step
from training.trial.instances import labels_of, means

if TYPE_CHECKING:
    import numpy.typing as npt

    from dribbet.sight.arrays import Lab, Mask
    from training.trial.network import Maps

    Outline = npt.NDArray[np.float32]

SURE: Final = 0.6  # mean chance of a cell's pixels, from which it is one
ON_FILM: Final = 0.9  # of a cell lies on paint: satellites of the pour on bare base are none
OUTLINE_POINTS: Final = 36
MOST: Final = 65_535


def find_cells(lab: Lab, maps: Maps, px_per_mm: float, film: Mask) -> Cells:
    """Cells of a rectified panel.

    Parameters
    ----------
    lab : ndarray, shape (rows, columns, 3)
        CIELAB of the rectified panel, at `px_per_mm`.
    maps : Maps
        What the network saw of it.
    film : ndarray of bool, shape (rows, columns)
        Where there is paint.
    """
    numbers, k = labels_of(maps)
    sure = means(numbers, cv2.resize(maps.inside, (numbers.shape[1], numbers.shape[0]), interpolation=cv2.INTER_LINEAR))
    cover = cv2.resize(film.astype(np.float32), (numbers.shape[1], numbers.shape[0]), interpolation=cv2.INTER_AREA)
    covered = means(numbers, cover)
    fine = lab
    if fine.shape[:2] != numbers.shape:
        fine = np.asarray(cv2.resize(lab, (numbers.shape[1], numbers.shape[0]), interpolation=cv2.INTER_AREA), np.float32)
    boxes = _boxes(numbers)
    found: list[tuple[Outline, float]] = []
    pinholes = 0
    for number, (left, top, wide, high) in boxes.items():
        if sure[number] < SURE or covered[number] < ON_FILM:
            continue
        piece = (numbers[top : top + high, left : left + wide] == number).astype(np.uint8)
        contours, _ = cv2.findContours(piece, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE, offset=(left, top))
        contour = max(contours, key=cv2.contourArea)
        if len(contour) < 5:
            pinholes += 1
            continue
        found.append((at_half_step(fine, contour, k), float(sure[number])))
    labels = np.zeros(numbers.shape, np.uint16)
    items: list[Cell] = []
    for outline, chance in sorted(found, key=lambda f: -cv2.contourArea(f[0])):
        drawn = _draw(outline, numbers.shape)
        if drawn is None:
            continue
        window, inside = drawn
        free = inside & (labels[window] == 0)
        if 4.0 * free.sum() / np.pi < (LEAST_MM * k) ** 2:
            pinholes += 1
            continue
        if len(items) < MOST:
            labels[window][free] = len(items) + 1
            items.append(_cell(outline, float(free.sum()), k, chance))
    full = cv2.resize(labels, (lab.shape[1], lab.shape[0]), interpolation=cv2.INTER_NEAREST)
    order = sorted(range(len(items)), key=lambda i: -items[i].area_mm2)
    return Cells(
        items=tuple(items[i] for i in order),
        labels=np.asarray(full, dtype=np.uint16),
        pinholes=pinholes,
        touching_fraction=touching_share(labels, len(items), k),
    )


def _boxes(numbers: npt.NDArray[np.int32]) -> dict[int, tuple[int, int, int, int]]:
    """Bounding box of each number: left, top, width, height."""
    rows, columns = np.nonzero(numbers)
    if not len(rows):
        return {}
    which = numbers[rows, columns]
    count = int(which.max()) + 1
    low = np.full((2, count), 1 << 30)
    high = np.zeros((2, count), np.int64)
    for axis, at in enumerate((columns, rows)):
        np.minimum.at(low[axis], which, at)
        np.maximum.at(high[axis], which, at)
    return {int(n): (int(low[0, n]), int(low[1, n]), int(high[0, n] - low[0, n]) + 1, int(high[1, n] - low[1, n]) + 1) for n in np.unique(which)}


def _draw(outline: Outline, shape: tuple[int, ...]) -> tuple[tuple[slice, slice], Mask] | None:
    """Window and pixels of an outline."""
    contour = np.round(outline).astype(np.int32)
    left, top, wide, high = cv2.boundingRect(contour)
    if wide < 2 or high < 2:
        return None
    blob = np.zeros((high, wide), np.uint8)
    cv2.drawContours(blob, [contour], -1, 1, -1, offset=(-left, -top))
    bottom, right = min(top + high, shape[0]), min(left + wide, shape[1])
    return np.s_[top:bottom, left:right], blob[: bottom - top, : right - left].astype(bool)


def _cell(outline: Outline, pixels: float, k: float, chance: float) -> Cell:
    moments = cv2.moments(outline)
    area_px = moments["m00"] or 1.0
    x, y = moments["m10"] / area_px, moments["m01"] / area_px
    spread = np.array([[moments["mu20"], moments["mu11"]], [moments["mu11"], moments["mu02"]]]) / area_px
    axes = np.sqrt(np.maximum(np.linalg.eigvalsh(spread), 1e-6))
    area = pixels / k**2
    outer = cv2.arcLength(outline, True) / k + np.pi / k * 0.5
    keep = max(1, len(outline) // OUTLINE_POINTS)
    return Cell(
        x_mm=float((x + 0.5) / k),
        y_mm=float((y + 0.5) / k),
        area_mm2=float(area),
        diameter_mm=float(np.sqrt(4 * area / np.pi)),
        circularity=float(min(1.0, 4 * np.pi * area / outer**2)),
        elongation=float(axes[1] / axes[0]),
        outline_mm=tuple((round((p[0] + 0.5) / k, 2), round((p[1] + 0.5) / k, 2)) for p in outline[::keep, 0].tolist()),
        sureness=chance,
    )
