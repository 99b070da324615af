"""Which climate sensor a notebook listens to: none (typed), the practice one, or a file that a sensor's program writes."""

from __future__ import annotations

from datetime import timedelta
from pathlib import Path
from typing import TYPE_CHECKING, Final

from dribbet.devices import ClimateSensor, DeviceError, FileSensor, SimulatedSensor
from dribbet.devices.climate import EVERY
from dribbet.records import ReadBy
from dribbet.studio.acts import drying

if TYPE_CHECKING:
    from datetime import datetime

    from dribbet.records import HouseRules
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

SETTING: Final = "climate_sensor"
PRACTICE: Final = "practice"
FAULTY: Final = "practice, with faults"
FILE: Final = "file"
DRIES: Final = timedelta(days=30)
"""So long after its pour a panel dries, and the air is worth writing down."""


def choices(rules: HouseRules) -> list[str]:
    """What can be chosen; a file only where Bench rules name one."""
    return ["", PRACTICE, FAULTY, *([FILE] if rules.climate_file else [])]


def words(choice: str) -> str:
    """A choice as one says it."""
    return {"": "typed", PRACTICE: "practice", FAULTY: "practice, faults"}.get(choice, "file")


def sensor_for(choice: str, rules: HouseRules) -> ClimateSensor | None:
    """Make the sensor of a choice."""
    if choice == FILE and rules.climate_file:
        return FileSensor(Path(rules.climate_file))
    return SimulatedSensor(faults=choice == FAULTY) if choice in (PRACTICE, FAULTY) else None


def chosen(desk: Desk) -> str:
    """What the notebook was set to."""
    return str(desk.notebook.setting(SETTING, ""))


def choose_next(desk: Desk) -> None:
    """Go on to the next choice."""
    known, now = choices(desk.rules), chosen(desk)
    desk.notebook.put_setting(SETTING, known[(known.index(now) + 1) % len(known)] if now in known else "")
    desk.changed()


def listen(desk: Desk) -> str:
    """Write the air down where it is time and something dries; returns what went wrong in words, empty where nothing did."""
    sensor = sensor_for(chosen(desk), desk.rules)
    if sensor is None or desk.notebook.read_only:
        return ""
    now = desk.now()
    last = max((c.at for c in desk.climate() if c.by is ReadBy.SENSOR), default=None)
    if (last is not None and now - last < EVERY) or not any(_dries(desk.load(s.id), now) for s in desk.all_series() if s.seed is not None):
        return ""
    try:
        read = sensor.read(now)
    except DeviceError as error:
        return str(error)
    drying.read_room(desk, read.celsius, read.damp, by=ReadBy.SENSOR, at=min(read.at, now))
    return ""


def _dries(run: Run, now: datetime) -> bool:
    return any(at is not None and now - at < DRIES for at in (run.poured_at(p) for p in run.panels))
