"""Mix: the way back after an overshoot, what to mind of the cup in hand, the cups of the whole series and when each must be mixed."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import Enum, auto
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup import additions, composition, resting
from dribbet.lab.cup.filling import allowance_kg
from dribbet.records import TAKEN_OUT, WATER, Hazard, MarkKind
from dribbet.studio.standing import contents, cups, pots

if TYPE_CHECKING:
    from collections.abc import Mapping

    from dribbet.lab.cup.batches import Batch
    from dribbet.lab.cup.filling import Filling
    from dribbet.lab.cup.resting import Rest
    from dribbet.records import Material, Mix
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run
    from dribbet.studio.standing.contents import CupForecast

STRAIN_AFTER_D: Final = 14.0  # a conditioner gels in its jug; gel lumps end up on the panel
DAY_S: Final = 86_400.0
POUR_AT: Final = "pour_at/"
"""Begins the name of the setting that keeps when a series is to be poured."""


# ---------------------------------------------------------------- after an overshoot


@dataclass(frozen=True, slots=True, kw_only=True)
class Overshoot:
    """The ingredient that is farthest over. Shares of the cup."""

    key: str
    over_kg: float
    planned: float
    stands: float


@dataclass(frozen=True, slots=True, kw_only=True)
class WayBack:
    """What brings a cup back to its recipe."""

    adds_kg: tuple[tuple[str, float], ...]
    total_kg: float
    """What the cup then comes to."""
    overshoot: Overshoot | None = None
    """None where nothing is over any more: paint was taken out, and the rest is filled up."""
    take_out_kg: float | None = None
    """Well-mixed paint that is to be taken out for the other way; None where there is none."""
    too_full: bool = False
    """Whether the cup does not hold what it grows to."""


def way_back(desk: Desk, mix: Mix, now: Filling) -> WayBack | None:
    """What brings a cup back to its recipe; None where it is on it."""
    mended = now.mended
    if mended is None:
        return None
    plan, tolerance = dict(mix.plan), desk.rules.tolerance_kg
    adds = tuple((key, kg) for key, kg in mended.additions_kg.items() if kg > allowance_kg(plan[key], tolerance))
    if not now.over:
        return WayBack(adds_kg=adds, total_kg=mended.total_kg)
    worst = max(now.over, key=lambda key: now.over[key] / max(plan[key], 1e-9))
    overshoot = Overshoot(
        key=worst, over_kg=now.over[worst], planned=plan[worst] / sum(plan.values()), stands=now.held[worst] / now.total
    )  # fmt: skip
    out = now.thrift.take_out_kg if now.thrift is not None else None
    too_full = out is not None and mended.total_kg > cups.capacity_kg(desk, mix)
    return WayBack(adds_kg=adds, total_kg=mended.total_kg, overshoot=overshoot, take_out_kg=out, too_full=too_full)


def after_taking_out(desk: Desk, now: Filling) -> WayBack | None:
    """What goes in once paint was taken out; None where there is no such way."""
    thrift = now.thrift
    if thrift is None:
        return None
    adds = tuple((key, kg) for key, kg in thrift.additions_kg.items() if kg > desk.rules.tolerance_kg)
    return WayBack(adds_kg=adds, total_kg=thrift.total_kg)


# ---------------------------------------------------------------- what lies in the cup


@dataclass(frozen=True, slots=True, kw_only=True)
class InTheCup:
    """An amount that went in, in its order from below; what was taken out is off it in proportion."""

    key: str
    kg: float
    over_kg: float = 0.0
    """Of it, what is beyond the plan."""


def went_in(run: Run, mix: Mix, now: Filling) -> tuple[InTheCup, ...]:
    """What lies in a cup, from below."""
    made: list[tuple[str, float]] = []
    for w in cups.ledger(run, mix):
        if w.ingredient == TAKEN_OUT:
            total = sum(kg for _, kg in made)
            keep = max(1.0 - w.mass_kg / total, 0.0) if total else 1.0
            made = [(key, kg * keep) for key, kg in made]
        elif w.mass_kg > 0.0:
            made.append((w.ingredient, w.mass_kg))
    over, drawn = dict(now.over), []
    for key, kg in reversed(made):  # the surplus lies in what went in last
        surplus = min(over.pop(key, 0.0), kg)
        drawn.append(InTheCup(key=key, kg=kg, over_kg=surplus))
    return tuple(reversed(drawn))


# ---------------------------------------------------------------- what to mind


class Minding(Enum):
    """What is to be minded of a cup just now."""

    HAZARD = auto()
    OTHER_WATER = auto()
    FORECAST = auto()
    STRAIN = auto()
    OPEN = auto()


@dataclass(frozen=True, slots=True, kw_only=True)
class Minded:
    """One thing to mind, with what it is about."""

    what: Minding
    key: str = ""
    hazard: Hazard | None = None
    waters: tuple[str, ...] = ()
    """Water that other cups of this series took, then what the rules say now."""
    forecast: CupForecast | None = None
    figure: float = 0.0
    """Days since it was strained, or minutes that it stands open."""


def minded(desk: Desk, run: Run, mix: Mix, now: Filling, shelf: Mapping[str, Material]) -> Minded | None:
    """The caution of what goes in now, once; else how it will come out, a jug to be strained, an open cup."""
    key = now.left[0][0] if now.left and not now.acts else ""
    material = shelf.get(key)
    logged = any(w.ingredient == key for w in cups.ledger(run, mix))
    rules = desk.rules
    if material is not None and not logged:
        hazards = (Hazard.DUST,) if material.is_powder else material.hazards
        if hazards:
            return Minded(what=Minding.HAZARD, key=key, hazard=hazards[0])
    if key == WATER and (other := {m.note for m in run.marks if m.kind is MarkKind.WATER} - {rules.water_source}):
        return Minded(what=Minding.OTHER_WATER, waters=(*sorted(other), rules.water_source))
    if not now.held and (told := contents.forecast(desk, run, mix)) is not None:
        return Minded(what=Minding.FORECAST, forecast=told)
    if material is not None and material.strained_at is not None and not logged:
        days = (desk.now() - material.strained_at).total_seconds() / DAY_S
        if days > STRAIN_AFTER_D:
            return Minded(what=Minding.STRAIN, key=key, figure=days)
    open_min = cups.open_minutes(desk, run, mix)
    if rules.cover_after_s and open_min * 60.0 >= rules.cover_after_s and cups.covered_since(run, mix) is None:
        return Minded(what=Minding.OPEN, key=mix.colour, figure=open_min)
    return None


def settling(now: Filling, shelf: Mapping[str, Material]) -> str:
    """Shimmer agent that settles while the cup stands; empty where none does."""
    return additions.restir_needed({key: kg / now.total for key, kg in now.held.items()}, shelf) if now.total else ""


# ---------------------------------------------------------------- the whole series


@dataclass(frozen=True, slots=True, kw_only=True)
class CupOfTheDay:
    """A cup in the list of the whole series."""

    batch: Batch
    rest: Rest | None = None
    """Its rest, where it is mixed and rests."""
    mix_by: datetime | None = None
    """Until when it must be mixed for its bubbles to be out, where a time to pour is known."""


def cups_of_the_day(desk: Desk, run: Run) -> tuple[CupOfTheDay, ...]:
    """Every cup of a series, those to be mixed first, from clean to dirty."""
    at = pour_at(desk, run)
    made = []
    for batch in cups.all_batches(run):
        rest = pots.rest_of(desk, run, batch.mix) if batch.done else None
        by = _mix_by(desk, run, batch.mix, at) if at is not None and rest is None else None
        made.append(CupOfTheDay(batch=batch, rest=rest, mix_by=by))
    return tuple(sorted(made, key=lambda one: one.batch.done))


def _mix_by(desk: Desk, run: Run, mix: Mix, pour: datetime) -> datetime:
    total, rules = sum(kg for _, kg in mix.plan), desk.rules
    density = composition.density_kg_m3({key: kg / total for key, kg in mix.plan}, run.shelf)
    need = resting.rest_of(
        mass_kg=total, density_kg_m3=density, viscosity_pa_s=cups.arm_of(run, mix).viscosity_pa_s, bubble_m=rules.bubble_m,
        cup_radius_m=rules.cup_radius_m, since=desk.now(), checked=False,
    )  # fmt: skip
    return resting.latest_mixing(pour, need.seconds)


def pour_at(desk: Desk, run: Run) -> datetime | None:
    """When the person means to pour, if they said so."""
    text = desk.notebook.setting(f"{POUR_AT}{run.series.id}", "")
    try:
        when = datetime.fromisoformat(text) if text else None
    except (ValueError, TypeError):
        return None
    return when if when is not None and when.tzinfo is not None else None


def next_time(desk: Desk, hour: int, minute: int) -> datetime:
    """The next moment at which the wall clock shows this.

    Raises
    ------
    ValueError
        If no clock shows it.
    """
    today = desk.local(desk.now()).replace(hour=hour, minute=minute, second=0, microsecond=0, tzinfo=None)
    when = desk.at_wall(today)
    return when if when >= desk.now() else desk.at_wall(today + timedelta(days=1))
