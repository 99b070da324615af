"""Panels of the painter's with what worlds hang and break over them: cracks that are faint, and strands that are none.

Forests for lines trust the eyes as far as their teachers let them. The painter's own cracks are dark or show light ground and anybody sees them; most
cracks of a dried film part from it by a little, on one colour more than on the next, and strands of lacing are as thin, as dark and as torn.
"""

from __future__ import annotations

from typing import Final

import cv2
import numpy as np

from dribbet.demo.noise import layered_noise
from dribbet.demo.world.fractures import Breaking, break_up, craze, visible
from dribbet.demo.world.sheet import Sheet, between, chance
from dribbet.demo.world.webs import hang
from training.painted import painted

KINDS: Final = ("bands", "outlined", "", "dense", "bands", "lacing", "plain", "stretched")
CRACKED_EVERY: Final = 3  # of the panels with strands one is cracked as well
FAINTEST: Final = 0.2  # of the difference between what a crack shows and what lies around it, that is left
SPINE: Final = 0.5
BASE_POURED: Final = 0.4  # of the panels' bases are of a colour that is in the cup as well, as white mostly is


def faint(seed: int, width_mm: float, height_mm: float, k: float) -> Sheet:
    """One panel whose film breaks and shows a base of any colour, more or less plainly."""
    rng = np.random.default_rng([seed, 31])
    sheet = painted(seed, width_mm, height_mm, k, KINDS[seed % len(KINDS)])
    return _broken(sheet, rng)


def strung(seed: int, width_mm: float, height_mm: float, k: float) -> Sheet:
    """One panel with strands in one or two places; every third breaks, strands and all."""
    rng = np.random.default_rng([seed, 37])
    sheet = painted(seed, width_mm, height_mm, k, KINDS[seed % len(KINDS)])
    for _ in range(int(rng.integers(1, 3))):
        hang(sheet)
    return _broken(sheet, rng) if seed % CRACKED_EVERY == 0 else sheet


def _broken(sheet: Sheet, rng: np.random.Generator) -> Sheet:
    lab = np.array([rng.uniform(8, 97), rng.normal(0, 16), rng.normal(0, 16)], np.float32)
    base = np.clip(cv2.cvtColor(lab.reshape(1, 1, 3), cv2.COLOR_Lab2LRGB), 0, 1)
    if chance(rng, BASE_POURED):
        base = sheet.colours[rng.integers(len(sheet.colours))] * np.float32(rng.uniform(0.9, 1.0))
    sheet.under = np.broadcast_to(base, sheet.linear.shape).astype(np.float32)
    before, cracks = sheet.linear.copy(), sheet.cracks
    sheet.cracks = np.zeros_like(cracks)
    if chance(rng, 0.25):
        craze(sheet)
    else:
        break_up(sheet, _breaking(sheet, rng))
    plain = between(rng, FAINTEST, 1.0)
    sheet.linear = np.clip(before + (sheet.linear - before) * np.float32(plain), 0, 1)
    seen = visible(before, sheet.linear, sheet.cracks > SPINE, sheet.k)
    sheet.cracks = np.maximum(cracks, sheet.cracks * seen)
    return sheet


def _breaking(sheet: Sheet, rng: np.random.Generator) -> Breaking:
    """Enough of it to be judged: half of the panel at least may break."""
    patch = layered_noise(sheet.shape, 30 * sheet.k, rng, 2)
    return Breaking(
        length_mm=between(rng, 60, 900), wide_mm=between(rng, 0.1, 0.9), longest_mm=60, branching=rng.uniform(0.2, 0.8),
        wander=rng.uniform(0.06, 0.3), along=rng.random() * np.pi if chance(rng, 0.25) else None,
        where=(patch > np.quantile(patch, rng.uniform(0.0, 0.5))) & ~sheet.bare,
    )  # fmt: skip
