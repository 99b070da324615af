"""Figures that stand before the person's own are known: each as the craft, a standard or a definition gives it."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from scipy import stats

from dribbet.lab.cup import bottles, dosing, matching, recipe
from dribbet.lab.paint import consistency, containers, flow_scale, learning, measures
from dribbet.lab.panel import drying, film
from dribbet.lab.plan import amounts, arm, confounding, day_plan, factors, pieces, planning, power, sizes
from dribbet.lab.verdict import judge
from dribbet.records import Outline, Technique
from tests.made_up import material, series


@pytest.mark.parametrize(
    ("figure", "expected"),
    [
        (measures.KG_PER_OZ, 0.45359237 / 16), (measures.M3_PER_FLOZ, 231 * 0.0254**3 / 128), (consistency.GRAVITY_M_S2, 9.80665),  # definitions
        (recipe.WATER_KG_M3, 998.0), (recipe.ALCOHOL_KG_M3, 785.0),  # at 20 degrees C
        (recipe.WATER_DROP_M3, 0.05e-6), (recipe.SILICONE_DROP_M3, 0.03e-6), (planning.DROP_KG, 0.03e-6 * 965.0),
        (amounts.FULL_COVER_M, 2.2e-3), (amounts.OVER_BASE_M, 1.4e-3), (amounts.CUP_LOSS, 0.10), (arm.MOST_THIN, 0.9),
        (film.FILM_ZONES_M, (0.9e-3, 1.9e-3, 2.5e-3)), (film.GAUGE_TOP_M, 3.0e-3),
        (drying.CURED_DAYS, (21.0, 30.0)), (drying.PRESSURE_HPA, 1013.25), (drying.LATE_AFTER, 0.35),
        (flow_scale.MOUND_S_PER_PA_S, 2.5), (flow_scale.HUPPERT_DISC, 0.894), (flow_scale.REACTION_S, 0.25),
        (consistency.GRADE_LIMITS_S, (0.05, 1.0, 3.0, 6.0)), (consistency.SILICONE_THICKENS_PER_DROP, 0.03),
        (learning.BATCH_SD, 0.20), (learning.INTERVAL, 0.90), (learning.MOST_WATER, 0.6), (containers.AGREE_WITHIN, 0.01),
        (matching.ANEW_FROM, 0.5), (matching.FIRST_STEP, 0.6), (matching.WIDE, 1.6), (matching.MEAN_OF, 3),
        (dosing.DILUTION, 10.0), (dosing.OFF_LITTLE, 0.05), (dosing.OFF_FAR, 0.25), (bottles.SPOILS_AFTER_D, 120.0),
        (judge.CONFIDENCE, 0.95), (judge.POWER, 0.80), (sizes.THOROUGH_POWER, 0.95), (sizes.LEAST_REPEATS, 2), (sizes.USUAL_REPEATS, 3),
        (confounding.SHARE_COUNTS_FROM, 0.01), (confounding.FLOW_COUNTS_FROM, 1.25), (confounding.FILM_COUNTS_FROM_M, 0.1e-3),
        (factors.FILM_BY_TECHNIQUE_M[Technique.FLIP_CUP], 1.7e-3), (factors.FILM_BY_TECHNIQUE_M[Technique.DUTCH_POUR], 1.1e-3),
    ],
)  # fmt: skip
def test_figure_is_the_one_that_the_craft_or_a_definition_gives(figure, expected):
    assert figure == pytest.approx(expected, rel=2e-3)


def test_minutes_of_a_day_before_anyone_logged_one():
    assert day_plan.START_S == {"mix one colour": 300.0, "check one colour": 120.0, "pour one panel": 420.0, "clean up": 1500.0}
    assert (day_plan.LEAST_LOGS, day_plan.TAKEN_FOR_ONE_GO_S, day_plan.OVERNIGHT_FROM, day_plan.BATCH_DAYS) == (3, 900.0, 6, 2)


def test_drop_is_the_containers_own_where_it_was_weighed():
    assert planning.drop_kg(material("oil", drop_kg=4e-5)) == 4e-5
    assert planning.drop_kg(material("oil", drop_kg=0.05e-6)) == 0.05e-6
    assert planning.drop_kg(material("oil", drop_kg=0.0)) == planning.drop_kg(None) == 2.9e-5


def test_panel_is_measured_in_millimetres_whatever_its_size():
    from dribbet.lab.plan import design

    s = replace(series(), seed=3)
    (first, *_) = design.arms(s)
    panel = design.panels(s, iter("abcdefghijklmnop").__next__)[0]
    assert pieces.whole_mm(first, panel) == (first.held.panel_width_m * 1000.0, first.held.panel_height_m * 1000.0) == (200.0, 150.0)
    mine = replace(panel, width_m=0.198, height_m=0.151)
    assert pieces.whole_mm(first, mine) == pytest.approx((198.0, 151.0))
    assert pieces.area_m2(first, mine) == pytest.approx(0.198 * 0.151)
    assert pieces.measured_dm2(s, first, mine) == pytest.approx(1.98 * 1.51)
    half = replace(mine, region=(0.0, 0.0, 0.5, 1.0))
    strip = s.layout.strip_m * 1e3
    assert pieces.measured_mm(s, first, half) == pytest.approx((99.0 - strip, 151.0))
    lower = replace(mine, region=(0.0, 0.5, 1.0, 1.0))
    assert pieces.measured_dm2(s, first, lower) == pytest.approx(1.98 * (0.755 - strip / 100.0))
    right = replace(mine, region=(0.5, 0.0, 1.0, 1.0))
    assert pieces.measured_dm2(s, first, right) == pytest.approx((0.99 - strip / 100.0) * 1.51)
    disc = replace(first, held=replace(first.held, outline=Outline.ROUND))
    assert pieces.measured_dm2(s, disc, mine) == pytest.approx(np.pi / 4 * 1.98 * 1.51)


def test_power_for_counts_at_the_edge_of_overdispersion():
    """Two rates of 30 and 50 on 3 panels each: shift 20 / sqrt(80 / 3) = 3.873, with 4 / 0.9^2 degrees of freedom where Poisson's law holds."""
    plain = power.power_of_counts(30.0, 50.0, 3.0, 1.0, 4)
    free = 4 / 0.9**2
    edge = stats.t.ppf(0.975, free)
    assert plain == pytest.approx(
        float(stats.nct.sf(edge, free, 20 / math.sqrt(80 / 3)) + stats.nct.cdf(-edge, free, 20 / math.sqrt(80 / 3))), abs=2e-4
    )
    assert power.power_of_counts(30.0, 50.0, 3.0, 0.4, 4) == plain  # never less scattered than chance alone
    over = power.power_of_counts(30.0, 50.0, 3.0, 10.0, 4)
    beyond = 9 / 30 * (30**2 + 50**2)  # variance mu + 0.3 mu^2: ten times the mean at 30
    assert over == pytest.approx(power._t_power(20 / math.sqrt((80 + beyond) / 3), 4 / (beyond / (80 + beyond)) ** 2), abs=1e-12)
    assert over < plain - 0.05


