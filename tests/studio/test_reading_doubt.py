"""What a reading says of its own doubt is measuring noise: no difference inside it is real."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.lab.plan.responses import SCALES
from dribbet.lab.verdict.judge import Word
from dribbet.notebook.store import new_id
from dribbet.records import Response
from dribbet.studio.standing import verdict


def doubted(desk, sds: list[float]) -> None:
    """Readings of d1 again, with such doubts of their counts in turn."""
    run = desk.need_run()
    with desk.notebook.transaction():
        for i, panel in enumerate(run.in_order()):
            reading = run.reading(panel)
            cells = reading.result["cells"] | {"count_sd": sds[i % len(sds)]}
            desk.notebook.add(replace(reading, id=new_id(), at=desk.now(), result=reading.result | {"cells": cells}))
    desk.changed()


def test_doubt_of_the_readings_is_the_noise_where_it_is_more_than_was_measured(desk):
    desk.choose_series("d1")
    doubted(desk, [1.0])
    assert verdict.noise(verdict.shown(desk, desk.need_run()), Response.CELL_COUNT) == SCALES[Response.CELL_COUNT].measuring_sd
    doubted(desk, [3.0, 5.0])
    told = verdict.shown(desk, desk.need_run())
    assert verdict.noise(told, Response.CELL_COUNT) == pytest.approx(17.0**0.5)  # root of the mean of 9 and 25
    assert verdict.noise(told, Response.CELL_WIDTH) == SCALES[Response.CELL_WIDTH].measuring_sd


def test_count_that_nobody_could_trust_is_never_really_different(desk):
    desk.choose_series("d1")
    assert any(a.word is Word.REAL for a in verdict.shown(desk, desk.need_run()).answers if a.response == str(Response.CELL_COUNT))
    doubted(desk, [200.0])
    assert not any(a.word is Word.REAL for a in verdict.shown(desk, desk.need_run()).answers if a.response == str(Response.CELL_COUNT))
