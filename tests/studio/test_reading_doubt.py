"""What a reading says of its own doubt is measuring noise: no difference inside it is real. Faces of 3 dm2 count 1.82 times as many cells as 1.65."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.lab.plan.responses import doubt_of
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
    told = verdict.shown(desk, desk.need_run())
    assert verdict.noise(told, Response.CELL_COUNT) == pytest.approx(2.5 * (3.0 / 1.65) ** 0.5)
    assert verdict.noise_from(desk, desk.need_run(), Response.CELL_COUNT)[0] is verdict.NoiseFrom.READER
    doubted(desk, [4.0, 6.0])
    told = verdict.shown(desk, desk.need_run())
    assert verdict.noise(told, Response.CELL_COUNT) == pytest.approx(26.0**0.5)  # root of the mean of 16 and 36
    assert verdict.noise_from(desk, desk.need_run(), Response.CELL_COUNT)[0] is verdict.NoiseFrom.DOUBT
    assert verdict.noise(told, Response.CELL_WIDTH) == pytest.approx(0.22 * (1.65 / 3.0) ** 0.5)
    assert {round(n, 6) for n in next(r for r in told.test.responses if r.name == "cell count").noise_sd} == {4.0, 6.0}  # each panel its own


def test_lines_that_nobody_has_told_are_how_far_a_crack_length_may_be_off():
    told = {"cracks": {"length_mm": 0.0, "length_sd": 30.0, "doubtful_mm": 40.0, "doubtful": {"length_mm": 40.0}}}
    assert doubt_of(told, Response.CRACK_LENGTH) == pytest.approx(50.0)  # 3, 4, 5
    answered = {"cracks": {"length_mm": 40.0, "length_sd": 30.0, "doubtful_mm": 0.0}}
    assert doubt_of(answered, Response.CRACK_LENGTH) == pytest.approx(30.0)
    assert doubt_of({"cracks": {"length_mm": 0.0}}, Response.CRACK_LENGTH) == 0.0
    assert doubt_of(told, Response.CELL_WIDTH) == 0.0


def test_count_that_nobody_could_trust_is_never_really_different(desk):
    desk.choose_series("d1")
    assert any(a.word is Word.REAL for a in verdict.shown(desk, desk.need_run()).answers if a.response == str(Response.CELL_COUNT))
    doubted(desk, [200.0])
    assert not any(a.word is Word.REAL for a in verdict.shown(desk, desk.need_run()).answers if a.response == str(Response.CELL_COUNT))
