"""What a person does at the pour, beside its steps: go on although something is amiss, on record."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from dribbet.records import Advice, DribbetError, Insisted
from dribbet.studio.standing import pots

if TYPE_CHECKING:
    from dribbet.records import Panel
    from dribbet.studio.desk import Desk


def pour_from_elsewhere(desk: Desk, panel: Panel) -> None:
    """Pour a panel although its cups were not mixed here; said once, and kept beside the verdict.

    Raises
    ------
    DribbetError
        If its cups were mixed: then there is nothing to go against.
    """
    run = desk.need_run()
    hold = pots.held_back(desk, run, panel)
    if hold is None or hold.fault is not pots.Fault.UNMIXED:
        raise DribbetError(f"The cups of {panel.code} were mixed here. Pour it from them.")
    said = Insisted(against=Advice.UNMIXED, of=panel.code, at=desk.now())
    desk.notebook.replace(replace(run.series, insisted=(*run.series.insisted, said)))
    desk.changed()
