from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from scipy import optimize

from dribbet.lab.cup.repair import repair, take_out_first
from dribbet.records import DribbetError
from tests import strategies

WATERY = {"paint": 1 / 3.5, "conditioner": 2 / 3.5, "water": 0.5 / 3.5}


def test_worked_example_of_the_science_page():
    found = repair({"paint": 0.020, "conditioner": 0.040, "water": 0.016}, WATERY)
    assert found.additions_kg == {"paint": pytest.approx(0.012), "conditioner": pytest.approx(0.024), "water": 0.0}
    assert found.total_kg == pytest.approx(0.112)
    assert found.exact


def test_a_mass_that_cannot_be_is_told_in_grams():
    with pytest.raises(DribbetError, match="The cup holds -12 g of paint"):
        repair({"paint": -0.012, "water": 0.1}, WATERY)


@given(strategies.cups())
def test_repair_reaches_the_target_and_takes_nothing_out(pair):
    target, held = pair
    assume(sum(held.values()) > 1e-6)
    found = repair(held, target)
    assert all(a >= 0.0 for a in found.additions_kg.values())
    for name, share in target.items():
        assert (held[name] + found.additions_kg[name]) / found.total_kg == pytest.approx(share, abs=1e-8)


@given(strategies.cups())
def test_no_smaller_repair_exists(pair):
    """Any mix on target holds at least what the cup holds of each: so its total is at least the largest m/w."""
    target, held = pair
    assume(sum(held.values()) > 1e-6)
    found = repair(held, target)
    assert found.total_kg == pytest.approx(max(held[n] / w for n, w in target.items()), rel=1e-8)


@given(strategies.cups(), st.floats(1.05, 2.0))
def test_with_a_small_cup_the_rest_is_as_near_the_target_as_any_solver_gets(pair, roominess):
    target, held = pair
    total = sum(held.values())
    assume(total > 0.01)
    capacity = total * roominess
    assume(capacity < max(held[n] / w for n, w in target.items()) * 0.999)
    found = repair(held, target, capacity_kg=capacity)
    names = list(target)
    final = np.array([held[n] + found.additions_kg[n] for n in names])
    assert final.sum() <= capacity * (1 + 1e-9)
    wanted = np.array([target[n] for n in names])

    def miss(x: np.ndarray) -> float:
        return float(np.sum((x / x.sum() - wanted) ** 2))

    start = np.array([held[n] for n in names])
    solved = optimize.minimize(
        miss, start + (capacity - total) / len(names), bounds=[(max(v, 1e-9), None) for v in start],
        constraints={"type": "ineq", "fun": lambda x: capacity - x.sum()}, method="SLSQP",
    )  # fmt: skip
    assert miss(final) <= solved.fun + 1e-5
    assert found.left_wrong or miss(final) < 1e-6
    assert not found.exact


def test_pouring_off_first_makes_the_exact_repair_fit():
    held = {"paint": 0.020, "conditioner": 0.040, "water": 0.016}
    tight = repair(held, WATERY, capacity_kg=0.100)
    kept = 1.0 - tight.pour_off_kg / sum(held.values())
    again = repair({n: kg * kept for n, kg in held.items()}, WATERY, capacity_kg=0.100)
    assert again.exact
    assert again.total_kg == pytest.approx(0.100)


def test_what_the_recipe_does_not_hold_stays_and_is_named():
    found = repair({"paint": 0.02, "conditioner": 0.04, "silicone": 0.001}, WATERY)
    assert not found.exact
    assert "silicone is not part of the recipe" in found.left_wrong[0]
    assert "1." in found.left_wrong[0]  # about 1.4 % of the cup


@pytest.mark.parametrize("bad", [-0.001, math.nan, math.inf])
def test_weights_that_cannot_be_are_refused(bad):
    with pytest.raises(DribbetError, match="zero or more"):
        repair({"paint": bad}, {"paint": 1.0})


def test_cup_that_is_over_its_capacity_already_says_what_to_do():
    with pytest.raises(DribbetError, match="Pour some off"):
        repair({"paint": 0.2, "water": 0.2}, {"paint": 0.7, "water": 0.3}, capacity_kg=0.3)


def test_cup_on_target_needs_nothing():
    found = repair({n: 0.1 * w for n, w in WATERY.items()}, WATERY)
    assert sum(found.additions_kg.values()) == pytest.approx(0.0, abs=1e-12)
    assert found.exact


@given(strategies.cups())
def test_taking_out_first_ends_on_the_recipe_at_the_wanted_total_and_is_the_least(case):
    target, held = case
    whole = repair(held, target)
    total = 0.7 * whole.total_kg
    found = take_out_first(held, target, total)
    if sum(held.values()) <= 0.0:
        return
    keep = 1.0 - found.take_out_kg / sum(held.values())
    after = {n: held[n] * keep + found.additions_kg.get(n, 0.0) for n in target}
    assert sum(after.values()) == pytest.approx(total, rel=1e-9)
    assert {n: kg / total for n, kg in after.items()} == pytest.approx(target, abs=1e-9)
    less = {n: kg * (keep + 0.01) for n, kg in held.items()}  # taking out less, the exact repair no longer ends there
    assert repair(less, target).total_kg > total


def test_taking_out_is_not_asked_for_where_the_repair_fits():
    target = {"paint": 1 / 3.5, "conditioner": 2 / 3.5, "water": 0.5 / 3.5}
    cup = {"paint": 0.020, "conditioner": 0.040, "water": 0.016}
    assert take_out_first(cup, target, 0.112) is None
    found = take_out_first(cup, target, 0.070)
    assert found.take_out_kg == pytest.approx(0.076 * (1 - 70 / 112))
    assert found.additions_kg == pytest.approx({"paint": 0.012 * 70 / 112, "conditioner": 0.024 * 70 / 112, "water": 0.0})


def test_taking_out_never_rids_a_cup_of_what_the_recipe_has_not():
    with pytest.raises(DribbetError, match="cannot be taken out"):
        take_out_first({"paint": 0.02, "silicone": 0.001}, {"paint": 1.0}, 0.01)
