"""A stack of wet colours turns over as the lubrication equations say: rates, wavelengths, mass, and where colours come to lie."""

from __future__ import annotations

import math

import numpy as np
import pytest

from dribbet.lab.cup.overturning import WET_TENSION, Stack, Wet
from dribbet.lab.paint import density
from dribbet.lab.panel import landing
from dribbet.records import DribbetError, Layer, Technique

LIGHT = Wet(thick_m=1e-3, density_kg_m3=1000.0, viscosity_pa_s=1.0)
HEAVY = Wet(thick_m=8e-3, density_kg_m3=1100.0, viscosity_pa_s=0.02)


def fastest_m(step: float) -> float:
    return density.fastest_wavelength_m(step, WET_TENSION)


def growth_per_s(step: float, thick_m: float, viscosity_pa_s: float) -> float:
    return density.growth_rate_per_s(step, WET_TENSION, thick_m, viscosity_pa_s)


def test_a_thin_light_layer_under_a_deep_heavy_one_is_the_textbook_case():
    rate, wave = Stack([LIGHT, HEAVY], shape=(1, 64)).growth()
    assert rate == pytest.approx(growth_per_s(100.0, 1e-3, 1.0), rel=0.02)
    assert wave == pytest.approx(fastest_m(100.0), rel=0.02)


def grown(waves: int, seconds: float = 12.0) -> float:
    """Growth rate of one small wave in the full computation; `waves` of the fastest length fit four times."""
    stack = Stack([LIGHT, HEAVY], shape=(1, 128), width_m=fastest_m(100.0) * 4, rough=0.0)
    small = 1e-7 * np.cos(np.arange(128) / 128 * 2 * np.pi * waves)
    stack.h[0, 0] += small
    stack.h[1, 0] -= small
    before = abs(np.fft.rfft(stack.h[0, 0])[waves])
    stack.run(seconds)
    return math.log(abs(np.fft.rfft(stack.h[0, 0])[waves]) / before) / seconds


def test_small_waves_grow_at_the_rate_of_theory_and_the_fastest_is_the_fastest():
    assert grown(4) == pytest.approx(growth_per_s(100.0, 1e-3, 1.0), rel=0.10)
    assert grown(4) > grown(3) > grown(1) > 0.0
    assert grown(4) > grown(5)
    assert grown(8) < 0.0  # twice as short as the fastest: tension wins


def test_light_over_heavy_stays():
    rate, wave = Stack([HEAVY, LIGHT], shape=(1, 64)).growth()
    assert (rate, wave) == (0.0, math.inf)
    assert Stack([LIGHT]).growth() == (0.0, math.inf)


FOUR = [Wet(thick_m=0.4e-3, density_kg_m3=d, viscosity_pa_s=0.3) for d in (1020.0, 1300.0, 1100.0, 1250.0)]


def test_no_paint_is_made_or_lost_and_none_is_negative():
    stack = Stack(FOUR, shape=(32, 64), width_m=0.03, seed=2)
    before = stack.h.sum(axis=(1, 2))
    stack.run(300.0)
    assert np.abs(stack.h.sum(axis=(1, 2)) / before - 1.0).max() < 1e-9
    assert stack.h.min() >= 0.0
    whole = stack.h.sum(axis=0)
    assert np.abs(whole / whole.mean() - 1.0).max() < 0.05  # the surface stays level
    assert stack.h[0].max() > 1.5 * stack.h[0].mean()  # and it has turned over


def test_two_stacks_of_one_seed_start_and_go_alike_whatever_is_asked_between():
    first, second = (Stack(FOUR, shape=(16, 32), width_m=0.02, seed=5) for _ in range(2))
    first.run(20.0)
    second.run(20.0)
    assert np.array_equal(first.h, second.h)
    other = Stack(FOUR, shape=(16, 32), width_m=0.02, seed=6)
    assert not np.array_equal(other.h, Stack(FOUR, shape=(16, 32), width_m=0.02, seed=5).h)


def test_heavy_colour_on_top_gives_way_in_the_view():
    heavy_top = Stack([Wet(thick_m=0.6e-3, density_kg_m3=1000, viscosity_pa_s=0.2), Wet(thick_m=0.6e-3, density_kg_m3=1400, viscosity_pa_s=0.2)],
                      shape=(32, 64), width_m=0.03)  # fmt: skip
    calm = Stack([Wet(thick_m=0.6e-3, density_kg_m3=1400, viscosity_pa_s=0.2), Wet(thick_m=0.6e-3, density_kg_m3=1000, viscosity_pa_s=0.2)],
                 shape=(32, 64), width_m=0.03)  # fmt: skip
    assert heavy_top.shares()[1] > 0.98
    heavy_top.run(240.0)
    calm.run(240.0)
    assert heavy_top.shares()[0] > 0.1
    assert calm.shares()[0] < 0.01
    assert heavy_top.seen().sum(axis=0) == pytest.approx(np.ones((32, 64)), abs=1e-3)


# ---------------------------------------------------------------- where colours lie


CUP = (Layer(material="foam", share=0.5), Layer(material="teal", share=0.3), Layer(material="brass", share=0.2))
DENSITY = {"foam": 1400.0, "teal": 1100.0, "brass": 1110.0}


def test_first_in_comes_to_the_top_of_a_flipped_cup_and_stays_below_in_an_open_one():
    assert [x.material for x in landing.lying(CUP, Technique.FLIP_CUP, DENSITY)] == ["brass", "teal", "foam"]
    assert [x.material for x in landing.lying(CUP, Technique.OPEN_CUP, DENSITY)] == ["foam", "teal", "brass"]


def test_what_is_heavier_than_what_lies_below_sinks_but_not_what_is_alike():
    up = landing.lying(CUP, Technique.FLIP_CUP, DENSITY)
    assert [x.sinks for x in up] == [False, False, True]  # foam over teal; teal and brass weigh alike
    assert [x.sinks for x in landing.lying(CUP, Technique.OPEN_CUP, DENSITY)] == [False, False, False]
    assert not any(x.sinks for x in landing.lying(CUP, Technique.FLIP_CUP, {"foam": 1400.0}))


def test_forecast_is_scored_against_what_was_read():
    assert landing.score({"a": 0.5, "b": 0.5}, {"a": 0.5, "b": 0.5}) == 1.0
    assert landing.score({"a": 1.0}, {"b": 1.0}) == 0.0
    assert landing.score({"a": 0.7, "b": 0.3}, {"a": 0.5, "b": 0.5}) == pytest.approx(0.8)
    up = landing.lying(CUP, Technique.FLIP_CUP, DENSITY)
    wet = landing.stack(up, 1.7e-3, DENSITY, {"foam": 0.8, "teal": 0.8, "brass": 0.8})
    assert [w.thick_m for w in wet] == pytest.approx([0.34e-3, 0.51e-3, 0.85e-3])
    shares = landing.seen_shares(up, wet, 5.0)
    assert sum(shares.values()) == pytest.approx(1.0)
    assert max(shares, key=shares.get) == "foam"


def test_neighbours_of_one_colour_are_one_layer_and_an_unknown_weight_is_asked_for():
    twice = (CUP[0], CUP[0], CUP[1])
    up = landing.lying(twice, Technique.OPEN_CUP, DENSITY)
    assert landing.names(up) == ("foam", "teal")
    assert len(landing.stack(up, 1e-3, DENSITY, {})) == 2
    with pytest.raises(DribbetError, match="How heavy is brass"):
        landing.stack(landing.lying(CUP, Technique.FLIP_CUP, {}), 1e-3, {}, {})
