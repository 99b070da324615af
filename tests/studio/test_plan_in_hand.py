"""What a plan takes of what there is: amounts, and how full their bars are."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta
from types import SimpleNamespace

import pytest

from dribbet.lab.plan import design
from dribbet.lab.plan.day_plan import Work
from dribbet.records import DribbetError, Factor, Response, Wanted
from dribbet.studio.acts import having
from dribbet.studio.acts.planning import Planning
from dribbet.studio.standing import ask
from dribbet.studio.standing.ask import More, PlanInHand, ShownBy, Takes
from dribbet.studio.standing.has import Has, has


def needs(desk):
    return {one.what: one for one in ask.asked(desk, desk.need_run()).needs}


@pytest.fixture
def plan(desk):
    return Planning(desk).new_series()


def test_bars_tell_the_share_of_what_there_is_and_never_more_than_all(desk, plan):
    panels = design.sheets(desk.need_run().series)
    having.enter(desk, Has.PANELS, 2.0 * panels)
    assert needs(desk)[Takes.PANELS].share == pytest.approx(0.5)
    having.enter(desk, Has.PANELS, panels / 4)
    assert needs(desk)[Takes.PANELS].share == 1.0
    paint = needs(desk)[Takes.PAINT]
    assert paint.share == pytest.approx(min(paint.amount / paint.there, 1.0))
    colours = {layer.material for layer in desk.need_run().series.layers}
    for m in desk.shelf():
        if m.key in colours:
            desk.notebook.replace(replace(m, stock_kg=1e-4))
    desk.changed()
    assert needs(desk)[Takes.PAINT].share == 1.0


def test_rack_counts_what_other_panels_leave_free(desk, plan):
    panels = design.sheets(desk.need_run().series)
    having.enter(desk, Has.RACK, 40.0)
    taken = ask.asked(desk, desk.need_run()).rack[1]
    found = needs(desk)[Takes.RACK]
    assert (found.amount, found.there) == (panels, 40.0 - taken)
    assert found.share == pytest.approx(panels / (40.0 - taken))


def test_money_and_days_fill_their_bars_at_what_is_dear_and_long(desk, plan):
    found = needs(desk)
    assert found[Takes.MONEY].share == pytest.approx(min(found[Takes.MONEY].amount / ask.DEAR, 1.0))
    assert found[Takes.DAYS].amount == int(found[Takes.DAYS].amount) > 0
    assert found[Takes.DAYS].share == pytest.approx(min(found[Takes.DAYS].amount / ask.LONG_DAYS, 1.0))


def test_a_day_that_has_begun_counts_and_more_than_two_weeks_fill_the_bar(desk, plan):
    series, begins = desk.need_run().series, desk.now()
    for long, days, share in ((6.2, 7, 0.5), (14.0, 14, 1.0), (30.5, 31, 1.0)):
        laid = SimpleNamespace(begins=begins, ends=begins + timedelta(days=long))
        found = {one.what: one for one in ask._needs(series, (), None, (None, 0), laid)}[Takes.DAYS]
        assert (found.amount, found.share) == (days, pytest.approx(share))


def test_what_nobody_entered_has_no_bar(desk, plan):
    for m in desk.shelf():
        desk.notebook.replace(replace(m, price_per_kg=0.0, packs=(), stock_kg=0.0, full_kg=0.0))
    for what in Has:
        desk.notebook.put_setting(what.value, None)
    desk.changed()
    found = needs(desk)
    assert {what for what, one in found.items() if one.share is None} == {Takes.PAINT, Takes.MONEY, Takes.PANELS, Takes.RACK}
    assert found[Takes.PAINT].there is None
    assert has(desk, Has.PANELS) is None


def test_nobody_has_nought_or_ten_thousand_of_anything(desk):
    for wrong in (0.0, -3.0, 10_000.0):
        with pytest.raises(DribbetError, match="out of reach"):
            having.enter(desk, Has.HOURS, wrong)
    having.enter(desk, Has.HOURS, 9_999.0)
    assert has(desk, Has.HOURS) == 9_999.0


def test_what_else_can_be_done_follows_the_plan(desk, plan):
    s = desk.need_run().series
    open_ = ask.more(s, done=False, undone=False)
    assert More.UNDO not in open_
    assert ask.more(s, done=True, undone=True)[-2:] == (More.UNDO, More.REDO)
    drawn = ask.more(replace(s, seed=4), done=True, undone=True)
    assert not {More.UNDO, More.KINDS, More.MORE_REPEATS, More.INSIST} & set(drawn)
    assert {More.SHEET, More.AGAIN, More.MEND} <= set(drawn)


def test_what_is_tested_or_done_without_is_nothing_to_hold(desk, plan):
    s = desk.need_run().series
    assert "water" in ask.not_held(s)  # it is what is varied
    assert s.varied[0].factor is Factor.WATER_SHARE
    dry = replace(s, constants=replace(s.constants, silicone_drops_per_100g=0.0, alcohol_share=0.0, activator="none"))
    assert {"silicone", "silicone_in", "drops_by", "strength", "activator_kg", "strip"} <= ask.not_held(dry)
    wet = replace(s, constants=replace(s.constants, silicone_drops_per_100g=2.0, alcohol_share=0.1, activator="activator A"))
    assert not {"silicone", "silicone_in", "drops_by", "strength", "activator_kg"} & ask.not_held(wet)


def test_panels_of_a_day_are_those_that_its_hours_hold(desk, plan):
    having.enter(desk, Has.HOURS, 2.5)
    run = desk.need_run()
    found = ask._day_plan(desk, run, design.arms(run.series), (None, 0))
    each = {p.work: p.seconds for p in found.paces}
    mixed_before = found.sittings[0].pours == 0
    mixing = 0.0 if mixed_before else found.sittings[0].mixes * (each[Work.MIX] + each[Work.CHECK])
    assert found.pours_fit == (2.5 * 3600.0 - each[Work.CLEAN] - mixing) // each[Work.POUR]


def test_an_offer_without_a_figure_is_not_known_where_nobody_has_that_scatter_or_it_is_a_time_of_cracks():
    def shown_by(known, *asked):
        plan = SimpleNamespace(known=known, series=SimpleNamespace(responses=tuple((one, Wanted.LESS) for one in asked)))
        return PlanInHand.shown_by(plan, SimpleNamespace(shows=None))

    assert shown_by(None, Response.CELL_COUNT) is ShownBy.NOT_KNOWN
    assert shown_by(0.1, Response.FIRST_CRACK, Response.CELL_COUNT) is ShownBy.NOT_KNOWN
    assert shown_by(0.1, Response.CELL_COUNT, Response.FIRST_CRACK) is ShownBy.TOO_FEW
    assert PlanInHand.shown_by(SimpleNamespace(), SimpleNamespace(shows=0.3)) is None


def test_offers_name_the_plan_that_stands_and_the_ones_that_are_the_same(desk, plan):
    found = ask.asked(desk, desk.need_run())
    Planning(desk).take_size(2)
    again = ask.asked(desk, desk.need_run())
    assert [o.current for o in again.offers].count(True) == 1
    for i, one in enumerate(again.offers):
        assert (one.same_as > 0) == (i > 0 and again.offers[i - 1].offer.series == one.offer.series)
    assert all(found.shown_by(o.offer) is None for o in found.offers if o.offer.shows is not None)
