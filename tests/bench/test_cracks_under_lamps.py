"""Cracks of a panel under raking lamps: two photographs more on Shoot, read again on Read, all by keys."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.bench.stations.read.presenter import ReadPresenter
from dribbet.notebook.store import new_id
from dribbet.records import Lamp, Stage
from tests.bench.conftest import press


def test_two_photographs_more_tell_which_lines_are_grooves(open_window, desk, qtbot):
    desk.choose_series("k2")
    panel = next(p for p in desk.need_run().panels if p.code == "K2-b1")
    desk.take("shoot", panel.id)
    desk.take("read", panel.id)
    before = desk.need_run().reading(panel)
    assert before.result["cracks"]["length_mm"] > 50.0
    window = open_window(desk)
    window.walk("shoot")
    page = window.page("shoot")
    assert page.view.note == (
        "Photographs with the lamp left and right, too (L), show cracks that no colour shows. Take them of every panel, or of none."
    )
    for lamp in (Lamp.LEFT, Lamp.RIGHT):
        while page.presenter.lamp_by_hand is not lamp:
            press(window, "L")
        press(window, "Space")
        qtbot.waitUntil(lambda lamp=lamp: desk.need_run().photo(panel, lamp, Stage.DRY) is not None and not window.jobs.busy(), timeout=60_000)
    assert page.view.note == ""  # nothing more to take
    window.walk("read")
    view = window.page("read").view
    assert view.one_key == "Read it again"
    assert view.note.startswith(f"dry photo, read by {before.reader}. Photographs under other lamps came in since")
    press(window, "Space")
    qtbot.waitUntil(lambda: desk.need_run().reading(panel) is not before and not window.jobs.busy(), timeout=120_000)
    cracks = desk.need_run().reading(panel).result["cracks"]
    assert cracks["length_mm"] >= 0.95 * before.result["cracks"]["length_mm"]
    assert 0.3 * cracks["length_mm"] < cracks["under_lamps"]["deep_mm"] <= cracks["length_mm"]  # what runs along the lamps they do not show
    assert window.page("read").view.one_key != "Read it again"
    words = window.page("read").view.figures[1].words
    assert f"{cracks['under_lamps']['deep_mm']:.0f}\u202fmm of it is a groove under the lamps." in words


@pytest.mark.parametrize(("taken", "lit"), [
    ((), False), ((Lamp.LEFT,), False), ((Lamp.RIGHT,), False), ((Lamp.LEFT, Lamp.RIGHT), True), ((Lamp.EDGE,), True), ((Lamp.DIFFUSE,), False),
])  # fmt: skip
def test_a_panel_is_read_again_once_both_raking_lamps_are_there_or_the_mirrored_one(desk, taken, lit):
    desk.choose_series("k2")
    read, run = ReadPresenter(desk), desk.need_run()
    panel = next(p for p in run.panels if p.code == "K2-b1")
    for lamp in taken:
        desk.notebook.add(replace(run.photo(panel), id=new_id(), lamp=lamp, added_at=desk.now()))
    desk.changed()
    assert read.newly_lit(desk.need_run(), panel) is lit
    assert (panel.id in {p.id for p in read.unread(desk.need_run())}) is lit
    desk.notebook.add(replace(desk.need_run().reading(panel), id=new_id(), at=desk.now()))
    desk.changed()
    assert not read.newly_lit(desk.need_run(), panel)
