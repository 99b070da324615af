"""What is on a panel and is none of its figures: dust, hairs, brush hairs, bubbles, pocks, scratches, sheen, the weave that shows through."""

from __future__ import annotations

import cv2
import numpy as np

from dribbet.demo.noise import Image, layered_noise, value_noise
from dribbet.demo.world.sheet import Sheet, between, chance


def _hair(sheet: Sheet) -> None:
    """A hair lies on top, bends smoothly, is of one width throughout and throws a thin shadow: no crack does."""
    rng, k, shape = sheet.rng, sheet.k, sheet.shape
    at, heading, bend = np.array([rng.random() * shape[1], rng.random() * shape[0]]), rng.random() * 6.3, rng.normal(0, 0.04)
    points = [at]
    for _ in range(int(between(rng, 10, 120))):
        bend = 0.95 * bend + rng.normal(0, 0.008)
        heading += bend
        points.append(points[-1] + np.array([np.cos(heading), np.sin(heading)]) * 0.3 * k)
    line = np.round(np.array(points) * 16).astype(np.int32)
    for shift, level, share in ((0.12 * k, 0.0, rng.uniform(0, 0.4)), (0.0, rng.uniform(0.0, 0.9), rng.uniform(0.5, 1.0))):
        drawn = np.zeros(shape, np.uint8)
        cv2.polylines(drawn, [line + round(shift * 16)], False, round(255 * share), max(1, round(rng.uniform(0.04, 0.12) * k)), cv2.LINE_AA, 4)
        sheet.lay(np.full(3, level, np.float32), drawn.astype(np.float32) / 255.0)


def _dust(sheet: Sheet) -> None:
    rng, k, shape = sheet.rng, sheet.k, sheet.shape
    level = rng.uniform(0.3, 0.9) if chance(rng, 0.7) else 0.02
    for _ in range(int(between(rng, 3, 120))):
        x, y = rng.integers(shape[1] * 16), rng.integers(shape[0] * 16)
        size = between(rng, 0.05, 0.3) * k * 16
        cv2.ellipse(
            sheet.linear, (int(x), int(y)), (int(size), int(size * rng.uniform(0.3, 1))), rng.random() * 180, 0, 360, [level] * 3, -1, cv2.LINE_AA, 4
        )


def _bubbles(sheet: Sheet) -> None:
    """Burst bubbles and pocks: a dark dimple with a lit rim on one side, under a millimetre or little more."""
    rng, k, shape = sheet.rng, sheet.k, sheet.shape
    light = rng.random() * 6.3
    rows, columns = np.mgrid[0 : shape[0], 0 : shape[1]].astype(np.float32)
    for _ in range(int(between(rng, 2, 40))):
        x, y, r = rng.random() * shape[1], rng.random() * shape[0], between(rng, 0.15, 0.9) * k
        window = np.s_[max(0, int(y - 3 * r)) : int(y + 3 * r) + 2, max(0, int(x - 3 * r)) : int(x + 3 * r) + 2]
        dx, dy = columns[window] - x, rows[window] - y
        away = np.hypot(dx, dy) / r
        slope = (dx * np.cos(light) + dy * np.sin(light)) / r * np.exp(-(away**2))
        sheet.linear[window] *= np.clip(1.0 + rng.uniform(0.2, 0.9) * slope - 0.2 * np.exp(-((away * 1.5) ** 2)), 0.1, 3)[..., None]


def _sheen(sheet: Sheet) -> None:
    """Pearl in some colours: glints and a tone that drifts over the panel."""
    rng, k, shape = sheet.rng, sheet.k, sheet.shape
    where = np.clip(layered_noise(shape, between(rng, 6, 40) * k, rng, 3) + 0.2, 0, 1)
    flakes = cv2.GaussianBlur(rng.standard_normal(shape).astype(np.float32), (0, 0), between(rng, 0.04, 0.2) * k)
    flakes /= max(float(flakes.std()), 1e-6)
    sheet.linear *= np.clip(1.0 + where * (np.clip(flakes, -1, 3) * rng.uniform(0.03, 0.35) + 0.3 * value_noise(shape, 50 * k, rng)), 0.3, 3)[
        ..., None
    ]


def _streaks(sheet: Sheet) -> None:
    """Scratches and drag marks: straight, faint, over everything."""
    rng, k, shape = sheet.rng, sheet.k, sheet.shape
    drawn = np.zeros(shape, np.uint8)
    for _ in range(int(rng.integers(1, 8))):
        a = np.array([rng.random() * shape[1], rng.random() * shape[0]])
        turn = rng.random() * 6.3
        b = a + np.array([np.cos(turn), np.sin(turn)]) * between(rng, 3, 40) * k
        cv2.line(drawn, (int(a[0] * 16), int(a[1] * 16)), (int(b[0] * 16), int(b[1] * 16)), int(rng.integers(20, 90)), 1, cv2.LINE_AA, 4)
    sheet.lay(np.full(3, rng.uniform(0.1, 0.9), np.float32), drawn.astype(np.float32) / 255.0)


def settle(sheet: Sheet, relief: Image) -> None:
    """Whatever settles on a panel that hangs in a studio, some of it each time."""
    rng, k = sheet.rng, sheet.k
    if chance(rng, 0.45):  # the weave telegraphs through a thin film
        thin = np.clip(layered_noise(sheet.shape, 40 * k, rng, 2) * 0.5 + rng.uniform(0.2, 1.0), 0, 1)
        sheet.linear *= (1.0 + np.float32(rng.uniform(0.01, 0.09)) * relief * thin)[..., None]
    sheet.linear *= (1.0 + np.float32(rng.uniform(0.0, 0.06)) * layered_noise(sheet.shape, between(rng, 2, 15) * k, rng, 3))[..., None]
    for share, mark in ((0.25, _dust), (0.2, _bubbles), (0.25, _sheen), (0.08, _streaks)):
        if chance(rng, share):
            mark(sheet)
    if chance(rng, 0.25):
        for _ in range(int(rng.integers(1, 6))):
            _hair(sheet)
    sheet.linear = np.clip(sheet.linear, 0.0, 1.0)
