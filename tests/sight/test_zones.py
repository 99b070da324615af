"""Zones that are left out: cells by their middle, cracks by their pieces, areas by what is left; worked by hand."""

from __future__ import annotations

import base64
import math
from dataclasses import replace
from types import SimpleNamespace

import numpy as np
import pytest

from dribbet.lab.plan.responses import value_of
from dribbet.records import Mishap, MishapKind, RecordError, Response, Where
from dribbet.sight import patches
from dribbet.sight.zones import Band, Outside, Zone, part_of, rim_mm, share_out, without, zones_of
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


# ---------------------------------------------------------------- by patches


def packed(plane) -> str:
    return base64.b64encode(np.asarray(plane, np.uint8).tobytes()).decode()


def by_patches(**planes) -> dict:
    """A panel of 100 mm in four patches of 50: upper left, upper right, lower left, lower right."""
    return {
        **RESULT,
        "spread": {"fraction": 0.75, "area_mm2": 7500.0, "bare_corners": []},
        "lacing": {"area_fraction": 0.10, "length_mm": 80.0},
        "colour": {"mean_chroma": 30.0, "muddy_fraction": 0.0, "shares": []},
        "shimmer": {"index": 0.20, "glints_per_cm2": 1.0},
        "patches": {"wide": 2, "high": 2, **{n: packed(p) for n, p in planes.items()}},
    }


def test_a_bare_patch_left_out_leaves_the_rest_covered():
    result = by_patches(covered=[[0, 255], [255, 255]])
    keep = patches.left(result["patches"], [Zone(0.0, 0.0, 50.0)], 100.0, 100.0)
    assert keep[0, 0] == pytest.approx(1 - math.pi / 4, abs=0.03)
    assert keep[1, 1] == 1.0
    made = without(result, [Zone(0.0, 0.0, 50.0)])
    left_ = 1 - math.pi / 4
    assert made["spread"]["fraction"] == pytest.approx(3 / (3 + left_), abs=0.01)
    assert made["spread"]["area_mm2"] == pytest.approx(7500.0, rel=0.01)  # nothing that was covered went


def test_lacing_chroma_and_shimmer_are_those_of_what_is_left():
    result = by_patches(covered=[[255, 255], [255, 255]], lacing=[[161, 0], [0, 0]], chroma=[[10, 60], [60, 70]], shimmer=[[100, 20], [20, 20]])
    far = [Zone(25.0, 25.0, 1000.0)]
    assert without(result, far)["lacing"] == result["lacing"]  # nothing is left to go by
    made = without(result, [Zone(25.0, 25.0, 25.0 * math.sqrt(2.0))])
    keep = patches.left(result["patches"], [Zone(25.0, 25.0, 25.0 * math.sqrt(2.0))], 100.0, 100.0)
    assert keep[0, 0] == 0.0
    assert made["lacing"]["area_fraction"] == 0.0
    rest = keep[keep > 0]
    chroma = float((np.array([60, 60, 70]) * rest).sum() / rest.sum())
    assert made["colour"]["mean_chroma"] == pytest.approx(30.0 * chroma / 50.0, abs=0.01)
    assert made["shimmer"]["index"] == pytest.approx(0.20 * 20 / math.sqrt((100**2 + 3 * 20**2) / 4), abs=1e-4)


@pytest.mark.parametrize("broken", [{"wide": 2, "high": 2, "covered": "%%%"}, {"wide": 3, "high": 2, "covered": packed([[1, 2], [3, 4]])}])
def test_patches_that_make_no_sense_change_nothing(broken):
    result = by_patches() | {"patches": broken}
    assert without(result, [Zone(10.0, 10.0, 5.0)])["spread"] == result["spread"]


def test_patches_of_a_measured_panel_hold_its_figures():
    """Left half covered and vivid, a square of lacing in it: means over the patches are the panel's."""
    covered = np.zeros((200, 400), bool)
    covered[:, :200] = True
    lab = np.zeros((200, 400, 3), np.float32)
    lab[:, :200, 1], lab[:, :200, 2] = 30.0, 40.0
    lacing = np.zeros((200, 400), bool)
    lacing[:50, :50] = True
    energy = np.full((200, 400), 0.09, np.float32)
    found = SimpleNamespace(
        width_mm=100.0, height_mm=50.0, lab=lab, spread=SimpleNamespace(covered=covered), lacing=SimpleNamespace(mask=lacing),
        shimmer=SimpleNamespace(energy=energy),
    )  # fmt: skip
    made = patches.of_measured(found)
    assert (made["wide"], made["high"]) == (40, 20)
    planes = {n: np.frombuffer(base64.b64decode(made[n]), np.uint8).reshape(20, 40) for n in patches.NAMES}
    assert (planes["covered"][:, :20].min(), planes["covered"][:, 20:].max()) == (255, 0)
    assert ((planes["lacing"] / 255.0) ** 2).mean() == pytest.approx(2500 / 80000)
    assert planes["chroma"][0, 0] * patches.CHROMA_STEP == pytest.approx(50.0, abs=0.3)
    assert planes["shimmer"][0, 0] * patches.SHIMMER_STEP == pytest.approx(0.3, abs=0.003)


