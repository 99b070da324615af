"""Colours of a pour: free, pastel, neon, earth, near-monochrome, of one lightness, black and white."""

from __future__ import annotations

from typing import Any, Final

import cv2
import numpy as np

from dribbet.demo.world.sheet import Colours, chance

KINDS: Final = ("free", "pastel", "neon", "earth", "mono", "level", "grey")
SHARES: Final = (0.36, 0.14, 0.12, 0.12, 0.10, 0.10, 0.06)
LEAST_APART: Final = 9.0  # ΔE between any two, so that an eye can part them


def linear_of_lab(lab: Any) -> Colours:
    """Linear RGB of CIELAB colours, shape (n, 3), pulled into what a screen can show."""
    colours = np.asarray(lab, np.float32).reshape(-1, 1, 3)
    return np.asarray(np.clip(cv2.cvtColor(colours, cv2.COLOR_Lab2LRGB)[:, 0], 0.004, 0.95), np.float32)


def lab_of_linear(linear: Any) -> Colours:
    """CIELAB of linear RGB, shape (n, 3)."""
    return np.asarray(cv2.cvtColor(np.asarray(linear, np.float32).reshape(-1, 1, 3), cv2.COLOR_LRGB2Lab)[:, 0], np.float32)


def _one(kind: str, hue: float, level: float, rng: np.random.Generator) -> list[float]:
    turn = rng.random() * 2 * np.pi
    if kind == "pastel":
        light, chroma = rng.uniform(70, 95), rng.uniform(5, 30)
    elif kind == "neon":
        light, chroma = rng.uniform(45, 90), rng.uniform(60, 110)
    elif kind == "earth":
        light, chroma, turn = rng.uniform(15, 75), rng.uniform(8, 40), rng.normal(1.1, 0.4)
    elif kind == "mono":
        light, chroma, turn = rng.uniform(8, 95), rng.uniform(5, 55), hue + rng.normal(0, 0.15)
    elif kind == "level":
        light, chroma = level + rng.normal(0, 2.0), rng.uniform(15, 60)
    elif kind == "grey":
        light, chroma = rng.uniform(4, 96), rng.uniform(0, 4)
    else:
        light, chroma = rng.uniform(5, 97), rng.uniform(0, 75)
    return [light, chroma * np.cos(turn), chroma * np.sin(turn)]


def palette(rng: np.random.Generator) -> Colours:
    """Two to six colours, shape (n, 3), linear; often with a white or a black among them."""
    kind = str(rng.choice(KINDS, p=SHARES))
    hue, level = rng.random() * 6.3, rng.uniform(35, 75)
    wanted = int(rng.integers(2, 7))
    kept: list[Any] = []
    if chance(rng, 0.45):
        kept.append([rng.uniform(92, 98), rng.normal(0, 1), rng.normal(1, 2)])
    if chance(rng, 0.3):
        kept.append([rng.uniform(3, 14), rng.normal(0, 2), rng.normal(0, 2)])
    for _ in range(200):
        if len(kept) >= wanted:
            break
        one = _one(kind, hue, level, rng)
        if all(np.linalg.norm(np.subtract(one, other)) > LEAST_APART for other in kept):
            kept.append(one)
    colours = linear_of_lab(kept)
    return np.asarray(colours[rng.permutation(len(colours))])


def base_coat(colours: Colours, rng: np.random.Generator) -> Colours:
    """Base of a panel: mostly white or light, at times coloured or dark, and at times one of the poured colours themselves."""
    draw = rng.random()
    if draw < 0.50:
        return np.asarray(linear_of_lab([[rng.uniform(85, 97), rng.normal(0, 1.5), rng.normal(2, 3)]])[0])
    if draw < 0.72:
        return np.asarray(colours[rng.integers(len(colours))] * np.float32(rng.uniform(0.93, 1.05)))
    if draw < 0.88:
        return np.asarray(linear_of_lab([_one("free", 0, 50, rng)])[0])
    return np.asarray(linear_of_lab([[rng.uniform(8, 30), rng.normal(0, 3), rng.normal(0, 3)]])[0])
