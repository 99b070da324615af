"""Choosing between two panels without knowing which they are."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime  # noqa: TC003 - the notebook builds records by their hints
from enum import StrEnum

from dribbet.records.errors import RecordError
from dribbet.records.order import Happened
from dribbet.records.require import require_between, require_text


class Liked(StrEnum):
    """Which of the two was liked better."""

    LEFT = "left"
    RIGHT = "right"
    NEITHER = "neither"


@dataclass(frozen=True, slots=True, kw_only=True)
class Pick(Happened):
    """One pair, looked at by one judge in one sitting."""

    id: str
    panel_id: str
    """Panel on the left."""
    other_id: str
    """Panel on the right."""
    judge: str
    sitting: int
    liked: Liked
    guest: bool = False
    """Whether a guest picked: their picks are counted apart."""
    at: datetime
    taken_back: bool = False

    def __post_init__(self) -> None:
        require_text(self.judge, "The name of who picks", 40)
        require_between(self.sitting, 1, 99, "The number of a sitting", "Begin a sitting on Decide.")
        if not self.judge.strip():
            raise RecordError("Say who picks, such as your first name.")
        if self.panel_id == self.other_id:
            raise RecordError("A panel cannot be held against itself. Take another pair.")
