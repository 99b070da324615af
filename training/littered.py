"""What lies on a dried panel or runs through its film and is no crack: hairs of pets and brushes, fibres, thin smooth threads of paint.

Drawn over worlds, of which the eyes for cracks learn, and over the painter's panels, of which the forests for lines do: a hair bends evenly and
is of one width, a thread swells and thins evenly; film breaks in short straight steps.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.demo.noise import layered_noise
from dribbet.demo.world.draw import draw
from dribbet.demo.world.sheet import between, chance
from training.painted import painted

if TYPE_CHECKING:
    from dribbet.demo.world.sheet import Sheet

STEP_MM: Final = 0.25
CRACKED_EVERY: Final = 3  # of the panels one is cracked as well
WORLDS: Final = ("cracked", "calm", "mixed", "cracked", "lacing", "tilted")


def littered(seed: int, width_mm: float, height_mm: float, k: float) -> Sheet:
    """One panel of the painter's with hairs, threads or both; every third has cracks beside them."""
    return litter(painted(seed, width_mm, height_mm, k, "cracked" if seed % CRACKED_EVERY == 0 else ""), np.random.default_rng([seed, 13]))


def littered_world(seed: int, width_mm: float, height_mm: float, k: float) -> Sheet:
    """One world with hairs, threads or both; every third has cracks beside them."""
    return litter(draw(seed, width_mm=width_mm, height_mm=height_mm, k=k, kind=WORLDS[seed % len(WORLDS)]), np.random.default_rng([seed, 13]))


def litter(sheet: Sheet, rng: np.random.Generator) -> Sheet:
    """Lay hairs, threads or both over a panel."""
    threads, hairs = chance(rng, 0.55), chance(rng, 0.75)
    if threads or not hairs:
        for _ in range(int(between(rng, 2, 14))):
            _thread(sheet, rng)
    if hairs:
        for _ in range(int(between(rng, 2, 30))):
            _hair(sheet, rng)
    if chance(rng, 0.4):
        outlines(sheet, rng)
    sheet.linear = np.clip(sheet.linear, 0.0, 1.0)
    return sheet


def outlines(sheet: Sheet, rng: np.random.Generator) -> None:
    """Thin bands where a colour was nearly used up: they run along levels of the flow, over the whole panel or a part of it."""
    field = layered_noise(sheet.shape, between(rng, 8, 50) * sheet.k, rng, int(rng.integers(1, 4)))
    steep = np.hypot(cv2.Sobel(field, cv2.CV_32F, 1, 0, scale=1 / 8), cv2.Sobel(field, cv2.CV_32F, 0, 1, scale=1 / 8))
    there = layered_noise(sheet.shape, between(rng, 20, 60) * sheet.k, rng, 2) > rng.uniform(-1.0, 0.5)
    for level in rng.normal(0, 0.6, int(rng.integers(1, 4))):
        wide = between(rng, 0.12, 0.7) * sheet.k * (1.0 + 0.5 * layered_noise(sheet.shape, between(rng, 5, 30) * sheet.k, rng, 1)).clip(0.2, 2)
        share = np.clip(wide / 2 - np.abs(field - level) / np.maximum(steep, 1e-5) + 0.5, 0, 1) * there
        _laid(sheet, sheet.colours[rng.integers(len(sheet.colours))] * rng.uniform(0.85, 1.1), share, between(rng, 0.02, 0.1))


def _laid(sheet: Sheet, colour: np.ndarray, share: np.ndarray, soft_mm: float) -> None:
    """Paint over what is there, cracks as well."""
    soft = cv2.GaussianBlur(share.astype(np.float32), (0, 0), max(0.3, soft_mm * sheet.k))
    sheet.lay(colour, soft)
    sheet.cracks = sheet.cracks * (1.0 - soft)


def _course(sheet: Sheet, rng: np.random.Generator, long_mm: float, curl: float) -> np.ndarray:
    """Places of a smooth line in px, `STEP_MM` apart: its bend drifts, and does not jump."""
    at = np.array([rng.random() * sheet.shape[1], rng.random() * sheet.shape[0]])
    heading, bend, usual = rng.random() * 2 * np.pi, rng.normal(0, curl), rng.normal(0, curl * 0.6)
    places = [at]
    for _ in range(max(4, round(long_mm / STEP_MM))):
        bend += 0.04 * (usual - bend) + rng.normal(0, curl * 0.12)
        heading += bend * STEP_MM
        at = at + np.array([np.cos(heading), np.sin(heading)]) * STEP_MM * sheet.k
        places.append(at)
    return np.array(places)


def _drawn(sheet: Sheet, places: np.ndarray, widths_mm: np.ndarray, soft_mm: float) -> np.ndarray:
    """How much of each pixel a line covers, 0..1; `widths_mm` of each place."""
    fine = 4
    mask = np.zeros((sheet.shape[0] * fine, sheet.shape[1] * fine), np.uint8)
    points = np.round(places * fine * 8).astype(np.int32)
    for a, b, wide in zip(points[:-1], points[1:], widths_mm[1:], strict=True):
        thick = max(1, round(wide * sheet.k * fine))
        cv2.line(mask, (int(a[0]), int(a[1])), (int(b[0]), int(b[1])), 255, thick, cv2.LINE_8, 3)
    share = cv2.resize(mask, (sheet.shape[1], sheet.shape[0]), interpolation=cv2.INTER_AREA).astype(np.float32) / 255.0
    return np.asarray(cv2.GaussianBlur(share, (0, 0), max(0.3, soft_mm * sheet.k)), np.float32)


def _hair(sheet: Sheet, rng: np.random.Generator) -> None:
    """Of one width throughout, thinner towards a tip at most, dark, pale or brown, its shadow beside it."""
    long_mm = between(rng, 5, 70)
    places = _course(sheet, rng, long_mm, between(rng, 0.02, 0.5))
    wide = between(rng, 0.05, 0.22)
    widths = np.full(len(places), wide)
    if chance(rng, 0.4):
        widths *= np.linspace(1.0, 0.3, len(places))
    level = np.clip(
        rng.choice([0.02, 0.08, 0.3, 0.8]) * np.exp(rng.normal(0, 0.3)) * np.array([1.0, rng.uniform(0.75, 1), rng.uniform(0.5, 1)]), 0, 1
    )
    if chance(rng, 0.5):
        shadow = _drawn(sheet, places + rng.normal(0, 0.12 * sheet.k, 2), widths * 1.3, 0.08)
        sheet.linear *= 1.0 - (shadow * rng.uniform(0.1, 0.5))[..., None]
    sheet.lay(level.astype(np.float32), _drawn(sheet, places, widths, 0.02) * np.float32(rng.uniform(0.45, 1.0)))


def _thread(sheet: Sheet, rng: np.random.Generator) -> None:
    """A thin band of one of the colours, drawn out by the flow: swells and thins evenly, ends in a point."""
    long_mm = between(rng, 10, 120)
    places = _course(sheet, rng, long_mm, between(rng, 0.02, 0.35))
    t = np.linspace(0, 1, len(places))
    swell = 1.0 + rng.uniform(0, 0.6) * np.sin(2 * np.pi * (rng.uniform(0.5, 4) * t + rng.random()))
    ends = np.clip(np.minimum(t, 1 - t) * rng.uniform(4, 40), 0, 1)
    widths = between(rng, 0.15, 0.8) * swell * ends
    colour = sheet.colours[rng.integers(len(sheet.colours))]
    _laid(sheet, colour * rng.uniform(0.85, 1.1), _drawn(sheet, places, widths, 0.0) * rng.uniform(0.7, 1.0), between(rng, 0.02, 0.12))
