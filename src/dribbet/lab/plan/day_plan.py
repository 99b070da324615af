"""How long a test takes, what is mixed the day before, how many pours fit into a sitting, and when each check is due."""

from __future__ import annotations

import itertools
import math
import statistics
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum, auto
from typing import TYPE_CHECKING, Final

from dribbet.lab.panel import drying, progress
from dribbet.lab.panel.drying import hours_of
from dribbet.lab.plan import design
from dribbet.records import BlockBy, Step, Technique, order

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.lab.panel.waking import Waking
    from dribbet.lab.plan.arm import Arm
    from dribbet.records import Mix, Series, StepMark, Weighing


class Work(StrEnum):
    """A piece of work at the bench."""

    MIX = "mix one colour"
    CHECK = "check one colour"
    POUR = "pour one panel"
    CLEAN = "clean up"


class Mind(StrEnum):
    """What a person should know before saying yes."""

    DAY_BEFORE = auto()
    ALCOHOL_LATE = auto()
    DAYS_APART = auto()
    """Panels are poured on several days that no block keeps apart; with how many days."""
    BATCH_AGES = auto()
    LONG_DAY = auto()
    """The longest day, and what it may take, in hours."""
    RACK_SHORT = auto()
    """Free places, and panels."""
    SILICONE_APART = auto()


MINUTE_S: Final = 60.0
# Starting figures in s, until the person's own logs say better; orders of magnitude of the craft: mixing takes the longest.
START_S: Final = {Work.MIX: 5 * MINUTE_S, Work.CHECK: 2 * MINUTE_S, Work.POUR: 7 * MINUTE_S, Work.CLEAN: 25 * MINUTE_S}
LEAST_LOGS: Final = 3  # own logs count from here on
TAKEN_FOR_ONE_GO_S: Final = 15 * MINUTE_S  # a longer gap between two weighings of a cup is a break, not work
OVERNIGHT_FROM: Final = 6  # cups from which mixing the day before leaves daylight for the pours
BATCH_DAYS: Final = 2  # a batch kept longer has aged


@dataclass(frozen=True, slots=True, kw_only=True)
class Pace:
    """Seconds that one piece of work takes, and how many own logs that rests on (0: a starting figure)."""

    work: Work
    seconds: float
    logs: int


@dataclass(frozen=True, slots=True, kw_only=True)
class BenchDay:
    """One day at the bench: which cups are mixed, which panels are poured, how long it takes."""

    day: int
    mixes: int
    pours: int
    seconds: float


@dataclass(frozen=True, slots=True, kw_only=True)
class DueDate:
    """A check of all panels of one sitting."""

    look: str
    first: datetime
    last: datetime
    panels: int
    moved_s: float = 0.0
    """By how much the night moved the first of them."""


@dataclass(frozen=True, slots=True, kw_only=True)
class DayPlan:
    """When what happens."""

    paces: tuple[Pace, ...]
    sittings: tuple[BenchDay, ...]
    pours_fit: int
    """Panels that fit into one sitting by time."""
    rack_needed: int
    dry_from_s: float
    dry_until_s: float
    looks: tuple[DueDate, ...]
    begins: datetime
    ends: datetime
    minds: tuple[tuple[Mind, tuple[float, ...]], ...]
    """Everything that a person should know before saying yes; nothing is refused."""


def paces(mixes: Sequence[Mix], weighings: Sequence[Weighing], steps: Sequence[StepMark]) -> tuple[Pace, ...]:
    """Seconds for each piece of work: medians of own logs where there are enough, else starting figures."""
    by_mix: dict[str, list[datetime]] = {}
    for w in weighings:
        if not w.taken_back:
            by_mix.setdefault(w.mix_id, []).append(w.at)
    done = {m.id for m in mixes if m.done}
    mixing = []
    for mix_id, times in by_mix.items():
        times.sort()
        gaps = [(b - a).total_seconds() for a, b in itertools.pairwise(times)]
        worked = [g for g in gaps if 0.0 <= g <= TAKEN_FOR_ONE_GO_S]
        if mix_id in done and worked:  # the first addition has no log of its own: it takes as long as the mean of the others
            mixing.append(sum(worked) * len(times) / len(worked))
    by_panel: dict[str, list[StepMark]] = {}
    for s in steps:
        if not s.taken_back:
            by_panel.setdefault(s.panel_id, []).append(s)
    pouring = []
    for mine in by_panel.values():
        if any(s.step is Step.WEIGH for s in mine):
            first, *_, last = sorted([mine[0], *mine], key=order)
            pouring.append((last.at - first.at).total_seconds() + last.planned_s)
    return (
        _pace(Work.MIX, mixing),
        Pace(work=Work.CHECK, seconds=START_S[Work.CHECK], logs=0),
        _pace(Work.POUR, [p for p in pouring if 0.0 <= p <= 4 * TAKEN_FOR_ONE_GO_S]),
        Pace(work=Work.CLEAN, seconds=START_S[Work.CLEAN], logs=0),
    )


