"""The window as its users press it: keys, sizes, words, greys."""

from __future__ import annotations

import dataclasses
import subprocess
import sys
import time
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
import pytest
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractButton, QLabel

from dribbet.bench.doors.today.presenter import TodayPresenter
from dribbet.bench.parts.keys import KeyButton
from dribbet.bench.parts.run_line import DOORS, STATIONS
from dribbet.bench.theme import inks
from dribbet.bench.theme.type import CODE, FONTS, TEXT, font, load_fonts
from dribbet.bench.tour import PICTURES, VIEWS, settle
from dribbet.notebook import open_notebook
from dribbet.records import Series
from dribbet.words.card import lines as card_lines
from dribbet.words.units import Units, units_of
from tests.bench.conftest import press, trouble

if TYPE_CHECKING:
    from PyQt6.QtGui import QColor

PLACES = [(series, view) for _, series, view in VIEWS]


def neutral(colour: QColor) -> bool:
    return colour.red() == colour.green() == colour.blue()


def test_every_ink_but_the_tape_is_a_pure_grey():
    for surround in (inks.PAPER, inks.WALL):
        for field in dataclasses.fields(surround):
            value = getattr(surround, field.name)
            assert field.name in ("tape", "crepe", "wall") or neutral(value), field.name
    assert all(neutral(c) for c in (inks.BLACK, inks.EDGE, inks.AIM, inks.PIT, inks.CHANCE, inks.CHANCE_HATCH, inks.STICK_MEDIUM, *inks.DRYING))


def test_typeface_is_the_shipped_one_and_never_under_14_px(qapp):
    assert {TEXT, CODE} <= set(load_fonts())
    assert font(9).pixelSize() == 14
    assert len(list(FONTS.glob("*.ttf"))) >= 5


def test_every_page_is_neutral_grey_where_there_is_no_paint_and_no_tape(window, desk):
    for view in ("today", "series"):  # the others show paint
        window.walk(view)
        settle(window)
        image = window.pages[view].grab().toImage().convertToFormat(image_format())
        bits = image.constBits()
        bits.setsize(image.sizeInBytes())
        pixels = np.frombuffer(bits, np.uint8).reshape(image.height(), image.bytesPerLine())[:, : image.width() * 3].reshape(-1, 3).astype(int)
        spread = pixels.max(axis=1) - pixels.min(axis=1)
        tape = (pixels[:, 0] - pixels[:, 2]) > 40  # RGB: only the masking tape is yellow
        assert (spread[~tape] <= 40).all()
        assert ((spread > 0) & ~tape).mean() < 0.002, f"{view}: tinted greys"


def image_format():
    from PyQt6.QtGui import QImage

    return QImage.Format.Format_RGB888


@pytest.mark.parametrize("size", [(1024, 700), (1280, 800), (1920, 1080)])
def test_no_label_is_cut_at_any_size(open_window, desk, size):
    window = open_window(desk, *size)
    for series_id, view in PLACES:
        desk.choose_series(series_id)
        window.walk(view)
        settle(window)
        assert (window.width(), window.height()) == size, f"{view} does not fit {size}"
        page = window.pages[view]
        for button in page.strip.buttons:
            if button.isVisibleTo(page):
                assert button.width() >= button.natural_width() - 4, f"{view}: key {button.key.words!r} is cut at {size}"
        for label in page.findChildren(QLabel):
            if label.isVisible() and label.text() and label.wordWrap():
                assert label.height() >= label.heightForWidth(label.width()) - 4, f"{view}: {label.text()[:50]!r} is cut at {size}"
            elif label.isVisible() and label.text():
                assert label.width() >= label.sizeHint().width() - 2, f"{view}: {label.text()!r} is cut at {size}"


@pytest.mark.parametrize("view", [view for _, view in PLACES])
def test_everything_that_can_be_pressed_has_a_name_and_is_large_enough(window, desk, view):
    desk.choose_series({v: s for s, v in PLACES}[view])
    window.walk(view)
    settle(window)
    for button in window.pages[view].findChildren(QAbstractButton):
        if button.isVisible():
            assert button.accessibleName(), f"{view}: a button without a name"
            assert button.height() >= 26, f"{view}: {button.accessibleName()} is {button.height()} px high"
    for button in window.pages[view].findChildren(KeyButton):
        if button.isVisible():
            assert button.height() >= 44


def test_page_keys_walk_the_whole_line_and_the_doors(window):
    window.walk("ask")
    seen = [window.current]
    for _ in range(len(STATIONS) + len(DOORS) - 1):
        press(window, "PageDown")
        seen.append(window.current)
    assert seen == [n.lower() for n in (*STATIONS, *DOORS)]
    press(window, "PageUp")
    assert window.current == "shelf"


