"""The air that panels dry in, as it was read."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING

from dribbet.records.order import Happened
from dribbet.records.require import require_between, require_share

if TYPE_CHECKING:
    from datetime import datetime


class ReadBy(StrEnum):
    """Where a reading of the air is from."""

    TYPED = "typed"
    SENSOR = "sensor"
    FILE = "file"


@dataclass(frozen=True, slots=True, kw_only=True)
class Climate(Happened):
    """Temperature and damp of the drying room at a moment."""

    id: str
    at: datetime
    celsius: float
    damp: float
    """Relative humidity, 0 to 1."""
    by: ReadBy
    taken_back: bool = False

    def __post_init__(self) -> None:
        require_between(self.celsius, -30.0, 60.0, "The room", "Enter its temperature, -30 to 60 °C.")
        require_share(self.damp, "The damp of the room")
