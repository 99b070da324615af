"""What lies beneath and round the paint: canvas, wood, a brushed base coat, and where the pour did not come."""

from __future__ import annotations

import cv2
import numpy as np

from dribbet.demo.noise import Image, layered_noise, value_noise
from dribbet.demo.world.palettes import linear_of_lab
from dribbet.demo.world.sheet import Mask, Sheet, between, chance


def weave(shape: tuple[int, int], k: float, rng: np.random.Generator) -> Image:
    """Relief of a canvas, mean 0, about -1 … 1: threads over and under, unevenly thick."""
    pitch = between(rng, 0.45, 1.3) * k
    rows, columns = np.mgrid[0 : shape[0], 0 : shape[1]].astype(np.float32)
    columns = columns + value_noise(shape, 12 * k, rng) * 0.3 * np.float32(pitch)
    rows = rows + value_noise(shape, 12 * k, rng) * 0.3 * np.float32(pitch)
    warp, weft = np.sin(columns * np.float32(np.pi / pitch)), np.sin(rows * np.float32(np.pi / pitch))
    relief = warp**2 * (np.sign(warp * weft) + 1.3) - weft**2 * (np.sign(warp * weft) - 1.3)
    return np.asarray((relief - relief.mean()) / max(float(np.abs(relief).max()), 1e-6), np.float32)


def grain(shape: tuple[int, int], k: float, rng: np.random.Generator) -> Image:
    """Relief and tone of wood along x, about -1 … 1."""
    rings = layered_noise(shape, 2.2 * k, rng, 3, stretch=14.0)
    pores = np.clip(value_noise(shape, 0.35 * k, rng, stretch=18.0) - 1.6, 0, 1)
    return np.asarray(np.tanh(rings * 0.6) - pores, np.float32)


def brushed(shape: tuple[int, int], k: float, rng: np.random.Generator) -> Image:
    """Brush marks of a base coat: fine lines one way, some strokes crossing."""
    marks = value_noise(shape, 0.35 * k, rng, stretch=rng.uniform(15, 50)) + value_noise(shape, 1.2 * k, rng, stretch=20.0)
    if chance(rng, 0.5):
        across = value_noise(shape[::-1], 0.4 * k, rng, stretch=25.0).T
        marks = np.where(layered_noise(shape, 20 * k, rng, 2) > 0.4, across, marks)
    return np.asarray(np.tanh(marks * 0.6), np.float32)


def lay_ground(sheet: Sheet) -> Image:
    """Put the ground under everything; returns its relief, which may telegraph through a thin film."""
    rng, k, shape = sheet.rng, sheet.k, sheet.shape
    draw = rng.random()
    relief = weave(shape, k, rng) if draw < 0.5 else grain(shape, k, rng) if draw < 0.65 else np.zeros(shape, np.float32)
    colour = sheet.base
    if chance(rng, 0.4):  # primed canvas under a coloured base
        colour = linear_of_lab([[rng.uniform(84, 97), 0, rng.uniform(0, 5)]])[0]
    if draw >= 0.5 and draw < 0.65 and chance(rng, 0.5):
        colour = linear_of_lab([[rng.uniform(45, 78), rng.uniform(3, 12), rng.uniform(12, 28)]])[0]
    coat = brushed(shape, k, rng) if chance(rng, 0.6) else np.zeros(shape, np.float32)
    tone = 1.0 + np.float32(rng.uniform(0.01, 0.07)) * relief + np.float32(rng.uniform(0.0, 0.05)) * coat
    sheet.linear = np.asarray(sheet.base * tone[..., None], np.float32)
    sheet.under = np.asarray(colour * (1.0 + np.float32(rng.uniform(0.02, 0.15)) * relief)[..., None], np.float32)
    return relief


def reach(sheet: Sheet) -> Mask:
    """Where no paint came: nowhere, corners, a side, all round, holes; with drops of the pour beyond its edge."""
    rng, k, shape = sheet.rng, sheet.k, sheet.shape
    rows, columns = np.mgrid[0 : shape[0], 0 : shape[1]].astype(np.float32)
    rough = layered_noise(shape, between(rng, 6, 25) * k, rng, 4) * np.float32(between(rng, 0.5, 5) * k)
    bare = np.zeros(shape, bool)
    draw = rng.random()
    if draw < 0.45:
        return bare
    if draw < 0.75:
        for i in rng.permutation(4)[: rng.integers(1, 4)]:
            y, x = ((0, 0), (0, shape[1]), (shape[0], shape[1]), (shape[0], 0))[i]
            power = rng.uniform(1.0, 3.0)
            away = (np.abs(rows - y) ** power + np.abs(columns - x) ** power) ** (1 / power)
            bare |= away + rough < between(rng, 6, 40) * k
    elif draw < 0.9:
        inset = rng.uniform(0.02, 0.25) * min(shape)
        edge = np.minimum(np.minimum(rows, shape[0] - rows), np.minimum(columns, shape[1] - columns))
        bare |= edge < inset + rough * 1.5 + layered_noise(shape, 40 * k, rng, 2) * np.float32(inset * 0.4)
    else:
        along = columns if chance(rng, 0.5) else rows
        bare |= along + rough < rng.uniform(0.05, 0.5) * min(shape)
    if chance(rng, 0.3):  # drops thrown beyond the edge are paint
        drops = value_noise(shape, between(rng, 0.5, 2.0) * k, rng) > rng.uniform(1.6, 2.4)
        bare &= ~drops
    return bare


def uncover(sheet: Sheet, ground: Image) -> None:
    """Take the paint away where none came; at times with a thick lip along its edge."""
    rng, k = sheet.rng, sheet.k
    if not sheet.bare.any():
        return
    covered = cv2.GaussianBlur((~sheet.bare).astype(np.float32), (0, 0), between(rng, 0.03, 0.2) * k)
    if chance(rng, 0.4):
        near = cv2.distanceTransform((~sheet.bare).astype(np.uint8), cv2.DIST_L2, 5) / k
        lip = np.exp(-((near / between(rng, 0.3, 1.5)) ** 2)) * np.float32(rng.uniform(-0.35, 0.35))
        sheet.linear *= (1.0 + lip)[..., None]
    sheet.linear = np.asarray(ground + (sheet.linear - ground) * covered[..., None], np.float32)
    sheet.cells[sheet.bare] = 0
    sheet.lacing[sheet.bare] = 0
    sheet.cracks[sheet.bare] = 0
