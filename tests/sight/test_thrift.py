"""What makes reading quicker or smaller says the same as the plain way; and a reading holds few copies of its panel at a time."""

from __future__ import annotations

import tracemalloc

import numpy as np
import pytest

from dribbet.sight import measure as sight
from dribbet.sight.arrays import magnitude, told_of
from tests.sight import drawn

PAPER = (238, 232, 214)

K = 8
MOST_BYTES = 84.0  # of each pixel at 8 px/mm, beside the photograph; a panel of 300 mm has 5.8 million


def test_length_of_differences_is_their_norm_to_the_last_bit():
    rng = np.random.default_rng(1)
    for kind in (np.float32, np.float64):
        vectors = (rng.random((30, 40, 3)) * 90 - 30).astype(kind)
        told = magnitude(vectors)
        assert told.dtype == kind
        np.testing.assert_array_equal(told, np.linalg.norm(vectors, axis=2))
    assert magnitude(np.array([[[2.0, -3.0, 6.0]]])) == pytest.approx(7.0)


def test_numbers_are_looked_up_where_there_are_any():
    rng = np.random.default_rng(2)
    for kind in (np.int32, np.uint16):
        numbers = (rng.integers(1, 9, (50, 60)) * (rng.random((50, 60)) < 0.1)).astype(kind)
        for table in (np.array([0, 4, 0, 9, 2, 2, 7, 1, 300], np.int32), np.array([False, *[True, False] * 4])):
            told = told_of(numbers, table)
            assert told.dtype == table.dtype
            np.testing.assert_array_equal(told, table[numbers])


def test_a_reading_holds_few_copies_of_its_panel():
    """Traced, not felt: every array counts, whatever the machine does with memory that was given back."""
    width, height = 150.0, 100.0
    photo = drawn.marble(round(width * K), round(height * K), seed=5)
    for x in range(60, photo.shape[1] - 40, 120):
        drawn.disc(photo, x, 300, 26, PAPER)
    corners = np.array([[0, 0], [photo.shape[1], 0], [photo.shape[1], photo.shape[0]], [0, photo.shape[0]]], float)
    lamps = sight.Lamps(main=photo)
    sight.measure(lamps, width, height, corners_px=corners)  # what is read once and kept
    tracemalloc.start()
    try:
        sight.measure(lamps, width, height, corners_px=corners)
        most = tracemalloc.get_traced_memory()[1]
    finally:
        tracemalloc.stop()
    assert most / (width * height * K**2) < MOST_BYTES
