"""All panels that wait are read beside each other: kept as they come, stopped at once, and what failed is named."""

from __future__ import annotations

import threading

import pytest
from PyQt6.QtTest import QTest

from dribbet.bench.parts.keys import KeyButton
from dribbet.bench.stations.read.several import Several
from dribbet.demo.build import shipped_readings
from dribbet.notebook.store import new_id
from dribbet.records import DribbetError, Reading
from tests.bench.conftest import as_it_lies, press, trouble

RESULT = shipped_readings()["D1-d1"]["result"]


class Slow:
    """Readings that end when they are let go; counts how many run at the same time."""

    def __init__(self, presenter) -> None:
        self.presenter, self.go = presenter, threading.Event()
        self.lock, self.now, self.most, self.begun = threading.Lock(), 0, 0, []
        self.bad: str = ""

    def reading_of(self, panel, again=None):
        run = self.presenter.desk.need_run()
        photo, at = again or run.photo(panel), self.presenter.desk.now()
        result = as_it_lies(RESULT, photo, run.size_mm(panel))

        def work(report):
            with self.lock:
                self.now, self.begun = self.now + 1, [*self.begun, panel.code]
                self.most = max(self.most, self.now)
            try:
                while not self.go.wait(0.01):
                    report(1, 9)
                if panel.code == self.bad:
                    raise DribbetError("No panel stands out from the table.")
            finally:
                with self.lock:
                    self.now -= 1
            return Reading(id=new_id(), panel_id=panel.id, photo_id=photo.id, stage=photo.stage, reader="made up", at=at, result=result)

        return work


@pytest.fixture
def waiting(open_window, desk, monkeypatch):
    """Read with eight panels to read, three at a time."""
    monkeypatch.setattr(Several, "at_once", staticmethod(lambda: 3))
    desk.choose_series("k3")
    window = open_window(desk)
    window.walk("read")
    page = window.page("read")
    slow = Slow(page.presenter)
    monkeypatch.setattr(page.presenter, "reading_of", slow.reading_of)
    return window, page, slow


def until(done) -> None:
    for _ in range(600):
        if done():
            return
        QTest.qWait(10)
    raise AssertionError("it did not come to an end")


def keys(page) -> dict[str, str]:
    return {b.key.cap: b.key.words for b in page.findChildren(KeyButton) if not b.isHidden()}


def test_all_that_wait_are_read_and_kept_a_few_at_a_time(waiting, desk):
    window, page, slow = waiting
    assert keys(page)["A"] == "Read all 8"
    press(window, "A")
    until(lambda: slow.now == 3)
    assert page.sentence.text() == "Reading 8 photographs: 0 done."
    slow.go.set()
    until(lambda: not page.several.busy)
    assert slow.most == 3
    assert len(slow.begun) == len(set(slow.begun)) == 8
    assert page.presenter.unread(desk.need_run()) == []
    assert "A" not in keys(page)


def test_all_are_read_though_another_series_is_taken_in_hand_meanwhile(waiting, desk, monkeypatch):
    window, page, slow = waiting
    ordered = []
    taken = page.presenter.to_read
    monkeypatch.setattr(
        page.presenter, "reading_of", lambda panel, _: (ordered.append(taken(panel, desk.need_run().photo(panel))), slow.reading_of(panel))[1]
    )
    press(window, "A")
    until(lambda: slow.now == 3)
    assert len(ordered) == 8
    desk.choose_series("d1")
    slow.go.set()
    until(lambda: not page.several.busy)
    desk.choose_series("k3")
    assert page.presenter.unread(desk.need_run()) == []


def test_stopping_keeps_what_was_read_and_leaves_the_rest(waiting, desk):
    window, page, slow = waiting
    press(window, "A")
    until(lambda: slow.now == 3)
    press(window, "Esc")
    until(lambda: not page.several.busy)
    assert len(slow.begun) == 3
    assert len(page.presenter.unread(desk.need_run())) == 8
    assert keys(page)["A"] == "Read all 8"


def test_panel_that_could_not_be_read_is_named_and_the_others_are_kept(waiting, desk):
    window, page, slow = waiting
    slow.bad = page.presenter.unread(desk.need_run())[2].code
    slow.go.set()
    press(window, "A")
    until(lambda: not page.several.busy)
    assert [p.code for p in page.presenter.unread(desk.need_run())] == [slow.bad]
    assert f"{slow.bad} was not read: No panel stands out from the table." in trouble(window)
