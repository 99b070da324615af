"""Worlds that teach the reader: what is called truth is drawn, seen, and what it says it is."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from dribbet.demo.world.cells import deepest, edge_distance, parted
from dribbet.demo.world.draw import HELD_OUT, KINDS, draw
from dribbet.demo.world.flow import carried, moved
from dribbet.demo.world.fractures import visible
from dribbet.demo.world.lamps import linear_of_srgb, seen, srgb_of
from dribbet.demo.world.palettes import LEAST_APART, lab_of_linear, palette


@pytest.mark.parametrize("kind", [*KINDS, *HELD_OUT])
def test_every_kind_of_panel_has_its_truth_on_one_grid(kind):
    sheet = draw(11, width_mm=48.0, height_mm=40.0, kind=kind)
    assert sheet.linear.shape == (320, 384, 3)
    assert 0.0 <= sheet.linear.min() <= sheet.linear.max() <= 1.0
    assert sheet.cells.max() == len(np.unique(sheet.cells)) - 1  # numbered without gaps
    assert not (sheet.cells[sheet.bare] > 0).any()
    assert not (sheet.lacing[sheet.cells > 0] > 0.5).any()
    if kind == "calm":
        assert sheet.cells.max() == 0
        assert sheet.cracks.max() == 0


def test_a_seed_draws_the_same_panel_again():
    first, second = (draw(5, width_mm=32.0, height_mm=24.0) for _ in range(2))
    assert np.array_equal(first.linear, second.linear)
    assert not np.array_equal(first.linear, draw(6, width_mm=32.0, height_mm=24.0).linear)


def test_cells_are_whole_pieces_of_a_millimetre_and_more():
    numbers = np.zeros((80, 80), np.int32)
    numbers[10:40, 10:40] = 1
    numbers[60:64, 60:64] = 1  # cut off
    numbers[50:55, 10:15] = 2  # 0.7 mm across at 8 px/mm
    cells, rest = parted(numbers, 8.0)
    assert cells.max() == 1
    assert (cells > 0).sum() == 900
    assert (rest > 0).sum() == 16 + 25


def test_distance_to_the_rim_parts_neighbours_and_knows_no_rim_at_the_panels_edge():
    numbers = np.ones((40, 80), np.int32)
    numbers[:, 40:] = 2
    away = edge_distance(numbers)
    assert away[20, 39] == pytest.approx(0.5, abs=0.1)
    assert away[20, 0] > 35.0  # the edge of the panel is no rim
    assert list(deepest(numbers, away)[1:]) == pytest.approx([away[:, :40].max(), away[:, 40:].max()])


def test_cracks_are_seen_and_never_lie_on_bare_base():
    sheet = draw(21, width_mm=64.0, height_mm=48.0, kind="cracked")
    line = sheet.cracks > 0.5
    assert line.any()
    assert line.mean() < 0.2


def grey_of_lightness(lightness: float) -> float:
    return ((lightness + 16) / 116) ** 3  # CIE 1976, above 8


def test_a_crack_is_seen_where_a_picture_shows_it_and_nowhere_else():
    film = np.full((160, 400, 3), grey_of_lightness(50), np.float32)
    film[:, 200:] = grey_of_lightness(70)
    spine = np.zeros((160, 400), bool)
    spine[80, 20:380] = True
    for lightness, left, right in ((57, True, True), (55, True, True), (70, True, False), (50, False, True), (53, False, True)):
        broken = film.copy()
        broken[79:82, 20:380] = grey_of_lightness(lightness)  # 0.4 mm wide: softened by 0.1 mm, 0.94 of it is left
        there = visible(film, broken, spine, 8.0)
        assert (there[80, 40], there[80, 360]) == (left, right), lightness
        if lightness == 70:  # 20 on the left, 19 softly: judged over 1.2 mm (9.6 px) to both sides, a share of 0.30 5 px on, of 0.11 12 px on
            assert (there[80, 205], there[80, 212]) == (True, False)
    hair = film.copy()
    hair[80, 20:380] = grey_of_lightness(57)  # 0.13 mm: less than half is left of 7
    assert not visible(film, hair, spine, 8.0)[80, 40]


def test_a_flow_carries_paint_without_gaps():
    rng = np.random.default_rng(3)
    shift = carried((120, 160), 8.0, rng, reach_mm=6.0, eddy_mm=8.0)
    far = np.hypot(*shift)
    assert 10.0 < far.max() < 8.0 * 6.0 * 1.5
    stripes = (np.indices((120, 160))[1] // 20 % 2).astype(np.float32)
    assert set(np.unique(moved(stripes, shift, exact=True))) == {0.0, 1.0}


def test_colours_of_a_palette_part():
    for seed in range(20):
        lab = lab_of_linear(palette(np.random.default_rng(seed)))
        assert len(lab) >= 1
        apart = np.linalg.norm(lab[:, None] - lab[None], axis=2) + 99 * np.eye(len(lab))
        assert apart.min() > LEAST_APART * 0.3  # pulled into what a screen can show, they come nearer


def test_light_goes_to_bytes_and_back():
    linear = np.linspace(0, 1, 50, dtype=np.float32)
    assert linear_of_srgb(srgb_of(linear)) == pytest.approx(linear, abs=1e-4)


def test_a_photograph_lies_on_the_panels_own_grid():
    linear = np.full((200, 240, 3), 0.05, np.float32)
    cv2.circle(linear, (120, 100), 40, (0.8, 0.8, 0.8), -1)
    for seed in range(6):
        photo = seen(linear, 8.0, np.random.default_rng(seed)).astype(float).mean(axis=2)
        assert photo.shape == (200, 240)
        weight = np.clip(photo - np.median(photo), 0, None) ** 2
        rows, columns = np.indices(weight.shape)
        assert ((weight * columns).sum() / weight.sum(), (weight * rows).sum() / weight.sum()) == pytest.approx((120, 100), abs=6.0)
