"""Moves an outline to where the colour step along it is half done: a threshold's contour lies at the foot or the top of it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

if TYPE_CHECKING:
    import numpy.typing as npt

    from dribbet.sight.arrays import Lab

    Contour = npt.NDArray[np.int32]
    Outline = npt.NDArray[np.float32]

POINTS: Final = 48
REACH_MM: Final = 0.75
PLATEAU_MM: Final = (0.40, 0.75)  # the two colours are read this far to either side
LEAST_STEP: Final = 8.0  # delta E below which a point of the rim tells nothing
MOST_SHIFT_MM: Final = 0.5
MOST_SHIFT: Final = 0.06  # of the width: what would move a rim further is a neighbour's step
LEAST_TELLING: Final = 0.4  # share of the rim that must tell


def at_half_step(lab: Lab, contour: Contour, px_per_mm: float) -> Outline:
    """Return the outline at half height of the colour step along its rim; unchanged where too little of it tells.

    Parameters
    ----------
    lab : ndarray, shape (rows, columns, 3)
        CIELAB, lightly smoothed or not.
    contour : ndarray, shape (n, 1, 2)
        Closed outline in px.
    """
    plain: Outline = contour.astype(np.float32)
    if len(contour) < 12:
        return plain
    rim = contour[(np.arange(POINTS) * len(contour) / POINTS).astype(int), 0].astype(np.float64)
    along = np.roll(rim, -2, axis=0) - np.roll(rim, 2, axis=0)
    outward = np.stack([along[:, 1], -along[:, 0]], axis=1)
    outward /= np.maximum(np.linalg.norm(outward, axis=1, keepdims=True), 1e-6)
    if np.sum(outward * (rim - rim.mean(axis=0))) < 0.0:
        outward = -outward
    steps = np.linspace(-REACH_MM, REACH_MM, 25)
    places = rim[:, None] + outward[:, None] * (steps * px_per_mm)[None, :, None]
    seen = cv2.remap(lab, places[..., 0].astype(np.float32), places[..., 1].astype(np.float32), cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    near, far = PLATEAU_MM
    inside = np.median(seen[:, (steps <= -near) & (steps >= -far)], axis=1)
    outside = np.median(seen[:, (steps >= near) & (steps <= far)], axis=1)
    step = outside - inside
    size = np.linalg.norm(step, axis=1)
    share = ((seen - inside[:, None]) * step[:, None]).sum(axis=2) / np.maximum(size, 1e-6)[:, None] ** 2
    shift = _crossing(share, steps)
    telling = (size > LEAST_STEP) & np.isfinite(shift)
    if telling.mean() < LEAST_TELLING:
        return plain
    index = np.arange(POINTS)
    known = np.flatnonzero(telling)
    wrapped = np.concatenate([known - POINTS, known, known + POINTS])
    full = np.interp(index, wrapped, np.tile(shift[known], 3))
    smooth = np.median(np.stack([np.roll(full, s) for s in (-2, -1, 0, 1, 2)]), axis=0)
    most = min(MOST_SHIFT_MM, MOST_SHIFT * np.sqrt(cv2.contourArea(contour) * 4 / np.pi) / px_per_mm)
    moved = rim + outward * (np.clip(smooth, -most, most) * px_per_mm)[:, None]
    moved = moved.clip(0, [lab.shape[1] - 1, lab.shape[0] - 1])
    outline: Outline = moved.astype(np.float32).reshape(-1, 1, 2)
    return outline


def _crossing(share: npt.NDArray[np.float64], steps: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
    """Place of the half step nearest to the outline, in mm outwards; NaN where there is none."""
    below, above = share[:, :-1], share[:, 1:]
    crosses = (below < 0.5) & (above >= 0.5)
    place = steps[None, :-1] + (0.5 - below) / np.where(crosses, above - below, 1.0) * (steps[1] - steps[0])
    distance = np.where(crosses, np.abs(place), np.inf)
    best = distance.argmin(axis=1)
    rows = np.arange(len(share))
    found: npt.NDArray[np.float64] = np.where(np.isfinite(distance[rows, best]), place[rows, best], np.nan)
    return found
