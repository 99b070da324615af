"""The edge of a lit board, mirrored in a dried film: how a smooth film shows it sharply and a rough one smears it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Final

import numpy as np
from scipy.special import ndtr

if TYPE_CHECKING:
    from dribbet.demo.noise import Image

REACH_MM: Final = 250.0
"""Board and camera half a metre from the panel each: D_board D_camera / (D_board + D_camera)."""
MIRRORED: Final = 0.3
"""Of a white card's luminance: a polished film mirrors 4 % of a board that is some eight times as bright as the card."""
BASE_DEG: Final = 12.0
"""Slopes of the grain of a bare base, root mean square."""


def mirrored(film: Any, k: float, rough_deg: float, rng: np.random.Generator, height_mm: Image | None = None) -> Any:
    """Light that a panel mirrors, shape (rows, columns), in shares of a white card: one side of an edge across its middle, about upright, is lit.

    A facet turned by p turns its ray by 2 p: a place at s mm from the edge's mirror image sees the board where s + 2 D p > 0. Slopes of facets are
    normal with `rough_deg` root mean square, so the edge is the integral of a Gaussian, 2 D tan(rough) wide; waves of the surface (`height_mm`)
    shift it.
    """
    rows, columns = film.shape
    y, x = np.mgrid[0:rows, 0:columns].astype(np.float32)
    turn = np.radians(float(rng.uniform(-12.0, 12.0)))
    along, down = np.cos(turn), np.sin(turn)
    middle = float(rng.uniform(0.4, 0.6))
    s = (((x - columns * middle) * along + (y - rows / 2.0) * down) / k) * (1.0 if rng.random() < 0.5 else -1.0)
    if height_mm is not None:
        steep_y, steep_x = (g * k for g in np.gradient(height_mm))
        s = s + 2.0 * REACH_MM * (steep_x * along + steep_y * down)
    wide = 2.0 * REACH_MM * np.tan(np.radians(np.where(film, rough_deg, BASE_DEG)))
    return np.asarray(MIRRORED * ndtr(s / np.maximum(wide, 1e-3)), np.float32)
