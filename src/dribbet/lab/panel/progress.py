"""Where each panel of a series stands on the line, what is due, and since when."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import IntEnum
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup.matching import FLOWING
from dribbet.lab.panel.drying import LATE_AFTER, LOOKS_H, hours_of
from dribbet.lab.panel.waking import AT_THE_BENCH_H
from dribbet.records import (
    Check,
    CheckKind,
    Look,
    Mix,
    Panel,
    PanelWeighing,
    PanelWeight,
    Photo,
    Reading,
    Series,
    Stage,
    Step,
    StepMark,
    order,
)

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.lab.panel.waking import Waking

LOOK_OPENS: Final = 0.10  # a look may be made this share of its hours early


class Station(IntEnum):
    """The eight stations in the order of the work."""

    ASK = 0
    MIX = 1
    CHECK = 2
    POUR = 3
    DRY = 4
    SHOOT = 5
    READ = 6
    DECIDE = 7


@dataclass(frozen=True, slots=True, kw_only=True)
class DueLook:
    """A check-in that is open: from when, until when it is on time."""

    panel: Panel
    name: str
    due: datetime
    overdue: bool
    now: bool
    """Whether it can be made now."""
    moved_s: float = 0.0
    """By how much the night moved it; before its time where negative."""


def checked(mix: Mix, checks: Sequence[Check]) -> bool:
    """Whether a mix has a reading of its flow, or was kept as it is, among the checks that still hold."""
    return any(c.mix_id == mix.id and not c.taken_back and c.kind in (*FLOWING, CheckKind.KEPT) for c in checks)


def poured_at(panel: Panel, weighings: Sequence[PanelWeighing], steps: Sequence[StepMark]) -> datetime | None:
    """When the pour was over: the weighing after tilting, or the step that stands for it."""
    done: list[PanelWeighing | StepMark] = [
        *(w for w in weighings if w.panel_id == panel.id and w.kind is PanelWeight.POURED and not w.taken_back),
        *(s for s in steps if s.panel_id == panel.id and s.step is Step.WEIGH and not s.taken_back),
    ]
    return max(done, key=order).at if done else None


def looks_of(series: Series) -> tuple[str, ...]:
    """Names of the check-ins that a test's protocol asks for, in order; the usual ones where it has none."""
    if not series.protocol:
        return tuple(name for name, _ in LOOKS_H)
    asked = {time for judging in series.protocol for time in judging.times} | {"dry"}
    return tuple(sorted(asked, key=hours_of))


def photo_stages(series: Series) -> tuple[Stage, ...]:
    """Stages at which a test's protocol wants photographs; wet and dry where it has none."""
    if not series.protocol:
        return Stage.WET, Stage.DRY
    return tuple(dict.fromkeys(stage_of(name) for name in looks_of(series)))


def stage_of(name: str) -> Stage:
    """Stage under which photographs of a look are filed: its own, or the one that its hour falls into."""
    return Stage(name) if name in tuple(Stage) else stage_at(hours_of(name))


def due_at(poured: datetime, hours: float, waking: Waking | None) -> datetime:
    """When a check so many hours after a pour is due, by day where it may be moved."""
    due = poured + timedelta(hours=hours)
    if waking is None or hours < AT_THE_BENCH_H:
        return due
    return waking.moved(due, due - timedelta(hours=hours * LOOK_OPENS))


def next_look(
    panel: Panel, poured: datetime, looks: Sequence[Look], now: datetime, wanted: Sequence[str] = (), waking: Waking | None = None
) -> DueLook | None:
    """First check-in of a panel that has not been made; None when all were.

    `wanted` names the check-ins of the test's protocol; the usual ones where it is empty. With `waking` none is due at night.
    """
    made = {look.due for look in looks if look.panel_id == panel.id and not look.taken_back}
    names = wanted or [name for name, _ in LOOKS_H]
    for name in sorted(names, key=hours_of):
        hours = hours_of(name)
        if name not in made:
            planned, due = poured + timedelta(hours=hours), due_at(poured, hours, waking)
            late = max(planned + timedelta(hours=max(hours * LATE_AFTER, 1.0)), due + timedelta(hours=1.0))
            opens = planned - timedelta(hours=hours * LOOK_OPENS)
            moved_s = (due - planned).total_seconds()
            return DueLook(panel=panel, name=name, due=due, overdue=now > late, now=now >= opens, moved_s=moved_s)
    return None


