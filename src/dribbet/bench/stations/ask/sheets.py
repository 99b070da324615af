"""The other sheets of Ask as pages show them: amounts, days, looks and goal, pieces of a panel."""

from __future__ import annotations

from typing import TYPE_CHECKING

from dribbet.bench.stations.ask.view import BottleView, Checks, Day, Days, JudgedRow, Region, Sheet
from dribbet.lab.plan.responses import SCALES
from dribbet.studio.standing import sheets as standing
from dribbet.words import ask as ask_words
from dribbet.words import rack as rack_words
from dribbet.words import sheets as words
from dribbet.words.parts import Part
from dribbet.words.tongue import name

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.lab.plan.planning import Demand
    from dribbet.records import Goal, Series
    from dribbet.studio.standing.ask import PlanInHand
    from dribbet.words.units import Units


def bottles(demand: Sequence[Demand], units: Units) -> tuple[BottleView, ...]:
    """What is taken of each container, colours first."""
    return tuple(
        BottleView(
            units.called(one.demand.name), one.demand.hex, one.demand.role, words.need(one, units), words.stock(one, units),
            words.short(one, units), one.share, one.demand.on_shelf,
        )
        for one in standing.taken(demand)
    )  # fmt: skip


def days(found: PlanInHand) -> Days:
    """The day plan."""
    plan, (places, taken) = found.plan, found.rack
    return Days(
        days=tuple(
            Day(d.number, words.date(d.date), d.mix_h, d.pour_h, words.work(d), tuple((name(due.look), words.look(due)) for due in d.looks))
            for d in standing.days(plan)
        ),
        sitting_h=found.sitting_h,
        paces=tuple(words.pace(p) for p in plan.paces),
        said=words.minds(plan, rack_known=places is not None),
        rack=(plan.rack_needed, taken, round(places) if places is not None else max(plan.rack_needed + taken, 1)),
        ends=words.ends(plan),
    )


def checks(series: Series, goals: Sequence[Goal], own: Sequence[str] = ()) -> Checks:
    """When each response is judged, and what it counts."""
    found = standing.protocol(series, goals, own)
    rows = []
    for one in found.judged:
        shown, typed = words.aim(one)
        hint = ask_words.ASK_RANGE(unit=SCALES[one.response].unit or ask_words.ITS_OWN_FIGURES)
        rows.append(
            JudgedRow(words.judged(one), one.response.value, one.times, one.weight, Part(f"range:{one.response}", shown, typed=typed, hint=hint))
        )
    choices = (("", words.NOT_SAID), *((g.id, g.name) for g in goals), ("new", words.A_NEW_ONE))
    goal = Part("goal", found.goal.name if found.goal else words.NOT_SAID, choices)
    return Checks(tuple((time, words.WHEN.get(time, time)) for time in found.times), tuple(rows), goal, ask_words.RING_IS_A_LOOK)


def sheet(series: Series, units: Units) -> Sheet:
    """Panels with the pieces that share them, as the lots would have it."""
    held = series.constants
    panels = tuple(
        tuple(Region(p.box, p.inner, p.code, rack_words.settings(series, range(len(p.recipe.settings)), p.recipe.settings, units)) for p in pieces)
        for pieces in standing.panels_with_pieces(series)
    )
    return Sheet((held.panel_width_m * 1e3, held.panel_height_m * 1e3), panels, ask_words.LOTS_DECIDE_PLACES)
