"""Lacing: threads of one paint drawn thin over another. Webs with broken meshes, bundles, feathers, combed lines. Never cells, never cracks."""

from __future__ import annotations

from typing import Any, Final

import cv2
import numpy as np

from dribbet.demo.noise import Image, layered_noise, value_noise, warp
from dribbet.demo.world.flow import polygons
from dribbet.demo.world.sheet import Sheet, apart, between, chance

SEEN: Final = 5.0  # ΔE
SPIN: Final = 0.06  # rad in half a millimetre: a thread that flowed bends
WANDER: Final = 0.14  # rad
DARK_STRANDS: Final = 0.15  # of bundles: a dark, thin, straight, fading thread is what anybody takes for a crack, and teaches nothing


def _web(sheet: Sheet) -> Image:
    """Zero lines of stirred noise, thinning and breaking as they go."""
    rng, k, shape = sheet.rng, sheet.k, sheet.shape
    web = np.full(shape, 9e9, np.float32)
    for _ in range(int(rng.integers(1, 4))):
        noise = layered_noise(shape, between(rng, 2.0, 9.0) * k, rng, 2)
        noise = warp(noise, value_noise(shape, 12 * k, rng) * 3 * k, value_noise(shape, 12 * k, rng) * 3 * k)
        slope = np.hypot(cv2.Sobel(noise, cv2.CV_32F, 1, 0, ksize=3), cv2.Sobel(noise, cv2.CV_32F, 0, 1, ksize=3)) / 8
        web = np.minimum(web, np.abs(noise) / np.maximum(slope, 1e-4))
    half = (between(rng, 0.06, 0.35) * (1 + 0.6 * value_noise(shape, between(rng, 2, 8) * k, rng))).clip(0, 1) * k
    broken = layered_noise(shape, between(rng, 2, 7) * k, rng, 2) > rng.uniform(-2.0, 0.3)
    return np.asarray(np.clip((half - web) / 1.2 + 0.5, 0, 1) * broken, np.float32)


def _meshes(sheet: Sheet) -> Image:
    """Walls of a burst foam: polygons' sides of unlike thickness, many gone, with tapering stumps."""
    rng, k, shape = sheet.rng, sheet.k, sheet.shape
    mesh = between(rng, 2.5, 10) * k
    owner = polygons(shape, k, rng, mesh / k, reach_mm=between(rng, 1, 6), eddy_mm=between(rng, 3, 12))
    apart = np.zeros(shape, np.uint8)
    apart[:, 1:] |= owner[:, 1:] != owner[:, :-1]
    apart[1:] |= owner[1:] != owner[:-1]
    away = cv2.distanceTransform(1 - apart, cv2.DIST_L2, 5)
    thin = (value_noise(shape, between(rng, 1.5, 5) * k, rng) * 0.25 + rng.uniform(0.0, 0.25)).clip(-0.3, 0.6) * k
    return np.asarray(np.clip((thin - away) / 1.2 + 0.5, 0, 1), np.float32)


def _strands(sheet: Sheet) -> Image:
    """Tapering threads in bundles and fans, bending together."""
    rng, k, shape = sheet.rng, sheet.k, sheet.shape
    glow = np.zeros((shape[0] * 2, shape[1] * 2), np.uint8)
    for _ in range(max(1, round(rng.uniform(0.1, 1.2) * shape[0] * shape[1] / (22 * k) ** 2))):
        middle = np.array([rng.random() * shape[1], rng.random() * shape[0]])
        bundle, spin, reach, loose = rng.random() * 6.3, rng.normal(0, SPIN), rng.uniform(4, 16) * k, rng.uniform(0.05, 0.9)
        widest = between(rng, 0.08, 0.6)
        for _ in range(int(rng.integers(8, 60))):
            at = middle + rng.normal(0, reach * 0.6, 2)
            heading, steps = bundle + rng.normal(0, loose), int(rng.integers(6, 45))
            wide = widest * rng.uniform(0.4, 1.0)
            _thread(glow, at, heading, spin, steps, wide, k, rng)
    return np.asarray(cv2.resize(glow, (shape[1], shape[0]), interpolation=cv2.INTER_AREA) / np.float32(255.0), np.float32)


def _thread(glow: Any, at: Any, heading: float, spin: float, steps: int, wide: float, k: float, rng: np.random.Generator) -> None:
    for i in range(steps):
        heading += spin + rng.normal(0, WANDER)
        to = at + np.array([np.cos(heading), np.sin(heading)]) * 0.5 * k
        taper = min(1.0, 3.0 * (i + 1) / steps, 3.0 * (steps - i) / steps)
        ends = [(round(p[0] * 32), round(p[1] * 32)) for p in (at, to)]
        cv2.line(glow, ends[0], ends[1], 255, max(1, round(wide * taper * k * 2)), cv2.LINE_AA, 4)
        at = to


def _combed(sheet: Sheet) -> Image:
    """Fine lines side by side, as a dragged edge or a feathered petal leaves them."""
    rng, k, shape = sheet.rng, sheet.k, sheet.shape
    angle, pitch = rng.random() * np.pi, between(rng, 0.8, 4.0) * k
    rows, columns = np.mgrid[0 : shape[0], 0 : shape[1]].astype(np.float32)
    across = (columns * np.cos(angle) + rows * np.sin(angle)) / pitch + layered_noise(shape, 15 * k, rng, 2) * np.float32(rng.uniform(0.3, 2.5))
    along = layered_noise(shape, between(rng, 3, 10) * k, rng, 2)
    near = np.abs((across % 1.0) - 0.5) * pitch
    half = (along * 0.12 + rng.uniform(-0.02, 0.15)) * k
    return np.asarray(np.clip((half - near) / 1.2 + 0.5, 0, 1), np.float32)


KINDS = (_web, _meshes, _strands, _combed)


def hang(sheet: Sheet) -> None:
    """Lay one kind of lacing over part of the sheet, in a colour that is seen there."""
    rng, k = sheet.rng, sheet.k
    kind = KINDS[int(rng.choice(len(KINDS), p=(0.3, 0.25, 0.3, 0.15)))]
    share = kind(sheet)
    patch = layered_noise(sheet.shape, between(rng, 15, 50) * k, rng, 2)
    where = np.clip((patch - np.quantile(patch, rng.uniform(0.0, 0.85))) / 0.08 + 0.5, 0, 1).astype(np.float32)
    share = share * where * (~sheet.bare)
    if chance(rng, 0.4):
        share = share * (sheet.cells == 0)
    thread = kind is _strands
    light = chance(rng, 1 - DARK_STRANDS if thread else 0.5)
    mean = sheet.linear.reshape(-1, 3).mean(axis=0)
    gap = np.abs(np.sqrt(sheet.colours) - np.sqrt(mean)).sum(axis=1)
    colour = sheet.colours[int(np.argmax(sheet.colours.sum(1)))] if light else sheet.colours[int(np.argmax(gap + rng.random(len(gap)) * 0.4))]
    before = sheet.linear.copy()
    sheet.lay(colour * np.float32(rng.uniform(0.85, 1.1)), share * np.float32(rng.uniform(0.85 if thread else 0.6, 1.0)))
    seen = cv2.blur(apart(before, sheet.linear), (3, 3)) > SEEN
    sheet.lacing = np.maximum(sheet.lacing, share * seen * (sheet.cells == 0))
