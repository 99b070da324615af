"""Leaving a panel out of every verdict, with a reason, and counting it again. No widgets."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Final

from dribbet.records import DribbetError, Panel, Series, SeriesState
from dribbet.studio.acts.deciding import opened

if TYPE_CHECKING:
    from dribbet.studio.desk import Desk

REASONS: Final = ("smudged or touched", "cup slipped", "wrong cup or recipe", "dust, fly or damage", "cannot be photographed")


def leave_out(desk: Desk, panel: Panel, reason: str) -> None:
    """Leave a panel, with all pieces that share it, out of every verdict."""
    reason = " ".join(reason.split())[:120]
    if not reason:
        raise DribbetError("Say why it is left out: the reason stands beside the verdict. Choose one or type it.")
    _mark(desk, panel, reason)


def count_again(desk: Desk, panel: Panel) -> None:
    """Take back that a panel is left out."""
    _mark(desk, panel, "")


def _mark(desk: Desk, panel: Panel, reason: str) -> None:
    known = desk.notebook.get(Panel, panel.id)
    with desk.notebook.transaction():
        desk.notebook.replace(replace(known, spoiled=reason))
        reopen(desk, known.series_id)
    desk.changed()


def reopen(desk: Desk, series_id: str) -> bool:
    """Open a decided series again, because figures behind its verdict changed; True where it was decided.

    What it said then is kept; a new verdict is given on Decide.
    """
    series = desk.notebook.get(Series, series_id)
    if series.state is not SeriesState.DECIDED:
        return False
    desk.notebook.replace(opened(series, desk.now()))
    return True
