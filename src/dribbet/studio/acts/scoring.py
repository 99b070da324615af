"""Scoring blind: points for a panel, taking them back."""

from __future__ import annotations

from typing import TYPE_CHECKING

from dribbet.notebook.store import new_id
from dribbet.records import DribbetError, Score
from dribbet.studio.acts.choosing import take_back_last

if TYPE_CHECKING:
    from dribbet.studio.desk import Desk
    from dribbet.studio.standing.scoring import Scoring


def score(desk: Desk, sitting: Scoring, points: int | None) -> None:
    """Keep the points of the panel in hand; None where it cannot be told."""
    if sitting.now is None:
        raise DribbetError("All panels of this sitting are scored. Begin another.")
    criterion, panel = sitting.now
    desk.notebook.add(
        Score(
            id=new_id(), panel_id=panel.id, judge=sitting.judge, sitting=sitting.number, criterion=criterion, points=points, guest=sitting.guest,
            at=desk.now(),
        )
    )  # fmt: skip
    desk.changed()


def take_back(desk: Desk, sitting: Scoring) -> None:
    """Take back the last points of a sitting."""
    take_back_last(desk, desk.need_run().scores, sitting, "Nothing is scored in this sitting yet.")
