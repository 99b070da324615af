"""Design, amounts of a plan, composition from the ledger, what moves along with the factor."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dribbet.lab.cup import composition, house_rules
from dribbet.lab.plan import amounts, confounding, design, layouts, planning
from dribbet.records import BasePlan, Constants, DribbetError, Factor, Hazard, Kind, Level, Material, Role, Step, Technique, Weighing
from dribbet.words.cautions import TORCH_AFTER_ALCOHOL, for_step
from tests.made_up import CUP, NOON, ids, series


def test_codes_follow_recipe_and_repeat_with_the_factor_running_fastest():
    s = series(crossed=Factor.SILICONE, crossed_levels=(Level(value=0.0), Level(value=2.0)))
    codes = [p.code for p in design.panels(s, ids())]
    assert codes[:3] == ["T1-a1", "T1-a2", "T1-b1"]
    assert codes[-1] == "T1-f2"
    arms = design.arms(s)
    assert [a.letter for a in arms if a.silicone_drops_per_100g == 0.0] == ["a", "b", "c"]
    assert [round(a.water_share, 2) for a in arms] == [0.10, 0.16, 0.22] * 2


@given(st.integers(1, 64), st.integers(0, 2**31 - 1))
def test_lots_are_a_permutation_and_the_same_seed_draws_the_same(count, seed):
    places = layouts.pouring_order([1] * count, seed)
    assert sorted(places) == list(range(1, count + 1))
    assert places == layouts.pouring_order([1] * count, seed)


def test_lots_do_differ_between_seeds():
    assert len({layouts.pouring_order([1] * 12, seed) for seed in range(20)}) > 15


def test_shares_of_every_recipe_sum_to_one():
    for factor, levels in (
        (Factor.WATER_SHARE, (0.0, 0.3)), (Factor.RATIO, (0.5, 3.0)), (Factor.ALCOHOL, (0.0, 0.2)), (Factor.SILICONE, (0.0, 4.0)),
        (Factor.FILM_LEFT, (1e-3, 2e-3)),
    ):  # fmt: skip
        for arm in design.arms(series(factor=factor, levels=tuple(Level(value=v) for v in levels))):
            assert arm.paint_share + arm.medium_share + arm.water_share + arm.alcohol_share == pytest.approx(1.0)
            assert sum(design.mix_fractions(arm, "foam").values()) == pytest.approx(1.0)


def test_technique_brings_the_film_that_it_usually_leaves():
    s = series(factor=Factor.TECHNIQUE, levels=(Level(name="flip cup"), Level(name="swipe")))
    flip, swipe = design.arms(s)
    assert flip.technique is Technique.FLIP_CUP
    assert swipe.film_m < flip.film_m


@pytest.mark.parametrize(
    ("factor", "levels", "words"),
    [
        (Factor.WATER_SHARE, (Level(value=0.1), Level(value=0.95)), "out of reach"),
        (Factor.RATIO, (Level(value=-1.0), Level(value=1.0)), "below zero"),
        (Factor.WATER_SHARE, (Level(name="much"), Level(value=0.2)), "not a number"),
    ],
)
def test_levels_that_cannot_be_mixed_are_refused_in_words(factor, levels, words):
    with pytest.raises(DribbetError, match=words):
        design.arms(series(factor=factor, levels=levels))


def test_each_colour_is_mixed_once_for_all_recipes_that_share_it():
    s = series(crossed=Factor.FILM_LEFT, crossed_levels=(Level(value=1.2e-3), Level(value=2.2e-3)), seed=1)
    mixes = planning.mixes(s, ids())
    assert len(mixes) == 3 * 3  # three water shares, three colours; film changes no mix
    assert {m.recipes for m in mixes} == {"ad", "be", "cf"}
    foam = next(m for m in mixes if m.colour == "foam" and m.recipes == "ad")
    assert sum(kg for _, kg in foam.plan) == pytest.approx(s.constants.poured_kg * 0.5 * 4 * 1.15)


def test_silicone_doses_part_the_batches_only_where_silicone_is_tested():
    s = series(factor=Factor.SILICONE, levels=(Level(value=0.0), Level(value=2.0)), constants=Constants(silicone_colours=("teal",)))
    dosed = [m for m in planning.mixes(s, ids()) if m.drops]
    assert [(m.colour, m.recipes) for m in dosed] == [("teal", "b")]
    assert dosed[0].drop_material == "belt silicone"


def test_demand_costs_what_the_shelf_says():
    mixes = planning.mixes(series(seed=1), ids())
    need = planning.demand_kg(mixes)
    shelf = [_material("foam", stock=10.0), _material("teal", stock=0.001), _material("conditioner", stock=10.0, price=10.0)]
    assert planning.cost(need, shelf) == pytest.approx(10.0 * need["conditioner"])


def _material(name: str, *, stock: float = 1.0, price: float = 0.0, density: float = 1200.0, kind: Kind = Kind.PAINT) -> Material:
    return Material(id=name, name=name, kind=kind, hex="#808080", density_kg_m3=density, volume_solids=0.4, stock_kg=stock, price_per_kg=price)


# ---------------------------------------------------------------- what was really weighed in


def weighed(mixes, extra_water_kg: float = 0.0):
    made, new = [], ids("w")
    for mix in mixes:
        for name, kg in mix.plan:
            extra = extra_water_kg if name == "water" else 0.0
            made.append(Weighing(id=new(), mix_id=mix.id, ingredient=name, mass_kg=kg + extra, at=NOON))
    return made


def test_plan_stands_until_a_cup_is_done():
    s = series(seed=1)
    mixes, arm = planning.mixes(s, ids()), design.arms(s)[0]
    cup = composition.of_cup(s, arm, mixes, weighed(mixes, 0.01))
    assert cup["water"] == pytest.approx(arm.water_share)
    assert sum(cup.values()) == pytest.approx(1.0)


def test_extra_water_in_the_cup_is_what_the_recipe_then_holds():
    s = series(seed=1)
    mixes = [replace(m, done=True) for m in planning.mixes(s, ids())]
    entries = weighed(mixes, 0.005)
    arm = design.arms(s)[0]
    actual = composition.actual_arm(s, arm, mixes, entries)
    assert actual.water_share > arm.water_share + 0.02
    assert actual.paint_share < arm.paint_share
    assert actual.paint_share + actual.medium_share + actual.water_share == pytest.approx(1.0)


def test_entry_that_was_taken_back_does_not_count():
    s = series(seed=1)
    mix = replace(planning.mixes(s, ids())[0], done=True)
    entries = weighed([mix])
    wrong = Weighing(id="x", mix_id=mix.id, ingredient="water", mass_kg=0.5, at=NOON, taken_back=True)
    assert composition.weighed_in(mix, [*entries, wrong]) == composition.weighed_in(mix, entries)


def test_density_and_solids_follow_the_composition():
    shelf = [_material("foam", density=1400.0), _material("water", density=998.0)]
    thick, thin = ({"foam": 0.9, "water": 0.1}, {"foam": 0.5, "water": 0.5})
    assert composition.density_kg_m3(thick, shelf) > composition.density_kg_m3(thin, shelf) > 998.0
    assert composition.density_kg_m3(thin, shelf) == pytest.approx(1 / (0.5 / 1400 + 0.5 / 998))
    assert composition.volume_solids(thick, shelf) > composition.volume_solids(thin, shelf)


# ---------------------------------------------------------------- what moves along


def quantities(**changed) -> set[str]:
    s = series(**changed)
    return {c.what for c in confounding.confounds(s, design.arms(s))}


def test_more_water_moves_paint_share_and_flow():
    assert {"paint share", "flow"} <= quantities()


def test_ratio_moves_paint_share():
    assert "paint share" in quantities(factor=Factor.RATIO, levels=(Level(value=1.0), Level(value=3.0)))


def test_silicone_moves_thickness_and_medium_moves_sheen():
    assert "thickness" in quantities(factor=Factor.SILICONE, levels=(Level(value=0.0), Level(value=2.0)))
    assert "sheen" in quantities(factor=Factor.MEDIUM, levels=(Level(name="conditioner"), Level(name="glue")))


def test_technique_moves_film_but_film_itself_moves_nothing():
    assert "film" in quantities(factor=Factor.TECHNIQUE, levels=(Level(name="flip cup"), Level(name="swipe")))
    assert quantities(factor=Factor.FILM_LEFT, levels=(Level(value=1.2e-3), Level(value=2.3e-3))) == set()


def test_flame_is_barred_where_there_is_alcohol():
    assert for_step(Step.TORCH, frozenset([Hazard.FLAMMABLE])) == TORCH_AFTER_ALCOHOL
    assert "extinguisher" in for_step(Step.TORCH, frozenset())
    assert "drain" in for_step(Step.TILT, frozenset())
    assert for_step(Step.REST, frozenset()) == ""


def test_cup_of_no_colours_is_refused():
    with pytest.raises(DribbetError, match="no colours"):
        design.default_layers(())
    assert [layer.share for layer in design.default_layers(("a", "b"))] == [0.5, 0.5]
    assert planning.colours_of(series()) == [layer.material for layer in CUP]


def test_base_and_activator_are_cups_of_their_own_shared_by_the_recipes_that_use_them():
    held = Constants(base_plan=BasePlan.FULL, base="house paint", base_water_share=0.1, activator="slate", activator_kg=0.004)
    s = series(constants=held)
    cups = planning.side_mixes(s, ids(), 10, lambda name: 1250.0)
    base, activator = cups
    assert (base.colour, base.recipes, base.place) == ("house paint", "abc", 10)
    whole = sum(kg for _, kg in base.plan)
    assert dict(base.plan)["water"] / whole == pytest.approx(0.1)
    assert whole == pytest.approx(amounts.with_loss(amounts.base_m3(held) * 6 * 1250.0, held), rel=1e-4)
    assert activator.colour == "slate, activator"  # a colour of the cup is called slate, too
    assert sum(kg for _, kg in activator.plan) == pytest.approx(6 * 0.004 * 1.05)
    assert planning.side_mixes(series(), ids(), 1, lambda name: 1250.0) == []
    arm = design.arms(s)[0]
    assert house_rules.role_of("slate, activator", arm, s, {}) is Role.ACTIVATOR
    assert house_rules.role_of("house paint", arm, s, {}) is Role.BASE
    assert house_rules.role_of("slate", arm, s, {}) is Role.COLOUR


def test_medium_that_is_also_the_shimmer_medium_keeps_its_share():
    s = series(factor=Factor.RATIO, levels=(Level(value=1.0), Level(value=2.0)), constants=Constants(medium="iridescent medium"))
    for arm in design.arms(s):
        assert sum(arm.parts.values()) == pytest.approx(1.0)
        assert arm.parts["iridescent medium"] == pytest.approx(arm.medium_share)
        assert sum(design.mix_fractions(arm, "foam").values()) == pytest.approx(1.0)
