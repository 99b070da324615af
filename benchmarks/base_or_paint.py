"""Where the pour covers the panel and where base is bare: how often that is read, asked about, or wrong without a word.

    PYTHONPATH=. python benchmarks/base_or_paint.py [--panels 90] [--worlds 90] [--keep FOLDER]

Painted panels: a third is covered whole; of the others one or two corners are bare, from a hundredth of the panel to a fifth, and of every second
the base lies 7 to 14 ΔE from one of the paints, as an undyed base coat lies near cream. Right is what comes within 0.5 % of the panel. Worlds hold
any base, often one that is in the pour as well, islands and splashes; right is an overlap of 0.97. All are other panels than taught the network.
Prints those that are not right, and the counts of each group. FOLDER keeps what the network saw.
"""

from __future__ import annotations

import argparse
import sys
from collections import defaultdict
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from functools import partial
from multiprocessing import get_context
from pathlib import Path
from typing import Any, Final

import cv2
import numpy as np
from training.painted import random_pour

from dribbet.demo.painter import draw_panel, linear_of
from dribbet.demo.world.draw import draw
from dribbet.demo.world.lamps import seen
from dribbet.sight import colour, network
from dribbet.sight.spread import find_spread

SIZE_MM: Final = (150.0, 120.0)
K: Final = 8.0
NEAR: Final = (7.0, 14.0)
RIGHT: Final = 0.005  # of the panel
OVERLAP: Final = 0.97
FIRST_WORLD: Final = 650_000


def painted(number: int) -> tuple[str, Any, Any]:
    """Kind, photograph and where one panel is covered."""
    rng = np.random.default_rng([number, 77])
    pour = random_pour(rng, str(rng.choice(["bands", "dense", "stretched", "lacing", "outlined"])))
    corners, kind = 0, "covered whole"
    if number % 3:
        corners, kind = 1 + int(rng.random() < 0.3), "base like a paint" if number % 2 else "base unlike paints"
    base = pour.base
    if kind == "base like a paint":
        paint = cv2.cvtColor(linear_of(str(rng.choice(pour.palette))).reshape(1, 1, 3).astype(np.float32), cv2.COLOR_LRGB2Lab)[0, 0]
        way = rng.normal(0, 1, 3) * (1.0, 0.5, 0.5)
        way *= np.sign(50.0 - paint[0]) * np.sign(way[0])  # lighter than a dark paint, darker than a light one: there is room
        base = colour.hex_of(paint + way / np.linalg.norm(way) * rng.uniform(*NEAR))
    pour = replace(pour, width_mm=SIZE_MM[0], height_mm=SIZE_MM[1], px_per_mm=K, base=base)
    panel = draw_panel(replace(pour, bare_corners=corners, bare_mm=float(rng.uniform(14, 40)), bare_round=0.0))
    return kind, seen(panel.linear, K, rng), panel.spread


def world(seed: int) -> tuple[str, Any, Any]:
    """The same of a world."""
    sheet = draw(seed, width_mm=SIZE_MM[0], height_mm=SIZE_MM[1], k=K, kind="")
    bare = np.asarray(sheet.bare, bool)
    return "worlds with base" if bare.any() else "worlds without", seen(sheet.linear, K, np.random.default_rng([seed, 3])), ~bare


def looked(number: int, keep: Path | None) -> dict[str, Any]:
    """What the reader goes by on one panel."""
    cv2.setNumThreads(1)
    kept = keep / f"{number}.npz" if keep else None
    if kept and kept.exists():
        return dict(np.load(kept))
    kind, photo, spread = world(number) if number >= FIRST_WORLD else painted(number)
    told = {"kind": np.array(kind), "photo": photo, "spread": spread, "bare": network.see(photo.astype(np.float32) / 255.0, K).bare}
    if kept:
        np.savez_compressed(kept, **told)
    return told


def read(number: int, keep: Path | None) -> tuple[str, float, float, float, float]:
    """Kind, share that is covered, share that was read, their overlap, share that is asked about."""
    told = looked(number, keep)
    found = find_spread(colour.lab_of(told["photo"].astype(np.float32) / 255.0), told["bare"], K)
    true = told["spread"]
    overlap = float((found.covered & true).sum() / max((found.covered | true).sum(), 1))
    return str(told["kind"]), float(true.mean()), found.fraction, overlap, float(found.doubtful.mean())


def marked(panels: int, worlds: int, workers: int, keep: Path | None = None) -> dict[str, list[int]]:
    """How many panels of each kind are right, asked about, and wrong without a word; those that are not right are printed to the error stream."""
    every = [*range(panels), *range(FIRST_WORLD, FIRST_WORLD + worlds)]
    counts: dict[str, list[int]] = defaultdict(lambda: [0, 0, 0])
    with ProcessPoolExecutor(workers, mp_context=get_context("spawn")) as pool:
        for number, (kind, true, found, overlap, doubt) in zip(every, pool.map(partial(read, keep=keep), every), strict=True):
            right = overlap >= OVERLAP if number >= FIRST_WORLD else abs(found - true) <= RIGHT
            which = 0 if right else 1 if doubt else 2
            counts[kind][which] += 1
            if which:
                more = f", asked {100 * doubt:.1f} %" if doubt else ""
                print(f"{number} {kind}: drawn {100 * true:.2f} % read {100 * found:.2f} %, overlap {overlap:.3f}{more}", file=sys.stderr)
    return dict(sorted(counts.items()))


def main() -> None:
    """Read what was asked for, and do it."""
    words = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    words.add_argument("--panels", type=int, default=90)
    words.add_argument("--worlds", type=int, default=90)
    words.add_argument("--keep", type=Path)
    words.add_argument("--workers", type=int, default=2)
    asked = words.parse_args()
    if asked.keep:
        asked.keep.mkdir(parents=True, exist_ok=True)
    for kind, (right, unsure, wrong) in marked(asked.panels, asked.worlds, asked.workers, asked.keep).items():
        print(f"{kind:18s}: {right:3d} right, {unsure:2d} asked about, {wrong:2d} wrong without a word")


if __name__ == "__main__":
    main()
