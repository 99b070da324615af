"""The air that a panel dries in, as a curve: what was read, held until the next reading."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta
from typing import TYPE_CHECKING, Final

if TYPE_CHECKING:
    from collections.abc import Sequence
    from datetime import datetime

    from dribbet.records import Climate

HOLDS_H: Final = 12.0
"""How long a reading is taken to hold before and after it: rooms change by half days."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Air:
    """Mean of temperature and damp over a time, and how much of that time was read."""

    celsius: float
    damp: float
    read: float
    """Share of the time for which there are readings, 0 to 1; the rest is as planned."""
    least_damp: float
    most_celsius: float


def over(readings: Sequence[Climate], begins: datetime, ends: datetime, planned_c: float, planned_damp: float) -> Air:
    """Mean air between two moments, in time; where nothing was read the planned figures stand.

    Between two readings the air goes in a straight line where they lie less than half a day apart; else each holds for that long.
    """
    inside = sorted((r for r in readings if not r.taken_back), key=lambda r: r.at)
    seconds = max((ends - begins).total_seconds(), 1.0)
    count = min(max(int(seconds // 900), 8), 2000)
    sums, read, damps, temperatures = [0.0, 0.0], 0, [], []
    for i in range(count):
        at = begins + timedelta(seconds=seconds * (i + 0.5) / count)
        told = _at(inside, at)
        c, damp = told if told is not None else (planned_c, planned_damp)
        read += told is not None
        sums = [sums[0] + c, sums[1] + damp]
        damps.append(damp)
        temperatures.append(c)
    return Air(celsius=sums[0] / count, damp=sums[1] / count, read=read / count, least_damp=min(damps), most_celsius=max(temperatures))


def _at(readings: Sequence[Climate], at: datetime) -> tuple[float, float] | None:
    before = next((r for r in reversed(readings) if r.at <= at), None)
    after = next((r for r in readings if r.at > at), None)
    reach = timedelta(hours=HOLDS_H)
    if before is not None and after is not None and after.at - before.at <= reach:
        share = (at - before.at) / (after.at - before.at)
        return before.celsius + (after.celsius - before.celsius) * share, before.damp + (after.damp - before.damp) * share
    near = [r for r in (before, after) if r is not None and abs(r.at - at) <= reach]
    closest = min(near, key=lambda r: abs(r.at - at), default=None)
    return (closest.celsius, closest.damp) if closest is not None else None
