"""A real scale on a serial line: one that sends its display as text, line after line (POSIX terminals, no library).

What such scales send differs in words, not in kind: a word for steady or not, a sign, a figure, a unit. A `LineFormat` says
where each stands; three common ones ship, and any other can be given as a pattern with named groups.
"""

from __future__ import annotations

import errno
import math
import os
import re
import termios
from collections import deque
from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from dribbet.devices.scale import STEADY_S, STEADY_WITHIN_KG, DeviceError, ScaleReading

if TYPE_CHECKING:
    from pathlib import Path

KG_PER: Final = {"g": 1e-3, "kg": 1.0, "mg": 1e-6, "oz": 28.349523125e-3, "lb": 0.45359237, "ozt": 31.1034768e-3, "ct": 0.2e-3}
"""Units a display may stand in; another one is said, never guessed."""
SILENT_AFTER_S: Final = 2.0  # a scale that sends on its own does so several times a second
LONGEST_LINE: Final = 200  # bytes without an end of line: not text, so the speed is wrong
BAUDS: Final = {rate: getattr(termios, f"B{rate}") for rate in (1200, 2400, 4800, 9600, 19200, 38400, 57600, 115200)}


@dataclass(frozen=True, slots=True, kw_only=True)
class LineFormat:
    """Where the figure, the unit and the words for steady and overload stand in a line.

    `pattern` has the group `value`, and may have `unit`, `steady`, `unsteady` and `overload`; without a word for steady the
    driver judges by the last second itself.
    """

    name: str
    pattern: str

    def __post_init__(self) -> None:
        try:
            groups = re.compile(self.pattern).groupindex
        except re.error as error:
            raise DeviceError(f"The line format {self.name!r} is no pattern: {error}. Correct it in Set-up.") from None
        if "value" not in groups:
            raise DeviceError(f"The line format {self.name!r} has no group named value. Name the figure, as in (?P<value>...).")


_FIGURE: Final = r"(?P<value>[+-]?\s*\d+(?:[.,]\d+)?)"
FORMATS: Final = (
    LineFormat(
        name="words and commas",  # ST,GS,+  12.34 g
        pattern=rf"^\s*(?:(?P<steady>ST|QT)|(?P<unsteady>US)|(?P<overload>OL))\s*,(?:\s*(?:GS|NT)\s*,)?\s*{_FIGURE}\s*(?P<unit>[A-Za-z]+)?\s*$",
    ),
    LineFormat(
        name="letters",  # S S   12.34 g, S D   12.34 g, S +
        pattern=rf"^\s*S\s+(?:(?P<steady>S)|(?P<unsteady>D)|(?P<overload>[+]))(?:\s+{_FIGURE}\s*(?P<unit>[A-Za-z]+)?)?\s*$",
    ),
    LineFormat(name="figure and unit", pattern=rf"^\s*{_FIGURE}\s*(?P<unit>[A-Za-z]+)?\s*(?P<unsteady>[?*])?\s*$"),  # 12.34 g, 12.34 g ?
)


def understood(line: str, formats: tuple[LineFormat, ...] = FORMATS) -> tuple[float, bool | None, bool] | None:
    """Mass in kg, whether the scale calls it steady (None where it does not say), whether it is overloaded; None for no reading.

    Raises
    ------
    DeviceError
        If the line is a reading in a unit that is not known.
    """
    for form in formats:
        found = re.match(form.pattern, line)
        if found is None:
            continue
        said = found.groupdict()
        if said.get("overload"):
            return math.nan, None, True
        if not said.get("value"):
            continue
        unit = (said.get("unit") or "g").lower()
        if unit not in KG_PER:
            raise DeviceError(f"The scale shows “{unit}”, which is no unit of mass that Dribbet knows. Set the scale to grams.")
        value = float(said["value"].replace(" ", "").replace(",", "."))
        steady = True if said.get("steady") else False if said.get("unsteady") else None
        return value * KG_PER[unit], steady, False
    return None


