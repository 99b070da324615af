"""Rims unrolled: what lies across the rim of each outline, as pictures in which the rim runs straight along the middle row."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Final

import cv2
import numpy as np

if TYPE_CHECKING:
    from collections.abc import Sequence

    import numpy.typing as npt

    from dribbet.sight.arrays import Lab
    from dribbet.sight.network import Maps

    Contour = npt.NDArray[Any]
    Floats = npt.NDArray[np.float32]

POINTS: Final = 32
"""Along the rim."""
ACROSS: Final = 32
"""From within to beyond."""
REACH: Final = 0.40  # of the shorter side to either side of the rim,
REACH_MM: Final = (0.45, 2.0)  # and no less and no more than this
EVENED: Final = 1 / 24  # of the rim's length, to either side: steps of single pixels are no corners
FINE: Final = 4  # points of an outline for each one of its rim
MOST_ROWS: Final = 30_000  # OpenCV maps no picture with more
SEEN: Final = ("inside", "border", "rim", "lacing", "bare")
CHANNELS: Final = 3 + len(SEEN)


@dataclass(frozen=True, slots=True, kw_only=True)
class Unrolled:
    """Rims of some outlines, in mm of the panel."""

    points: Floats
    """Shape (n, POINTS, 2)."""
    outward: Floats
    """Unit vectors, shape (n, POINTS, 2)."""
    reach: Floats
    """Shape (n,): how far each picture goes to either side."""

    @classmethod
    def of(cls, contours: Sequence[Contour], px_per_mm: float) -> Unrolled:
        """From closed outlines in px, shape (m, 1, 2) each."""
        points = np.empty((len(contours), POINTS, 2), np.float32)
        outward = np.empty_like(points)
        reach = np.empty(len(contours), np.float32)
        for i, contour in enumerate(contours):
            points[i], outward[i] = _evened((contour[:, 0].astype(np.float64) + 0.5) / px_per_mm)
            short = min(cv2.minAreaRect(contour)[1]) / px_per_mm
            reach[i] = np.clip(REACH * short, *REACH_MM)
        return cls(points=points, outward=outward, reach=reach)

    def at(self, offsets: Floats) -> Floats:
        """Places that lie so far outwards of each point, mm; `offsets` of shape (n, POINTS), as shares of the reach."""
        return np.asarray(self.points + self.outward * (offsets * self.reach[:, None])[..., None], np.float32)

    def places(self) -> Floats:
        """Of each pixel, mm, shape (n, ACROSS, POINTS, 2)."""
        steps = STEPS[None, :, None, None] * self.reach[:, None, None, None]
        return np.asarray(self.points[:, None] + self.outward[:, None] * steps, np.float32)


STEPS: Final = ((np.arange(ACROSS) + 0.5) * (2.0 / ACROSS) - 1.0).astype(np.float32)
"""Where each row of a picture lies, as share of the reach outwards."""


def curved(points: Floats) -> Floats:
    """Closed curves through points of shape (n, POINTS, 2), as FINE times as many (Catmull and Rom's cubic pieces): chords would lose area."""
    before, after, last = np.roll(points, 1, axis=1), np.roll(points, -1, axis=1), np.roll(points, -2, axis=1)
    pieces = []
    for t in np.arange(FINE) / FINE:
        a, b, c, d = -t + 2 * t**2 - t**3, 2 - 5 * t**2 + 3 * t**3, t + 4 * t**2 - 3 * t**3, t**3 - t**2
        pieces.append(0.5 * (a * before + b * points + c * after + d * last))
    return np.asarray(np.stack(pieces, axis=2).reshape(len(points), FINE * points.shape[1], 2), np.float32)


def _evened(rim: npt.NDArray[np.float64]) -> tuple[Floats, Floats]:
    """Points evenly along a closed line, smoothed, and where outward is at each."""
    closed = np.concatenate([rim, rim[:1]])
    length = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(closed, axis=0), axis=1))])
    many = 8 * POINTS
    at = np.arange(many) * length[-1] / many
    fine = np.stack([np.interp(at, length, closed[:, i]) for i in (0, 1)], axis=1)
    half = max(1, round(EVENED * many))
    around = np.concatenate([fine[-half:], fine, fine[:half]])
    sums = np.concatenate([np.zeros((1, 2)), np.cumsum(around, axis=0)])
    smooth = (sums[2 * half + 1 :] - sums[: -2 * half - 1]) / (2 * half + 1)
    along = np.roll(smooth, -4, axis=0) - np.roll(smooth, 4, axis=0)
    out = np.stack([along[:, 1], -along[:, 0]], axis=1)
    out /= np.maximum(np.linalg.norm(out, axis=1, keepdims=True), 1e-9)
    if np.sum(out * (smooth - smooth.mean(axis=0))) < 0.0:
        out = -out
    # a mean along a curve lies within it: put back what was lost of the area
    flat = cv2.contourArea(smooth.astype(np.float32))
    lost = (cv2.contourArea(fine.astype(np.float32)) - flat) / max(length[-1], 1e-9)
    smooth = smooth + out * lost
    return smooth[::8].astype(np.float32), out[::8].astype(np.float32)


def sampled(picture: Any, places: Floats, px_per_mm: float) -> Any:
    """A picture's values at places in mm, shape (n, ACROSS, POINTS) or with channels behind."""
    px = places.reshape(-1, POINTS, 2) * np.float32(px_per_mm) - np.float32(0.5)
    parts = [
        cv2.remap(picture, px[i : i + MOST_ROWS, :, 0], px[i : i + MOST_ROWS, :, 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
        for i in range(0, len(px), MOST_ROWS)
    ]
    joined = np.concatenate(parts)
    return joined.reshape(*places.shape[:3], *joined.shape[2:])


def pictures(lab: Lab, px_per_mm: float, maps: Maps, maps_px_per_mm: float, rims: Unrolled) -> Floats:
    """What lies across each rim, shape (n, CHANNELS, ACROSS, POINTS): CIELAB, then the maps."""
    places = rims.places()
    colours = sampled(np.ascontiguousarray(lab, np.float32), places, px_per_mm).transpose(0, 3, 1, 2)
    seen = [sampled(getattr(maps, name), places, maps_px_per_mm)[:, None] for name in SEEN]
    return np.concatenate([colours, *seen], axis=1).astype(np.float32)
