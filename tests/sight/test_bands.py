"""Bands that look like cracks: how many borders a line should cross and does, on stripes and lines where both are counted by hand."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from dribbet.sight import breaks, cracks
from dribbet.sight import lines as judging
from dribbet.sight import measure as sight
from dribbet.sight.bands import are_bands, borders
from dribbet.sight.breaks import Pieces

K = 8.0
SHAPE = (640, 800)  # 80 x 100 mm
DARK, LIGHT, RED = (20.0, 0.0, 0.0), (85.0, 0.0, 0.0), (50.0, 60.0, 30.0)
CENTRES = np.array([DARK, LIGHT])


def striped(pitch_mm: float) -> np.ndarray:
    """Upright stripes of two colours, each `pitch_mm` wide."""
    lab = np.empty((*SHAPE, 3), np.float32)
    lab[:] = np.array(DARK, np.float32)
    lab[:, np.arange(SHAPE[1]) // round(pitch_mm * K) % 2 == 1] = np.array(LIGHT, np.float32)
    return lab


def lines(*ends: tuple[float, float, float, float], wide: int = 3) -> Pieces:
    """Straight lines from x, y to x, y in mm, each a piece."""
    numbers, body, spine = np.zeros(SHAPE, np.int32), np.zeros(SHAPE, np.uint8), np.zeros(SHAPE, np.uint8)
    for number, (x, y, to_x, to_y) in enumerate(ends, 1):
        a, b = ((round(px * K), round(py * K)) for px, py in ((x, y), (to_x, to_y)))
        cv2.line(body, a, b, 1, wide)
        cv2.line(spine, a, b, 1, 1)
        cv2.line(numbers, a, b, number, 11)
    long = np.array([np.hypot(to_x - x, to_y - y) for x, y, to_x, to_y in ends])
    return Pieces(numbers=numbers, body=body > 0, spine=spine > 0, length_mm=long)


def both(*flags: bool) -> np.ndarray:
    return np.array(flags)


def test_a_line_across_stripes_meets_each_border_and_one_along_them_none():
    across, along = (12.0, 40.0, 88.0, 40.0), (26.0, 5.0, 26.0, 75.0)
    expected, met = borders(lines(across, along), both(True, True), striped(4.0), CENTRES, K)
    # borders every 4 mm: a density of 0.25 to the mm, so 2 x 76 x 0.25 / pi and 2 x 70 x 0.25 / pi; the line across meets those at 12, 16, … 88
    assert expected == pytest.approx([12.1, 11.1], rel=0.1)
    assert met[0] == pytest.approx(18.5, abs=1.5)
    assert met[1] == 0.0


def test_what_is_not_likely_is_not_asked():
    expected, met = borders(lines((12.0, 40.0, 88.0, 40.0), (26.0, 5.0, 26.0, 75.0)), both(False, True), striped(4.0), CENTRES, K)
    assert (expected[0], met[0]) == (0.0, 0.0)
    assert expected[1] > 10.0


def test_a_band_is_none_and_a_crack_beside_it_stays_one():
    pieces = lines((12.0, 40.0, 88.0, 40.0), (26.0, 5.0, 26.0, 75.0))
    np.testing.assert_array_equal(are_bands(pieces, both(True, True), striped(4.0), CENTRES, K), [False, True])
    np.testing.assert_array_equal(are_bands(pieces, both(True, False), striped(4.0), CENTRES, K), [False, False])


@pytest.mark.parametrize(("long_mm", "is_band"), [(32.0, True), (28.0, False)])
def test_a_short_line_that_crosses_nothing_may_be_either(long_mm, is_band):
    """2 x 32 x 0.25 / pi = 5.1 borders are enough to tell, 2 x 28 x 0.25 / pi = 4.5 are not."""
    told = are_bands(lines((26.0, 20.0, 26.0, 20.0 + long_mm)), both(True), striped(4.0), CENTRES, K)
    np.testing.assert_array_equal(told, [is_band])


@pytest.mark.parametrize(("slant_mm", "is_band"), [(0.0, True), (4.0, True), (8.0, False)])
def test_a_band_crosses_no_more_than_one_border_of_ten(slant_mm, is_band):
    """From one stripe's middle to the next one's is one border of some twelve; a line across keeps the panel from being asked as a whole."""
    told = are_bands(lines((26.0, 5.0, 26.0 + slant_mm, 75.0), (12.0, 77.0, 88.0, 77.0)), both(True, True), striped(4.0), CENTRES, K)
    np.testing.assert_array_equal(told, [is_band, False])


def test_pieces_too_short_to_be_asked_alone_are_asked_together():
    """Five of 28 mm should cross 22 borders and cross none; four, 18, are left as they are."""
    short = [(26.0 + 8.0 * i, 20.0, 26.0 + 8.0 * i, 48.0) for i in range(5)]
    lab = striped(4.0)
    assert are_bands(lines(*short), both(*[True] * 5), lab, CENTRES, K).all()
    assert not are_bands(lines(*short[:4]), both(*[True] * 4), lab, CENTRES, K).any()
    with_one_across = lines(*short, (12.0, 60.0, 52.0, 60.0))  # which crosses ten: nine of 29 are more than a quarter
    assert not are_bands(with_one_across, both(*[True] * 6), lab, CENTRES, K).any()


def test_together_they_may_cross_one_border_of_four():
    """Five of 28 mm that cross two of some five each, of which one may be their ends': a fifth. Where they cross three it is two fifths."""
    for slant_mm, crossed, bands in ((8.0, 2, True), (12.0, 3, False)):
        slanted = lines(*[(26.0 + 8.0 * i, 20.0, 26.0 + slant_mm + 8.0 * i, 48.0) for i in range(5)])
        expected, met = borders(slanted, both(*[True] * 5), striped(4.0), CENTRES, K)
        assert met.sum() == pytest.approx(5 * crossed, abs=1.0)
        assert (met - 1).sum() / expected.sum() == pytest.approx(0.2 * (crossed - 1), abs=0.04)
        np.testing.assert_array_equal(are_bands(slanted, both(*[True] * 5), striped(4.0), CENTRES, K), [bands] * 5)


