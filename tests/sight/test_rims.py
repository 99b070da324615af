"""Rims: unrolled, drawn anew where the cells end, and what they enclose."""

from __future__ import annotations

import math

import cv2
import numpy as np
import pytest

from dribbet.sight import cells, colour, polygons, rims, unrolled
from dribbet.sight.network import Maps, see
from dribbet.sight.outlines import find_outlines, rim_points
from dribbet.sight.unrolled import ACROSS, POINTS, STEPS, Unrolled
from tests.sight import drawn

K = 6.0
FINE = 8.0
TEAL, PAPER, AMBER, PLUM = (15, 106, 122), (236, 232, 220), (214, 140, 42), (92, 30, 74)


def soft_disc(radius_px: float, blur_px: float) -> np.ndarray:
    picture = drawn.flat(300, 300, TEAL)
    drawn.disc(picture, 150.0, 150.0, radius_px, PAPER)
    if blur_px:
        picture = cv2.GaussianBlur(picture, (0, 0), blur_px)
    return colour.lab_of(picture.astype(np.float32) / 255.0)


def ring(radius: float, centre: float) -> np.ndarray:
    """A circle as closed outline, in px of pixel middles."""
    turn = np.linspace(0.0, 2 * np.pi, 120, endpoint=False)
    points = centre + radius * np.stack([np.cos(turn), np.sin(turn)], axis=1)
    return points.astype(np.float32).reshape(-1, 1, 2)


def area(outline: np.ndarray) -> float:
    return float(cv2.contourArea(outline.astype(np.float32)))


def test_unrolled_circle_lies_on_it_and_looks_straight_outwards():
    lines = Unrolled.of([ring(24.0, 59.5)], K)
    middle = np.array([10.0, 10.0])
    away = lines.points[0] - middle
    np.testing.assert_allclose(np.linalg.norm(away, axis=1), 4.0, atol=0.03)
    np.testing.assert_allclose(lines.outward[0], away / 4.0, atol=0.03)
    assert lines.reach[0] == 2.0  # 0.4 of 8 mm is more than the most
    np.testing.assert_allclose(np.linalg.norm(lines.at(np.full((1, POINTS), 0.5, np.float32))[0] - middle, axis=1), 5.0, atol=0.04)


@pytest.mark.parametrize(("radius_mm", "reach_mm"), [(0.4, 0.45), (1.5, 1.2), (4.0, 2.0)])
def test_rims_are_seen_four_tenths_of_the_shorter_side_to_either_side(radius_mm, reach_mm):
    assert Unrolled.of([ring(radius_mm * K, 59.5)], K).reach[0] == pytest.approx(reach_mm, abs=0.01)


def test_smoothing_an_outline_loses_none_of_its_area():
    """A square's corners are rounded off, and what is lost there is put back along its sides."""
    square = np.array([[20, 20], [60, 20], [60, 60], [20, 60]], np.int32).reshape(-1, 1, 2)
    assert area(unrolled.curved(Unrolled.of([square], K).points)[0]) == pytest.approx((40 / K) ** 2, rel=0.01)


def test_a_curve_through_the_points_of_a_circle_encloses_it():
    turn = np.arange(POINTS) * 2 * np.pi / POINTS
    points = np.stack([3 * np.cos(turn), 3 * np.sin(turn)], axis=1)[None].astype(np.float32)
    fine = unrolled.curved(points)
    assert fine.shape == (1, 4 * POINTS, 2)
    np.testing.assert_allclose(fine[0, ::4], points[0], atol=1e-5)
    assert area(fine[0]) == pytest.approx(9 * np.pi, rel=1e-3)
    assert area(points[0]) < 0.995 * 9 * np.pi


def test_pixels_of_an_unrolled_rim_are_read_at_their_places():
    """A picture that rises by one for each mm to the right."""
    ramp = np.tile((np.arange(160, dtype=np.float32) + 0.5) / FINE, (160, 1))
    lines = Unrolled.of([ring(24.0, 59.5)], K)
    places = lines.places()
    assert places.shape == (1, ACROSS, POINTS, 2)
    np.testing.assert_allclose(unrolled.sampled(ramp, places, FINE), places[..., 0], atol=1e-2)
    np.testing.assert_allclose(STEPS[[0, 15, 16, 31]], [-0.96875, -0.03125, 0.03125, 0.96875])


