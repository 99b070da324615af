"""Situations after a test, each with the advice that a statistician would give, and what taking it makes."""

from __future__ import annotations

from dataclasses import replace
from itertools import product

import pytest

from dribbet.lab.plan import design, planning
from dribbet.lab.plan import next_pour as engine
from dribbet.lab.plan.next_pour import Along, Place, Sought
from dribbet.notebook.store import new_id
from dribbet.records import (
    BETWEEN,
    Aim,
    Design,
    DribbetError,
    Equal,
    Factor,
    Goal,
    Layout,
    Level,
    Photo,
    Reading,
    Response,
    Series,
    SeriesState,
    Stage,
    Technique,
    Varied,
    Wanted,
)
from dribbet.studio.acts import asking, deciding, following
from dribbet.studio.acts.planning import Planning
from dribbet.studio.standing import next_pour, panel_costs, verdict
from dribbet.studio.standing.next_pour import Act
from dribbet.words import next_pour as words
from dribbet.words.units import Units
from tests.made_up import numbers, result
from tests.studio.test_six_plans import Bench

UNITS = Units()
MORE_CELLS = ((Response.CELL_COUNT, Wanted.MORE),)


def poured(desk, factor, levels, cells, *, asked=MORE_CELLS, read=None, design_=Design.EVERY, more=(), **changed):
    """A test whose dry panels were read: `cells` by recipe, one figure a repeat."""
    book, old = desk.notebook, desk.notebook.get(Series, "k2")
    series = replace(
        old, id=new_id(), code="Z1", name="Zostera 01", varied=(Varied(factor=factor, levels=levels), *more),
        repeats=max(len(v) for v in cells.values()),
        layout=Layout(design=design_), responses=asked, seed=7, prediction=None, verdict="", concluded=(), state=SeriesState.RUNNING,
    )  # fmt: skip
    series = replace(series, **changed)
    shown = desk.load("k2").readings[0]
    with book.transaction():
        book.add(series, *planning.mixes(series, new_id))
        for panel in design.panels(series, new_id):
            book.add(panel)
            told = cells.get(panel.recipe, ())
            if panel.repeat > len(told) or (read is not None and panel.recipe not in read):
                continue
            photo = replace(book.get(Photo, shown.photo_id), id=new_id(), panel_id=panel.id)
            found = shown.result | {"cells": result(told[panel.repeat - 1])["cells"], "outlines": {}}
            book.add(photo, Reading(id=new_id(), panel_id=panel.id, photo_id=photo.id, stage=Stage.DRY, reader="test", at=desk.now(), result=found))
    desk.choose_series(series.id)
    return next_pour.proposed(desk, desk.need_run())


@pytest.fixture
def no_luck_known(desk, monkeypatch):
    """A notebook without any repeats of other series."""
    monkeypatch.setattr(desk.learned, "scatter", lambda response: None)
    return desk


def test_one_panel_of_each_wants_repeats_first(no_luck_known):
    found = poured(no_luck_known, Factor.WATER_SHARE, numbers(0.10, 0.16, 0.22), {"a": (20,), "b": (30,), "c": (60,)})
    assert [(p.act, p.repeats, p.panels) for p in found.proposals] == [(Act.REPEAT, 1, 3)]
    assert not found.known
    assert "luck and effect cannot be told apart" in words.why(found.proposals[0], found)


def test_the_best_at_the_end_of_the_range_goes_beyond_it(desk):
    found = poured(desk, Factor.SILICONE, numbers(0.0, 1.0, 2.0), {"a": (10, 12), "b": (40, 44), "c": (90, 96)})
    levels = [p for p in found.proposals if p.act is Act.LEVEL]
    assert (levels[0].place, levels[0].level.value > 2.0, levels[0].best.value) == (Place.ABOVE, True, 2.0)
    assert levels[0].panels == 4


def test_a_peak_in_the_range_is_refined(desk):
    found = poured(desk, Factor.WATER_SHARE, numbers(0.10, 0.16, 0.22, 0.28), {"a": (20, 22), "b": (80, 84), "c": (85, 82), "d": (24, 20)})
    one = found.proposals[0]
    assert (one.act, one.place) == (Act.LEVEL, Place.BETWEEN)
    assert 0.16 < one.level.value < 0.22


def test_a_difference_that_a_few_more_panels_would_show_asks_for_them(desk):
    found = poured(desk, Factor.DWELL, numbers(10.0, 120.0), {"a": (40, 62), "b": (72, 94)})
    again = next(p for p in found.proposals if p.act is Act.REPEAT)
    assert 1 <= again.repeats <= 8
    assert again.panels == 2 * again.repeats


