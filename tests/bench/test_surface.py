"""Pits and bumps on Read: drawn, taken in hand, taken out; and a whole test of them, from the question to the verdict, by the practice camera."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest

from dribbet.records import Lamp, Reading, Response, Word
from dribbet.studio.acts import planning
from dribbet.studio.standing import verdict
from tests.bench.conftest import press, stopped
from tests.bench.test_whole_tests_in_the_window import Studio

LOTS = 3
"""Lots that pour both mediums by turns: where all of one come first, nothing tells the medium from the hour (and the judge says so)."""


@pytest.fixture
def reading(open_window, desk, qtbot):
    """Read, with a panel of the demo whose surface has four faults."""
    window = open_window(desk)
    desk.choose_series("h1")
    desk.take("read", next(p.id for p in desk.need_run().panels if p.code == "H1-a1"))
    window.walk("read")
    page = window.page("read")
    qtbot.waitUntil(lambda: page.stage.image is not None and not window.jobs.busy(), timeout=20_000)
    return window, page


def surface_of(desk):
    run = desk.need_run()
    return run.reading(next(p for p in run.panels if p.code == "H1-a1")).result["surface"]


def test_faults_stand_among_the_figures_and_on_the_photo(desk, reading):
    _, page = reading
    (figure,) = [f for f in page.view.figures if f.unit == "shimmer"]
    assert figure.words.replace("\u202f", " ") == f"{surface_of(desk)['slope'] * 100:.1f} % uneven. Three pits and one bump in the surface."
    assert [bump for *_, bump in page.stage.overlay.faults] == [f["kind"] == "bump" for f in surface_of(desk)["faults"]]
    assert "pits" in page.key_line.accessibleName()


@pytest.mark.parametrize(
    ("slope", "off", "said"),
    [
        (0.010, 0.002, "1.0 % uneven. "),
        (0.001, 0.004, "Uneven by less than 0.9 %. "),
        (0.0, 0.0005, "0.0 % uneven. "),
        (0.0056, 0.0023, "Uneven by less than 1.1 %. "),
    ],
)
def test_where_flakes_hide_slopes_the_most_that_there_may_be_is_said(reading, slope, off, said):
    _, page = reading
    result = {"shimmer": {"index": 0.25}, "surface": {"slope": slope, "slope_sd": off, "faults": []}}
    assert page.presenter._raked(result, ()).words.replace("\u202f", " ").startswith(said)


def test_a_fault_that_is_touched_can_be_taken_out(desk, reading):
    window, page = reading
    before = surface_of(desk)["faults"]
    x, y, *_ = page.stage.overlay.faults[1]
    at = page.stage.to_screen(x, y)
    QTest.mouseClick(page.stage, Qt.MouseButton.LeftButton, pos=QPointF(at.x(), at.y()).toPoint())
    assert page.stage.hand_cell == len(page.stage.overlay.cells) + 1
    assert page.view.cell_words.startswith(f"This {before[1]['kind']} is ")
    press(window, "X")
    assert stopped(window) == ""
    assert surface_of(desk)["faults"] == [f for i, f in enumerate(before) if i != 1]
    assert surface_of(desk)["count"] == len(before) - 1
    assert sum(r.mended for r in desk.notebook.all(Reading)) == 1


def test_arrows_step_from_the_last_cell_to_the_faults(reading):
    _, page = reading
    page.stage.setFocus()
    page.stage.choose(len(page.stage.overlay.cells) - 1)
    QTest.keyClick(page.stage, Qt.Key.Key_Right)
    assert "wide." in page.view.cell_words
    assert page.view.cell_words.startswith(("This pit", "This bump"))


def test_glue_against_conditioner_for_an_even_surface(open_window, desk, clock, qtbot, monkeypatch):
    """Glue dries pocked and uneven in the made-up studio: three lamps each, laid over each other, read and judged, all by keys."""
    monkeypatch.setattr(planning.secrets, "randbelow", lambda below: LOTS)
    window = open_window(desk)
    studio = Studio(window, desk, clock, ("factor", "medium"), ("response", "unevenness"), ("repeats", "3"), ("equal", "equal recipe"))
    studio.pour(lambda panel: 57.0 + 1.3 * panel.place)  # no two alike: a film that goes with the medium alone could not be told from it
    studio.look_until(120.0)
    window.walk("shoot")
    page = window.page("shoot")
    assert page.view.wants_three
    for _ in range(3 * len(studio.run.panels) * 2):
        if page.view.does.name == "READ":
            break
        press(window, "Space")
        qtbot.waitUntil(lambda: not window.jobs.busy(), timeout=60_000)
    assert {p.lamp for p in studio.run.photos} == {Lamp.DIFFUSE, Lamp.LEFT, Lamp.RIGHT}
    press(window, "Space")
    assert window.current == "read"
    press(window, "A")
    qtbot.waitUntil(lambda: all(studio.run.reading(p) is not None for p in studio.run.panels), timeout=300_000)
    figure = window.page("read").view.figures[3]
    assert figure.unit == "% uneven"
    assert "Shimmer 0.0" in figure.words
    told = verdict.shown(desk, studio.run)
    (answer,) = [a for a in told.answers if a.response == Response.UNEVENNESS]
    assert answer.word is Word.REAL
    pits = {p.recipe: sum(f["kind"] == "pit" for f in studio.run.reading(p).result["surface"]["faults"]) for p in studio.run.panels}
    glue = next(a.letter for a in studio.run.arms if a.held.medium == "glue")
    assert pits[glue] > sum(n for letter, n in pits.items() if letter != glue)
    window.walk("decide")
    assert "even" in window.page("decide").view.sentence
