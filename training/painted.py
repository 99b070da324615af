"""Panels of the demo's own painter, of any kind and palette: another hand than the worlds', for teaching beside them."""

from __future__ import annotations

from dataclasses import replace
from typing import Final

import cv2
import numpy as np

from dribbet.demo.painter import Pour, draw_panel, linear_of
from dribbet.demo.world.sheet import Sheet, blank
from dribbet.sight import colour

LIGHT_CRACKS: Final = 0.6
CANVASES: Final = ("#F4F2EC", "#E8E2D2", "#C9A77B")
MIX: Final = {
    "bands": 0.15, "dense": 0.15, "stretched": 0.15, "lacing": 0.20, "bare": 0.07, "cracked": 0.13, "outlined": 0.05, "mica": 0.05, "plain": 0.05,
}  # fmt: skip
"""Kinds of panels drawn, by share: the kinds that were hardest in the first round (lacing) come more often."""


def random_palette(rng: np.random.Generator) -> tuple[str, ...]:
    """Two to six colours that nobody takes for one another, as hex."""
    picked: list[np.ndarray] = []
    while len(picked) < rng.integers(2, 7):
        lab = np.array([rng.uniform(12, 95), rng.normal(0, 32), rng.normal(0, 32)])
        if all(np.linalg.norm(lab - p) > 18 for p in picked):
            picked.append(lab)
    return tuple(colour.hex_of(p) for p in picked)


def random_pour(rng: np.random.Generator, only: str = "") -> Pour:
    """What a panel of any kind may hold, or one of the kind that is asked for."""
    kind = only or rng.choice(list(MIX), p=list(MIX.values()))
    palette = random_palette(rng)
    shares = list(rng.uniform(0.5, 3, len(palette)))
    if kind == "outlined":  # thin bands of a dark neutral run along the borders of the others
        dark = colour.hex_of(np.array([rng.uniform(8, 24), rng.normal(0, 3), rng.normal(0, 3)]))
        palette, shares = (*palette[:4], dark), [*shares[:4], float(rng.uniform(0.15, 0.6))]
    if kind == "plain":
        palette = palette[:1]
    dense = kind == "dense"
    long_ = kind == "stretched"
    return Pour(
        width_mm=float(rng.choice([100, 120, 150])),
        height_mm=float(rng.choice([100, 120, 140])),
        palette=palette,
        shares=tuple(shares[: len(palette)]),
        seed=int(rng.integers(1 << 30)),
        band_mm=float(rng.uniform(9, 32)),
        swirl=float(rng.uniform(0.5, 1.6)),
        streak=float(rng.uniform(1.5, 4)) if long_ else float(rng.uniform(1, 1.5)),
        streak_angle=float(rng.uniform(-0.8, 0.8)),
        rim_lines=float(rng.choice([0, rng.uniform(0, 0.9)])),
        cells_per_dm2=float(rng.uniform(60, 320)) if dense else float(rng.uniform(0, 40)) * (kind != "plain") + (kind == "plain") * 0.5,
        cell_mm=float(rng.uniform(2, 5)),
        cell_spread=float(rng.uniform(0.25, 0.6)),
        cell_aspect=float(rng.uniform(1.6, 3.2)) if long_ else float(rng.uniform(1.0, 1.3)),
        ring_share=float(rng.uniform(0.2, 1)),
        clumping=float(rng.uniform(0.2, 0.9)) if dense else float(rng.uniform(0, 0.4)),
        pinholes_per_dm2=float(rng.uniform(0, 25)),
        lacing=float(rng.uniform(0.15, 0.8)) if kind == "lacing" else 0.0,
        lacing_strands=bool(rng.random() < 0.5),
        crack_net=bool(rng.random() < 0.5),
        crack_mm=float(np.exp(rng.uniform(np.log(20), np.log(900))))
        if kind == "cracked" or rng.random() < (0.4 if kind == "outlined" else 0.08)
        else 0.0,
        bare_corners=int(rng.integers(0, 3)) if rng.random() < 0.4 else 0,
        bare_round=float(rng.uniform(0.05, 0.2)) if kind == "bare" else 0.0,
        base=str(rng.choice(["#D9D5C8", "#303030", "#F4F2EC", "#B8A58A", "#8B9298"])),
        mica=float(rng.uniform(0.1, 0.7)) if kind == "mica" else 0.0,
    )


def painted(seed: int, width_mm: float, height_mm: float, k: float, only: str = "") -> Sheet:
    """One panel with its truth; what it holds follows from the seed, or from the kind that is asked for."""
    rng = np.random.default_rng([seed, 11])
    pour = replace(random_pour(rng, only), width_mm=width_mm, height_mm=height_mm, px_per_mm=k)
    drawn = draw_panel(pour)
    sheet = blank(width_mm, height_mm, k, np.stack([linear_of(h) for h in pour.palette]), linear_of(pour.base), rng)
    if drawn.cracks.any() and rng.random() < LIGHT_CRACKS:  # what lies beneath shows: base coat or bare canvas as often as shadow
        depth = cv2.GaussianBlur(drawn.cracks.astype(np.float32), (0, 0), 0.05 * k)[..., None]
        ground = sheet.base if rng.random() < 0.5 else linear_of(str(rng.choice(CANVASES)))
        drawn = replace(drawn, linear=np.clip(drawn.linear * (1 - depth) + ground * depth * rng.uniform(0.75, 1.05), 0, 1).astype(np.float32))
    sheet.linear, sheet.cells, sheet.bare = drawn.linear, drawn.cells.astype(np.int32), ~drawn.spread
    sheet.cracks, sheet.lacing = drawn.cracks.astype(np.float32), drawn.lacing.astype(np.float32)
    return sheet
