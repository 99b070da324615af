"""Entering what the studio has: bare panels, places on the rack, hours at the bench."""

from __future__ import annotations

from typing import TYPE_CHECKING

from dribbet.records import DribbetError
from dribbet.studio.standing.has import BEYOND

if TYPE_CHECKING:
    from dribbet.studio.desk import Desk
    from dribbet.studio.standing.has import Has


def enter(desk: Desk, what: Has, number: float) -> None:
    """Keep a number of what the studio has.

    Raises
    ------
    DribbetError
        If no studio has so many.
    """
    if not 0.0 < number < BEYOND:
        raise DribbetError(f"{number:g} is out of reach. Type a figure above 0 and below {BEYOND:g}.")
    desk.notebook.put_setting(what.value, number)
    desk.changed()