def test_what_is_real_is_not_repeated(desk):
    found = poured(desk, Factor.DWELL, numbers(10.0, 120.0), {"a": (10, 12, 11), "b": (90, 96, 93)})
    assert Act.REPEAT not in {p.act for p in found.proposals}


def test_an_effect_without_its_nought_wants_it(desk):
    found = poured(desk, Factor.SILICONE, numbers(2.0, 4.0), {"a": (60, 62), "b": (30, 33)})
    one = next(p for p in found.proposals if p.act is Act.CONTROL)
    assert one.level == Level(value=0.0)
    assert (one.panels, one.poured_kg) == (4, pytest.approx(4 * desk.need_run().series.constants.poured_kg))  # two of two recipes
    assert following.follow(desk, one) == "ask"
    assert set(desk.need_run().series.levels) == {Level(value=2.0), Level(value=0.0)}


def test_a_real_effect_that_two_things_may_have_made_is_told_apart_in_this_test_and_judged(desk):
    poured(desk, Factor.SILICONE, numbers(0.0, 2.0), {"a": (20, 22), "b": (80, 84)})
    found = next_pour.proposed(desk, desk.need_run())
    one = next(p for p in found.proposals if p.act is Act.SEPARATE)
    before = desk.need_run()
    assert following.follow(desk, one) == "mix"
    run = desk.need_run()
    new = [p for p in run.panels if p.block == 2]
    assert len(new) == one.panels == len(run.arms)  # the plain recipes stand beside the added one on its day
    assert {p.recipe for p in new} == {a.letter for a in run.arms}
    assert run.arms[-1].extra.why == one.what
    assert len(run.panels) == len(before.panels) + one.panels
    assert verdict.shown(desk, run).unread == tuple(sorted(new, key=lambda p: p.place))


def test_recipes_that_flow_unlike_are_poured_again_with_equal_flow(desk):
    found = poured(desk, Factor.MEDIUM, (Level(name="conditioner"), Level(name="glue")), {"a": (20, 22), "b": (60, 66)})
    one = next(p for p in found.proposals if p.act is Act.EQUAL)
    assert one.what == "flow"
    assert following.follow(desk, one) == "ask"
    assert desk.need_run().series.equal is Equal.FLOW


def test_nothing_left_says_stop_and_offers_the_next_question(desk):
    cells = {"a": (20, 21, 19, 20), "b": (88, 90, 89, 91), "c": (89, 91, 90, 90), "d": (90, 88, 91, 89), "e": (22, 19, 20, 21)}
    found = poured(desk, Factor.WATER_SHARE, numbers(0.10, 0.17, 0.18, 0.19, 0.26), cells)
    assert [p.act for p in found.proposals] == [Act.STOP, Act.SEPARATE, Act.CONFIRM, Act.LARGER]  # why it is so may still be asked
    assert "Stop here" in words.what(found.proposals[0], desk.need_run().series, UNITS)
    with pytest.raises(DribbetError, match="Close the series"):
        following.follow(desk, found.proposals[0])
    assert following.follow(desk, found.proposals[2]) == "ask"
    asked = desk.need_run().series
    assert asked.factor is Factor.FILM_LEFT
    assert asked.constants.water_share == pytest.approx(desk.load(asked.id).series.constants.water_share)
    assert asked.constants.water_share in (0.17, 0.18, 0.19)


def test_what_is_settled_may_be_tried_on_a_larger_panel(desk):
    cells = {"a": (20, 21, 19, 20), "b": (88, 90, 89, 91), "c": (89, 91, 90, 90), "d": (90, 88, 91, 89), "e": (22, 19, 20, 21)}
    found = poured(desk, Factor.WATER_SHARE, numbers(0.10, 0.17, 0.18, 0.19, 0.26), cells)
    one = found.proposals[-1]
    assert (one.act, one.level.name, one.best.name, one.panels) == (Act.LARGER, "300 x 220", "200 x 150", 4)
    held = desk.need_run().series.constants
    assert one.poured_kg == pytest.approx(2 * held.poured_kg * (1.0 + 300 * 220 / (200 * 150)))
    assert following.follow(desk, one) == "ask"
    large = design.arms(desk.need_run().series)[1].held
    assert large.panel_width_m == pytest.approx(0.3)
    assert large.poured_kg / held.poured_kg == pytest.approx(2.2)


