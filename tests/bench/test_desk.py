"""What the studio remembers between two changes is never older than the notebook."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.notebook.mapping import TABLES
from dribbet.records import (
    After,
    Bottle,
    BottleWeighing,
    Climate,
    Gauging,
    Goal,
    Levelled,
    Liked,
    MarkKind,
    Mix,
    MixMark,
    Panel,
    Photo,
    Pick,
    ReadBy,
    Score,
    Series,
    Still,
    Survey,
    Treated,
    Way,
)

BESIDE = {Bottle, BottleWeighing, Gauging, Goal, Still, Survey, Way}


def taken_back(record):
    """The record with one thing changed that a run shows."""
    for name, value in (("taken_back", True), ("spoiled", "a try"), ("done", True), ("left_out", "a try"), ("reader", "a try"), ("note", "a try")):
        if hasattr(record, name):
            was = getattr(record, name)
            return replace(record, **{name: not was if isinstance(was, bool) else value})
    raise AssertionError(record)


def everything(desk):
    """All runs as the studio remembers them."""
    return {s.id: desk.load(s.id) for s in desk.all_series()}


@pytest.mark.parametrize("kind", [k for k in TABLES if k not in BESIDE], ids=lambda k: k.__name__)
def test_runs_follow_every_kind_of_record(desk, kind):
    cup = desk.notebook.all(Mix)[0]
    panel = desk.notebook.all(Panel)[0]
    desk.notebook.add(
        MixMark(id="stir", mix_id=cup.id, kind=MarkKind.STIRRED, at=desk.now()),
        Climate(id="air", at=desk.now(), celsius=20.0, damp=0.5, by=ReadBy.TYPED),
        Levelled(id="level", panel_id=panel.id, at=desk.now(), slope_x=0.001, slope_y=0.0),
        Pick(id="pick", panel_id=panel.id, other_id=desk.notebook.all(Panel)[1].id, judge="Ilka", sitting=1, liked=Liked.LEFT, at=desk.now()),
        Score(id="score", panel_id=panel.id, judge="Ilka", sitting=1, criterion=None, points=4, at=desk.now()),
        Treated(id="washed", panel_id=panel.id, kind=After.WASH, at=desk.now()),
    )
    everything(desk)
    changed = [taken_back(r) for r in desk.notebook.all(kind)[:1]]
    assert changed, kind
    desk.notebook.replace(*changed)
    desk.changed()
    assert everything(desk) == {s.id: desk._load(s.id) for s in desk.all_series()}


def test_photo_that_moves_to_another_series_leaves_the_first(desk):
    photo = next(p for p in desk.notebook.all(Photo) if p.panel_id)
    there = next(s for s in desk.all_series() if photo not in desk.load(s.id).photos and desk.load(s.id).panels)
    desk.notebook.replace(replace(photo, panel_id=desk.load(there.id).panels[0].id))
    desk.changed()
    assert everything(desk) == {s.id: desk._load(s.id) for s in desk.all_series()}


def test_plan_that_is_taken_back_is_forgotten(desk):
    made = next(s for s in desk.all_series() if s.seed is not None)
    desk.load(made.id)
    desk.changed()
    desk.notebook._memory.forget_kinds(type(desk.load(made.id).panels[0]))
    desk.changed()
    assert desk._runs == {}


def test_choosing_a_series_reads_nothing_anew(desk):
    runs = everything(desk)
    desk.choose_series("d1")
    desk.choose_series("k2")
    assert all(desk.load(id_) is run for id_, run in runs.items())


def test_act_on_one_series_leaves_the_others(desk):
    runs = everything(desk)
    desk.notebook.replace(replace(desk.notebook.get(Series, "k2"), note="another"))
    desk.changed()
    again = everything(desk)
    assert {id_ for id_ in runs if again[id_] is not runs[id_]} == {"k2"}


def test_reading_window_sees_what_the_writing_one_did(desk, clock):
    from dribbet.notebook import open_notebook
    from dribbet.studio.desk import Desk

    second = open_notebook(desk.notebook.folder)
    try:
        reader = Desk(second, clock)
        everything(reader)
        desk.notebook.replace(replace(desk.notebook.get(Series, "k2"), note="by the writer"))
        reader.changed()
        assert reader.load("k2").series.note == "by the writer"
    finally:
        second.close()
