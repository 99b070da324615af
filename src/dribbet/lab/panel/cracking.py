"""When a panel began to crack: between the last look that saw none and the first that saw one."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from dribbet.records import order

if TYPE_CHECKING:
    from collections.abc import Sequence
    from datetime import datetime

    from dribbet.records import Look


@dataclass(frozen=True, slots=True, kw_only=True)
class Began:
    """An interval in hours after the pour; `until_h` is None while no crack was seen: then it is later than `from_h`."""

    from_h: float
    until_h: float | None
    x_share: float | None = None
    y_share: float | None = None
    """Where the first crack was seen."""


def began(poured: datetime, looks: Sequence[Look]) -> Began | None:
    """When cracking began on one panel; None where nobody looked for cracks yet.

    A panel that was never seen cracked is not one that will not crack: its interval stays open at the right (censored).
    A look after a crack that says there is none does not take the crack back: cracks do not heal, eyes err.
    """
    told = sorted((k for k in looks if k.cracked is not None and not k.taken_back), key=order)
    if not told:
        return None
    hours = [(k, max((k.at - poured).total_seconds() / 3600.0, 0.0)) for k in told]
    first = next(((k, h) for k, h in hours if k.cracked), None)
    if first is None:
        return Began(from_h=max(h for _, h in hours), until_h=None)
    look, until = first
    before = [h for k, h in hours if not k.cracked and h < until]
    return Began(from_h=max(before, default=0.0), until_h=until, x_share=look.x_share, y_share=look.y_share)


def turnbull_median_h(intervals: Sequence[Began]) -> float | None:
    """Hour at which half of the panels are cracked, from intervals, some of them open; None where fewer than half cracked.

    Non-parametric maximum likelihood of interval-censored times (Turnbull 1976): mass on the innermost intervals, by
    self-consistency. Worked: intervals (0, 2], (2, 4], (2, 4], open after 4 give 1/4 by 2 h, 3/4 by 4 h, so the median is 4 h.
    """
    ends = sorted({i.until_h for i in intervals if i.until_h is not None})
    if not ends or not intervals:
        return None
    places = [*ends, float("inf")]
    holds = [[i.from_h < p <= (i.until_h if i.until_h is not None else float("inf")) for p in places] for i in intervals]
    mass = [1.0 / len(places)] * len(places)
    for _ in range(500):
        new = [0.0] * len(places)
        for row in holds:
            total = sum(m for m, there in zip(mass, row, strict=True) if there)
            if total > 0.0:
                for j, there in enumerate(row):
                    if there:
                        new[j] += mass[j] / total / len(intervals)
        if max(abs(a - b) for a, b in zip(new, mass, strict=True)) < 1e-10:
            break
        mass = new
    passed = 0.0
    for place, m in zip(places, mass, strict=True):
        passed += m
        if passed >= 0.5 - 1e-9:
            return None if place == float("inf") else place
    return None
