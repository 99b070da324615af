"""How lines bend, on drawn lines whose turning is known."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from skimage.morphology import skeletonize

from dribbet.sight.courses import BY_TURN, STEPS_MM, bends

K = 10.0
SHAPE = (500, 700)
TURN, UNEVEN, ONE_WAY = 0, 1, 2


def line(*places: tuple[float, float]) -> np.ndarray:
    """One line through places in mm (column, row), one pixel wide."""
    drawn = np.zeros(SHAPE, np.uint8)
    cv2.polylines(drawn, [np.round(np.array(places) * K).astype(np.int32)], False, 1, 1)
    return skeletonize(drawn > 0).astype(np.int32)


def arc(radius: float, from_deg: int, to_deg: int, at: tuple[float, float] = (35, 25)) -> np.ndarray:
    """Part of a circle, in mm."""
    turn = np.radians(np.arange(from_deg, to_deg + 1))
    return line(*zip(at[0] + radius * np.cos(turn), at[1] + radius * np.sin(turn), strict=True))


def told(labels: np.ndarray, step: float, which: int = 0) -> np.ndarray:
    """Turning, unevenness and share that goes one way, by arms of `step` mm."""
    return bends(labels, K)[which].reshape(len(STEPS_MM), BY_TURN // len(STEPS_MM))[STEPS_MM.index(step)]


def test_a_straight_line_turns_nowhere():
    assert bends(line((5, 10), (60, 10)), K) == pytest.approx(np.zeros((1, BY_TURN)))


@pytest.mark.parametrize("end", [(60, 40), (60, 25), (30, 45)])
def test_the_steps_of_pixels_of_a_slanted_line_are_none_of_its_own(end):
    turns = [told(line((5, 10), end), step)[TURN] for step in STEPS_MM]
    assert turns[0] < 0.2
    assert turns[1] < 0.06
    assert turns[2] < 0.02


@pytest.mark.parametrize(("radius", "step"), [(10.0, 1.0), (10.0, 2.0), (5.0, 1.0), (5.0, 2.0)])
def test_an_arc_turns_by_one_over_its_radius_evenly_and_one_way(radius, step):
    turn, uneven, one_way = told(arc(radius, 10, 200), step)
    assert turn == pytest.approx(1 / radius, rel=0.06)
    assert uneven < 0.5 * turn
    assert one_way == pytest.approx(1.0, abs=0.03)


def test_a_ring_is_opened_and_turns_as_an_arc_does():
    assert told(arc(10.0, 0, 360), 2.0) == pytest.approx(told(arc(10.0, 0, 300), 2.0), rel=0.1, abs=0.01)


def test_corners_turn_as_much_and_unevenly():
    """Right angles 4 mm apart, to and fro: 1.57 on each 4 mm, none of it at the ends."""
    corners = [(8 + 4 * ((i + 1) // 2), 10 + 4 * (i // 2)) for i in range(9)]
    turn, uneven, one_way = told(line(*corners), 1.0)
    assert turn == pytest.approx(np.pi / 2 * 7 / (8 * 4 - 2), rel=0.1)
    assert uneven > 0.8 * turn
    bent = told(arc(2.55, 10, 330), 1.0)
    assert bent[TURN] == pytest.approx(turn, rel=0.1)
    assert bent[UNEVEN] < 0.2 * uneven
    assert one_way < 0.8 < bent[ONE_WAY]


def test_a_line_of_less_than_two_arms_is_not_told_by_them():
    short = arc(5.0, 0, 20)  # 1.75 mm
    assert told(short, 0.5)[TURN] > 0.1
    assert told(short, 1.0).tolist() == [0.0, 0.0, 0.0]


def test_each_line_is_told_by_itself():
    both = arc(10.0, 10, 200) + 2 * line((5, 2), (60, 2))
    assert bends(both, K)[0] == pytest.approx(bends(arc(10.0, 10, 200), K)[0])
    assert bends(both, K)[1] == pytest.approx(np.zeros(BY_TURN))


def test_it_is_told_in_millimetres():
    """The same line at half the pixels."""
    fine = told(arc(10.0, 10, 200), 2.0)
    coarse = bends(
        np.asarray(
            skeletonize(
                cv2.resize(cv2.dilate(arc(10.0, 10, 200).astype(np.uint8), np.ones((3, 3))), None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA) > 0
            ),
            np.int32,
        ),
        K / 2,
    )
    assert coarse[0][-3:] == pytest.approx(fine, rel=0.1, abs=0.02)


def test_nothing_turns_where_there_is_no_line():
    assert bends(np.zeros(SHAPE, np.int32), K).shape == (0, BY_TURN)