def test_stops_and_doors_lead_where_they_say(window):
    for i, name in enumerate(STATIONS):
        window.line.stops[i].click()
        assert window.current == name.lower()
    for i, name in enumerate(DOORS):
        window.line.doors[i].click()
        assert window.current == name.lower()
    window.line.series.click()
    assert window.current == "series"
    press(window, "Esc")
    assert window.current == "findings"


def test_letters_are_text_while_a_field_has_the_focus(window, desk):
    desk.choose_series("k4")
    window.walk("mix")
    page = window.page("mix")
    entries = len(desk.need_run().weighings)
    page.typed.setFocus()
    QTest.keyClicks(page.typed, "zn")
    assert page.typed.text() == "zn"
    assert len(desk.need_run().weighings) == entries
    press(window, "Esc")
    assert not page.typed.hasFocus()
    press(window, "Z")
    assert len(desk.need_run().weighings) == entries - 1


def test_second_press_within_the_bounce_is_ignored(window, desk):
    desk.choose_series("k3")
    window.walk("pour")
    page = window.page("pour")
    before = len(desk.need_run().steps)
    page._last_press = 0.0
    assert page.press_by_keyboard("Space")
    assert page.press_by_keyboard("Space"), "taken, but not acted on"
    assert len(desk.need_run().steps) == before + 1


def test_beads_count_the_panels_of_the_series(window, desk):
    desk.choose_series("k3")
    counts = [s.stop.beads for s in window.line.stops]
    assert sum(counts) == len(desk.need_run().panels) == 12
    assert "10 panels" in window.line.stops[4].accessibleName() or counts[4] > 0


def test_station_opens_before_anything_can_be_done_there_and_says_what_is_missing(open_window, empty_desk):
    window = open_window(empty_desk)
    for name in (n.lower() for n in (*STATIONS, *DOORS)):
        window.walk(name)
        page = window.pages[name]
        assert len(page.sentence.text()) > 10, name
        assert page.strip.buttons[0].key.words, name
        if name != "ask":
            press(window, "Space")
            assert trouble(window) == "" or name in ("shelf",)


def test_series_are_chosen_started_and_named(window, desk):
    window.walk("series")
    page = window.page("series")
    rows = [page.rows.itemAt(i).widget() for i in range(page.rows.count())]
    assert len(rows) == 8
    next(r for r in rows if r.series.code == "D1").click()
    assert desk.need_run().series.code == "D1"
    window.walk("series")
    press(window, "Space")
    assert window.current == "ask"
    assert len(desk.all_series()) == 9
    window.walk("series")
    page.name_field.setText("Sleet 07")
    page._rename()
    assert desk.need_run().series.name == "Sleet 07"


def test_units_are_the_persons_and_stay(window, desk):
    window.walk("series")
    for button in window.page("series").unit_keys.values():
        button.click()
    assert units_of(desk) == Units("oz", "fl oz", "in", "°F")
    window.walk("mix")
    desk.choose_series("k4")
    assert window.page("mix").reading.unit == "oz"
    assert desk.notebook.setting("units")["mass"] == "oz"


def test_today_collects_what_is_due_across_series_and_leads_there(window, desk):
    tasks = TodayPresenter(desk).tasks()
    assert {t.due.series_id for t in tasks} >= {"k3", "k4", "s1"}
    assert tasks == sorted(tasks, key=lambda t: (not t.due.overdue, not t.due.now, t.due.when))
    window.walk("today")
    read = next(t for t in tasks if t.station == "read")
    window.page("today").open(read)
    assert window.current == "read"
    assert desk.series_id == read.due.series_id


def test_shelf_takes_new_containers_and_lines_of_a_card_and_refuses_words(window, desk):
    window.walk("shelf")
    page = window.page("shelf")
    press(window, "N")
    page.typed.setText("sea pink, paint, #D98CA0")
    page._typed()
    found = next(m for m in desk.shelf() if m.name == "sea pink")
    assert page.hand == found.id
    page._line_pressed(next(line for line in card_lines(found, desk.shelf(), Units()) if line.key == "density"))
    page.typed.setText("1.14")
    page._typed()
    assert next(m for m in desk.shelf() if m.name == "sea pink").density_kg_m3 == pytest.approx(1140.0)
    for bad in ("x, jam", ", paint"):
        press(window, "N")
        page.typed.setText(bad)
        page._typed()
        assert trouble(window)
        assert page.typed.text() == bad, "what was typed is not lost"
        page.typed.clear()
        press(window, "Esc")
    press(window, "N")
    page.typed.setText("a10")
    page._typed()
    assert page.name_words.text().startswith("A10")


def test_window_that_only_reads_says_so_and_changes_nothing(open_window, desk, clock):
    from dribbet.studio.desk import Desk

    second_book = open_notebook(desk.notebook.folder)
    assert second_book.read_only
    window = open_window(Desk(second_book, clock))
    window.walk("series")
    assert "only reads" in window.page("series").where.text()
    press(window, "Space")
    assert "only reads" in trouble(window)
    assert len(desk.notebook.all(Series)) == 8
    window.close()


