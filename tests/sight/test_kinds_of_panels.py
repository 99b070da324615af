"""The reader on panels of many kinds, drawn by our own renderer with exact truth; marks are minima, not aims."""

from __future__ import annotations

from functools import cache

import cv2
import numpy as np
import pytest

from dribbet.demo.camera import Shot, photograph
from dribbet.demo.painter import Drawn, Pour, draw_panel
from dribbet.sight import measure as sight
from tests.sight import drawn

WARM = ("#F2F0EA", "#C9902B", "#9C2F3C", "#1F262A")
COOL = ("#ECE8DC", "#0F6A7A", "#4C7A3A", "#1F4E79")
KINDS = {
    "bands": {"palette": COOL, "shares": (3, 2, 2, 1), "cells_per_dm2": 20, "cell_mm": 4.0},
    "dense": {"palette": WARM, "shares": (3, 2, 2, 1), "cells_per_dm2": 160, "cell_mm": 3.4, "clumping": 0.6},
    "stretched": {"palette": COOL, "shares": (2, 2, 1, 1), "cells_per_dm2": 30, "cell_mm": 4.5, "cell_aspect": 2.2, "streak": 2.5},
    "lacing": {"palette": COOL, "shares": (1, 2, 2, 1), "cells_per_dm2": 12, "lacing": 0.4},
    "strands": {"palette": WARM, "shares": (1, 2, 2, 1), "cells_per_dm2": 12, "lacing": 0.3, "lacing_strands": True},
    "bare": {"palette": COOL, "shares": (3, 2, 2, 1), "cells_per_dm2": 20, "bare_corners": 2, "base": "#8B6B52"},
    "plain": {"palette": ("#4C7A3A",), "shares": (1,), "cells_per_dm2": 0},
    "cracked": {"palette": COOL, "shares": (3, 2, 2, 1), "cells_per_dm2": 12, "crack_mm": 260.0},
}
WIDTH, HEIGHT = 120.0, 100.0


@cache
def read(kind: str, shot_seed: int = 1, light: float = 0.1) -> tuple[Drawn, sight.Measured]:
    pour = Pour(width_mm=WIDTH, height_mm=HEIGHT, seed=len(kind) * 7 + 1, pinholes_per_dm2=4.0, rim_lines=0.1, **KINDS[kind])
    drawn = draw_panel(pour)
    shot = Shot(seed=shot_seed, width_px=2000, height_px=1500, noise=0.005, exposure_ev=light, gradient=0.08)
    photo, corners = photograph(drawn, shot)
    return drawn, sight.measure(sight.Lamps(main=photo), WIDTH, HEIGHT, corners_px=corners.astype(float))


def f1(truth: Drawn, found: sight.Measured) -> float:
    mine = cv2.resize(found.cells.labels, truth.cells.shape[::-1], interpolation=cv2.INTER_NEAREST)
    there = int((np.bincount(truth.cells.ravel())[1:] > 0).sum())
    return 2 * drawn.hits(truth.cells, mine) / (there + len(found.cells.items))


@pytest.mark.parametrize(
    ("kind", "least"), [("bands", 0.65), ("dense", 0.88), ("stretched", 0.85), ("lacing", 0.7), ("strands", 0.75), ("bare", 0.82)]
)
def test_most_cells_are_found_and_few_are_invented(kind, least):
    assert f1(*read(kind)) > least


@pytest.mark.parametrize("kind", ["bands", "stretched", "bare", "plain"])
def test_no_crack_is_called_on_panels_without_any(kind):
    _, found = read(kind)
    assert found.cracks.length_mm < 15.0


def test_cracks_are_found_about_as_long_as_they_are():
    drawn, found = read("cracked")
    assert found.cracks.length_mm == pytest.approx(drawn.crack_mm, rel=0.4)
    truth = cv2.dilate(drawn.cracks.astype(np.uint8), np.ones((9, 9), np.uint8)) > 0
    mine = cv2.resize(found.cracks.mask.astype(np.uint8), truth.shape[::-1], interpolation=cv2.INTER_NEAREST) > 0
    assert (mine & truth).sum() / mine.sum() > 0.75


@pytest.mark.parametrize("kind", list(KINDS))
def test_spread_is_right_within_two_percent(kind):
    drawn, found = read(kind)
    assert found.spread.fraction == pytest.approx(float(drawn.spread.mean()), abs=0.02)


def test_plain_film_holds_no_cells_no_lacing_and_its_own_colour():
    _, found = read("plain")
    assert len(found.cells.items) == 0
    assert found.lacing.area_fraction < 0.002
    assert found.shares[0][1] > 0.98


def test_lacing_is_measured_where_there_is_some():
    assert read("lacing")[1].lacing.area_fraction > 5 * read("bands")[1].lacing.area_fraction


def test_same_panel_photographed_again_gives_nearly_the_same_figures():
    first, second, darker = (read("bands", *how)[1] for how in ((1, 0.1), (2, 0.1), (3, -0.5)))
    for again in (second, darker):
        assert len(again.cells.items) == pytest.approx(len(first.cells.items), rel=0.15)
        assert again.spread.fraction == pytest.approx(first.spread.fraction, abs=0.005)
        assert again.mean_chroma == pytest.approx(first.mean_chroma, abs=2.5)
