"""Reads a ring test: a drop of colour in a puddle of base, photographed from above after a minute or two.

A colour that is thinner than the base bleeds into it as a cloudy ring. What counts is the ring's width over the drop's radius,
so neither card nor scale is needed: only that the drop lies alone in the picture, with base all round it.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.sight.arrays import SightError
from dribbet.sight.colour import lab_of

if TYPE_CHECKING:
    import numpy.typing as npt

    from dribbet.sight.arrays import Rgb

    Floats = npt.NDArray[np.float32]

WORK_PX: Final = 700  # longer side that is worked on
RIM: Final = 0.08  # of the picture, taken for base
LEAST_STEP: Final = 12.0  # delta E between drop and base
CLEAR: Final = 3.0  # delta E from which a ring is seen at all
CLEAR_SHARE: Final = 0.06
LEAST_RADIUS: Final = 0.03  # of the longer side
BLUR_REACH: Final = 1.7  # standard deviations of blur between an edge's steepest place and where it can no longer be seen
SQRT_2PI: Final = 2.5066282746


@dataclass(frozen=True, slots=True, kw_only=True)
class Ring:
    """A drop and its ring, in pixels of the photo."""

    ratio: float
    """Ring width over drop radius; 0 where the drop ends cleanly."""
    x_px: float
    y_px: float
    drop_px: float
    ring_px: float


def read_ring(rgb: Rgb) -> Ring:
    """Ring of the largest drop in view.

    Raises
    ------
    SightError
        If there is no drop, or it reaches the edge of the picture.
    """
    scale = min(1.0, WORK_PX / max(rgb.shape[:2]))
    small = cv2.resize(rgb, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA) if scale < 1.0 else rgb
    away = _from_base(lab_of(small.astype(np.float32) / 255.0))
    top = float(np.percentile(away, 99.9))
    if top < LEAST_STEP:
        raise SightError("No drop is seen on the base. Photograph it from above, near, with base all round it.")
    count, labels, stats, centres = cv2.connectedComponentsWithStats((away > 0.55 * top).astype(np.uint8))
    if count < 2:
        raise SightError("No drop is seen on the base. Photograph it from above, near, with base all round it.")
    best = 1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA]))
    left, up, wide, tall, area = (int(v) for v in stats[best])
    reach = max(away.shape)
    if min(left, up) <= 1 or left + wide >= away.shape[1] - 1 or up + tall >= away.shape[0] - 1:
        raise SightError("The drop reaches the edge of the picture. Step back until there is base all round it.")
    if np.sqrt(area / np.pi) < LEAST_RADIUS * reach:
        raise SightError("The drop is too small in the picture. Go nearer, until it fills about a third of it.")
    x, y = (float(v) for v in centres[best])
    drop, ring = _profile(away, x, y, labels == best)
    return Ring(ratio=ring / drop, x_px=(x + 0.5) / scale, y_px=(y + 0.5) / scale, drop_px=drop / scale, ring_px=ring / scale)


def _from_base(lab: Floats) -> Floats:
    """Distance of each pixel from the base's colour, which may be lit unevenly: a plane through the picture's rim."""
    tall, wide = lab.shape[:2]
    y, x = np.mgrid[0:tall, 0:wide]
    rim = np.minimum.reduce([x, y, wide - 1 - x, tall - 1 - y]) < RIM * min(tall, wide)
    design = np.stack([np.ones(lab.shape[:2]), x / wide, y / tall], axis=-1)
    keep = rim.copy()
    for _ in range(3):
        weight, *_ = np.linalg.lstsq(design[keep], lab[keep].astype(np.float64), rcond=None)
        off = np.linalg.norm(lab - design @ weight, axis=2)
        keep = rim & (off < max(4.0, 2.5 * float(np.median(off[rim]))))
    found: Floats = cv2.GaussianBlur(off.astype(np.float32), (0, 0), 0.8)
    return found


def _profile(away: Floats, x: float, y: float, drop: npt.NDArray[np.bool_]) -> tuple[float, float]:
    """Drop radius and ring width by the mean fall of colour outwards along rays, each from the drop's own edge there."""
    edge = np.sqrt(drop.sum() / np.pi)
    far = int(min(edge * 2.6, x, y, away.shape[1] - 1 - x, away.shape[0] - 1 - y))
    radii = np.arange(0.0, far, 0.5)
    angles = np.linspace(0.0, 2.0 * np.pi, 180, endpoint=False)
    map_x = (x + np.outer(np.cos(angles), radii)).astype(np.float32)
    map_y = (y + np.outer(np.sin(angles), radii)).astype(np.float32)
    rays = cv2.remap(away, map_x, map_y, cv2.INTER_LINEAR)
    inside = float(np.median(rays[:, radii < 0.6 * edge]))
    base = float(np.median(rays[:, -6:]))
    drops, rings = [], []
    for ray in rays:
        falls = ray[:-4] - ray[4:]
        near = (radii[:-4] > 0.5 * edge) & (radii[:-4] < 1.4 * edge)
        at = int(np.argmax(np.where(near, falls, -1.0)))
        radius = radii[at + 2]
        step = max(float(ray[max(at - 4, 0)] - ray[min(at + 10, len(ray) - 1)]), 1.0)
        blur = min(step / max(float(falls[at]) / 2.0, 1e-6) / SQRT_2PI, 0.15 * edge)
        limit = base + max(CLEAR, CLEAR_SHARE * (inside - base))
        beyond = np.flatnonzero((ray < limit) & (radii > radius))
        end = radii[beyond[0]] if beyond.size else radii[-1]
        drops.append(radius)
        rings.append(max(end - radius - BLUR_REACH * blur, 0.0))
    return float(np.median(drops)), float(np.median(rings))
