"""Worked values of the science page: density, film, drying, amounts."""

from __future__ import annotations

import itertools
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dribbet.lab.paint import density
from dribbet.lab.panel import drying, film
from dribbet.lab.panel.drying import DryStage
from dribbet.lab.plan import amounts
from dribbet.records import Constants, DribbetError


def test_heavy_over_light_overturns_and_light_over_heavy_does_not():
    assert density.overturning_joints([1110.0, 1040.0, 1070.0, 1040.0, 1090.0]) == (1, 3)


def test_worked_wavelength_and_growth():
    assert density.fastest_wavelength_m(100.0, 0.5e-3) * 1e3 == pytest.approx(6.3, abs=0.1)
    assert 1.0 / density.growth_rate_per_s(100.0, 0.5e-3, 1e-3, 1.0) == pytest.approx(6.2, abs=0.1)


@pytest.mark.parametrize(("viscosity", "minutes"), [(5.0, 35.0), (20.0, 140.0)])
def test_worked_rest_of_bubbles(viscosity, minutes):
    assert density.bubble_rest_s(0.25e-3, viscosity, 1050.0, 0.060) / 60 == pytest.approx(minutes, rel=0.02)


def test_worked_film_of_the_design_guide():
    assert film.wet_film_m(0.0613, 1220.0, 0.030) * 1e3 == pytest.approx(1.7, abs=0.05)
    assert film.dry_film_m(1.7e-3, 0.3) == pytest.approx(0.51e-3)


def test_panel_that_got_no_heavier_is_refused_in_words():
    with pytest.raises(DribbetError, match="Weigh the bare panel first"):
        film.wet_film_m(0.0, 1200.0, 0.03)


@pytest.mark.parametrize(("mm", "zone"), [(0.5, "thin"), (1.5, "safe"), (2.2, "risky"), (2.8, "cracks")])
def test_film_zones(mm, zone):
    assert str(film.zone(mm * 1e-3)) == zone


def test_worked_creep():
    assert film.creep_m_s(1e-3, math.radians(0.5), 5.0, 1050.0) * 3.6e6 == pytest.approx(21.6, abs=0.2)


@pytest.mark.parametrize(("celsius", "hpa"), [(0.0, 6.112), (10.0, 12.28), (20.0, 23.39), (30.0, 42.45)])
def test_saturation_pressure_is_that_of_the_wmo_guide(celsius, hpa):
    assert drying.saturation_pressure_hpa(celsius) == pytest.approx(hpa, rel=3e-3)


def test_worked_evaporation_and_diffusion():
    assert drying.evaporation_kg_m2_s(21.0, 0.5, 0.1) * 3600 == pytest.approx(0.21, abs=0.005)
    assert drying.diffusion_time_s(0.7e-3, 1e-11) / 3600 == pytest.approx(15.4, abs=0.1)


@given(st.floats(0.3e-3, 3e-3), st.floats(0.1, 0.5), st.floats(10.0, 30.0), st.floats(0.2, 0.95), st.floats(0.0, 0.5))
def test_drying_windows_are_in_order_and_never_one_time(wet, solids, celsius, humidity, air):
    found = drying.windows(wet, solids, celsius, humidity, air)
    assert [w.stage for w in found] == [DryStage.SKIN, DryStage.TOUCH, DryStage.THROUGH, DryStage.CURED]
    assert all(w.earliest_s < w.latest_s for w in found)
    for before, after in itertools.pairwise(found):
        assert before.earliest_s <= after.earliest_s
        assert before.latest_s <= after.latest_s


def test_thicker_films_and_damper_rooms_dry_later():
    thin, thick = (drying.windows(h, 0.3, 21.0, 0.5, 0.1)[2].earliest_s for h in (1e-3, 2e-3))
    dry, damp = (drying.windows(1.7e-3, 0.3, 21.0, rh, 0.1)[0].earliest_s for rh in (0.3, 0.8))
    assert thin < thick
    assert dry < damp


def test_crack_risk_rises_with_film_and_water_and_falls_with_the_additive():
    def risk(**changed: float) -> float:
        return drying.crack_risk(**{"wet_film_m": 1.7e-3, "water_share": 0.16, "evaporation_kg_m2_s": 6e-5} | changed)

    assert 0.05 < risk() < 0.2
    assert risk(wet_film_m=2.3e-3) > risk()
    assert risk(water_share=0.24) > risk()
    assert risk(silicone_drops=2.0) > risk()
    assert risk(anti_craze_share=0.1) < risk()


def test_paint_for_a_panel_grows_with_its_face_and_its_sides():
    face = amounts.covered_area_m2(0.3, 0.2)
    with_sides = amounts.covered_area_m2(0.3, 0.2, 0.02)
    assert face == pytest.approx(0.06)
    assert with_sides == pytest.approx(0.06 + 2 * 0.02 * 0.5)
    assert amounts.with_loss(0.068 * 0.22 * 4, Constants()) == pytest.approx(0.068 * 0.22 * 4 * 1.15)
