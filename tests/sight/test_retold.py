"""What a person said of an earlier reading holds for a new one where it asks, or shows, the same."""

from __future__ import annotations

from typing import Any

import pytest

from dribbet.sight.retold import retold


def cell(x: float, y: float, wide: float) -> dict[str, float]:
    return {"x_mm": x, "y_mm": y, "diameter_mm": wide, "area_mm2": wide**2, "circularity": 0.9, "elongation": 1.0, "sureness": 0.8}


def square(x: float, y: float, side: float) -> list[list[float]]:
    return [[x, y], [x + side, y], [x + side, y + side], [x, y + side]]


def result(*cells: dict[str, float], unsure: float | None = None, line: float | None = None, at: float = 10.0) -> dict[str, Any]:
    """A panel of 100 x 80 mm, with a field that may be base, or a line that may be a crack, at a place."""
    cracks: dict[str, Any] = {"length_mm": 0.0, "area_fraction": 0.0, "mean_width_mm": 0.0, "max_width_mm": 0.0, "count": 0, "length_sd": 30.0}
    lines: dict[str, Any] = {"cells": [square(c["x_mm"] - 1, c["y_mm"] - 1, 2.0) for c in cells], "cracks": [], "edge": []}
    if line is not None:
        told = {"length_mm": line, "area_fraction": 1e-3, "mean_width_mm": 0.2, "max_width_mm": 0.3, "count": 1}
        cracks |= {"doubtful_mm": line, "doubtful": told}
        lines["lines"] = [[[at, 40.0], [at + line, 41.0], [at + line, 41.3]]]
    if unsure is not None:
        lines["unsure"] = [square(at, at, unsure)]
    return {
        "panel": {"width_mm": 100.0, "height_mm": 80.0},
        "cells": {"count": len(cells), "area_fraction": 0.1, "touching_fraction": 0.0, "items": list(cells)},
        "cracks": cracks,
        "spread": {"fraction": 1.0, "area_mm2": 8000.0, "bare_corners": [], "doubtful": (unsure or 0.0) ** 2 / 8000.0},
        "outlines": lines,
    }


def test_base_that_was_told_is_told_again():
    before = result(unsure=20.0)
    bare = before | {"spread": before["spread"] | {"fraction": 0.95, "doubtful": 0.0}}
    paint = before | {"spread": before["spread"] | {"doubtful": 0.0}}
    new = result(unsure=21.0, at=9.5)
    assert retold(new, before, bare)["spread"]["fraction"] == pytest.approx(1.0 - 441.0 / 8000.0, abs=2e-5)
    told = retold(new, before, paint)["spread"]
    assert (told["fraction"], told["doubtful"]) == (1.0, 0.0)


def test_another_field_is_asked_about_anew():
    before = result(unsure=20.0)
    bare = before | {"spread": before["spread"] | {"fraction": 0.95, "doubtful": 0.0}}
    for other in (result(unsure=20.0, at=45.0), result(unsure=50.0), result()):
        assert retold(other, before, bare) == other
    assert retold(result(unsure=20.0), before, before)["spread"]["doubtful"] > 0.0  # nothing had been said


def test_lines_that_were_told_are_told_again():
    before = result(line=30.0)
    none = before | {"cracks": {k: v for k, v in before["cracks"].items() if k != "doubtful"} | {"doubtful_mm": 0.0}}
    cracked = before | {"cracks": none["cracks"] | {"length_mm": 30.0}}
    new = result(line=33.0)
    assert retold(new, before, none)["cracks"]["length_mm"] == 0.0
    assert "doubtful" not in retold(new, before, none)["cracks"]
    assert retold(new, before, cracked)["cracks"]["length_mm"] == 33.0
    elsewhere = result(line=30.0, at=55.0)
    assert retold(elsewhere, before, cracked) == elsewhere


def test_a_cell_that_was_taken_out_is_taken_out_again_and_no_other():
    one, two = cell(20.0, 20.0, 6.0), cell(60.0, 50.0, 4.0)
    before, mended = result(one, two), result(two)
    moved = cell(20.8, 20.6, 6.5)
    assert retold(result(moved, two), before, mended)["cells"]["items"] == [two]
    for other in (cell(22.0, 20.0, 6.0), cell(20.0, 20.0, 9.0), cell(20.0, 20.0, 4.0)):  # beside it, much larger, much smaller
        assert retold(result(other, two), before, mended)["cells"]["items"] == [other, two]
    assert retold(result(one, two), before, before)["cells"]["items"] == [one, two]
    for away, gone in ((1.45, True), (1.55, False)):  # a quarter of its width
        aside = cell(20.0, 20.0 + away, 6.0)
        assert (aside in retold(result(aside, two), before, mended)["cells"]["items"]) is not gone
