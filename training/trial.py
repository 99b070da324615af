"""Try forests for lines and pieces, and the bounds of pieces, on lines that are kept: a minute instead of ten.

    python -m training.trial FOLDER [--other OTHER]... [--forests FORESTS] [--sure 0.8] [--beside 0.4] [--each]

FOLDER is the one of `training.grow`, whose held-out panels are tried, OTHER one of `training.other_hand` or `training.fifth_hand`; all keep what
`describe_lines` told of them. FORESTS holds lines.npz, lines_again.npz and pieces.npz; those that ship where it is not named. Prints marks of
each kind, as `training.mark` counts them (cells are those of before), and panels without a crack that read one, with the chances of what they
read.
"""

from __future__ import annotations

from collections import defaultdict
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Any, Final

import cv2
import numpy as np
from scipy.ndimage import distance_transform_edt

from dribbet.sight import breaks, cracks, lines, trees
from dribbet.sight.skeletons import skeleton_length_px
from training.draw import K
from training.grow import NEAR_MM, asker, describe_lines, held_out, names, on_true_lines, ridges_of, true_lines

SHOWN: Final = 6


@dataclass(frozen=True)
class Tried:
    """Pieces of a panel: chance, length, how many px of each lie on a true crack, how many px it has, how many true px it meets; and the truth."""

    name: str
    chance: Any
    length_mm: Any
    right: Any
    pixels: Any
    met: Any
    true_mm: float
    true_pixels: int
    dm2: float


def tried(panel: tuple[Path, str], forests: Path) -> Tried:
    """Judge the kept lines of one panel by the forests that lie there."""
    folder, name = panel
    cv2.setNumThreads(1)
    trees.HERE = forests  # type: ignore[misc]  # the reader looks for its own; a trial lends it others
    looks = describe_lines(folder, name)
    cells = np.load(next(folder.glob(f"{name}.*.labels.npz")))["arr_0"]
    true = true_lines(folder, name)
    truth = {"true_mm": skeleton_length_px(true) / K, "true_pixels": int(true.sum()), "dm2": cells.size / K**2 / 1e4}
    ridges = ridges_of(looks, [lines.judged(look["segments"]) for look in looks])
    none = np.zeros(0)
    if not ridges:
        return Tried(name, none, none, none, none, none, **truth)
    pieces = breaks.joined(ridges, K)
    chance = breaks.chances(pieces, ridges, K)
    chance[breaks.on_rims(pieces, cells, K) >= cracks.ON_RIMS] = 0.0
    n = len(pieces.length_mm)
    right, pixels = on_true_lines(pieces, true)
    met = np.zeros(n, int)
    if true.any() and pieces.spine.any():
        away, nearest = distance_transform_edt(~pieces.spine, return_indices=True)
        spots = true & (away <= NEAR_MM * K)
        met = np.bincount(pieces.numbers[nearest[0][spots], nearest[1][spots]] - 1, minlength=n)
    return Tried(name, chance, pieces.length_mm, right, pixels, met, **truth)


def marked(panel: Tried, sure: float, beside: float) -> dict[str, float]:
    """Marks of a panel with these bounds."""
    kept = panel.chance >= (beside if (panel.chance >= sure).any() else sure)
    if panel.length_mm[kept].sum() < cracks.LEAST_PANEL_MM:
        kept[:] = False
    length = float(panel.length_mm[kept].sum())
    if not panel.true_mm:
        return {"false": length / panel.dm2}
    right = panel.right[kept].sum() / max(panel.pixels[kept].sum(), 1)
    met = min(1.0, panel.met[kept].sum() / max(panel.true_pixels, 1))
    return {"F1": 2 * right * met / max(right + met, 1e-9), "met": met, "length off": abs(length - panel.true_mm) / panel.true_mm}


def main() -> None:
    """Read what was asked for, and do it."""
    words = asker(__doc__)
    words.add_argument("--other", type=Path, action="append", default=[], help="folder of another hand; as many as there are")
    words.add_argument("--forests", type=Path, default=trees.HERE)
    words.add_argument("--sure", type=float, default=cracks.SURE)
    words.add_argument("--beside", type=float, default=cracks.BESIDE)
    words.add_argument("--each", action="store_true", help="a line for each panel, too")
    asked = words.parse_args()
    every = names(asked.worlds, asked.painted)
    panels = [(asked.folder, name) for name, out in zip(every, held_out(every), strict=True) if out]
    panels += [(other, path.stem) for other in asked.other for path in sorted(other.glob("*.npz")) if "." not in path.stem]
    kinds: dict[str, dict[str, list[float]]] = defaultdict(lambda: defaultdict(list))
    with ProcessPoolExecutor(asked.workers) as pool:
        for (folder, _), one in zip(panels, pool.map(partial(tried, forests=asked.forests), panels, chunksize=2), strict=True):
            hand = f"{folder.name}, " if folder in asked.other else ""
            told = marked(one, asked.sure, asked.beside)
            for mark, value in told.items():
                kinds[hand + one.name.split("-")[0]][mark].append(value)
            if asked.each or told.get("false"):
                surest = ", ".join(f"{c:.2f}" for c in sorted(one.chance, reverse=True)[:SHOWN])
                print(f"{one.name}: {', '.join(f'{mark} {value:.2f}' for mark, value in told.items())}; chances {surest}", flush=True)
    for kind, marks in kinds.items():
        print(f"{kind}: " + ", ".join(f"{mark} {np.mean(values):.3f} ({len(values)})" for mark, values in marks.items()))


if __name__ == "__main__":
    main()
