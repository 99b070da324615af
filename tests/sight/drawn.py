"""Pictures with known truth: discs, lines, panels on tables, cards."""

from __future__ import annotations

import itertools

import cv2
import numpy as np

TABLE = (120, 118, 114)


def flat(width_px: int, height_px: int, colour: tuple[int, int, int], *, noise: float = 0.0, seed: int = 0) -> np.ndarray:
    picture = np.full((height_px, width_px, 3), colour, np.float32)
    if noise:
        picture += np.random.default_rng(seed).normal(0.0, noise, picture.shape)
    return np.clip(picture, 0, 255).astype(np.uint8)


def disc(picture: np.ndarray, x: float, y: float, radius: float, colour: tuple[int, int, int]) -> None:
    """Antialiased disc at sub-pixel places; the pixel (i, j) has its centre at i + 0.5."""
    rows, columns = np.mgrid[0 : picture.shape[0], 0 : picture.shape[1]]
    cover = np.clip(radius - np.hypot(columns + 0.5 - x, rows + 0.5 - y) + 0.5, 0.0, 1.0)[..., None]
    picture[:] = np.round(picture * (1.0 - cover) + np.array(colour) * cover).astype(np.uint8)


def line(picture: np.ndarray, points: list[tuple[float, float]], width_px: float, colour: tuple[int, int, int]) -> float:
    """Broken line of a true width; returns its length in px."""
    rows, columns = np.mgrid[0 : picture.shape[0], 0 : picture.shape[1]] + 0.5
    away, length = np.full(picture.shape[:2], np.inf), 0.0
    for (x0, y0), (x1, y1) in itertools.pairwise(points):
        dx, dy = x1 - x0, y1 - y0
        size = float(np.hypot(dx, dy))
        along = np.clip(((columns - x0) * dx + (rows - y0) * dy) / size**2, 0.0, 1.0)
        away = np.minimum(away, np.hypot(columns - x0 - along * dx, rows - y0 - along * dy))
        length += size
    cover = np.clip(width_px / 2 - away + 0.5, 0.0, 1.0)[..., None]
    picture[:] = np.round(picture * (1.0 - cover) + np.array(colour) * cover).astype(np.uint8)
    return length


def marble(width_px: int, height_px: int, seed: int = 0) -> np.ndarray:
    """Soft bands of three colours, as an uneven film has them."""
    rng = np.random.default_rng(seed)
    field = cv2.resize(rng.standard_normal((6, 6)).astype(np.float32), (width_px, height_px), interpolation=cv2.INTER_CUBIC)
    colours = np.array([(15, 106, 122), (236, 232, 220), (76, 122, 58)], np.uint8)
    tone = cv2.resize(
        rng.normal(0.0, 14.0, (height_px // 24, width_px // 24)).astype(np.float32), (width_px, height_px), interpolation=cv2.INTER_CUBIC
    )
    return np.clip(colours[np.digitize(field, [-0.4, 0.5])] + tone[..., None], 0, 255).astype(np.uint8)


def on_table(panel: np.ndarray, corners: np.ndarray, size: tuple[int, int] = (1600, 1200)) -> np.ndarray:
    """Photograph of a panel lying on a table: seen through a homography, its corners at the given places."""
    h, w = panel.shape[:2]
    table = flat(*size, TABLE, noise=2.0)
    source = np.array([[0, 0], [w, 0], [w, h], [0, h]], np.float32) - 0.5
    matrix = cv2.getPerspectiveTransform(source, corners.astype(np.float32))
    cv2.warpPerspective(panel, matrix, size, dst=table, flags=cv2.INTER_AREA, borderMode=cv2.BORDER_TRANSPARENT)
    return table
