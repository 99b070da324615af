"""The other sheets of Ask: what is taken from the shelf, the days, the looks and the goal, the pieces of a panel."""

from __future__ import annotations

import math
from datetime import timedelta
from typing import TYPE_CHECKING, Final

from dribbet.bench.stations.ask.view import BottleView, Checks, Day, Days, JudgedRow, Region, Sheet
from dribbet.lab.panel import progress
from dribbet.lab.panel.drying import TIMES_H, hours_of
from dribbet.lab.plan import design, layouts, planning
from dribbet.lab.plan.day_plan import Work
from dribbet.lab.plan.responses import SCALES
from dribbet.records import WATER
from dribbet.records.wording import first_up
from dribbet.words import ask as ask_words
from dribbet.words import days as days_words
from dribbet.words import levels as words
from dribbet.words.night import moved_text
from dribbet.words.parts import Part
from dribbet.words.tongue import name
from dribbet.words.units import NARROW, count_text

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.lab.plan.day_plan import DayPlan
    from dribbet.lab.plan.planning import Demand
    from dribbet.records import Goal, Series
    from dribbet.words.units import Units

ROLES: Final = {"colour": 0, "medium": 1, "thinner": 2, "additive": 3, "base": 4, "activator": 5}
WHEN: Final = {"wet": "30 min", "12 h": "11 h", "24 h": "21 h", "48 h": "2 days", "dry": "4 days", "7 d": "7 days", "cured": "24 days"}


def bottles(demand: Sequence[Demand], units: Units) -> tuple[BottleView, ...]:
    """What is taken of each container, colours first."""
    made = []
    for d in sorted(demand, key=lambda d: ROLES.get(d.role, 9)):
        if d.role == "additive":
            need = f"{units.mass_text(d.kg)}, {count_text(math.ceil(d.kg / planning.drop_kg(None) - 1e-9), 'drop')}"
        else:
            need = f"{units.mass_text(d.kg)}, {units.volume_text(d.m3)}"
        unsaid = "stock not entered" if d.on_shelf else "not on the shelf"
        stock = "from the tap" if d.name == WATER else unsaid if d.stock_kg is None else f"of {units.stock_text(d.stock_kg)}"
        short = f"short {units.mass_text(d.short_kg)}" if d.short_kg > 1e-6 else ""
        share = 0.0 if d.name == WATER else d.kg / d.stock_kg if d.stock_kg else 0.0 if d.on_shelf and d.stock_kg is None else 2.0
        made.append(BottleView(units.called(d.name), d.hex, d.role, need, stock, short, share, d.on_shelf))
    return tuple(made)


def days(plan: DayPlan, *, rack_slots: float | None, rack_taken: int, sitting_h: float) -> Days:
    """The day plan in words."""
    made = []
    for s in plan.sittings:
        work = []
        if s.mixes:
            work.append(f"mix {count_text(s.mixes, 'cup')}")
        if s.pours:
            work.append(f"pour {count_text(s.pours, 'panel')}")
        pour_h = s.pours * next(p.seconds for p in plan.paces if p.work is Work.POUR) / 3600.0
        clean = next(p.seconds for p in plan.paces if p.work is Work.CLEAN) / 3600.0 if s.pours else 0.0
        mix_h = s.seconds / 3600.0 - pour_h - clean
        made.append(Day(s.day, _date(plan, s.day), max(mix_h, 0.0), pour_h, ", ".join(work)))
    by_day: dict[int, list[tuple[str, str]]] = {}
    for d in plan.looks:
        number = (d.first.date() - plan.begins.date()).days
        by_day.setdefault(number, []).append((d.look, f"{count_text(d.panels, 'panel')}, from {d.first:%H:%M}{moved_text(d.moved_s)}"))
    for number, looks in by_day.items():
        at = next((i for i, day in enumerate(made) if day.number == number), None)
        if at is None:
            made.append(Day(number, _date(plan, number), 0.0, 0.0, "", tuple(looks)))
        else:
            was = made[at]
            made[at] = Day(was.number, was.words, was.mix_h, was.pour_h, was.work, tuple(looks))
    made.sort(key=lambda d: d.number)
    said = tuple(
        f"{first_up(name(p.work))}: {p.seconds / 60:.0f}{NARROW}min ({f'from {p.logs} of your own' if p.logs else 'a starting figure'})"
        for p in plan.paces
    )
    fits = ask_words.FIT_INTO_ONE_DAY(panels=count_text(plan.pours_fit, "panel"))
    span = ask_words.DAYS_FROM_TO(low=plan.dry_from_s / 86_400, high=plan.dry_until_s / 86_400)
    ends = ask_words.THROUGH_DRY(span=span, ends=plan.ends)
    unsaid = () if rack_slots is not None else (ask_words.RACK_NOT_ENTERED,)
    places = round(rack_slots) if rack_slots is not None else max(plan.rack_needed + rack_taken, 1)
    return Days(
        tuple(made), sitting_h, said, (fits, *(days_words.mind(*m) for m in plan.minds), *unsaid), (plan.rack_needed, rack_taken, places), ends
    )


