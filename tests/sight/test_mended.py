"""Cells that cracks cross: what a second look may add and take away, by hand, and on a drawn panel."""

from __future__ import annotations

import math
from dataclasses import replace

import cv2
import numpy as np
import pytest

from dribbet.sight import measure as reader
from dribbet.sight import mended
from dribbet.sight.cells import Cell, Cells, told
from dribbet.sight.mended import SURE, joined
from tests.sight import drawn

K = 8.0
SHAPE = (320, 400)


def box(x: float, y: float, wide: float, high: float, sureness: float = 0.9) -> Cell:
    """An upright box from its top left corner, mm."""
    rim = ((x, y), (x + wide, y), (x + wide, y + high), (x, y + high))
    return Cell(
        x_mm=x + wide / 2, y_mm=y + high / 2, area_mm2=wide * high, diameter_mm=math.sqrt(4 * wide * high / math.pi), circularity=0.8, elongation=1.0,
        outline_mm=rim, sureness=sureness,
    )  # fmt: skip


def placed(*cells: Cell, passed_over: tuple[float, ...] = ()) -> Cells:
    labels = np.zeros(SHAPE, np.uint16)
    for number, cell in enumerate(cells, 1):
        (x, y), _, (right, bottom), _ = cell.outline_mm
        labels[round(y * K) : round(bottom * K), round(x * K) : round(right * K)] = number
    return told(cells, labels, 2, passed_over, K)


def crack_at(x: float, wide: float = 0.5) -> np.ndarray:
    gone = np.zeros(SHAPE, bool)
    gone[:, round(x * K) : round((x + wide) * K)] = True
    return gone


WHOLE = box(10.0, 10.0, 10.0, 10.0)
LEFT, RIGHT = box(10.0, 10.0, 4.5, 10.0), box(15.5, 10.0, 4.5, 10.0)
ACROSS = crack_at(14.75)


def test_a_cell_takes_the_place_of_its_two_halves():
    elsewhere = box(30.0, 5.0, 6.0, 6.0)
    told_ = joined(placed(LEFT, RIGHT, elsewhere, passed_over=(0.3,)), placed(WHOLE), ACROSS, K)
    assert [c.area_mm2 for c in told_.items] == [100.0, 36.0]
    assert (told_.pinholes, told_.passed_over) == (2, (0.3,))
    np.testing.assert_array_equal(np.unique(told_.labels), [0, 1, 2])
    assert np.count_nonzero(told_.labels == 1) == 80 * 80
    assert told_.labels[round(8.0 * K), round(33.0 * K)] == 2


def test_where_nothing_was_found_it_is_added():
    told_ = joined(placed(), placed(WHOLE), ACROSS, K)
    assert [c.area_mm2 for c in told_.items] == [100.0]
    assert told_.items[0] == WHOLE


@pytest.mark.parametrize(
    ("sureness", "gone", "added"),
    [
        (SURE + 0.01, ACROSS, 1),
        (SURE - 0.01, ACROSS, 0),
        (0.99, crack_at(30.0), 0),  # no crack in it: the first look was as good
        (0.99, crack_at(19.75, 0.5), 1),  # 2 of its 80 columns, 2.5 %
        (0.99, crack_at(19.875, 0.5), 0),  # one of them
    ],
)
def test_only_what_is_sure_and_crossed_is_added(sureness, gone, added):
    assert len(joined(placed(), placed(replace(WHOLE, sureness=sureness)), gone, K).items) == added


def test_what_is_there_already_stays_as_it_was_found():
    nearly = box(10.0, 10.0, 8.0, 10.0, 0.6)  # 0.8 of their union
    found = placed(nearly)
    assert joined(found, placed(WHOLE), ACROSS, K) is found
    found = placed(box(10.0, 10.0, 4.5, 10.0, 0.6))  # 0.45: a piece
    assert [c.area_mm2 for c in joined(found, placed(WHOLE), ACROSS, K).items] == [100.0]


@pytest.mark.parametrize(("across_mm", "both"), [(2.0, True), (4.0, False)])
def test_a_cell_that_reaches_into_it_keeps_its_part_or_keeps_it_out(across_mm, both):
    """A neighbour of 10 x 10 mm that overlaps it by 20 % leaves it 80 mm2; by 40 % there is no room for both."""
    found = placed(box(20.0 - across_mm, 10.0, 10.0, 10.0))
    told_ = joined(found, placed(WHOLE), ACROSS, K)
    assert [c.area_mm2 for c in told_.items] == ([100.0, pytest.approx(80.0)] if both else [100.0])
    if both:
        assert told_.items[1].diameter_mm == pytest.approx(math.sqrt(4 * 80.0 / math.pi))
        assert [np.count_nonzero(told_.labels == n) for n in (1, 2)] == [6400, 5120]
    else:
        assert told_ is found


def cracked_photo() -> tuple[np.ndarray, np.ndarray]:
    """Pale discs on a dark film, 9 mm wide, each crossed by a dark crack that goes on beyond it; and their middles in px."""
    photo = drawn.marble(960, 640, seed=5)
    middles = np.array([(x, y) for y in (170, 320, 470) for x in (150, 340, 530, 720)])
    for x, y in middles:
        drawn.disc(photo, int(x), int(y), 36, (238, 232, 214))
    luck = np.random.default_rng(4)
    for row in (170, 320, 470):
        at = np.array([(x, row + luck.normal(0, 7)) for x in range(40, 921, 22)])
        cv2.polylines(photo, [np.round(at * 16).astype(np.int32)], False, (14, 12, 10), 5, cv2.LINE_AA, 4)
    return photo, middles


def test_discs_that_a_crack_halves_are_one_cell_each(monkeypatch):
    photo, middles = cracked_photo()
    corners = np.array([[0, 0], [960, 0], [960, 640], [0, 640]], float)

    def whole() -> int:
        cells = reader.measure(reader.Lamps(main=photo), 120.0, 80.0, corners_px=corners).cells
        return sum(abs(c.diameter_mm - 9.0) < 1.0 and (np.hypot(*(middles - np.array([c.x_mm, c.y_mm]) * 8.0).T) < 8).any() for c in cells.items)

    assert whole() >= 8
    monkeypatch.setattr(mended, "joined", lambda found, *_: found)
    assert whole() <= 3


def test_a_reading_looks_once_more_where_it_found_cracks_and_only_there(monkeypatch):
    photo, _ = cracked_photo()
    corners = np.array([[0, 0], [960, 0], [960, 640], [0, 640]], float)
    seen = []

    def see(even, px_per_mm, report):
        seen.append(even.shape)
        return real(even, px_per_mm, report=report)

    real = mended.see
    monkeypatch.setattr(mended, "see", see)
    found = reader.measure(reader.Lamps(main=photo), 120.0, 80.0, corners_px=corners)
    assert seen == ([(640, 960, 3)] if found.cracks.count else [])
    whole = drawn.marble(480, 480, seed=5)
    reader.measure(reader.Lamps(main=whole), 60.0, 60.0, corners_px=np.array([[0, 0], [480, 0], [480, 480], [0, 480]], float))
    assert len(seen) <= 1
