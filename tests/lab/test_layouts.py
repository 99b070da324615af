"""Which recipes a design pours, against the tables of the textbooks; blocks, lots, and pieces of a panel."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dribbet.lab.plan import aliases, design, further, layouts
from dribbet.records import BETWEEN, Design, DribbetError, Factor, Layout, Level
from tests.conftest import reference
from tests.made_up import ids, numbers, series

TWO = (Level(value=0.1), Level(value=0.2))


@pytest.mark.parametrize("row", reference("two_level_fractions.csv").astype(int).tolist())
def test_two_level_fractions_have_the_published_size_and_resolution(row):
    factors, halvings, runs, resolution = row
    rows = layouts.fraction([2] * factors, halvings)
    assert len(rows) == runs
    assert aliases.resolution(rows, [2] * factors) == resolution == layouts.RESOLUTION[factors, halvings]
    coded = 2 * np.array(rows) - 1
    np.testing.assert_array_equal(coded.T @ coded, runs * np.eye(factors))  # balanced and orthogonal


def test_half_of_four_factors_is_the_textbooks_one():
    """Montgomery, example 8.1: 2^(4-1) with I = ABCD, runs (1), ad, bd, ab, cd, ac, bc, abcd."""
    wanted = {(), (0, 3), (1, 3), (0, 1), (2, 3), (0, 2), (1, 2), (0, 1, 2, 3)}
    rows = layouts.fraction([2, 2, 2, 2], 1)
    assert {tuple(i for i, v in enumerate(row) if v) for row in rows} == wanted


@pytest.mark.parametrize("levels", [[3, 2, 2], [3, 2, 2, 2], [3, 3, 2], [4, 2, 2], [3, 2, 2, 2, 2], [3, 3, 2, 2]])
def test_part_of_unlike_levels_holds_every_level_and_parts_the_main_effects(levels):
    rows = layouts.fraction(levels, 1)
    assert len(rows) < np.prod(levels) * 0.7
    for i, n in enumerate(levels):
        assert {r[i] for r in rows} == set(range(n))
    mains = [a for a in aliases.aliases(rows, levels) if len(a.second) == 1]
    assert not any(a.full for a in mains)


@pytest.mark.parametrize("levels", [[2], [2, 2], [3, 3], [4, 2]])
def test_what_cannot_be_halved_says_so(levels):
    assert layouts.most_halvings(levels) == 0
    with pytest.raises(DribbetError, match="cannot be halved"):
        layouts.fraction(levels, 1)


@given(st.lists(st.integers(2, 4), min_size=1, max_size=4))
def test_every_combination_is_there_once_with_the_first_factor_fastest(levels):
    rows = layouts.every(levels)
    assert len(rows) == len(set(rows)) == np.prod(levels)
    assert [r[0] for r in rows[: levels[0]]] == list(range(levels[0]))


def test_centre_point_stands_between_and_comes_last():
    s = series(levels=numbers(0.10, 0.22), layout=Layout(centre_points=3))
    last = design.arms(s)[-1]
    assert last.settings == (BETWEEN,)
    assert last.water_share == pytest.approx(0.16)
    assert (last.panels, design.sheets(s)) == (3, 2 * 2 + 3)


@given(st.lists(st.integers(1, 4), min_size=1, max_size=40), st.integers(0, 2**31 - 1))
def test_lots_keep_blocks_together(blocks, seed):
    places = layouts.pouring_order(blocks, seed)
    assert sorted(places) == list(range(1, len(blocks) + 1))
    assert [b for _, b in sorted(zip(places, blocks, strict=True))] == sorted(blocks)


def test_blocks_hold_every_recipe_once():
    s = series(repeats=3, layout=Layout(blocks=3), seed=5)
    made = design.panels(s, ids())
    for block in (1, 2, 3):
        mine = [p for p in made if p.block == block]
        assert sorted(p.recipe for p in mine) == ["a", "b", "c"]
        assert {p.place for p in mine} == set(range(3 * block - 2, 3 * block + 1))
    assert sorted(p.slot for p in made) == list(range(1, 10))


# ---------------------------------------------------------------- pieces of one panel


@given(st.integers(1, layouts.REGIONS_MOST), st.floats(0.1, 0.6), st.floats(0.1, 0.6))
def test_regions_fill_the_panel_and_do_not_overlap(count, width, height):
    boxes = layouts.regions(count, width, height)
    assert len(boxes) == count
    area = sum((r - x) * (b - t) for x, t, r, b in boxes)
    assert area == pytest.approx(1.0) or count in (5, 7)  # an uneven number leaves one place of the grid free
    for i in range(count):
        for j in range(i):
            a, b = boxes[i], boxes[j]
            assert min(a[2], b[2]) - max(a[0], b[0]) < 1e-9 or min(a[3], b[3]) - max(a[1], b[1]) < 1e-9


def test_strip_is_left_out_along_shared_borders_only():
    boxes = layouts.regions(2, 0.2, 0.15)
    assert layouts.inner(boxes[0], 0.2, 0.15, 0.01) == pytest.approx((0.0, 0.0, 0.45, 1.0))
    assert layouts.left_out_share(boxes, 0.2, 0.15, 0.01) == pytest.approx(0.1)
    assert layouts.neighbours(boxes) == [(0, 1)]
    assert len(layouts.neighbours(layouts.regions(4, 0.2, 0.15))) == 4


def test_too_many_for_one_panel_is_refused_in_words():
    with pytest.raises(DribbetError, match="do not fit side by side"):
        layouts.regions(layouts.REGIONS_MOST + 1, 0.2, 0.15)


def test_pieces_of_a_panel_share_it_and_change_places_between_panels():
    s = series(repeats=4, layout=Layout(design=Design.PAIRED), seed=2)
    made = design.panels(s, ids())
    assert (len(made), design.sheets(s)) == (12, 4)
    for sheet in range(1, 5):
        mine = [p for p in made if p.sheet == sheet]
        assert sorted(p.recipe for p in mine) == ["a", "b", "c"]
        assert len({p.region for p in mine}) == 3
        assert len({p.slot for p in mine}) == 1
    assert len({p.region for p in made if p.recipe == "a"}) > 1


def test_blind_letters_are_drawn_by_the_seed_and_tell_nothing():
    s = series(levels=numbers(0.08, 0.12, 0.16, 0.20, 0.24), layout=Layout(blind=True))
    plain = [a.water_share for a in design.arms(s)]
    assert plain == sorted(plain)  # before the lots there is nothing to hide
    drawn = [[a.settings for a in design.arms(replace_seed(s, seed))] for seed in range(6)]
    assert len({tuple(d) for d in drawn}) > 2
    assert all(sorted(d) == sorted(drawn[0]) for d in drawn)


def replace_seed(s, seed):
    from dataclasses import replace

    return replace(s, seed=seed)


def test_more_recipes_than_letters_are_refused_with_what_to_do():
    s = series(levels=numbers(0.1, 0.12, 0.14, 0.16, 0.18), crossed=Factor.SILICONE, crossed_levels=numbers(0, 1, 2, 3, 4, 5))
    with pytest.raises(DribbetError, match="Pour a chosen part"):
        design.arms(s)


@pytest.mark.parametrize(("centre", "added", "in_all"), [(0, 0, 0), (2, 3, 5), (5, 1, 6), (6, 0, 6)])
def test_a_further_block_adds_as_many_centre_points_as_six_allow(centre, added, in_all):
    whole, small = further.with_block(series(layout=Layout(centre_points=centre)), [], repeats=3, seed=1)
    assert (small.layout.centre_points, whole.layout.centre_points) == (added, in_all)
    assert (small.repeats, whole.repeats, whole.layout.blocks) == (3, 5, 2)
