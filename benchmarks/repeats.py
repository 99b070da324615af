"""How much a response changes when the same panel is photographed again: what `measuring_sd` in lab/responses.py is.

python benchmarks/repeats.py [--photos 5] [--times 1]

Panels of several kinds are drawn once and photographed several times, each time from another place, under other light and at
another distance, with corners found by the reader; the scatter between photographs is pooled over the panels.
"""

from __future__ import annotations

import argparse
import dataclasses
from typing import TYPE_CHECKING

import numpy as np

from dribbet.demo.camera import Shot, photograph
from dribbet.demo.painter import Pour, draw_panel
from dribbet.lab.plan.responses import SCALES, value_of
from dribbet.sight import measure as sight

if TYPE_CHECKING:
    from dribbet.records import Response

WARM = ("#F0ECE2", "#A63A2B", "#D79A34", "#2B2A33")
COLD = ("#ECE8DC", "#0F6A7A", "#4C7A3A")
BASIC = Pour(width_mm=150, height_mm=110, palette=COLD, shares=(2, 1, 1), seed=1)
POURS = {
    "cells": dataclasses.replace(BASIC, cells_per_dm2=25, cell_mm=5.0, seed=41),
    "more cells": dataclasses.replace(BASIC, palette=WARM, shares=(2, 1, 1, 0.6), cells_per_dm2=60, cell_mm=3.5, seed=42),
    "cracks": dataclasses.replace(BASIC, cells_per_dm2=12, crack_mm=350.0, seed=43),
    "more cracks": dataclasses.replace(BASIC, palette=WARM, shares=(2, 1, 1, 0.6), crack_mm=900.0, crack_net=True, seed=44),
    "lacing": dataclasses.replace(BASIC, cells_per_dm2=8, lacing=0.35, lacing_strands=True, seed=45),
    "bare corners": dataclasses.replace(BASIC, bare_corners=2, bare_mm=35.0, base="#B9B4A6", seed=46),
    "mica": dataclasses.replace(BASIC, cells_per_dm2=10, mica=0.6, seed=48),
    "plain": dataclasses.replace(BASIC, palette=WARM, shares=(2, 1, 1, 0.6), cells_per_dm2=0.0, streak=1.5, seed=47),
}


def photographs(pour: Pour, count: int, side: float = 1.0) -> list[dict[str, object]]:
    panel = draw_panel(pour)
    rng = np.random.default_rng(pour.seed)
    results = []
    for i in range(count):
        shot = Shot(
            seed=int(rng.integers(1 << 30)), width_px=round(1800 * side), height_px=round(1350 * side),
            fill=float(rng.uniform(0.5, 0.7)), tilt=float(rng.uniform(0.0, 0.07)),
            exposure_ev=float(rng.uniform(-0.4, 0.4)), balance=tuple(rng.uniform(0.94, 1.06, 3)), gradient=float(rng.uniform(0.0, 0.2)),
            blur_px=float(rng.uniform(0.5, 1.0)), table=("#8C8C88", "#5A5E66", "#A39A8C")[i % 3],
        )  # fmt: skip
        lamps = sight.Lamps(main=photograph(panel, shot)[0])
        if pour.mica:
            lamps = dataclasses.replace(lamps, left=photograph(panel, shot, "left")[0], right=photograph(panel, shot, "right")[0])
        results.append(sight.as_json(sight.measure(lamps, pour.width_mm, pour.height_mm)))
    return results


def main() -> None:
    parse = argparse.ArgumentParser()
    parse.add_argument("--photos", type=int, default=5)
    parse.add_argument("--times", type=float, default=1.0, help="how many times as wide and as high the panels are")
    chosen = parse.parse_args()
    wanted = list(SCALES)
    scatter: dict[Response, list[float]] = {r: [] for r in wanted}
    print(f"{'panel':14}" + "".join(f"{r.value:>22}" for r in wanted))
    for name, plain in POURS.items():
        side = chosen.times
        # As many cells and as much crack on each dm2, pixels on each mm as before.
        pour = dataclasses.replace(plain, width_mm=plain.width_mm * side, height_mm=plain.height_mm * side, crack_mm=plain.crack_mm * side**2)
        results = photographs(pour, chosen.photos, side)
        cells = []
        for response in wanted:
            values = np.array([v for v in (value_of(r, response) for r in results) if v is not None])
            if len(values) < 2:
                cells.append("-")
                continue
            scatter[response].append(float(values.var(ddof=1)))
            cells.append(f"{values.mean():.2f} ± {values.std(ddof=1):.2f}")
        print(f"{name:14}" + "".join(f"{c:>22}" for c in cells), flush=True)
    print(f"{'pooled sd':14}" + "".join(f"{np.sqrt(np.mean(scatter[r])):>22.3f}" for r in wanted))
    print(f"{'set':14}" + "".join(f"{SCALES[r].measuring_sd:>22.3f}" for r in wanted))


if __name__ == "__main__":
    main()
