"""House mixes open up to raw components at every depth."""

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dribbet.lab.cup import house_mix
from dribbet.lab.cup.recipe import RecipeError
from dribbet.records import Kind
from tests.made_up import material

GLUE = material("glue", kind=Kind.MEDIUM, density_kg_m3=1080.0)
WATER = material("water", kind=Kind.THINNER, density_kg_m3=998.0, volume_solids=0.0)
WHITE = material("white", density_kg_m3=1350.0)
CUT = material("cut glue", made_of=(("glue", 2.0), ("water", 1.0)))
TINT = material("pale mix", made_of=(("cut glue", 3.0), ("white", 1.0)))
SHELF = [GLUE, WATER, WHITE, CUT, TINT]


def test_nested_mix_is_known_by_its_raw_components():
    found = house_mix.raw({"pale mix": 8.0, "water": 2.0}, SHELF)
    assert found == pytest.approx({"glue": 4.0, "water": 4.0, "white": 2.0})


def test_names_that_are_no_mix_stay_as_they_are():
    assert house_mix.raw({"white": 3.0, "something": 1.0}, SHELF) == {"white": 3.0, "something": 1.0}


def test_tint_share_counts_only_colours():
    assert house_mix.tint_share(TINT, SHELF) == pytest.approx(0.25)


def test_circle_is_refused_with_the_way_it_goes():
    a, b = material("a", made_of=(("b", 1.0),)), material("b", made_of=(("a", 1.0),))
    with pytest.raises(RecipeError, match="made of itself, by way of"):
        house_mix.raw({"a": 1.0}, [a, b])
    with pytest.raises(RecipeError, match="made of itself"):
        house_mix.raw({CUT.key: 1.0}, [*SHELF[:3], replace(CUT, made_of=(("pale mix", 1.0),)), TINT])


@given(st.lists(st.floats(0.01, 10.0), min_size=3, max_size=3), st.floats(0.01, 5.0))
def test_opened_by_mass_holds_each_part_by_the_parts_above_it(kg, more):
    cut = replace(CUT, made_of=(("glue", kg[0]), ("water", kg[1])))
    tint = replace(TINT, made_of=(("cut glue", kg[2]), ("white", more)))
    shelf = [GLUE, WATER, WHITE, cut, tint]
    opened = house_mix.raw({"pale mix": 1.0}, shelf)
    inside, cut_in = kg[0] + kg[1], kg[2] / (kg[2] + more)
    assert math.fsum(opened.values()) == pytest.approx(1.0, abs=1e-12)
    assert opened == pytest.approx({"glue": cut_in * kg[0] / inside, "water": cut_in * kg[1] / inside, "white": 1.0 - cut_in})
