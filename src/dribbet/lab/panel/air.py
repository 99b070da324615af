"""The air that a panel dries in, as a curve: what was read, held until the next reading."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import numpy as np

if TYPE_CHECKING:
    from collections.abc import Sequence
    from datetime import datetime

    from dribbet.records import Climate

STEP_S: Final = 900.0
MOST_STEPS: Final = 2000
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
    told = sorted((r for r in readings if not r.taken_back), key=lambda r: r.at)
    if not told:
        return Air(celsius=planned_c, damp=planned_damp, read=0.0, least_damp=planned_damp, most_celsius=planned_c)
    seconds = max((ends - begins).total_seconds(), 1.0)
    count = min(max(int(seconds // STEP_S), 8), MOST_STEPS)
    at = (np.arange(count) + 0.5) / count * seconds
    known = np.array([(r.at - begins).total_seconds() for r in told])
    values = np.array([(r.celsius, r.damp) for r in told])
    after = np.searchsorted(known, at)
    before, after = np.clip(after - 1, 0, None), np.clip(after, None, len(told) - 1)
    reach = HOLDS_H * 3600.0
    nearer = np.where(np.abs(known[before] - at) <= np.abs(known[after] - at), before, after)
    inside = (known[after] - known[before] <= reach) & (known[before] <= at) & (at <= known[after])
    share = np.where(inside, (at - known[before]) / np.maximum(known[after] - known[before], 1e-9), 0.0)[:, None]
    between = values[before] + (values[after] - values[before]) * share
    near = np.abs(known[nearer] - at) <= reach
    found = np.where(inside[:, None], between, values[nearer])
    read = inside | near
    found = np.where(read[:, None], found, (planned_c, planned_damp))
    return Air(
        celsius=float(found[:, 0].mean()), damp=float(found[:, 1].mean()), read=float(read.mean()), least_damp=float(found[:, 1].min()),
        most_celsius=float(found[:, 0].max()),
    )  # fmt: skip
