"""What is known of each candidate, on a drawn disc where each figure can be worked out by hand."""

from __future__ import annotations

import math

import cv2
import numpy as np
import pytest

from dribbet.sight import looks
from dribbet.sight.outlines import Outlines, find_outlines
from tests.sight import drawn
from tests.sight.drawn import lab_of

K = 8.0
TEAL, PAPER = (15, 106, 122), (236, 232, 220)
RADIUS = 40.0
STEP = float(np.linalg.norm(lab_of(np.full((2, 2, 3), PAPER, np.uint8))[0, 0] - lab_of(np.full((2, 2, 3), TEAL, np.uint8))[0, 0]))


def outlined(*discs: tuple[float, float, float]) -> Outlines:
    """Round outlines: centre and radius, px."""
    turn = np.linspace(0, 2 * np.pi, 240, endpoint=False)
    contours = [np.round(np.stack([x + r * np.cos(turn), y + r * np.sin(turn)], axis=1)).astype(np.int32)[:, None] for x, y, r in discs]
    shape = [(x, y, np.pi * r * r, 2 * np.pi * r, 1.0, 1.0, 1.0) for x, y, r in discs]
    return Outlines(contours=contours, shape=np.array(shape), votes=np.tile([9.0, 3.0], (len(discs), 1)))


def by_colour(*discs: tuple[float, float, float], modes: int = 2) -> np.ndarray:
    picture = drawn.flat(400, 320, TEAL)
    for x, y, r in discs:
        drawn.disc(picture, x, y, r, PAPER)
    return looks.by_colour(lab_of(picture), looks.Rims.of(outlined(*discs)), modes, K)


def test_a_plain_disc_is_known_by_its_size_shape_and_step():
    (row,) = by_colour((150.0, 120.0, RADIUS))
    assert len(row) == looks.BY_COLOUR
    told = dict(enumerate(row))
    size, circularity, solid, fit, elongation, thresholds, planes, step, least_step, stepped = row[:10]
    assert size == pytest.approx(math.log(2 * RADIUS / K), abs=1e-3)
    assert (circularity, solid, fit, elongation, thresholds, planes) == pytest.approx((1.0, 1.0, 1.0, 1.0, 9.0, 3.0), abs=2e-3)
    assert (step, least_step) == pytest.approx((STEP, STEP), rel=0.02)
    assert stepped == 1.0
    assert row[10:13] == pytest.approx([0.0, 0.0, 0.0], abs=0.4)  # one colour inside, one just outside, one beyond
    assert row[13:15] == pytest.approx([1.0, 1.0])
    assert row[15] == pytest.approx(0.0, abs=0.1)  # outside is as beyond
    assert row[16:18] == pytest.approx([0.0, STEP], abs=0.4)  # the middle is as the inside, and a step from the outside
    assert row[18] == pytest.approx(
        lab_of(np.full((2, 2, 3), PAPER, np.uint8))[0, 0, 0] - lab_of(np.full((2, 2, 3), TEAL, np.uint8))[0, 0, 0], abs=0.3
    )
    assert row[19] == pytest.approx((120.0 - RADIUS) / K, abs=1e-3)  # mm from the panel's edge
    assert row[20:22] == pytest.approx([1.0, 1.0])  # itself, and none round it
    assert row[22] == pytest.approx(math.log(1 / (400 * 320 / 800**2) + 1))
    assert row[23] == 2.0
    assert row[24:26] == pytest.approx([STEP, STEP], rel=0.02)
    assert told[26] == 0.0


def test_nearest_edge_of_the_panel_is_told_on_every_side():
    for x, y in ((60.0, 160.0), (399.0 - 60.0, 160.0), (200.0, 60.0), (200.0, 319.0 - 60.0)):
        assert by_colour((x, y, RADIUS))[0, 19] == pytest.approx((60.0 - RADIUS) / K, abs=1e-3)


def test_rivals_are_outlines_within_half_a_width_and_the_next_larger_one_round_it():
    x, y = np.array([100.0, 104.0, 119.0, 121.5]), np.array([100.0] * 4)
    area, wide = np.array([1000.0, 1500.0, 5000.0, 1100.0]), np.array([40.0] * 4)
    rivals = looks._rivals(x, y, area, wide)
    assert rivals[0].tolist() == [3.0, 1.5]  # 5 times as large is another thing, 21.5 px away too far
    assert rivals[3].tolist() == [3.0, pytest.approx(1500 / 1100)]
    assert looks._rivals(x[:1], y[:1], area[:1], wide[:1]).tolist() == [[1.0, 1.0]]
    almost = looks._rivals(x[:2], y[:2], np.array([1000.0, 1140.0]), wide[:2])
    assert almost[0].tolist() == [2.0, 1.0]  # a seventh larger is the same outline again


