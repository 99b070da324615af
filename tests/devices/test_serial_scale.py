"""The serial scale against a pseudo-terminal: lines of many kinds, cut, garbled, silent, unplugged and plugged again."""

from __future__ import annotations

import os
import pty
import termios
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dribbet.devices import DeviceError
from dribbet.devices.serial_scale import FORMATS, KG_PER, LineFormat, SerialScale, lines_there, understood


class Balance:
    """The other end of the line: a scale that sends what it is told to."""

    def __init__(self) -> None:
        self.master, self.slave = pty.openpty()
        self.path = Path(os.ttyname(self.slave))

    def send(self, text: str) -> None:
        os.write(self.master, text.encode())

    def sent_to_it(self) -> bytes:
        os.set_blocking(self.master, False)
        try:
            return os.read(self.master, 100)
        except BlockingIOError:
            return b""

    def unplug(self) -> None:
        os.close(self.master)
        os.close(self.slave)


@pytest.fixture
def balance():
    made = Balance()
    yield made
    for end in (made.master, made.slave):
        try:
            os.close(end)
        except OSError:
            pass


@pytest.fixture
def scale(balance):
    made = SerialScale(balance.path)
    with pytest.raises(DeviceError, match="Waiting for the scale"):
        made.read(0.0)  # opens the line
    yield made
    made.close()


# ---------------------------------------------------------------- lines


@pytest.mark.parametrize(
    ("line", "grams", "steady"),
    [
        ("ST,GS,+  12.34 g", 12.34, True), ("US,GS,+  12.34 g", 12.34, False), ("ST,+00012.3  g", 12.3, True), ("ST,NT,-   0.5g", -0.5, True),
        ("QT, 5 g", 5.0, True), ("S S      77.10 g", 77.10, True), ("S D      77.10 g", 77.10, False), ("   310.2 g", 310.2, None),
        ("310,2 g", 310.2, None), ("- 1.5 g", -1.5, None), ("12.0", 12.0, None), ("0.5 kg", 500.0, None), ("1.0 oz", 28.349523125, None),
        ("12.1 g ?", 12.1, False),
    ],
)  # fmt: skip
def test_common_lines_are_understood(line, grams, steady):
    kg, said, overload = understood(line)
    assert kg * 1e3 == pytest.approx(grams)
    assert said is steady
    assert not overload


@pytest.mark.parametrize("line", ["OL,GS,+99999 g", "S +"])
def test_overload_is_its_own_word(line):
    assert understood(line)[2]


@pytest.mark.parametrize("line", ["", "hello", "Date 2026-11-25", "g 12", "12..3 g", "S I"])
def test_lines_that_are_no_reading_are_passed_over(line):
    assert understood(line) is None


def test_unknown_unit_is_said_and_not_guessed():
    with pytest.raises(DeviceError, match="Set the scale to grams"):
        understood("12.3 pcs")


@given(st.floats(-2000, 2000).map(lambda v: round(v, 2)), st.sampled_from(sorted(KG_PER)), st.sampled_from(["ST,GS,{}", "S D {}", "{}"]))
def test_any_figure_in_any_unit_comes_through(value, unit, frame):
    kg, _, _ = understood(frame.format(f"{value:+.2f} {unit}"))
    assert kg == pytest.approx(value * KG_PER[unit], abs=1e-12)


def test_own_format_names_its_figure():
    mine = LineFormat(name="mine", pattern=r"^W=(?P<value>[\d.]+)(?P<unsteady>~)?$")
    assert understood("W=12.5~", (mine,)) == (pytest.approx(12.5e-3), False, False)
    assert understood("12.5 g", (mine,)) is None
    with pytest.raises(DeviceError, match="no group named value"):
        LineFormat(name="bad", pattern="^[0-9]+$")
    with pytest.raises(DeviceError, match="is no pattern"):
        LineFormat(name="bad", pattern="(")
    assert len({f.name for f in FORMATS}) == 3


# ---------------------------------------------------------------- the line itself


def test_last_whole_line_is_the_reading_and_a_cut_one_waits(balance, scale):
    balance.send("ST,GS,+  10.0 g\r\nUS,GS,+  11.0 g\r\nST,GS,+  12")
    first = scale.read(0.1)
    assert (first.mass_kg, first.steady) == (pytest.approx(0.011), False)
    balance.send(".5 g\r\n")
    second = scale.read(0.2)
    assert (second.mass_kg, second.steady) == (pytest.approx(0.0125), True)


