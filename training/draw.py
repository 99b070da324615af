"""Draw the panels that teach the reader, or those that it is marked on, into one file each.

    python -m training.draw FOLDER [--teach 1200] [--first 0] [--name teach] [--kind tilted] [--hold 40] [--workers 2]

`teach*.npy` and `hold.npy` hold one row a panel, uint8: the panel in sRGB at 8 px/mm, then its truth. Whoever trains takes photographs of it anew
each time (`world/lamps.py`), so that no photograph is seen twice.
"""

from __future__ import annotations

import argparse
import sys
import time
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any, Final

import cv2
import numpy as np

from dribbet.demo.world.cells import deepest, edge_distance
from dribbet.demo.world.draw import HELD_OUT, draw
from dribbet.demo.world.lamps import srgb_of
from training.gaping import gaping_world
from training.littered import littered_world
from training.painted import painted

if TYPE_CHECKING:
    from dribbet.demo.world.sheet import Sheet

K: Final = 8.0
WIDE_MM: Final = 96.0
HIGH_MM: Final = 80.0
COARSE: Final = 2  # the truth of everything but cracks is kept at 4 px/mm
PLANES: Final = ("inside", "rim", "centre", "border", "lacing", "bare")
BORDER_MM: Final = 0.3
CENTRE_SHARE: Final = 0.16  # of a cell's width: how wide its middle is marked
PAINTED: Final = "painted"
LITTERED: Final = "littered"
GAPING: Final = "gaping"
HELD_FROM: Final = 900_000  # seeds that never teach


def truth_of(sheet: Sheet) -> dict[str, Any]:
    """Planes of truth at 4 px/mm, uint8 0..255, and the cracks at 8."""
    cells, k = sheet.cells, sheet.k
    away = edge_distance(cells)
    rim = away / np.maximum(deepest(cells, away)[cells], 1e-3)
    edge = np.zeros(cells.shape, np.uint8)
    edge[:, 1:] |= cells[:, 1:] != cells[:, :-1]
    edge[1:] |= cells[1:] != cells[:-1]
    near = cv2.distanceTransform(1 - edge, cv2.DIST_L2, 5) < BORDER_MM * k
    planes = {
        "inside": cells > 0, "rim": rim * (cells > 0), "centre": _centres(cells), "border": near, "lacing": sheet.lacing, "bare": sheet.bare,
    }  # fmt: skip
    small = (cells.shape[1] // COARSE, cells.shape[0] // COARSE)
    return {n: _bytes(cv2.resize(np.asarray(p, np.float32), small, interpolation=cv2.INTER_AREA)) for n, p in planes.items()} | {
        "cracks": _bytes(sheet.cracks)
    }


def _bytes(share: Any) -> Any:
    return np.round(np.clip(share, 0, 1) * 255).astype(np.uint8)


def _centres(cells: Any) -> Any:
    count = int(cells.max())
    marked = np.zeros(cells.shape, np.float32)
    rows, columns = np.nonzero(cells)
    number = cells[rows, columns]
    area = np.bincount(number, minlength=count + 1)
    y, x = (np.bincount(number, weights=v, minlength=count + 1) / np.maximum(area, 1) for v in (rows, columns))
    grid = np.mgrid[0 : cells.shape[0], 0 : cells.shape[1]].astype(np.float32)
    for i in range(1, count + 1):
        wide = CENTRE_SHARE * np.sqrt(area[i] * 4 / np.pi) + 1.0
        reach = int(3 * wide) + 1
        window = np.s_[max(0, int(y[i]) - reach) : int(y[i]) + reach, max(0, int(x[i]) - reach) : int(x[i]) + reach]
        glow = np.exp(-((grid[0][window] - y[i]) ** 2 + (grid[1][window] - x[i]) ** 2) / (2 * wide**2))
        marked[window] = np.maximum(marked[window], glow * (cells[window] == i))
    return marked


def row_bytes() -> int:
    """Bytes of one panel in the file."""
    whole = round(WIDE_MM * K) * round(HIGH_MM * K)
    return whole * 4 + whole // COARSE**2 * len(PLANES)


def row_of(seed: int, kind: str = "") -> Any:
    """One panel as bytes: sRGB, cracks, then the planes."""
    cv2.setNumThreads(1)
    if kind == PAINTED:
        sheet = painted(seed, WIDE_MM, HIGH_MM, K)
    elif kind == LITTERED:
        sheet = littered_world(seed, WIDE_MM, HIGH_MM, K)
    elif kind == GAPING:
        sheet = gaping_world(seed, WIDE_MM, HIGH_MM, K)
    else:
        sheet = draw(seed, width_mm=WIDE_MM, height_mm=HIGH_MM, k=K, kind=kind)
    truth = truth_of(sheet)
    parts = [_bytes(srgb_of(sheet.linear)), truth["cracks"], *(truth[n] for n in PLANES)]
    return np.concatenate([p.ravel() for p in parts])


def opened(row: Any) -> tuple[Any, Any, Any]:
    """SRGB (rows, columns, 3), cracks (rows, columns), planes (6, rows / 2, columns / 2) of one panel's bytes."""
    high, wide = round(HIGH_MM * K), round(WIDE_MM * K)
    whole = high * wide
    return (
        row[: 3 * whole].reshape(high, wide, 3),
        row[3 * whole : 4 * whole].reshape(high, wide),
        row[4 * whole :].reshape(len(PLANES), high // COARSE, wide // COARSE),
    )


def _held(i: int) -> Any:
    return row_of(HELD_FROM + i, HELD_OUT[i % len(HELD_OUT)])


def write(path: Path, one: Any, first: int, count: int, workers: int) -> None:
    """Draw `count` panels into a file that is there when all of them are."""
    fresh = path.with_suffix(".new")  # takes its name when it is whole: who trains takes every file that lies there
    rows = np.lib.format.open_memmap(fresh, mode="w+", dtype=np.uint8, shape=(count, row_bytes()))
    begun = time.perf_counter()
    with ProcessPoolExecutor(workers) as pool:
        for i, row in enumerate(pool.map(one, range(first, first + count), chunksize=4)):
            rows[i] = row
            if i % 50 == 49:
                print(f"{path.name}: {i + 1} of {count}, {time.perf_counter() - begun:.0f} s", flush=True)
    rows.flush()
    fresh.replace(path)


def main() -> None:
    """Read what was asked for, and do it."""
    words = argparse.ArgumentParser(description=__doc__)
    words.add_argument("folder", type=Path)
    words.add_argument("--teach", type=int, default=1200)
    words.add_argument("--first", type=int, default=0)
    words.add_argument("--name", default="teach")
    words.add_argument(
        "--kind",
        default="",
        help="only panels of this kind, `painted` by the demo's own painter, `littered` with hairs and threads, or `gaping` with wide cracks",
    )
    words.add_argument("--hold", type=int, default=40)
    words.add_argument("--workers", type=int, default=2)
    asked = words.parse_args()
    asked.folder.mkdir(parents=True, exist_ok=True)
    if asked.hold:
        write(asked.folder / "hold.npy", _held, 0, asked.hold, asked.workers)
    write(asked.folder / f"{asked.name}.npy", partial(row_of, kind=asked.kind), asked.first, asked.teach, asked.workers)


if __name__ == "__main__":
    sys.exit(main())
