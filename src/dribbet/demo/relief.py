"""The surface of a dried film: pits, bumps and waves as heights, and how a lamp shades them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Final

import cv2
import numpy as np

from dribbet.demo.noise import layered_noise

if TYPE_CHECKING:
    from dribbet.demo.noise import Image

RAKING_DEG: Final = 25.0
"""How high a raking lamp stands over the panel."""
DEEP_MM: Final = 0.12
"""Of a crack: a dried film is some tenth of a millimetre thick."""
WALL_MM: Final = 0.05
DARKEST: Final = 0.05  # of the light: a slope that turns away from the lamp still gets some from the room


@dataclass(frozen=True, kw_only=True)
class DrawnFault:
    """A pit (depth below nought) or a bump, round, of Gaussian section; its width is four standard deviations."""

    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float


EDGE_MM: Final = 8.0
FAR_MM: Final = 8.0
WIDTHS_MM: Final = (1.6, 2.2, 3.0, 4.0)
STEEP: Final = (0.08, 0.16)
"""Slopes of the flanks of faults, from and to."""


def scattered(width_mm: float, height_mm: float, rng: np.random.Generator, *, pits: int = 0, bumps: int = 0) -> tuple[DrawnFault, ...]:
    """Faults here and there on a panel, none near another or the edge; fewer where there is no room."""
    found: list[DrawnFault] = []
    for _ in range(200):
        if len(found) == pits + bumps:
            break
        x, y = (float(rng.uniform(EDGE_MM, long - EDGE_MM)) for long in (width_mm, height_mm))
        width = float(rng.choice(WIDTHS_MM))
        height = float(rng.uniform(*STEEP)) * width / 4.0 * float(np.exp(0.5))  # the steepest slope of a Gaussian section is h / (sd sqrt e)
        if all(np.hypot(x - f.x_mm, y - f.y_mm) > FAR_MM for f in found):
            found.append(DrawnFault(x_mm=x, y_mm=y, width_mm=width, height_mm=-height if len(found) < pits else height))
    return tuple(found)


def surface(
    shape: tuple[int, int], k: float, rng: np.random.Generator, *, faults: tuple[DrawnFault, ...] = (), slope: float = 0.0, wave_mm: float = 5.0
) -> Image:
    """Heights in mm, shape (rows, columns): waves of a root-mean-square slope along the lamps, and faults."""
    height = np.zeros(shape, np.float32)
    if slope > 0.0:
        height = layered_noise(shape, wave_mm * k / 2.0, rng, 2).astype(np.float32)
        height *= np.float32(slope / (np.asarray(np.gradient(height, axis=1)).std() * k))
    rows, columns = np.mgrid[0 : shape[0], 0 : shape[1]].astype(np.float32)
    for f in faults:
        sd = f.width_mm / 4.0
        far = ((columns + 0.5) / k - f.x_mm) ** 2 + ((rows + 0.5) / k - f.y_mm) ** 2
        height += np.float32(f.height_mm) * np.exp(-far / (2.0 * sd**2))
    return height


def grooves(cracks: Any, k: float) -> Image:
    """Heights in mm of cracks, shape (rows, columns): as deep as the film, with walls that the knife did not cut."""
    return np.asarray(-DEEP_MM * cv2.GaussianBlur(cracks.astype(np.float32), (0, 0), WALL_MM * k), np.float32)


def shading(height_mm: Image, k: float, lamp: str) -> Any:
    """Light that each place gets against a flat one, shape (rows, columns): a matt surface under a lamp at the left, at the right, or all round."""
    down, along = (g * k for g in np.gradient(height_mm))
    turned = 1.0 / np.sqrt(1.0 + down**2 + along**2)
    if lamp == "diffuse":
        return (0.5 + 0.5 * turned).astype(np.float32)
    towards = 1.0 if lamp == "left" else -1.0
    return np.maximum((1.0 + towards * along / np.tan(np.radians(RAKING_DEG))) * turned, DARKEST).astype(np.float32)
