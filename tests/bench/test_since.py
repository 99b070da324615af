"""A panel photographed wet and dry in the window: what changed between."""

from __future__ import annotations

import pytest

from dribbet.bench.application import practice_camera
from dribbet.bench.stations.ask.presenter import AskPresenter
from dribbet.records import Photo, Reading, Stage
from dribbet.sight import since as sight
from dribbet.studio.standing import since as standing
from dribbet.studio.standing.since import SinceShown
from dribbet.words import since as words
from dribbet.words.units import units_of
from tests.bench.conftest import press


def change(**told) -> SinceShown:
    plain = {
        "turned": 0, "pairs": tuple((i, i) for i in range(8)), "new": (), "gone": (), "growth": 1.0, "growth_sure": False, "crack_mm": 0.0,
        "new_cracks": (), "lightness": 0.0, "chroma": 0.0,
    }  # fmt: skip
    return SinceShown(stage=Stage.WET, hours=20.0, cells=8, change=sight.Since(**(plain | told)))


def take(window, qtbot, panel, stage: Stage) -> None:
    """Photograph the panel at a stage and read it, by the keys."""
    window.walk("shoot")
    page = window.page("shoot")
    page.presenter.choose(panel.id)
    for _ in Stage:
        if page.view.stage == stage:
            break
        press(window, "S")
    press(window, "Space")
    qtbot.waitUntil(lambda: not window.jobs.busy(), timeout=60_000)
    window.walk("read")
    window.page("read").desk.take("read", panel.id)
    window.refresh()
    press(window, "Space")
    qtbot.waitUntil(lambda: not window.jobs.busy(), timeout=60_000)


def test_a_panel_read_wet_and_dry_tells_what_grew(open_window, qtbot, desk, clock):
    ask = AskPresenter(desk)
    ask.planning.new_series()
    for part, text in (("size_mm", "120 x 90"), ("levels", "8, 24"), ("repeats", "2")):
        ask.choose(part, text)
    ask.draw_lots()
    desk.camera = practice_camera(desk.notebook, lapses=0.0)
    window = open_window(desk)
    panel = desk.need_run().panels[0]
    take(window, qtbot, panel, Stage.WET)
    page = window.page("read")
    assert page.view.since == ""
    clock.pass_(hours=40)
    take(window, qtbot, panel, Stage.DRY)
    assert [r.stage for r in desk.notebook.all(Reading) if r.panel_id == panel.id] == [Stage.WET, Stage.DRY]
    assert {p.stage for p in desk.notebook.all(Photo) if p.panel_id == panel.id} == {Stage.WET, Stage.DRY}
    assert page.view.since == "Since wet"
    run = desk.need_run()
    told = standing.since(run, panel, page.presenter.shown(run, panel))
    assert told.stage is Stage.WET
    assert told.hours == pytest.approx(40.0, abs=0.1)
    assert len(told.change.pairs) > 0.7 * told.cells
    assert told.change.growth == pytest.approx(0.93**-2, rel=0.08)  # the practice camera shows wet cells at 0.93 of their width
    assert told.change.lightness > 0.5  # wet paint is deeper
    before = page.view.figures
    press(window, "T")
    assert page.view.is_since
    assert page.view.note == "Change since the wet photo."
    assert page.view.figures[0].figure == str(len(told.change.pairs))
    press(window, "T")
    assert page.view.figures == before


@pytest.mark.parametrize(
    ("told", "said"),
    [
        ({}, ("8", "of 8 cells still there", "They are as large as before, as far as photos tell. None is gone, none is new.")),
        (
            {"growth": 1.25, "growth_sure": True, "gone": (1,), "new": (1, 2)},
            ("8", "of 8 cells still there", "Half of them grew by more than 25 % in area. One is gone, two are new."),
        ),
        (
            {"growth": 0.9, "growth_sure": True, "gone": (1, 2, 3)},
            ("8", "of 8 cells still there", "Half of them shrank by more than 10 % in area. Three are gone, none is new."),
        ),
        ({"growth": None, "pairs": ()}, ("8", "cells before", "Too few of them are found again to say which is which.")),
    ],
)
def test_cells_are_said(told, said):
    assert tuple(w.replace("\u202f", " ") for w in words.cells(change(**told))) == said


@pytest.mark.parametrize(
    ("told", "said"),
    [
        ({"crack_mm": 4.9}, ("0", "mm more of crack", "As far as photos tell.")),
        ({"crack_mm": 24.0, "new_cracks": (0, 2)}, ("+24", "mm of crack", "Two cracks lie where none was.")),
        ({"crack_mm": -12.0}, ("\u221212", "mm of crack", "")),
    ],
)
def test_cracks_are_said(desk, told, said):
    assert words.crack(change(**told), units_of(desk)) == said


@pytest.mark.parametrize(
    ("told", "said"),
    [
        ({"chroma": -5.6, "lightness": 2.4}, ("\u22126", "C* vivid", "Lighter by 2 L*.")),
        ({"chroma": 3.2, "lightness": -3.7}, ("+3", "C* vivid", "Darker by 4 L*.")),
        ({"chroma": 0.3, "lightness": 1.4}, ("0", "C* vivid", "As light as before.")),
    ],
)
def test_colours_are_said(told, said):
    assert words.vivid(change(**told)) == said


def test_a_panel_that_lay_turned_is_said():
    assert words.head(change(turned=1)) == "Change since the wet photo. The panel lay turned by a quarter turn."
    assert words.head(change(turned=1, growth=None)) == "Change since the wet photo."
    assert words.key(change()) == "Since wet"
