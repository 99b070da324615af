"""In which order things happened: the notebook's running number, and the clock only where there is none.

A clock is set back, summer time ends, a battery dies: what was done after something stays after it.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import TYPE_CHECKING, Any, Final, TypeVar

if TYPE_CHECKING:
    from collections.abc import Iterable


@dataclass(frozen=True, slots=True, kw_only=True)
class Happened:
    """Something that happened at a moment."""

    number: int = field(default=0, compare=False)
    """Place in the order of all that happened in this notebook; 0 before it is stored."""


H = TypeVar("H", bound=Happened)
NEVER: Final = (0, datetime(1, 1, 1, tzinfo=UTC))
"""Before everything that has happened."""


def order(record: Any) -> tuple[int, datetime]:
    """Key that sorts records of any kind by what happened first; later ones are greater."""
    return record.number, record.at


def latest(records: Iterable[H]) -> H | None:
    """What happened last; None of nothing."""
    return max(records, key=order, default=None)