@pytest.mark.parametrize("row", [3, 16, 30])
def test_where_it_is_clear_which_rows_are_within_a_rim_ends_after_them(row):
    logits = np.where(np.arange(ACROSS)[None, :, None] < row, 20.0, -20.0) * np.ones((1, 1, POINTS))
    np.testing.assert_allclose(rims.ends(logits), row / 16.0 - 1.0, atol=1e-4)


def test_a_point_of_which_nothing_is_known_ends_where_its_neighbours_do():
    logits = np.where(np.arange(ACROSS)[None, :, None] < 20, 6.0, -6.0) * np.ones((1, 1, POINTS))
    logits[:, :, 7] = 0.0
    ends = rims.ends(logits)
    assert ends[0, 7] == pytest.approx(20 / 16.0 - 1.0, abs=0.02)
    logits[:, :, 5:10] = 0.0
    assert abs(rims.ends(logits)[0, 7]) < 0.01  # in the middle of all that it may be


@pytest.mark.parametrize("at", [0, 9, POINTS - 1])
def test_one_point_that_ends_far_from_both_its_neighbours_makes_no_spike(at):
    within = np.full(POINTS, 16)
    within[at] = 30
    logits = np.where(np.arange(ACROSS)[None, :, None] < within, 20.0, -20.0) * np.ones((1, 1, POINTS))
    np.testing.assert_allclose(rims.ends(logits), 0.0, atol=1e-4)
    within[[at, (at + 1) % POINTS]] = 30  # two are no spike
    logits = np.where(np.arange(ACROSS)[None, :, None] < within, 20.0, -20.0) * np.ones((1, 1, POINTS))
    assert rims.ends(logits)[0, at] > 0.5


def painted(*discs: tuple[float, float, float, tuple[int, int, int]]) -> tuple[np.ndarray, Maps]:
    """Colours and what the eyes say of discs (x, y, radius in mm) on teal, 40 x 40 mm."""
    picture = drawn.flat(320, 320, TEAL, noise=1.5)
    for x, y, radius, paint in discs:
        drawn.disc(picture, x * FINE, y * FINE, radius * FINE, paint)
    even = cv2.GaussianBlur(picture, (0, 0), 0.8).astype(np.float32) / 255.0
    return colour.lab_of(even), see(even, FINE)


@pytest.mark.parametrize("begun", [0.8, 0.9, 1.0, 1.1])
@pytest.mark.parametrize("paint", [AMBER, PLUM])
def test_a_rim_goes_round_fill_and_ring(begun, paint):
    """A cell of 3 mm with a ring of 0.4 mm, begun inside its ring, on it or beyond."""
    lab, maps = painted((20.0, 20.0, 1.5, paint), (20.0, 20.0, 1.1, PAPER))
    (outline,) = rims.drawn_anew([ring(1.5 * begun * K, 119.5)], K, lab, FINE, maps)
    assert math.sqrt(area(outline) / math.pi) == pytest.approx(1.5, abs=0.08)
    np.testing.assert_allclose(outline.mean(axis=0), 20.0, atol=0.06)


def test_each_outline_is_drawn_anew_by_itself_and_in_its_order():
    places = [(8.0, 9.0, 1.2), (30.0, 12.0, 2.0), (20.0, 30.0, 3.0)]
    lab, maps = painted(*((x, y, r, PAPER) for x, y, r in places))
    begun = [ring(0.9 * r * K, 0.0) + np.array([x * K - 0.5, y * K - 0.5], np.float32) for x, y, r in places]
    together = rims.drawn_anew(begun, K, lab, FINE, maps)
    for (x, y, r), one, outline in zip(places, begun, together, strict=True):
        np.testing.assert_allclose(outline.mean(axis=0), (x, y), atol=0.08)
        assert math.sqrt(area(outline) / math.pi) == pytest.approx(r, rel=0.05)
        np.testing.assert_allclose(rims.drawn_anew([one], K, lab, FINE, maps)[0], outline, atol=1e-3)
    assert rims.drawn_anew([], K, lab, FINE, maps) == []


def test_an_outline_never_leaves_the_panel():
    lab, maps = painted((0.6, 20.0, 2.0, PAPER))
    (outline,) = rims.drawn_anew([ring(1.9 * K, 0.0) + np.array([0.6 * K, 119.5], np.float32)], K, lab, FINE, maps)
    assert outline.min() == 0.0
    assert outline.max() <= 40.0


