"""The parts of finding a panel's corners, each on what can be worked out by hand."""

from __future__ import annotations

import math
from types import SimpleNamespace

import cv2
import numpy as np
import pytest

from dribbet.records.cards import PHOTO_CARD
from dribbet.sight import corners
from dribbet.sight.arrays import SightError
from tests.sight import drawn

SQUARE = np.array([[100.0, 80.0], [400.0, 90.0], [390.0, 300.0], [110.0, 290.0]])


@pytest.mark.parametrize("order", [[0, 1, 2, 3], [2, 0, 3, 1], [3, 2, 1, 0], [1, 3, 0, 2]])
def test_corners_go_clockwise_from_the_top_left(order):
    np.testing.assert_array_equal(corners._clockwise_from_top_left(SQUARE[order]), SQUARE)
    turned = np.array([[200.0, 0.0], [400.0, 150.0], [200.0, 300.0], [0.0, 150.0]])  # on its point: the left corner is nearest the top left
    np.testing.assert_array_equal(corners._clockwise_from_top_left(turned[order])[:2], [turned[3], turned[0]])


def test_corners_turn_by_a_quarter_where_the_size_fits_much_better_so():
    wide = np.array([[0.0, 0.0], [300.0, 0.0], [300.0, 200.0], [0.0, 200.0]])
    np.testing.assert_array_equal(corners._turn_to_size(wide, 150.0, 100.0), wide)
    np.testing.assert_array_equal(corners._turn_to_size(wide, 100.0, 150.0), np.roll(wide, -1, axis=0))
    nearly = np.array([[0.0, 0.0], [210.0, 0.0], [210.0, 200.0], [0.0, 200.0]])  # better by 2 log 1.05 only: as it lies
    np.testing.assert_array_equal(corners._turn_to_size(nearly, 100.0, 105.0), nearly)


def test_shape_is_off_by_the_log_of_its_ratio_either_way_up():
    wide = np.array([[0.0, 0.0], [300.0, 0.0], [300.0, 200.0], [0.0, 200.0]])
    assert corners._off_shape(wide, 1.5) == pytest.approx(0.0)
    assert corners._off_shape(wide, 1 / 1.5) == pytest.approx(0.0)
    assert corners._off_shape(wide, 1.0) == pytest.approx(math.log(1.5))


def test_sides_are_measured_in_the_cards_plane():
    card = SimpleNamespace(matrix=np.array([[2.0, 0.0, 10.0], [0.0, 2.0, 20.0], [0.0, 0.0, 1.0]]))  # 2 px a mm
    there = np.array([[10.0, 20.0], [250.0, 20.0], [250.0, 200.0], [10.0, 200.0]])
    assert corners._sides_mm(there, card) == pytest.approx([120.0, 90.0, 120.0, 90.0])
    assert corners._off_size(np.array([120.0, 90.0, 126.0, 88.2]), 120.0, 90.0) == pytest.approx(0.05)


def test_polygon_comes_down_to_the_four_sides_of_least_area():
    cut = np.array([[0.0, 0.0], [300.0, 0.0], [300.0, 180.0], [280.0, 200.0], [0.0, 200.0]])  # one corner is cut off
    four = corners._four_sides(cut)
    assert sorted(map(tuple, np.round(four).tolist())) == [(0.0, 0.0), (0.0, 200.0), (300.0, 0.0), (300.0, 200.0)]
    assert len(corners._four_sides(np.array([[0.0, 0.0], [200.0, 0.0], [100.0, 150.0]]))) == 4  # three points: the box round them


def test_line_goes_through_most_rows_and_the_outer_of_two_alike():
    t = np.tile(np.linspace(0.0, 1000.0, corners.SAMPLES), 2)
    rows = np.tile(np.arange(corners.SAMPLES), 2)
    inner, outer = 0.01 * t[: corners.SAMPLES] - 4.0, 0.01 * t[: corners.SAMPLES] + 3.0
    slope, start, share = corners._robust_line(t, np.concatenate([inner, outer]), np.ones(len(t)), rows)
    assert (slope, start, share) == (pytest.approx(0.01, abs=1e-4), pytest.approx(3.0, abs=0.05), 1.0)
    slope, start, _ = corners._robust_line(t, np.concatenate([inner, outer]), np.repeat([1.0, 0.5], corners.SAMPLES), rows)
    assert start == pytest.approx(-4.0, abs=0.05)  # what weighs more wins against what lies further out


def test_line_holds_where_a_third_of_the_rows_know_nothing_of_it():
    rng = np.random.default_rng(3)
    t = np.linspace(0.0, 1000.0, corners.SAMPLES)
    o = 2.0 - 0.02 * t
    lost = rng.choice(corners.SAMPLES, 40, replace=False)
    o[lost] = rng.uniform(-60, -20, 40)
    slope, start, share = corners._robust_line(t, o, np.ones(len(t)), np.arange(len(t)))
    assert (slope, start) == (pytest.approx(-0.02, abs=1e-3), pytest.approx(2.0, abs=0.3))
    assert share == pytest.approx(80 / 120, abs=0.03)


