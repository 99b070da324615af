"""Choosing blind: a pick, taking one back, opening the recipes of a blind test."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from dribbet.notebook.store import new_id
from dribbet.records import DribbetError, Liked, Pick
from dribbet.studio.standing import choosing

if TYPE_CHECKING:
    from collections.abc import Iterable

    from dribbet.records import Score
    from dribbet.studio.desk import Desk
    from dribbet.studio.standing.choosing import Sitting
    from dribbet.studio.standing.scoring import Scoring


def pick(desk: Desk, sitting: Sitting, liked: Liked) -> None:
    """Keep which of the pair in hand was liked."""
    pair = sitting.pair
    if pair is None:
        raise DribbetError("All pairs of this sitting are picked. Begin another.")
    left, right = pair
    desk.notebook.add(
        Pick(
            id=new_id(), panel_id=left.id, other_id=right.id, judge=sitting.judge, sitting=sitting.number, liked=liked, guest=sitting.guest,
            at=desk.now(),
        )
    )  # fmt: skip
    desk.changed()


def take_back(desk: Desk, sitting: Sitting) -> None:
    """Take back the last pick of a sitting."""
    take_back_last(desk, desk.need_run().picks, sitting, "Nothing is picked in this sitting yet.")


def take_back_last(desk: Desk, said: Iterable[Pick] | Iterable[Score], sitting: Sitting | Scoring, nothing: str) -> None:
    """Take back what a sitting said last; `nothing` says that it said nothing."""
    mine = [s for s in said if (s.judge, s.sitting) == (sitting.judge, sitting.number)]
    if not mine:
        raise DribbetError(nothing)
    desk.notebook.replace(replace(max(mine, key=lambda s: s.number), taken_back=True))
    desk.changed()


def open_recipes(desk: Desk) -> None:
    """Show which letter is which recipe; when it was done stays on record."""
    run = desk.need_run()
    if not choosing.covered(run):
        raise DribbetError("The recipes of this test are not hidden.")
    desk.notebook.replace(replace(run.series, opened_at=desk.now()))
    desk.changed()
