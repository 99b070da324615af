"""What makes reading quicker or smaller says the same as the plain way; and a reading holds few copies of its panel at a time."""

from __future__ import annotations

import tracemalloc
import weakref
from typing import TYPE_CHECKING

import numpy as np
import pytest
from PIL import Image

from dribbet.sight import measure as sight
from dribbet.sight.arrays import SightError, magnitude, told_of
from dribbet.sight.lamps import on_file
from tests.sight import drawn

if TYPE_CHECKING:
    from collections.abc import Callable

PAPER = (238, 232, 214)

K = 8
MOST_RAKED_BYTES = 92.0  # with photographs under the lamps left and right beside it
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
    assert traced(lamps, width, height, corners) < MOST_BYTES
    left, right = (np.clip(photo * shade, 0, 255).astype(np.uint8) for shade in slopes(photo.shape[1]))
    raked = sight.Lamps(main=photo, left=lambda: left.copy(), right=lambda: right.copy())
    assert sight.measure(raked, width, height, corners_px=corners).cracks.under_lamps is not None
    assert traced(raked, width, height, corners) < MOST_RAKED_BYTES


def slopes(wide: int) -> tuple[np.ndarray, np.ndarray]:
    """What waves make of the light of a lamp at the left and of one at the right."""
    tilt = 0.05 * np.sin(np.arange(wide) / 17.0)[None, :, None]
    return 0.9 + tilt, 0.9 - tilt


def traced(lamps: sight.Lamps, width: float, height: float, corners: np.ndarray) -> float:
    """The most bytes that are held at once, of each pixel."""
    tracemalloc.start()
    try:
        sight.measure(lamps, width, height, corners_px=corners)
        return tracemalloc.get_traced_memory()[1] / (width * height * K**2)
    finally:
        tracemalloc.stop()


def test_photographs_under_other_lamps_are_let_go_once_they_are_laid_over_the_main_one():
    photo = drawn.marble(480, 480, seed=5)
    corners = np.array([[0, 0], [480, 0], [480, 480], [0, 480]], float)
    held: list[weakref.ref[np.ndarray]] = []

    def loads(shade: np.ndarray) -> Callable[[], np.ndarray]:
        def loaded() -> np.ndarray:
            taken = np.clip(photo * shade, 0, 255).astype(np.uint8)
            held.append(weakref.ref(taken))
            return taken

        return loaded

    alive: list[int] = []
    left, right = (loads(shade) for shade in slopes(480))
    lamps = sight.Lamps(main=photo, left=left, right=right)
    found = sight.measure(lamps, 60.0, 60.0, corners_px=corners, report=lambda done, _: alive.append(sum(r() is not None for r in held)))
    assert found.shimmer is not None
    assert len(held) == 2
    assert max(alive) == 0


def test_a_photograph_of_another_size_is_not_used_or_refused_in_words(tmp_path):
    main = drawn.marble(480, 360, seed=5)
    for name, size in (("same", (480, 360)), ("other", (482, 360))):
        Image.fromarray(drawn.marble(*size, seed=6)).save(tmp_path / f"{name}.png")
    assert on_file(None, main) is None
    np.testing.assert_array_equal(on_file(tmp_path / "same.png", main)(), drawn.marble(480, 360, seed=6))
    assert on_file(tmp_path / "other.png", main)() is None
    with pytest.raises(SightError, match="Take both alike"):
        on_file(tmp_path / "other.png", main, "Take both alike.")()
