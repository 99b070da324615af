"""Looks at a panel while it dries."""

from __future__ import annotations

import re
from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING, Final

from dribbet.records.errors import RecordError
from dribbet.records.order import Happened
from dribbet.records.photos import Stage
from dribbet.records.require import require_share, require_text

if TYPE_CHECKING:
    from datetime import datetime


class Feel(StrEnum):
    """How a corner feels."""

    MARKS = "it marks"
    TACKY = "tacky"
    FIRM = "firm"
    HARD = "hard"


class Flaw(StrEnum):
    """What else is seen in a film that dries."""

    DIVOT = "divot"
    BLISTER = "blister"
    WRINKLE = "wrinkle"
    BUCKLED = "support buckled"


OWN_TIME: Final = re.compile(r"(\d{1,4}(?:\.\d)?) (h|d)\Z")
"""A look at an hour of the person's own: '10 h', '18 h', '3 d'."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Look(Happened):
    """A drying check-in."""

    id: str
    panel_id: str
    due: str
    at: datetime
    feel: Feel | None = None
    cracked: bool | None = None
    x_share: float | None = None
    y_share: float | None = None
    """Where the first crack is, as shares of the panel's width and height."""
    flaws: tuple[Flaw, ...] = ()
    late_s: float = 0.0
    """How long after its hour it was made."""
    note: str = ""
    taken_back: bool = False

    def __post_init__(self) -> None:
        if self.due not in tuple(Stage) and OWN_TIME.match(self.due) is None:
            raise RecordError(f"{self.due[:20]!r} is no look. There are {', '.join(Stage)}, or hours of your own such as 10 h.")
        for share in (self.x_share, self.y_share):
            if share is not None:
                require_share(share, "The place of the crack")
        require_text(self.note, "The note to a look", 200)