def test_thin_lines_are_told_where_they_are():
    picture = drawn.flat(400, 320, TEAL)
    drawn.line(picture, [(60.0, 20.0), (60.0, 300.0)], 3.0, PAPER)
    near, everywhere = looks._thin_lines(lab_of(picture), np.array([60.0, 300.0]), np.array([160.0, 160.0]), K)
    light = float((picture[160, :, 0] > 100).sum())  # px across
    assert everywhere == pytest.approx(280 * light / (400 * 320), rel=0.03)
    assert near[0] == pytest.approx(light / 81, rel=0.01)  # within 10 mm
    assert near[1] == 0.0
    wide = drawn.flat(400, 320, TEAL)
    drawn.line(wide, [(60.0, 20.0), (60.0, 300.0)], 12.0, PAPER)
    assert looks._thin_lines(lab_of(wide), np.array([60.0]), np.array([160.0]), K)[1] == pytest.approx(0.0, abs=2e-3)  # wider than 0.9 mm


def test_agreement_with_the_networks_own_bodies():
    """A body of 400 px, nine tenths sure; a candidate half on it, of twice its area; another on none."""
    own = np.zeros((40, 40), np.int32)
    own[:20, :20] = 1
    inside = np.where(own > 0, 0.9, 0.1).astype(np.float32)
    under = np.array([[1, 1, 0, 0], [0, 0, 0, 0]])
    share, ratio, sure = looks._agreement(under, *looks._bodies(own, inside), np.array([800.0, 50.0]))
    assert share == pytest.approx([0.5, 0.0])
    assert ratio == pytest.approx([math.log(2.0), looks.NO_BODY])
    assert sure == pytest.approx([0.9, 0.0])


def test_places_lie_on_the_rim_outside_it_and_on_the_way_to_it():
    rims = looks.Rims.of(outlined((150.0, 120.0, RADIUS)))
    for places, radius in (
        (rims.away(0.0), RADIUS),
        (rims.away(8.0), RADIUS + 8.0),
        (rims.away(-8.0), RADIUS - 8.0),
        (rims.within(0.25), RADIUS / 4),
    ):
        assert np.hypot(places.x - 150.0, places.y - 120.0) == pytest.approx(radius, abs=0.8)
    half = rims.away(0.0).shrunk(0.5)  # pixel centres: 0 of the coarse picture lies between 0 and 1 of the fine one
    assert (half.x.mean(), half.y.mean()) == pytest.approx(((150.5 / 2 - 0.5), (120.5 / 2 - 0.5)), abs=0.05)


def test_places_read_the_nearest_pixel_or_between_pixels():
    plane = np.arange(12, dtype=np.float32).reshape(3, 4)
    places = looks.Places(x=np.array([[0.4, 2.5]], np.float32), y=np.array([[1.0, 1.5]], np.float32))
    assert places.of(plane)[0, 0] == 4.0
    assert places.between(plane)[0].tolist() == pytest.approx([4.4, 8.5])
    beyond = looks.Places(x=np.array([[-3.0, 9.0]], np.float32), y=np.array([[-3.0, 9.0]], np.float32))
    assert beyond.of(plane)[0].tolist() == [0.0, 11.0]


def test_many_candidates_are_read_as_a_few_are(monkeypatch):
    plane = np.random.default_rng(1).random((50, 60)).astype(np.float32)
    x, y = np.random.default_rng(2).uniform(0, 40, (2, 25, 4)).astype(np.float32)
    places = looks.Places(x=x, y=y)
    whole = places.between(plane)
    monkeypatch.setattr(looks, "MOST_ROWS", 7)
    np.testing.assert_array_equal(places.between(plane), whole)


def test_candidates_of_a_soft_disc_are_round():
    picture = cv2.GaussianBlur(drawn.flat(300, 300, TEAL), (0, 0), 1.0)
    drawn.disc(picture, 150.0, 140.0, 30.0, PAPER)
    lab = lab_of(picture)
    found = find_outlines(lab, np.array([lab[0, 0], lab[140, 150]], np.float64), K)
    best = int(found.votes[:, 0].argmax())
    x, y, area, perimeter, solid, fit, elongation = found.shape[best]
    assert (x, y) == pytest.approx((149.5, 139.5), abs=0.8)
    assert 4 * np.pi * area / perimeter**2 == pytest.approx(1.0, abs=0.12)
    assert solid > 0.95
    assert fit == pytest.approx(1.0, abs=0.08)
    assert elongation == pytest.approx(1.0, abs=0.05)
