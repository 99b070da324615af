"""Equal flow must have been found by a check before anything is poured (domain: basis of a medium comparison, matching)."""

from __future__ import annotations

from statistics import median
from typing import TYPE_CHECKING

from dribbet.lab.paint import consistency
from dribbet.lab.panel import progress
from dribbet.records import Equal

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.records import Check, Mix, Series


def not_yet(series: Series, mixes: Sequence[Mix], checks: Sequence[Check]) -> str:
    """Why a series that is compared at equal flow may not be poured yet, in words; nothing where it may.

    Every colour of every recipe needs a reading, and each colour's mixes must lie within the matching band of their
    median: drips where all have one, else the seconds a mound holds, by grade.
    """
    if series.equal is not Equal.FLOW:
        return ""
    unread = [m for m in mixes if not progress.checked(m, checks)]
    if unread:
        first = unread[0]
        more = f", and {len(unread) - 1} more" if len(unread) > 1 else ""
        return f"This test compares recipes at equal flow, and {first.colour} of {' and '.join(first.recipes)} was not checked{more}. Check it first."
    for colour in dict.fromkeys(m.colour for m in mixes):
        apart = _apart([m for m in mixes if m.colour == colour], checks)
        if apart:
            return f"This test compares recipes at equal flow, but {colour} does not flow alike in them: {apart} Mend it on Check first."
    return ""


def _apart(mixes: Sequence[Mix], checks: Sequence[Check]) -> str:
    if len(mixes) < 2:
        return ""
    runs = progress.drip_runs(mixes, checks)
    if all(m.id in runs for m in mixes):
        middle = median(runs.values())
        out = [m for m in mixes if abs(runs[m.id] - middle) > consistency.MATCH_WITHIN * middle]
        if out:
            return f"the drip of {' and '.join(out[0].recipes)} ran {runs[out[0].id] * 1e3:.0f} mm, the others about {middle * 1e3:.0f} mm."
        return ""
    grades = {m.id: consistency.grade(s) for m in mixes if (s := progress.mound_s(m, checks)) is not None}
    if len(grades) == len(mixes) and len(set(grades.values())) > 1:
        low, high = min(grades.values()), max(grades.values())
        return f"their mounds are of grade {low} to {high}."
    if len(grades) < len(mixes):
        return "some have a drip and others only a mound, which cannot be compared."
    return ""
