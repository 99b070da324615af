"""Figures that a change of one factor, sign or bound would alter, each worked by hand."""

from __future__ import annotations

import math
from types import SimpleNamespace

import numpy as np
import pytest
from scipy import stats

from dribbet.lab.paint import survey
from dribbet.lab.paint.containers import density_of_fillings
from dribbet.lab.paint.flow_scale import sd_ln
from dribbet.lab.panel import drying, risk
from dribbet.lab.panel.drying import DIFFUSIVITY_M2_S, diffusion_time_s, evaporation_kg_m2_s
from dribbet.lab.plan import layouts, power
from dribbet.lab.plan.power import Model
from dribbet.lab.verdict import exact, laws
from dribbet.records import Check, CheckKind, DribbetError
from tests.conftest import NOW
from tests.lab.test_power import scatter


def test_quantiles_are_those_of_the_tables():
    assert laws.quantile(0.05, math.inf) == pytest.approx(1.959964, abs=1e-6)
    assert laws.quantile(0.05, 4) == pytest.approx(2.776445, abs=1e-6)
    assert laws.quantile(0.01, 10) == pytest.approx(3.169273, abs=1e-6)
    assert laws.t_p(1.959964, 1.0, math.inf) == pytest.approx(0.05, abs=1e-6)
    assert laws.t_p(-2.776445, 1.0, 4) == pytest.approx(0.05, abs=1e-6)


def test_windows_of_a_film_follow_from_its_water_and_its_diffusion():
    """1.5 mm, 30 % solids, 21 degrees, half damp, still air: skin at 40 to 80 % of the time that all water takes at first."""
    film, solids = 1.5e-3, 0.3
    half = film * 0.7 * 998.0 / evaporation_kg_m2_s(21.0, 0.5, 0.1)
    slow, quick = (diffusion_time_s(film * 1.3 / 2, d) for d in DIFFUSIVITY_M2_S)
    skin, touch, through, cured = drying.windows(film, solids, 21.0, 0.5, 0.1)
    assert (skin.earliest_s, skin.latest_s) == pytest.approx((0.4 * half, 0.8 * half))
    assert (touch.earliest_s, touch.latest_s) == pytest.approx((0.4 * half + quick / 3, 0.8 * half + slow / 6))
    assert (through.earliest_s, through.latest_s) == pytest.approx((0.4 * half + quick, 0.8 * half + 0.6 * slow))
    assert cured.earliest_s >= through.earliest_s


@pytest.mark.parametrize(("count", "rows", "columns"), [(2, 1, 2), (3, 1, 3), (4, 2, 2), (5, 2, 3), (6, 2, 3)])
def test_regions_lie_in_one_row_up_to_three_and_in_two_from_four(count, rows, columns):
    boxes = layouts.regions(count, 0.3, 0.2)
    assert len({b[1] for b in boxes}) == rows
    assert len({b[0] for b in boxes}) == columns
    assert all((b[2] - b[0], b[3] - b[1]) == pytest.approx((1 / columns, 1 / rows)) for b in boxes)
    turned = layouts.regions(count, 0.2, 0.3)
    assert [(b[1], b[0]) for b in turned] == [(b[0], b[1]) for b in boxes]


def test_least_p_of_unlike_strata_is_that_of_its_most_extreme_table():
    """3 of 4 against 0 of 4, and 1 of 4 against 1 of 4: the most extreme splits of the four yes among the first levels, by enumeration."""
    first, second = (3, 4, 0, 4), (1, 4, 1, 4)
    low = [stats.hypergeom.pmf(a, 8, 3, 4) * stats.hypergeom.pmf(4 - a, 8, 2, 4) for a in range(5)]
    places = [a for a, c in enumerate(low) if c > 0]
    chances = [low[a] / sum(low) for a in places]
    p, least = exact.unlike_strata(first, second)
    assert least == pytest.approx(
        min(chances[0] + sum(c for c in chances[1:] if c <= chances[0]), chances[-1] + sum(c for c in chances[:-1] if c <= chances[-1]))
    )
    assert p >= least


