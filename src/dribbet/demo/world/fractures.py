"""Cracks: a film that breaks, one break after another.

A later one starts at right angles from an older one or in the open, and ends where it meets one. What shows in a crack is what lies
beneath: white canvas, a base coat, wood, or only shadow; wide ones show the first, hairs mostly the last.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Final

import cv2
import numpy as np

from dribbet.demo.noise import Image, layered_noise, value_noise
from dribbet.demo.world.flow import polygons
from dribbet.demo.world.sheet import Mask, Sheet, apart, between, chance

STEP_MM: Final = 0.4
FINE: Final = 2  # the width is drawn on a grid so much finer than the sheet
LEAST_MM: Final = 1.5
SEEN: Final = 4.0  # ΔE of a crack in a picture, softly seen
SOFT_MM: Final = 0.1  # what a usual lens, and what resamples its picture, smear
ALONG_MM: Final = 1.2  # over so much of a crack what is seen is judged


@dataclass(frozen=True, kw_only=True)
class Breaking:
    """How a film breaks."""

    length_mm: float
    wide_mm: float
    longest_mm: float
    branching: float
    wander: float
    along: float | None
    where: Mask


def kinds_of(sheet: Sheet) -> Breaking:
    """One way to break: a few hairs in a corner, wide mud cracks, long ones one way, short ones everywhere."""
    rng, k, shape = sheet.rng, sheet.k, sheet.shape
    draw = rng.random()
    patch = layered_noise(shape, 30 * k, rng, 2)
    where = (patch > np.quantile(patch, rng.uniform(0.0, 0.85))) & ~sheet.bare
    if draw < 0.25:  # hairs in one corner
        rows, columns = np.mgrid[0 : shape[0], 0 : shape[1]].astype(np.float32)
        y, x = rng.integers(2) * shape[0], rng.integers(2) * shape[1]
        where = (np.hypot(rows - y, columns - x) < between(rng, 15, 45) * k) & ~sheet.bare
        return Breaking(
            length_mm=between(rng, 12, 90), wide_mm=between(rng, 0.07, 0.2), longest_mm=40, branching=0.4, wander=0.16, along=None, where=where
        )
    if draw < 0.45:
        return Breaking(
            length_mm=between(rng, 60, 900), wide_mm=between(rng, 0.25, 1.1), longest_mm=60, branching=0.8, wander=0.12, along=None, where=where
        )
    if draw < 0.65:
        return Breaking(
            length_mm=between(rng, 40, 500),
            wide_mm=between(rng, 0.1, 0.5),
            longest_mm=70,
            branching=0.25,
            wander=0.06,
            along=rng.random() * np.pi,
            where=where,
        )
    return Breaking(
        length_mm=between(rng, 15, 400),
        wide_mm=between(rng, 0.08, 0.4),
        longest_mm=50,
        branching=0.6,
        wander=rng.uniform(0.08, 0.3),
        along=None,
        where=where,
    )


def break_up(sheet: Sheet, how: Breaking) -> None:
    """Break the film until so much length is open."""
    rng, k, shape = sheet.rng, sheet.k, sheet.shape
    held = np.zeros(shape, np.uint8)
    body = np.zeros((shape[0] * FINE, shape[1] * FINE), np.uint8)
    spine = np.zeros(shape, np.uint8)
    rows, columns = np.nonzero(how.where)
    if not len(rows):
        return
    paths: list[tuple[Any, float]] = []
    left, tries = how.length_mm, 0
    while left > LEAST_MM and tries < 400:
        tries += 1
        if paths and chance(rng, how.branching):
            older, wide = paths[rng.integers(len(paths))]
            i = int(rng.integers(1, len(older) - 1))
            along = np.arctan2(*(older[i + 1] - older[i - 1])[::-1])
            start, heading = older[i], along + rng.choice((-1, 1)) * (np.pi / 2 + rng.normal(0, 0.2))
            ways, wide, rooted = [heading], wide * rng.uniform(0.5, 0.95), True
        else:
            j = rng.integers(len(rows))
            start = np.array([columns[j], rows[j]], float)
            heading = rng.random() * 6.3 if how.along is None else how.along + rng.normal(0, 0.12)
            ways, wide, rooted = [heading, heading + np.pi], how.wide_mm * rng.uniform(0.6, 1.2), False
            if held[int(start[1]), int(start[0])]:
                continue
        longest = rng.uniform(0.15, 1.0) * how.longest_mm / len(ways)
        arms = [_run(sheet, how, held, start, way, min(longest, left), rooted) for way in ways]
        path = np.vstack([arms[0][0][::-1], arms[1][0][1:]]) if len(arms) == 2 else arms[0][0]
        ends = (arms[0][1], arms[1][1]) if len(arms) == 2 else (True, arms[0][1])
        long_mm = float(np.linalg.norm(np.diff(path, axis=0), axis=1).sum() / k)
        if long_mm < LEAST_MM:
            continue
        _draw(body, spine, held, path, max(wide, 0.06), ends, k, rng)
        paths.append((path, wide))
        left -= long_mm
    share = cv2.resize(body, (shape[1], shape[0]), interpolation=cv2.INTER_AREA).astype(np.float32) / 255.0
    reveal(sheet, share, spine > 0)


def _run(sheet: Sheet, how: Breaking, held: Any, start: Any, heading: float, longest: float, rooted: bool) -> tuple[Any, bool]:
    """Points of one arm, and whether it ended on an older crack."""
    rng, k, shape = sheet.rng, sheet.k, sheet.shape
    points = [np.asarray(start, float)]
    for i in range(int(longest / STEP_MM)):
        heading += rng.normal(0, how.wander)
        to = points[-1] + np.array([np.cos(heading), np.sin(heading)]) * STEP_MM * k + rng.normal(0, 0.05 * k, 2)
        x, y = int(to[0]), int(to[1])
        if not (1 <= x < shape[1] - 1 and 1 <= y < shape[0] - 1) or not how.where[y, x]:
            return np.array(points), False
        points.append(to)
        if held[y, x] and not (rooted and i < 3):
            return np.array(points), True
    return np.array(points), False


def _draw(body: Any, spine: Any, held: Any, path: Any, wide: float, ends: tuple[bool, bool], k: float, rng: np.random.Generator) -> None:
    count = len(path) - 1
    uneven = 1.0 + 0.25 * np.interp(np.arange(count), np.linspace(0, count, 8), rng.standard_normal(8))
    for i in range(count):
        taper = min(1.0, 0.25 + 6.0 * (i + 1) / count if not ends[0] else 1.0, 0.25 + 6.0 * (count - i) / count if not ends[1] else 1.0)
        thick = wide * taper * max(0.3, float(uneven[i])) * k * FINE
        a, b = [(round(p[0] * FINE * 16), round(p[1] * FINE * 16)) for p in path[i : i + 2]]
        cv2.line(body, a, b, min(255, round(255 * min(1.0, thick))), max(1, round(thick)), cv2.LINE_AA, 4)
        a, b = [(round(p[0] * 16), round(p[1] * 16)) for p in path[i : i + 2]]
        cv2.line(spine, a, b, 1, 1, cv2.LINE_8, 4)
        cv2.line(held, a, b, 1, 2, cv2.LINE_8, 4)


def craze(sheet: Sheet) -> None:
    """A fine closed net, as a skin that dried before its bed makes."""
    rng, k, shape = sheet.rng, sheet.k, sheet.shape
    mesh = between(rng, 2.0, 9.0) * k
    owner = polygons(shape, k, rng, mesh / k, reach_mm=mesh / k * 0.3, eddy_mm=mesh / k).astype(np.int64)
    kept = rng.integers(45, 96)
    sides = np.zeros(shape, bool)
    for axis in (0, 1):
        other = np.roll(owner, 1, axis)
        low, high = np.minimum(owner, other), np.maximum(owner, other)
        sides |= (owner != other) & ((low * 7919 + high * 104729) % 100 < kept)
    sides[:2] = sides[-2:] = False
    sides[:, :2] = sides[:, -2:] = False
    patch = layered_noise(shape, 25 * k, rng, 2)
    sides &= (patch > np.quantile(patch, rng.uniform(0.2, 0.9))) & ~sheet.bare
    from skimage.morphology import skeletonize

    spine = np.asarray(skeletonize(sides))
    wide = between(rng, 0.06, 0.35) * (1 + 0.3 * value_noise(shape, 5 * k, rng)).clip(0.4, 2)
    away = cv2.distanceTransform((~spine).astype(np.uint8), cv2.DIST_L2, 5)
    share = np.clip(wide * k / 2 - away + 0.5, 0, 1) * np.clip(wide * k, 0.4, 1)
    reveal(sheet, np.asarray(share, np.float32), spine)


def reveal(sheet: Sheet, share: Image, spine: Mask) -> None:
    """Open the film: what lies beneath shows in wide places, shadow in narrow ones; at times an edge of the crack catches light."""
    rng, k = sheet.rng, sheet.k
    draw = rng.random()
    wide = cv2.GaussianBlur(share, (0, 0), 0.25 * k)[..., None]
    if draw < 0.5:  # the ground, a little shaded in the depth
        shown = sheet.under * np.float32(rng.uniform(0.55, 1.0))
    elif draw < 0.72:  # shadow
        shown = np.broadcast_to(np.float32(between(rng, 0.006, 0.04)), sheet.linear.shape) * np.ones(3, np.float32)
    elif draw < 0.86:  # an under layer of the pour: of the film's own lightness it may be, and only of another hue
        colour = sheet.colours[rng.integers(len(sheet.colours))]
        level = sheet.linear.mean(axis=2, keepdims=True) / max(float(colour.mean()), 1e-3) if chance(rng, 0.5) else np.float32(1.0)
        shown = np.clip(colour * level, 0, 1)
    else:  # ground where it gapes, shadow where it is a hair
        shown = sheet.under * np.clip(wide * 3.0, 0.1, 1.0)
    before = sheet.linear.copy()
    depth = np.clip(share * rng.uniform(0.7, 1.0), 0, 1)[..., None]
    if chance(rng, 0.35):  # lips lit from one side
        lit = cv2.warpAffine(share, np.array([[1, 0, rng.normal(0, 0.12) * k], [0, 1, rng.normal(0, 0.12) * k]], np.float32), share.shape[::-1])
        sheet.linear *= 1.0 + (np.clip(lit - share, 0, 1) * np.float32(rng.uniform(-0.3, 0.4)))[..., None]
    sheet.linear += (np.asarray(shown, np.float32) - sheet.linear) * depth.astype(np.float32)
    line = np.maximum(share, spine.astype(np.float32) * 0.75)
    sheet.cracks = np.maximum(sheet.cracks, line * visible(before, sheet.linear, spine, k))  # what cannot be seen teaches nothing


def visible(before: Image, after: Image, spine: Mask, k: float) -> Mask:
    """Where a crack along `spine` is seen by whoever holds a photograph: stretch by stretch, as a net is seen on one colour and lost on the next.

    Pictures without and with it, in linear light, are softened as a usual photograph is; the difference of both is averaged along the crack.
    True on the spine and as far around as a crack may be wide.
    """
    soft = [cv2.GaussianBlur(p, (0, 0), SOFT_MM * k) for p in (before, after)]
    on = spine.astype(np.float32)
    far = cv2.GaussianBlur(apart(*soft) * on, (0, 0), ALONG_MM * k) / np.maximum(cv2.GaussianBlur(on, (0, 0), ALONG_MM * k), 1e-6)
    return np.asarray(far > SEEN)
