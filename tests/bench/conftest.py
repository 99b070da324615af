"""A studio at a bench: the demo notebook or an empty one, a clock that stands until it is moved, a window on it."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta
from typing import Any

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from dribbet.bench.application import application, practice_camera
from dribbet.bench.parts.margin import RemarkRow
from dribbet.bench.stations.ask.presenter import AskPresenter
from dribbet.bench.stations.check.presenter import CheckPresenter
from dribbet.bench.stations.mix.presenter import MixPresenter
from dribbet.bench.window import Window
from dribbet.devices import SimulatedScale
from dribbet.notebook import open_notebook
from dribbet.records import Layout, Photo
from dribbet.studio.desk import Desk
from dribbet.words.parts import Weight
from tests.conftest import NOW


class Clock:
    def __init__(self, now: datetime = NOW) -> None:
        self.now = now

    def __call__(self) -> datetime:
        return self.now

    def pass_(self, **time: float) -> None:
        self.now += timedelta(**time)


@pytest.fixture(scope="session", autouse=True)
def qapp():
    """The application, before any test here: fonts and pictures need one, whichever test comes first in its process."""
    return application()


@pytest.fixture
def clock():
    return Clock()


@pytest.fixture
def desk(qapp, demo_copy, clock):
    """The demo studio, with its practice devices."""
    book = open_notebook(demo_copy)
    made = Desk(book, clock, scale=SimulatedScale(), camera=practice_camera(book, lapses=0.0))
    yield made
    book.close()


@pytest.fixture
def empty_desk(qapp, tmp_path, clock):
    """A new notebook without devices: what a new user has."""
    book = open_notebook(tmp_path / "Mine.dribbet", create=True)
    made = Desk(book, clock)
    yield made
    book.close()


@pytest.fixture
def open_window(qtbot):
    """Opens windows and closes them again."""
    opened: list[Window] = []

    def open_(desk: Desk, width: int = 1280, height: int = 800) -> Window:
        window = Window(desk)
        window.resize(width, height)
        window.show()
        qtbot.waitExposed(window)
        opened.append(window)
        return window

    yield open_
    for window in opened:
        window.close()
        window.deleteLater()


@pytest.fixture
def on_shoot(open_window, desk):
    """The window on Shoot, with the demo's third Kelp series in hand."""
    window = open_window(desk)
    desk.choose_series("k3")
    window.walk("shoot")
    return window


@pytest.fixture
def planned(desk):
    """A fresh series with lots drawn, nothing mixed yet."""
    ask = AskPresenter(desk)
    ask.planning.new_series()
    ask.choose("levels", "10, 20")
    ask.draw_lots()
    return desk


@pytest.fixture
def mix(planned):
    """Mix, with that series in hand."""
    return MixPresenter(planned)


@pytest.fixture
def check(planned):
    """Check, every cup of that series mixed."""
    mix = MixPresenter(planned)
    while not mix.all_done():
        fill(mix)
        mix.acts.finish()
    return CheckPresenter(planned)


def fill(presenter: MixPresenter, over_g: float = 0.0) -> None:
    """Weigh and stir the cup in hand to its end; the last ingredient by so much too much."""
    while not presenter.view().finished:
        view = presenter.view()
        if view.act:
            presenter.acts.acted()
            continue
        last = sum(s.state in ("now", "planned") for s in view.slices) == 1
        presenter.acts.enter(view.target_kg - view.already_kg + (over_g / 1e3 if last else 0.0), "typed")
        over_g = 0.0 if last else over_g


def weigh(presenter: MixPresenter, over_kg: float = 0.0) -> None:
    """Pour in what is due, after whatever is to be stirred first."""
    while presenter.view().act:
        presenter.acts.acted()
    view = presenter.view()
    presenter.acts.enter(view.target_kg - view.already_kg + over_kg, "typed")


def drip(check: CheckPresenter, *runs_mm: float) -> None:
    """Type the runs of the next drips."""
    for mm in runs_mm:
        check.type_run(f"{mm}")


def on_series(series: str, presenter: type) -> Any:
    """A fixture: the station's presenter with a series of the demo in hand."""

    @pytest.fixture
    def made(desk):
        desk.choose_series(series)
        return presenter(desk)

    return made


@pytest.fixture
def window(open_window, desk):
    return open_window(desk)


KEYS = {
    "←": Qt.Key.Key_Left,
    "→": Qt.Key.Key_Right,
    "Space": Qt.Key.Key_Space,
    "Enter": Qt.Key.Key_Return,
    "Esc": Qt.Key.Key_Escape,
    "PageDown": Qt.Key.Key_PageDown,
    "PageUp": Qt.Key.Key_PageUp,
}


def press(window: Window, *caps: str) -> None:
    """Press keys as a person would, never within the 0.6 s in which a second press is taken for a bounce."""
    for cap in caps:
        window.pages[window.current]._last_press = 0.0
        key = KEYS.get(cap) or Qt.Key[f"Key_{cap}"]
        target = window.focusWidget() or window
        QTest.keyClick(target, key)


def trouble(window: Window) -> str:
    """The error that stands above the keys, or nothing."""
    from dribbet.bench.parts.base import Words

    page = window.pages[window.current]
    rows = [page.trouble.itemAt(i).widget() for i in range(page.trouble.count())]
    return " ".join(words.text() for row in rows for words in row.findChildren(Words) if words.text())


def stopped(window: Window) -> str:
    """Only an error, marked by its bar: in tests that take minutes looks come due meanwhile, and the window says so in the same place."""
    page = window.pages[window.current]
    rows = [page.trouble.itemAt(i).widget() for i in range(page.trouble.count())]
    return " ".join(f"{row.remark.head} {row.remark.body}".strip() for row in rows if isinstance(row, RemarkRow) and row.remark.weight is Weight.STOP)


def open_part(window: Window, part: str) -> Any:
    """Open a part of the question, or one of what is held, as a press would; returns its list or field."""
    page = window.page("ask")
    button = next((b for b in (*page.question.buttons, *page.expectation.buttons) if b.part.id == part), None)
    if button is not None:
        button.click()
    else:
        page._chosen("held", part)
    return page.chooser


def choose(window: Window, part: str, value: str) -> None:
    """Choose or type what a part of the question becomes, through its own list or field."""
    chooser = open_part(window, part)
    if chooser.field is not None:
        chooser.field.setText(value)
        QTest.keyClick(chooser.field, Qt.Key.Key_Return)
    else:
        chooser._choose(value)
    assert not chooser.isVisible(), chooser.trouble()
    assert trouble(window) == ""


@pytest.fixture
def blind(desk):
    """A poured and read test whose letters were drawn by lot."""
    desk.notebook.replace(replace(desk.load("d1").series, layout=Layout(blind=True)))
    desk.changed()
    desk.choose_series("d1")
    return desk


def as_it_lies(result: dict[str, Any], photo: Photo, size_mm: tuple[float, float]) -> dict[str, Any]:
    """A result as if it had been read from this photograph, of a panel of this size."""
    laid = {"corners_px": [list(c) for c in photo.corners_px], "width_mm": size_mm[0], "height_mm": size_mm[1]}
    return result | {"panel": result["panel"] | laid}
