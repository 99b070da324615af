"""Reads a ring test: a drop of colour in a puddle of base, photographed from above after a minute or two.

A colour that is thinner than the base bleeds into it as a cloudy ring. What counts is the ring's width over the drop's radius,
so neither card nor scale is needed: only that the drop lies alone in the picture, with base all round it.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.sight.arrays import SightError, magnitude
from dribbet.sight.colour import lab_of

if TYPE_CHECKING:
    import numpy.typing as npt

    from dribbet.sight.arrays import Rgb

    Floats = npt.NDArray[np.float32]

WORK_PX: Final = 700  # longer side that is worked on
RIM: Final = 0.08  # of the picture, taken for base
LEAST_STEP: Final = 3.5  # delta E between drop and base
OVER_BASE: Final = 4.0  # times what the base itself varies by
OVER_RIM: Final = (0.3, 0.1)  # of the step to the drop, on so much of the picture's rim: there is no base all round
ROUND: Final = 0.75  # of the ellipse in its box is filled, or it is no drop
SOFT_PX: Final = 3.0
FIT_STEP: Final = 4  # each so many pixels tell the base's surface
FIT_ROUNDS: Final = 12
BEGIN_INSIDE: Final = 0.2  # weight of what is not the rim, to begin with
LEAST_SCALE: Final = 0.8  # delta E
CLEAR: Final = 3.0  # delta E from which a ring is seen at all
CLEAR_STEP: Final = 0.2  # of the step from base to drop, where that is less
CLEAR_SHARE: Final = 0.06
CLEAR_NOISE: Final = 2.0  # standard deviations of what is compared
RAYS: Final = 180
BESIDE: Final = 15  # rays that are told together where the drop is pale
STEADY: Final = 0.12  # noise of a ray, of the step from base to drop, from which it is pale
LEAST_RADIUS: Final = 0.03  # of the longer side
BLUR_REACH: Final = 1.7  # standard deviations of blur between an edge's steepest place and where it can no longer be seen
SQRT_2PI: Final = 2.5066282746
EDGE_BLUR: Final = 0.15  # of the drop's radius: an edge is no softer
NO_EDGE: Final = 0.25  # of it: what ends so softly is light and shade on the base, and no drop
NO_DROP: Final = "No drop is seen on the base. Photograph it from above, near, in even light, with base all round it."


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
    off = _from_base(lab_of(small.astype(np.float32) / 255.0))
    soft = magnitude(cv2.GaussianBlur(off, (0, 0), SOFT_PX))
    top, still = float(np.percentile(soft, 99.9)), float(np.median(soft[_rim(soft.shape)]))
    if top < max(LEAST_STEP, OVER_BASE * still):
        raise SightError(NO_DROP)
    _, labels, stats, centres = cv2.connectedComponentsWithStats((soft > 0.55 * top).astype(np.uint8))
    best = 1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA]))
    left, up, wide, tall, area = (int(v) for v in stats[best])
    reach = max(soft.shape)
    over = float(np.mean(soft[_rim(soft.shape)] > OVER_RIM[0] * top))
    if min(left, up) <= 1 or left + wide >= soft.shape[1] - 1 or up + tall >= soft.shape[0] - 1 or over > OVER_RIM[1]:
        raise SightError("The drop reaches the edge of the picture. Step back until there is base all round it.")
    if np.sqrt(area / np.pi) < LEAST_RADIUS * reach:
        raise SightError("The drop is too small in the picture. Go nearer, until it fills about a third of it.")
    if area < ROUND * np.pi / 4.0 * wide * tall:
        raise SightError(NO_DROP)
    x, y = (float(v) for v in centres[best])
    way = off[cv2.erode((labels == best).astype(np.uint8), np.ones((5, 5), np.uint8)) > 0].mean(axis=0)
    towards = np.asarray(off @ (way / np.linalg.norm(way)), np.float32)  # what goes another way than the drop's colour is noise, or light
    drop, ring = _profile(towards, x, y, labels == best)
    return Ring(ratio=ring / drop, x_px=(x + 0.5) / scale, y_px=(y + 0.5) / scale, drop_px=drop / scale, ring_px=ring / scale)


def _rim(shape: tuple[int, ...]) -> npt.NDArray[np.bool_]:
    """What is taken for base: the picture's own rim."""
    tall, wide = shape[:2]
    y, x = np.mgrid[0:tall, 0:wide]
    return np.asarray(np.minimum.reduce([x, y, wide - 1 - x, tall - 1 - y]) < RIM * min(tall, wide))


