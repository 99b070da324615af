"""What moved along counts where it moved by a third; a panel is dry by its own look; aims that prefer another recipe are named."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.lab.verdict.causes import Trait
from dribbet.notebook.store import new_id
from dribbet.records import Aim, Feel, Goal, Look, Response, Stage
from dribbet.studio.standing import differs, how_made, panels, verdict


@pytest.mark.parametrize(("other", "taken"), [(130.0, False), (142.0, False), (143.0, True), (400.0, True)])
def test_a_rest_of_the_mix_counts_from_three_tenths_of_the_longest(desk, monkeypatch, other, taken):
    """100 against 142: 42 is 29.6 % of 142; against 143: 43 is 30.1 %."""
    desk.choose_series("k2")
    told = {"a": 100.0, "b": other}
    monkeypatch.setattr(how_made, "figures_of", lambda desk, run, panel: {Trait.MIX_REST: told[panel.recipe]})
    beside = verdict._beside(desk, desk.need_run(), desk.need_run().in_order())
    assert (str(Trait.MIX_REST) in beside) is taken


def test_a_panel_is_dry_by_a_look_at_it_and_at_no_other(desk):
    desk.choose_series("k3")
    run = desk.need_run()
    wet = [p for p in run.panels if not panels.state(desk, run, p).dry]
    mine = next(p for p in wet if run.poured_at(p) is not None)
    other = next(p for p in wet if p.id != mine.id)
    for feel, dry in ((Feel.TACKY, False), (Feel.MARKS, False), (Feel.FIRM, True)):
        look = Look(id=new_id(), panel_id=mine.id, due=Stage.DRY, at=desk.now(), feel=feel)
        with desk.notebook.transaction():
            desk.notebook.add(look)
        desk.changed()
        now = desk.need_run()
        assert panels.state(desk, now, mine).dry is dry
        assert panels.state(desk, now, other).dry is False
        desk.notebook.replace(replace(look, taken_back=True))
        desk.changed()


def test_a_look_on_the_way_does_not_make_a_panel_dry(desk):
    desk.choose_series("k3")
    run = desk.need_run()
    mine = next(p for p in run.in_order() if run.poured_at(p) is not None and not panels.state(desk, run, p).dry)
    with desk.notebook.transaction():
        desk.notebook.add(Look(id=new_id(), panel_id=mine.id, due=Stage.H24, at=desk.now(), feel=Feel.FIRM))
    desk.changed()
    assert panels.state(desk, desk.need_run(), mine).dry is False


def test_an_aim_that_prefers_another_recipe_than_the_goal_is_named(desk):
    """Few cells weigh most, so that the recipe without silicone is best; wide cells alone would have the one with four drops."""
    desk.choose_series("d1")
    aims = (
        Aim(response=Response.CELL_COUNT, weight=3.0, low=0.0, high=30.0),
        Aim(response=Response.CELL_WIDTH, weight=0.05, low=4.5, high=6.0),
        Aim(response=Response.CRACK_LENGTH, weight=0.0, low=500.0, high=600.0),
    )
    goal = Goal(id=new_id(), name="calm", aims=aims)
    run = desk.need_run()
    with desk.notebook.transaction():
        desk.notebook.add(goal)
        desk.notebook.replace(replace(run.series, goal_id=goal.id))
    desk.changed()
    told = differs.beside(desk, desk.need_run(), differs.Sides(first="a", second="d"))
    one = next(b for b in told if b.about is differs.About.GOAL)
    assert one.codes[0] == "a"
    assert one.names == ("calm",)
    assert one.record == ((Response.CELL_WIDTH, "d"),)
    assert list(one.values) == sorted(one.values, reverse=True)
