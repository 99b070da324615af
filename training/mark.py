"""Mark the reader on panels that taught neither its network nor its forests, as `../shared/panels/score.py` counts.

    python -m training.mark FOLDER [--workers 2]

FOLDER is the one of `training.grow`: whole worlds of foam and chains, of which none teaches, and of the others those that were held out. Panels
with fewer than three cells count for no F1; a panel without a crack counts its false ones.
"""

from __future__ import annotations

import multiprocessing
from collections import defaultdict
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from typing import TYPE_CHECKING, Any, Final

import cv2
import numpy as np
from scipy.ndimage import distance_transform_edt

from dribbet.sight import cells, cracks
from dribbet.sight.mended import across
from dribbet.sight.skeletons import skeleton_length_px
from training.draw import K
from training.grow import NEAR_MM, asker, held_out, looked_at, names, photograph

if TYPE_CHECKING:
    from collections.abc import Callable
    from pathlib import Path

    Kinds = dict[str, list[dict[str, Any]]]

SAME: Final = 0.5
FEWEST: Final = 3
SIZES_MM: Final = ((1, 2), (2, 4), (4, 8), (8, 99))


def matched(true: Any, found: Any) -> tuple[set[int], int, int]:
    """Numbers of the true cells that overlap a found one by half of their union, how many are true, how many were found."""
    pairs, count = np.unique(np.stack([true.ravel(), found.ravel()]).astype(np.int64), axis=1, return_counts=True)
    areas = [np.bincount(x.ravel()) for x in (true, found)]
    both = (pairs[0] > 0) & (pairs[1] > 0)
    union = areas[0][pairs[0][both]] + areas[1][pairs[1][both]] - count[both]
    hit = pairs[0][both][count[both] / union >= SAME]
    return {int(n) for n in hit}, int((areas[0][1:] > 0).sum()), int((areas[1][1:] > 0).sum())


def mark(folder: Path, name: str) -> dict[str, Any]:
    """Marks of one panel."""
    cv2.setNumThreads(1)
    panel, lab, film, centres, maps = looked_at(folder, name)
    found = cells.find_cells(lab, centres, K, film, maps)
    said, _ = cracks.find_cracks_and_lacing(lab, centres, found.labels, film, maps, K)
    found = across(found, panel["photo"], (1.0, 1.0, 1.0), centres, film, said.mask, K)
    true = panel["cells"]
    hit, there, counted = matched(true, found.labels)
    told: dict[str, Any] = {"name": name, "cells": there, "found": counted, "hit": len(hit)}
    if there >= FEWEST:
        told["f1"] = 2 * len(hit) / (there + counted)
        width = 2 * np.sqrt(np.bincount(true.ravel()) / np.pi) / K
        for low, high in SIZES_MM:
            these = [n for n in range(1, len(width)) if low <= width[n] < high]
            told[f"{low}-{high}"] = (sum(n in hit for n in these), len(these))
        if found.items:
            told["width"] = abs(float(np.median([c.diameter_mm for c in found.items])) / float(np.median(width[1:][width[1:] > 0])) - 1.0)
        told["count"] = abs(counted - there) / there
    return told | of_cracks(panel["cracks"] > 127, said, K)


def of_cracks(true: Any, said: cracks.Cracks, k: float) -> dict[str, float]:
    """How far cracks that were read are those that are there (a mask, `k` px/mm): F1 and error of length; false ones where none is."""
    from skimage.morphology import skeletonize

    broken = np.asarray(skeletonize(true), bool)
    long_mm = skeleton_length_px(broken) / k
    if long_mm == 0.0:
        return {"false": said.length_mm / (true.size / k**2 / 1e4)}
    spine = np.asarray(skeletonize(said.mask), bool) if said.mask.any() else said.mask
    right = (distance_transform_edt(~broken)[spine] <= NEAR_MM * k).mean() if spine.any() else 0.0
    met = (distance_transform_edt(~spine)[broken] <= NEAR_MM * k).mean() if spine.any() else 0.0
    return {"cracks": 2 * right * met / max(right + met, 1e-9), "length": abs(said.length_mm - long_mm) / long_mm}


def summed(rows: list[dict[str, Any]]) -> str:
    """Marks of several panels in one line."""
    found, true = (np.mean([r[key] for r in rows]) for key in ("found", "cells"))
    parts = [f"{len(rows)} panels, {found:.0f} cells found of {true:.0f}"]
    for key, told in (("f1", "cells F1"), ("count", "count off"), ("width", "width off"), ("cracks", "cracks F1"), ("length", "length off")):
        if values := [r[key] for r in rows if key in r]:
            parts.append(f"{told} {np.mean(values):.3f}")
    for low, high in SIZES_MM:
        met, there = (sum(r.get(f"{low}-{high}", (0, 0))[i] for r in rows) for i in (0, 1))
        parts.append(f"{low}-{high} mm {met / max(there, 1):.2f}")
    false = [r["false"] for r in rows if "false" in r]
    return ", ".join(parts) + (f", false cracks {np.mean(false):.1f} mm/dm2, on {sum(f > 0 for f in false)} of {len(false)}" if false else "")


def _drawn_and_marked(folder: Path, take: Callable[[str, int], Any], name: str) -> dict[str, Any]:
    photograph(folder, name, take)
    return mark(folder, name)


def drawn_and_marked(folder: Path, take: Callable[[str, int], Any], counts: dict[str, int], workers: int, first: int = 0) -> Kinds:
    """Marks of panels of another hand, by kind: so many of each, numbered from `first`; `take` photographs one."""
    folder.mkdir(parents=True, exist_ok=True)
    panels = [f"{kind}-{first + i}" for kind, n in counts.items() for i in range(n)]
    kinds: Kinds = defaultdict(list)
    # Processes of their own: one that is forked from a process in which OpenCV has worked waits for ever for threads that it has not.
    with ProcessPoolExecutor(workers, mp_context=multiprocessing.get_context("spawn")) as pool:
        for row in pool.map(partial(_drawn_and_marked, folder, take), panels):
            kinds[row["name"].split("-")[0]].append(row)
    return kinds


def printed(kinds: Kinds, *, each: bool) -> None:
    """Print a line for each kind, and one for each panel before it where that is asked for."""
    for kind, rows in kinds.items():
        for row in rows if each else []:
            print(row)
        print(f"{kind}: {summed(rows)}")


def main_of(does: str | None, take: Callable[[str, int], Any], counts: dict[str, int]) -> None:
    """The command of another hand: mark so many panels of each kind, numbered from where it is asked to begin; `take` photographs one."""
    words = asker(does)
    words.add_argument("--each", action="store_true", help="a line for each panel, too")
    words.add_argument("--first", type=int, default=0, help="number of the first panel of each kind: others than those that were looked at")
    asked = words.parse_args()
    printed(drawn_and_marked(asked.folder, take, counts, asked.workers, asked.first), each=asked.each)


def main() -> None:
    """Read what was asked for, and do it."""
    words = asker(__doc__)
    words.add_argument("--each", action="store_true", help="a line for each panel, too")
    asked = words.parse_args()
    panels = names(asked.worlds, asked.painted)
    held = [n for n, out in zip(panels, held_out(panels), strict=True) if out]
    kinds: dict[str, list[dict[str, Any]]] = defaultdict(list)
    with ProcessPoolExecutor(asked.workers) as pool:
        for row in pool.map(partial(mark, asked.folder), held):
            kinds[row["name"].split("-")[0]].append(row)
            if asked.each:
                print(row, flush=True)
    printed(kinds, each=False)


if __name__ == "__main__":
    main()
