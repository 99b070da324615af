"""What a person does while panels dry: looks, weighs, reads the room, and treats what is dry. One act, one transaction."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Final

from dribbet.lab.panel import aftercare
from dribbet.lab.panel.aftercare import Phase
from dribbet.notebook.store import new_id
from dribbet.records import (
    After,
    Climate,
    DribbetError,
    Look,
    PanelWeighing,
    PanelWeight,
    ReadBy,
    Treated,
    order,
)
from dribbet.studio.acts.pouring import weigh
from dribbet.studio.standing import panels

if TYPE_CHECKING:
    from collections.abc import Sequence
    from datetime import datetime

    from dribbet.devices import AirReading
    from dribbet.lab.panel.progress import DueLook
    from dribbet.records import Feel, Flaw, Panel, Stuck
    from dribbet.studio.desk import Desk

SAME_MOMENT_S: Final = 60.0
"""Two readings of the air nearer than this are one."""


def look(
    desk: Desk, due: DueLook, *, feel: Feel | None, cracked: bool, at: tuple[float, float] | None = None, flaws: Sequence[Flaw] = (), note: str = ""
) -> None:
    """Write down what a look showed; where the first crack is, where that was said."""
    now = desk.now()
    desk.notebook.add(
        Look(
            id=new_id(),
            panel_id=due.panel.id,
            due=due.name,
            at=now,
            feel=feel,
            cracked=cracked,
            x_share=at[0] if at and cracked else None,
            y_share=at[1] if at and cracked else None,
            flaws=tuple(flaws),
            late_s=max((now - due.due).total_seconds(), 0.0),
            note=" ".join(note.split())[:200],
        )
    )
    desk.changed()


def weigh_drying(desk: Desk, panel: Panel, weight_kg: float | None) -> None:
    """Weigh a panel while it dries; heavier than wet is refused, because nothing is gained in drying."""
    run = desk.need_run()
    poured = run.weight(panel, PanelWeight.POURED)
    if poured is None:
        raise DribbetError(f"{panel.code} was not weighed with its wet paint, so its weight now says nothing of how dry it is.")
    if weight_kg is not None and weight_kg > poured * 1.002:
        raise DribbetError(f"{panel.code} cannot be heavier than when it was wet. Check the scale: is it set to nought?")
    weigh(desk, panel, PanelWeight.DRYING, weight_kg)


def read_room(desk: Desk, celsius: float, damp: float, *, by: ReadBy = ReadBy.TYPED, at: datetime | None = None) -> None:
    """Keep one reading of the drying room's air."""
    desk.notebook.add(Climate(id=new_id(), at=at or desk.now(), celsius=celsius, damp=damp, by=by))
    desk.changed()


def bring_in(desk: Desk, readings: Sequence[AirReading]) -> int:
    """Keep the readings of a file, leaving out those that are there; returns how many were new."""
    there = sorted(c.at for c in desk.climate())
    new = []
    for r in sorted(readings, key=lambda r: r.at):
        if not any(abs((t - r.at).total_seconds()) < SAME_MOMENT_S for t in there):
            new.append(Climate(id=new_id(), at=r.at, celsius=r.celsius, damp=r.damp, by=ReadBy.FILE))
            there.append(r.at)
    with desk.notebook.transaction():
        desk.notebook.add(*new)
    desk.changed()
    return len(new)


def treat(
    desk: Desk,
    panel: Panel,
    kind: After,
    *,
    celsius: float | None = None,
    seconds: float = 0.0,
    load_kg: float = 0.0,
    stuck: Stuck | None = None,
    note: str = "",
) -> None:
    """Begin or write down a treatment of a dry panel.

    Raises
    ------
    DribbetError
        If something has to come first: says what (`lab.panel.aftercare`).
    """
    run = desk.need_run()
    bar = aftercare.barred(kind, panels.state(desk, run, panel))
    if bar is not None:
        raise DribbetError(bar)
    made = Treated(
        id=new_id(), panel_id=panel.id, kind=kind, at=desk.now(), celsius=celsius, seconds=seconds, load_kg=load_kg, stuck=stuck,
        finished_at=None if aftercare.lasts(kind) else desk.now(), note=" ".join(note.split())[:200],
    )  # fmt: skip
    desk.notebook.add(made)
    desk.changed()


def go_on(desk: Desk, treated: Treated) -> None:
    """A bake goes on: the oven is hot, then its door stands ajar, then the panel is cold and the bake over."""
    now = desk.now()
    stands, _ = aftercare.phase(treated, now)
    if stands is Phase.HEATING:
        after = replace(treated, hot_at=now)
    elif stands in (Phase.HELD, Phase.UP):
        after = replace(treated, ajar_at=now)
    else:
        after = replace(treated, finished_at=now)
    desk.notebook.replace(after)
    desk.changed()


def _one_back(treated: Treated) -> Treated:
    """A treatment before its last press."""
    if aftercare.lasts(treated.kind):
        if treated.finished_at is not None:
            return replace(treated, finished_at=None, stuck=None)
        if treated.ajar_at is not None:
            return replace(treated, ajar_at=None)
        if treated.hot_at is not None:
            return replace(treated, hot_at=None)
    return replace(treated, taken_back=True)


def finish(desk: Desk, treated: Treated, *, stuck: Stuck | None = None, note: str = "") -> None:
    """A treatment that takes its time is over: how it went."""
    desk.notebook.replace(replace(treated, finished_at=desk.now(), stuck=stuck or treated.stuck, note=note or treated.note))
    desk.changed()


def take_back(desk: Desk) -> str:
    """Take back the last look or weighing of the series, or the last press of a treatment; returns the panel it was of."""
    run = desk.need_run()
    acts: list[Look | PanelWeighing | Treated] = [*run.looks, *run.treated, *(w for w in run.panel_weighings if w.kind is PanelWeight.DRYING)]
    if not acts:
        raise DribbetError("There is nothing to take back.")
    last = max(acts, key=order)
    desk.notebook.replace(_one_back(last) if isinstance(last, Treated) else replace(last, taken_back=True))
    desk.changed()
    return last.panel_id
