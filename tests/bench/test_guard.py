"""No error ends the window: it is written down, told in a sentence, the page shows what is stored, and work goes on."""

from __future__ import annotations

import logging
import os
import sys
import threading

import pytest
from PyQt6.QtCore import QCoreApplication, QTimer
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QWidget

from dribbet.bench import guard as guards
from dribbet.bench.guard import IN_A_ROW, in_words
from dribbet.bench.stations.read.page import ReadPage
from dribbet.records import DribbetError
from tests.bench.conftest import press, trouble


@pytest.fixture
def guarded(open_window, desk, tmp_path, monkeypatch, qtbot):
    """A window whose guard stands, with a log of its own; pytest's own taker of errors comes back afterwards."""
    monkeypatch.setattr(guards, "log_file", lambda: tmp_path / "dribbet.log")
    root, level, handlers = logging.getLogger(), logging.getLogger().level, list(logging.getLogger().handlers)
    before = sys.excepthook
    window = open_window(desk)
    window.log_path = guards.write_log()
    window.guard.stand()
    yield window
    window.guard.leave()
    root.setLevel(level)
    for handler in [h for h in root.handlers if h not in handlers]:
        root.removeHandler(handler)
        handler.close()
    assert sys.excepthook is before


def settled() -> None:
    for _ in range(6):
        QCoreApplication.processEvents()


def stumble() -> None:
    raise ZeroDivisionError("a part that nobody expected")


def written(window) -> str:
    return window.log_path.read_text()


def test_error_in_a_slot_is_written_down_with_its_trace_and_told(guarded):
    guarded.walk("mix")
    page = guarded.page("mix")
    page.actions["space"] = stumble
    page.strip.buttons[0].click()
    settled()
    assert guarded.isVisible()
    assert "Dribbet stumbled" in trouble(guarded)
    assert str(guarded.log_path) in trouble(guarded)
    assert "ZeroDivisionError: a part that nobody expected" in written(guarded)
    assert "in stumble" in written(guarded), "with its trace"
    assert guarded.page("mix") is not page, "the page is made anew from what is stored"
    assert guarded.current == "mix"


@pytest.mark.parametrize("where", ["timer", "event filter", "refresh", "paint", "thread", "resize"])
def test_error_anywhere_leaves_a_window_that_works(guarded, where, monkeypatch, qtbot):
    guarded.walk("dry")
    if where == "timer":
        QTimer.singleShot(0, stumble)
        qtbot.waitUntil(lambda: "stumbled" in trouble(guarded), timeout=3000)
    elif where == "event filter":
        monkeypatch.setattr(guarded, "key", lambda event: stumble())
        press(guarded, "Space")
        monkeypatch.undo()
    elif where == "refresh":
        monkeypatch.setattr(guarded.page("dry"), "refresh", stumble)
        guarded.desk.changed = guarded.refresh  # as a presenter's press would
        QTimer.singleShot(0, guarded.refresh)
        qtbot.waitUntil(lambda: "stumbled" in trouble(guarded), timeout=3000)
    elif where == "paint":
        guarded.page("dry").bands.draw = lambda p: stumble()
        guarded.page("dry").bands.update()
    elif where == "thread":
        thread = threading.Thread(target=stumble)
        thread.start()
        thread.join()
    else:
        monkeypatch.setattr(guarded, "_dress", stumble)
        guarded.resize(1100, 720)
        settled()
        monkeypatch.undo()
    settled()
    assert "ZeroDivisionError" in written(guarded)
    guarded.walk("today")
    assert guarded.current == "today"
    assert where == "resize" or trouble(guarded) == "", "there even Today could not be shown for a while"
    guarded.grab()


def test_three_errors_in_a_row_on_one_page_lead_to_today(guarded, monkeypatch):
    guarded.walk("read")
    monkeypatch.setattr(ReadPage, "refresh", lambda self: stumble())
    for _ in range(IN_A_ROW):
        QTimer.singleShot(0, guarded.refresh)
        settled()
    assert guarded.current == "today"
    assert "stumbled" in trouble(guarded)
    monkeypatch.undo()
    guarded.walk("read")
    assert guarded.current == "read"
    assert guarded.stumbles == []


def test_page_that_shows_itself_is_left_after_the_third_error_and_not_before(guarded):
    guarded.walk("shelf")
    for n in range(1, 4):
        assert guarded.current == "shelf", n
        guarded.guard.take(ZeroDivisionError(f"number {n}"))
        settled()
    assert guarded.current == "today"


def test_errors_with_something_that_worked_between_them_are_not_in_a_row(guarded):
    guarded.walk("shelf")
    for _ in range(IN_A_ROW + 2):
        guarded.guard.take(ZeroDivisionError("x"))
        settled()
        guarded.page("shelf").attempt(lambda: None)
    assert guarded.current == "shelf"


def test_painter_that_an_error_left_at_work_is_ended(guarded):
    """Qt ends the program when a widget goes whose painter is still active."""

    class Half(QWidget):
        def paintEvent(self, event):
            p = QPainter(self)
            p.drawLine(0, 0, 5, 5)
            raise KeyError("left at work")

    half = Half(guarded)
    half.resize(50, 50)
    half.show()
    half.repaint()
    settled()
    half.deleteLater()
    settled()
    assert "KeyError: 'left at work'" in written(guarded)


def test_error_while_starting_still_opens_the_window_on_today(desk, qtbot, monkeypatch):
    from dribbet.bench.stations.mix.page import MixPage
    from dribbet.bench.window import Window

    monkeypatch.setattr(MixPage, "refresh", lambda self: stumble())
    monkeypatch.setattr(Window, "_first", lambda self: "mix")
    window = Window(desk)
    window.guard.stand()
    qtbot.addWidget(window)
    window.show()
    settled()
    assert window.current == "today"
    assert "stumbled" in trouble(window)
    monkeypatch.undo()
    window.walk("today")
    assert window.current == "today"
    window.close()


@pytest.mark.parametrize(
    ("error", "words"), [(DribbetError("Weigh it first."), "Weigh it first."), (MemoryError(), "memory is full"), (ValueError("x"), "do it again")]
)
def test_error_is_told_in_one_sentence_with_the_way_out(error, words):
    assert words in in_words(error, None)
    assert "\n" not in in_words(error, None)


def test_log_goes_to_a_temporary_folder_where_the_own_one_may_not_be_written(monkeypatch, tmp_path):
    import platformdirs

    (tmp_path / "file").write_text("")
    monkeypatch.setattr(platformdirs, "user_log_path", lambda *_, **__: tmp_path / "file" / "logs")
    assert guards.log_file().name == f"dribbet-{os.getuid()}.log"
    assert tmp_path not in guards.log_file().parents
