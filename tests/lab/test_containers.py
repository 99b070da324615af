"""Guided measurements of a container, and when a new lot asks for them again."""

from dataclasses import replace
from datetime import timedelta

import pytest

from dribbet.lab.paint import containers
from dribbet.records import DribbetError, GaugingKind, Kind, Opacity
from tests.made_up import NOON, gauging, material

TEAL = material("teal")


def test_density_is_the_mean_of_two_fillings():
    assert containers.density_of_fillings([0.0215, 0.0216], 0.0106) == pytest.approx(1095.0)
    assert containers.density_sd([0.0215, 0.0216], 0.0106) == pytest.approx(7.07, rel=1e-3)


@pytest.mark.parametrize(
    ("fillings", "empty", "words"),
    [([0.0110], 0.0, "twice"), ([0.0110, 0.0118], 0.0, "Press the air out"), ([0.0011, 0.0011], 0.0, "no liquid"), ([0.05, 0.05], 0.0, "no liquid")],
)
def test_density_that_cannot_be_is_refused_with_what_to_do(fillings, empty, words):
    with pytest.raises(DribbetError, match=words):
        containers.density_of_fillings(fillings, empty)


def test_body_comes_from_the_disc_that_a_sample_spreads_to():
    wide, narrow = (containers.body_of(d, sample_kg=5e-3, density_kg_m3=1100.0) for d in (0.090, 0.030))
    assert wide.yield_pa < 0.5 < 15.0 < narrow.yield_pa
    assert wide.start_parts < narrow.start_parts
    assert wide.words != narrow.words
    worked = containers.body_of(0.120, sample_kg=10.5e-3, density_kg_m3=1050.0)
    assert worked.yield_pa == pytest.approx(0.24, abs=0.01)


def test_disc_is_measured_both_ways():
    assert containers.slump_diameter_m([0.050, 0.054]) == pytest.approx(0.052)
    with pytest.raises(DribbetError, match="twice"):
        containers.slump_diameter_m([0.05])
    with pytest.raises(DribbetError, match="far from round"):
        containers.slump_diameter_m([0.03, 0.06])


def test_new_lot_asks_for_what_was_measured_before_it_came():
    before, after = NOON - timedelta(days=9), NOON + timedelta(days=1)
    known = [gauging("teal", "density", 1100.0, readings=(0.0106, 0.0216), at=before), gauging("teal", "body", 0.05, at=before)]
    fresh = replace(TEAL, lot="25-11", lot_since=NOON)
    assert containers.to_check(TEAL, known) == ()
    assert containers.to_check(fresh, known) == (GaugingKind.DENSITY, GaugingKind.BODY)
    assert containers.to_check(fresh, [*known, gauging("teal", "density", 1120.0, at=after)]) == (GaugingKind.BODY,)
    assert containers.to_check(fresh, []) == (GaugingKind.DENSITY,)
    assert containers.newest([*known, gauging("teal", "density", 1.0, at=after, taken_back=True)], TEAL, GaugingKind.DENSITY) == known[0]


def test_shimmer_over_an_opaque_paint_is_warned_of():
    gull = material("gull", kind=Kind.SHIMMER)
    assert containers.hidden_shimmer(gull, replace(TEAL, opacity=Opacity.OPAQUE))
    assert not containers.hidden_shimmer(gull, replace(TEAL, opacity=Opacity.TRANSPARENT))
    assert not containers.hidden_shimmer(TEAL, replace(TEAL, opacity=Opacity.OPAQUE))