def test_scale_that_does_not_say_steady_is_judged_by_its_last_second(balance, scale):
    for i, grams in enumerate((10.0, 20.0, 25.0, 25.0, 25.0, 25.0, 25.1, 25.0, 25.0, 25.0, 25.0)):
        balance.send(f"{grams} g\r\n")
        reading = scale.read(0.25 * (i + 1))
        assert reading.steady == (i >= 5), i  # 25.0 and 25.1 differ by the display's last digit


def test_overload_shows_no_figure(balance, scale):
    balance.send("OL,GS,+99999 g\r\n")
    assert scale.read(0.1).overload


def test_silence_is_said_within_two_seconds_and_it_goes_on_when_it_speaks_again(balance, scale):
    balance.send("77.1 g\r\n")
    assert scale.read(0.5).mass_kg == pytest.approx(0.0771)
    assert scale.read(2.0).mass_kg == pytest.approx(0.0771)
    with pytest.raises(DeviceError, match="stopped answering"):
        scale.read(3.0)
    balance.send("78.0 g\r\n")
    assert scale.read(3.1).mass_kg == pytest.approx(0.078)


def test_garbled_lines_name_what_came_and_where_to_look(balance, scale):
    balance.send("%&/()=\r\n")
    with pytest.raises(DeviceError, match="Check its speed and its line format"):
        scale.read(2.5)
    balance.send("x" * 500)
    with pytest.raises(DeviceError, match="noise"):
        scale.read(2.6)


def test_pulled_cable_is_said_and_a_plugged_one_is_found_again(balance, scale, tmp_path):
    balance.send("77.1 g\r\n")
    scale.read(0.1)
    link = tmp_path / "scale"
    link.symlink_to(balance.path)
    moved = SerialScale(link)
    with pytest.raises(DeviceError, match="Waiting"):
        moved.read(0.0)
    balance.unplug()
    with pytest.raises(DeviceError, match=r"is gone|No scale at"):
        moved.read(5.0)
    again = Balance()
    link.unlink()
    link.symlink_to(again.path)
    with pytest.raises(DeviceError):
        moved.read(5.1)  # opens the new line
    again.send("80.2 g\r\n")
    assert moved.read(5.2).mass_kg == pytest.approx(0.0802)
    moved.close()
    again.unplug()


def test_tare_is_kept_here_or_sent_to_the_scale(balance, scale):
    balance.send("50.0 g\r\n")
    scale.read(0.1)
    scale.tare(0.1)
    balance.send("62.5 g\r\n")
    assert scale.read(0.2).mass_kg == pytest.approx(0.0125)
    own = SerialScale(balance.path, tare_command=b"T\r\n")
    with pytest.raises(DeviceError):
        own.read(0.0)
    balance.send("50.0 g\r\n")
    own.tare(0.1)
    assert balance.sent_to_it() == b"T\r\n"
    own.close()


def test_line_is_dressed_raw_at_its_speed(balance):
    made = SerialScale(balance.path, baud=2400)
    with pytest.raises(DeviceError):
        made.read(0.0)
    mode = termios.tcgetattr(balance.slave)
    assert mode[4] == termios.B2400
    assert not mode[3] & (termios.ECHO | termios.ICANON)
    made.close()


@pytest.mark.parametrize(("name", "words"), [("nothing-here", "No scale at"), ("file.txt", "is no serial line")])
def test_what_is_no_line_is_refused_in_words(tmp_path, name, words):
    path = tmp_path / name
    if name.endswith(".txt"):
        path.write_text("12 g\n")
    with pytest.raises(DeviceError, match=words):
        SerialScale(path).read(0.0)


def test_speed_must_be_one_that_lines_have(tmp_path):
    with pytest.raises(DeviceError, match="no speed of a serial line"):
        SerialScale(tmp_path / "x", baud=1234)


def test_lines_that_may_be_a_scale_are_found_by_name(tmp_path):
    for name in ("ttyUSB0", "ttyACM1", "tty1"):
        (tmp_path / name).touch()
    assert [p.name for p in lines_there((tmp_path,))] == ["ttyUSB0", "ttyACM1"]
    (tmp_path / "serial" / "by-id").mkdir(parents=True)
    (tmp_path / "serial" / "by-id" / "usb-a-scale").touch()
    assert [p.name for p in lines_there((tmp_path,))] == ["usb-a-scale"]
