"""Every kind of reading on one scale, each within its own range."""

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dribbet.lab.paint import flow_scale
from dribbet.lab.paint.consistency import GRADE_VISCOSITY_PA_S, ConsistencyError, grade
from dribbet.records import HomeCup, HouseRules, RecordError
from tests.made_up import check, mix

RULES = HouseRules()
CUP = mix()
TWO = HomeCup(name="yoghurt cup, 4 mm hole", points=((20.0, 40e-6), (60.0, 140e-6)))
THREE = HomeCup(name="three", points=((10.0, 20e-6), (30.0, 90e-6), (60.0, 260e-6)))


def pa_s(kind, value, rules=RULES, **more):
    return flow_scale.viscosity_pa_s(check(CUP, kind, value, **more), density_kg_m3=1050.0, rules=rules)


def test_middles_of_the_grades_hold_mounds_of_their_grade():
    for number, viscosity in GRADE_VISCOSITY_PA_S.items():
        if number > 1:  # the first holds none
            assert grade(viscosity * flow_scale.MOUND_S_PER_PA_S) == number
            assert pa_s("mound", viscosity * flow_scale.MOUND_S_PER_PA_S) == pytest.approx(viscosity)


def test_iso_cup_is_the_worked_value_times_density():
    assert pa_s("flow cup", 60.0, tool="ISO 2431, 4 mm") == pytest.approx(78.9e-6 * 1050.0, rel=1e-3)


@pytest.mark.parametrize(("tool", "seconds"), [("ISO 2431, 4 mm", 20.0), ("Ford no. 4", 150.0), ("Zahn no. 2", 15.0), (TWO.name, 70.0)])
def test_cup_outside_its_range_refuses_with_the_range(tool, seconds):
    with pytest.raises(ConsistencyError, match=r"covers|tried with"):
        pa_s("flow cup", seconds, replace(RULES, home_cups=(TWO,)), tool=tool)


def test_unknown_cup_says_where_to_enter_one():
    with pytest.raises(ConsistencyError, match="Set-up"):
        pa_s("flow cup", 30.0, tool="the blue one")


def test_home_cup_goes_through_its_own_liquids():
    for cup in (TWO, THREE):
        for seconds, viscosity in cup.points:
            assert flow_scale.home_cup_viscosity_m2_s(seconds, cup) == pytest.approx(viscosity, rel=1e-9)


@given(st.floats(20.0, 60.0), st.floats(20.0, 60.0))
def test_home_cup_takes_longer_for_thicker(a, b):
    low, high = sorted((a, b))
    assert flow_scale.home_cup_viscosity_m2_s(low, TWO) <= flow_scale.home_cup_viscosity_m2_s(high, TWO) + 1e-15
    assert flow_scale.home_cup_viscosity_m2_s(low, THREE) <= flow_scale.home_cup_viscosity_m2_s(high, THREE) + 1e-15


def test_home_cup_needs_two_liquids_of_unlike_thickness():
    with pytest.raises(RecordError, match="at least two"):
        HomeCup(name="one", points=((20.0, 40e-6),))
    with pytest.raises(RecordError, match="unlike thickness"):
        HomeCup(name="same", points=((20.0, 40e-6), (20.0, 80e-6)))


def test_drip_agrees_with_the_worked_value():
    rules = replace(RULES, drip_m3=50e-9, drip_width_m=6e-3)
    assert pa_s("drip", 0.030, rules, seconds=120.0) == pytest.approx(6.8e-3 * 1050.0, rel=0.01)


def test_drip_that_did_not_run_is_no_figure():
    with pytest.raises(ConsistencyError, match="did not run"):
        pa_s("drip", 0.0)


def test_wider_slump_is_thinner_paint():
    assert pa_s("slump", 0.050) > pa_s("slump", 0.060) > 0.0


def test_stopwatch_blurs_short_mounds():
    assert flow_scale.sd_ln(check(CUP, "mound", 0.4)) > flow_scale.sd_ln(check(CUP, "mound", 4.0)) > 0.15


def test_mean_and_scatter_of_repeats():
    mean, sd = flow_scale.mean_of([30.0, 31.0, 32.0])
    assert (mean, sd) == pytest.approx((31.0, 1.0))
    assert flow_scale.mean_of([30.0]) == (30.0, 0.0)
    assert math.isclose(flow_scale.mean_of([1.0, 3.0])[1], math.sqrt(2.0))
