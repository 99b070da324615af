"""Flows that really carry paint: incompressible velocity from a stream function, integrated backwards in time."""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np

from dribbet.demo.noise import Image, value_noise

Map = tuple[Image, Image]
COARSE = 4


def _velocity(stream: Image) -> Map:
    dy, dx = np.gradient(stream)
    return np.asarray(dy, np.float32), np.asarray(-dx, np.float32)


def carried(
    shape: tuple[int, int], k: float, rng: np.random.Generator, *, reach_mm: float, eddy_mm: float, tilt: float = 0.0, steps: int = 12
) -> Map:
    """Where what lies at each pixel came from, in px: (x, y) maps for `cv2.remap`.

    `reach_mm` is how far paint travelled at most, `eddy_mm` the size of an eddy, `tilt` the share of a shear that stretches one way.
    """
    small = (shape[0] // COARSE + 1, shape[1] // COARSE + 1)
    size = max(3.0, eddy_mm * k / COARSE)
    stream = value_noise(small, size, rng) + 0.5 * value_noise(small, size * 0.45, rng)
    u, v = _velocity(stream)
    if tilt > 0.0:
        angle = rng.random() * 2 * np.pi
        rows, columns = np.mgrid[0 : small[0], 0 : small[1]].astype(np.float32)
        across = (-np.sin(angle) * columns + np.cos(angle) * rows) / max(small)
        shear = np.asarray(np.sin(across * rng.uniform(2, 9) + rng.random() * 6.3) * tilt * np.hypot(u, v).max(), np.float32)
        u, v = u + shear * np.float32(np.cos(angle)), v + shear * np.float32(np.sin(angle))
    fastest = float(np.hypot(u, v).max()) or 1.0
    u, v = u * np.float32(reach_mm * k / COARSE / steps / fastest), v * np.float32(reach_mm * k / COARSE / steps / fastest)
    rows, columns = np.mgrid[0 : small[0], 0 : small[1]].astype(np.float32)
    x, y = columns.copy(), rows.copy()
    for _ in range(steps):  # midpoint rule
        half_x = x - 0.5 * cv2.remap(u, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
        half_y = y - 0.5 * cv2.remap(v, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
        x = x - cv2.remap(u, half_x, half_y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
        y = y - cv2.remap(v, half_x, half_y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    return _whole(x - columns, shape), _whole(y - rows, shape)


def _whole(shift: Image, shape: tuple[int, int]) -> Image:
    grown = cv2.resize(shift, (shape[1], shape[0]), interpolation=cv2.INTER_CUBIC) * np.float32(COARSE)
    return np.asarray(grown, np.float32)


def moved(picture: Any, shift: Map, *, exact: bool = False) -> Any:
    """Picture carried by a flow; `exact` keeps numbers whole."""
    height, width = shift[0].shape
    x, y = np.meshgrid(np.arange(width, dtype=np.float32), np.arange(height, dtype=np.float32))
    how = cv2.INTER_NEAREST if exact else cv2.INTER_LINEAR
    return cv2.remap(picture, x + shift[0], y + shift[1], how, borderMode=cv2.BORDER_REFLECT_101)


def polygons(shape: tuple[int, int], k: float, rng: np.random.Generator, mesh_mm: float, *, reach_mm: float, eddy_mm: float) -> Any:
    """Numbers of the pieces that a face falls into round random points (Voronoi), bent by a flow; float32, shape (rows, columns)."""
    count = max(8, round(shape[0] * shape[1] / (mesh_mm * k) ** 2))
    points = np.ones(shape, np.uint8)
    points[rng.integers(0, shape[0], count), rng.integers(0, shape[1], count)] = 0
    _, owner = cv2.distanceTransformWithLabels(points, cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL)
    return np.asarray(moved(owner.astype(np.float32), carried(shape, k, rng, reach_mm=reach_mm, eddy_mm=eddy_mm), exact=True))
