"""Guided measurements as acts: what a reading may be, and what is kept; worked by hand."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.lab.cup import bottles
from dribbet.records import Bottle, BottleWeighing, DribbetError, Gauging, GaugingKind
from dribbet.studio.acts import gauging


@pytest.fixture
def teal(desk):
    return next(m for m in desk.shelf() if m.key == "channel teal")


def newest(desk):
    return max(desk.notebook.all(Gauging), key=lambda g: g.number)


def test_density_is_the_mean_filling_of_ten_millilitres_and_goes_onto_the_card(desk, teal):
    found = gauging.density(desk, teal, [0.0106, 0.0216, 0.0217])
    assert found.value == pytest.approx((0.0110 + 0.0111) / 2 / 10e-6)
    assert found.spread == pytest.approx(0.0001 / 10e-6 / 2**0.5, rel=0.01)
    assert next(m for m in desk.shelf() if m.key == "channel teal").density_kg_m3 == pytest.approx(found.value)
    assert newest(desk).kind is GaugingKind.DENSITY
    gauging.syringe([0.0106])
    gauging.syringe([0.0106, 0.0107])
    with pytest.raises(DribbetError, match="not heavier"):
        gauging.syringe([0.0106, 0.0216, 0.0106])


@pytest.mark.parametrize(("share", "fits"), [(0.19, False), (0.21, True), (2.99, True), (3.01, False)])
def test_heap_far_from_what_the_rules_ask_is_another_heap(desk, share, fits):
    if fits:
        gauging.heap(desk, desk.rules.slump_kg * share)
    else:
        with pytest.raises(DribbetError, match="so that discs compare"):
            gauging.heap(desk, desk.rules.slump_kg * share)


def test_body_goes_by_both_diameters_and_the_mass(desk, teal):
    found = gauging.body(desk, teal, 0.005, [0.060, 0.064])
    assert found.diameter_m == pytest.approx(0.062)
    kept = newest(desk)
    assert (kept.kind, kept.sample_kg, kept.seconds, kept.readings) == (GaugingKind.BODY, 0.005, desk.rules.slump_seconds, (0.060, 0.064))
    volume = 0.005 / teal.density_kg_m3
    stress = 225 * teal.density_kg_m3 * 9.80665 * volume**2 / (128 * 3.14159265**2 * 0.031**5)
    assert found.body.yield_pa == pytest.approx(stress, rel=1e-3)


def test_twenty_drops_weighed_together_make_one_and_nothing_makes_none(desk, teal):
    assert gauging.together(desk, teal, GaugingKind.DROP, 0.0006) == pytest.approx(30e-6)
    assert next(m for m in desk.shelf() if m.key == "channel teal").drop_kg == pytest.approx(30e-6)
    assert gauging.together(desk, teal, GaugingKind.TEASPOON, 0.018) == pytest.approx(0.006)
    assert newest(desk).count == 3
    with pytest.raises(DribbetError, match="20 drops"):
        gauging.together(desk, teal, GaugingKind.DROP, 0.0)
    for wrong in (0.0, 1.0):
        with pytest.raises(DribbetError, match="no run"):
            gauging.run(wrong)
    gauging.drip(desk, teal, 0.064)
    assert (newest(desk).value, newest(desk).seconds) == (0.064, desk.rules.drip_seconds)


def test_bottle_that_lost_water_wants_it_back_and_another_bottle_is_refused(desk):
    kept = next(b for b in desk.notebook.all(Bottle) if not b.finished and b.empty_kg)
    b = replace(kept, id="fresh", code="Z99")
    desk.notebook.add(b)
    whole = b.stored_kg
    lighter = whole - 0.003
    assert gauging.wants_back_kg(desk, b, lighter) == pytest.approx(0.003, abs=1e-6)
    assert gauging.worth_it(desk, b, whole - bottles.WORTH_G - 1e-5)
    assert not gauging.worth_it(desk, b, whole - bottles.WORTH_G + 2e-5)
    with pytest.raises(DribbetError, match="right bottle"):
        gauging.bottle(b, b.empty_kg - 1e-4)
    gauging.bottle(b, b.empty_kg)
    found = gauging.weigh_again(desk, b, [lighter, 0.002])
    assert (found.lost_kg, found.given_kg) == (pytest.approx(0.003, abs=1e-6), 0.002)
    assert max(desk.notebook.all(BottleWeighing, bottle_id=b.id), key=lambda w: w.number).water_added_kg == 0.002
    with pytest.raises(DribbetError, match="not heavier"):
        gauging.filled([0.02, 0.02])
    gauging.filled([0.02, 0.021])
