"""More panels of the same recipes, more photographs of the same panels: how many, and when not."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.lab.plan.responses import SCALES
from dribbet.notebook.store import new_id
from dribbet.records import Factor, Response
from dribbet.studio.acts import following
from dribbet.studio.standing import next_pour
from dribbet.studio.standing.next_pour import Act
from dribbet.words import next_pour as words
from tests.made_up import numbers
from tests.studio.test_what_to_pour_next import poured


@pytest.mark.parametrize(("needed", "more"), [(3, 1), (5, 3), (10, 8), (2, 1)])
def test_so_many_more_as_the_difference_needs_beside_those_that_are_there(desk, monkeypatch, needed, more):
    """Two of each are poured: what the difference needs, less two, and one at least; more than eight are too many to ask for."""
    monkeypatch.setattr(next_pour.sizes, "repeats_for", lambda *asked: needed)
    found = poured(desk, Factor.DWELL, numbers(10.0, 120.0), {"a": (40, 62), "b": (72, 94)})
    repeats = [p.repeats for p in found.proposals if p.act is Act.REPEAT]
    assert repeats == ([more] if needed <= next_pour.FEW_REPEATS else [])


def test_what_has_no_price_costs_nothing(desk, monkeypatch):
    monkeypatch.setattr(next_pour.panel_costs, "of_recipes", lambda *asked: [])
    found = poured(desk, Factor.DWELL, numbers(10.0, 120.0), {"a": (40, 62), "b": (72, 94)})
    again = next(p for p in found.proposals if p.act is Act.REPEAT)
    assert again.cost == 0.0
    assert again.poured_kg == pytest.approx(again.panels * desk.need_run().series.constants.poured_kg)


def test_photographs_are_not_asked_for_where_it_is_the_reader_that_cannot_tell(desk):
    poured(desk, Factor.DWELL, numbers(10.0, 120.0), {"a": (40, 42), "b": (44, 46)})
    run = desk.need_run()
    with desk.notebook.transaction():
        for panel in run.panels:
            reading = run.reading(panel)
            cells = reading.result["cells"] | {"count_sd": 60.0}
            desk.notebook.add(replace(reading, id=new_id(), at=desk.now(), result=reading.result | {"cells": cells}))
    desk.changed()
    found = next_pour.proposed(desk, desk.need_run())
    assert Act.PHOTOGRAPH not in {p.act for p in found.proposals}


def test_photographs_are_not_asked_for_a_third_time(desk, monkeypatch):
    monkeypatch.setitem(SCALES, Response.CELL_COUNT, replace(SCALES[Response.CELL_COUNT], measuring_sd=30.0))
    poured(desk, Factor.DWELL, numbers(10.0, 120.0), {"a": (40, 42), "b": (44, 46)})
    run = desk.need_run()
    with desk.notebook.transaction():
        for photo in [p for p in run.photos if not p.left_out]:
            desk.notebook.add(*(replace(photo, id=new_id(), take=take, sha256=f"{take}{photo.sha256[1:]}") for take in (1, 2)))
    desk.changed()
    assert Act.PHOTOGRAPH not in {p.act for p in next_pour.proposed(desk, desk.need_run()).proposals}


@pytest.mark.parametrize(("sd", "asks"), [(5.0, False), (30.0, True)])
def test_photographs_are_asked_for_where_half_of_the_scatter_is_the_cameras(desk, monkeypatch, sd, asks):
    monkeypatch.setitem(SCALES, Response.CELL_COUNT, replace(SCALES[Response.CELL_COUNT], measuring_sd=sd))
    found = poured(desk, Factor.DWELL, numbers(10.0, 120.0), {"a": (40, 42), "b": (44, 46)})
    assert (Act.PHOTOGRAPH in {p.act for p in found.proposals}) is asks


def test_scatter_of_the_measuring_asks_for_photographs(desk, monkeypatch):
    monkeypatch.setitem(SCALES, Response.CELL_COUNT, replace(SCALES[Response.CELL_COUNT], measuring_sd=30.0))
    found = poured(desk, Factor.DWELL, numbers(10.0, 120.0), {"a": (40, 42), "b": (44, 46)})
    one = found.proposals[0]
    assert (one.act, one.panels, following.follow(desk, one)) == (Act.PHOTOGRAPH, 0, "shoot")
    assert "costs no paint" in words.why(one, found)
