"""What to pour next, as one says it: what, why, and what it takes."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.plan.confounding import Coupling
from dribbet.lab.plan.next_pour import Place
from dribbet.records.wording import first_up
from dribbet.studio.standing.next_pour import Act
from dribbet.words.levels import level_text
from dribbet.words.tongue import n, name, t
from dribbet.words.units import listed

if TYPE_CHECKING:
    from dribbet.records import Series
    from dribbet.studio.standing.next_pour import NextPour, Proposal
    from dribbet.words.units import Units

HEAD: Final = t("What to pour next")
AXIS: Final = t("expected gain")
NOTHING: Final = t("Read the dry panels first. Then what to pour next can be weighed up.")
GO: Final = {
    Act.READ: t("Read them"), Act.PHOTOGRAPH: t("Go to Shoot"), Act.REPEAT: t("Add these panels"), Act.SEPARATE: t("Add these panels"),
    Act.LEVEL: t("Ask it"), Act.CONTROL: t("Ask it"), Act.EQUAL: t("Ask it"), Act.CONFIRM: t("Ask it"),
    Act.STOP: t("Close it"), Act.LARGER: t("Ask it"),
}  # fmt: skip
PLACES: Final = {
    Place.BETWEEN: t("between what was tried"), Place.ABOVE: t("beyond what was tried"), Place.BELOW: t("below what was tried"),
    Place.WITHOUT: t("to see what it does at all"), Place.TRIED: t("as tried"),
    Place.TOGETHER: t("with the rest of the best recipe, not tried so far"),
}  # fmt: skip
MOVED: Final = {
    Coupling.FLOW: t("how they flow"), Coupling.PAINT_SHARE: t("the share of paint"), Coupling.THICKNESS: t("thickness"),
    Coupling.FILM: t("the film"), Coupling.DESIGN: t("other things varied"),
}  # fmt: skip


def _moved(one: Proposal) -> str:
    return MOVED.get(one.what, name(one.what)) if one.what is not None else ""


def what(one: Proposal, series: Series, units: Units) -> str:
    """The proposal in a few words."""
    if one.act is Act.READ:
        return t("Read {codes} first.", codes=listed([p.code.split("-")[-1] for p in one.unread], 4))
    if one.act is Act.REPEAT:
        return n(
            "{count} more of each recipe, as a day of its own.", "{count} more of each recipe, as a day of its own.", one.repeats, count=one.repeats
        )
    if one.act is Act.PHOTOGRAPH:
        return t("Photograph these panels twice more.")
    if one.act is Act.SEPARATE:
        return t("Panels that tell {what} apart.", what=_moved(one))
    if one.act is Act.EQUAL:
        return t("The same test again, with {what} made equal.", what=_moved(one))
    if one.act is Act.STOP:
        return t("Stop here: nothing worth its panels is left.")
    if one.act is Act.LARGER and one.level is not None:
        return t("The best recipe on {size} mm, beside the size as now.", size=one.level.name)
    if one.act is Act.CONFIRM:
        return (
            t("Keep {best}, and ask the next thing beside it.", best=_level(series, 0, one, units))
            if one.best is not None
            else t("Ask the next thing.")
        )
    if one.level is None or one.best is None:
        return t("A recipe without it.")
    varied = series.varied[one.which]
    level = first_up(level_text(varied.factor, one.level, units))
    return t("{level}, {place}, beside {best}.", level=level, place=PLACES[one.place], best=level_text(varied.factor, one.best, units))


def _level(series: Series, which: int, one: Proposal, units: Units) -> str:
    assert one.best is not None
    return level_text(series.varied[which].factor, one.best, units)


def why(one: Proposal, found: NextPour) -> str:
    """Why it is proposed."""
    if one.act is Act.READ:
        return t("What they show is paid for already.")
    if one.act is Act.REPEAT:
        return (
            t("So many would call the difference that shows here real, four times in five.")
            if found.known
            else t("Without panels poured alike, luck and effect cannot be told apart.")
        )
    if one.act is Act.PHOTOGRAPH:
        return t("Most of the scatter is the camera's, not the paint's. It costs no paint.")
    if one.act in (Act.SEPARATE, Act.EQUAL):
        return t("What is real may belong to that instead.")
    if one.act is Act.STOP:
        return t("{sure:.0f} in 100 that nothing in reach is clearly better.", sure=found.sure * 100.0)
    if one.act is Act.LARGER:
        return t("Paint, film and dose grow with the face. Reach of a blow, way of a tilt, sag and drying do not.")
    if one.act is Act.CONFIRM:
        return t("Nothing in reach is expected to be better.")
    if one.place is Place.TOGETHER:
        return t("A part of all combinations was poured; this one was not.")
    if one.place is Place.BETWEEN:
        return t("The best may lie there.")
    if one.act is Act.CONTROL:
        return t("Every effect stands against a recipe without it.")
    return t("The best so far is the last that was tried on this side.")


def takes(one: Proposal, units: Units) -> str:
    """What a proposal takes: panels, paint, money."""
    if not one.panels:
        return t("no panel")
    said = n("{panels} panel, {mass}", "{panels} panels, {mass}", one.panels, panels=one.panels, mass=units.stock_text(one.poured_kg))
    return t("{said}, {cost:.2f}", said=said, cost=one.cost) if one.cost else said


def brings(one: Proposal, found: NextPour) -> str:
    """Expected gain, as points of 100 of what is wanted; empty where nothing is expected or it cannot be told."""
    if not found.known:
        return ""
    return t("{points:.0f} of 100", points=one.gain * 100.0) if one.act not in (Act.READ, Act.STOP, Act.CONFIRM, Act.LARGER) else ""
