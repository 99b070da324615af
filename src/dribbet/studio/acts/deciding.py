"""Closing a series with what it shows: facts are kept, sentences are made of them when they are read."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from dribbet.lab.verdict.poured import level_name
from dribbet.records import Closing, Concluded, DribbetError, SeriesState
from dribbet.studio.standing import verdict

if TYPE_CHECKING:
    from datetime import datetime

    from dribbet.records import Series
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run


def concluded(desk: Desk, run: Run) -> tuple[Concluded, ...]:
    """What a series says of the ends of what it varies first, response by response; empty where nothing was read."""
    told = verdict.shown(desk, run)
    last = len(run.series.varied[0].levels) - 1
    answers = told.pair("0", level_name(0), level_name(last))
    return tuple(
        Concluded(
            response=r, which=0, first=0, second=last, difference=a.difference, low=a.low, high=a.high, level=a.level, word=a.word,
        )
        for r, _ in run.series.responses
        if (a := answers.get(str(r))) is not None
    )  # fmt: skip


def opened(series: Series, now: datetime) -> Series:
    """A closed series that goes on: what it said then is kept."""
    earlier = (*series.earlier, Closing(until=now, concluded=series.concluded)) if series.concluded else series.earlier
    return replace(series, state=SeriesState.RUNNING, verdict="", concluded=(), earlier=earlier)


def close(desk: Desk) -> None:
    """Close the series in hand.

    Raises
    ------
    DribbetError
        If no dry panel of it was read.
    """
    run = desk.need_run()
    if not verdict.shown(desk, run).panels:
        raise DribbetError("There is nothing to close yet. Read the dry panels first.")
    desk.notebook.replace(replace(run.series, state=SeriesState.DECIDED, concluded=concluded(desk, run), verdict=""))
    desk.changed()
