"""The reader's eyes: two small convolutional networks over the rectified, balanced panel, one for cells and one for cracks alone; run by OpenCV.

They see the panel at 8 px/mm, in tiles that overlap by more than they look to either side, so that memory does not grow with the panel and no seam
shows. How they were grown stands in training/.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any, Final

import cv2
import numpy as np

from dribbet.records import Report, silent

if TYPE_CHECKING:
    from collections.abc import Iterator

    from dribbet.sight.arrays import Plane

WEIGHTS: Final = Path(__file__).parent / "reader.onnx"
BREAKS: Final = Path(__file__).parent / "breaks.onnx"
PX_PER_MM: Final = 8.0
FOLD: Final = 2  # 2 x 2 pixels are channels of one: all maps but cracks are at 4 px/mm
MAPS_PX_PER_MM: Final = PX_PER_MM / FOLD
PLANES: Final = ("inside", "rim", "centre", "border", "lacing", "bare")
STEP: Final = 16  # five levels, each half of the one before
TILE: Final = 640  # of a tile with its margins at most, in folded pixels
MARGIN: Final = 64


@dataclass(frozen=True, slots=True, kw_only=True)
class Maps:
    """What the networks say of each place, as chances 0..1; float32, at 4 px/mm, cracks and breaks at 8."""

    inside: Plane
    """In a cell, ring and all."""
    rim: Plane
    """How deep in its cell: 0 at the rim, 1 in the middle."""
    centre: Plane
    border: Plane
    """Within 0.3 mm of where a cell ends."""
    lacing: Plane
    bare: Plane
    cracks: Plane
    """What the eyes for cells take for one; cells are chosen by it, cracks are not."""
    breaks: Plane
    """What the eyes for cracks take for one."""


def _net(path: Path) -> Any:
    """A network, read anew for each panel: one that is shared between threads would mix their pictures (reading takes some 10 ms)."""
    return cv2.dnn.readNetFromONNX(np.frombuffer(path.read_bytes(), np.uint8))


def folded(srgb: Plane) -> Plane:
    """Colour 0..1 of (rows, columns, 3), both multiples of two, as (1, 12, rows / 2, columns / 2) from -1 to 1: channel, row, column of each four."""
    rows, columns = srgb.shape[0] // FOLD, srgb.shape[1] // FOLD
    parts = srgb.reshape(rows, FOLD, columns, FOLD, 3).transpose(4, 1, 3, 0, 2)
    return np.ascontiguousarray(parts.reshape(1, 3 * FOLD * FOLD, rows, columns) * np.float32(2.0) - np.float32(1.0))


def _cuts(length: int) -> Iterator[tuple[int, int, int, int]]:
    """Tiles along one side: from, to (with margins), and the part that is kept."""
    if length <= TILE:
        yield 0, length, 0, length
        return
    inner = math.ceil(length / math.ceil(length / (TILE - 2 * MARGIN)))  # of one size, so that none is nearly all margin,
    inner += -inner % STEP  # and begun where the whole would be folded, too
    for begin in range(0, length, inner):
        end = min(begin + inner, length)
        yield max(begin - MARGIN, 0), min(end + MARGIN, length), begin, end


def see(srgb: Plane, px_per_mm: float, report: Report = silent) -> Maps:
    """Look at a panel.

    Parameters
    ----------
    srgb : ndarray, shape (rows, columns, 3)
        Balanced colour of the rectified panel, 0..1, at `px_per_mm`.
    report : callable
        Told of each tile; may raise `Cancelled`.

    Returns
    -------
    Maps
        Of the panel's whole face at 4 px/mm (cracks and breaks at 8), however fine `srgb` is.
    """
    high, wide = (round(n / px_per_mm * MAPS_PX_PER_MM) for n in srgb.shape[:2])
    size = (wide * FOLD, high * FOLD)
    fine = srgb
    if (srgb.shape[1], srgb.shape[0]) != size:
        fine = cv2.resize(srgb, size, interpolation=cv2.INTER_AREA if px_per_mm > PX_PER_MM else cv2.INTER_LINEAR)
    tiles = [(r, c) for r in _cuts(high) for c in _cuts(wide)]
    planes, (cracks, breaks) = np.empty((len(PLANES), high, wide), np.float32), np.empty((2, *size[::-1]), np.float32)
    # One network after the other: each takes a hundred megabytes and more while it works, and gives them back.
    for n, (weights, coarse, whole) in enumerate(((WEIGHTS, planes, cracks), (BREAKS, planes[:0], breaks))):
        net = _net(weights)
        for done, ((top, bottom, first, last), (left, right, begin, end)) in enumerate(tiles):
            report(n * len(tiles) + done, 2 * len(tiles))
            part = fine[top * FOLD : bottom * FOLD, left * FOLD : right * FOLD]
            below, beside = -(bottom - top) % STEP, -(right - left) % STEP
            if below or beside:
                part = cv2.copyMakeBorder(part, 0, below * FOLD, 0, beside * FOLD, cv2.BORDER_REFLECT_101)
            net.setInput(folded(part))
            said = net.forward()[0]
            kept = np.s_[first - top : last - top, begin - left : end - left]
            for plane, logits in zip(coarse, said, strict=False):
                plane[first:last, begin:end] = _chance(logits[kept])
            fours = np.stack([_chance(f[kept]) for f in said[len(coarse) : len(coarse) + FOLD * FOLD]])
            unfolded = fours.reshape(FOLD, FOLD, last - first, end - begin).transpose(2, 0, 3, 1)
            whole[first * FOLD : last * FOLD, begin * FOLD : end * FOLD] = unfolded.reshape((last - first) * FOLD, (end - begin) * FOLD)
    return Maps(**dict(zip(PLANES, planes, strict=True)), cracks=cracks, breaks=breaks)


def _chance(logits: Plane) -> Plane:
    return np.asarray(1.0 / (1.0 + np.exp(-np.clip(logits, -30.0, 30.0))), np.float32)
