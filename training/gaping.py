"""Cracks that gape: up to some millimetres wide in their middle, fine at their tips, with wedges where several meet, over busy films as well.

A film that dries thick opens like this. `demo/world` breaks no wider than a millimetre and of nearly one width along each crack, so that eyes which
know only those see two lines where one wide crack has two sides.
"""

from __future__ import annotations

import itertools
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.demo.world.draw import draw
from dribbet.demo.world.fractures import kinds_of, reveal
from dribbet.demo.world.sheet import between, chance
from training.littered import outlines
from training.painted import painted

if TYPE_CHECKING:
    from typing import Any

    from dribbet.demo.world.sheet import Sheet

WORLDS: Final = ("calm", "mixed", "lacing", "tilted", "calm", "cells")
KINDS: Final = ("bands", "outlined", "", "bands", "lacing")
FINE: Final = 2
STEP_MM: Final = 0.4
TURN_MM: Final = 4.0  # about so far a crack keeps its heading
TIP: Final = 0.04  # of its greatest width, at a free end


def gaping_world(seed: int, width_mm: float, height_mm: float, k: float) -> Sheet:
    """One world whose film gapes; every second has thin bands along levels of its flow."""
    return _gaped(draw(seed, width_mm=width_mm, height_mm=height_mm, k=k, kind=WORLDS[seed % len(WORLDS)]), seed)


def gaping_painted(seed: int, width_mm: float, height_mm: float, k: float) -> Sheet:
    """One panel of the painter's whose film gapes; every second has thin bands along levels of a flow."""
    return _gaped(painted(seed, width_mm, height_mm, k, KINDS[seed % len(KINDS)]), seed)


def _gaped(sheet: Sheet, seed: int) -> Sheet:
    rng = np.random.default_rng([seed, 17])
    if seed % 2:
        outlines(sheet, rng)
        sheet.linear = np.clip(sheet.linear, 0.0, 1.0)
    return gape(sheet, rng)


def gape(sheet: Sheet, rng: np.random.Generator) -> Sheet:
    """Open cracks that branch: each swells and thins along its course, and a branch begins as wide as the crack that it leaves."""
    k, shape = sheet.k, sheet.shape
    where = kinds_of(sheet).where
    body = np.zeros((shape[0] * FINE, shape[1] * FINE), np.uint8)
    spine = np.zeros(shape, np.uint8)
    rows, columns = np.nonzero(where)
    if not len(rows):
        return sheet
    widest, wander = between(rng, 0.3, 3.0), rng.uniform(0.04, 0.3)
    left, courses = between(rng, 25, 350), []
    while left > 0 and len(courses) < 80:
        long_mm = between(rng, 6, 60)
        if courses and chance(rng, 0.6):
            older, widths, heading = courses[rng.integers(len(courses))]
            i = int(rng.integers(len(older)))
            start, wide = older[i], float(widths[i]) * rng.uniform(0.5, 1.0)
            heading = float(heading[i]) + rng.choice((-1, 1)) * rng.uniform(0.5, 1.7)
            course = _course(start, heading, long_mm, wander, k, rng)
            shares = _narrowing(len(course), rng)
        else:
            j = int(rng.integers(len(rows)))
            start, wide = np.array([columns[j], rows[j]], float), widest * rng.uniform(0.2, 1.0)
            course = _course(start, rng.random() * 2 * np.pi, long_mm, wander, k, rng)
            shares = np.minimum(_narrowing(len(course), rng), _narrowing(len(course), rng)[::-1])
        widths = np.maximum(wide * shares, TIP * wide)
        _drawn(body, spine, course, widths, k)
        steps = np.diff(course, axis=0)
        courses.append((course[1:], widths[1:], np.arctan2(steps[:, 1], steps[:, 0])))
        left -= long_mm
    share = cv2.resize(body, (shape[1], shape[0]), interpolation=cv2.INTER_AREA).astype(np.float32) / 255.0
    if chance(rng, 0.4):  # edges that sank in, softly
        share = cv2.GaussianBlur(share, (0, 0), between(rng, 0.05, 0.3) * k)
    reveal(sheet, np.asarray(share * ~sheet.bare, np.float32), (spine > 0) & ~sheet.bare)
    return sheet


def _course(start: Any, heading: float, long_mm: float, wander: float, k: float, rng: np.random.Generator) -> Any:
    """Places in px, `STEP_MM` apart: straight for some millimetres, then another way."""
    count = max(4, round(long_mm / STEP_MM))
    kinks = rng.random(count) < STEP_MM / TURN_MM
    headings = heading + np.cumsum(rng.normal(0, wander * 0.4, count) + kinks * rng.normal(0, 2.0 * wander, count))
    steps = np.stack([np.cos(headings), np.sin(headings)], axis=1) * STEP_MM * k
    return np.concatenate([[start], start + np.cumsum(steps, axis=0)])


def _narrowing(count: int, rng: np.random.Generator) -> Any:
    """Share of the width along a crack that ends free: even at first, then down to a tip, with swellings."""
    t = np.linspace(0, 1, count)
    swell = 1.0 + 0.3 * np.interp(t, np.linspace(0, 1, 7), rng.standard_normal(7))
    return np.clip((1.0 - t) / rng.uniform(0.2, 1.0), 0.0, 1.0) ** rng.uniform(0.6, 1.3) * np.clip(swell, 0.3, 1.8)


def _drawn(body: Any, spine: Any, course: Any, widths_mm: Any, k: float) -> None:
    for (a, b), wide in zip(itertools.pairwise(course), widths_mm[1:], strict=True):
        thick = float(wide) * k * FINE
        ends = [(round(p[0] * FINE * 16), round(p[1] * FINE * 16)) for p in (a, b)]
        cv2.line(body, *ends, min(255, round(255 * min(1.0, thick))), max(1, round(thick)), cv2.LINE_AA, 4)
        cv2.line(spine, *[(round(p[0] * 16), round(p[1] * 16)) for p in (a, b)], 1, 1, cv2.LINE_8, 4)
