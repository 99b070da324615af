"""What can be varied: how far each goes, what a refusal says, and what else a level brings along unasked."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.lab.plan import basis, design
from dribbet.lab.plan.factors import NATURES, Measure, applied, blend
from dribbet.lab.plan.responses import SCALES
from dribbet.records import WAYS, Constants, DribbetError, Factor, Level, Response, Technique, Varied
from dribbet.words import levels
from dribbet.words.units import Units
from tests.made_up import series

LIMITS = {  # in SI: what a bench can do at all
    Factor.RATIO: (0.0, 20.0),
    Factor.WATER_SHARE: (0.0, 0.89),
    Factor.GRADE: (1.0, 5.0),
    Factor.SILICONE: (0.0, 60.0),
    Factor.ALCOHOL: (0.0, 0.5),
    Factor.ALCOHOL_STRENGTH: (0.01, 1.0),
    Factor.ANTI_CRAZE: (0.0, 0.6),
    Factor.ADDED: (0.0, 0.5),
    Factor.SHIMMER: (0.0, 20.0),
    Factor.BASE_DEPTH: (0.0, 8e-3),
    Factor.BASE_WATER: (0.0, 0.6),
    Factor.BASE_CRAZE: (0.0, 0.6),
    Factor.LAYERS: (1.0, 12.0),
    Factor.POURED: (1e-3, 20.0),
    Factor.FILM_LEFT: (1e-4, 1e-2),
    Factor.HEAT: (0.0, 20.0),
    Factor.HEAT_AFTER: (0.0, 3600.0),
    Factor.HEAT_DISTANCE: (0.01, 1.0),
    Factor.SECOND_HEAT: (0.0, 20.0),
    Factor.DWELL: (0.0, 7200.0),
    Factor.POUR_HEIGHT: (0.0, 2.0),
    Factor.BLOW_DISTANCE: (0.005, 1.0),
    Factor.SPIN_TURNS: (0.0, 500.0),
    Factor.GROW: (0.0, 7200.0),
    Factor.TILT_TIME: (0.0, 3600.0),
    Factor.ACTIVATOR_MASS: (0.0, 1.0),
    Factor.LIFT_HEIGHT: (0.0, 1.0),
    Factor.RING_HEIGHT: (0.0, 1.0),
    Factor.RING_WIDTH: (0.0, 0.5),
    Factor.SWIPE_PASSES: (1.0, 20.0),
    Factor.SPIN_SPEED: (0.01, 50.0),
    Factor.REST: (0.0, 14 * 86_400.0),
}
MEASURED_TO = {  # what a reading of the same panel scatters by, in the unit that is shown
    Response.CRACK_LENGTH: 8.0,
    Response.CRACKED: 0.0,
    Response.FIRST_CRACK: 0.0,
    Response.CELL_COUNT: 2.5,
    Response.CELL_WIDTH: 0.22,
    Response.SPREAD: 0.5,
    Response.LACING: 0.4,
    Response.SHIMMER: 0.02,
    Response.VIVIDNESS: 1.0,
    Response.UNEVENNESS: 0.1,
    Response.FAULTS: 0.6,
    Response.SHINE: 0.05,
}


def put(factor: Factor, value: float) -> Constants:
    level = Level(value=value)
    other = Level(value=value + 0.5)
    return applied(Constants(), Varied(factor=factor, levels=(level, other), of="lime"), level)


def test_every_figure_has_its_limits():
    assert {f for f, n in NATURES.items() if n.measure is not Measure.NAMED} == set(LIMITS)


@pytest.mark.parametrize("factor", LIMITS)
def test_a_level_at_the_limit_is_held_and_one_beyond_is_refused(factor):
    least, most = LIMITS[factor]
    for value in (least, most):
        held = getattr(put(factor, value), NATURES[factor].field)
        if NATURES[factor].doing:
            held = held[0].figure.value
        assert (dict(held)["lime"] if factor is Factor.ADDED else held) == pytest.approx(value)
    for beyond in (most * 1.001, least * 0.999 or -1e-3):
        with pytest.raises(DribbetError, match=r"out of reach|below zero"):
            put(factor, beyond)


def test_parts_of_a_blend_that_are_named_twice_add_up():
    assert blend("conditioner 60 + glue 20 + glue 20") == {"conditioner": pytest.approx(0.6), "glue": pytest.approx(0.4)}
    assert blend("glue + water") == {"glue": 0.5, "water": 0.5}


@pytest.mark.parametrize(
    ("factor", "value", "words"),
    [
        (Factor.WATER_SHARE, 0.95, "of 95 % is out of reach. Choose 0 % to 89 %."),
        (Factor.FILM_LEFT, 0.02, "of 20 mm is out of reach. Choose 0.1 mm to 10 mm."),
        (Factor.POURED, 30.0, "of 30000 g is out of reach. Choose 1 g to 20000 g."),
        (Factor.HEAT_AFTER, -5.0, "of -5 s is below zero. Choose 0 s to 3600 s."),
        (Factor.REST, 15 * 86_400.0, "of 360 h is out of reach. Choose 0 h to 336 h."),
        (Factor.LAYERS, 40.0, "of 40 is out of reach. Choose 1 to 12."),
        (Factor.LAYERS, 0.0, "of 0 is out of reach. Choose 1 to 12."),
    ],
)
def test_a_refusal_names_its_figures_in_units_of_the_bench(factor, value, words):
    with pytest.raises(DribbetError) as refused:
        put(factor, value)
    assert str(refused.value).endswith(words)


def test_every_response_knows_what_its_reading_scatters_by():
    assert {r: SCALES[r].measuring_sd for r in SCALES} == MEASURED_TO


def test_what_differs_besides_the_question_is_named_once_and_what_is_asked_is_not():
    arms = design.arms(series())
    assert basis.also_differs(arms, [Factor.WATER_SHARE]) == ()
    other = replace(arms[1], held=replace(arms[1].held, technique=Technique.OPEN_CUP, poured_kg=0.09))
    assert basis.also_differs([arms[0], other], [Factor.WATER_SHARE]) == ("technique", "poured_kg")
    assert basis.also_differs([arms[0], other], [Factor.TECHNIQUE]) == ("poured_kg",)
    assert basis.also_differs([arms[0], other, arms[2]], [Factor.TECHNIQUE, Factor.POURED]) == ()


def test_whatever_figure_a_step_has_can_be_varied():
    """Every figure of every way that ships, and every time that a step takes from what is held, is a factor."""
    figures = {(s.step, f.does) for steps in WAYS.values() for s in steps for f in s.figures}
    assert figures <= {n.doing for n in NATURES.values()}
    assert {s.held for steps in WAYS.values() for s in steps if s.held} <= {n.field for n in NATURES.values()}


def test_the_speed_of_a_spin_is_typed_and_said_in_turns_a_minute():
    typed = levels.parse(Factor.SPIN_SPEED, "30, 90", Units(), levels.Names())
    assert [lv.value for lv in typed.levels] == [pytest.approx(0.5), pytest.approx(1.5)]
    assert levels.level_text(Factor.SPIN_SPEED, typed.levels[1], Units()) == "90 turns a minute"
    assert levels.typed_text(typed, Units()) == "30, 90"
