"""How a camera sees a flat panel: far or near, soft or sharp, under this lamp or that; on the panel's own grid, so that truth stays exact."""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np

from dribbet.demo.noise import Image, layered_noise, value_noise
from dribbet.demo.world.sheet import between, chance


def srgb_of(linear: Image) -> Image:
    """SRGB 0..1 of linear light."""
    x = np.clip(linear, 0, 1)
    return np.asarray(np.where(x <= 0.0031308, 12.92 * x, 1.055 * np.power(np.maximum(x, 1e-8), 1 / 2.4) - 0.055), np.float32)


def linear_of_srgb(srgb: Image) -> Image:
    """Linear light of sRGB 0..1."""
    return np.asarray(np.where(srgb <= 0.04045, srgb / 12.92, ((srgb + 0.055) / 1.055) ** 2.4), np.float32)


def seen(linear: Image, k: float, rng: np.random.Generator) -> Any:
    """Return uint8 sRGB (rows, columns, 3), as a rectified photograph at the same `k` px/mm shows it: resampled, blurred, lit, noisy, compressed."""
    shape = (linear.shape[0], linear.shape[1])
    gain = np.exp(rng.normal(0, 0.035, 3)).astype(np.float32) * np.float32(2.0 ** rng.normal(-0.05, 0.15))
    light = 1.0 + 0.5 * value_noise(shape, max(shape) * 0.9, rng) * np.float32(rng.uniform(0, 0.3))
    picture = linear * light[..., None].clip(0.4, 1.8) * gain
    if chance(rng, 0.15):  # the edge of a shadow
        edge = layered_noise(shape, max(shape) * 0.6, rng, 1)
        picture = picture * (1 - np.clip(edge / between(rng, 0.03, 0.5) + 0.5, 0, 1) * np.float32(rng.uniform(0.1, 0.45)))[..., None]
    if chance(rng, 0.25):  # glare, broken by whatever relief there is
        glare = np.clip(value_noise(shape, between(rng, 15, 60) * k, rng) - rng.uniform(0.3, 1.5), 0, 1)
        fine = 1.0 + np.float32(rng.uniform(0, 0.6)) * value_noise(shape, between(rng, 0.3, 1.2) * k, rng)
        picture = picture + (glare * fine * np.float32(rng.uniform(0.05, 0.7)))[..., None].clip(0, 1)
    scale = between(rng, 4.5, 16.0) / k  # px/mm of the photograph against the grid's
    small = (max(8, round(shape[1] * min(scale, 1.0))), max(8, round(shape[0] * min(scale, 1.0))))
    if scale < 1.0:
        picture = cv2.resize(picture, small, interpolation=cv2.INTER_AREA)
    picture = cv2.GaussianBlur(picture, (0, 0), between(rng, 0.3, 1.5) * max(1.0, 1.0 / max(scale, 1.0)) if chance(rng, 0.8) else 0.3)
    grain = rng.standard_normal(picture.shape).astype(np.float32) * np.float32(between(rng, 0.001, 0.02))
    if chance(rng, 0.7):  # a mosaic read back: noise is soft, colour more than light
        grain = cv2.GaussianBlur(grain, (0, 0), 0.6) * 1.6
    picture = picture + grain * np.sqrt(np.clip(picture, 0.01, 1))
    coded = (srgb_of(picture) * 255 + 0.5).astype(np.uint8)
    quality = int(rng.integers(78, 97))
    decoded = cv2.imdecode(cv2.imencode(".jpg", coded[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, quality])[1], cv2.IMREAD_COLOR)
    coded = np.asarray(decoded, np.uint8)[..., ::-1]
    if coded.shape[:2] != shape:
        coded = cv2.resize(coded, (shape[1], shape[0]), interpolation=cv2.INTER_LINEAR)
    if chance(rng, 0.2):  # the phone sharpens
        coded = np.clip(coded + 0.6 * (coded.astype(np.float32) - cv2.GaussianBlur(coded, (0, 0), 1.2)), 0, 255).astype(np.uint8)
    return np.ascontiguousarray(coded)
