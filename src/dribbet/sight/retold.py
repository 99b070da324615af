"""What a person said of an earlier reading, said again of a new one of the same photograph where it still asks, or shows, the same."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Any, Final

import cv2
import numpy as np

from dribbet.records.results import faults_of
from dribbet.sight.corrected import with_base_told, with_lines_told, without_cell, without_fault

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

PX_PER_MM: Final = 2.0  # of the drawing in which fields and lines are compared
SAME: Final = 0.5  # of a field or of lines lies where the earlier one lay
REACH_MM: Final = 1.0  # a line is drawn so thick before lines are compared
ALIKE_WIDTH: Final = 0.7  # of a cell's width at least, and not more than its inverse


def retold(new: Mapping[str, Any], read: Mapping[str, Any], mended: Mapping[str, Any]) -> dict[str, Any]:
    """A new result with what a person had said of an earlier one: base or paint, cracks or none, cells and faults that are none.

    Parameters
    ----------
    new : mapping
        What the reader says now.
    read, mended : mapping
        What it said before, and what a person made of that.

    Returns
    -------
    dict
        Equal to `new` where nothing of it is asked or seen again: then the person is asked anew.
    """
    made = dict(new)
    for cell in _taken_out(read, mended):
        i = _again(made, cell)
        if i is not None:
            made = without_cell(made, i)
    for fault in [f for f in faults_of(read) if f not in faults_of(mended)]:
        near = min(
            ((math.dist((f["x_mm"], f["y_mm"]), (fault["x_mm"], fault["y_mm"])), j) for j, f in enumerate(faults_of(made))), default=(math.inf, -1)
        )
        if near[0] <= fault["width_mm"] / 2.0:
            made = without_fault(made, near[1])
    size = (float(made["panel"]["width_mm"]), float(made["panel"]["height_mm"]))
    if made["spread"].get("doubtful") and read["spread"].get("doubtful") and not mended["spread"].get("doubtful"):
        if _same(_lines_of(made, "unsure"), _lines_of(read, "unsure"), size, filled=True):
            made = with_base_told(made, bare=mended["spread"]["fraction"] < read["spread"]["fraction"])
    if made["cracks"].get("doubtful") and read["cracks"].get("doubtful") and not mended["cracks"].get("doubtful"):
        if _same(_lines_of(made, "lines"), _lines_of(read, "lines"), size, filled=False):
            made = with_lines_told(made, cracked=mended["cracks"]["length_mm"] > read["cracks"]["length_mm"])
    return made


def _lines_of(result: Mapping[str, Any], name: str) -> Sequence[Sequence[Sequence[float]]]:
    found: Sequence[Sequence[Sequence[float]]] = result.get("outlines", {}).get(name, [])
    return found


def _taken_out(read: Mapping[str, Any], mended: Mapping[str, Any]) -> list[Mapping[str, Any]]:
    left = list(mended["cells"]["items"])
    gone = []
    for cell in read["cells"]["items"]:
        if cell in left:
            left.remove(cell)
        else:
            gone.append(cell)
    return gone


def _again(result: Mapping[str, Any], cell: Mapping[str, Any]) -> int | None:
    """Which cell of a result is the one that was taken out of another; None where it is not seen any more."""
    near = [
        (math.dist((c["x_mm"], c["y_mm"]), (cell["x_mm"], cell["y_mm"])), i)
        for i, c in enumerate(result["cells"]["items"])
        if ALIKE_WIDTH <= c["diameter_mm"] / max(cell["diameter_mm"], 1e-6) <= 1.0 / ALIKE_WIDTH
    ]
    away, i = min(near, default=(math.inf, -1))
    return i if away <= cell["diameter_mm"] / 4.0 else None


def _same(now: Sequence[Sequence[Sequence[float]]], before: Sequence[Sequence[Sequence[float]]], size: tuple[float, float], *, filled: bool) -> bool:
    """Whether two sets of outlines lie at the same place: at least half of each on the other."""
    drawn = [_drawn(lines, size, filled=filled) for lines in (now, before)]
    areas = [int(d.sum()) for d in drawn]
    return min(areas) > 0 and int((drawn[0] & drawn[1]).sum()) >= SAME * max(areas)


def _drawn(lines: Sequence[Sequence[Sequence[float]]], size: tuple[float, float], *, filled: bool) -> np.ndarray:
    mask = np.zeros((math.ceil(size[1] * PX_PER_MM) + 1, math.ceil(size[0] * PX_PER_MM) + 1), np.uint8)
    for line in lines:
        points = np.round(np.array(line, np.float64) * PX_PER_MM).astype(np.int32).reshape(-1, 1, 2)
        if filled:
            cv2.fillPoly(mask, [points], 1)
        cv2.polylines(mask, [points], True, 1, thickness=1 if filled else max(1, round(2 * REACH_MM * PX_PER_MM)))
    return mask.astype(bool)