def test_names_end_in_keeping_the_better_one(desk):
    found = poured(
        desk, Factor.TECHNIQUE, (Level(name=str(Technique.FLIP_CUP)), Level(name=str(Technique.SWIPE))), {"a": (20, 22, 21), "b": (80, 84, 82)}
    )
    one = next(p for p in found.proposals if p.act is Act.CONFIRM)
    assert one.best == Level(name=str(Technique.SWIPE))


def test_panels_that_are_paid_for_are_read_first(desk):
    found = poured(desk, Factor.WATER_SHARE, numbers(0.10, 0.16, 0.22), {"a": (20, 22), "b": (60, 66), "c": (10, 12)}, read="ab")
    assert found.proposals[0].act is Act.READ
    assert len(found.proposals[0].unread) == 2
    assert all(p.level is None or p.level.value != 0.22 for p in found.proposals)  # it is poured, only not read


def test_two_things_varied_move_one_at_a_time_from_the_best_recipe(desk):
    more = (Varied(factor=Factor.DWELL, levels=numbers(10.0, 120.0)),)
    cells = {"a": (10, 12), "b": (40, 42), "c": (30, 33), "d": (90, 94)}
    found = poured(desk, Factor.SILICONE, numbers(0.0, 2.0), cells, more=more)
    one = next(p for p in found.proposals if p.act is Act.LEVEL)
    assert one.settings == (1, 1)
    following.follow(desk, one)
    series = desk.need_run().series
    assert len(series.varied) == 1
    held = series.constants
    assert (held.silicone_drops_per_100g, held.dwell_s)[one.which == 0] == (2.0, 120.0)[one.which == 0]


# ---------------------------------------------------------------- a further block


def test_a_further_block_goes_on_where_the_test_ended(desk):
    poured(desk, Factor.WATER_SHARE, numbers(0.10, 0.22), {"a": (20, 22), "b": (60, 66)})
    before = desk.need_run()
    deciding.close(desk)
    said = desk.need_run().series.concluded
    new = following.add_block(desk, 2)
    run = desk.need_run()
    assert [p.code for p in sorted(new, key=lambda p: p.code)] == ["Z1-a3", "Z1-a4", "Z1-b3", "Z1-b4"]
    assert sorted(p.place for p in new) == [5, 6, 7, 8]
    assert (run.series.repeats, run.series.layout.blocks, run.series.state) == (4, 2, SeriesState.RUNNING)
    assert (run.series.concluded, run.series.earlier[0].concluded) == ((), said)  # what it said is kept
    assert {m.block for m in run.mixes} == {1, 2}
    assert len([m for m in run.mixes if m.block == 2]) == len(before.mixes)
    assert sum(a.panels for a in run.arms) == len(run.panels)
    for mix in (m for m in run.mixes if m.block == 2):
        old = next(m for m in run.mixes if m.block == 1 and m.colour == mix.colour and m.recipes == mix.recipes)
        assert sum(kg for _, kg in mix.plan) == pytest.approx(sum(kg for _, kg in old.plan), rel=1e-6)  # as many panels as before
    with pytest.raises(DribbetError, match="This series is open"):
        following.reopen(desk)


def test_lots_of_a_block_are_drawn_anew(desk):
    poured(desk, Factor.WATER_SHARE, numbers(0.10, 0.16, 0.22), {"a": (20, 22), "b": (60, 66), "c": (9, 8)})
    orders = set()
    for _ in range(4):
        run = desk.need_run()
        new = following.add_block(desk, 2)
        orders.add(tuple(p.recipe for p in sorted(new, key=lambda p: p.place)))
        assert run.series.seed == desk.need_run().series.seed
    assert len(orders) > 1


def test_a_test_that_is_not_drawn_or_whose_days_share_cups_gets_no_block(desk):
    Planning(desk).new_series()
    with pytest.raises(DribbetError, match="Lots are not drawn yet"):
        following.add_block(desk, 1)
    poured(desk, Factor.WATER_SHARE, numbers(0.10, 0.22), {"a": (20, 22), "b": (60, 66)}, layout=Layout(blocks=2))
    with pytest.raises(DribbetError, match="share their cups"):
        following.add_block(desk, 1)
    assert Act.REPEAT not in {p.act for p in next_pour.proposed(desk, desk.need_run()).proposals}


def test_more_repeats_than_a_test_may_have_are_refused(desk):
    poured(desk, Factor.WATER_SHARE, numbers(0.10, 0.22), {"a": (20, 22), "b": (60, 66)})
    with pytest.raises(DribbetError, match="poured 13 times"):
        following.add_block(desk, 11)


