from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dribbet.lab.paint import consistency
from dribbet.lab.paint.consistency import ConsistencyError, FlowCup

MM2_S = 1e6


@pytest.mark.parametrize(
    ("cup", "drain_s", "mm2_s"),
    [
        (FlowCup.ISO_4MM, 60.0, 78.9),  # the science page's worked value
        (FlowCup.ISO_3MM, 60.0, 0.443 * 60 - 200 / 60),
        (FlowCup.ISO_5MM, 45.0, 3.28 * 45 - 220 / 45),
        (FlowCup.ISO_6MM, 30.0, 6.90 * 30 - 570 / 30),
        (FlowCup.FORD_3, 40.0, 2.31 * (40 - 6.58)),
        (FlowCup.FORD_4, 60.0, 3.85 * (60 - 4.49)),
        (FlowCup.ZAHN_2, 30.0, 3.5 * 16),
        (FlowCup.ZAHN_3, 30.0, 11.7 * 22.5),
        (FlowCup.ZAHN_4, 30.0, 14.8 * 25),
    ],
)
def test_drain_time_gives_the_viscosity_of_the_standard(cup, drain_s, mm2_s):
    assert float(consistency.kinematic_viscosity_m2_s(drain_s, cup)) * MM2_S == pytest.approx(mm2_s, rel=1e-3)


@given(st.sampled_from(list(FlowCup)), st.lists(st.floats(0.0, 1.0), min_size=2, max_size=6))
def test_slower_draining_means_more_viscous(cup, shares):
    low, high = consistency.CUP_RANGE_S[cup]
    times = np.sort(low + np.array(shares) * (high - low))
    assert np.all(np.diff(consistency.kinematic_viscosity_m2_s(times, cup)) >= 0.0)


@pytest.mark.parametrize("drain_s", [10.0, 101.0, math.nan, -5.0])
def test_time_outside_the_standard_is_refused_with_its_range(drain_s):
    with pytest.raises(ConsistencyError, match="30 to 100 s"):
        consistency.kinematic_viscosity_m2_s(drain_s, FlowCup.ISO_4MM)


def test_drip_of_known_volume_gives_the_worked_viscosity():
    found = consistency.drip_viscosity_m2_s(0.030, volume_m3=50e-9, width_m=6e-3, time_s=120.0)
    assert found * MM2_S == pytest.approx(6.8e3, rel=0.01)


def test_puddle_gives_the_worked_yield_stress():
    assert consistency.puddle_yield_stress_pa(10e-6, 0.060, 1050.0) == pytest.approx(0.24, abs=0.005)


@pytest.mark.parametrize(("mound_s", "grade"), [(0.0, 1), (0.5, 2), (1.0, 2), (2.0, 3), (3.0, 3), (4.5, 4), (6.5, 5), (60.0, 5)])
def test_mound_grades_follow_the_table(mound_s, grade):
    assert consistency.grade(mound_s) == grade


def test_log_mixing_lies_between_its_liquids_and_more_water_is_thinner():
    thick = consistency.log_mixed_viscosity_pa_s({"paint": 1.0, "conditioner": 2.0})
    thin = consistency.log_mixed_viscosity_pa_s({"paint": 1.0, "conditioner": 2.0, "water": 1.0})
    assert consistency.VISCOSITY_PA_S["water"] < thin < thick < consistency.VISCOSITY_PA_S["paint"]


def test_own_figures_replace_those_of_the_tables():
    plain = consistency.log_mixed_viscosity_pa_s({"paint": 1.0, "conditioner": 2.0})
    own = consistency.log_mixed_viscosity_pa_s({"paint": 1.0, "conditioner": 2.0}, {"paint": 24.0})
    assert own == pytest.approx(plain * 2.0 ** (1 / 3))
    assert consistency.log_mixed_viscosity_pa_s({"glue": 1.0}, {"paint": 24.0}) == pytest.approx(consistency.VISCOSITY_PA_S["glue"])
