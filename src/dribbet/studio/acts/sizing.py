"""What size a panel really has, where a person measured it. No widgets."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Final

from dribbet.records import DribbetError, Panel
from dribbet.studio.acts.leaving_out import reopen

if TYPE_CHECKING:
    from dribbet.studio.desk import Desk

MOST_OFF: Final = 2.0
"""Times a planned side, and its inverse: further off is another unit, or another panel."""


def measured(desk: Desk, panel: Panel, size_mm: tuple[float, float]) -> None:
    """Keep the size of a whole panel as a person measured it, for all pieces that share it; what was read of it is then to be read again.

    Raises
    ------
    DribbetError
        If no panel of this test can be so large or so small.
    """
    run = desk.load(panel.series_id)
    planned = run.planned_mm(panel)
    if any(not mm / MOST_OFF <= typed <= mm * MOST_OFF for typed, mm in zip(size_mm, planned, strict=True)):
        raise DribbetError(
            f"{panel.code} cannot be so much larger or smaller than planned. Type its width, then its height, in the unit of the planned size."
        )
    _keep(desk, panel, (size_mm[0] / 1e3, size_mm[1] / 1e3))


def as_planned(desk: Desk, panel: Panel) -> None:
    """Take back what was measured: the panel has its planned size."""
    _keep(desk, panel, (0.0, 0.0))


def _keep(desk: Desk, panel: Panel, size_m: tuple[float, float]) -> None:
    run = desk.load(panel.series_id)
    with desk.notebook.transaction():
        desk.notebook.replace(*[replace(p, width_m=size_m[0], height_m=size_m[1]) for p in run.together(panel)])
        if any(run.reading(p) is not None for p in run.together(panel)):
            reopen(desk, panel.series_id)
    desk.changed()