def test_letters_drawn_by_lot_stay_with_their_recipes(desk):
    poured(desk, Factor.WATER_SHARE, numbers(0.10, 0.16, 0.22), {"a": (20, 22), "b": (60, 66), "c": (9, 8)}, layout=Layout(blind=True))
    before = {a.letter: a.settings for a in desk.need_run().arms}
    new = following.add_block(desk, 1)
    assert {p.recipe: p.settings for p in new} == before == {a.letter: a.settings for a in desk.need_run().arms}


def test_a_series_that_follows_a_closed_one_starts_open(desk):
    poured(desk, Factor.SILICONE, numbers(0.0, 1.0, 2.0), {"a": (10, 12), "b": (40, 44), "c": (90, 96)})
    deciding.close(desk)
    one = next(p for p in next_pour.proposed(desk, desk.need_run()).proposals if p.act is Act.LEVEL)
    following.follow(desk, one)
    series = desk.need_run().series
    assert (series.concluded, series.earlier, series.state, series.seed) == ((), (), SeriesState.PLANNED, None)
    assert [level.value for level in series.levels] == [2.0, one.level.value]


# ---------------------------------------------------------------- figures behind it


def test_scatter_is_that_of_this_test_steadied_by_the_notebooks(desk):
    """Roots of cells per dm2: own pooled variance with its df, the notebook's brought to the same scale with four."""
    found = poured(desk, Factor.DWELL, numbers(10.0, 120.0), {"a": (30, 48), "b": (75, 108)})
    assert found.known
    run = desk.need_run()
    told = verdict.shown(desk, run)
    roots = {c: [(v / 3.0) ** 0.5 for v in vs] for c, vs in {"a": (30, 48), "b": (75, 108)}.items()}
    mean = sum(v for vs in roots.values() for v in vs) / 4.0
    own = sum((vs[0] - vs[1]) ** 2 / 2.0 for vs in roots.values()) / 2.0
    known = desk.learned.scatter(Response.CELL_COUNT)
    theirs = (known.sd / 3.0 / (2.0 * mean)) ** 2
    expected = ((2.0 * own + 4.0 * theirs) / 6.0) ** 0.5
    asked = next_pour._sought(desk, run, told, Response.CELL_COUNT, Wanted.MORE, range(4))
    assert asked.sd == pytest.approx(expected, rel=1e-6)
    assert sorted(asked.values) == pytest.approx(sorted(v for vs in roots.values() for v in vs))
    assert (asked.weight, asked.low, asked.high) == (1.0, None, None)


def aimed(desk, aim):
    """The test in hand, for a goal with this aim."""
    goal = Goal(id=new_id(), name="some", aims=(aim,))
    desk.notebook.add(goal)
    desk.notebook.replace(replace(desk.need_run().series, goal_id=goal.id))
    desk.changed()
    return desk.need_run()


def test_ranges_of_a_goal_stand_as_they_are_for_what_does_not_go_with_the_face(desk):
    poured(desk, Factor.DWELL, numbers(10.0, 120.0), {"a": (40, 62), "b": (72, 94)})
    run = aimed(desk, Aim(response=Response.VIVIDNESS, weight=1.0, low=20.0, high=30.0))
    told = verdict.shown(desk, run)
    figures = tuple(zip(told.panels, (20.0, 22.0, 31.0, 33.0), strict=True))
    with pytest.MonkeyPatch.context() as other:
        other.setattr(next_pour.verdict, "figures", lambda *_: figures)
        other.setattr(next_pour, "_scatter", lambda *_: 1.0)
        found = next_pour._sought(desk, run, replace(told, test=replace(told.test, area_dm2=(3.0,) * 4)), Response.VIVIDNESS, Wanted.MORE, range(4))
    assert (found.low, found.high, found.values) == (20.0, 30.0, (20.0, 22.0, 31.0, 33.0))


def test_ranges_of_a_goal_are_brought_to_the_scale_of_the_panels(desk):
    poured(desk, Factor.DWELL, numbers(10.0, 120.0), {"a": (30, 48), "b": (75, 108)})
    run = aimed(desk, Aim(response=Response.CELL_COUNT, weight=2.0, low=48.0, high=75.0))
    asked = next_pour._sought(desk, run, verdict.shown(desk, run), Response.CELL_COUNT, Wanted.MORE, range(4))
    assert (asked.low, asked.high, asked.weight) == (pytest.approx(4.0), pytest.approx(5.0), 2.0)  # roots of 16 and 25 per dm2


def test_what_is_the_same_on_all_panels_says_nothing(desk):
    found = poured(desk, Factor.DWELL, numbers(10.0, 120.0), {"a": (30, 30), "b": (30, 30)})
    assert [(p.act, p.panels) for p in found.proposals] == [(Act.CONFIRM, 4)]
    assert found.sure == 1.0


