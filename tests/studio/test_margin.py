"""The honest margin as facts: what a plan shows, what is unlike, what is short."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.lab.plan import confounding, design, planning, sizes
from dribbet.lab.plan.basis import Quantity
from dribbet.lab.plan.power import Scatter
from dribbet.lab.plan.responses import SCALES
from dribbet.records import Design, Equal, Factor, Layout, Level, Prediction, Response, Wanted
from dribbet.studio.standing import margin
from dribbet.studio.standing.margin import Shows
from dribbet.words.margin import amount, remarks
from dribbet.words.parts import Weight
from dribbet.words.units import Units
from tests.lab.test_planning import SHELF
from tests.made_up import series

KNOWN = Scatter(sd=9.0, df=8, mean=60.0, dispersion=1.0, panels=12, sources=("Kelp 02",))


def of(s, known=KNOWN, have=None, prices=None):
    recipes = design.arms(s)
    demand = planning.demand(s, SHELF)
    return margin.margin(s, recipes, confounding.confounds(s, recipes), demand, known, prices or {}, have_panels=have)


def test_one_panel_of_each_shows_nothing_and_nobody_s_repeats_are_not_known():
    assert of(series(repeats=1)).shows.how is Shows.NOTHING
    assert of(series(repeats=3), known=None).shows.how is Shows.NOT_KNOWN
    assert of(series(repeats=3)).shows.how is Shows.A_CHANGE


def test_hours_to_the_first_crack_have_no_formula_but_without_repeats_are_not_known():
    s = series(repeats=3, responses=((Response.FIRST_CRACK, Wanted.MORE),))
    assert of(s).shows.how is Shows.NO_FORMULA
    assert of(s, known=None).shows.how is Shows.NOT_KNOWN


def expecting(size, repeats=2):
    return series(repeats=repeats, prediction=Prediction(response=Response.CRACK_LENGTH, more_or_less=Wanted.LESS, size=size))


def test_less_than_a_plan_shows_says_how_many_repeats_it_takes_and_those_show_it():
    s = expecting(20.0, repeats=3)
    found = of(s).shows
    assert found.how is Shows.A_CHANGE
    assert found.size > 20.0 == found.expected
    enough = replace(s, repeats=found.takes.each)
    assert sizes.shows(enough, design.arms(enough), KNOWN) <= 20.0
    assert found.takes.panels == found.takes.each * len(design.arms(s))
    assert of(enough).shows.expected == 0.0  # shown: nothing is said of it
    out_of_reason = of(expecting(0.5)).shows
    assert out_of_reason.expected == 0.5
    assert out_of_reason.takes is None  # more than forty of each are no advice


def test_a_plan_that_shows_no_change_at_all_says_what_would():
    found = of(series(repeats=2), known=replace(KNOWN, sd=25.0)).shows
    assert found.how is Shows.NO_CHANGE
    repeats, size = found.enough
    bigger, one_fewer = (series(repeats=r) for r in (repeats, repeats - 1))
    assert sizes.shows(bigger, design.arms(bigger), replace(KNOWN, sd=25.0)) == size
    assert sizes.shows(one_fewer, design.arms(one_fewer), replace(KNOWN, sd=25.0)) is None


def test_one_more_repeat_shows_less_and_takes_a_panel_of_each_recipe():
    s = series(repeats=3)
    found = of(s)
    assert found.one_more.size < found.shows.size
    assert found.one_more.panels == len(design.arms(s))
    assert found.repeats == found.behind_level == 3
    assert of(series(repeats=sizes.MOST_REPEATS)).one_more is None


def mediums(**changed):
    return series(factor=Factor.MEDIUM, levels=(Level(name="conditioner"), Level(name="glue")), **changed)


def test_at_equal_flow_each_recipe_tells_its_water_and_what_is_unlike():
    found = of(mediums(equal=Equal.FLOW)).compared
    assert [letter for letter, _ in found.waters] == ["a", "b"]
    assert found.waters[1][1] > found.waters[0][1]  # glue is thicker
    assert Quantity.FLOW not in found.unlike
    low, high = found.unlike[Quantity.THINNER]
    assert (low, high) == pytest.approx(tuple(share for _, share in found.waters))
    assert not found.tested
    assert of(mediums()).compared.waters == ()


def test_a_basis_that_undoes_what_is_tested_stops_the_plan():
    s = series(levels=(Level(value=0.1), Level(value=0.2)))
    found = of(s)
    assert found.compared.tested
    assert found.compared.undone is None
    clash = replace(found, compared=replace(found.compared, equal=Equal.FLOW, undone=Factor.WATER_SHARE))
    said = next(r for r in remarks(clash, Units()) if "undo" in r.body)
    assert said.weight is Weight.STOP


def test_what_is_short_and_what_nobody_entered_are_told_apart():
    s = series(repeats=3)
    found = of(s, have=design.sheets(s)).lacking
    assert not found.too_few_panels
    assert of(s, have=design.sheets(s) - 1).lacking.too_few_panels
    assert not of(s).lacking.too_few_panels
    assert all(d.short_kg > 0.0 for d in found.short)
    assert {d.name for d in planning.demand(s, SHELF) if d.on_shelf and d.stock_kg is None} - {"water"} == set(found.unsaid)
    assert of(replace(s, seed=5)).lacking is None  # lots are drawn: it was said


def test_pieces_of_one_panel_tell_their_borders_and_what_is_left_out():
    s = series(layout=Layout(design=Design.PAIRED, strip_m=0.01))
    found = of(s).pieces
    width, recipes = s.constants.panel_width_m, len(design.arms(s))
    assert found.borders == recipes - 1 == 2
    assert found.left_out == pytest.approx(2 * 2 * 0.01 / width)  # a strip on both sides of each border
    assert of(series()).pieces is None


def test_an_amount_is_said_in_the_response_s_own_unit():
    assert amount(Response.CRACK_LENGTH, 12.4, Units()) == "12\u202fmm"
    assert SCALES[Response.CRACKED].unit == ""
    assert amount(Response.CRACKED, 0.35, Units()) == "35 in a hundred"
