"""Basins that faint borders enclose, and how a candidate stands among those chosen at first, on drawings that can be worked out by hand."""

from __future__ import annotations

import math

import cv2
import numpy as np
import pytest

from dribbet.sight import instances, looks
from dribbet.sight.company import COLUMNS, FAR, NO_RATIO, NOBODY, UNLIKE, choose, company
from dribbet.sight.outlines import Outlines, filled
from tests.sight.test_looks import outlined

K = 4.0


def walled(strength: float, *, wall: int = 3) -> np.ndarray:
    """Borders round four fields of 20 x 20 px in a picture of 120 x 120; nothing else is one."""
    border = np.zeros((120, 120), np.float32)
    for place in (30, 54, 78):
        border[place : place + wall, 30 : 78 + wall] = strength
        border[30 : 78 + wall, place : place + wall] = strength
    return border


def test_a_faint_border_among_faint_ones_counts_as_much_as_a_sure_one_and_a_fainter_one_than_two_hundredths_as_little():
    sure, faint = (instances.beside_nearby(walled(s), K) for s in (0.9, 0.09))
    np.testing.assert_allclose(sure, faint, rtol=1e-4)
    assert faint[31, 60] == 1.0
    assert instances.beside_nearby(walled(0.01), K).max() == pytest.approx(0.5)
    beside = walled(0.2)
    beside[50:60, 86:110] = 0.8  # a sure one 2 mm away
    assert instances.beside_nearby(beside, K)[55, 79] < 0.35


@pytest.mark.parametrize("strength", [0.9, 0.06])
def test_basins_are_what_borders_enclose_up_to_the_crest_between(strength):
    numbers = instances.basins(instances.beside_nearby(walled(strength), K), 0.35, K)
    inner = {int(numbers[r, c]) for r in (42, 66) for c in (42, 66)}
    assert len(inner) == 4
    assert 0 not in inner
    assert int(numbers[5, 5]) not in inner
    areas = [int((numbers == n).sum()) for n in inner]
    assert all(21 * 21 <= a <= 24 * 24 for a in areas)  # twenty-one wide, and half of the wall to each side


def test_a_flood_that_is_smaller_than_a_fifth_of_a_square_millimetre_begins_no_basin():
    border = np.full((60, 60), 0.9, np.float32)
    border[20:22, 20:21] = 0.0  # 2 px of a sixteenth: 0.125 mm2
    border[40:42, 40:42] = 0.0  # 4 px: 0.25 mm2
    numbers = instances.basins(border, 0.35, K)
    assert len(np.unique(numbers[numbers > 0])) == 1
    assert numbers[40, 40] == numbers[20, 20] > 0


def test_outlines_of_basins_lie_in_the_pixels_of_the_picture_and_each_is_there_once():
    found = instances.find_basins(instances.beside_nearby(walled(0.5), K), K, (240, 240))
    inner = [s for s in found.shape if s[2] < 60 * 60]
    middles = sorted((s[0], s[1]) for s in inner)
    assert np.array(middles) == pytest.approx(np.array([(86, 86), (86, 134), (134, 86), (134, 134)]), abs=1.5)  # 43 and 67, doubled
    assert all(40**2 < s[2] < 50**2 for s in inner)
    assert all(v == [0.0, 4.0] for v in found.votes.tolist()[:4])  # each level drew it


def chosen(*discs: tuple[float, float, float], odds: tuple[float, ...], film: np.ndarray | None = None) -> tuple[np.ndarray, list[int]]:
    labels, which = choose(outlined(*discs), np.array(odds), np.ones((200, 300), bool) if film is None else film, K)
    return labels, which.tolist()


def test_of_those_that_overlap_the_surer_is_chosen_and_who_is_unlikely_never():
    discs = ((60, 60, 20), (66, 60, 20), (150, 60, 20), (240, 60, 20))
    labels, which = chosen(*discs, odds=(1.0, 2.0, -0.99, -1.01))
    assert which == [1, 2]
    assert (labels[60, 66], labels[60, 150], labels[60, 240]) == (1, 2, 0)


def test_a_candidate_may_lie_on_another_by_a_quarter_of_itself_and_of_the_other():
    # Of two discs of radius r, middles d apart, each shares 2 / pi (acos(u) - u sqrt(1 - u^2)), u = d / 2 r: 0.285 at 1.2 r, 0.214 at 1.35 r.
    assert chosen((60, 60, 20), (60 + 24, 60, 20), odds=(1, 0))[1] == [0]
    assert chosen((60, 60, 20), (60 + 27, 60, 20), odds=(1, 0))[1] == [0, 1]
    assert chosen((60, 60, 8), (64, 60, 40), odds=(1, 0))[1] == [0]  # a small one within: all of it
    assert chosen((60, 60, 40), (64, 60, 8), odds=(1, 0))[1] == [0]