def test_stripes_of_a_millimetre_are_told_and_flecks_are_not():
    _, met = borders(lines((12.5, 40.0, 60.5, 40.0)), both(True), striped(1.0), CENTRES, K)
    assert met[0] == pytest.approx(48.0, abs=2.0)
    flecked = np.full((*SHAPE, 3), DARK, np.float32)
    flecked[::16, ::16] = flecked[1::16, ::16] = np.array(LIGHT, np.float32)
    expected, met = borders(lines((12.5, 40.0, 60.5, 40.0)), both(True), flecked, CENTRES, K)
    assert (expected[0], met[0]) == (0.0, 0.0)


def test_borders_far_from_a_line_say_nothing_of_it():
    lab = striped(4.0)
    lab[:, round(40.0 * K) :] = np.array(DARK, np.float32)
    expected, _ = borders(lines((60.0, 5.0, 60.0, 75.0), (18.0, 5.0, 18.0, 75.0)), both(True, True), lab, CENTRES, K)
    assert expected[0] == 0.0
    assert expected[1] > 10.0


@pytest.mark.parametrize("wide", [3, 40])
def test_a_lines_own_colour_makes_no_border(wide):
    lab = np.full((*SHAPE, 3), DARK, np.float32)
    pieces = lines((26.0, 5.0, 26.0, 75.0), wide=wide)
    lab[pieces.body] = np.array(RED, np.float32)
    expected, met = borders(pieces, both(True), lab, np.array([RED, DARK]), K)
    assert (expected[0], met[0]) == (0.0, 0.0)


