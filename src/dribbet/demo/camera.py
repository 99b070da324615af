"""Photographs a drawn panel: table, photo card, light, lens, noise. The stand-in for a phone over a bench."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np

from dribbet.demo.mirror import mirrored
from dribbet.demo.noise import Image, layered_noise, value_noise
from dribbet.demo.painter import Drawn, linear_of
from dribbet.demo.relief import grooves, shading
from dribbet.records.cards import MARKER_MM, PATCH_LIGHTNESS, PATCH_MM, PATCH_X_MM, PATCH_Y_MM, PHOTO_CARD, patch_reflectance
from dribbet.sight.round_face import Disc

CARD_MM = (PHOTO_CARD.width_mm, PHOTO_CARD.height_mm)

EDGE_EV: float = 0.7
"""By so much less a photograph of the mirrored board is exposed."""


@dataclass(frozen=True, kw_only=True)
class Shot:
    """How a photograph is taken."""

    seed: int
    width_px: int = 1600
    height_px: int = 1200
    table: str = "#8C8C88"
    texture: float = 0.5
    card: bool = True
    fill: float = 0.62
    tilt: float = 0.04
    exposure_ev: float = 0.1
    balance: tuple[float, float, float] = (1.02, 1.0, 0.95)
    gradient: float = 0.1
    noise: float = 0.008
    blur_px: float = 0.7
    glare: float = 0.0


def draw_card(k: float) -> Image:
    """Draw the photo card, linear, at `k` px/mm."""
    dictionary = cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_4X4_50)
    card = np.full((round(CARD_MM[1] * k), round(CARD_MM[0] * k)), 0.90, np.float32)
    for marker, (x, y) in PHOTO_CARD.markers.items():
        size = round(MARKER_MM * k)
        drawn = cv2.aruco.generateImageMarker(dictionary, marker, size).astype(np.float32) / 255.0
        card[round(y * k) : round(y * k) + size, round(x * k) : round(x * k) + size] = np.where(drawn > 0.5, 0.90, 0.03)
    for x, lightness in zip(PATCH_X_MM, PATCH_LIGHTNESS, strict=True):
        rows, columns = (slice(round((at - PATCH_MM / 2) * k), round((at + PATCH_MM / 2) * k)) for at in (PATCH_Y_MM, x))
        card[rows, columns] = patch_reflectance(lightness)
    return np.repeat(card[..., None], 3, axis=2)


def photograph(panel: Drawn, shot: Shot, lamp: str = "diffuse", *, is_round: bool = False) -> tuple[Any, Any]:
    """Take one photograph; returns uint8 RGB and the panel's corners in px, clockwise from its top-left; `is_round`: a disc cut out of it lies there.

    `lamp` is left, right, diffuse or edge: mica flakes flash under the lamp that they face, so left and right differ by them; in edge the film
    mirrors a lit board that ends across the panel.
    """
    rng = np.random.default_rng(shot.seed)
    height, width = shot.height_px, shot.width_px
    k = panel.px_per_mm
    panel_mm = (panel.linear.shape[1] / k, panel.linear.shape[0] / k)
    picture = _table(shot, rng)
    corners, card_corners = _places(shot, panel_mm, rng)
    linear = panel.linear
    if panel.mica.max() > 0.0:
        flakes = np.random.default_rng(shot.seed + 1).standard_normal(linear.shape[:2]).astype(np.float32)
        flakes = cv2.GaussianBlur(flakes, (0, 0), 0.12 * k)
        flakes /= flakes.std()
        facing = {
            "left": np.clip(flakes, 0, 3),
            "right": np.clip(-flakes, 0, 3),
        }.get(lamp, np.full_like(flakes, 0.4))
        linear = linear * (1.0 + panel.mica * 1.3 * (facing - 0.4))[..., None]
    if lamp in ("left", "right") and panel.cracks.any():  # under light from all round a crack is as dark as it was drawn
        heights = grooves(panel.cracks, k) if panel.height_mm is None else panel.height_mm + grooves(panel.cracks, k)
        linear = linear * shading(heights, k, lamp)[..., None]
    elif panel.height_mm is not None:
        linear = linear * shading(panel.height_mm, k, lamp)[..., None]
    if lamp == "edge":
        luck = np.random.default_rng([shot.seed, 5])
        linear = linear + mirrored(panel.spread, k, panel.rough_deg, luck, panel.height_mm)[..., None]
    _paste(picture, linear, corners, shadow=0.25, is_round=is_round)
    if shot.card:
        _paste(picture, draw_card(k), card_corners, shadow=0.08)
    rows, columns = np.mgrid[0:height, 0:width].astype(np.float32)
    side = {"left": (-1.0, 0.0), "right": (1.0, 0.0)}.get(lamp, tuple(rng.normal(0, 0.6, 2)))
    light = 1.0 + shot.gradient * (side[0] * (columns / width - 0.5) + side[1] * (rows / height - 0.5))
    exposure = shot.exposure_ev - (EDGE_EV if lamp == "edge" else 0.0)
    gain = np.asarray(shot.balance, np.float32) * np.float32(2.0**exposure)
    picture *= light[..., None] * gain
    if shot.glare > 0.0:
        centre = corners.mean(axis=0) + (corners[1] - corners[0]) * 0.22
        spot = np.exp(-(((columns - centre[0]) / (0.07 * width)) ** 2 + ((rows - centre[1]) / (0.04 * width)) ** 2))
        picture += (shot.glare * spot)[..., None]
    picture = cv2.GaussianBlur(picture, (0, 0), shot.blur_px)
    grain = rng.standard_normal(picture.shape).astype(np.float32)
    picture += grain * np.float32(shot.noise) * np.sqrt(np.clip(picture, 0.01, 1))
    return encode(picture), corners


def encode(linear: Image) -> Any:
    """Linear RGB to 8-bit sRGB."""
    x = np.clip(linear, 0, 1)
    return (np.where(x <= 0.0031308, 12.92 * x, 1.055 * x ** (1 / 2.4) - 0.055) * 255 + 0.5).astype(np.uint8)


def _table(shot: Shot, rng: np.random.Generator) -> Image:
    shape = (shot.height_px, shot.width_px)
    stretch = 1.0 if rng.random() < 0.6 else 12.0
    tone = 1.0 + 0.10 * shot.texture * layered_noise(shape, 90, rng, 4, stretch) + 0.03 * shot.texture * value_noise(shape, 2, rng)
    return (linear_of(shot.table) * tone[..., None]).astype(np.float32)


def _places(shot: Shot, panel_mm: tuple[float, float], rng: np.random.Generator) -> tuple[Any, Any]:
    """Corners of panel and card in px: side by side, a little turned and tilted."""
    gap = 14.0
    options = []
    for upright in (False, True):
        card = CARD_MM[::-1] if upright else CARD_MM
        for beside in (True, False) if shot.card else (True,):
            if not shot.card:
                total = panel_mm
            elif beside:
                total = (panel_mm[0] + gap + card[0], max(panel_mm[1], card[1]))
            else:
                total = (max(panel_mm[0], card[0]), panel_mm[1] + gap + card[1])
            options.append((min(shot.width_px / total[0], shot.height_px / total[1]), upright, beside, total))
    scale, upright, beside, total = max(options, key=lambda o: o[0] * (1.0 if shot.fill >= 1.0 else rng.uniform(0.85, 1.0)))
    scale *= 0.70 + 0.20 * shot.fill
    card = CARD_MM[::-1] if upright else CARD_MM
    origin = np.array([-total[0] / 2, -total[1] / 2])
    if beside and rng.random() < 0.5 and shot.card:
        card_at, panel_at = origin, origin + np.array([card[0] + gap, 0])
    else:
        panel_at = origin
        card_at = origin + np.array([panel_mm[0] + gap, 0] if beside else [0, panel_mm[1] + gap])
    slack = 8.0 / scale
    boxes = []
    for at, size in ((panel_at, panel_mm), (card_at, card)):
        at = np.asarray(at) + rng.normal(0, slack, 2)
        boxes.append(np.array([at, at + [size[0], 0], at + size, at + [0, size[1]]], float))
    if upright:  # the card stands upright: its own top-left is then the upper right
        boxes[1] = np.roll(boxes[1], -1, axis=0)
    turn, lean = rng.normal(0, 0.05), rng.normal(0, shot.tilt, 2) / max(total)
    rotate = np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]])
    placed = []
    for box in boxes:
        flat = box @ rotate.T
        placed.append(flat / (1.0 + flat @ lean)[:, None] * scale + [shot.width_px / 2, shot.height_px / 2])
    return placed[0].astype(np.float32), placed[1].astype(np.float32)


def _paste(picture: Image, linear: Image, corners: Any, shadow: float, *, is_round: bool = False) -> None:
    height, width = linear.shape[:2]
    flat = np.array([[0, 0], [width, 0], [width, height], [0, height]], np.float32) - 0.5
    matrix = cv2.getPerspectiveTransform(flat, corners.astype(np.float32))
    size = picture.shape[1::-1]
    shrink = np.linalg.norm(corners[1] - corners[0]) / width
    if shrink < 0.8:
        linear = cv2.GaussianBlur(linear, (0, 0), 0.4 / shrink)
    face = np.ones((height, width), np.float32)
    if is_round:
        face = Disc.within(width, height).mask((height, width), 1.0).astype(np.float32)
    cover = cv2.warpPerspective(face, matrix, size, flags=cv2.INTER_LINEAR)
    soft = cv2.GaussianBlur(np.roll(cover, (6, 4), (0, 1)), (0, 0), 9)
    picture *= 1.0 - shadow * soft[..., None]
    warped = cv2.warpPerspective(linear, matrix, size, flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    picture[:] = picture * (1 - cover[..., None]) + warped * cover[..., None]