def test_closing_stops_the_jobs_and_lets_the_notebook_go(open_window, desk, qtbot):
    window = open_window(desk)
    desk.choose_series("s1")
    window.walk("read")
    window.page("read").read()
    assert window.jobs.busy()
    window.close()
    again = open_notebook(desk.notebook.folder)
    assert not again.read_only
    again.close()


def test_tour_draws_every_view_at_the_size_asked_and_always_alike(tmp_path):
    from PIL import Image

    runs = [subprocess.Popen([sys.executable, "-m", "dribbet.cli", "tour", tmp_path / name], stdout=subprocess.DEVNULL) for name in "ab"]
    assert [r.wait(timeout=120) for r in runs] == [0, 0]
    first = sorted((tmp_path / "a").iterdir())
    assert len(first) == len(PICTURES) >= 8
    for path in first:
        assert path.read_bytes() == (tmp_path / "b" / path.name).read_bytes(), path.name
    for path in first:
        with Image.open(path) as picture:
            assert picture.size == (1280, 800)


REAL = """
import sys
from datetime import UTC, datetime
from pathlib import Path
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtTest import QTest
from dribbet.bench.application import application, practice_camera
from dribbet.studio.desk import Desk
from dribbet.bench.tour import settle
from dribbet.bench.window import Window
from dribbet.devices import SimulatedScale
from dribbet.notebook import open_notebook

app = application()
assert app.platformName() == "xcb", app.platformName()
book = open_notebook(Path(sys.argv[1]))
studio = Desk(book, lambda: datetime(2026, 11, 19, 14, 20, tzinfo=UTC), scale=SimulatedScale(), camera=practice_camera(book))
window = Window(studio)
window.resize(1280, 800)
window.show()
QTest.qWaitForWindowExposed(window)
window.activateWindow()
studio.choose_series("k3")
window.walk("pour")
before = len(studio.need_run().steps)
QTest.keyClick(window, Qt.Key.Key_Space)
assert len(studio.need_run().steps) == before + 1, "Space did not reach the pour"
seen = []
for _ in range(11):
    QTest.keyClick(window, Qt.Key.Key_PageDown)
    settle(window)
    seen.append(window.current)
assert seen[-1] == "findings", seen
window.walk("ask")
page = window.page("ask")
page.presenter.planning.new_series()
settle(window)
QTest.keyClick(window, Qt.Key.Key_P)
QTest.qWait(200)
kinds = page.chooser
assert kinds.isVisible(), "the kinds of test did not open"
QTest.keyClick(kinds.focusWidget(), Qt.Key.Key_Down)  # from medium against medium to silicone
QTest.keyClick(kinds.focusWidget(), Qt.Key.Key_Return)
settle(window)
assert len(studio.need_run().arms) == 4, "the ladder of silicone was not taken"
button = next(b for b in page.question.buttons if b.part.id == "levels")
QTest.mouseClick(button, Qt.MouseButton.LeftButton)
QTest.qWait(200)
field = page.chooser
QTest.keyClicks(field.field, "0, many")
QTest.keyClick(field.field, Qt.Key.Key_Return)
QTest.qWait(100)
assert field.isVisible(), "the field closed over a bad entry"
assert "no number" in field.trouble(), field.trouble()
assert field.field.text() == "0, many", field.field.text()
QTest.keyClick(field, Qt.Key.Key_Escape)
assert not field.isVisible()
window.walk("decide")
settle(window)
app.primaryScreen().grabWindow(int(window.winId())).save(sys.argv[2])
window.close()
print("all keys arrived")
"""


@pytest.mark.window
def test_real_window_on_an_x_display_takes_real_keys(demo_copy, tmp_path):
    import os
    import shutil

    if shutil.which("Xvfb") is None:
        pytest.skip("no Xvfb on this machine")
    read, write = os.pipe()
    server = subprocess.Popen(["Xvfb", "-displayfd", str(write), "-screen", "0", "1400x900x24"], pass_fds=[write], stderr=subprocess.DEVNULL)
    os.close(write)
    try:
        with os.fdopen(read) as told:
            number = told.readline().strip()
        environment = {**os.environ, "DISPLAY": f":{number}", "QT_QPA_PLATFORM": "xcb"}
        shot = tmp_path / "shot.png"
        script = tmp_path / "real.py"
        script.write_text(REAL)
        done = subprocess.run(
            [sys.executable, script, demo_copy, shot], env=environment, capture_output=True, text=True, timeout=120, cwd=Path(__file__).parents[2]
        )
        assert done.returncode == 0, done.stderr[-2000:]
        assert "all keys arrived" in done.stdout
        from PIL import Image

        picture = np.asarray(Image.open(shot).convert("RGB"))
        assert picture.shape[:2] == (800, 1280)
        assert len(np.unique(picture.reshape(-1, 3), axis=0)) > 500, "the photographs are on the screen"
    finally:
        server.terminate()
        server.wait()
        time.sleep(0.1)
