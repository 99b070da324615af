"""Choosing a scale in Set-up, and weighing on a serial one through the Mix page, with its faults."""

from __future__ import annotations

import os
import pty
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from dribbet.devices import SerialScale, SimulatedScale
from dribbet.studio import scales
from tests.bench.conftest import press, trouble


@pytest.fixture
def line(tmp_path):
    """A pseudo-terminal under the name of a USB line: (folder to look in, file to send through, path)."""
    master, slave = pty.openpty()
    path = tmp_path / "ttyUSB0"
    path.symlink_to(os.ttyname(slave))
    yield tmp_path, master, path
    for end in (master, slave):
        try:
            os.close(end)
        except OSError:
            pass


def test_choices_go_round_and_are_kept(desk, line):
    root, _, path = line
    assert scales.chosen(desk) == scales.PRACTICE
    seen = []
    for _ in range(4):
        scales.choose_next(desk, (root,))
        seen.append((scales.chosen(desk), type(desk.scale)))
    assert seen == [(scales.FAULTY, SimulatedScale), (str(path), SerialScale), ("", type(None)), (scales.PRACTICE, SimulatedScale)]
    assert scales.words("") == "typed"
    assert scales.choices("/dev/ttyUSB9", (root,))[-1] == "/dev/ttyUSB9"  # one that is unplugged stays chosen


def test_set_up_names_the_scale_and_a_press_goes_on(window, desk):
    window.walk("series")
    sheet = window.page("series")
    assert sheet.scale_key.key.words == "Scale: practice"
    before = scales.chosen(desk)
    QTest.mouseClick(sheet.scale_key, Qt.MouseButton.LeftButton)
    assert scales.chosen(desk) != before


def test_cup_is_weighed_on_a_serial_scale_that_is_lost_and_found(window, desk, line):
    _, master, path = line
    desk.scale = SerialScale(Path(path))
    desk.choose_series("k4")
    window.walk("mix")
    page = window.page("mix")
    os.write(master, b"ST,GS,+ 0.0 g\r\n")
    page.tick()
    page._zero()
    assert "ttyUSB0" in page.typed_note.text()
    start = page.view.already_kg
    wanted = page.view.target_kg - start
    os.write(master, f"US,GS,+ {wanted * 500:.1f} g\r\n".encode())
    page.tick()
    assert page._reading is not None
    assert not page._reading.steady
    press(window, "Space")  # too early: it waits for a steady figure
    assert page.presenter.view().already_kg == pytest.approx(start)
    desk.scale.close()
    real, desk.scale._path = desk.scale._path, Path("/nowhere/ttyUSB0")
    page.tick()
    assert "No scale at" in trouble(window)
    desk.scale._path = real
    page.tick()
    assert wanted > 0.001  # the demo's cup waits for its repair
    os.write(master, f"ST,GS,+ {wanted * 1000:.1f} g\r\n".encode())
    page.tick()
    assert trouble(window) == ""
    press(window, "Space")
    assert page.presenter.view().already_kg == pytest.approx(start + wanted, abs=0.06e-3)
    assert desk.need_run().weighings[-1].source == "scale"


def test_own_line_format_is_typed_in_bench_rules_and_understood_at_once(window, desk, line, monkeypatch):
    root, master, path = line
    monkeypatch.setattr(scales, "WHERE", (root,))
    desk.notebook.put_setting(scales.SETTING, str(path))
    desk.scale = scales.scale_for(str(path), desk.rules)
    desk.choose_series("k4")
    window.walk("mix")
    page = window.page("mix")
    page.timer.stop()
    os.write(master, b"W=+0004.2;stable\r\n")
    page.tick()
    assert "does not understand" in trouble(window) or "Waiting for the scale" in trouble(window)
    window.walk("rules")
    rules = window.page("rules")
    rules.line = "pattern"
    rules.typed.setText(r"^W=(?P<value>[+-]?[\d.]+);(?:(?P<steady>stable)|(?P<unsteady>moving))$")
    rules._typed()
    assert trouble(window) == ""
    window.walk("mix")
    page.timer.stop()
    os.write(master, b"W=+0004.2;stable\r\n")
    page.tick()
    assert page._reading is not None
    assert (round(page._reading.mass_kg, 5), page._reading.steady) == (0.0042, True)


def test_overloaded_scale_takes_no_weight(window, desk):
    desk.scale = SimulatedScale(capacity_kg=0.01)
    desk.choose_series("k4")
    window.walk("mix")
    page = window.page("mix")
    page.timer.stop()
    desk.scale.put(0.05)
    before = len(desk.need_run().weighings)
    for _ in range(40):
        page.tick()
    assert page.reading.state == "too heavy"
    press(window, "Space")
    assert "more than the scale can weigh" in trouble(window)
    assert len(desk.need_run().weighings) == before
