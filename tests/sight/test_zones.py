"""Zones that are left out: cells by their middle, cracks by their pieces, areas by what is left; worked by hand."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest

from dribbet.lab.plan.responses import value_of
from dribbet.records import Mishap, MishapKind, RecordError, Response
from dribbet.sight.zones import Zone, share_out, without, zones_of
from tests.conftest import NOW


def cell(x: float, y: float, d: float) -> dict[str, float]:
    return {"x_mm": x, "y_mm": y, "area_mm2": math.pi / 4 * d * d, "diameter_mm": d, "circularity": 0.9, "elongation": 1.0}


RESULT = {
    "panel": {"width_mm": 100.0, "height_mm": 100.0},
    "cells": {
        "items": [cell(10, 10, 4.0), cell(12, 10, 2.0), cell(60, 60, 3.0), cell(80, 20, 5.0)],
        "count": 4,
        "per_dm2": 4.0,
        "area_fraction": 0.1,
    },
    "cracks": {"length_mm": 50.0, "count": 2},
    "outlines": {"cracks": [[[5, 5], [5, 15]], [[50, 50], [50, 70], [50, 90]]]},
    "spread": {"fraction": 0.8},
}


def test_cells_in_a_zone_are_taken_out_and_the_face_is_smaller():
    made = without(RESULT, [Zone(10.0, 10.0, 10.0)])
    assert made["cells"]["count"] == 2
    assert made["cells"]["median_diameter_mm"] == pytest.approx(4.0)
    left = 1.0 - math.pi * 100.0 / 1e4  # a whole disc of 10 mm on a square decimetre
    assert made["panel"]["left_out"] == pytest.approx(1.0 - left, abs=2e-4)
    assert made["cells"]["per_dm2"] == pytest.approx(2 / left, abs=0.02)
    assert made["cells"]["area_fraction"] == pytest.approx((9 + 25) * math.pi / 4 / (1e4 * left), abs=1e-4)
    assert made["spread"] == RESULT["spread"]  # one number of a photograph stays


def test_cracks_keep_the_pieces_outside():
    made = without(RESULT, [Zone(50.0, 50.0, 21.0)])  # holds the middle of the first piece of 20 mm, not of the second
    assert made["cracks"]["length_mm"] == pytest.approx(50.0 * 30 / 50)
    gone = without(RESULT, [Zone(5.0, 10.0, 8.0)])
    assert (gone["cracks"]["length_mm"], gone["cracks"]["count"]) == (pytest.approx(40.0), 1)


def test_nothing_left_out_changes_nothing():
    assert without(RESULT, []) == RESULT
    assert share_out([], 100, 100) == 0.0
    far = without(RESULT, [Zone(99.0, 99.0, 1.0)])
    assert (far["cells"]["count"], far["cracks"]["length_mm"]) == (4, 50.0)


def test_overlapping_zones_are_counted_once():
    one = share_out([Zone(30, 30, 10)], 100, 100)
    assert share_out([Zone(30, 30, 10), Zone(30, 30, 10)], 100, 100) == one
    assert share_out([Zone(30, 30, 10), Zone(70, 70, 10)], 100, 100) == pytest.approx(2 * one, abs=1e-4)
    assert share_out([Zone(0, 0, 10)], 100, 100) == pytest.approx(one / 4, abs=2e-4)  # a corner holds a quarter


def test_counts_and_lengths_are_said_for_the_whole_face():
    made = without(RESULT, [Zone(10.0, 10.0, 10.0)])
    left = 1.0 - made["panel"]["left_out"]
    assert value_of(made, Response.CELL_COUNT) == round(2 / left)
    assert value_of(made, Response.CRACK_LENGTH) == pytest.approx(40.0 / left, abs=0.1)
    assert value_of(made, Response.SPREAD) == pytest.approx(80.0)


MARK = Mishap(id="m", panel_id="p", kind=MishapKind.SPILL, at=NOW, x_share=0.5, y_share=0.25, reach_share=0.1, zone_out=True)


def test_a_zone_is_round_on_the_panel_and_only_there_while_it_is_left_out():
    assert zones_of([MARK], 200.0, 100.0) == (Zone(100.0, 25.0, 20.0),)
    assert zones_of([replace(MARK, zone_out=False), replace(MARK, taken_back=True)], 200.0, 100.0) == ()


def test_a_zone_needs_a_place():
    with pytest.raises(RecordError, match="Where is it"):
        replace(MARK, x_share=None, y_share=None)
