from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dribbet.lab.cup import recipe as lab
from dribbet.records import Basis, DribbetError, Ingredient, Recipe, RecordError
from tests import strategies


def simple(*parts: tuple[str, float], basis: Basis = Basis.MASS) -> Recipe:
    return Recipe(basis=basis, ingredients=tuple(Ingredient(name=n, parts=p) for n, p in parts))


def fractions(recipe: Recipe) -> dict[str, float]:
    return {c.name: c.mass_fraction for c in lab.flatten(recipe)}


@given(strategies.recipes)
def test_mass_fractions_sum_to_one_however_deep_the_nesting(recipe):
    assert math.fsum(c.mass_fraction for c in lab.flatten(recipe)) == pytest.approx(1.0, abs=1e-12)
    assert all(c.mass_fraction > 0.0 for c in lab.flatten(recipe))


@given(strategies.plain_recipes, st.floats(0.1, 20.0))
def test_nested_mix_alone_is_the_same_as_its_own_recipe(recipe, parts):
    outer = Recipe(basis=Basis.MASS, ingredients=(Ingredient(name="house mix", parts=parts, recipe=recipe),))
    inner, found = fractions(recipe), fractions(outer)
    assert found == {n: pytest.approx(w, rel=1e-12) for n, w in inner.items()}


@given(strategies.recipes, st.floats(0.01, 100.0))
def test_more_of_every_part_is_the_same_recipe(recipe, factor):
    more = Recipe(basis=recipe.basis, ingredients=tuple(
        Ingredient(name=i.name, parts=i.parts * factor, density_kg_m3=i.density_kg_m3, volume_solids=i.volume_solids, recipe=i.recipe)
        for i in recipe.ingredients
    ))  # fmt: skip
    assert fractions(more) == {n: pytest.approx(w, rel=1e-9) for n, w in fractions(recipe).items()}


@given(strategies.recipes)
def test_density_and_solids_of_a_mix_lie_between_those_of_its_parts(recipe):
    components = lab.flatten(recipe)
    densities, solids = [c.density_kg_m3 for c in components], [c.volume_solids for c in components]
    assert min(densities) * (1 - 1e-9) <= lab.mix_density_kg_m3(components) <= max(densities) * (1 + 1e-9)
    assert min(solids) - 1e-12 <= lab.volume_solids(components) <= max(solids) + 1e-12


def test_house_mix_by_volume_is_opened_into_its_raw_components():
    house = simple(("glue", 2.0), ("water", 1.0), basis=Basis.VOLUME)
    outer = Recipe(basis=Basis.VOLUME, ingredients=(Ingredient(name="paint", parts=1.0), Ingredient(name="glue medium", parts=1.5, recipe=house)))
    found = fractions(outer)
    volumes = {"paint": 1.0, "glue": 1.0, "water": 0.5}
    masses = {"paint": 1200.0, "glue": 1080.0, "water": 499.0}
    total = sum(masses.values())
    assert found == {n: pytest.approx(masses[n] / total, rel=1e-12) for n in volumes}


def test_material_named_twice_is_added_up():
    assert fractions(simple(("water", 1.0), ("paint", 2.0), ("water", 1.0))) == {"water": pytest.approx(0.5), "paint": pytest.approx(0.5)}


def test_ingredient_with_no_parts_is_left_out():
    assert fractions(simple(("paint", 1.0), ("water", 0.0))) == {"paint": 1.0}


@pytest.mark.parametrize("bad", [-1.0, math.nan, math.inf])
def test_parts_that_cannot_be_are_refused_in_words(bad):
    with pytest.raises(RecordError, match="zero or more parts"):
        Ingredient(name="paint", parts=bad)


@pytest.mark.parametrize(("ingredients", "words"), [((), "no ingredients"), ((Ingredient(name="paint", parts=0.0),), "All parts")])
def test_recipe_of_nothing_is_refused(ingredients, words):
    with pytest.raises(RecordError, match=words):
        Recipe(basis=Basis.MASS, ingredients=ingredients)


def test_parts_too_large_to_add_are_refused():
    with pytest.raises(DribbetError, match="up to a billion"):
        lab.flatten(simple(("paint", 1.7e308), ("water", 1.7e308)))


def test_final_alcohol_share_counts_the_water_in_the_bottle():
    # 70 % v/v: per litre 0.7 L of 785 kg/m3 and 0.3 L of 998 kg/m3, so 0.6473 by mass.
    assert lab.final_alcohol_share(0.2, 0.70) == pytest.approx(0.2 * 0.7 * 785 / (0.7 * 785 + 0.3 * 998))
    assert lab.final_alcohol_share(0.2, 0.99) > lab.final_alcohol_share(0.2, 0.70)


def test_one_drop_in_a_small_cup_is_a_larger_dose_than_in_a_big_one():
    small, big = (lab.dose_mg_per_100g(1, 0.029e-3, kg) for kg in (0.030, 0.120))
    assert small == pytest.approx(4 * big)
    assert small == pytest.approx(29.0 / 0.30, rel=1e-9)
    with pytest.raises(DribbetError, match="empty"):
        lab.dose_mg_per_100g(1, 0.029e-3, 0.0)


@pytest.mark.parametrize(("stored", "now", "water", "lost"), [(0.5, 0.48, 0.1, 0.02), (0.5, 0.3, 0.1, 0.1), (0.5, 0.51, 0.1, 0.0)])
def test_bottle_is_topped_up_by_the_weight_it_lost_but_never_by_more_water_than_it_held(stored, now, water, lost):
    assert lab.water_lost_kg(stored, now, water) == pytest.approx(lost)
