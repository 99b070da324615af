"""Outlines that fold over themselves or have spikes: told from sound ones, and what is left of them."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from dribbet.sight.polygons import enclosed, folded, without_thin_parts

K = 8.0
SHAPE = (160, 160)


def disc(radius: float = 3.0, points: int = 128) -> np.ndarray:
    turn = np.linspace(0.0, 2 * np.pi, points, endpoint=False)
    return (10.0 + radius * np.stack([np.cos(turn), np.sin(turn)], axis=1)).astype(np.float32)


def area(outline: np.ndarray) -> float:
    return float(cv2.contourArea(outline.astype(np.float32)))


@pytest.mark.parametrize("stretch", [1.0, 3.0])
def test_round_and_stretched_outlines_are_sound(stretch):
    assert not folded((disc() - 10.0) * np.array([stretch, 1.0], np.float32) + 10.0)


def test_corners_of_foam_are_sound_and_tips_are_not():
    """Four corners of 90 degrees; a kite whose tip turns by 153 of the 180 that turn back."""
    corners = np.array([[6.0, 6.0], [14.0, 6.0], [14.0, 14.0], [6.0, 14.0]])
    square = np.concatenate([np.linspace(a, b, 8, endpoint=False) for a, b in zip(corners, np.roll(corners, -1, axis=0), strict=True)])
    assert not folded(square.astype(np.float32))
    spiked = disc(points=32)
    spiked[0] = (17.0, 10.0)
    assert folded(spiked)


def test_an_outline_that_crosses_itself_is_folded_whichever_way_it_goes_round():
    t = 0.1 + np.linspace(0.0, 2 * np.pi, 64, endpoint=False)
    eight = np.stack([10.0 + 4.0 * np.sin(t), 10.0 + 2.0 * np.sin(2 * t)], axis=1).astype(np.float32)
    assert folded(eight)
    assert folded(eight[::-1])


def test_a_spike_is_taken_off_and_the_cell_stays():
    spiked = np.insert(disc(), 1, [[18.0, 10.05], [18.0, 10.2]], axis=0).astype(np.float32)
    mended = without_thin_parts(spiked, K, SHAPE)
    assert mended[:, 0].max() == pytest.approx(13.0, abs=0.2)
    assert area(mended) == pytest.approx(9 * np.pi, rel=0.03)
    assert not folded(mended)


def test_of_two_that_hang_together_by_a_thread_the_larger_one_stays():
    small, thread = disc(1.0) + np.array([6.0, 0.0], np.float32), [[13.0, 10.05], [15.0, 10.05]]
    order = np.roll(small, -64, axis=0)  # begins where the thread meets it
    both = np.concatenate([disc(3.0), [[13.0, 10.0]], thread, order, [[15.0, 9.95], [13.0, 9.95]]]).astype(np.float32)
    mended = without_thin_parts(both, K, SHAPE)
    assert area(mended) == pytest.approx(9 * np.pi, rel=0.05)
    assert mended[:, 0].max() < 13.4


def test_a_loop_within_leaves_no_hole():
    ring = np.concatenate([disc(3.0), [[13.0, 10.0]], disc(1.0), [[11.0, 10.0]]]).astype(np.float32)
    assert np.count_nonzero(enclosed(ring, K, SHAPE)[1]) / K**2 == pytest.approx(8 * np.pi, rel=0.05)  # even and odd
    assert area(without_thin_parts(ring, K, SHAPE)) == pytest.approx(9 * np.pi, rel=0.03)


def test_what_encloses_nothing_stays_as_it_is():
    line = np.array([[3.0, 3.0], [9.0, 3.0], [3.0, 3.0]], np.float32)
    np.testing.assert_array_equal(without_thin_parts(line, K, SHAPE), line)
