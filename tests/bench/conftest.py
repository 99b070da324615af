"""A studio at a bench: the demo notebook or an empty one, a clock that stands until it is moved, a window on it."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from dribbet.bench.application import application, practice_camera
from dribbet.bench.window import Window
from dribbet.devices import SimulatedScale
from dribbet.notebook import open_notebook
from dribbet.studio.desk import Desk
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


KEYS = {"Space": Qt.Key.Key_Space, "Enter": Qt.Key.Key_Return, "Esc": Qt.Key.Key_Escape, "PageDown": Qt.Key.Key_PageDown, "PageUp": Qt.Key.Key_PageUp}


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