STAGE_UNTIL_H: Final = ((Stage.WET, 6.0), (Stage.H12, 18.0), (Stage.H24, 36.0), (Stage.H48, 72.0), (Stage.DRY, 150.0), (Stage.D7, 480.0))
"""Until how many hours after the pour a photograph counts for a stage; later ones are of a cured panel."""


def stage_at(hours: float) -> Stage:
    """Stage that a photograph taken so many hours after the pour shows."""
    return next((stage for stage, until in STAGE_UNTIL_H if hours < until), Stage.CURED)


def stage_now(hours: float, taken: Sequence[Stage], wanted: Sequence[Stage]) -> Stage:
    """Stage to file a photograph under: later than dry only where the test asks for it and has its dry one."""
    stage = stage_at(hours)
    late = stage in (Stage.D7, Stage.CURED)
    return Stage.DRY if late and (stage not in wanted or Stage.DRY not in taken) else stage


def photo_due(
    panel: Panel, poured: datetime, photos: Sequence[Photo], now: datetime, wanted: Sequence[Stage] = (Stage.WET, Stage.DRY)
) -> Stage | None:
    """Stage whose photograph is due and missing: the one the panel is in, if it is wanted; dry stays due until it is there."""
    mine = {p.stage for p in photos if p.panel_id == panel.id and not p.left_out}
    stage = stage_at((now - poured).total_seconds() / 3600.0)
    if stage in wanted and stage not in mine and (stage is not Stage.WET or not mine):
        return stage
    if now >= poured + timedelta(hours=dict(LOOKS_H)["dry"]) and Stage.DRY not in mine:
        return Stage.DRY
    return None


def station_of(
    series: Series,
    panel: Panel,
    *,
    mixes: Sequence[Mix],
    checks: Sequence[Check],
    weighings: Sequence[PanelWeighing],
    steps: Sequence[StepMark],
    photos: Sequence[Photo],
    readings: Sequence[Reading],
    now: datetime,
) -> Station:
    """Where a panel stands: the first station at which something is left to do for it."""
    if series.seed is None:
        return Station.ASK
    if panel.spoiled:
        return Station.DECIDE  # left out: nothing more is asked of it
    poured = poured_at(panel, weighings, steps)
    mine = [r for r in readings if r.panel_id == panel.id]
    if poured is not None or any(p.panel_id == panel.id for p in photos):
        dry = [p for p in photos if p.panel_id == panel.id and p.stage is Stage.DRY and not p.left_out]
        if any(r.stage is Stage.DRY for r in mine):
            return Station.DECIDE
        if dry:
            return Station.READ
        unread = [p for p in photos if p.panel_id == panel.id and not p.left_out and not any(r.photo_id == p.id or r.stage == p.stage for r in mine)]
        if poured is None:
            return Station.READ if unread else Station.DECIDE
        return Station.SHOOT if now >= poured + timedelta(hours=dict(LOOKS_H)["dry"]) else Station.DRY
    own = [m for m in mixes if panel.recipe in m.recipes and m.block in (0, panel.block)]
    if own and all(m.done for m in own):
        return Station.POUR if all(checked(m, checks) for m in own) else Station.CHECK
    return Station.MIX


def drip_runs(mixes: Sequence[Mix], checks: Sequence[Check]) -> dict[str, float]:
    """Latest drip run in m by mix."""
    runs: dict[str, float] = {}
    for mix in mixes:
        mine = [c for c in checks if c.mix_id == mix.id and c.kind is CheckKind.DRIP and not c.taken_back]
        if mine:
            runs[mix.id] = max(mine, key=order).value
    return runs


def mound_s(mix: Mix, checks: Sequence[Check]) -> float | None:
    """Mean of the last three mound times in s; None without any."""
    mine = sorted((c for c in checks if c.mix_id == mix.id and c.kind is CheckKind.MOUND and not c.taken_back), key=order)[-3:]
    return sum(c.value for c in mine) / len(mine) if mine else None
