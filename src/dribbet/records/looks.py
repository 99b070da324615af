"""Looks at a panel while it dries."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING

from dribbet.records.errors import RecordError
from dribbet.records.order import Happened
from dribbet.records.photos import Stage

if TYPE_CHECKING:
    from datetime import datetime


class Feel(StrEnum):
    """How a corner feels."""

    MARKS = "it marks"
    TACKY = "tacky"
    FIRM = "firm"
    HARD = "hard"


@dataclass(frozen=True, slots=True, kw_only=True)
class Look(Happened):
    """A drying check-in."""

    id: str
    panel_id: str
    due: str
    at: datetime
    feel: Feel | None = None
    cracked: bool | None = None
    taken_back: bool = False

    def __post_init__(self) -> None:
        if self.due not in tuple(Stage):
            raise RecordError(f"{self.due[:20]!r} is no look. There are {', '.join(Stage)}.")
