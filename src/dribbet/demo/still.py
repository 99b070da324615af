"""What the practice camera sees of the bench at a step of a pour: a made-up picture from above, small and plain."""

from __future__ import annotations

import zlib
from typing import TYPE_CHECKING, Any, Final

import cv2
import numpy as np

from dribbet.demo.build import jpeg
from dribbet.demo.noise import layered_noise
from dribbet.demo.story import SHELF
from dribbet.demo.world.films import bands
from dribbet.demo.world.lamps import linear_of_srgb, srgb_of
from dribbet.records import NO_HEX, Step

if TYPE_CHECKING:
    from dribbet.records import Panel, Series

WIDE_PX: Final = 320
HIGH_PX: Final = 240
BENCH: Final = (0.60, 0.57, 0.52)
CANVAS: Final = (0.90, 0.89, 0.86)
CUP: Final = (0.85, 0.86, 0.88)
SPREAD: Final = {Step.FILL: 0.0, Step.LAY: 0.0, Step.STAND: 0.0, Step.BASE: 0.0, Step.REST: 0.0, Step.LIFT: 0.42,
    Step.WAIT: 0.6, Step.TORCH: 0.66, Step.TILT: 1.0, Step.SPIN: 1.0, Step.WEIGH: 1.3,
}  # fmt: skip
"""How far the paint has come at a step, as a share of half the panel; steps that are not named lie between."""
OTHERWISE: Final = 0.75


def step_still(series: Series, panel: Panel, step: str) -> bytes:
    """Return a JPEG of the bench: table, panel, cup or paint as far as it has come."""
    rng = np.random.default_rng(zlib.crc32(panel.code.encode()))
    shape = (HIGH_PX, WIDE_PX)
    picture = np.broadcast_to(np.array(BENCH, np.float32), (*shape, 3)) * (1.0 + 0.05 * layered_noise(shape, 14.0, rng, 3))[..., None]
    ratio = series.constants.panel_width_m / series.constants.panel_height_m
    high = int(HIGH_PX * 0.8)
    wide = min(int(high * ratio), int(WIDE_PX * 0.9))
    top, left = (HIGH_PX - high) // 2, (WIDE_PX - wide) // 2
    picture[top : top + high, left : left + wide] = CANVAS
    reach = SPREAD.get(Step(step), OTHERWISE) * min(high, wide) / 2
    rows, columns = np.mgrid[0:HIGH_PX, 0:WIDE_PX].astype(np.float32)
    away = np.hypot(rows - HIGH_PX / 2, columns - WIDE_PX / 2) * (1.0 + 0.08 * layered_noise(shape, 40.0, rng, 2))
    if reach > 0.0:
        hexes = {m.name: m.hex for m in SHELF}
        colours = np.array([_rgb(hexes.get(layer.material, NO_HEX)) for layer in series.layers], np.float32)
        paint = srgb_of(bands(shape, 3.0, np.asarray(linear_of_srgb(colours), np.float32), rng))
        there = away < reach
        there[:top], there[top + high :], there[:, :left], there[:, left + wide :] = False, False, False, False
        picture[there] = paint[there]
    else:
        cup = np.clip(0.17 * HIGH_PX - away + 0.5, 0, 1)[..., None]
        picture = picture * (1 - cup) + np.array(CUP, np.float32) * cup
    seen = cv2.GaussianBlur(np.asarray(picture, np.float32), (0, 0), 0.8) + rng.normal(0, 0.012, (*shape, 3))
    return jpeg((np.clip(seen, 0, 1) * 255).astype(np.uint8), 78)


def _rgb(code: str) -> Any:
    return [int(code[i : i + 2], 16) / 255.0 for i in (1, 3, 5)]
