"""More panels of the same recipes, more photographs of the same panels: how many, and when not."""

from __future__ import annotations

from dataclasses import replace
from types import SimpleNamespace

import pytest

from dribbet.lab.plan.responses import SCALES
from dribbet.lab.verdict.poured import level_name
from dribbet.notebook.store import new_id
from dribbet.records import Factor, Response, Wanted, Word
from dribbet.studio.acts import following
from dribbet.studio.standing import next_pour, verdict
from dribbet.studio.standing.next_pour import Act
from dribbet.words import next_pour as words
from tests.made_up import numbers
from tests.studio.test_what_to_pour_next import MORE_CELLS, poured


@pytest.mark.parametrize(("needed", "more"), [(3, 1), (5, 3), (10, 8), (2, 1)])
def test_so_many_more_as_the_difference_needs_beside_those_that_are_there(desk, monkeypatch, needed, more):
    """Two of each are poured: what the difference needs, less two, and one at least; more than eight are too many to ask for."""
    monkeypatch.setattr(next_pour.sizes, "repeats_for", lambda *asked: needed)
    found = poured(desk, Factor.DWELL, numbers(10.0, 120.0), {"a": (40, 62), "b": (72, 94)})
    repeats = [p.repeats for p in found.proposals if p.act is Act.REPEAT]
    assert repeats == ([more] if needed <= next_pour.FEW_REPEATS else [])


@pytest.mark.parametrize(
    ("response", "word", "difference", "size", "wanted"),
    [
        (Response.SPREAD, Word.CHANCE, -0.1, 10.0, 0),  # shares are asked for in percent
        (Response.CELL_COUNT, Word.CHANCE, 4.0, 12.0, 0),  # four in each dm2 are twelve on three
        (Response.CELL_COUNT, Word.REAL, 4.0, None, 0),
        (Response.CELL_COUNT, Word.TOO_FEW, 4.0, None, 1),
        (Response.CELL_COUNT, Word.CHANCE, 0.0, None, 1),
    ],
)
def test_repeats_are_reckoned_for_the_difference_that_there_seems_to_be(desk, monkeypatch, response, word, difference, size, wanted):
    poured(desk, Factor.DWELL, numbers(10.0, 120.0), {"a": (40, 62), "b": (72, 94)}, asked=((response, Wanted.MORE),))
    run, told, asked = desk.need_run(), verdict.shown(desk, desk.need_run()), []
    answer = replace(told.answers[0], response=str(response), word=word, difference=difference, factors=("0",))
    answer = replace(answer, first=level_name(0), second=level_name(1))
    told = replace(told, answers=(answer,), test=replace(told.test, area_dm2=(3.0,) * len(told.panels)))
    monkeypatch.setattr(next_pour.sizes, "repeats_for", lambda series, arms, known, size, power: asked.append(size))
    assert next_pour._wanted_repeats(desk, run, told) == wanted
    assert asked == ([] if size is None else [pytest.approx(size)])


def test_without_sizes_of_panels_a_figure_counts_for_one_square_decimetre(desk):
    poured(desk, Factor.DWELL, numbers(10.0, 120.0), {"a": (40, 62), "b": (72, 94)})
    told = verdict.shown(desk, desk.need_run())
    assert next_pour._area(replace(told, test=replace(told.test, area_dm2=()))) == 1.0
    assert next_pour._area(replace(told, test=replace(told.test, area_dm2=(2.0, 3.0, 2.0, 3.0)))) == pytest.approx(2.5)


@pytest.mark.parametrize(("real", "asks"), [(Response.CELL_COUNT, False), (Response.SPREAD, True)])
def test_photographs_are_asked_for_where_another_difference_is_real_and_not_where_this_one_is(desk, monkeypatch, real, asks):
    monkeypatch.setitem(SCALES, Response.CELL_COUNT, replace(SCALES[Response.CELL_COUNT], measuring_sd=30.0))
    poured(desk, Factor.DWELL, numbers(10.0, 120.0), {"a": (40, 42), "b": (44, 46)}, asked=(*MORE_CELLS, (Response.SPREAD, Wanted.MORE)))
    run, told = desk.need_run(), verdict.shown(desk, desk.need_run())
    assert {a.response for a in told.answers} == {str(Response.CELL_COUNT), str(Response.SPREAD)}
    answers = tuple(replace(a, word=Word.REAL if a.response == str(real) else Word.CHANCE) for a in told.answers)
    asked = next_pour._photographs(desk, run, replace(told, answers=answers), SimpleNamespace(repeat=SimpleNamespace(gain=0.1)))
    assert [p.act for p in asked] == ([Act.PHOTOGRAPH] if asks else [])


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
