"""Scoring blind: points for a panel, taking them back."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from dribbet.notebook.store import new_id
from dribbet.records import DribbetError, Score

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
    mine = [s for s in desk.need_run().scores if (s.judge, s.sitting) == (sitting.judge, sitting.number)]
    if not mine:
        raise DribbetError("Nothing is scored in this sitting yet.")
    desk.notebook.replace(replace(max(mine, key=lambda s: s.number), taken_back=True))
    desk.changed()
