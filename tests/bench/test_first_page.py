"""First page of an empty notebook: what Dribbet does, and three ways in."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from dribbet.bench.parts.base import Words
from dribbet.bench.stations.ask.first_page import EightStations
from dribbet.lab.plan.templates import TEMPLATES
from dribbet.words import first_page
from tests.bench.conftest import press


@pytest.fixture
def window(open_window, empty_desk):
    return open_window(empty_desk)


def test_it_says_in_eight_stations_what_happens_and_offers_three_ways(window):
    page = window.page("ask")
    line = page.first_page.findChild(EightStations)
    assert line.accessibleName() == "What happens from a doubt to a verdict"
    assert [name for name, _ in first_page.STATIONS] == ["Ask", "Mix", "Check", "Pour", "Dry", "Shoot", "Read", "Decide"]
    assert [w.accessibleName() for w in page.first_page.ways] == ["1: A kind of test", "2: A jar and a doubt", "3: Look round first"]
    assert str(len(TEMPLATES)) in page.first_page.ways[0].accessibleDescription()
    assert page.first_page.isVisible()
    assert not page.column_widget.isVisible()
    assert any("Nothing is invented" in w.text() for w in page.first_page.findChildren(Words))


def test_first_way_starts_a_series_and_opens_the_kinds(window, empty_desk):
    page = window.page("ask")
    press(window, "Enter")
    assert page.chooser.isVisible()
    assert [value for value, _ in page.chooser.part.choices] == [*(t.key for t in TEMPLATES), "pre-test"]
    assert empty_desk.need_run().series.seed is None
    page.chooser.close()
    page.refresh()
    assert not page.first_page.isVisible()
    assert page.column_widget.isVisible()


def test_second_way_leads_to_the_shelf(window):
    QTest.mouseClick(window.page("ask").first_page.ways[1], Qt.MouseButton.LeftButton)
    assert window.current == "shelf"


def test_third_way_opens_the_made_up_studio_in_a_window_of_its_own(window, monkeypatch):
    started = []
    monkeypatch.setattr("dribbet.bench.stations.ask.page.QProcess.startDetached", lambda *asked: started.append(asked))
    assert window.page("ask").press_digit(3)
    assert [args[1] for args in started] == [["-m", "dribbet.cli", "demo"]]


@pytest.mark.parametrize("size", [(1024, 700), (1280, 800), (1920, 1080)])
def test_no_word_under_a_station_is_cut(open_window, empty_desk, size):
    from PyQt6.QtCore import QRectF
    from PyQt6.QtGui import QFontMetricsF

    from dribbet.bench.theme.type import font

    window = open_window(empty_desk, *size)
    line = window.page("ask").first_page.findChild(EightStations)
    wide = line.width() / 8
    px = 15 if wide < 150 else 18
    room = 46.0 + px * 1.42 * (3 if wide >= 128 else 4) - 38
    flags = int(Qt.TextFlag.TextWordWrap.value | Qt.AlignmentFlag.AlignHCenter.value)
    for _, words in first_page.STATIONS:
        taken = QFontMetricsF(font(px)).boundingRect(QRectF(0, 0, wide - 10, 1000), flags, words)
        assert taken.height() <= room, words
