"""Closed outlines that could be cells: contours from many thresholds, grouped where they agree."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.records import Report, silent
from dribbet.sight.arrays import magnitude

if TYPE_CHECKING:
    from collections.abc import Callable

    import numpy.typing as npt

    from dribbet.sight.arrays import Lab, Mask, Plane

    Floats = npt.NDArray[np.float64]

LEAST_MM: Final = 0.85
MOST_MM: Final = 30.0
LEVELS: Final = 9  # thresholds on each of L, a, b
MODE_STEPS: Final = (7.0, 12.0, 18.0, 26.0)  # delta E round each of the panel's colour modes
RIM_POINTS: Final = 40
SAME_CENTRE: Final = 0.18  # of the diameter
SAME_AREA: Final = 1.25
MOST_LONG: Final = 5.0
LEAST_FIT: Final = 0.88
LEAST_SOLID: Final = 0.82


@dataclass(frozen=True, slots=True, kw_only=True)
class Outlines:
    """Grouped candidates: one outline each (px) with what is known of its shape and of how often it came back."""

    contours: list[npt.NDArray[np.int32]]
    shape: Floats
    """Columns: centre x, centre y, area, perimeter, solidity, ellipse fit, elongation (px)."""
    votes: Floats
    """Columns: number of thresholds, number of planes."""


def _planes(lab: Lab, centres: Floats) -> list[tuple[Callable[[], Plane], list[float]]]:
    """What is cut and where; each plane is made when its turn comes, because all of them together are a hundred megabytes of a large panel."""
    planes: list[tuple[Callable[[], Plane], list[float]]] = []
    step = max(1, lab.shape[0] * lab.shape[1] // 60_000)
    sample = lab.reshape(-1, 3)[::step]
    for channel in range(3):
        low, high = np.percentile(sample[:, channel], [1.0, 99.0])
        if high - low > 6.0:
            cuts = np.linspace(low, high, LEVELS + 2)[1:-1]
            planes.append((partial(_channel, lab, channel), [float(c) for c in cuts]))
    planes += [(partial(_away, lab, centre.astype(np.float32)), list(MODE_STEPS)) for centre in centres[:6]]
    return planes


def _channel(lab: Lab, channel: int) -> Plane:
    return np.ascontiguousarray(lab[..., channel])


def _away(lab: Lab, centre: npt.NDArray[np.float32]) -> Plane:
    return np.asarray(magnitude(lab - centre))


def find_outlines(lab: Lab, centres: Floats, px_per_mm: float, report: Report = silent) -> Outlines:
    """Candidate outlines of a panel.

    Parameters
    ----------
    lab : ndarray, shape (rows, columns, 3)
        CIELAB, lightly smoothed.
    centres : ndarray, shape (n, 3)
        The panel's colour modes.
    """
    least = np.pi / 4 * (LEAST_MM * px_per_mm) ** 2
    most = np.pi / 4 * (MOST_MM * px_per_mm) ** 2
    rows: list[tuple[float, ...]] = []
    contours: list[npt.NDArray[np.int32]] = []
    shortest, longest = int(LEAST_MM * px_per_mm * 2.0), int(MOST_MM * px_per_mm * 4.5)
    planes = _planes(lab, centres)
    for which, (made, cuts) in enumerate(planes):
        report(which, len(planes))
        plane = made()
        for cut in cuts:
            binary = (plane > cut).astype(np.uint8)
            found, _ = cv2.findContours(binary, cv2.RETR_LIST, cv2.CHAIN_APPROX_NONE)
            for contour in found:
                if not shortest <= len(contour) <= longest:
                    continue
                area = cv2.contourArea(contour)
                if not least <= area + 0.5 * len(contour) <= most or area * 12.566 < 0.3 * len(contour) ** 2:
                    continue
                shape = shape_of(contour)
                if shape is None or shape[6] > MOST_LONG or shape[5] < LEAST_FIT or shape[4] < LEAST_SOLID:
                    continue
                rows.append((*shape, which))
                contours.append(contour)
    if not rows:
        return Outlines(contours=[], shape=np.zeros((0, 7)), votes=np.zeros((0, 2)))
    return _grouped(np.array(rows), contours)


def _grouped(rows: Floats, contours: list[npt.NDArray[np.int32]]) -> Outlines:
    """One outline for all that share centre and area; the roundest of the larger half stands for the group."""
    order = np.argsort(-(rows[:, 5] * rows[:, 4]))
    cell = 24.0
    grid: dict[tuple[int, int], list[int]] = {}
    heads: list[int] = []
    members: list[list[int]] = []
    for i in order:
        x, y, area = rows[i, 0], rows[i, 1], rows[i, 2]
        reach = max(SAME_CENTRE * np.sqrt(area * 1.2732), 1.0)
        key = (int(x // cell), int(y // cell))
        joined = False
        for dy in (-1, 0, 1):
            for dx in (-1, 0, 1):
                for g in grid.get((key[0] + dx, key[1] + dy), ()):
                    h = heads[g]
                    ratio = rows[h, 2] / area
                    if 1 / SAME_AREA < ratio < SAME_AREA and abs(rows[h, 0] - x) < reach and abs(rows[h, 1] - y) < reach:
                        members[g].append(int(i))
                        joined = True
                        break
                if joined:
                    break
            if joined:
                break
        if not joined:
            grid.setdefault(key, []).append(len(heads))
            heads.append(int(i))
            members.append([int(i)])
    votes = np.array([(len(m), len(set(rows[m, 7]))) for m in members], dtype=np.float64)
    return Outlines(contours=[contours[h] for h in heads], shape=rows[heads, :7], votes=votes)


def shape_of(contour: npt.NDArray[np.int32 | np.float32]) -> tuple[float, ...] | None:
    """Centre x, centre y, area, perimeter, solidity, ellipse fit and elongation of an outline, in px; None where it holds no area."""
    m = cv2.moments(contour)
    area = m["m00"]
    if area <= 0.0:
        return None
    xx, yy, xy = m["mu20"] / area, m["mu02"] / area, m["mu11"] / area
    root = np.sqrt(max((xx - yy) ** 2 + 4 * xy * xy, 0.0))
    big, small = (xx + yy + root) / 2, (xx + yy - root) / 2
    if small <= 0.0:
        return None
    fit = area / (4 * np.pi * np.sqrt(big * small))
    solid = area / max(cv2.contourArea(cv2.convexHull(contour)), 1e-6)
    return m["m10"] / area, m["m01"] / area, area, cv2.arcLength(contour, True), solid, fit, float(np.sqrt(big / small))


def filled(contour: npt.NDArray[np.int32]) -> tuple[tuple[slice, slice], Mask]:
    """Where an outline lies, and what it encloses there."""
    left, top, width, height = cv2.boundingRect(contour)
    blob = np.zeros((height, width), np.uint8)
    cv2.drawContours(blob, [contour], -1, 1, -1, offset=(-left, -top))
    return np.s_[top : top + height, left : left + width], blob.astype(bool)


def rim_points(contours: list[npt.NDArray[np.int32]]) -> Floats:
    """Evenly picked points on each outline, shape (n, RIM_POINTS, 2)."""
    points = np.zeros((len(contours), RIM_POINTS, 2))
    for i, contour in enumerate(contours):
        pick = (np.arange(RIM_POINTS) * len(contour) / RIM_POINTS).astype(int)
        points[i] = contour[pick, 0]
    return points
