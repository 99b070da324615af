"""Factors, kinds of test, sizes and amounts of a plan."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dribbet.lab.panel import progress
from dribbet.lab.plan import amounts, design, factors, planning, sizes, templates
from dribbet.lab.plan.power import Scatter
from dribbet.records import (
    BasePlan,
    BlockBy,
    Constants,
    Design,
    DribbetError,
    Factor,
    Kind,
    Layout,
    Level,
    Material,
    Outline,
    Panel,
    Prediction,
    Response,
    Series,
    Technique,
    Varied,
    Wanted,
)  # fmt: skip
from tests.made_up import NOON, ids, series

KNOWN = Scatter(sd=12.0, df=11, mean=40.0, dispersion=2.0, panels=18, sources=("Kelp 02",))


def material(name: str, kind: Kind = Kind.PAINT, **changed) -> Material:
    plain = {"id": name, "name": name, "kind": kind, "hex": "#808080", "density_kg_m3": 1200.0, "volume_solids": 0.4, "stock_kg": 0.5}
    return Material(**(plain | changed))


SHELF = [
    material("foam"), material("teal"), material("slate", stock_kg=0.01), material("conditioner", Kind.MEDIUM), material("glue", Kind.MEDIUM),
    material("house paint", Kind.BASE), material("belt silicone", Kind.ADDITIVE, wash_off=True, drop_kg=2.9e-5, stock_kg=0.05),
]  # fmt: skip


def applied_to(factor: Factor, value: float | str) -> Constants:
    level = Level(name=value) if isinstance(value, str) else Level(value=float(value))
    return factors.applied(Constants(), Varied(factor=factor, levels=(level,), name="my own", of="lime"), level)


@pytest.mark.parametrize("factor", [f for f in Factor if factors.NATURES[f].start])
def test_every_factor_changes_what_is_held(factor):
    nature = factors.NATURES[factor]
    made = [applied_to(factor, v) for v in nature.start]
    assert len({str(m) for m in made}) == len(made)


@pytest.mark.parametrize(
    ("factor", "level", "words"),
    [
        (Factor.WATER_SHARE, Level(value=1.2), "out of reach"), (Factor.SILICONE, Level(value=-1.0), "below zero"),
        (Factor.GRADE, Level(value=7.0), "out of reach"), (Factor.TECHNIQUE, Level(name="throwing"), "not a way to pour"),
        (Factor.MEDIUM, Level(value=2.0), "needs names"), (Factor.PANEL_SIZE, Level(name="5 x 5"), "20 to 3000"),
        (Factor.ORDER, Level(name="foam / teal"), "left out"), (Factor.ORDER, Level(name="foam / red / teal"), "not in the cup"),
    ],
)  # fmt: skip
def test_level_out_of_a_factors_reach_is_refused_in_words(factor, level, words):
    other = Level(name="other") if level.name else Level(value=0.123)
    with pytest.raises(DribbetError, match=words):
        design.arms(series(factor=factor, levels=(level, other)))


def test_order_of_layers_turns_the_cup():
    s = series(factor=Factor.ORDER, levels=(Level(name="as given"), Level(name="turned round"), Level(name="teal / slate / foam")))
    first, turned, named = design.arms(s)
    assert [x.material for x in turned.layers] == [x.material for x in reversed(first.layers)]
    assert [x.material for x in named.layers] == ["teal", "slate", "foam"]
    assert [first.batch_key(c) for c in first.colours] == [turned.batch_key(c) for c in first.colours]


def test_larger_panel_takes_paint_in_proportion():
    small, large = design.arms(series(factor=Factor.PANEL_SIZE, levels=(Level(name="200 x 150"), Level(name="400 x 300"))))
    assert large.held.poured_kg == pytest.approx(4 * small.held.poured_kg)


@pytest.mark.parametrize("template", templates.TEMPLATES, ids=lambda t: t.key)
def test_every_kind_of_test_can_be_mixed_laid_out_and_sized(template):
    s = templates.filled(template, series(), SHELF)
    recipes = design.arms(s)
    assert len(recipes) >= 2
    assert not any(a.trouble for a in recipes)
    assert planning.mixes(s, ids())
    offered = sizes.offers(s, KNOWN)
    assert [o.size for o in offered] == list(sizes.Size)
    shown = [o.shows for o in offered]
    assert shown[2] is not None  # smaller ones may show nothing of so many questions, and say so
    assert (shown[0] or 1e9) >= (shown[1] or 1e9) >= shown[2]
    assert offered[0].panels <= offered[1].panels <= offered[2].panels


def test_only_one_medium_on_the_shelf_says_what_is_missing():
    with pytest.raises(DribbetError, match="only one medium"):
        templates.filled(templates.TEMPLATES[0], series(), [m for m in SHELF if m.name != "glue"])


def test_sensible_size_shows_what_is_expected_and_one_repeat_fewer_does_not():
    s = series(prediction=Prediction(response=Response.CRACK_LENGTH, more_or_less=Wanted.LESS, size=25.0))
    sensible = sizes.offers(s, KNOWN)[1]
    assert sensible.shows <= 25.0
    fewer = replace(sensible.series, repeats=sensible.series.repeats - 1)
    assert sizes.shows(fewer, design.arms(fewer), KNOWN) > 25.0


def test_without_repeats_or_knowledge_nothing_is_promised():
    assert sizes.shows(series(repeats=1), design.arms(series(repeats=1)), KNOWN) is None
    assert all(o.shows is None for o in sizes.offers(series(), None))


def test_blocks_take_degrees_of_freedom():
    plain, blocked = series(repeats=3), series(repeats=3, layout=Layout(blocks=3))
    assert sizes.residual_df(plain, design.arms(plain)) == 6
    assert sizes.residual_df(blocked, design.arms(blocked)) == 4
    side = series(repeats=3, layout=Layout(design=Design.PAIRED))
    assert sizes.residual_df(side, design.arms(side)) == 4


def test_round_panel_is_a_circle_with_its_rim():
    area = amounts.covered_area_m2(0.3, 0.3, 0.02, Outline.ROUND)
    assert area == pytest.approx(math.pi * 0.15**2 + 0.02 * math.pi * 0.3)


def test_base_depends_on_how_it_lies():
    held = Constants(base_m=2e-3, base_plan=BasePlan.FULL)
    assert amounts.base_m3(held) == pytest.approx(0.03 * 2e-3)
    assert amounts.base_m3(replace(held, base_plan=BasePlan.PILLOW)) < amounts.base_m3(held)
    assert amounts.base_m3(replace(held, base_plan=BasePlan.NONE)) == 0.0


def test_paint_worked_out_from_the_size_is_the_volume_at_the_depth():
    held = Constants()
    assert amounts.suggested_poured_kg(held, 1100.0) == pytest.approx(0.03 * 2.2e-3 * 1100.0)
    assert amounts.suggested_poured_kg(replace(held, technique=Technique.BLOOM), 1100.0) < 0.03


def demand(s: Series) -> dict[str, planning.Demand]:
    return {d.name: d for d in planning.demand(s, SHELF)}


def test_demand_holds_base_activator_and_silicone_besides_the_cups():
    held = Constants(base_plan=BasePlan.FULL, base_water_share=0.1, activator="activator", activator_kg=0.003, silicone_colours=("teal",),
                     silicone_drops_per_100g=2.0)  # fmt: skip
    found = demand(series(constants=held))
    assert {n: found[n].role for n in ("house paint", "activator", "belt silicone", "water", "teal")} == {
        "house paint": "base", "activator": "activator", "belt silicone": "additive", "water": "thinner", "teal": "colour"
    }  # fmt: skip
    assert found["house paint"].kg == pytest.approx(0.03 * 1.5e-3 * 1200.0 * 6 * 1.15 * 0.9)
    assert found["activator"].kg == pytest.approx(0.003 * 6 * 1.05)
    assert found["belt silicone"].kg == pytest.approx(3 * 2.9e-5)  # 2 drops in 100 g of 141 g of teal: 2.8
    assert found["activator"].stock_kg is None
    assert found["activator"].short_kg == found["activator"].kg
    assert found["water"].short_kg == 0.0


@given(st.integers(1, 6), st.floats(0.02, 0.4))
def test_cups_hold_what_is_poured_with_loss_and_reserve(repeats, poured):
    s = series(repeats=repeats, constants=Constants(poured_kg=poured))
    total = sum(kg for m in planning.mixes(s, ids()) for _, kg in m.plan)
    assert total == pytest.approx(poured * 3 * repeats * 1.15, rel=1e-4)


def test_only_the_colour_that_gets_silicone_is_mixed_apart():
    s = series(factor=Factor.SILICONE, levels=(Level(value=0.0), Level(value=2.0)), constants=Constants(silicone_colours=("teal",)))
    assert {(m.colour, m.recipes) for m in planning.mixes(s, ids())} == {("foam", "ab"), ("teal", "a"), ("teal", "b"), ("slate", "ab")}


def test_blocks_by_batch_mix_each_block_apart():
    s = series(repeats=2, layout=Layout(blocks=2, block_by=BlockBy.BATCH))
    mixes = planning.mixes(s, ids())
    assert {m.block for m in mixes} == {1, 2}
    assert len(mixes) == 2 * 3 * 3
    panel = next(p for p in design.panels(replace(s, seed=1), ids()) if p.block == 2)
    done = [replace(m, done=m.block == 1) for m in mixes]
    station = progress.station_of(replace(s, seed=1), panel, mixes=done, checks=(), weighings=(), steps=(), photos=(), readings=(), now=NOON)
    assert station is progress.Station.MIX


def panel(**changed) -> Panel:
    return Panel(**({"id": "p", "series_id": "s1", "code": "T1-a1", "recipe": "a", "repeat": 1, "place": 1, "settings": (0,)} | changed))


def test_no_formula_promises_anything_of_times():
    plan = series(responses=((Response.FIRST_CRACK, Wanted.MORE),))
    assert sizes.shows(plan, design.arms(plan), KNOWN) is None
    assert sizes.repeats_for(plan, design.arms(plan), KNOWN, 10.0, 0.8) is None


def test_questions_are_all_pairs_and_products_of_all_responses():
    plan = series()  # three levels
    assert sizes.questions(plan, design.arms(plan)) == 3 * len(plan.responses)