def test_rim_and_middle_are_told_apart_by_hand():
    """Rim of 15 mm on a square decimetre: the middle is 70 x 70 mm, 49 % of the face."""
    assert rim_mm(100.0, 200.0) == 15.0
    middle, rim = part_of(RESULT, Where.MIDDLE), part_of(RESULT, Where.RIM)
    assert [c["x_mm"] for c in middle["cells"]["items"]] == [60, 80]
    assert [c["x_mm"] for c in rim["cells"]["items"]] == [10, 12]
    assert middle["cells"]["per_dm2"] == pytest.approx(2 / 0.49, abs=0.02)
    assert rim["cells"]["per_dm2"] == pytest.approx(2 / 0.51, abs=0.02)
    assert middle["panel"]["left_out"] == pytest.approx(0.51, abs=1e-4)
    # Pieces by their middles, (5, 10), (50, 60) and (50, 80): the first lies on the rim, the others do not.
    assert rim["cracks"]["length_mm"] == pytest.approx(50.0 * 10 / 50)
    assert middle["cracks"]["length_mm"] == pytest.approx(50.0 * 40 / 50)
    assert part_of(RESULT, Where.WHOLE) == RESULT


def test_a_part_leaves_out_what_is_left_out_of_the_whole():
    out = [Zone(60.0, 60.0, 5.0)]
    assert [c["x_mm"] for c in part_of(RESULT, Where.MIDDLE, out)["cells"]["items"]] == [80]
    assert part_of(RESULT, Where.MIDDLE, out)["panel"]["left_out"] == pytest.approx(0.51 + math.pi * 25.0 / 1e4, abs=1e-3)
    assert part_of(RESULT, Where.WHOLE, out) == without(RESULT, out)


def test_a_band_holds_its_own_border_once():
    band = Band(100.0, 100.0, 15.0)
    for x, y in ((15.0, 50.0), (85.0, 85.0), (50.0, 14.9), (3.0, 3.0)):
        assert band.holds(x, y) is not Outside(band).holds(x, y)
    assert not band.holds(15.0, 50.0)
    assert band.holds(14.99, 50.0)


def test_figures_of_a_place_that_is_pointed_at_are_those_inside_it():
    here = Zone(10.0, 10.0, 10.0)
    made = part_of(RESULT, Where.HERE, (), here)
    assert [c["x_mm"] for c in made["cells"]["items"]] == [10, 12]
    disc = math.pi * 100.0 / 1e4
    assert 1.0 - made["panel"]["left_out"] == pytest.approx(disc, abs=2e-4)
    assert made["cells"]["per_dm2"] == pytest.approx(2 / disc, rel=0.01)
    assert made["cracks"]["length_mm"] == pytest.approx(50.0 * 10.0 / 50.0)  # the line of 10 mm of both, its middle in the ring
    other = without(RESULT, [here])
    assert made["cells"]["count"] + other["cells"]["count"] == RESULT["cells"]["count"]
    assert part_of(RESULT, Where.HERE) == RESULT  # nobody has pointed yet


def test_a_place_without_what_is_left_out_of_the_panel():
    here, out = Zone(60.0, 60.0, 30.0), Zone(60.0, 60.0, 5.0)
    assert part_of(RESULT, Where.HERE, (), here)["cells"]["count"] == 1
    assert part_of(RESULT, Where.HERE, (out,), here)["cells"]["count"] == 0


def test_cells_touch_no_neighbour_that_was_left_out():
    def ring(left: float) -> list[list[float]]:
        return [[left, 8.0], [left + 4.0, 8.0], [left + 4.0, 12.0], [left, 12.0]]

    items = [cell(10, 10, 4.0), cell(14.2, 10, 4.0), cell(60, 10, 4.0)]
    lines = [ring(8.0), ring(12.2), ring(58.0)]  # the first two are 0.2 mm apart
    read = {**RESULT, "cells": {**RESULT["cells"], "items": items, "touching_fraction": 0.667}, "outlines": {"cells": lines, "cracks": []}}
    assert without(read, [Zone(60.0, 10.0, 3.0)])["cells"]["touching_fraction"] == 1.0
    assert without(read, [Zone(10.0, 10.0, 3.0)])["cells"]["touching_fraction"] == 0.0
