"""How consistency was read."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING, Final

from dribbet.records.order import Happened
from dribbet.records.require import (
    MOST_LENGTH_M,
    require_between,
    require_not_negative,
)

if TYPE_CHECKING:
    from datetime import datetime


class CheckKind(StrEnum):
    """How consistency was read."""

    MOUND = "mound"
    DRIP = "drip"
    FLOW_CUP = "flow cup"
    RING = "ring"
    SLUMP = "slump"
    STREAM = "stream"
    KEPT = "kept"


class Stream(StrEnum):
    """What the stream from the stick does, thin to thick; lumps are no thickness."""

    WATER = "drops like water"
    THREAD = "thin even thread"
    MOUND = "thread with a small mound"
    ROPE = "rope that heaps up"
    FOLDS = "folds and ribbons"
    LUMPS = "lumpy thread"


AT_THE_SCALE: Final = "at the scale"
"""Source of a look at the stream while a cup is thinned by eye."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Check(Happened):
    """A consistency reading of one mix.

    `value` is seconds for mound and flow cup, metres for a drip's run and a slump's diameter, ring width over drop radius for
    a ring, the place among `Stream` for a stream; 0 for a decision to keep the pot as it is (`note` says why).
    """

    id: str
    mix_id: str
    kind: CheckKind
    value: float
    at: datetime
    source: str = "typed"
    tool: str = ""
    """Which flow cup."""
    seconds: float = 0.0
    """When a drip, ring or slump was read after it was set."""
    celsius: float | None = None
    note: str = ""
    taken_back: bool = False

    def __post_init__(self) -> None:
        most = MOST_LENGTH_M if self.kind in (CheckKind.DRIP, CheckKind.SLUMP) else 86_400.0
        require_not_negative(self.value, "The reading", "Read it again: it is zero or more, and no pour takes a day.", most)
        require_not_negative(self.seconds, "The time of the reading", "Enter the seconds after the drop was set, at most a day.", 86_400.0)
        if self.celsius is not None:
            require_between(self.celsius, -30.0, 90.0, "The temperature", "Enter what the room or the paint has, -30 to 90 °C.")
        if self.kind is CheckKind.STREAM:
            require_between(self.value, 0, len(Stream) - 1, "The look of the stream", "Choose one of those drawn.")
