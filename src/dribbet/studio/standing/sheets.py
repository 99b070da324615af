"""What the sheets of Ask lay open: what is taken of each container, the days, the looks and the goal, the pieces of a panel."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import timedelta
from enum import Enum, auto
from typing import TYPE_CHECKING, Final

from dribbet.lab.panel import progress
from dribbet.lab.panel.drying import TIMES_H, hours_of
from dribbet.lab.plan import design, layouts, planning
from dribbet.lab.plan.day_plan import Work
from dribbet.records import WATER

if TYPE_CHECKING:
    from collections.abc import Sequence
    from datetime import datetime

    from dribbet.lab.plan.arm import Arm
    from dribbet.lab.plan.day_plan import DayPlan, DueDate
    from dribbet.lab.plan.planning import Demand
    from dribbet.records import Goal, Response, Series, Wanted

ROLES: Final = ("colour", "medium", "thinner", "additive", "base", "activator")
NOT_TO_BE_HAD: Final = 2.0
"""Share taken of a container that is not there: more than all of it."""


class Stock(Enum):
    """What is known of a container's contents."""

    TAP = auto()
    ENTERED = auto()
    NOT_ENTERED = auto()
    NOT_ON_SHELF = auto()


@dataclass(frozen=True, slots=True, kw_only=True)
class Taken:
    """What a test takes of a container."""

    demand: Demand
    stock: Stock
    share: float
    """Of what there is; above 1 it does not suffice."""
    drops: int = 0
    """Of an additive that is counted."""


def taken(demand: Sequence[Demand]) -> tuple[Taken, ...]:
    """What is taken of each container, colours first."""
    ranked = sorted(demand, key=lambda d: ROLES.index(d.role) if d.role in ROLES else len(ROLES))
    return tuple(
        Taken(
            demand=d,
            stock=_stock(d),
            share=_share(d),
            drops=math.ceil(d.kg / planning.drop_kg(None) - 1e-9) if d.role == "additive" else 0,
        )
        for d in ranked
    )


def _stock(d: Demand) -> Stock:
    if d.name == WATER:
        return Stock.TAP
    if d.stock_kg is not None:
        return Stock.ENTERED
    return Stock.NOT_ENTERED if d.on_shelf else Stock.NOT_ON_SHELF


def _share(d: Demand) -> float:
    if d.name == WATER:
        return 0.0
    if d.stock_kg:
        return d.kg / d.stock_kg
    return 0.0 if d.on_shelf and d.stock_kg is None else NOT_TO_BE_HAD


# ---------------------------------------------------------------- days


@dataclass(frozen=True, slots=True, kw_only=True)
class PlannedDay:
    """A day of the plan: what is done at the bench, and what is looked at."""

    number: int
    date: datetime
    mixes: int = 0
    pours: int = 0
    mix_h: float = 0.0
    pour_h: float = 0.0
    looks: tuple[DueDate, ...] = ()


def days(plan: DayPlan) -> tuple[PlannedDay, ...]:
    """Days on which something happens; cleaning is counted with neither mixing nor pouring."""
    pace = {p.work: p.seconds for p in plan.paces}
    looks: dict[int, list[DueDate]] = {}
    for due in plan.looks:
        looks.setdefault((due.first.date() - plan.begins.date()).days, []).append(due)
    made = []
    for s in plan.sittings:
        pour_h = s.pours * pace[Work.POUR] / 3600.0
        clean_h = pace[Work.CLEAN] / 3600.0 if s.pours else 0.0
        made.append(
            PlannedDay(
                number=s.day,
                date=plan.begins + timedelta(days=s.day),
                mixes=s.mixes,
                pours=s.pours,
                mix_h=max(s.seconds / 3600.0 - pour_h - clean_h, 0.0),
                pour_h=pour_h,
                looks=tuple(looks.pop(s.day, ())),
            )
        )
    made += [PlannedDay(number=day, date=plan.begins + timedelta(days=day), looks=tuple(due)) for day, due in looks.items()]
    return tuple(sorted(made, key=lambda d: d.number))


# ---------------------------------------------------------------- looks and goal


@dataclass(frozen=True, slots=True, kw_only=True)
class JudgedAt:
    """A response: when it is judged, and what it counts in the goal."""

    response: Response
    wanted: Wanted
    times: tuple[bool, ...]
    """One for each of the named times."""
    weight: int = 1
    low: float | None = None
    high: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Protocol:
    """Times at which something can be judged, and what is judged when."""

    times: tuple[str, ...]
    judged: tuple[JudgedAt, ...]
    goal: Goal | None


def named_times(series: Series, own: Sequence[str]) -> list[str]:
    """Times at which something can be judged: the usual ones, the person's own, and those of this test."""
    asked = [time for judging in series.protocol for time in judging.times]
    return sorted(dict.fromkeys((*(name for name, _ in TIMES_H), *own, *asked)), key=hours_of)


def protocol(series: Series, goals: Sequence[Goal], own: Sequence[str]) -> Protocol:
    """When each response is judged, and what it counts."""
    named = named_times(series, own)
    asked = {j.response: j.times for j in series.protocol}
    usual = ("dry",) if series.protocol else progress.looks_of(series)
    goal = next((g for g in goals if g.id == series.goal_id), None)
    aims = {a.response: a for a in goal.aims} if goal else {}
    rows = []
    for response, wanted in series.responses:
        aim, times = aims.get(response), asked.get(response, usual)
        rows.append(
            JudgedAt(
                response=response,
                wanted=wanted,
                times=tuple(time in times for time in named),
                weight=round(aim.weight) if aim else 1,
                low=aim.low if aim else None,
                high=aim.high if aim else None,
            )
        )
    return Protocol(times=tuple(named), judged=tuple(rows), goal=goal)


# ---------------------------------------------------------------- pieces of a panel

Box = tuple[float, float, float, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Piece:
    """A piece of a panel: where it lies as shares of it, and the part that is measured."""

    box: Box
    inner: Box
    code: str
    recipe: Arm


def panels_with_pieces(series: Series) -> tuple[tuple[Piece, ...], ...]:
    """Panels with the pieces that share them, as the lots would have it."""
    held = series.constants
    numbers = iter(range(100_000))
    pieces = design.panels(series, lambda: str(next(numbers)))
    recipes = {a.letter: a for a in design.arms(series)}

    def piece(box: Box, code: str, recipe: str) -> Piece:
        inner = layouts.inner(box, held.panel_width_m, held.panel_height_m, series.layout.strip_m)
        return Piece(box=box, inner=inner, code=code.split("-")[-1], recipe=recipes[recipe])

    return tuple(
        tuple(piece((p.region[0], p.region[1], p.region[2], p.region[3]), p.code, p.recipe) for p in pieces if p.sheet == repeat)
        for repeat in range(1, series.repeats + 1)
    )
