"""How colours lie on a panel before anything opens in them: bands, marbling, blends, puddles, fans, rings, one plain colour."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Final

import cv2
import numpy as np

from dribbet.demo.noise import Image, layered_noise, value_noise
from dribbet.demo.world.flow import carried, moved
from dribbet.demo.world.sheet import Colours, between, chance

if TYPE_CHECKING:
    from collections.abc import Callable

Grid = tuple[int, int]


def shares_of(count: int, rng: np.random.Generator) -> Any:
    """How much of each colour is in the cup: at times much of one and a thread of another."""
    return rng.dirichlet(np.full(count, between(rng, 0.5, 4.0))) + 0.01


def _cut(phase: Image, colours: Colours, rng: np.random.Generator, soft: float) -> Image:
    """Colours by slices of a phase 0..1, each as wide as its share; edges blend over `soft` of the phase."""
    shares = shares_of(len(colours), rng)
    order = np.sort(phase, axis=None)[:: max(1, phase.size // 4096)]
    edges = np.interp(np.cumsum(shares / shares.sum())[:-1], np.linspace(0, 1, order.size), order)
    if soft <= 0.0:
        return np.asarray(colours[np.searchsorted(edges, phase).clip(0, len(colours) - 1)])
    out = np.broadcast_to(np.log(colours[0]), (*phase.shape, 3)).astype(np.float32)
    for edge, colour in zip(edges, colours[1:], strict=True):  # pigments multiply rather than add: blend in the logarithm
        share = np.clip((phase - edge) / soft + 0.5, 0, 1)[..., None].astype(np.float32)
        out += (np.log(colour) - out) * share
    return np.asarray(np.exp(out), np.float32)


def bands(shape: Grid, k: float, colours: Colours, rng: np.random.Generator) -> Image:
    """Warped bands, as cups and tilts leave them."""
    wide = between(rng, 8, 45) * k
    angle = rng.random() * 2 * np.pi
    rows, columns = np.mgrid[0 : shape[0], 0 : shape[1]].astype(np.float32)
    phase = (columns * np.cos(angle) + rows * np.sin(angle)) / (wide * len(colours)) + layered_noise(shape, wide * 1.5, rng, 3) * np.float32(
        rng.uniform(0.1, 0.6)
    )
    shift = carried(shape, k, rng, reach_mm=between(rng, 3, 40), eddy_mm=between(rng, 8, 40), tilt=rng.uniform(0, 1.5))
    return np.asarray(
        moved(_cut(np.asarray(phase % 1.0, np.float32), colours, rng, 0.0 if chance(rng, 0.7) else rng.uniform(0.02, 0.25)), shift), np.float32
    )


def marbled(shape: Grid, k: float, colours: Colours, rng: np.random.Generator) -> Image:
    """Many thin threads of colour, stirred: thin dark ones too, which are no cracks."""
    fine = between(rng, 1.2, 6) * k
    phase = layered_noise(shape, fine * 4, rng, 3) * 0.5 + layered_noise(shape, fine, rng, 2, stretch=rng.uniform(1, 6)) * 0.25
    picture = _cut(np.asarray(phase % 1.0, np.float32), colours, rng, 0.0 if chance(rng, 0.5) else rng.uniform(0.05, 0.4))
    for _ in range(int(rng.integers(1, 4))):
        picture = moved(picture, carried(shape, k, rng, reach_mm=between(rng, 4, 30), eddy_mm=between(rng, 5, 30), tilt=rng.uniform(0, 1)))
    return np.asarray(picture, np.float32)


def blended(shape: Grid, k: float, colours: Colours, rng: np.random.Generator) -> Image:
    """Colours that ran into each other without an edge."""
    phase = layered_noise(shape, between(rng, 12, 60) * k, rng, 4)
    phase = (phase - phase.min()) / max(float(np.ptp(phase)), 1e-6)
    return np.asarray(_cut(np.asarray(phase, np.float32), colours, rng, rng.uniform(0.15, 0.6)), np.float32)


def puddles(shape: Grid, k: float, colours: Colours, rng: np.random.Generator) -> Image:
    """Round puddles laid into each other, smeared by the tilt: large rounded fields that are no cells."""
    picture = np.broadcast_to(colours[0], (*shape, 3)).astype(np.float32)
    rows, columns = np.mgrid[0 : shape[0], 0 : shape[1]].astype(np.float32)
    for _ in range(int(rng.integers(6, 30))):
        x, y = rng.random() * shape[1], rng.random() * shape[0]
        first = between(rng, 12, 40) * k
        away = np.hypot(columns - x, (rows - y) * np.float32(rng.uniform(0.9, 1.1)))
        picture[away < first] = colours[rng.integers(len(colours))]
    for _ in range(3):  # drawn out until nothing round is left: rings in rings would be cells
        picture = np.asarray(moved(picture, carried(shape, k, rng, reach_mm=between(rng, 25, 80), eddy_mm=between(rng, 10, 40), tilt=1.5)))
    return picture


def fans(shape: Grid, k: float, colours: Colours, rng: np.random.Generator) -> Image:
    """Petals blown or dragged out of a middle, their edges feathered: a bloom."""
    rows, columns = np.mgrid[0 : shape[0], 0 : shape[1]].astype(np.float32)
    x, y = rng.uniform(0.1, 0.9) * shape[1], rng.uniform(0.1, 0.9) * shape[0]
    turn, away = np.arctan2(rows - y, columns - x), np.hypot(rows - y, columns - x) / (between(rng, 8, 30) * k)
    petals = int(rng.integers(4, 24))
    wave = np.abs(np.sin(turn * petals / 2 + value_noise(shape, 20 * k, rng) * 1.2))
    fringe = layered_noise(shape, between(rng, 1.5, 5) * k, rng, 3) * 0.12
    phase = away * rng.uniform(0.15, 0.5) - wave * rng.uniform(0.1, 0.5) + fringe
    return np.asarray(_cut(np.asarray(phase % 1.0, np.float32), colours, rng, 0.0 if chance(rng, 0.6) else rng.uniform(0.03, 0.2)), np.float32)


def rings(shape: Grid, k: float, colours: Colours, rng: np.random.Generator) -> Image:
    """Rings of a ring pour, thin against their radius, wavering."""
    rows, columns = np.mgrid[0 : shape[0], 0 : shape[1]].astype(np.float32)
    x, y = rng.uniform(0, 1) * shape[1], rng.uniform(0, 1) * shape[0]
    away = np.hypot(rows - y, columns - x) / k + layered_noise(shape, 12 * k, rng, 3) * np.float32(rng.uniform(0.5, 4))
    phase = away / between(rng, 4, 25)
    return np.asarray(_cut(np.asarray(phase % 1.0, np.float32), colours, rng, 0.0), np.float32)


def plain(shape: Grid, k: float, colours: Colours, rng: np.random.Generator) -> Image:
    """One colour, a little uneven."""
    tone = 1.0 + rng.uniform(0.0, 0.05) * layered_noise(shape, between(rng, 5, 60) * k, rng, 2)
    return np.asarray(colours[rng.integers(len(colours))] * tone[..., None], np.float32)


FILMS: Final[tuple[tuple[Callable[..., Image], float], ...]] = (
    (bands, 0.34), (marbled, 0.14), (blended, 0.14), (puddles, 0.08), (fans, 0.09), (rings, 0.05), (plain, 0.16),
)  # fmt: skip


def film(shape: Grid, k: float, colours: Colours, rng: np.random.Generator) -> Image:
    """One film of any kind, with pigment unevenly strong as it is in life."""
    kinds, shares = zip(*FILMS, strict=True)
    picture = kinds[int(rng.choice(len(kinds), p=np.array(shares) / sum(shares)))](shape, k, colours, rng)
    soft = between(rng, 0.02, 0.25) * k
    picture = cv2.GaussianBlur(picture, (0, 0), max(soft, 0.3))
    return np.asarray(picture, np.float32)
