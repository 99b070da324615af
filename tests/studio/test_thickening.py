"""A pot that runs too far is thickened with what stands on the shelf."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.records import CheckKind, Form, Kind, Material
from dribbet.studio.acts.checking import Checking
from dribbet.studio.standing import pots
from tests.studio.test_six_plans import Bench


@pytest.fixture
def thin_teal(desk):
    """All pots mixed and dripped; channel teal runs a third too far."""
    bench = Bench(desk)
    bench.plan.draw_lots()
    bench.mix_all()
    run = desk.need_run()
    group = pots.groups(run)[0]
    for mix in pots.cups(run, group):
        Checking(desk).keep(mix.id, CheckKind.DRIP, 0.0803 if mix.colour == "channel teal" else 0.064, "typed", seconds=10.0)
    return group


def verdict(desk, group):
    run = desk.need_run()
    mix = next(m for m in pots.cups(run, group) if m.colour == "channel teal")
    return mix, pots.verdict(desk, run, group).pots[mix.id]


def test_paint_thickens_where_no_gel_is_at_hand_and_gel_where_there_is(desk, thin_teal):
    mix, before = verdict(desk, thin_teal)
    assert before.add == "paint"
    like = next(m for m in desk.shelf() if m.kind is Kind.MEDIUM)
    gel = replace(like, id="gel", key="peak gel", name="peak gel", form=Form.GEL, stock_kg=0.25, full_kg=0.5)
    desk.notebook.add(gel)
    desk.changed()
    mix, after = verdict(desk, thin_teal)
    assert after.add == "peak gel"
    assert 0.0 < after.amount_kg < before.amount_kg
    Checking(desk).correct(mix, "peak gel", after.first_kg)
    (added,) = [w for w in desk.need_run().weighings if w.ingredient == "peak gel"]
    assert added.mass_kg == pytest.approx(after.first_kg, abs=5e-5)  # as a scale shows it
    assert verdict(desk, thin_teal)[1].match is None  # to be read again


def test_empty_jar_of_gel_is_not_advised(desk, thin_teal):
    like = next(m for m in desk.shelf() if m.kind is Kind.MEDIUM)
    desk.notebook.add(replace(like, id="gel", key="peak gel", name="peak gel", form=Form.GEL, stock_kg=0.0, full_kg=0.5))
    desk.changed()
    assert verdict(desk, thin_teal)[1].add == "paint"
    assert isinstance(desk.notebook.get(Material, "gel"), Material)
