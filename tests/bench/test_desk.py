"""What the studio remembers between two changes is never older than the notebook."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.notebook.mapping import TABLES
from dribbet.records import Bottle, BottleWeighing, Gauging, Goal, MarkKind, Mix, MixMark, Photo, Series

BESIDE = {Bottle, BottleWeighing, Gauging, Goal}


def taken_back(record):
    """The record with one thing changed that a run shows."""
    for name, value in (("taken_back", True), ("spoiled", "a try"), ("done", True), ("left_out", "a try"), ("reader", "a try"), ("note", "a try")):
        if hasattr(record, name):
            was = getattr(record, name)
            return replace(record, **{name: not was if isinstance(was, bool) else value})
    raise AssertionError(record)


def everything(studio):
    """All runs as the studio remembers them."""
    return {s.id: studio.load(s.id) for s in studio.all_series()}


@pytest.mark.parametrize("kind", [k for k in TABLES if k not in BESIDE], ids=lambda k: k.__name__)
def test_runs_follow_every_kind_of_record(studio, kind):
    cup = studio.notebook.all(Mix)[0]
    studio.notebook.add(MixMark(id="stir", mix_id=cup.id, kind=MarkKind.STIRRED, at=studio.now()))
    everything(studio)
    changed = [taken_back(r) for r in studio.notebook.all(kind)[:1]]
    assert changed, kind
    studio.notebook.replace(*changed)
    studio.changed()
    assert everything(studio) == {s.id: studio._load(s.id) for s in studio.all_series()}


def test_photo_that_moves_to_another_series_leaves_the_first(studio):
    photo = next(p for p in studio.notebook.all(Photo) if p.panel_id)
    there = next(s for s in studio.all_series() if photo not in studio.load(s.id).photos and studio.load(s.id).panels)
    studio.notebook.replace(replace(photo, panel_id=studio.load(there.id).panels[0].id))
    studio.changed()
    assert everything(studio) == {s.id: studio._load(s.id) for s in studio.all_series()}


def test_plan_that_is_taken_back_is_forgotten(studio):
    made = next(s for s in studio.all_series() if s.seed is not None)
    studio.load(made.id)
    studio.changed()
    studio.notebook._memory.forget_kinds(type(studio.load(made.id).panels[0]))
    studio.changed()
    assert studio._runs == {}


def test_choosing_a_series_reads_nothing_anew(studio):
    runs = everything(studio)
    studio.choose_series("d1")
    studio.choose_series("k2")
    assert all(studio.load(id_) is run for id_, run in runs.items())


def test_act_on_one_series_leaves_the_others(studio):
    runs = everything(studio)
    studio.notebook.replace(replace(studio.notebook.get(Series, "k2"), note="another"))
    studio.changed()
    again = everything(studio)
    assert {id_ for id_ in runs if again[id_] is not runs[id_]} == {"k2"}


def test_reading_window_sees_what_the_writing_one_did(studio, clock):
    from dribbet.bench.studio import Studio
    from dribbet.notebook import open_notebook

    second = open_notebook(studio.notebook.folder)
    try:
        reader = Studio(second, clock)
        everything(reader)
        studio.notebook.replace(replace(studio.notebook.get(Series, "k2"), note="by the writer"))
        reader.changed()
        assert reader.load("k2").series.note == "by the writer"
    finally:
        second.close()
