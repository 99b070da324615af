"""What a person types of levels and recipes becomes facts, and facts become what they typed."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.lab.plan import stops
from dribbet.lab.plan.stops import Why
from dribbet.records import Constants, DribbetError, DropsBy, Factor, Kind, Level, Sheen, Varied
from dribbet.words import held, levels, question
from dribbet.words import stops as stop_words
from dribbet.words.units import NARROW, Units, dose_text
from tests.made_up import material, series

UNITS = Units()
SHELF = [
    material("foam"), material("teal", density_kg_m3=1000.0), material("slate", density_kg_m3=1250.0), material("gull"),
    material("conditioner", kind=Kind.MEDIUM, density_kg_m3=1000.0), material("glue", kind=Kind.MEDIUM, density_kg_m3=1100.0),
    material("deck satin", kind=Kind.BASE, sheen=Sheen.SATIN), material("deck gloss", kind=Kind.BASE, sheen=Sheen.GLOSS),
    material("porch gloss", kind=Kind.BASE, sheen=Sheen.GLOSS), material("weak thinner", kind=Kind.HOUSE_MIX),
]  # fmt: skip
NAMES = question.names_on(SHELF, series())


def brought(level: Level) -> dict[Factor, float | str]:
    return {f: x.name or x.value for f, x in level.brings}


@pytest.mark.parametrize(
    ("typed", "key", "brings"),
    [
        ("glue 1:1", "glue", {Factor.RATIO: 1.0}),
        ("conditioner 1 : 2 + 12 % water", "conditioner", {Factor.RATIO: 2.0, Factor.WATER_SHARE: 0.12}),
        ("water 3:2", "water", {Factor.RATIO: 2 / 3, Factor.WATER_SHARE: 0.0}),
        ("Conditioner 60 + glue 40 1:2,5", "conditioner 60 + glue 40", None),
        ("glue", "glue", {}),
        ("weak thinner 1:1.5", "weak thinner", {Factor.RATIO: 1.5}),
    ],
)
def test_medium_may_bring_a_recipe_of_its_own(typed, key, brings):
    if brings is None:
        with pytest.raises(DribbetError):  # a comma parts levels
            levels.parse(Factor.MEDIUM, typed, UNITS, NAMES)
        return
    other = "conditioner" if key != "conditioner" else "glue"
    made = levels.parse(Factor.MEDIUM, f"{typed}, {other}", UNITS, NAMES)
    assert (made.levels[0].name, brought(made.levels[0])) == (key, brings)
    again = levels.parse(Factor.MEDIUM, levels.typed_text(made, UNITS), UNITS, NAMES)
    assert brought(again.levels[0]) == {f: pytest.approx(v, rel=1e-3) for f, v in brings.items()}


@pytest.mark.parametrize(
    ("factor", "typed", "words"),
    [
        (Factor.MEDIUM, "glue 0:1, conditioner", "no paint"), (Factor.MEDIUM, "glue 1:30, conditioner", "too much medium"),
        (Factor.MEDIUM, "glue 1:1 + 95 % water, conditioner", "leave no paint"), (Factor.MEDIUM, "jam 1:1, glue", "not a medium"),
        (Factor.BASE_SHEEN, "gloss, satin", "Which base is gloss.*eck gloss, porch gloss are gloss.*gloss = deck gloss"),
        (Factor.BASE_SHEEN, "matte, satin", "o card on Shelf says matte"),
        (Factor.BASE_SHEEN, "satin = foam, gloss = deck gloss", "not a base on the shelf"),
        (Factor.PAINT, "foam, pink", "not a paint on the shelf"), (Factor.POURED, "0.1, 70", "out of reach"),
        (Factor.LAYERS, "1, 40", "out of reach"),
    ],
)  # fmt: skip
def test_level_that_cannot_be_says_what_could(factor, typed, words):
    with pytest.raises(DribbetError, match=words):
        levels.parse(factor, typed, UNITS, NAMES)


def test_word_names_the_container_that_brings_it():
    made = levels.parse(Factor.BASE_SHEEN, "satin, gloss = porch gloss", UNITS, NAMES)
    assert [brought(x) for x in made.levels] == [{Factor.BASE_PAINT: "deck satin"}, {Factor.BASE_PAINT: "porch gloss"}]
    assert levels.levels_text(made, UNITS) == "satin (deck satin) or gloss (porch gloss)"
    assert levels.typed_text(made, UNITS) == "satin = deck satin, gloss = porch gloss"


def test_long_levels_are_said_briefly_in_the_question_and_whole_on_the_rack():
    long_ = levels.parse(Factor.MEDIUM, "conditioner 1:2 + 12 % water, glue 1:1 + 10 % water, water 3:2", UNITS, NAMES)
    assert levels.brief_text(long_, UNITS) == "conditioner, glue or water"
    assert levels.levels_text(long_, UNITS) == f"conditioner (1 : 2, 12{NARROW}% water), glue (1 : 1, 10{NARROW}% water) or water (1 : 0.67)"
    orders = Varied(factor=Factor.ORDER, levels=tuple(Level(name=f"{'foam / teal / slate / ' * 3}{i}") for i in range(3)))
    assert levels.brief_text(orders, UNITS) == "three kinds"


def test_names_a_person_gave_are_shown_and_typed_while_recipes_keep_their_keys():
    shelf = [replace(m, name="school glue") if m.key == "glue" else m for m in SHELF]
    names, units = question.names_on(shelf, series()), Units(names=(("glue", "school glue"),))
    made = levels.parse(Factor.MEDIUM, "School Glue 1:1, conditioner", units, names)
    assert made.levels[0].name == "glue"
    assert levels.typed_text(made, units) == "school glue 1:1, conditioner"
    assert (units.called("glue"), units.called("glue, base"), units.called("teal")) == ("school glue", "school glue, base", "teal")
    assert names.key("glue") == "glue"  # nothing else is called so


# ---------------------------------------------------------------- recipes that are held


def recipe(text: str, **constants) -> dict[str, object]:
    densities = {m.key: m.density_kg_m3 for m in SHELF}
    return held.recipe(text, series(constants=Constants(**constants)), NAMES, densities)


def test_ratio_by_mass_in_one_or_several_mediums():
    assert recipe("2.5") == {"medium_parts": 2.5, "colour_parts": ()}
    assert recipe("2:3")["medium_parts"] == pytest.approx(1.5)
    both = recipe("1 : 2 conditioner : 1 glue")
    assert (both["medium_parts"], both["medium"]) == (3.0, "conditioner 66.6667 + glue 33.3333")


def test_ratio_by_volume_gives_each_colour_its_own_parts_by_mass():
    made = recipe("1:2 by volume")
    # foam 1200, teal 1000, slate 1250 kg/m3, conditioner 1000: 2 x 1000 / density of the paint
    assert dict(made["colour_parts"]) == pytest.approx({"foam": 2 / 1.2, "teal": 2.0, "slate": 1.6})
    assert made["medium_parts"] == pytest.approx((2 / 1.2 + 2.0 + 1.6) / 3)


@pytest.mark.parametrize(
    ("text", "words"), [("one to two", "no recipe"), ("1:2:1", "Name each medium"), ("0:2", "pours"), ("1:2 jam", "not a medium")]
)
def test_recipe_that_cannot_be_is_refused(text, words):
    with pytest.raises(DribbetError, match=words):
        recipe(text)


def test_colours_may_have_ratios_of_their_own():
    assert held.ratios("teal 1:1.5, slate 3", series(), NAMES) == (("teal", 1.5), ("slate", 3.0))
    assert held.ratios("none", series(), NAMES) == ()
    for text in ("pink 1:2", "teal 1:many", "teal 1:99"):
        with pytest.raises(DribbetError):
            held.ratios(text, series(), NAMES)


# ---------------------------------------------------------------- doses and what stops a plan


def test_dose_is_said_in_drops_and_milligrams():
    assert dose_text(2.0, 2.9e-5, "belt silicone") == f"2 drops (58{NARROW}mg) of belt silicone in 100 g"
    assert dose_text(1.0, 4.1e-5, "serum") == f"1 drop (41{NARROW}mg) of serum in 100 g"


def test_stop_of_small_cups_says_how_far_off_and_how_large_a_cup_it_takes():
    ladder = Varied(factor=Factor.SILICONE, levels=(Level(value=0.0), Level(value=1.0), Level(value=2.0)))
    plan = series(varied=(ladder,), constants=Constants(silicone_colours=("teal",)))  # 0.068 x 0.3 x 2 x 1.15 = 46.9 g a cup
    none, little = stops.stops(plan)[0], stops.doses(plan)[-1]
    assert (none.why, none.letters, none.dosing.drops) == (Why.DROPS, "b", 0)
    said = stop_words.sentence(none, UNITS)
    assert "1 in 100 g is 0.5 of a drop" in said
    assert "none would go in" in said
    assert f"a cup of 100.0{NARROW}g" in said
    assert (little.letters, little.dosing.drops) == ("c", 1)  # 0.94 of a drop: one is 7 % more
    assert f"7{NARROW}% more than asked" in stop_words.sentence(little, UNITS)
    assert stops.stops(replace(plan, constants=replace(plan.constants, drops_by=DropsBy.GROWN))) == ()
