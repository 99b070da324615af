"""The panel while it is being drawn: linear light and truth side by side, on one grid."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import cv2
import numpy as np

if TYPE_CHECKING:
    from dribbet.demo.noise import Image

Mask = np.ndarray[Any, np.dtype[np.bool_]]
Numbers = np.ndarray[Any, np.dtype[np.int32]]
Colours = np.ndarray[Any, np.dtype[np.float32]]


@dataclass(kw_only=True)
class Sheet:
    """A panel in the making.

    `linear` (rows, columns, 3) is what is seen, `under` what a crack shows; `cells` numbers them from 1, `cracks` and `lacing` are
    shares of each pixel 0..1, `bare` is where no paint came.
    """

    k: float
    rng: np.random.Generator
    colours: Colours
    base: Colours
    linear: Image
    under: Image
    cells: Numbers
    cracks: Image
    lacing: Image
    bare: Mask

    @property
    def shape(self) -> tuple[int, int]:
        """Rows and columns."""
        return self.cells.shape[0], self.cells.shape[1]

    def lay(self, colour: Any, share: Image) -> None:
        """Colour over what is there, by its share of each pixel."""
        self.linear += (np.asarray(colour, np.float32) - self.linear) * share[..., None]


def blank(width_mm: float, height_mm: float, k: float, colours: Colours, base: Colours, rng: np.random.Generator) -> Sheet:
    """Return a sheet with nothing on it."""
    shape = (round(height_mm * k), round(width_mm * k))
    ground = np.broadcast_to(base, (*shape, 3)).astype(np.float32)
    return Sheet(
        k=k, rng=rng, colours=colours, base=base, linear=ground.copy(), under=ground.copy(), cells=np.zeros(shape, np.int32),
        cracks=np.zeros(shape, np.float32), lacing=np.zeros(shape, np.float32), bare=np.zeros(shape, bool),
    )  # fmt: skip


def apart(before: Image, after: Image) -> Image:
    """ΔE of CIELAB between two pictures in linear light: whether what was drawn is seen at all."""
    pair = [cv2.cvtColor(np.clip(p, 0, 1), cv2.COLOR_LRGB2Lab) for p in (before, after)]
    return np.asarray(np.linalg.norm(pair[0] - pair[1], axis=2), np.float32)


def chance(rng: np.random.Generator, share: float) -> bool:
    """Whether a thing happens this time."""
    return bool(rng.random() < share)


def between(rng: np.random.Generator, low: float, high: float) -> float:
    """Return a number from low to high, each ratio as likely as another."""
    return float(np.exp(rng.uniform(np.log(low), np.log(high))))