def test_panels_of_a_proposal_are_priced_by_what_panels_cost_here(desk):
    desk.choose_series("d1")
    run = desk.need_run()
    found = next_pour.proposed(desk, run)
    each = [c.mixed for _, c in panel_costs.of_recipes(desk, run, "abcd")]
    for p in found.proposals:
        assert p.cost == pytest.approx(p.panels * sum(each) / 4.0)
        assert p.poured_kg == pytest.approx(p.panels * run.series.constants.poured_kg)
        assert p.each == pytest.approx(p.gain / p.panels)


def test_what_an_effect_may_belong_to_counts_by_how_likely_pouring_would_change(desk):
    found = poured(desk, Factor.MEDIUM, (Level(name="conditioner"), Level(name="glue")), {"a": (20, 22), "b": (60, 66)})
    run = desk.need_run()
    rows, counted = next_pour._rows(run, verdict.shown(desk, run).panels)
    sought = next_pour._sought(desk, run, verdict.shown(desk, run), Response.CELL_COUNT, Wanted.MORE, counted)
    out = engine.outlook([next_pour._along(run.series, 0, run.series.varied[0])], rows, [sought])
    equal = next(p for p in found.proposals if p.act is Act.EQUAL)
    assert equal.gain == pytest.approx(0.25 * out.spans[0])
    assert equal.panels == 4


def test_panels_halfway_lie_in_the_middle_of_every_axis(desk):
    bench = Bench(desk)
    bench.ask(asking.vary, 0, Varied(factor=Factor.WATER_SHARE, levels=numbers(0.10, 0.20)), desk.shelf())
    bench.ask(asking.centre, 2)
    bench.plan.draw_lots()
    run = desk.need_run()
    rows, counted = next_pour._rows(run, run.panels)
    ends = sorted({row for row, at in zip(rows, counted, strict=True) if run.panels[at].settings[0] >= 0})
    halfway = {row for row, at in zip(rows, counted, strict=True) if run.panels[at].settings[0] == BETWEEN}
    assert len(ends) == 2
    assert halfway == {((ends[0][0] + ends[1][0]) / 2.0,)}


def test_levels_that_were_not_poured_together_may_be_tried_together(desk):
    """Half of eight: the best of what was poured lacks one thing that does good, and the recipe with all of it was never poured."""
    more = tuple(Varied(factor=f, levels=numbers(*v)) for f, v in ((Factor.DWELL, (10.0, 120.0)), (Factor.TILT_TIME, (30.0, 120.0))))
    probe = poured(desk, Factor.SILICONE, numbers(0.0, 2.0), dict.fromkeys("abcd", (20, 22)), more=more, design_=Design.FRACTION)
    assert probe.known
    arms = {a.letter: a.settings for a in desk.need_run().arms}
    unmet = next(at for at in product((0, 1), repeat=3) if at not in set(arms.values()))
    cells = {c: tuple(20 + 25 * sum(x == y for x, y in zip(at, unmet, strict=True)) + k for k in (0, 3)) for c, at in arms.items()}
    found = poured(desk, Factor.SILICONE, numbers(0.0, 2.0), cells, more=more, design_=Design.FRACTION, code="Z2", name="Zostera 02")
    together = [p for p in found.proposals if p.place is Place.TOGETHER]
    assert together
    one = together[0]
    settings = tuple(1 - at if i == one.which else at for i, at in enumerate(one.settings))
    assert settings == unmet
    assert "not tried so far" in words.what(one, desk.need_run().series, UNITS)


def test_what_cannot_be_weighed_up_has_no_gain(no_luck_known):
    found = poured(no_luck_known, Factor.WATER_SHARE, numbers(0.10, 0.16), {"a": (20,), "b": (30,)})
    assert words.brings(found.proposals[0], found) == ""
    assert found.proposals[0].gain == 0.0


def test_the_worth_of_repeats_is_that_of_all_of_them(desk):
    """Two panels more of each recipe are worth more than one, and less than twice as much."""
    rows = [(v,) for v in (1.0, 2.0, 3.0)]
    asked = Sought(values=(1.0, 1.6, 1.4), more=True, sd=1.0)
    one, two = (engine.outlook([Along(levels=(1.0, 2.0, 3.0))], rows, [asked], repeats=n).repeat for n in (1, 2))
    assert (one.panels, two.panels) == (3, 6)
    assert one.gain < two.gain < 2.0 * one.gain
