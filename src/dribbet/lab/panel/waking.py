"""Hours in which a person looks at panels: a check that falls into the night is moved to its nearer edge."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Callable

AT_THE_BENCH_H = 2.0
"""Hours after a pour in which the person is still there: such a check stays where it is."""


def _same(moment: datetime) -> datetime:
    return moment


@dataclass(frozen=True, slots=True, kw_only=True)
class Waking:
    """From and until which hour of the day a person looks; the two ways between moments and the clock on the wall.

    Without those two a moment's own time zone is the wall's.
    """

    from_h: float = 7.0
    until_h: float = 22.0
    local: Callable[[datetime], datetime] = _same
    at_wall: Callable[[datetime], datetime] | None = None

    def moved(self, due: datetime, earliest: datetime) -> datetime:
        """A moment itself where it is by day, else the nearer edge of the night; never before `earliest`.

        >>> from datetime import UTC
        >>> night = datetime(2026, 11, 20, 1, 12, tzinfo=UTC)
        >>> Waking().moved(night, night - timedelta(hours=9)).isoformat()
        '2026-11-19T22:00:00+00:00'
        >>> Waking().moved(night, night - timedelta(hours=1)).isoformat()
        '2026-11-20T07:00:00+00:00'
        """
        wall = self.local(due)
        midnight = wall.replace(hour=0, minute=0, second=0, microsecond=0, tzinfo=None, fold=0)
        hour = (wall.replace(tzinfo=None) - midnight).total_seconds() / 3600.0
        if self.from_h <= hour <= self.until_h:
            return due
        morning = midnight + timedelta(hours=self.from_h, days=1 if hour > self.until_h else 0)
        evening = midnight + timedelta(hours=self.until_h, days=-1 if hour < self.from_h else 0)
        later, sooner = self._moment(morning, wall), self._moment(evening, wall)
        if sooner >= earliest and due - sooner <= later - due:
            return sooner
        return later

    def _moment(self, wall: datetime, like: datetime) -> datetime:
        moment = self.at_wall(wall) if self.at_wall is not None else wall.replace(tzinfo=like.tzinfo)
        return moment.astimezone(like.tzinfo)