STARTS = {
    "ratio": (1.0, 2.0, 3.0), "water share": (0.1, 0.16, 0.22), "consistency": (2.0, 3.0, 4.0), "silicone": (0.0, 2.0), "alcohol": (0.0, 0.1),
    "strength of alcohol": (0.7, 0.91), "anti-craze additive": (0.0, 0.1, 0.2), "shimmer medium": (0.0, 0.5, 1.0, 2.0),
    "thickness of the base": (0.001, 0.002), "water in the base": (0.0, 0.1, 0.2), "additive in the base": (0.0, 0.1),
    "number of layers": (1.0, 2.0), "paint poured": (0.06, 0.075), "film left": (0.0012, 0.0023), "heat": (0.0, 2.0),
    "moment of heat": (10.0, 120.0), "distance of the flame": (0.10, 0.20), "second heat": (0.0, 2.0), "rest under the cup": (10.0, 120.0),
    "height of the pour": (0.03, 0.20), "distance of the blow": (0.05, 0.20), "turns of the spin": (5.0, 15.0),
    "wait before the stretch": (0.0, 120.0), "time of tilting": (30.0, 120.0), "amount of activator": (0.0, 0.004),
    "rest of the mix": (0.0, 14400.0), "something of my own in the cup": (0.0, 0.02, 0.05), "height of the lift": (0.05, 0.15),
    "height of the rings": (0.02, 0.08), "width of the rings": (0.01, 0.03), "passes of the swipe": (1.0, 2.0), "speed of the spin": (0.5, 1.5),
}  # fmt: skip


def test_first_levels_offered_are_those_of_the_craft():
    assert {str(f): n.start for f, n in factors.NATURES.items() if n.measure is not factors.Measure.NAMED} == STARTS


def test_body_at_the_edge_of_two_kinds_is_the_softer_one():
    limit, words = containers.BODY_PA[1]
    for stress, expected in ((limit * 0.999, words), (limit * 1.001, containers.BODY_PA[2][1])):
        density, sample = 1100.0, 5e-3
        radius = (225.0 * density * 9.80665 * (sample / density) ** 2 / (128.0 * math.pi**2 * stress)) ** 0.2
        assert containers.body_of(2.0 * radius, sample_kg=sample, density_kg_m3=density).words == expected