def test_syringe_that_holds_no_liquid_says_what_it_would_weigh():
    with pytest.raises(DribbetError, match=r"^20 g in 5 mL is no liquid"):
        density_of_fillings([0.020, 0.020], volume_m3=5e-6)


def test_repeats_for_a_share_are_those_of_shares_of_one():
    known = scatter(sd=0.06, mean=0.7, dispersion=1.0)
    plain = power.repeats_for(Model.SHARE, known, 0.15, recipes=2, behind_level=1.0)
    assert plain == power.repeats_for(Model.SHARE, known, 0.15, recipes=2, behind_level=1.0, factor=1.0)
    known = scatter(sd=6.0, mean=70.0, dispersion=1.0)
    assert plain == power.repeats_for(Model.SHARE, known, 15.0, recipes=2, behind_level=1.0, factor=100.0)


@pytest.mark.parametrize(("kind", "value", "spread"), [
    (CheckKind.DRIP, 0.05, 0.20), (CheckKind.FLOW_CUP, 30.0, 0.06), (CheckKind.SLUMP, 0.09, 0.35),
    (CheckKind.MOUND, 5.0, math.hypot(0.18, 0.05)), (CheckKind.MOUND, 0.5, math.hypot(0.18, 0.5)),
])  # fmt: skip
def test_one_reading_scatters_as_its_tool_does(kind, value, spread):
    """On ln viscosity: a fifth by drip, 6 % by flow cup; a quarter second of the hand blurs a mound that is gone in half a second."""
    assert sd_ln(Check(id="c", mix_id="m", kind=kind, value=value, at=NOW)) == pytest.approx(spread)


def test_weights_of_risk_balance_what_panels_say_against_how_far_each_was_believed():
    """At the fit, slope of the likelihood = (weight - prior) / spread^2, with spreads 1.0, 0.8, 0.5, 0.2, 0.15, 0.6."""
    made = []
    for i in range(8):
        film, water, craze = 1.2e-3 + 0.2e-3 * i, 0.1 + 0.02 * i, 0.05 * (i % 2)
        causes = risk.Causes(wet_film_m=film, water_share=water, evaporation_kg_m2_s=3e-5, silicone_drops=i % 3, anti_craze_share=craze)
        made.append((causes, i > 3))
    found = risk.fit(made)
    x = np.array([c.columns() for c, _ in made])
    p = np.array([found.of(c) for c, _ in made])
    pull = x.T @ (np.array([float(cracked) for _, cracked in made]) - p)
    believed = np.array([1.0, 0.8, 0.5, 0.2, 0.15, 0.6])
    assert (np.array(found.weights) - np.array(risk.STARTING.weights)) / believed**2 == pytest.approx(pull, abs=1e-6)
    assert (found.panels, found.cracked) == (8, 4)


def test_two_colours_that_were_weighed_have_a_spread():
    def row(density: float) -> SimpleNamespace:
        return SimpleNamespace(material=f"{density:g}", density=SimpleNamespace(value=density))

    found = survey.by_density([row(1350.0), SimpleNamespace(material="none", density=None), row(1080.0)])
    assert (found.most, found.least, found.times) == ("1350", "1080", pytest.approx(1.25))
    assert survey.by_density([row(1350.0)]) is None


def test_a_colour_sinks_into_what_is_lighter_by_more_than_a_fiftieth():
    def row(name, density):
        return SimpleNamespace(material=name, density=None if density is None else SimpleNamespace(value=density), drip=None)

    table = [row("light", 1000.0), row("none", None), row("just", 1019.0), row("heavy", 1050.0)]
    assert survey.sinking(table) == (("heavy", ("just", "light")),)  # 1019 is 1.9 % more than 1000
    assert survey.sinking([row("light", 1000.0), row("more", 1021.0)]) == (("more", ("light",)),)


def test_a_run_half_as_long_is_eight_times_as_thick():
    def row(name, run):
        return SimpleNamespace(material=name, drip=None if run is None else SimpleNamespace(value=run))

    found = survey.by_drip([row("thin", 0.060), row("none", None), row("thick", 0.030), row("middling", 0.045)])
    assert (found.most, found.least, found.times) == ("thick", "thin", pytest.approx(8.0))
    assert survey.by_drip([row("thin", 0.060), row("none", None)]) is None
