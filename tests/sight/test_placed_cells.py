"""Which outlines become cells: the surest first, none on another, on bare ground or off a round face."""

from __future__ import annotations

import math

import cv2
import numpy as np
import pytest

from dribbet.sight import cells
from dribbet.sight.outlines import Outlines, shape_of

K = 8.0
SIZE = (240, 320)


def circle(x: float, y: float, radius: float) -> np.ndarray:
    turn = np.arange(128) * 2 * np.pi / 128
    return np.stack([x + radius * np.cos(turn), y + radius * np.sin(turn)], axis=1).astype(np.float32)


def panel(*, film: np.ndarray | None = None, face: np.ndarray | None = None) -> cells._Placed:
    return cells._Placed(film=np.ones(SIZE, bool) if film is None else film, face=face, px_per_mm=K)


def test_a_cell_is_written_where_its_outline_lies_and_numbered():
    on = panel()
    on.put(circle(10.0, 12.0, 2.0), 1.0)
    on.put(circle(30.0, 20.0, 1.0), 0.5)
    assert [c.diameter_mm for c in on.items] == [pytest.approx(4.0, rel=0.01), pytest.approx(2.0, rel=0.01)]
    assert np.bincount(on.labels.ravel())[1:] == pytest.approx([np.pi * 256, np.pi * 64], rel=0.04)
    assert on.labels[96, 80] == 1
    assert on.labels[160, 240] == 2


@pytest.mark.parametrize(("apart", "stands"), [(2.6, True), (2.0, False)])
def test_a_quarter_of_a_cell_may_lie_on_a_surer_one_which_keeps_it(apart, stands):
    """Discs of 2 mm radius share 25 % of each other where their middles are 2.4 mm apart."""
    on = panel()
    on.put(circle(10.0, 12.0, 2.0), 1.0)
    whole = (on.labels == 1).sum()
    on.put(circle(10.0 + apart, 12.0, 2.0), 0.5)
    assert len(on.items) == (2 if stands else 1)
    assert (on.labels == 1).sum() == whole
    if stands:
        assert on.items[1].area_mm2 == pytest.approx((on.labels == 2).sum() / K**2, rel=0.01)


def test_a_large_one_does_not_swallow_a_small_surer_one():
    on = panel()
    on.put(circle(10.0, 12.0, 1.0), 1.0)
    on.put(circle(10.0, 12.0, 5.0), 0.5)
    assert len(on.items) == 1


@pytest.mark.parametrize(("paint_from", "stands"), [(9.2, False), (8.05, False), (7.5, True)])
def test_nine_tenths_of_a_cell_lie_on_paint_that_goes_on_round_it(paint_from, stands):
    """A disc of 4 mm from x = 8: a fifth of it is cut off at 9.2; at 8.05 a quarter of what lies close round it is bare."""
    film = np.zeros(SIZE, bool)
    film[:, round(paint_from * K) :] = True
    film[:80] = film[110:] = True
    on = panel(film=film)
    on.put(circle(10.0, 12.0, 2.0), 1.0)
    assert len(on.items) == stands


def test_what_stands_in_bare_base_is_a_splash():
    film = np.zeros(SIZE, bool)
    cv2.circle(splash := np.zeros(SIZE, np.uint8), (80, 96), 17, 1, -1)
    on = panel(film=film | (splash > 0))
    on.put(circle(10.06, 12.06, 2.0), 1.0)
    assert on.items == []


def test_a_pinhole_is_counted_and_its_place_taken():
    on = panel()
    on.put(circle(10.0, 12.0, 0.49), 1.0)
    assert (on.pinholes, on.items) == (1, [])
    assert on.taken(SIZE)[96, 80]
    assert on.taken((120, 160))[48, 40]
    on.put(circle(20.0, 12.0, 0.51), 1.0)
    assert (on.pinholes, len(on.items)) == (1, 1)


@pytest.mark.parametrize(("x", "cells_", "width"), [(20.0, 1, 4.0), (21.0, 1, None), (22.6, 0, None)])
def test_half_of_a_cell_at_the_rim_of_a_round_face_lies_on_it(x, cells_, width):
    """The face ends at x = 22 mm."""
    face = np.zeros(SIZE, bool)
    face[:, : round(22 * K)] = True
    on = panel(face=face)
    on.put(circle(x, 12.0, 2.0), 1.0)
    assert len(on.items) == cells_
    if cells_:
        assert max(p[0] for p in on.items[0].outline_mm) <= 22.01
        part = 1.0 if width else 1.0 - (math.acos(0.5) - 0.5 * math.sin(2 * math.acos(0.5)) / 1.0) / math.pi
        assert on.items[0].area_mm2 == pytest.approx(np.pi * 4 * part, rel=0.03)


def outlines(*discs: tuple[float, float, float]) -> Outlines:
    contours = [np.round(circle(x, y, r) * K).astype(np.int32)[:, None] for x, y, r in discs]
    return Outlines(contours=contours, shape=np.array([shape_of(c) for c in contours]), votes=np.ones((len(discs), 2)))


def test_what_a_surer_one_hides_is_tried_when_that_one_turns_out_to_be_none():
    found = outlines((10, 12, 2), (10.3, 12, 2), (30, 20, 1))
    odds = np.array([1.0, 2.0, 0.5])
    tried = np.zeros(3, bool)
    assert cells._untried(found, odds, tried, np.zeros(SIZE, bool)) == [1, 2]
    tried[[1, 2]] = True
    assert cells._untried(found, odds, tried, np.zeros(SIZE, bool)) == [0]
    on = panel()
    on.put(circle(10.3, 12.0, 2.0), 2.0)
    assert cells._untried(found, odds, tried, on.taken(SIZE)) == []


def test_what_is_passed_over_counts_once_a_place_and_not_where_a_cell_is():
    found = outlines((10, 12, 2), (10.3, 12, 2), (30, 20, 1), (20, 24, 0.45), (33, 8, 2), (34, 25, 1.5))
    odds = np.array([-1.0, -1.5, -2.0, -1.0, -0.5, -2.6])
    taken = np.zeros(SIZE, bool)
    assert cells._passed_over(found, odds, taken, K) == [-1.0, -2.0]  # the fourth is a pinhole, the fifth a cell, the last as good as none
    taken[150:170, 230:250] = True
    assert cells._passed_over(found, odds, taken, K) == [-1.0]
