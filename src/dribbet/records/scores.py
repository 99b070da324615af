"""Points for one thing that eyes can see on a panel, given without knowing which recipe it is."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime  # noqa: TC003 - the notebook builds records by their hints
from typing import Final

from dribbet.records.errors import RecordError
from dribbet.records.order import Happened
from dribbet.records.plans import Response  # noqa: TC001 - as above
from dribbet.records.require import require_between, require_text

LEAST_POINTS: Final = 1
MOST_POINTS: Final = 5


@dataclass(frozen=True, slots=True, kw_only=True)
class Score(Happened):
    """One panel, looked at by one judge in one sitting for one thing."""

    id: str
    panel_id: str
    judge: str
    sitting: int
    criterion: Response | None
    """What was looked for; None: how well it is liked over all."""
    points: int | None
    """1 (least) to 5 (most); None where it could not be told."""
    guest: bool = False
    """Whether a guest scored: their points are counted apart."""
    at: datetime
    taken_back: bool = False

    def __post_init__(self) -> None:
        require_text(self.judge, "The name of who scores", 40)
        require_between(self.sitting, 1, 99, "The number of a sitting", "Begin a sitting on Decide.")
        if not self.judge.strip():
            raise RecordError("Say who scores, such as your first name.")
        if self.points is not None:
            require_between(self.points, LEAST_POINTS, MOST_POINTS, "Points", "Press 1 to 5, or say that it cannot be told.")
