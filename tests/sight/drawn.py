"""Pictures with known truth: discs, lines, panels on tables, cards."""

from __future__ import annotations

import itertools

import cv2
import numpy as np

from dribbet.sight.colour import lab_of as to_lab

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


def drip_card(runs_mm: list[float], colours: list[tuple[int, int, int]], k: float = 10.0) -> np.ndarray:
    """A drip card seen straight from above, its drips at true runs, from left to right."""
    card = flat(round(150 * k), round(100 * k), (250, 250, 248))
    dictionary = cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_4X4_50)
    for marker, (x, y) in {20: (4, 4), 21: (131, 4), 22: (131, 81), 23: (4, 81)}.items():
        tile = cv2.aruco.generateImageMarker(dictionary, marker, round(15 * k))
        card[round(y * k) : round((y + 15) * k), round(x * k) : round((x + 15) * k)] = tile[..., None]
    for i, (run, paint) in enumerate(zip(runs_mm, colours, strict=True)):
        x = (30 + 90 * i / max(len(runs_mm) - 1, 1)) * k
        disc(card, x, (25 - 4) * k, 4 * k, paint)
        if run:
            card[round(21 * k) : round((23 + run) * k), round(x - 2 * k) : round(x + 2 * k)] = paint
            disc(card, x, (25 + run - 2) * k, 2 * k, paint)
    border = cv2.copyMakeBorder(card, 60, 60, 60, 60, cv2.BORDER_CONSTANT, value=TABLE)
    return np.ascontiguousarray(border)


def drip_card_photo(hexes: list[str], runs_mm: tuple[float, ...], *, seed: int = 0) -> np.ndarray:
    """A photograph of a drip card: a little from the side, lit unevenly, with noise."""
    rng = np.random.default_rng(seed)
    colours = [tuple(int(h[i : i + 2], 16) for i in (1, 3, 5)) for h in hexes]
    card = drip_card(list(runs_mm), colours, k=8.0)  # type: ignore[arg-type]
    tall, wide = card.shape[:2]
    source = np.array([[0, 0], [wide, 0], [wide, tall], [0, tall]], np.float32)
    target = np.array([[90, 70], [1330, 40], [1380, 960], [60, 930]], np.float32) + rng.uniform(-15, 15, (4, 2)).astype(np.float32)
    photo = np.full((1000, 1440, 3), TABLE, np.uint8)
    cv2.warpPerspective(card, cv2.getPerspectiveTransform(source, target), (1440, 1000), dst=photo, borderMode=cv2.BORDER_TRANSPARENT)
    light = 0.92 + 0.1 * np.linspace(0, 1, 1440)[None, :, None]
    blurred = cv2.GaussianBlur(photo.astype(np.float32) * light, (0, 0), 0.9)
    return np.clip(blurred + rng.normal(0, 2.0, photo.shape), 0, 255).astype(np.uint8)


def hits(true: np.ndarray, found: np.ndarray) -> int:
    """How many true cells overlap a found one by half of their union, as label images of one shape."""
    pairs, both = np.unique(np.stack([true.ravel(), found.ravel()]).astype(np.int64), axis=1, return_counts=True)
    areas = [np.bincount(x.ravel()) for x in (true, found)]
    cell = (pairs[0] > 0) & (pairs[1] > 0)
    union = areas[0][pairs[0][cell]] + areas[1][pairs[1][cell]] - both[cell]
    return int((both[cell] / union >= 0.5).sum())


def lab_of(picture: np.ndarray) -> np.ndarray:
    """CIELAB of an 8-bit picture."""
    return to_lab(picture.astype(np.float32) / 255.0)
