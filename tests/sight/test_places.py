"""Geometry, corners, the card: where things are."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dribbet.demo.camera import Shot, encode, photograph
from dribbet.demo.painter import Pour, draw_panel
from dribbet.sight import geometry
from dribbet.sight.arrays import SightError
from dribbet.sight.card import find_card
from dribbet.sight.corners import find_corners
from tests.sight import drawn

SQUARE = np.array([[200.0, 150.0], [1400.0, 180.0], [1380.0, 1080.0], [220.0, 1050.0]])


@given(
    st.lists(st.tuples(st.floats(-60, 60), st.floats(-60, 60)), min_size=4, max_size=4),
    st.floats(50.0, 400.0),
    st.floats(50.0, 400.0),
)
def test_homography_takes_the_panels_corners_to_the_photos(shifts, width, height):
    corners = SQUARE + np.array(shifts)
    matrix = geometry.homography(corners, width, height)
    flat = np.array([[0, 0], [width, 0], [width, height], [0, height]], float)
    np.testing.assert_allclose(geometry.apply(matrix, flat), corners, atol=1e-2)


@pytest.mark.parametrize(
    ("corners", "words"),
    [
        (SQUARE[::-1], "anticlockwise"),
        (SQUARE[[0, 2, 1, 3]], "no quadrilateral"),
        (np.array([[0, 0], [500, 0], [1000, 0], [0, 500]], float), "no quadrilateral"),
        (np.tile([100.0, 100.0], (4, 1)), "lie on each other"),
        (SQUARE + [5000, 0], "outside the photo"),
        (SQUARE[:3], "Four corners"),
        (np.full((4, 2), np.nan), "Four corners"),
    ],
)
def test_corners_that_make_no_panel_are_refused_in_words(corners, words):
    with pytest.raises(SightError, match=words):
        geometry.check_corners(np.asarray(corners, float), 1600, 1200)


def test_rectified_disc_lies_where_it_was_drawn_in_mm():
    panel = drawn.flat(1200, 900, (236, 232, 220))
    drawn.disc(panel, 300.0, 600.0, 60.0, (20, 20, 20))  # at 6 px/mm: 50, 100 mm
    photo = drawn.on_table(panel, SQUARE)
    flat = geometry.rectify(photo, SQUARE, 200.0, 150.0, 8.0)
    rows, columns = np.nonzero(flat[..., 0] < 120)
    assert (columns.mean() + 0.5) / 8.0 == pytest.approx(50.0, abs=0.1)
    assert (rows.mean() + 0.5) / 8.0 == pytest.approx(100.0, abs=0.1)
    assert len(rows) / 64.0 == pytest.approx(np.pi * 100.0, rel=0.03)


def test_large_panels_are_read_coarser_not_slower():
    assert geometry.working_scale(150.0, 150.0) == geometry.MOST_PX_PER_MM
    k = geometry.working_scale(1000.0, 700.0)
    assert k < geometry.MOST_PX_PER_MM
    assert k * k * 1000 * 700 == pytest.approx(geometry.MOST_PIXELS)


@pytest.fixture(scope="module")
def panel():
    return draw_panel(Pour(width_mm=120, height_mm=90, palette=("#ECE8DC", "#0F6A7A", "#4C7A3A"), shares=(2, 1, 1), seed=3, cells_per_dm2=20))


@pytest.mark.parametrize("seed", [1, 2, 3, 4])
def test_corners_of_a_panel_on_a_table_are_found_within_half_a_millimetre(panel, seed):
    photo, truth = photograph(panel, Shot(seed=seed, width_px=1600, height_px=1200, table="#6E6C68", noise=0.005))
    found = find_corners(photo, 120.0, 90.0, find_card(photo))
    px_per_mm = geometry.photo_scale(truth, 120.0, 90.0)
    assert np.abs(found.corners_px - truth).max() / px_per_mm < 0.5
    assert found.sure


def shadowed(panel):
    """Photograph with a hard-rimmed bluish shadow of 6 mm along the panel's left side, as a window throws it."""
    photo, truth = photograph(panel, Shot(seed=2, width_px=1600, height_px=1200, table="#8E8C86", noise=0.004))
    aside = [corner + (corner - other) * 6.0 / 120.0 for corner, other in ((truth[0], truth[1]), (truth[3], truth[2]))]
    band = np.zeros(photo.shape[:2], np.uint8)
    cv2.fillConvexPoly(band, np.round([*aside, truth[3], truth[0]]).astype(np.int32), 1)
    photo = np.where(band[..., None] > 0, photo * np.array([0.62, 0.66, 0.78]), photo).astype(np.uint8)
    return photo, truth


