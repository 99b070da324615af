"""A cell taken out of a result by hand: every figure that follows from the cells is counted again."""

from __future__ import annotations

import math

import pytest

from dribbet.sight.arrays import SightError
from dribbet.sight.corrected import touching_cells, with_base_told, with_lines_told, without_cell
from tests.made_up import result


def ring(x: float, y: float, r: float) -> list[list[float]]:
    return [[x + r * math.cos(t / 18 * math.pi), y + r * math.sin(t / 18 * math.pi)] for t in range(36)]


TOUCHING = [ring(20, 20, 4), ring(28.1, 20, 4), ring(60, 20, 4), ring(60, 28.2, 4), ring(60, 36.3, 4)]


def read(outlines: list) -> dict:
    found = result(len(outlines), outlines={"cells": outlines, "cracks": [], "edge": []})
    found["cells"]["touching_fraction"] = 1.0
    return found


def test_cells_touch_where_their_outlines_meet():
    assert touching_cells(TOUCHING) == {0, 1, 2, 3, 4}
    assert touching_cells([ring(20, 20, 4), ring(30, 20, 4), ring(40, 20, 4.0)]) == set()
    assert touching_cells([]) == set()


@pytest.mark.parametrize(("gone", "share"), [(0, 0.75), (1, 0.75), (3, 0.5), (2, 1.0)])
def test_share_of_touching_cells_follows_the_one_that_goes(gone, share):
    """Cells 0 and 1 touch; 3 stands between 2 and 4."""
    left = without_cell(read(TOUCHING), gone)
    assert left["cells"]["touching_fraction"] == pytest.approx(share)
    assert left["cells"]["count"] == 4


def test_last_cell_leaves_zeros():
    cells = without_cell(result(1, outlines={"cells": [ring(20, 20, 4)], "cracks": [], "edge": []}), 0)["cells"]
    keys = ("count", "per_dm2", "area_fraction", "median_diameter_mm", "d10_mm", "d90_mm", "mean_circularity", "touching_fraction")
    assert [cells[k] for k in keys] == [0] * 8


def test_figures_of_the_sizes_left_are_the_quantiles_of_the_reader():
    found = result(5)
    for cell, d in zip(found["cells"]["items"], (2.0, 3.0, 4.0, 6.0, 9.0), strict=True):
        cell["diameter_mm"] = d
    cells = without_cell(found, 4)["cells"]
    assert (cells["d10_mm"], cells["median_diameter_mm"], cells["d90_mm"]) == pytest.approx((2.3, 3.5, 5.4))


def test_lines_that_are_told_to_be_cracks_are_counted_and_drawn_and_others_are_none():
    doubtful = {"length_mm": 47.0, "area_fraction": 0.0004, "mean_width_mm": 0.18, "max_width_mm": 0.6, "count": 5}
    none = {"length_mm": 0.0, "area_fraction": 0.0, "mean_width_mm": 0.0, "max_width_mm": 0.0, "count": 0}
    line = [[1.0, 1.0], [20.0, 3.0], [20.0, 3.2]]
    result = {
        "cracks": {**none, "length_sd": 31.0, "doubtful_mm": 47.0, "doubtful": doubtful},
        "outlines": {"cells": [], "cracks": [], "lines": [line]},
    }
    cracked = with_lines_told(result, True)
    assert cracked["cracks"] == {**doubtful, "length_sd": 31.0, "doubtful_mm": 0.0}
    assert cracked["outlines"] == {"cells": [], "cracks": [line]}
    clean = with_lines_told(result, False)
    assert clean["cracks"] == {**none, "length_sd": 0.0, "doubtful_mm": 0.0}  # a person has looked
    assert clean["outlines"] == {"cells": [], "cracks": []}
    assert result["outlines"]["lines"] == [line]  # what was read stays as it is
    with pytest.raises(SightError, match="left open"):
        with_lines_told(clean, True)


def test_cracks_that_are_counted_stay_what_they_are_where_lines_beside_them_are_none():
    sure = {"length_mm": 80.0, "area_fraction": 0.0008, "mean_width_mm": 0.2, "max_width_mm": 0.5, "count": 3}
    both = {"length_mm": 127.0, "area_fraction": 0.0012, "mean_width_mm": 0.19, "max_width_mm": 0.6, "count": 8}
    line, crack = [[1.0, 1.0], [20.0, 3.0], [20.0, 3.2]], [[5.0, 5.0], [9.0, 30.0], [9.2, 30.0]]
    result = {"cracks": {**sure, "length_sd": 12.0, "doubtful_mm": 47.0, "doubtful": both}, "outlines": {"cracks": [crack], "lines": [line]}}
    assert with_lines_told(result, False)["cracks"] == {**sure, "length_sd": 12.0, "doubtful_mm": 0.0}
    more = with_lines_told(result, True)
    assert more["cracks"] == {**both, "length_sd": 12.0, "doubtful_mm": 0.0}
    assert more["outlines"]["cracks"] == [crack, line]


def test_cover_that_is_left_after_base_was_told_is_kept_to_a_hundred_thousandth():
    lines = {"cells": [], "cracks": [], "edge": [], "unsure": [[[0.0, 0.0], [30.0, 0.0], [30.0, 20.0], [0.0, 20.0]]]}
    found = result(1, outlines=lines)
    found["cells"] = {**found["cells"], "items": [], "count": 0}
    found["spread"] = {**found["spread"], "fraction": 0.98765432, "doubtful": 0.1, "bare_corners": []}
    told = with_base_told(found, True)["spread"]
    assert told["fraction"] == 0.88765
    assert told["bare_corners"] == ["top-left"]
    assert with_base_told(found, False)["spread"]["fraction"] == 0.98765432
