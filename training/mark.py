"""Mark the reading chain on trial against panels with exact truth, as `../shared/panels/score.py` counts.

    python -m training.mark WEIGHTS.onnx CASES

CASES holds one folder a panel (`photo.jpg` or `photo_diffuse.jpg`, `truth.json`, `cells.png`, `cracks.png`). Runs in the application's environment.
"""

from __future__ import annotations

import argparse
import json
from collections import defaultdict
from pathlib import Path
from typing import Any

import cv2
import numpy as np

from dribbet.sight import colour, geometry
from dribbet.sight.card import find_card
from dribbet.sight.load import load
from dribbet.sight.skeletons import skeleton_length_px
from dribbet.sight.spread import find_spread
from training.trial.cells import find_cells
from training.trial.cracks import find_cracks_and_lacing
from training.trial.network import see

NEAR_MM = 0.5
SAME = 0.5


def matched(true: Any, found: Any) -> tuple[int, int, int]:
    """Cells that overlap by half of their union, how many are true, how many were found."""
    pairs, count = np.unique(np.stack([true.ravel(), found.ravel()]).astype(np.int64), axis=1, return_counts=True)
    areas = [np.bincount(x.ravel()) for x in (true, found)]
    both = (pairs[0] > 0) & (pairs[1] > 0)
    union = areas[0][pairs[0][both]] + areas[1][pairs[1][both]] - count[both]
    return int((count[both] / union >= SAME).sum()), len(np.unique(true)) - 1, len(np.unique(found)) - 1


def mark(weights: Path, case: Path) -> dict[str, float]:
    """Marks of one panel."""
    truth = json.loads((case / "truth.json").read_text())
    photo = case / "photo.jpg" if (case / "photo.jpg").exists() else case / "photo_diffuse.jpg"
    rgb = load(photo).rgb
    wide, high = truth["panel_mm"]
    k = geometry.working_scale(wide, high)
    card = find_card(rgb)
    flat = geometry.rectify(rgb, np.array(truth["corners_px"], float), wide, high, k)
    even = colour.balanced(flat, card.gain if card is not None else (1.0, 1.0, 1.0))
    lab = colour.lab_of(even)
    film = find_spread(lab, k).covered
    maps = see(weights, even, k)
    cells = find_cells(lab, maps, k, film)
    cracks, _ = find_cracks_and_lacing(maps, cells.labels, film, k)
    true = cv2.imread(str(case / "cells.png"), cv2.IMREAD_UNCHANGED)
    found = cv2.resize(cells.labels, true.shape[1::-1], interpolation=cv2.INTER_NEAREST)
    hit, there, said = matched(true, found)
    broken = cv2.imread(str(case / "cracks.png"), cv2.IMREAD_UNCHANGED) > 0
    marks = {"f1": 2 * hit / max(there + said, 1), "cells": float(there)}
    if broken.any():
        from skimage.morphology import skeletonize

        wanted = skeleton_length_px(np.asarray(skeletonize(broken), bool)) / truth["px_per_mm"]
        marks["crack length off"] = abs(cracks.length_mm - wanted) / wanted
    else:
        marks["false cracks, mm/dm2"] = cracks.length_mm / (wide * high / 1e4)
    return marks


def main() -> None:
    """Read what was asked for, and do it."""
    words = argparse.ArgumentParser(description=__doc__)
    words.add_argument("weights", type=Path)
    words.add_argument("cases", type=Path)
    asked = words.parse_args()
    families: dict[str, list[dict[str, float]]] = defaultdict(list)
    for case in sorted(p.parent for p in asked.cases.glob("*/truth.json")):
        truth = json.loads((case / "truth.json").read_text())
        if "corners_px" not in truth or not (case / "cells.png").exists():
            continue
        families[truth["family"]].append(mark(asked.weights, case))
    for family, rows in families.items():
        names = dict.fromkeys(n for r in rows for n in r)
        print(f"{family:16}", "  ".join(f"{n} {np.mean([r[n] for r in rows if n in r]):.3g}" for n in names))


if __name__ == "__main__":
    main()
