"""How cells lie to each other, on outlines laid by hand."""

from __future__ import annotations

import math

import numpy as np
import pytest

from dribbet.sight.arrangement import _direction, arrangement, named_direction


def ellipse(x: float, y: float, a: float, b: float | None = None, degrees: float = 0.0) -> list[list[float]]:
    """Outline with semi-axes a and b; degrees turn it upwards."""
    t = np.linspace(0, 2 * np.pi, 60, endpoint=False)
    u, v = a * np.cos(t), (b or a) * np.sin(t)
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return np.stack([x + c * u - s * v, y - s * u - c * v], axis=1).tolist()


def test_gap_is_from_rim_to_the_nearest_rim():
    three = [ellipse(0, 0, 2), ellipse(7, 0, 3), ellipse(7, 20, 1)]  # 2 mm, 2 mm, 16 mm
    assert arrangement(three)["gap_mm"] == pytest.approx(2.0, abs=0.02)
    four = [*three, ellipse(7, 23.5, 1)]  # 1.5 mm below the third: 2, 2, 1.5, 1.5
    assert arrangement(four)["gap_mm"] == pytest.approx(1.75, abs=0.02)
    assert arrangement(three[:1])["gap_mm"] is None
    assert arrangement([])["gap_mm"] is None


def test_a_large_cell_far_off_by_its_centre_may_be_the_nearest_rim():
    small = [ellipse(0, 4.0 * i, 1) for i in range(10)]  # 2 mm apart
    assert arrangement([*small, ellipse(12.5, 18, 11)])["gap_mm"] == pytest.approx(2.0, abs=0.02)
    beside = [ellipse(0, 0, 1), ellipse(12.5, 0, 11), *(ellipse(-5.0, 3 * i, 0.5) for i in range(-4, 5))]
    assert arrangement(beside[:2])["gap_mm"] == pytest.approx(0.5, abs=0.04)


@pytest.mark.parametrize(("gap", "clusters", "largest"), [(0.3, 1, 3), (0.5, 0, 1)])
def test_cells_within_two_fifths_of_a_millimetre_hang_together(gap, clusters, largest):
    told = arrangement([ellipse(i * (4 + gap), 0, 2) for i in range(3)] + [ellipse(0, 30, 2), ellipse(4 + gap, 30, 2)])
    assert told["clusters"] == clusters  # two that touch are none
    assert told["largest_cluster"] == (largest if clusters else 1)


def test_a_chain_is_a_cluster_that_is_three_times_as_long_as_wide():
    row = [ellipse(4.2 * i, 0, 2) for i in range(4)]
    heap = [ellipse(40 + 4.2 * (i % 2), 4.2 * (i // 2), 2) for i in range(4)]
    told = arrangement([*row, *heap])
    assert (told["clusters"], told["largest_cluster"], told["chained_fraction"]) == (2, 4, 0.5)
    assert arrangement(row[:3])["chained_fraction"] == 0.0  # three are a cluster, not a chain yet


@pytest.mark.parametrize("degrees", [0.0, 35.0, 90.0, 150.0])
def test_direction_is_the_axis_in_which_cells_are_drawn_out(degrees):
    rng = np.random.default_rng(1)
    told = arrangement([ellipse(20.0 * i, 0, 4, 2, degrees + turn) for i, turn in enumerate(rng.normal(0, 8, 30))])
    off = (named_direction(told) - degrees + 90.0) % 180.0 - 90.0
    assert abs(off) < 4.0
    # of the outline's points a : b = 2 : 1, so (a - b) / (a + b) is a third; a scatter of 8 degrees takes 4 % of it
    assert told["direction_strength"] == pytest.approx(0.96 / 3, abs=0.012)


def test_round_cells_and_cells_drawn_every_way_have_no_direction():
    every = arrangement([ellipse(20.0 * i, 0, 4, 2, turn) for i, turn in enumerate(np.linspace(0, 180, 24, endpoint=False))])
    assert named_direction(every) is None
    assert every["direction_strength"] < 0.02
    assert arrangement([ellipse(20.0 * i, 0, 3) for i in range(24)])["direction_strength"] < 0.01
    assert named_direction(arrangement([ellipse(0, 0, 4, 2)])) is None  # one cell tells nothing
    nearly = arrangement([ellipse(20.0 * i, 0, 3.1, 3.0, 20) for i in range(24)])  # all one way, by a thirtieth: a lens does as much
    assert nearly["direction_p"] < 0.01
    assert named_direction(nearly) is None


def test_rayleighs_p_is_that_of_made_up_axes():
    """Share of random axes at least as much of one way: the test's own law, by 4,000 plays of 10 cells."""
    rng = np.random.default_rng(3)
    turns = rng.normal(0, 32, 10)
    told = arrangement([ellipse(20.0 * i, 0, 4, 2, t) for i, t in enumerate(turns)])
    mine = abs(np.exp(2j * np.radians(turns)).mean())
    plays = abs(np.exp(2j * rng.uniform(0, np.pi, (4000, 10))).mean(axis=1))
    assert told["direction_p"] == pytest.approx(float((plays >= mine).mean()), abs=0.02)


def test_no_cells_lie_no_way():
    told = arrangement([])
    assert (told["clusters"], told["largest_cluster"], told["chained_fraction"], told["direction_deg"], told["direction_p"]) == (
        0,
        0,
        0.0,
        None,
        None,
    )
    assert named_direction({}) is None


def test_what_is_taken_out_later_says_nothing_of_how_the_rest_lies():
    from dribbet.sight.corrected import without_cell
    from dribbet.sight.zones import Zone, without

    cell = {"x_mm": 10.0, "y_mm": 10.0, "area_mm2": 12.6, "diameter_mm": 4.0, "circularity": 1.0, "elongation": 1.0}
    result = {
        "panel": {"width_mm": 100.0, "height_mm": 80.0},
        "cells": {"items": [cell, {**cell, "x_mm": 30.0}], "touching_fraction": 0.0, "area_fraction": 0.1},
        "outlines": {"cells": [ellipse(10, 10, 2), ellipse(30, 10, 2)]},
        "arrangement": arrangement([ellipse(10, 10, 2), ellipse(30, 10, 2)]),
    }
    assert "arrangement" not in without_cell(result, 0)
    assert "arrangement" not in without(result, [Zone(x_mm=30.0, y_mm=10.0, radius_mm=5.0)])
    assert "arrangement" in result


def test_where_no_cell_is_drawn_out_any_direction_is_chance():
    square = np.array([[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]])
    _, strength, p = _direction([square, square + 5.0])
    assert (strength, p) == (0.0, 1.0)
