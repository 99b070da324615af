"""What is due across all running series: facts, no words."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta
from enum import Enum
from typing import TYPE_CHECKING, Final

from dribbet.lab.panel.progress import Station
from dribbet.records import SeriesState
from dribbet.studio.standing import again

if TYPE_CHECKING:
    from datetime import datetime

    from dribbet.lab.panel.progress import DueLook
    from dribbet.records import Panel
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

LOOKS_AHEAD: Final = timedelta(hours=36)
"""How far ahead a look is worth knowing today."""


class Todo(Enum):
    """What is to be done; the value names the station where it is done."""

    LOOK = "dry"
    MIX = "mix"
    CHECK = "check"
    POUR = "pour"
    SHOOT = "shoot"
    READ = "read"
    DECIDE = "decide"


WAITS_FOR: Final = {Station.MIX: Todo.MIX, Station.CHECK: Todo.CHECK, Station.POUR: Todo.POUR, Station.SHOOT: Todo.SHOOT, Station.READ: Todo.READ}


@dataclass(frozen=True, slots=True, kw_only=True)
class Due:
    """One thing to do, for the panel that comes first and for all that are alike."""

    todo: Todo
    series_id: str
    series_name: str
    code: str
    """Of the panel that comes first, or of the series."""
    when: datetime
    now: bool = True
    overdue: bool = False
    panel_id: str = ""
    panels: int = 1
    look: str = ""
    moved_s: float = 0.0
    again: bool = False
    """Whether it is about photographs of panels that have been read already."""


def due(desk: Desk) -> list[Due]:
    """Everything to do: overdue, then now, then by its time."""
    now = desk.now()
    found: list[Due] = []
    for series in desk.all_series():
        if series.state is SeriesState.DECIDED or series.seed is None:
            continue
        run = desk.load(series.id)
        found += [*_looks(run, now), *_stations(run, now)]
    return sorted(found, key=lambda d: (not d.overdue, not d.now, d.when))


def _looks(run: Run, now: datetime) -> list[Due]:
    alike: dict[tuple[str, bool, bool], list[DueLook]] = {}
    for look in run.due_looks(now):
        if look.due - now < LOOKS_AHEAD:
            alike.setdefault((look.name, look.now, look.overdue), []).append(look)
    made = []
    for (name, is_now, overdue), looks in alike.items():
        first = min(looks, key=lambda look: look.due)
        made.append(
            Due(
                todo=Todo.LOOK, series_id=run.series.id, series_name=run.series.name, code=first.panel.code, when=first.due, now=is_now,
                overdue=overdue, panel_id=first.panel.id, panels=len(looks), look=name, moved_s=first.moved_s,
            )
        )  # fmt: skip
    return made


def _stations(run: Run, now: datetime) -> list[Due]:
    at: dict[Station, list[Panel]] = {}
    for panel in run.panels:
        at.setdefault(run.station(panel, now), []).append(panel)
    made = []
    for station, todo in WAITS_FOR.items():
        members = at.get(station, [])
        if members:
            first = min(members, key=lambda p: p.place)
            made.append(
                Due(
                    todo=todo, series_id=run.series.id, series_name=run.series.name, code=first.code, when=now,
                    panel_id=first.id, panels=len(members),
                )
            )  # fmt: skip
    if twice := again.unread(run):
        first = twice[0][0]
        made.append(
            Due(
                todo=Todo.READ, series_id=run.series.id, series_name=run.series.name, code=first.code, when=now, panel_id=first.id,
                panels=len(twice), again=True,
            )
        )  # fmt: skip
    if at and set(at) == {Station.DECIDE} and not twice:
        made.append(Due(todo=Todo.DECIDE, series_id=run.series.id, series_name=run.series.name, code=run.series.code, when=now))
    return made
