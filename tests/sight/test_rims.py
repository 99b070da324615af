"""Outlines moved to the half step of the colour along them."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from dribbet.sight import colour
from dribbet.sight.outlines import find_outlines, rim_points
from dribbet.sight.rims import at_half_step
from tests.sight import drawn

K = 6.0
TEAL, PAPER = (15, 106, 122), (236, 232, 220)


def soft_disc(radius_px: float, blur_px: float) -> np.ndarray:
    picture = drawn.flat(300, 300, TEAL)
    drawn.disc(picture, 150.0, 150.0, radius_px, PAPER)
    if blur_px:
        picture = cv2.GaussianBlur(picture, (0, 0), blur_px)
    return colour.lab_of(picture.astype(np.float32) / 255.0)


def ring(radius_px: float) -> np.ndarray:
    turn = np.linspace(0.0, 2 * np.pi, 120, endpoint=False)
    points = 149.5 + radius_px * np.stack([np.cos(turn), np.sin(turn)], axis=1)
    return np.round(points).astype(np.int32).reshape(-1, 1, 2)


@pytest.mark.parametrize("off_px", [-2.0, -1.0, 0.0, 1.0, 2.0])
@pytest.mark.parametrize("blur_px", [0.0, 1.2])
def test_outline_a_little_too_large_or_small_comes_to_the_rim(off_px, blur_px):
    lab = soft_disc(40.0, blur_px)
    moved = at_half_step(lab, ring(40.0 + off_px), K)
    radius = np.sqrt(cv2.contourArea(moved) / np.pi)
    assert radius == pytest.approx(40.0, abs=0.5)


def test_outline_without_a_step_along_it_stays():
    lab = colour.lab_of(drawn.flat(300, 300, TEAL).astype(np.float32) / 255.0)
    before = ring(40.0)
    np.testing.assert_allclose(at_half_step(lab, before, K), before)


def test_outline_of_a_few_points_stays():
    lab = soft_disc(40.0, 0.0)
    before = ring(40.0)[::20]
    np.testing.assert_allclose(at_half_step(lab, before, K), before)


def test_outline_at_the_edge_of_the_panel_stays_on_it():
    lab = soft_disc(40.0, 0.0)
    moved = at_half_step(lab, ring(149.0), K)
    assert moved.min() >= 0.0
    assert moved.max() <= 299.0


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