def _from_base(lab: Floats) -> Floats:
    """How each pixel's colour is off the base's; shape (rows, columns, 3).

    The base may be lit unevenly, to a plane or a lens's fall of light towards the corners: a surface of second degree through all that is no drop,
    by weights that fall with the distance from it (Cauchy's), the picture's rim first.
    """
    tall, wide = lab.shape[:2]
    y, x = np.meshgrid(np.linspace(-1.0, 1.0, tall), np.linspace(-1.0, 1.0, wide), indexing="ij")
    design = np.stack([np.ones(lab.shape[:2]), x, y, x * x, x * y, y * y], axis=-1)
    some = np.s_[::FIT_STEP, ::FIT_STEP]
    rows, told = design[some].reshape(-1, 6), lab[some].reshape(-1, 3).astype(np.float64)
    rim = _rim(lab.shape)[some].ravel()
    weight = np.where(rim, 1.0, BEGIN_INSIDE)
    for _ in range(FIT_ROUNDS):
        root = np.sqrt(weight)[:, None]
        surface, *_ = np.linalg.lstsq(rows * root, told * root, rcond=None)
        far = np.linalg.norm(told - rows @ surface, axis=1)
        scale = max(LEAST_SCALE, 2.0 * float(np.median(far[rim])))
        weight = 1.0 / (1.0 + (far / scale) ** 2) ** 2
    found: Floats = cv2.GaussianBlur((lab - design @ surface).astype(np.float32), (0, 0), 0.8)
    return found


def _profile(away: Floats, x: float, y: float, drop: npt.NDArray[np.bool_]) -> tuple[float, float]:
    """Drop radius and ring width by the fall of colour outwards along rays, each beside its neighbours and from the drop's own edge there.

    Where a ring ends is told on the mean of all rays where the drop is pale: by itself a ray is lost in the picture's noise there.
    """
    edge = np.sqrt(drop.sum() / np.pi)
    far = int(min(edge * 2.6, x, y, away.shape[1] - 1 - x, away.shape[0] - 1 - y))
    radii = np.arange(0.0, far, 0.5)
    angles = np.linspace(0.0, 2.0 * np.pi, RAYS, endpoint=False)
    map_x = (x + np.outer(np.cos(angles), radii)).astype(np.float32)
    map_y = (y + np.outer(np.sin(angles), radii)).astype(np.float32)
    rays = cv2.remap(away, map_x, map_y, cv2.INTER_LINEAR)
    inside = float(np.median(rays[:, radii < 0.6 * edge]))
    base = float(np.median(rays[:, -6:]))
    noise = float(np.std(rays[:, -12:]))
    beside = 1 if noise < STEADY * (inside - base) else BESIDE
    told = _beside(rays, beside)
    limit = base + max(min(CLEAR, CLEAR_STEP * (inside - base)), CLEAR_SHARE * (inside - base), CLEAR_NOISE * noise / np.sqrt(beside))
    drops, rings, softness = [], [], []
    for ray in told:
        falls = ray[:-4] - ray[4:]
        near = (radii[:-4] > 0.5 * edge) & (radii[:-4] < 1.4 * edge)
        at = int(np.argmax(np.where(near, falls, -1.0)))
        radius = radii[at + 2]
        step = max(float(ray[max(at - 4, 0)] - ray[min(at + 10, len(ray) - 1)]), 0.25 * (inside - base))
        soft = step / max(float(falls[at]) / 2.0, 1e-6) / SQRT_2PI
        softness.append(soft)
        blur = min(soft, EDGE_BLUR * edge)
        beyond = np.flatnonzero((ray < limit) & (radii > radius))
        end = radii[beyond[0]] if beyond.size else radii[-1]
        drops.append(radius)
        rings.append(max(end - radius - BLUR_REACH * blur, 0.0))
    if np.median(softness) > NO_EDGE * edge:
        raise SightError(NO_DROP)
    return float(np.median(drops)), float(np.median(rings))


def _beside(rays: Floats, count: int) -> Floats:
    """Each ray as the mean of `count` beside each other, all the way round."""
    if count == 1:
        return rays
    round_ = np.concatenate([rays[-(count // 2) :], rays, rays[: count // 2]])
    found: Floats = cv2.blur(round_, (1, count))[count // 2 : count // 2 + len(rays)]
    return found
