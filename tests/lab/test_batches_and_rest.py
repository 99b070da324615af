"""Clean cups before dirty ones, flags with reasons, and rest until the bubbles are out."""

from dataclasses import replace
from datetime import timedelta

import pytest

from dribbet.lab.cup import batches, resting
from dribbet.lab.cup.batches import Dirt
from dribbet.lab.plan import design
from dribbet.records import Constants, Factor, Kind, Level
from dribbet.words.mix import TOOLS
from tests.made_up import NOON, ids, mark, material, mix, series

SHELF = {
    m.name: m
    for m in (
        material("teal"), material("water", kind=Kind.THINNER), material("alcohol", kind=Kind.THINNER, alcohol_share=0.91),
        material("belt silicone", kind=Kind.ADDITIVE, wash_off=True),
    )
}  # fmt: skip


def test_order_is_clean_alcohol_activator_silicone_and_then_as_planned():
    held = Constants(silicone_colours=("teal",), activator="slate", activator_kg=0.005)
    test = series(factor=Factor.SILICONE, levels=(Level(value=0.0), Level(value=2.0)), constants=held)
    arms = design.arms(test)
    cups = [
        mix("teal", id="oily", recipes="b", place=1, drops=2), mix("foam", id="plain", recipes="ab", place=3),
        mix("gull", id="spirit", recipes="a", place=2, plan=(("gull", 0.02), ("alcohol", 0.01))), mix("slate", id="activator", recipes="a", place=4),
    ]  # fmt: skip
    found = batches.ordered(cups, arms, SHELF)
    assert [b.mix.id for b in found] == ["plain", "spirit", "activator", "oily"]
    assert [b.dirt for b in found] == [Dirt.CLEAN, Dirt.ALCOHOL, Dirt.ACTIVATOR, Dirt.SILICONE]
    assert len({TOOLS[b.dirt] for b in found}) == 4
    assert [b.next_up for b in found] == [True, False, False, False]


def test_next_is_the_first_that_is_not_done():
    cups = [mix("teal", id="one", done=True), mix("foam", id="two", place=2)]
    assert [b.mix.id for b in batches.ordered(cups, (), SHELF) if b.next_up] == ["two"]


def test_contaminated_cup_flags_its_panels_with_the_reason():
    test = series()
    panels = design.panels(replace(test, seed=1), ids())
    cup = mix("teal", recipes="b")
    flagged = batches.contaminated_panels(panels, [cup], [mark(cup, "contaminated", 3, "stick from the silicone cup")])
    assert set(flagged.values()) == {("teal", "stick from the silicone cup")}
    assert {p.recipe for p in panels if p.id in flagged} == {"b"}
    assert batches.contaminated_panels(panels, [cup], []) == {}


def test_rest_agrees_with_the_worked_value_and_is_a_window():
    rest = resting.rest_of(mass_kg=0.2, density_kg_m3=1050.0, viscosity_pa_s=5.0, bubble_m=0.25e-3, cup_radius_m=0.0318, since=NOON, checked=True)
    assert resting.depth_m(0.2, 1050.0, 0.0318) == pytest.approx(0.060, rel=0.01)
    assert rest.seconds / 60 == pytest.approx(35, abs=1)
    assert rest.low_s < rest.seconds < rest.high_s
    assert rest.left_s(NOON + timedelta(seconds=rest.seconds - 30)) == pytest.approx(30)
    assert rest.left_s(rest.ready_at + timedelta(hours=1)) == 0.0
    unsure = resting.rest_of(mass_kg=0.2, density_kg_m3=1050.0, viscosity_pa_s=5.0, bubble_m=0.25e-3, cup_radius_m=0.0318, since=NOON, checked=False)
    assert unsure.high_s > rest.high_s


def test_latest_mixing_time_goes_back_from_the_pour():
    assert resting.latest_mixing(NOON, 2100.0) == NOON - timedelta(minutes=35)


def test_an_unchecked_cup_is_twice_as_unsure_on_the_scale_of_factors():
    known, unknown = (
        resting.rest_of(mass_kg=0.2, density_kg_m3=1050.0, viscosity_pa_s=5.0, bubble_m=0.25e-3, cup_radius_m=0.0318, since=NOON, checked=checked)
        for checked in (True, False)
    )
    assert known.high_s == pytest.approx(known.seconds * 2.0)
    assert unknown.high_s == pytest.approx(unknown.seconds * 4.0)
    assert unknown.low_s == pytest.approx(unknown.seconds / 4.0)
