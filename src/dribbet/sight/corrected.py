"""A result after a person took a cell out of it, or said what is base: every figure that follows is counted again."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Any, Final

import cv2
import numpy as np

from dribbet.sight import patches
from dribbet.sight.arrays import SightError
from dribbet.sight.cell_figures import cell_figures
from dribbet.sight.cells import TOUCHING_MM

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

CORNER_MM: Final = 4.0
PX_PER_MM: Final = 6.0  # of the drawing in which outlines are seen to touch: as the reader's own


def without_cell(result: Mapping[str, Any], i: int) -> dict[str, Any]:
    """Result with one cell less (`i` in the order of its items); what was given stays as it is.

    Raises
    ------
    SightError
        If there is no such cell.
    """
    cells = result["cells"]
    if not 0 <= i < len(cells["items"]):
        raise SightError("This cell is no longer there. Touch another.")
    items = [c for j, c in enumerate(cells["items"]) if j != i]
    lines = dict(result.get("outlines", {}))
    before = lines.get("cells", [])
    lines["cells"] = [c for j, c in enumerate(before) if j != i]
    area = face_mm2(result["panel"])
    touching = round(cells["touching_fraction"] * len(cells["items"])) - (len(touching_cells(before)) - len(touching_cells(lines["cells"])))
    counted = {
        **cell_figures([c["diameter_mm"] for c in items], [c["circularity"] for c in items], area),
        "area_fraction": round(max(cells["area_fraction"] - cells["items"][i]["area_mm2"] / area, 0.0), 5),
        "touching_fraction": round(min(max(touching, 0), len(items)) / len(items), 3) if items else 0.0,
        "items": items,
    }
    made = {**result, "cells": {**cells, **counted}, "outlines": lines}
    made.pop("arrangement", None)
    return made


def without_fault(result: Mapping[str, Any], i: int) -> dict[str, Any]:
    """Result with one fault of the surface less (`i` in the order in which it lists them).

    Raises
    ------
    SightError
        If there is no such fault.
    """
    surface = result.get("surface") or {"faults": []}
    if not 0 <= i < len(surface["faults"]):
        raise SightError("This fault is no longer there. Touch another.")
    faults = [f for j, f in enumerate(surface["faults"]) if j != i]
    return {**result, "surface": {**surface, "count": len(faults), "faults": faults}}


def face_mm2(panel: Mapping[str, Any]) -> float:
    """Face of the panel that a reading is of: less than its width times its height where it is round."""
    return float(panel["width_mm"]) * float(panel["height_mm"]) * float(panel.get("face_share", 1.0))


def with_base_told(result: Mapping[str, Any], bare: bool) -> dict[str, Any]:
    """Result in which what may be base or paint is what a person says: bare base, or paint.

    Raises
    ------
    SightError
        If nothing was left open.
    """
    spread, lines = result["spread"], dict(result.get("outlines", {}))
    if not spread.get("doubtful"):
        raise SightError("Nothing is left open about the base of this panel.")
    unsure = lines.pop("unsure", [])
    if not bare:
        return {**result, "spread": {**spread, "doubtful": 0.0}, "outlines": lines}
    panel = result["panel"]
    width, height = float(panel["width_mm"]), float(panel["height_mm"])
    fraction = max(spread["fraction"] - spread["doubtful"], 0.0)
    corners = {"top-left": (0.0, 0.0), "top-right": (width, 0.0), "bottom-right": (width, height), "bottom-left": (0.0, height)}
    near = [name for name, at in corners.items() if any(_reaches(line, at) for line in unsure)]
    told = {
        **spread,
        "fraction": round(fraction, 5),
        "area_mm2": round(fraction * face_mm2(panel), 1),
        "bare_corners": [name for name in corners if name in {*spread["bare_corners"], *near}],
        "doubtful": 0.0,
    }
    made = {**result, "spread": told, "outlines": {**lines, "edge": [*lines.get("edge", []), *unsure]}}
    fields = [np.array(line, np.float32).reshape(-1, 1, 2) for line in unsure if len(line) > 2]
    for i, cell in reversed(list(enumerate(result.get("cells", {}).get("items", [])))):  # bare base holds no cells
        if any(cv2.pointPolygonTest(field, (float(cell["x_mm"]), float(cell["y_mm"])), measureDist=False) >= 0 for field in fields):
            made = without_cell(made, i)
    held = result.get("patches")
    if isinstance(held, dict):
        made["patches"] = patches.uncovered(held, unsure, width, height)
    return made


def with_lines_told(result: Mapping[str, Any], cracked: bool) -> dict[str, Any]:
    """Result in which lines that may be cracks are what a person says: cracks beside those that are counted, or none.

    Raises
    ------
    SightError
        If no lines were left open.
    """
    cracks, lines = result["cracks"], dict(result.get("outlines", {}))
    told = cracks.get("doubtful")
    if not told:
        raise SightError("No lines of this panel are left open. Read it again to see them.")
    drawn = lines.pop("lines", [])
    kept = {k: v for k, v in cracks.items() if k != "doubtful"} | {"doubtful_mm": 0.0}
    if not cracked:  # a person has looked at what the reader was unsure of; what is counted may be off as before
        return {**result, "cracks": kept if kept["count"] else {**kept, "length_sd": 0.0}, "outlines": lines}
    return {**result, "cracks": {**kept, **told}, "outlines": {**lines, "cracks": [*lines.get("cracks", []), *drawn]}}


def _reaches(line: Sequence[Sequence[float]], at: tuple[float, float]) -> bool:
    """Whether an outline comes to a corner of the panel."""
    return any(math.dist(p, at) <= CORNER_MM for p in line)


def touching_cells(outlines_mm: Sequence[Sequence[Sequence[float]]]) -> set[int]:
    """Cells whose outline comes as near to another's as the reader counts as touching."""
    boxes = [_box(line) for line in outlines_mm]
    met: set[int] = set()
    for i, box in enumerate(boxes):
        for j in range(i + 1, len(boxes)):
            if i in met and j in met:
                continue
            if _apart(box, boxes[j]) <= TOUCHING_MM and _near(outlines_mm[i], outlines_mm[j]):
                met |= {i, j}
    return met


def _box(line: Sequence[Sequence[float]]) -> tuple[float, float, float, float]:
    xs, ys = [p[0] for p in line] or [0.0], [p[1] for p in line] or [0.0]
    return min(xs), min(ys), max(xs), max(ys)


def _apart(a: tuple[float, float, float, float], b: tuple[float, float, float, float]) -> float:
    return max(b[0] - a[2], a[0] - b[2], b[1] - a[3], a[1] - b[3])


def _near(a: Sequence[Sequence[float]], b: Sequence[Sequence[float]]) -> bool:
    """Whether two outlines come within reach of each other, drawn at the reader's own scale."""
    points = np.array([*a, *b], np.float64)
    corner = points.min(axis=0) - 1.0
    wide, tall = (np.ceil((points.max(axis=0) - corner + 1.0) * PX_PER_MM)).astype(int)
    drawn = []
    for line in (a, b):
        mask = np.zeros((int(tall), int(wide)), np.uint8)
        cv2.fillPoly(mask, [np.round((np.array(line) - corner) * PX_PER_MM).astype(np.int32)], 1)
        drawn.append(mask)
    reach = max(1, round(TOUCHING_MM * PX_PER_MM))
    grown = cv2.dilate(drawn[0], np.ones((2 * reach + 1, 2 * reach + 1), np.uint8))
    return bool((grown & drawn[1]).any())
