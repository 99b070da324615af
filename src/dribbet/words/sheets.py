"""The sheets of Ask: what is taken of each container, the days, the looks and the goal."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, Final

from dribbet.lab.plan.responses import SCALES
from dribbet.records import DribbetError
from dribbet.records.wording import first_up
from dribbet.studio.standing.sheets import Stock
from dribbet.words import days as days_words
from dribbet.words.night import moved_text
from dribbet.words.tongue import Sentence, name, t
from dribbet.words.units import NARROW, count_text, figure

if TYPE_CHECKING:
    from datetime import datetime

    from dribbet.lab.plan.day_plan import DayPlan, DueDate, Pace
    from dribbet.studio.standing.sheets import JudgedAt, PlannedDay, Taken
    from dribbet.words.units import Units

STOCK: Final = {Stock.TAP: t("from the tap"), Stock.NOT_ENTERED: t("stock not entered"), Stock.NOT_ON_SHELF: t("not on the shelf")}
OF_STOCK: Final = Sentence("of {stock}")
SHORT: Final = Sentence("short {mass}")
MASS_OR_SO_MUCH: Final = Sentence("{mass}, {else_as}")
WHEN: Final = {
    "wet": t("30 min"), "12 h": t("11 h"), "24 h": t("21 h"), "48 h": t("2 days"), "dry": t("4 days"), "7 d": t("7 days"), "cured": t("24 days"),
}  # fmt: skip
"""When a named look is usually made."""
ANY: Final = t("any")
NO_RANGE: Final = Sentence("“{text}” is no range. Type from and to, such as 5 to 40, or nothing for any.")
NOT_SAID: Final = t("not said")
A_NEW_ONE: Final = t("a new one")


def need(one: Taken, units: Units) -> str:
    """How much of a container is taken: by mass, and as what it is measured by otherwise."""
    d = one.demand
    other = count_text(one.drops, "drop") if one.drops else units.volume_text(d.m3)
    return MASS_OR_SO_MUCH(mass=units.mass_text(d.kg), else_as=other)


def stock(one: Taken, units: Units) -> str:
    """What there is of it."""
    return OF_STOCK(stock=units.stock_text(one.demand.stock_kg or 0.0)) if one.stock is Stock.ENTERED else STOCK[one.stock]


def short(one: Taken, units: Units) -> str:
    """How much is missing; nothing where nothing is."""
    return SHORT(mass=units.mass_text(one.demand.short_kg)) if one.demand.short_kg > 1e-6 else ""


def work(day: PlannedDay) -> str:
    """What is done at the bench on a day: 'mix two cups, pour six panels'."""
    said = [t("mix {cups}", cups=count_text(day.mixes, "cup"))] if day.mixes else []
    said += [t("pour {panels}", panels=count_text(day.pours, "panel"))] if day.pours else []
    return ", ".join(said)


def date(at: datetime) -> str:
    """Mon 3 Feb."""
    return f"{at:%a %-d %b}"


def look(due: DueDate) -> str:
    """How many panels are looked at, and from when on."""
    return t("{panels}, from {at:%H:%M}{moved}", panels=count_text(due.panels, "panel"), at=due.first, moved=moved_text(due.moved_s))


def pace(one: Pace) -> str:
    """How long a piece of work takes, and who says so."""
    rests = t("from {logs} of your own", logs=one.logs) if one.logs else t("a starting figure")
    return t("{work}: {minutes} ({rests})", work=first_up(name(one.work)), minutes=f"{one.seconds / 60:.0f}{NARROW}min", rests=rests)


def ends(plan: DayPlan) -> str:
    """When panels are dry through, and the last of them is looked at."""
    span = t("{low:.1f} to {high:.1f} days", low=plan.dry_from_s / 86_400, high=plan.dry_until_s / 86_400)
    return t("Through-dry {span} after each pour. The last look is on {ends:%a %-d %b}.", span=span, ends=plan.ends)


def minds(plan: DayPlan, *, rack_known: bool) -> tuple[str, ...]:
    """How much fits into a day, and what to know before saying yes."""
    fits = t("About {panels} fit into one day at the bench.", panels=count_text(plan.pours_fit, "panel"))
    unsaid = () if rack_known else (t("How many places the rack has is not entered: H, at the end."),)
    return (fits, *(days_words.mind(*one) for one in plan.minds), *unsaid)


def judged(one: JudgedAt) -> str:
    """A response, and what is wanted of it."""
    return f"{first_up(name(one.response))}, {name(one.wanted)}"


def aim(one: JudgedAt) -> tuple[str, str]:
    """What counts as good of a response, as it is shown and as one would type it."""
    if one.low is None and one.high is None:
        return ANY, ""
    if one.low is None:
        said = t("up to {high:g}", high=one.high)
    else:
        said = t("from {low:g}", low=one.low) if one.high is None else t("{low:g} to {high:g}", low=one.low, high=one.high)
    return f"{said} {SCALES[one.response].unit}".strip(), said


def range_of(text: str) -> tuple[float | None, float | None]:
    """What was typed as from and to: 5 to 40, from 5, up to 40, or nothing (any) for both.

    Raises
    ------
    DribbetError
        In words, with what to type.
    """
    plain = text.lower().strip()
    if plain in ("", "any", ANY):
        return None, None
    try:
        figures = [figure(v) for v in re.findall(r"-?\d+(?:[.,]\d+)?", plain)]
    except ValueError:
        figures = []
    if len(figures) == 2:
        return figures[0], figures[1]
    if len(figures) == 1 and plain.startswith(("from ", "up to ")):
        return (figures[0], None) if plain.startswith("from ") else (None, figures[0])
    raise DribbetError(NO_RANGE(text=text))
