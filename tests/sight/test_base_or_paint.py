"""Bare base and paint of its colour: told apart where colour and network agree, asked where they do not."""

from __future__ import annotations

import base64

import cv2
import numpy as np
import pytest

from dribbet.lab.plan.responses import value_of
from dribbet.records import Response
from dribbet.sight import patches
from dribbet.sight.arrays import SightError
from dribbet.sight.corrected import with_base_told
from dribbet.sight.spread import find_spread
from tests.sight import drawn
from tests.sight.drawn import lab_of

K = 8.0
SAND = (176, 160, 128)
TEAL = (15, 106, 122)
WIDE, HIGH, REACH = 800, 640, 200
CORNER = np.pi * REACH**2 / 4 / (WIDE * HIGH)


def cornered(*, alike: bool = False) -> tuple[np.ndarray, np.ndarray]:
    """Marbled paint with a bare top left corner, and where that is; or a panel that has the base's colour in the pour as well."""
    picture = drawn.marble(WIDE, HIGH, seed=2)
    bare = np.zeros((HIGH, WIDE), np.uint8)
    cv2.circle(bare, (0, 0), REACH, 1, -1)
    picture[bare > 0] = SAND
    if alike:
        cv2.circle(picture, (500, 400), 120, SAND, -1)
    return np.clip(picture + np.random.default_rng(0).normal(0, 1.0, picture.shape), 0, 255).astype(np.uint8), bare > 0


@pytest.mark.parametrize(
    ("chance", "bare", "asked"),
    [(0.0, False, False), (0.025, False, False), (0.04, False, True), (0.14, False, True), (0.19, True, False), (0.9, True, False)],
)
def test_what_colour_takes_for_base_is_base_where_the_network_sees_it_too(chance, bare, asked):
    picture, corner = cornered()
    found = find_spread(lab_of(picture), corner * np.float32(chance), K)
    assert found.fraction == pytest.approx(1 - CORNER if bare else 1.0, abs=0.01)
    assert found.bare_corners == (("top-left",) if bare else ())
    assert found.doubtful.mean() == pytest.approx(CORNER if asked else 0.0, abs=0.01)


@pytest.mark.parametrize(("chance", "bare", "asked"), [(0.4, False, False), (0.55, False, True), (0.7, True, False)])
def test_base_whose_colour_is_in_the_pour_too_is_found_by_what_the_network_sees(chance, bare, asked):
    picture, corner = cornered(alike=True)
    found = find_spread(lab_of(picture), corner * np.float32(chance), K)
    assert found.fraction == pytest.approx(1 - CORNER if bare else 1.0, abs=0.01)
    assert bool(found.doubtful.any()) is asked


def test_field_of_which_the_network_sees_only_a_part_is_asked():
    """A sixteenth of the corner is seen for certain: too little of its border to decide."""
    picture, corner = cornered(alike=True)
    seen = np.zeros(corner.shape, np.float32)
    cv2.ellipse(seen, (0, 0), (REACH, REACH), 0, 30, 62, 0.9, -1)
    found = find_spread(lab_of(picture), seen * corner, K)
    assert found.fraction == 1.0
    assert found.doubtful.mean() == pytest.approx(CORNER, abs=0.01)
    assert not found.doubtful[400, 500]  # the same colour within the pour hangs on no edge


def result() -> dict[str, object]:
    """A reading of 100 × 80 mm, 80 % covered at most, of which a strip of 10 mm at the left is not sure."""
    strip = [[0.0, 0.0], [10.0, 0.0], [10.0, 80.0], [0.0, 80.0]]
    full = base64.b64encode(np.full((32, 40), 255, np.uint8).tobytes()).decode()
    return {
        "panel": {"width_mm": 100.0, "height_mm": 80.0},
        "spread": {"fraction": 0.8, "area_mm2": 6400.0, "bare_corners": ["bottom-right"], "doubtful": 0.1},
        "outlines": {"edge": [[[90.0, 70.0], [100.0, 70.0], [100.0, 80.0]]], "unsure": [strip]},
        "patches": {"wide": 40, "high": 32, "covered": full},
    }


def test_open_spread_is_no_figure_until_somebody_says_what_is_base():
    assert value_of(result(), Response.SPREAD) is None
    assert value_of(with_base_told(result(), False), Response.SPREAD) == pytest.approx(80.0)
    assert value_of(with_base_told(result(), True), Response.SPREAD) == pytest.approx(70.0)


def test_base_that_was_told_leaves_area_corners_edge_and_patches():
    told = with_base_told(result(), True)
    assert told["spread"] == {"fraction": 0.7, "area_mm2": 5600.0, "bare_corners": ["top-left", "bottom-right", "bottom-left"], "doubtful": 0.0}
    assert len(told["outlines"]["edge"]) == 2
    assert "unsure" not in told["outlines"]
    covered = np.frombuffer(base64.b64decode(told["patches"]["covered"]), np.uint8).reshape(32, 40)
    assert covered[:, :4].max() == 0
    assert covered[:, 5:].min() == 255
    keep = np.ones((32, 40))
    keep[:, :4] = 0.0  # without the strip the rest is as covered as it was: 0.7 of the face on 0.9 of it
    assert patches.without(told, told["patches"], keep, np.ones((32, 40)))["spread"]["fraction"] == pytest.approx(0.7 / 0.9, abs=0.01)


def test_cells_on_what_is_told_to_be_base_are_none():
    def cell(x: float) -> dict[str, float]:
        return {"x_mm": x, "y_mm": 40.0, "area_mm2": 12.0, "diameter_mm": 3.9, "circularity": 0.9, "elongation": 1.0}

    items = [cell(9.0), cell(50.0), cell(4.0), cell(11.0)]
    rings = [[[c["x_mm"] + dx, 40.0 + dy] for dx, dy in ((-1, -1), (1, -1), (1, 1), (-1, 1))] for c in items]
    cells = {"count": 4, "area_fraction": 0.006, "touching_fraction": 0.0, "items": items}
    read = result()
    read = read | {"cells": cells, "outlines": read["outlines"] | {"cells": rings}}
    told = with_base_told(read, True)
    assert [c["x_mm"] for c in told["cells"]["items"]] == [50.0, 11.0]
    assert told["cells"]["count"] == len(told["outlines"]["cells"]) == 2
    assert with_base_told(read, False)["cells"]["count"] == 4


def test_paint_that_was_told_changes_nothing_but_the_question():
    told = with_base_told(result(), False)
    assert told["spread"] == result()["spread"] | {"doubtful": 0.0}
    assert told["outlines"]["edge"] == result()["outlines"]["edge"]
    assert told["patches"] == result()["patches"]
    with pytest.raises(SightError, match="Nothing is left open"):
        with_base_told(told, True)


def test_base_that_leaves_no_paint_leaves_nought():
    read = result()
    told = with_base_told(read | {"spread": read["spread"] | {"fraction": 0.2, "doubtful": 0.25}}, True)
    assert told["spread"]["fraction"] == 0.0
