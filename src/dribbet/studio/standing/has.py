"""What the studio has, as somebody entered it: bare panels, places on the rack, hours at the bench; nothing is assumed."""

from __future__ import annotations

from enum import StrEnum
from typing import TYPE_CHECKING, Final

if TYPE_CHECKING:
    from dribbet.studio.desk import Desk

BEYOND: Final = 10_000.0
"""So much of anything is a slip of the finger."""


class Has(StrEnum):
    """A number of what a studio has; its value is the setting's name."""

    PANELS = "have_panels"
    RACK = "rack_slots"
    HOURS = "sitting_h"


def has(desk: Desk, what: Has) -> float | None:
    """The number that was entered; None where nobody did."""
    told = desk.notebook.setting(what.value)
    return float(told) if isinstance(told, (int, float)) and 0.0 <= told < BEYOND else None
