"""Drying by weight, the air as a curve, when cracking began, the risk that own panels teach: against values worked by hand."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import timedelta

import numpy as np
import pytest

from dribbet.lab.panel import air, cracking, drying, loss, risk
from dribbet.records import Climate, DribbetError, Kind, Look, Material, ReadBy
from tests.conftest import NOW

# ---------------------------------------------------------------- weight


def test_what_can_evaporate_is_water_and_what_is_not_solid():
    shelf = [
        Material(id="f", key="foam", name="foam", kind=Kind.PAINT, hex="#FFFFFF", density_kg_m3=1400.0, volume_solids=0.40),
        Material(id="c", key="conditioner", name="conditioner", kind=Kind.MEDIUM, hex="#FFFFFF", density_kg_m3=1030.0, volume_solids=0.15),
        Material(id="a", key="alcohol", name="alcohol", kind=Kind.THINNER, hex="#FFFFFF", density_kg_m3=810.0, volume_solids=0.0, alcohol_share=0.91),
    ]
    cup = {"foam": 0.3, "conditioner": 0.5, "water": 0.15, "alcohol": 0.05}
    wanted = 0.3 * 0.6 * 998 / 1400 + 0.5 * 0.85 * 998 / 1030 + 0.15 + 0.05
    assert loss.volatile_share(cup, shelf) == pytest.approx(wanted)


def curve(hours: float, a_h: float, b: float, whole: float) -> float:
    return whole * (1.0 - math.exp(-((hours / a_h) ** b)))


def test_time_to_dry_is_found_again_from_a_curve_of_its_own_kind():
    weighings = [(h * 3600.0, 0.270 - curve(h, 10.0, 0.7, 0.036)) for h in (1, 4, 10, 22)]
    found = loss.loss(0.270, 0.060, 0.6, weighings)
    assert found.volatile_kg == pytest.approx(0.036)
    assert found.share == pytest.approx(1 - math.exp(-(2.2**0.7)))
    wanted_h = 10.0 * (-math.log(0.05)) ** (1 / 0.7)
    assert found.dry_at_s / 3600 == pytest.approx(wanted_h, rel=1e-6)
    assert not found.ready
    assert loss.loss(0.270, 0.060, 0.6, [(1.0, 0.270 - 0.0343)]).ready  # 95.3 % of 36 g


def test_two_weighings_tell_no_time():
    found = loss.loss(0.270, 0.060, 0.6, [(3600.0, 0.265), (7200.0, 0.262)])
    assert found.dry_at_s is None
    assert found.lost_kg == pytest.approx(0.008)


# ---------------------------------------------------------------- air


def reading(hours: float, celsius: float, damp: float) -> Climate:
    return Climate(id=f"{hours}", at=NOW + timedelta(hours=hours), celsius=celsius, damp=damp, by=ReadBy.SENSOR)


def test_air_goes_straight_between_readings_and_holds_beyond():
    told = air.over([reading(0, 20.0, 0.4), reading(10, 24.0, 0.6)], NOW, NOW + timedelta(hours=10), 21.0, 0.5)
    assert (told.celsius, told.damp, told.read) == (pytest.approx(22.0, abs=0.01), pytest.approx(0.5, abs=0.001), 1.0)
    held = air.over([reading(0, 20.0, 0.4)], NOW, NOW + timedelta(hours=24), 30.0, 0.8)
    assert held.celsius == pytest.approx((20 + 30) / 2, abs=0.3)  # half a day it holds, then the plan stands
    assert held.read == pytest.approx(0.5, abs=0.03)
    assert (held.least_damp, held.most_celsius) == (0.4, 30.0)


def test_without_readings_the_plan_stands_and_says_so():
    told = air.over([], NOW, NOW + timedelta(hours=5), 21.0, 0.5)
    assert (told.celsius, told.damp, told.read) == (21.0, 0.5, 0.0)
    gone = air.over([replace(reading(1, 5.0, 0.1), taken_back=True)], NOW, NOW + timedelta(hours=2), 21.0, 0.5)
    assert gone.celsius == 21.0


# ---------------------------------------------------------------- cracks


def look(hours: float, cracked: bool | None, number: int) -> Look:
    return Look(id=str(number), panel_id="p", due="24 h", at=NOW + timedelta(hours=hours), cracked=cracked, number=number)


def test_cracking_began_between_two_looks():
    found = cracking.began(NOW, [look(0.5, False, 1), look(11, False, 2), look(21, True, 3), look(48, True, 4)])
    assert (found.from_h, found.until_h) == (11.0, 21.0)
    assert cracking.began(NOW, [look(9, True, 1)]) == cracking.Began(from_h=0.0, until_h=9.0)
    still = cracking.began(NOW, [look(11, False, 1), look(48, False, 2)])
    assert (still.from_h, still.until_h) == (48.0, None)
    assert cracking.began(NOW, [look(11, None, 1)]) is None


def test_half_of_the_panels_by_intervals_with_open_ones():
    intervals = [cracking.Began(from_h=a, until_h=b) for a, b in ((0, 2), (2, 4), (2, 4), (4, None))]
    assert cracking.turnbull_median_h(intervals) == 4.0
    assert cracking.turnbull_median_h([cracking.Began(from_h=0, until_h=2)] * 2 + [cracking.Began(from_h=2, until_h=None)]) == 2.0
    assert cracking.turnbull_median_h([cracking.Began(from_h=0, until_h=2)] + [cracking.Began(from_h=48, until_h=None)] * 3) is None
    assert cracking.turnbull_median_h([]) is None


# ---------------------------------------------------------------- risk


LIKE = risk.Causes(wet_film_m=1.7e-3, water_share=0.16, evaporation_kg_m2_s=6e-5)


def test_before_any_panel_the_starting_weights_stand():
    assert risk.fit([]) is risk.STARTING
    pe = 1.7e-3 * 6e-5 / 998 / drying.WET_DIFFUSIVITY_M2_S
    assert risk.STARTING.of(LIKE) == pytest.approx(1 / (1 + math.exp(2.2 - 0.25 * (pe - 1))))
    same = drying.crack_risk(wet_film_m=2.1e-3, water_share=0.2, evaporation_kg_m2_s=6e-5, silicone_drops=2.0, anti_craze_share=0.05)
    mine = risk.Causes(wet_film_m=2.1e-3, water_share=0.2, evaporation_kg_m2_s=6e-5, silicone_drops=2.0, anti_craze_share=0.05)
    assert risk.STARTING.of(mine) == pytest.approx(same)


def test_one_case_moves_the_weights_as_the_posterior_says():
    learned = risk.fit([(LIKE, True)])
    x, prior = np.array(LIKE.columns()), np.array(risk.STARTING.weights)
    w = np.array(learned.weights)
    p = 1 / (1 + math.exp(-float(x @ w)))
    assert w - prior == pytest.approx(np.array(risk.GIVE) ** 2 * x * (1 - p), abs=1e-8)  # where the slope of the penalised likelihood is nought
    assert (learned.panels, learned.cracked, learned.own) == (1, 1, True)


def test_own_panels_shift_the_film_that_is_safe():
    thick = [(replace(LIKE, wet_film_m=mm * 1e-3), False) for mm in (2.0, 2.2, 2.4, 2.6, 2.8, 3.0) for _ in range(6)]
    learned = risk.fit(thick)
    before, after = risk.STARTING.film_m(LIKE, risk.SAFE_BELOW), learned.film_m(LIKE, risk.SAFE_BELOW)
    assert before == pytest.approx(1.93e-3, abs=0.02e-3)
    assert after > 2.6e-3
    assert risk.STARTING.film_m(LIKE, risk.CRACKS_FROM) == pytest.approx(2.43e-3, abs=0.05e-3)
    at = replace(LIKE, wet_film_m=before)
    assert risk.STARTING.of(at) == pytest.approx(risk.SAFE_BELOW, abs=1e-6)


# ---------------------------------------------------------------- looks


def test_looks_may_be_at_any_hour():
    assert [drying.hours_of(n) for n in ("wet", "12 h", "10 h", "2.5 h", "3 d", "cured")] == [0.5, 11.0, 10.0, 2.5, 72.0, 576.0]
    with pytest.raises(DribbetError, match="no time for a look"):
        drying.hours_of("soon")
