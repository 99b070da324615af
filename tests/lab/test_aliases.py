"""What a design cannot tell apart, against the textbooks' alias tables; and the fewest recipes that part it."""

from __future__ import annotations

from itertools import combinations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dribbet.lab.plan import aliases, layouts

A, B, C, D, E = ((i,) for i in range(5))


def full(rows, levels):
    return {(a.first, a.second) for a in aliases.aliases(rows, levels) if a.full}


def test_half_of_three_factors_mixes_each_with_the_other_two_together():
    """Montgomery, table 8.1: 2^(3-1), I = ABC: [A] = A + BC, [B] = B + AC, [C] = C + AB."""
    assert full(layouts.fraction([2, 2, 2], 1), [2, 2, 2]) == {(A, (1, 2)), (B, (0, 2)), (C, (0, 1))}


def test_half_of_four_factors_mixes_pairs_only():
    """Montgomery, example 8.1: I = ABCD: AB + CD, AC + BD, AD + BC."""
    assert full(layouts.fraction([2] * 4, 1), [2] * 4) == {((0, 1), (2, 3)), ((0, 2), (1, 3)), ((0, 3), (1, 2))}


def test_half_of_five_factors_mixes_nothing_up_to_pairs():
    assert full(layouts.fraction([2] * 5, 1), [2] * 5) == set()


def test_quarter_of_five_factors():
    """Montgomery, table 8.14: 2^(5-2), D = AB, E = AC: A = BD = CE, B = AD, C = AE, D = AB, E = AC, BC = DE, BE = CD."""
    wanted = {(A, (1, 3)), (A, (2, 4)), (B, (0, 3)), (C, (0, 4)), (D, (0, 1)), (E, (0, 2))}
    wanted |= {((1, 2), (3, 4)), ((1, 4), (2, 3)), ((1, 3), (2, 4))}
    assert full(layouts.fraction([2] * 5, 2), [2] * 5) == wanted


@given(st.lists(st.integers(2, 4), min_size=2, max_size=3))
def test_every_combination_mixes_nothing(levels):
    assert aliases.aliases(layouts.every(levels), levels) == []


def test_columns_that_move_half_together_are_partly_mixed():
    found = aliases.aliases([(0, 0), (0, 0), (0, 1), (1, 1), (1, 1), (1, 0)], [2, 2])
    pair = next(a for a in found if a.second == B)
    assert pair.strength == pytest.approx(1 / 3)
    assert not pair.full


def test_two_things_always_changed_together_take_one_more_recipe():
    added = aliases.fewest_extra([(0, 0), (1, 1)], layouts.every([2, 2]), [2, 2], [A, B])
    assert len(added) == 1
    assert not any(a.full for a in aliases.aliases([(0, 0), (1, 1), *added], [2, 2]) if len(a.second) == 1)


def test_half_of_three_factors_takes_three_more():
    rows = layouts.fraction([2, 2, 2], 1)
    wanted = [A, B, C, *combinations(range(3), 2)]
    added = aliases.fewest_extra(rows, layouts.every([2, 2, 2]), [2, 2, 2], wanted)
    assert len(added) == 3  # six effects and a mean need seven recipes
    assert full([*rows, *added], [2, 2, 2]) == set()


@settings(max_examples=30, deadline=None)
@given(st.data())
def test_added_recipes_part_the_main_effects_and_none_of_them_is_idle(data):
    levels = data.draw(st.lists(st.integers(2, 3), min_size=2, max_size=3))
    every = layouts.every(levels)
    rows = data.draw(st.lists(st.sampled_from(every), min_size=2, max_size=4, unique=True))
    wanted = [(i,) for i in range(len(levels))]
    added = aliases.fewest_extra(rows, every, levels, wanted)
    need = sum(n - 1 for n in levels)
    known = aliases._told_apart(rows, levels, wanted)[0]
    assert len(added) == need - known
    assert aliases._told_apart([*rows, *added], levels, wanted)[0] == need