def test_what_a_network_gets_of_a_rim():
    """Colours against well within and well beyond, a third of a wrapped rim at both ends, the logarithm of the reach."""
    seen = np.zeros((1, unrolled.CHANNELS, ACROSS, POINTS), np.float32)
    seen[:, 0, 16:] = 40.0
    seen[:, 3] = 1.0
    seen[:, 4, :, 0] = 1.0
    told = rims.shown(seen, np.array([2.0], np.float32))
    assert told.shape == (1, 14, ACROSS, POINTS + 12)
    assert (told[0, 0, 0, 0], told[0, 0, -1, 0], told[0, 3, 0, 0], told[0, 3, -1, 0]) == (0.0, 2.0, -2.0, 0.0)
    assert (told[0, 6, 0, 0], told[0, 6, -1, 0]) == (-1.0, pytest.approx(-0.2))
    assert (told[0, 7, 0, 0], told[0, 9, 0, 0]) == (1.0, -1.0)
    assert [int(c) for c in np.flatnonzero(told[0, 8, 0] > 0)] == [6, 38]
    np.testing.assert_allclose(told[0, 12, :, 3], STEPS)
    np.testing.assert_allclose(told[0, 13], math.log(2.0))


def test_a_square_encloses_the_pixels_whose_middles_it_holds():
    square = np.array([[1.0, 1.0], [2.0, 1.0], [2.0, 2.0], [1.0, 2.0]], np.float32)
    window, inside = polygons.enclosed(square, FINE, (100, 100))
    whole = np.zeros((100, 100), bool)
    whole[window] = inside
    np.testing.assert_array_equal(np.argwhere(whole).min(axis=0), [8, 8])
    np.testing.assert_array_equal(np.argwhere(whole).max(axis=0), [15, 15])
    assert whole.sum() == 64
    window, inside = polygons.enclosed(square - 1.5, FINE, (100, 100))
    assert inside.sum() == 16  # a quarter of it lies on the panel


def test_a_cell_has_the_size_of_its_outline_less_what_others_have_of_it():
    turn = np.arange(128) * 2 * np.pi / 128
    outline = np.stack([7.0 + 3.0 * np.cos(turn), 9.0 + 1.5 * np.sin(turn)], axis=1).astype(np.float32)
    whole, half = cells._cell(outline, 1.0, 0.0), cells._cell(outline, 0.5, math.log(3.0))
    assert (whole.x_mm, whole.y_mm) == (pytest.approx(7.0), pytest.approx(9.0))
    assert whole.area_mm2 == pytest.approx(math.pi * 4.5, rel=2e-3)
    assert whole.diameter_mm == pytest.approx(2 * math.sqrt(4.5), rel=1e-3)
    assert whole.elongation == pytest.approx(2.0, rel=1e-2)
    assert whole.circularity == pytest.approx(4 * math.pi * (math.pi * 4.5) / 14.532**2, rel=0.01)  # Ramanujan's length of that ellipse
    assert half.area_mm2 == pytest.approx(whole.area_mm2 / 2)
    assert (whole.sureness, half.sureness) == (0.5, pytest.approx(0.75))
    assert 32 <= len(whole.outline_mm) <= 48


def test_a_cell_cut_by_the_rim_of_a_round_panel_ends_there():
    inside = np.zeros((20, 20), bool)
    inside[4:12, 6:16] = True
    outline = polygons.traced(inside, np.s_[100:120, 40:60], FINE)
    assert area(outline) == pytest.approx(80 / FINE**2, rel=0.02)
    np.testing.assert_allclose([outline.min(axis=0), outline.max(axis=0)], [[46 / 8, 104 / 8], [56 / 8, 112 / 8]], atol=1e-5)


def test_candidates_agree_on_one_outline_for_one_disc():
    lab = soft_disc(30.0, 0.8)
    found = find_outlines(lab, colour.modes(lab)[0], K)
    best = int(found.votes[:, 0].argmax())
    x, y, area, *_ = found.shape[best]
    assert (x, y) == (pytest.approx(149.5, abs=0.6), pytest.approx(149.5, abs=0.6))
    assert area == pytest.approx(np.pi * 900, rel=0.12)
    assert found.votes[best, 0] >= 8
    assert rim_points(found.contours).shape == (len(found.contours), 40, 2)


def test_plain_film_has_no_candidates():
    lab = colour.lab_of(drawn.flat(300, 300, TEAL, noise=1.0).astype(np.float32) / 255.0)
    assert find_outlines(lab, colour.modes(lab)[0], K).contours == []
