"""Every look that is still to be made, across all running series: facts, no words."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from dribbet.lab.panel import progress
from dribbet.lab.panel.drying import hours_of
from dribbet.records import SeriesState

if TYPE_CHECKING:
    from datetime import datetime

    from dribbet.records import Panel, Series
    from dribbet.studio.desk import Desk


@dataclass(frozen=True, slots=True, kw_only=True)
class Ahead:
    """One look at one panel."""

    series: Series
    panel: Panel
    look: str
    due: datetime
    moved_s: float


def ahead(desk: Desk) -> list[Ahead]:
    """Looks that were not made, soonest first; each moved into waking hours."""
    found = []
    for series in desk.all_series():
        if series.state is SeriesState.DECIDED or series.seed is None:
            continue
        run = desk.load(series.id)
        for panel in run.panels:
            poured = run.poured_at(panel)
            if poured is None or panel.spoiled:
                continue
            made = {k.due for k in run.looks if k.panel_id == panel.id}
            for name in progress.looks_of(series):
                if name not in made:
                    due = progress.due_at(poured, hours_of(name), run.waking)
                    moved = (due - poured).total_seconds() - hours_of(name) * 3600.0
                    found.append(Ahead(series=series, panel=panel, look=name, due=due, moved_s=moved))
    return sorted(found, key=lambda a: a.due)