def test_who_is_smaller_than_a_millimetre_or_lies_beside_the_paint_is_not_chosen():
    film = np.ones((200, 300), bool)
    film[:, 153:] = False
    assert chosen((60, 60, 1.3), (60, 120, 2.6), odds=(1, 1))[1] == [1]
    assert chosen((150, 60, 20), (120, 140, 20), odds=(1, 1), film=film)[1] == [1]


def stands(*discs: tuple[float, float, float], odds: tuple[float, ...], colours: list[list[float]] | None = None) -> np.ndarray:
    found = outlined(*discs)
    told = np.array(colours if colours is not None else [[50.0, 0, 0, 80, 0, 0]] * len(discs), np.float32)
    return company(found, told, np.array(odds), np.ones((200, 300), bool), K)


def test_a_candidate_on_a_surer_one_knows_how_sure_and_how_large_that_is():
    rows = stands((80, 80, 40), (80, 80, 20), odds=(2.0, 0.5))
    assert rows.shape == (2, COLUMNS)
    whole, within = rows
    assert whole[:2].tolist() == [2.0, 1.0]
    assert within[:2].tolist() == [0.5, 0.0]
    assert whole[2:5] == pytest.approx([1.0, 0.0, 1.0], abs=0.03)  # all of it on chosen ones, nothing on others, one of them
    assert within[2:5] == pytest.approx([1.0, 1.0, 1.0], abs=0.03)
    assert within[5] == 2.0
    assert within[6] == pytest.approx(math.log(1 / 4), abs=0.01)
    assert whole[6] == pytest.approx(0.0, abs=0.01)
    assert within[7] == pytest.approx(1.0, abs=0.03)


def test_a_candidate_by_itself_has_no_company():
    (row,) = stands((80, 80, 20), odds=(-2.0,))
    assert row.tolist() == pytest.approx([-2, 0, 0, 0, 1, NOBODY, NO_RATIO, 0, NOBODY, 0, FAR, UNLIKE, UNLIKE, UNLIKE, 0, 0, 0, 0], abs=1e-6)


def test_neighbours_are_the_nearest_chosen_ones_and_never_the_one_on_which_it_lies():
    colours = [[50.0, 0, 0, 80, 0, 0], [53.0, 4, 0, 80, 0, 0], [60.0, 0, 0, 90, 0, 0]]
    first, second, third = stands((50, 100, 20), (110, 100, 10), (250, 100, 40), odds=(3.0, 1.0, -0.5), colours=colours)
    assert first[8] == pytest.approx((1.0 - 0.5) / 2)  # mean log odds of the two others
    assert first[9] == pytest.approx((math.log(10) + math.log(40)) / 2 - math.log(20), abs=1e-3)
    assert first[10] == pytest.approx(math.log(60 / 40 + 0.01), abs=1e-3)  # middle to middle, in widths
    assert first[11:14] == pytest.approx([5.0, 0.0, (5.0 + 10.0) / 2], abs=1e-3)
    assert third[11:13] == pytest.approx([math.hypot(7, 4), 10.0], abs=1e-3)
    dm2 = 200 * 300 / 400.0**2
    chances = [1 / (1 + math.exp(-o)) for o in (3.0, 1.0, -0.5)]
    for row in (first, second, third):
        assert row[14] == pytest.approx(math.log(3 / dm2 + 1), abs=1e-3)
        assert row[15] == pytest.approx(sum(chances) / 3, abs=1e-3)
        assert row[16] == pytest.approx(math.pi * (400 + 100 + 1600) / 60000, rel=0.05)
        assert row[17] == pytest.approx(math.log(40 / K), abs=1e-3)  # the median width


def test_colours_of_a_candidate_are_those_just_within_and_just_beyond_its_rim():
    lab = np.zeros((200, 300, 3), np.float32)
    lab[..., 0] = 80.0
    found = outlined((100, 100, 40))
    window, inside = filled(found.contours[0])
    lab[window][inside] = (40.0, 10.0, -5.0)
    cv2.circle(lab, (100, 100), 30, (10.0, 0.0, 0.0), -1)  # the middle is of another colour
    (row,) = looks.colours(lab, looks.Rims.of(found), K)
    assert row.tolist() == [40.0, 10.0, -5.0, 80.0, 0.0, 0.0]


def test_no_basins_are_no_outlines():
    none = instances.find_basins(np.ones((20, 20), np.float32), K, (20, 20))
    assert isinstance(none, Outlines)
    assert none.contours == []