def test_table_is_fitted_where_it_shades_off():
    y, x = np.mgrid[0:240, 0:320].astype(np.float32)
    lab = np.stack([50.0 + 20.0 * x / 320 - 10.0 * (y / 240) ** 2, 3.0 + 0 * x, 5.0 * y / 240], axis=-1)
    seen = lab.copy()
    seen[60:180, 80:240] = (20.0, 40.0, -30.0)
    fitted, scatter = corners._table_model(seen)
    assert np.abs(fitted - lab).max() < 0.05
    assert scatter < 0.05
    seen[90:150, :12] += (25.0, 0.0, 0.0)  # something lies at the photo's edge: it is left out of the fit
    assert np.abs(corners._table_model(seen)[0] - lab).max() < 0.5


def test_how_unlike_both_sides_are_is_little_at_a_printed_line_and_all_at_a_step():
    row = np.full((1, 200, 3), 60.0, np.float32)
    row[0, 98:102] = 95.0  # a mat's line, 4 samples wide
    assert corners._apart(row, 6, 16)[0, 100] == pytest.approx(0.0, abs=1e-4)
    row[0, 100:] = 20.0
    assert corners._apart(row, 6, 16)[0, 100] > 30.0
    clean = np.full((1, 200, 3), 60.0, np.float32)
    clean[0, 100:, 0] = 20.0
    told = corners._apart(clean, 6, 16)[0]
    assert told[100] == pytest.approx(40.0, abs=4.5)
    assert (told[:80].max(), told[120:].max()) == (0.0, 0.0)


def test_side_that_lies_a_little_off_is_moved_to_the_step():
    photo = drawn.flat(800, 600, (90, 86, 80))
    true = np.array([[200.0, 150.0], [600.0, 150.0], [600.0, 450.0], [200.0, 450.0]])
    cv2.fillConvexPoly(photo, true.astype(np.int32), (15, 106, 122))
    moved, support = corners._move_sides(photo, true + np.array([[-6.0, 5.0], [5.0, -4.0], [6.0, 3.0], [-3.0, 6.0]]), 4.0)
    assert np.abs(moved - (true + 0.5 * np.sign(true - true.mean(axis=0)))).max() < 0.6  # pixels count from their middles
    assert support > 0.9


def test_a_card_is_left_out_with_two_and_a_half_millimetres_round_it():
    photo = drawn.flat(800, 600, (120, 120, 120))
    wide, high = 4.0 * PHOTO_CARD.width_mm, 4.0 * PHOTO_CARD.height_mm
    left, top = 100, 80
    around = 24  # 6 mm of another colour round the card: shadow and table beyond 2.5 mm are no card's
    cv2.rectangle(photo, (left - around, top - around), (int(left + wide) + around, int(top + high) + around), (200, 40, 30), -1)
    card = SimpleNamespace(matrix=np.array([[4.0, 0.0, left], [0.0, 4.0, top], [0.0, 0.0, 1.0]]))
    mask, shrink = corners.foreign(photo, card)
    rows, columns = (int((top + high / 2) * shrink), int((left + wide / 2) * shrink))
    beside, above = np.flatnonzero(mask[rows, :columns]), np.flatnonzero(mask[:rows, columns])
    assert beside[-1] / shrink == pytest.approx(left - 10.0, abs=1.6)
    assert above[-1] / shrink == pytest.approx(top - 10.0, abs=1.6)
    after, below = columns + np.flatnonzero(mask[rows, columns:]), rows + np.flatnonzero(mask[rows:, columns])
    assert after[0] / shrink == pytest.approx(left + wide + 10.0, abs=1.6)
    assert below[0] / shrink == pytest.approx(top + high + 10.0, abs=1.6)


def test_pieces_of_one_panel_are_taken_together_where_that_fits_its_shape():
    mask = np.zeros((300, 400), bool)
    mask[100:200, 100:190] = True
    mask[100:200, 205:300] = True
    together = corners._coarse(mask, 2.0)
    assert np.ptp(together[:, 0]) == pytest.approx(199, abs=3)
    apart = corners._coarse(mask, 1.0)
    assert np.ptp(apart[:, 0]) == pytest.approx(94, abs=3)
    with pytest.raises(SightError, match="by hand"):
        corners._coarse(np.zeros((300, 400), bool), 1.0)
    small = np.zeros((300, 400), bool)
    small[100:145, 100:145] = True  # 1.7 % of the photo
    with pytest.raises(SightError, match="go closer"):
        corners._coarse(small, 1.0)
    small[100:152, 100:152] = True  # 2.3 %
    assert len(corners._coarse(small, 1.0)) == 4
