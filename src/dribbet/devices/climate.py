"""A sensor for the air of the drying room: asked for a reading, it says temperature and damp, or that it cannot.

Open line format, over a serial line or appended to a file: one reading a line, fields by name in any order, such as
`2026-11-19T14:20:00+00:00 T=21.3 RH=48.2` or `T=21.3C;RH=48.2%`. The time may be missing: then it is the moment at which it is read.
"""

from __future__ import annotations

import csv
import io
import math
import re
from dataclasses import dataclass
from datetime import datetime, timedelta, tzinfo
from typing import TYPE_CHECKING, Final, Protocol

import numpy as np

from dribbet.devices.scale import DeviceError

if TYPE_CHECKING:
    from pathlib import Path

TEMPERATURE: Final = re.compile(r"(?:^|[\s;,])T(?:EMP)?\s*[=:]\s*(-?\d+(?:\.\d+)?)\s*(?:°?([CF]))?", re.IGNORECASE)
DAMP: Final = re.compile(r"(?:^|[\s;,])(?:RH|HUM)\s*[=:]\s*(\d+(?:\.\d+)?)\s*%?", re.IGNORECASE)
MOMENT: Final = re.compile(r"\d{4}-\d{2}-\d{2}[T ]\d{2}:\d{2}(?::\d{2})?(?:\.\d+)?(?:Z|[+-]\d{2}:?\d{2})?")
STALE_S: Final = 3600.0
"""A line older than this is no reading of now: the sensor has stopped."""
HEADS: Final = {
    "at": ("time", "date", "datetime", "timestamp", "moment"),
    "celsius": ("temperature", "temp", "t", "celsius", "t_c", "temperature (°c)", "temperature_c"),
    "damp": ("humidity", "rh", "damp", "relative humidity", "humidity (%)", "rh_%", "humidity_%"),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class AirReading:
    """What the sensor said."""

    at: datetime
    celsius: float
    damp: float
    """Relative humidity, 0 to 1."""


class ClimateSensor(Protocol):
    """Anything that knows the air."""

    name: str

    def read(self, now: datetime) -> AirReading:
        """Air now; raises `DeviceError` where it cannot say."""


def parsed(line: str, now: datetime) -> AirReading:
    """A reading from one line of a sensor.

    Raises
    ------
    DeviceError
        If it holds no temperature or no damp, or figures of no room.
    """
    warm, wet = TEMPERATURE.search(line), DAMP.search(line)
    if warm is None or wet is None:
        raise DeviceError(f"The climate sensor sent “{line.strip()[:40]}”. A line needs T= and RH=, such as T=21.3 RH=48.")
    celsius = float(warm.group(1))
    if (warm.group(2) or "").upper() == "F":
        celsius = (celsius - 32.0) / 1.8
    damp = float(wet.group(1)) / 100.0
    if not (-30.0 <= celsius <= 60.0 and 0.0 <= damp <= 1.0):
        raise DeviceError(f"The climate sensor says {celsius:.0f} °C and {damp:.0%}: no room is like that. Check the sensor.")
    told = MOMENT.search(line)
    return AirReading(at=moment_of(told.group(0), now.tzinfo) if told else now, celsius=celsius, damp=damp)


def moment_of(text: str, zone: tzinfo | None) -> datetime:
    """A moment from its text; one without an offset is of the wall's own zone."""
    try:
        at = datetime.fromisoformat(text.replace("Z", "+00:00"))
    except ValueError:
        raise DeviceError(f"“{text[:30]}” is no time. Times are written as 2026-11-19 14:20.") from None
    return at if at.tzinfo is not None else at.replace(tzinfo=zone)


class FileSensor:
    """A sensor whose program appends a line to a file."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self.name = f"Sensor file {path.name}"

    def read(self, now: datetime) -> AirReading:
        """The last whole line."""
        try:
            with self.path.open("rb") as file:
                file.seek(0, io.SEEK_END)
                file.seek(max(file.tell() - 4096, 0))
                lines = [x for x in file.read().decode("utf-8", "replace").splitlines() if x.strip()]
        except OSError:
            raise DeviceError(f"The climate file {self.path.name} cannot be read. Check that its sensor runs, or type the room.") from None
        if not lines:
            raise DeviceError(f"The climate file {self.path.name} is empty. Check that its sensor runs, or type the room.")
        found = parsed(lines[-1], now)
        if (now - found.at).total_seconds() > STALE_S:
            raise DeviceError(f"The climate sensor has said nothing since {found.at:%H:%M}. Check its battery, or type the room.")
        return found


class SimulatedSensor:
    """A practice sensor: a heated room by day and a cool one by night, a slow error of its own, and now and then no answer.

    The same moment always gives the same air, so that what was recorded can be understood.
    """

    name = "Practice sensor"

    def __init__(self, *, seed: int = 0, faults: bool = False) -> None:
        rng = np.random.default_rng(seed)
        self._offset_c, self._offset_damp = float(rng.normal(0, 0.3)), float(rng.normal(0, 0.015))
        self._faults, self._seed = faults, seed

    def read(self, now: datetime) -> AirReading:
        """Air at a moment."""
        hour = now.hour + now.minute / 60.0
        slot = int(now.timestamp() // 900)
        rng = np.random.default_rng([self._seed, slot])
        if self._faults and rng.random() < 0.06:
            raise DeviceError("The climate sensor does not answer. Check its battery, or type the room.")
        day = math.cos((hour - 15.0) / 24.0 * 2 * math.pi)
        celsius = 20.5 + 1.8 * day + self._offset_c + float(rng.normal(0, 0.1))
        damp = 0.48 - 0.07 * day + self._offset_damp + float(rng.normal(0, 0.006))
        return AirReading(at=now, celsius=round(celsius, 1), damp=round(min(max(damp, 0.05), 0.95), 3))


def from_table(text: str, zone: tzinfo | None) -> list[AirReading]:
    """Readings from a CSV file of a sensor's own program: columns are found by their heads.

    Raises
    ------
    DeviceError
        If a column is missing, or a line holds no figures; says which line.
    """
    sample = text[:4096]
    mark = max((",", ";", "\t"), key=sample.count)
    rows = list(csv.reader(io.StringIO(text.lstrip("\ufeff")), delimiter=mark))
    if not rows:
        raise DeviceError("This file of the room's air is empty.")
    heads = [h.strip().lower() for h in rows[0]]
    where = {}
    for field, names in HEADS.items():
        column = next((i for i, h in enumerate(heads) if h in names or any(h.startswith(f"{n} ") for n in names)), None)
        if column is None:
            raise DeviceError(f"No column of this file is named like {names[0]}. Its first line needs heads such as time, temperature, humidity.")
        where[field] = column
    fahrenheit = "f" in heads[where["celsius"]].replace("°", " ").replace("(", " ").replace(")", " ").split()
    made = []
    for number, row in enumerate(rows[1:], start=2):
        if not any(cell.strip() for cell in row):
            continue
        try:
            celsius, damp = (float(row[where[n]].replace(",", ".").rstrip("%°C ")) for n in ("celsius", "damp"))
            at = moment_of(row[where["at"]].strip(), zone)
        except (ValueError, IndexError, DeviceError):
            raise DeviceError(f"Line {number} of this file is no reading of the air: {','.join(row)[:60]}") from None
        celsius = (celsius - 32.0) / 1.8 if fahrenheit else celsius
        made.append(AirReading(at=at, celsius=celsius, damp=damp / 100.0 if damp > 1.0 else damp))
    return made


EVERY: Final = timedelta(minutes=15)
"""How often a sensor is written down."""
