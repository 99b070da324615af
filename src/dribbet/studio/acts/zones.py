"""Zones of a panel that are left out of every reading, and counted again. No widgets."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from dribbet.records import DribbetError, Mishap, order
from dribbet.studio.acts.leaving_out import reopen

if TYPE_CHECKING:
    from dribbet.records import Panel
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run


def last_placed(run: Run, panel: Panel) -> Mishap | None:
    """The mishap of a panel that was given a place last; None where none was."""
    return max((m for m in run.mishaps if m.panel_id == panel.id and m.x_share is not None), key=order, default=None)


def change(desk: Desk, entry: Mishap) -> None:
    """Keep a changed mishap; a decided series opens again where figures behind its verdict change."""
    run = desk.need_run()
    with desk.notebook.transaction():
        desk.notebook.replace(entry)
        if any(r.panel_id == entry.panel_id for r in run.readings):
            reopen(desk, run.series.id)
    desk.changed()


def turn(desk: Desk, entry: Mishap) -> None:
    """Leave the zone of a mishap out of every reading, or count it again."""
    if entry.x_share is None:
        raise DribbetError("This mishap has no place on the panel. Touch the panel's outline where it is.")
    change(desk, replace(entry, zone_out=not entry.zone_out))