class SerialScale:
    """A scale on a serial line, read without waiting. A pulled cable is said at once, and a plugged one goes on by itself."""

    step_kg = 0.1e-3

    def __init__(self, path: Path, *, baud: int = 9600, formats: tuple[LineFormat, ...] = FORMATS, tare_command: bytes = b"") -> None:
        if baud not in BAUDS:
            raise DeviceError(f"{baud} is no speed of a serial line. Choose one of {', '.join(str(b) for b in BAUDS)}.")
        self.name = f"Scale at {path.name}"
        self._path, self._baud, self._formats, self._tare_command = path, baud, formats, tare_command
        self._line: int | None = None
        self._rest = b""
        self._zero_kg = 0.0
        self._last: tuple[float, float, bool | None, bool] | None = None
        """When, kg, steady as said, overload."""
        self._past: deque[tuple[float, float]] = deque(maxlen=64)
        self._asked_s: float | None = None
        self._strange = ""

    # ------------------------------------------------------------ the line

    def _open(self) -> int:
        if self._line is None:
            try:
                self._line = os.open(self._path, os.O_RDWR | os.O_NOCTTY | os.O_NONBLOCK)
                self._dress(self._line)
            except OSError as error:
                self.close()
                if error.errno in (errno.EACCES, errno.EPERM):
                    raise DeviceError(
                        f"{self._path.name} may not be opened. Join the group that owns it (often dialout), then log in again; or type the grams."
                    ) from None
                raise DeviceError(f"No scale at {self._path}. Plug it in, or type the grams.") from None
            except termios.error:
                self.close()
                raise DeviceError(f"{self._path} is no serial line. Choose another in Set-up, or type the grams.") from None
        return self._line

    def _dress(self, line: int) -> None:
        """Eight bits, no echo, no flow control, bytes as they come."""
        mode = termios.tcgetattr(line)
        mode[0] = mode[1] = mode[3] = 0
        mode[2] = termios.CS8 | termios.CREAD | termios.CLOCAL
        mode[4] = mode[5] = BAUDS[self._baud]
        termios.tcsetattr(line, termios.TCSANOW, mode)

    def close(self) -> None:
        """Let go of the line."""
        if self._line is not None:
            os.close(self._line)
            self._line = None
        self._rest = b""

    def _arrived(self) -> bytes:
        """Everything that has come since the last time; the line is let go where it is dead."""
        line = self._open()
        got = b""
        while True:
            try:
                piece = os.read(line, 4096)
            except BlockingIOError:
                return got
            except OSError:
                piece = b""
            if not piece:  # the other end is gone
                self.close()
                return got
            got += piece

    # ------------------------------------------------------------ the scale

    def read(self, now_s: float) -> ScaleReading:
        """Reading at a moment: the last whole line.

        Raises
        ------
        DeviceError
            If the line is gone, silent, not understood, or in an unknown unit; in words, and the next call tries again.
        """
        if self._asked_s is None:
            self._asked_s = now_s
        self._take(self._rest + self._arrived(), now_s)
        if self._last is None or now_s - self._last[0] > SILENT_AFTER_S:
            return self._nothing(now_s)
        when, kg, said, overload = self._last
        if overload:
            return ScaleReading(mass_kg=0.0, steady=False, overload=True)
        return ScaleReading(mass_kg=kg - self._zero_kg, steady=self._judged(when) if said is None else said)

    def _take(self, data: bytes, now_s: float) -> None:
        *lines, self._rest = re.split(rb"[\r\n]+", data)
        if len(self._rest) > LONGEST_LINE:
            self._strange, self._rest = "noise", b""
        for raw in lines:
            text = raw.decode("ascii", "replace").strip()
            if not text:
                continue
            found = understood(text, self._formats)
            if found is None:
                self._strange = text[:30]
                continue
            self._strange = ""
            kg, steady, overload = found
            self._last = now_s, kg, steady, overload
            if not overload:
                self._past.append((now_s, kg))

    def _judged(self, now_s: float) -> bool:
        """Whether the last second stood still, for scales that do not say so."""
        recent = [kg for t, kg in self._past if now_s - t <= STEADY_S]
        enough = bool(self._past) and now_s - self._past[0][0] >= STEADY_S and len(recent) >= 3
        return enough and max(recent) - min(recent) < STEADY_WITHIN_KG

    def _nothing(self, now_s: float) -> ScaleReading:
        if self._line is None:
            raise DeviceError("The scale is gone. Your cup is safe: plug it in again, or type the grams.")
        if self._strange:
            raise DeviceError(
                f"The scale sends “{self._strange}”, which Dribbet does not understand. Check its speed and its line format, or type the grams."
            )
        if self._last is None and now_s - (self._asked_s or now_s) < SILENT_AFTER_S:
            raise DeviceError("Waiting for the scale. Type the grams if it stays silent.")
        raise DeviceError("The scale stopped answering. Your cup is safe: check cable and battery, or type the grams.")

    def tare(self, now_s: float) -> None:
        """Set the display to zero: by the scale's own command where it has one, else here."""
        reading = self.read(now_s)
        if self._tare_command and self._line is not None:
            os.write(self._line, self._tare_command)
            return
        self._zero_kg += reading.mass_kg
        self._past.clear()


def lines_there(roots: tuple[Path, ...]) -> list[Path]:
    """Serial lines that may be a scale: by their own names where the system gives them, else USB ones."""
    by_id = [p for root in roots for p in sorted(root.glob("serial/by-id/*"))]
    return by_id or [p for root in roots for kind in ("ttyUSB*", "ttyACM*") for p in sorted(root.glob(kind))]
