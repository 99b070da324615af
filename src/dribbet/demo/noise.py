"""Smooth random fields for the renderer."""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np

Image = np.ndarray[Any, np.dtype[np.float32]]


def value_noise(shape: tuple[int, int], feature_px: float, rng: np.random.Generator, stretch: float = 1.0) -> Image:
    """Smooth noise with features of about `feature_px`, longer along x where `stretch` is above one."""
    height, width = shape
    cells_y, cells_x = max(1.0, feature_px), max(1.0, feature_px * stretch)
    grid = rng.standard_normal((int(height / cells_y) + 4, int(width / cells_x) + 4)).astype(np.float32)
    offset = rng.random(2) + 1.0
    matrix = np.array([[1 / cells_x, 0, offset[0]], [0, 1 / cells_y, offset[1]]], np.float32)
    return np.asarray(cv2.warpAffine(grid, matrix, (width, height), flags=cv2.INTER_CUBIC | cv2.WARP_INVERSE_MAP, borderMode=cv2.BORDER_REFLECT))


def layered_noise(shape: tuple[int, int], feature_px: float, rng: np.random.Generator, octaves: int = 3, stretch: float = 1.0) -> Image:
    """Several octaves of `value_noise`, mean 0 and standard deviation 1."""
    total = np.zeros(shape, np.float32)
    for octave in range(octaves):
        if feature_px / 2**octave < 1.0:
            break
        total += value_noise(shape, feature_px / 2**octave, rng, stretch) * np.float32(0.5**octave)
    total -= total.mean()
    return total / max(float(total.std()), 1e-6)


def warp(field: Image, shift_x: Image, shift_y: Image) -> Image:
    """Field looked up at shifted places."""
    return np.asarray(cv2.remap(field, *_maps(shift_x, shift_y), cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT))


def warp_labels(labels: Image, shift_x: Image, shift_y: Image) -> Image:
    """Labels looked up at shifted places, never blended."""
    return np.asarray(cv2.remap(labels, *_maps(shift_x, shift_y), cv2.INTER_NEAREST, borderMode=cv2.BORDER_REFLECT))


def _maps(shift_x: Image, shift_y: Image) -> tuple[Image, Image]:
    height, width = shift_x.shape[:2]
    grid_x, grid_y = np.meshgrid(np.arange(width, dtype=np.float32), np.arange(height, dtype=np.float32))
    return np.asarray(grid_x + shift_x, np.float32), np.asarray(grid_y + shift_y, np.float32)
