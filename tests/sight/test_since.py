"""What changed between two readings of one panel, on cells and cracks that were laid by hand."""

from __future__ import annotations

import math

import numpy as np
import pytest

from dribbet.sight.since import since

GREY, LIGHT = "#777777", "#B9B9B9"  # L* 50.0 and 75.2


def cell(x: float, y: float, wide: float) -> dict[str, float]:
    return {"x_mm": x, "y_mm": y, "area_mm2": math.pi / 4 * wide * wide, "diameter_mm": wide}


def reading(cells, size=(100.0, 80.0), *, crack=0.0, lines=(), hexes=(GREY,), chroma=20.0):
    return {
        "panel": {"width_mm": size[0], "height_mm": size[1]},
        "cells": {"items": cells},
        "cracks": {"length_mm": crack},
        "outlines": {"cracks": [list(map(list, line)) for line in lines]},
        "colour": {"mean_chroma": chroma, "shares": [{"hex": h, "share": 1.0 / len(hexes)} for h in hexes]},
    }


@pytest.fixture
def places():
    """Twelve places of a panel, none like another's neighbourhood."""
    rng = np.random.default_rng(3)
    return [(float(8 + 84 * u), float(8 + 64 * v)) for u, v in zip(np.linspace(0, 1, 12), rng.permutation(np.linspace(0, 1, 12)), strict=True)]


def test_cells_that_grew_are_found_again_and_by_how_much_is_told(places):
    before = reading([cell(x, y, 4.0) for x, y in places])
    after = reading([cell(x + 0.4, y - 0.3, 4.4) for x, y in places])
    told = since(before, after)
    assert told.turned == 0
    assert sorted(told.pairs) == [(i, i) for i in range(12)]
    assert told.growth == pytest.approx(1.21)
    assert told.growth_sure
    assert told.new == told.gone == ()


def test_what_came_and_what_went_is_told_apart(places):
    before = reading([cell(x, y, 4.0) for x, y in places])
    after = reading([*(cell(x, y, 4.0) for x, y in places[2:]), cell(50.0, 3.0, 3.0)])
    told = since(before, after)
    assert len(told.pairs) == 10
    assert told.gone == (0, 1)
    assert told.new == (10,)


@pytest.mark.parametrize("turn", [0, 1, 2, 3])
def test_a_panel_that_lay_otherwise_is_turned_back(places, turn):
    size = (80.0, 80.0)
    inner = [(x * 0.8, y) for x, y in places]
    there = list(inner)
    for _ in range(turn):
        there = [(80.0 - y, x) for x, y in there]
    told = since(reading([cell(x, y, 3.0) for x, y in inner], size), reading([cell(x, y, 3.0) for x, y in there], size))
    assert told.turned == turn
    assert len(told.pairs) == 12


def test_a_long_panel_that_was_photographed_upright_is_turned_by_a_quarter_only(places):
    there = [(80.0 - y, x) for x, y in places]
    told = since(reading([cell(x, y, 3.0) for x, y in places]), reading([cell(x, y, 3.0) for x, y in there], (80.0, 100.0)))
    assert told.turned == 1
    assert len(told.pairs) == 12


def test_growth_within_the_scatter_of_cells_is_not_sure(places):
    widths = [4.0 * (1 + 0.2 * (-1) ** i) for i in range(12)]
    told = since(reading([cell(x, y, 4.0) for x, y in places]), reading([cell(x, y, w) for (x, y), w in zip(places, widths, strict=True)]))
    assert told.growth == pytest.approx(math.exp((math.log(1.44) + math.log(0.64)) / 2))
    assert not told.growth_sure
    # Scatter of logs: median departure 0.405 from the median, times 1.4826 / sqrt(12), times 1.2533: a standard error of 0.218.
    for step, sure in ((0.42, False), (0.45, True)):
        moved = [w * math.exp((step - math.log(told.growth)) / 2) for w in widths]
        again = since(reading([cell(x, y, 4.0) for x, y in places]), reading([cell(x, y, w) for (x, y), w in zip(places, moved, strict=True)]))
        assert again.growth == pytest.approx(math.exp(step))
        assert again.growth_sure is sure


def test_another_panel_is_not_laid_over_this_one(places):
    other = [(x, 80.0 - y) for x, y in places]  # a mirror image is no turn
    told = since(reading([cell(x, y, 2.0) for x, y in places]), reading([cell(x, y, 2.0) for x, y in other]))
    assert told.growth is None
    assert not told.over_each_other
    assert told.new == told.gone == ()
    few = since(reading([cell(10, 10, 3.0)]), reading([cell(10, 10, 3.0)]))
    assert not few.over_each_other


def test_a_cell_far_larger_at_the_place_is_another_one(places):
    before = reading([cell(x, y, 2.0) for x, y in places])
    after = reading([cell(*places[0], 4.2), *(cell(x, y, 2.0) for x, y in places[1:])])  # 4.4 times the area
    assert since(before, after).gone == (0,)


def test_cracks_are_new_where_none_was(places):
    cells = [cell(x, y, 4.0) for x, y in places]
    old, new = [(10.0, 10.0), (10.0, 14.0), (10.0, 18.0)], [(60.0, 40.0), (64.0, 40.0), (68.0, 40.0)]
    near = [(11.2, 10.0), (11.2, 14.0), (11.2, 18.0)]
    told = since(reading(cells, crack=8.0, lines=[old]), reading(cells, crack=17.0, lines=[near, new]))
    assert told.crack_mm == pytest.approx(9.0)
    assert told.new_cracks == (1,)
    assert since(reading(cells), reading(cells, crack=8.0, lines=[old])).new_cracks == (0,)
    far = [(x + 0.8, y) for x, y in near]
    assert since(reading(cells, crack=8.0, lines=[old]), reading(cells, crack=8.0, lines=[far])).new_cracks == (0,)


def test_colour_is_told_by_lightness_and_chroma_of_the_film(places):
    cells = [cell(x, y, 4.0) for x, y in places]
    told = since(reading(cells, hexes=(GREY,), chroma=24.0), reading(cells, hexes=(GREY, LIGHT), chroma=18.5))
    assert told.chroma == pytest.approx(-5.5)
    assert told.lightness == pytest.approx((75.2 - 50.0) / 2, abs=0.3)
