"""What is done to a panel once it is dry: washed, coated, baked, tried with a hot cup, thrown away."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING, Final

from dribbet.records.errors import RecordError
from dribbet.records.order import Happened
from dribbet.records.require import MOST_SECONDS, require_between, require_not_negative, require_text

if TYPE_CHECKING:
    from datetime import datetime


class After(StrEnum):
    """What can be done to a dry panel."""

    WASH = "wash"
    VARNISH = "varnish"
    RESIN = "resin"
    BAKE = "bake"
    HOT_CUP = "hot cup"
    DISCARD = "discard"


COATS: Final = (After.VARNISH, After.RESIN)
"""What lies on the paint afterwards: later photographs show it, not the paint alone."""


class Stuck(StrEnum):
    """How a hot cup came off."""

    FREE = "free"
    SLIGHT = "slight pull"
    STUCK = "stuck"
    MARKED = "left a mark"


@dataclass(frozen=True, slots=True, kw_only=True)
class Treated(Happened):
    """One treatment of one panel, when it began, with its figures."""

    id: str
    panel_id: str
    kind: After
    at: datetime
    celsius: float | None = None
    """Oven or cup."""
    seconds: float = 0.0
    """How long it is held."""
    load_kg: float = 0.0
    """Weight of the cup."""
    hot_at: datetime | None = None
    """When a cold oven had come to its temperature: from then on the time runs."""
    ajar_at: datetime | None = None
    """When the oven was switched off and its door set ajar."""
    stuck: Stuck | None = None
    finished_at: datetime | None = None
    note: str = ""
    taken_back: bool = False

    def __post_init__(self) -> None:
        if self.celsius is not None:
            require_between(self.celsius, 0.0, 300.0, f"The temperature of the {self.kind}", "Enter what the label says, in °C.")
        if self.kind is After.BAKE and self.celsius is None:
            raise RecordError("A bake needs the oven's temperature. Enter what the label says, in °C.")
        require_not_negative(self.seconds, f"The time of the {self.kind}", "Enter seconds or minutes.", MOST_SECONDS)
        require_between(self.load_kg, 0.0, 20.0, "The cup, in kilograms,", "Enter the weight of the full cup.")
        require_text(self.note, "The note to a treatment", 200)