def _date(plan: DayPlan, day: int) -> str:
    return f"{plan.begins + timedelta(days=day):%a %-d %b}"


def named_times(series: Series, own: Sequence[str]) -> list[str]:
    """Times at which something can be judged: the usual ones, the person's own, and those of this test."""
    asked = [time for judging in series.protocol for time in judging.times]
    return sorted(dict.fromkeys((*(name for name, _ in TIMES_H), *own, *asked)), key=hours_of)


def checks(series: Series, goals: Sequence[Goal], units: Units, own: Sequence[str] = ()) -> Checks:
    """When each response is judged, and what it counts."""
    named = named_times(series, own)
    asked = {j.response: j.times for j in series.protocol}
    usual = progress.looks_of(series) if not series.protocol else ()
    goal = next((g for g in goals if g.id == series.goal_id), None)
    aims = {a.response: a for a in goal.aims} if goal else {}
    rows = []
    for response, wanted in series.responses:
        times = asked.get(response, usual if not series.protocol else ("dry",))
        aim = aims.get(response)
        scale = SCALES[response]
        low, high = (aim.low, aim.high) if aim else (None, None)
        span = (
            "any" if low is None and high is None
            else f"{low:g} to {high:g}" if low is not None and high is not None
            else f"from {low:g}" if low is not None
            else f"up to {high:g}"
        )  # fmt: skip
        rows.append(
            JudgedRow(
                f"{first_up(str(response))}, {wanted}", response.value, tuple(n in times for n in named), round(aim.weight) if aim else 1,
                Part(
                    f"range:{response}", span if span == "any" else f"{span} {scale.unit}".strip(),
                    typed="" if span == "any" else span.replace("up to ", "0 to "),
                    hint=ask_words.ASK_RANGE(unit=scale.unit or 'its own figures')),
            )
        )  # fmt: skip
    choices = tuple((g.id, g.name) for g in goals)
    part = Part("goal", goal.name if goal else "not said", (("", "not said"), *choices, ("new", "a new one")))
    note = ask_words.RING_IS_A_LOOK
    return Checks(tuple((n, WHEN.get(n, n)) for n in named), tuple(rows), part, note)


def sheet(series: Series, units: Units) -> Sheet:
    """Panels with the pieces that share them, as the lots would have it."""
    held = series.constants
    size = (held.panel_width_m * 1e3, held.panel_height_m * 1e3)
    numbers = iter(range(100_000))
    pieces = design.panels(series, lambda: str(next(numbers)))
    recipes = {a.letter: a for a in design.arms(series)}
    made = []
    for repeat in range(1, series.repeats + 1):
        regions = []
        for p in (p for p in pieces if p.sheet == repeat):
            box = (p.region[0], p.region[1], p.region[2], p.region[3])
            inner = layouts.inner(box, held.panel_width_m, held.panel_height_m, series.layout.strip_m)
            text = ", ".join(
                words.level_text(v.factor, v.levels[n], units) for v, n in zip(series.varied, recipes[p.recipe].settings, strict=True) if n >= 0
            )
            regions.append(Region(box, inner, p.code.split("-")[-1], text))
        made.append(tuple(regions))
    return Sheet(size, tuple(made), ask_words.LOTS_DECIDE_PLACES)
