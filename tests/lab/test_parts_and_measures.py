"""Ratios with names, rounding with its error, and the person's own measures."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dribbet.lab.cup import parts
from dribbet.lab.cup.recipe import RecipeError
from dribbet.lab.paint import measures
from dribbet.records import Basis, Kind
from tests.made_up import gauging, material

amounts = st.dictionaries(st.sampled_from(["paint", "conditioner", "water", "glue"]), st.floats(0.01, 50.0), min_size=2)
densities = st.fixed_dictionaries({n: st.floats(700.0, 2000.0) for n in ("paint", "conditioner", "water", "glue")})
TEAL = material("teal", density_kg_m3=1090.0)
SILICONE = material("silicone", kind=Kind.ADDITIVE, density_kg_m3=968.0)


@given(amounts, densities)
def test_basis_and_back_is_the_same(given_parts, density):
    there = parts.converted(given_parts, density, have=Basis.VOLUME, want=Basis.MASS)
    back = parts.converted(there, density, have=Basis.MASS, want=Basis.VOLUME)
    assert back == pytest.approx(given_parts, rel=1e-9)


def test_basis_without_a_density_says_what_to_weigh():
    with pytest.raises(RecipeError, match="Weigh 10 mL"):
        parts.converted({"paint": 1.0}, {}, have=Basis.VOLUME, want=Basis.MASS)


def test_ratio_of_nothing_has_no_parts_to_it():
    assert parts.to_one({"conditioner": 4.0, "teal": 2.0, "water": 1.0}, "teal") == {"conditioner": 2.0, "teal": 1.0, "water": 0.5}
    with pytest.raises(RecipeError, match="no teal"):
        parts.to_one({"conditioner": 4.0}, "teal")


@given(amounts)
def test_shares_sum_to_one_and_are_as_the_parts(given_parts):
    shares = parts.percentages(given_parts)
    assert math.fsum(shares.values()) == pytest.approx(1.0, abs=1e-12)
    assert parts.to_one(shares, next(iter(shares))) == pytest.approx(parts.to_one(given_parts, next(iter(shares))))


@given(st.dictionaries(st.sampled_from("abcd"), st.floats(0.5e-3, 0.2), min_size=2), st.sampled_from([0.01e-3, 0.1e-3, 1e-3]))
def test_rounding_is_to_the_step_and_its_error_is_what_it_says(masses, step):
    try:
        shown, off = parts.rounded(masses, step)
    except RecipeError:
        assert all(kg < step for kg in masses.values())
        return
    for name, kg in shown.items():
        assert abs(kg / step - round(kg / step)) < 1e-6
        assert abs(kg - masses[name]) <= step / 2 + 1e-12
        assert off[name] == pytest.approx(kg / sum(shown.values()) - masses[name] / sum(masses.values()), abs=1e-12)
    assert math.fsum(off.values()) == pytest.approx(0.0, abs=1e-9)


def test_nothing_and_too_little_are_refused_each_in_its_own_words():
    with pytest.raises(RecipeError, match="All amounts are zero"):
        parts.rounded({"teal": 0.0, "water": 0.0}, 1e-4)
    with pytest.raises(RecipeError, match=r"below the scale's step of 0\.1 g"):
        parts.rounded({"teal": 4e-5, "water": 1e-5}, 1e-4)
    with pytest.raises(RecipeError, match="must be more than zero"):
        parts.rounded({"teal": 1.0}, 0.0)


def test_paint_in_hand_scales_the_rest():
    assert parts.scaled_to_paint({"teal": 1.0, "conditioner": 2.0}, "teal", 0.037) == pytest.approx({"teal": 0.037, "conditioner": 0.074})


@given(st.sampled_from(["g", "oz", "mL", "fl oz", "teaspoon", "drop"]), st.floats(1e-3, 1e3))
def test_units_and_back_to_nine_digits(unit, amount):
    assert measures.from_kg(measures.to_kg(amount, unit, TEAL), unit, TEAL) == pytest.approx(amount, rel=1e-9)


def test_known_units_have_their_known_sizes():
    assert measures.to_kg(1.0, "oz", TEAL) == pytest.approx(28.349523125e-3)
    assert measures.to_kg(1.0, "fl oz", TEAL) == pytest.approx(29.5735295625e-6 * 1090.0)
    assert measures.to_kg(10.0, "mL", TEAL) == pytest.approx(10.9e-3)
    assert measures.to_kg(20.0, "drop", TEAL) == pytest.approx(1.09e-3)  # twenty drops are a millilitre


def test_own_calibration_goes_before_the_usual_drop():
    usual = measures.one("drop", SILICONE)
    own = measures.one("drop", SILICONE, [gauging("silicone", "drop", 0.041e-3, count=20)])
    assert usual.kg == pytest.approx(0.03e-6 * 968.0)
    assert not usual.own
    assert own.kg == 0.041e-3
    assert own.own
    assert own.count == 20
    assert measures.one("drop", SILICONE, [gauging("silicone", "drop", 0.041e-3, taken_back=True)]) == usual


def test_squirt_that_was_never_weighed_is_no_measure():
    with pytest.raises(RecipeError, match="never weighed"):
        measures.to_kg(1.0, "squirt", TEAL)
    assert measures.to_kg(2.0, "squirt", TEAL, [gauging("teal", "squirt", 1.2e-3)]) == pytest.approx(2.4e-3)
    with pytest.raises(RecipeError, match="no measure"):
        measures.one("thimble", TEAL)