@pytest.fixture(scope="module")
def shaded(panel):
    return shadowed(panel)


def test_a_shadows_rim_is_no_side_when_the_card_knows_the_size(shaded):
    photo, truth = shaded
    found = find_corners(photo, 120.0, 90.0, find_card(photo))
    assert np.abs(found.corners_px - truth).max() / geometry.photo_scale(truth, 120.0, 90.0) < 0.5
    assert found.sure


def test_a_stated_size_that_the_photo_contradicts_is_doubted(panel):
    photo, truth = photograph(panel, Shot(seed=2, width_px=1600, height_px=1200, noise=0.004))
    found = find_corners(photo, 140.0, 90.0, find_card(photo))
    assert not found.sure
    assert "120 × 90 mm" in found.doubt, "the size that the card measures"
    assert np.abs(found.corners_px - truth).max() / geometry.photo_scale(truth, 120.0, 90.0) < 0.5, "the sides stay where they show"


@pytest.mark.parametrize(("stated", "sure"), [(124.5, True), (126.5, False)])
def test_size_may_be_stated_four_and_a_half_per_cent_off_before_it_is_doubted(panel, stated, sure):
    """120 mm by the card: 3.6 % off is a lens and a table, 5.1 % another size."""
    photo, _ = photograph(panel, Shot(seed=2, width_px=1600, height_px=1200, noise=0.004))
    assert find_corners(photo, stated, 90.0, find_card(photo)).sure is sure


def on_a_mat(panel, seed):
    """Photograph on a mat's white lines every 6 mm, at a small angle to the panel, under a soft shadow round it; and the true corners."""
    rng = np.random.default_rng(seed)
    truth = np.array([[300.0, 240.0], [1260.0, 256.0], [1250.0, 980.0], [294.0, 964.0]]) + rng.uniform(-14, 14, (4, 2))
    photo = drawn.on_table(encode(panel.linear), truth).astype(np.float32)
    mat = np.full(photo.shape, (66.0, 66.0, 66.0), np.float32)
    rows, columns = np.mgrid[0 : photo.shape[0], 0 : photo.shape[1]].astype(np.float32)
    lean = rng.uniform(0.015, 0.05) * rng.choice([-1, 1])
    for along in (columns + lean * rows, rows - lean * columns):
        away = np.abs((along / 48.0 + rng.random()) % 1.0 - 0.5) * 48.0
        mat += np.clip(2.2 - away, 0, 1)[..., None] * 120.0
    inside = np.zeros(photo.shape[:2], np.float32)
    cv2.fillConvexPoly(inside, np.round(truth).astype(np.int32), 1.0)
    mat *= 1.0 - 0.35 * cv2.GaussianBlur(inside, (0, 0), 9.0)[..., None]
    on_it = cv2.erode(inside, np.ones((3, 3)))[..., None]
    photo = cv2.GaussianBlur(np.where(on_it > 0, photo, mat), (0, 0), 0.8) + rng.normal(0, 1.5, photo.shape)
    return np.clip(photo, 0, 255).astype(np.uint8), truth


@pytest.mark.parametrize("seed", range(6))
def test_lines_of_a_cutting_mat_are_no_sides(panel, seed):
    photo, truth = on_a_mat(panel, seed)
    found = find_corners(photo, 120.0, 90.0, None)
    assert np.linalg.norm(found.corners_px - truth, axis=1).max() / 8.0 < 0.35


def test_bare_table_has_no_panel():
    with pytest.raises(SightError):
        find_corners(drawn.flat(800, 600, drawn.TABLE, noise=2.0), 100.0, 100.0, None)


@pytest.mark.parametrize(("ev", "balance"), [(0.3, (1.0, 1.0, 1.0)), (-0.4, (1.1, 1.0, 0.9))])
def test_card_tells_exposure_and_white_balance(panel, ev, balance):
    photo, _ = photograph(panel, Shot(seed=5, width_px=1600, height_px=1200, exposure_ev=ev, balance=balance, noise=0.004))
    card = find_card(photo)
    assert card is not None
    assert card.exposure_ev == pytest.approx(ev, abs=0.12)
    level = np.array(balance) / np.mean(balance)
    np.testing.assert_allclose(card.white_balance, level, atol=0.04)
    assert card.patch_error < 4.0


def test_photo_without_a_card_has_none(panel):
    photo, _ = photograph(panel, Shot(seed=5, width_px=1200, height_px=900, card=False))
    assert find_card(photo) is None