def _pace(work: Work, logged: list[float]) -> Pace:
    if len(logged) < LEAST_LOGS:
        return Pace(work=work, seconds=START_S[work], logs=0)
    return Pace(work=work, seconds=statistics.median(logged), logs=len(logged))


def plan(
    series: Series,
    recipes: Sequence[Arm],
    cups: int,
    *,
    pace: Sequence[Pace],
    sitting_s: float,
    rack_slots: int,
    rack_taken: int,
    begins: datetime,
    waking: Waking | None = None,
) -> DayPlan:
    """Lay a test out over days.

    Parameters
    ----------
    cups : int
        How many batches are mixed.
    pace : sequence of Pace
        From `paces`.
    sitting_s : float
        How long the person stands at the bench on one day.
    rack_slots, rack_taken : int
        Places for drying, and those in use by other series.
    begins : datetime
        First day at the bench.
    waking : Waking, optional
        When the person looks; at any hour where it is not given.
    """
    each = {p.work: p.seconds for p in pace}
    panels = design.sheets(series)
    mixing = cups * (each[Work.MIX] + each[Work.CHECK])
    rest = max((a.held.rest_s for a in recipes), default=0.0)
    ahead = cups >= OVERNIGHT_FROM or rest > 4 * 3600.0 or any(a.technique is Technique.BLOOM for a in recipes)
    spare = sitting_s - each[Work.CLEAN] - (0.0 if ahead else mixing)
    fit = max(int(spare // each[Work.POUR]), 1)
    days = max(math.ceil(panels / fit), series.layout.blocks if series.layout.block_by is BlockBy.DAY else 1)
    sittings = [BenchDay(day=0, mixes=cups, pours=0, seconds=mixing)] if ahead else []
    left, first = panels, 1 if ahead else 0
    for i in range(days):
        today = math.ceil(left / (days - i))
        left -= today
        begun = mixing if not ahead and i == 0 else 0.0
        sittings.append(
            BenchDay(day=first + i, mixes=0 if begun == 0.0 else cups, pours=today, seconds=begun + today * each[Work.POUR] + each[Work.CLEAN])
        )
    thickest = max((a for a in recipes), key=lambda a: a.film_m)
    held = thickest.held
    windows = drying.windows(thickest.film_m, 0.25, held.room_c, held.room_rh, held.air_m_s)
    through = windows[2]
    pours = [s for s in sittings if s.pours]
    looks = _looks(series, pours, begins, each[Work.POUR], waking)
    last = begins + timedelta(days=pours[-1].day)
    ends = max([last + timedelta(seconds=through.latest_s), *(d.last for d in looks)])
    free = rack_slots - rack_taken
    return DayPlan(
        paces=tuple(pace), sittings=tuple(sittings), pours_fit=fit, rack_needed=panels, dry_from_s=through.earliest_s,
        dry_until_s=through.latest_s, looks=looks, begins=begins, ends=ends,
        minds=tuple(_minds(series, recipes, sittings, panels=panels, ahead=ahead, free=free, sitting_s=sitting_s)),
    )  # fmt: skip


def _looks(series: Series, pours: Sequence[BenchDay], begins: datetime, pour_s: float, waking: Waking | None) -> tuple[DueDate, ...]:
    names = progress.looks_of(series)
    made = []
    for name in names:
        hours = hours_of(name)
        for s in pours:
            poured = begins + timedelta(days=s.day)
            first = progress.due_at(poured, hours, waking)
            last = progress.due_at(poured + timedelta(seconds=(s.pours - 1) * pour_s), hours, waking)
            moved_s = (first - poured).total_seconds() - hours * 3600.0
            made.append(DueDate(look=name, first=first, last=last, panels=s.pours, moved_s=moved_s))
    return tuple(sorted(made, key=lambda d: d.first))


def _minds(
    series: Series, recipes: Sequence[Arm], sittings: Sequence[BenchDay], *, panels: int, ahead: bool, free: int, sitting_s: float
) -> list[tuple[Mind, tuple[float, ...]]]:
    found: list[tuple[Mind, tuple[float, ...]]] = []
    pours = [s for s in sittings if s.pours]
    if ahead:
        found.append((Mind.DAY_BEFORE, ()))
        if any(a.alcohol_share > 0 for a in recipes):
            found.append((Mind.ALCOHOL_LATE, ()))
    if len(pours) > 1 and series.layout.blocks < len(pours):
        found.append((Mind.DAYS_APART, (len(pours),)))
    if len(pours) > BATCH_DAYS:
        found.append((Mind.BATCH_AGES, ()))
    longest = max(sittings, key=lambda s: s.seconds)
    if longest.seconds > sitting_s:
        found.append((Mind.LONG_DAY, (longest.seconds / 3600.0, sitting_s / 3600.0)))
    if panels > free:
        found.append((Mind.RACK_SHORT, (max(free, 0), panels)))
    if any(a.held.silicone_drops_per_100g > 0 for a in recipes):
        found.append((Mind.SILICONE_APART, ()))
    return found