def test_a_band_between_unlike_paints_crosses_none_either():
    """Its sides differ all along: walking round it the colour changes at its two ends alone."""
    lab = striped(4.0)
    lab[:, : round(26.0 * K)] = np.array(RED, np.float32)
    centres = np.array([DARK, LIGHT, RED])
    expected, met = borders(lines((26.0, 5.0, 26.0, 75.0)), both(True), lab, centres, K)
    assert met[0] == pytest.approx(1.0, abs=0.01)
    assert expected[0] > 5.0


def test_fields_that_a_net_encloses_are_walked_round_as_well():
    """A square ring across stripes: outside and inside it the colour changes at each border of its two sides that lie across."""
    pieces = lines((12.0, 20.0, 52.0, 20.0))
    for x, y, to_x, to_y in ((52, 20, 52, 60), (52, 60, 12, 60), (12, 60, 12, 20)):
        for mask, wide in ((pieces.body, 3), (pieces.spine, 1)):
            drawn = mask.astype(np.uint8)
            cv2.line(drawn, (round(x * K), round(y * K)), (round(to_x * K), round(to_y * K)), 1, wide)
            mask |= drawn > 0
        cv2.line(pieces.numbers, (round(x * K), round(y * K)), (round(to_x * K), round(to_y * K)), 1, 11)
    pieces = Pieces(numbers=pieces.numbers, body=pieces.body, spine=pieces.spine, length_mm=np.array([160.0]))
    _, met = borders(pieces, both(True), striped(4.0), CENTRES, K)
    assert met[0] == pytest.approx(20.0, abs=3.0)  # ten borders on either of the two sides, from without and from within


def test_on_one_colour_nothing_is_expected():
    flat = np.full((*SHAPE, 3), 60.0, np.float32)
    expected, met = borders(lines((12.0, 40.0, 88.0, 40.0)), both(True), flat, np.array([[60.0, 60.0, 60.0]]), K)
    assert (expected[0], met[0]) == (0.0, 0.0)
    assert not are_bands(lines((12.0, 40.0, 88.0, 40.0)), both(True), flat, np.array([[60.0, 60.0, 60.0]]), K).any()


def test_a_dark_thread_among_stripes_is_no_crack_and_one_across_them_is(monkeypatch):
    """Both look alike to what judges lines (told here to take every line for a crack); only one of them breaks the film."""
    photo = np.empty((*SHAPE, 3), np.uint8)
    photo[:] = (40, 70, 120)
    photo[:, np.arange(SHAPE[1]) // 32 % 2 == 1] = (230, 225, 215)
    cv2.line(photo, (208, 40), (208, 600), (20, 18, 16), 4)  # in the middle of a light stripe
    along_only = photo.copy()
    cv2.line(photo, (328, 320), (760, 300), (20, 18, 16), 4)
    corners = np.array([[0, 0], [800, 0], [800, 640], [0, 640]], float)

    def every_one(segments):
        return np.zeros((len(segments.features), 3)), np.full(len(segments.features), 2.0)  # lines that are not settled by themselves

    def sure(pieces, ridges, k):
        return np.full(len(pieces.length_mm), 0.95)

    monkeypatch.setattr(judging, "judged", every_one)
    monkeypatch.setattr(breaks, "chances", sure)
    told, none = (sight.measure(sight.Lamps(main=p), 100.0, 80.0, corners_px=corners).cracks for p in (photo, along_only))
    assert (none.length_mm, none.length_sd_mm) == (0.0, 0.0)  # a band is not what may have been missed
    assert 40.0 < told.length_mm < 60.0
    assert not told.mask[200:290, 200:216].any()
    monkeypatch.setattr(cracks, "are_bands", lambda pieces, likely, *_: np.zeros(len(likely), bool))
    assert sight.measure(sight.Lamps(main=along_only), 100.0, 80.0, corners_px=corners).cracks.length_mm > 60.0
