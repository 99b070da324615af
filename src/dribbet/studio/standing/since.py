"""What changed on a panel since it was photographed and read at an earlier stage (domain: change between wet and dry)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from dribbet.records import Stage
from dribbet.sight import since as sight

if TYPE_CHECKING:
    from dribbet.records import Panel, Reading
    from dribbet.studio.run import Run

ORDER = list(Stage)


@dataclass(frozen=True, slots=True, kw_only=True)
class SinceShown:
    """A later reading beside the latest one of an earlier stage."""

    stage: Stage
    """Of the earlier one."""
    hours: float
    """Between the two photographs coming in."""
    cells: int
    """On the earlier one."""
    change: sight.Since


def earlier(run: Run, panel: Panel, reading: Reading) -> Reading | None:
    """The newest reading of the latest stage before that of a reading; None where there is none."""
    mine = [r for r in run.readings if r.panel_id == panel.id and ORDER.index(r.stage) < ORDER.index(reading.stage)]
    return max(mine, key=lambda r: (ORDER.index(r.stage), r.number), default=None)


def since(run: Run, panel: Panel, reading: Reading) -> SinceShown | None:
    """What changed until a reading; None where the panel was not read at an earlier stage."""
    was = earlier(run, panel, reading)
    if was is None:
        return None

    def compute() -> SinceShown:
        came = {p.id: p.added_at for p in run.photos}
        both = [came[r.photo_id] for r in (was, reading) if r.photo_id in came]
        return SinceShown(
            stage=was.stage,
            hours=(both[1] - both[0]).total_seconds() / 3600.0 if len(both) == 2 else 0.0,
            cells=len(was.result["cells"]["items"]),
            change=sight.since(was.result, reading.result),
        )

    return run.once(("since", was.id, reading.id), compute)
