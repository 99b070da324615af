"""The honest margin of Ask: plain sentences, in the order in which they matter."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.plan.basis import Quantity
from dribbet.lab.plan.power import Model
from dribbet.lab.plan.responses import SCALES
from dribbet.lab.plan.stops import Why
from dribbet.records import Equal, Response
from dribbet.records.wording import first_up
from dribbet.studio.standing.margin import Shows
from dribbet.words import confounding, stops
from dribbet.words.parts import Remark, Weight
from dribbet.words.tongue import n, name, t
from dribbet.words.units import NARROW, NO_BREAK, count_text, in_words, listed, percent

if TYPE_CHECKING:
    from dribbet.lab.plan.power import Scatter
    from dribbet.studio.standing.margin import Lacking, LikeAndUnlike, Margin, SmallestShown
    from dribbet.words.units import Units

SHOWS: Final = t("It can show")
SIDE_BY_SIDE: Final = t("Side by side")
STOPPED: Final = {
    Why.UNMIXABLE: t("Cannot be mixed like that"),
    Why.DROPS: t("Too small a cup for the drops"),
    Why.PIECES: SIDE_BY_SIDE,
    Why.FILM: t("Too little paint for that film"),
}
BESIDES: Final = {
    "medium": t("medium"), "base": t("the base"), "base_plan": t("how the base is laid"), "technique": t("the way to pour"),
    "poured_kg": t("the paint poured"), "water_source": t("where the water is from"), "silicone_drops_per_100g": t("silicone"),
    "anti_craze_share": t("anti-craze additive"), "film_m": t("the film left"),
}  # fmt: skip
"""What differs along with what is tested, as one says it."""


def amount(response: Response, value: float, units: Units) -> str:
    """A response in the person's words."""
    scale = SCALES[response]
    if scale.model is Model.YES_NO:
        return t("{share:.0f} in a hundred", share=value * 100)
    return units.length_text(value, scale.digits) if scale.unit == "mm" else f"{value:.{scale.digits}f}{NARROW}{scale.unit}".strip()


def remarks(found: Margin, units: Units) -> tuple[Remark, ...]:
    """All sentences of the margin."""
    made = [*_shows(found.shows, units), *_stopped(found, units), *_compared(found.compared, units), *_mixed_up(found)]
    for one in found.no_control:
        said = stops.no_control(one)
        body = said if one.insisted else t("{no_control} \x02C\x03 adds it; \x02I\x03 goes without, on record.", no_control=said)
        made.append(Remark(t("No control"), body, Weight.CAUTION if one.insisted else Weight.STOP))
    if found.pieces is not None:
        made.append(
            Remark(
                SIDE_BY_SIDE,
                t(
                    "Pieces of one panel share its torching and tilting, and paint crosses {borders}. "
                    "A strip of {strip} along each is left out: {percent} of the panel.",
                    borders=count_text(found.pieces.borders, "border"), strip=units.length_text(found.pieces.strip_m * 1e3, 0),
                    percent=percent(found.pieces.left_out),
                ),
                Weight.CAUTION,
            )
        )  # fmt: skip
    return (*made, *_repeats(found, units), *_lacking(found.lacking, units))


def _shows(found: SmallestShown, units: Units) -> list[Remark]:
    first, known = found.response, found.known
    if found.how is Shows.NOTHING:
        said = t("One panel of each recipe cannot tell a difference from luck. Add a repeat.")
        return [Remark(t("It can show nothing"), said, Weight.STOP)]
    if known is None:
        return [Remark(SHOWS, t("Not known yet: no series has repeats of {response}. The first repeats will tell.", response=first))]
    if found.how is Shows.NO_FORMULA:
        return [Remark(SHOWS, t("No formula holds for panels that never crack: \x02E\x03 rehearses what you expect."))]
    if found.size is None:
        return [Remark(SHOWS, _no_change(found, known, units), Weight.CAUTION)]
    made = [
        Remark(
            SHOWS,
            t(
                "A change of \x02{amount}\x03 or more, four times in five. "
                "Smaller ones look like chance: in {where} panels poured alike differed by {scatter} ({panels}). \x02E\x03 rehearses it.",
                amount=amount(first, found.size, units), where=listed(list(known.sources), 3), scatter=amount(first, known.sd, units),
                panels=count_text(known.panels, "panel"),
            ),
        )
    ]  # fmt: skip
    if found.expected:
        expected = amount(first, found.expected, units)
        body = t("You expect {amount}: less than this test can show.", amount=expected)
        if found.takes is not None:
            body += " " + t("It takes {needed} repeats of each: {panels}.", needed=found.takes.each, panels=count_text(found.takes.panels, "panel"))
        made.append(Remark("", body, Weight.CAUTION))
    return made


def _no_change(found: SmallestShown, known: Scatter, units: Units) -> str:
    """Why a plan shows nothing, and what would."""
    said = t(
        "No change of {response} that panels can have, with so few and all that is asked "
        "({panels}: in {where} panels poured alike differed by {scatter}).",
        response=found.response, panels=count_text(known.panels, "panel"), where=listed(list(known.sources), 3),
        scatter=amount(found.response, known.sd, units),
    )  # fmt: skip
    if found.takes is not None:
        expected = amount(found.response, found.expected, units)
        return said + " " + t("It takes {needed} repeats of each to show {amount}.", needed=found.takes.each, amount=expected)
    if found.enough is None:
        return said + " " + t("Ask less.")
    repeats, size = found.enough
    shown = amount(found.response, size, units)
    return said + " " + t("{repeats} repeats of each would show {amount}.", repeats=first_up(in_words(repeats)), amount=shown)


def _stopped(found: Margin, units: Units) -> list[Remark]:
    """What stops the lots, and doses that whole drops change."""
    made = [Remark(STOPPED[s.why], stops.sentence(s, units), Weight.STOP) for s in found.stopped]
    if found.thin is not None:
        made.append(Remark(t("Thin film"), stops.sentence(found.thin, units)))
    if found.whole_drops is not None:
        made.append(Remark(t("Whole drops"), stops.sentence(found.whole_drops, units), Weight.CAUTION))
    return made


def _compared(found: LikeAndUnlike | None, units: Units) -> list[Remark]:
    """What is not equal, of recipe, flow, paint share and cost."""
    if found is None:
        return []
    head = first_up(name(found.equal)) if found.equal is Equal.OWN else t("At {equal}", equal=found.equal)
    if found.undone is not None:
        return [Remark(head, t("That would undo the {undone} that you test. Choose equal recipe.", undone=found.undone), Weight.STOP)]
    said = [_unlike(what, low, high, tested=found.tested) for what, (low, high) in found.unlike.items()] + [BESIDES[f] for f in found.besides]
    body = t("Not equal: {what}.", what="; ".join(said)) if said else t("Recipe, flow, paint share and cost are all equal.")
    rests = t("from your own cups") if found.own_figures else t("from starting figures")
    if found.waters:
        waters = ", ".join(f"{letter}{NO_BREAK}{percent(share)}" for letter, share in found.waters)
        body += " " + t("Water is an estimate {rests} ({waters}): Check must find all alike before you pour.", rests=rests, waters=waters)
    elif found.graded:
        body += " " + t("The water for the grade is an estimate {rests}.", rests=rests)
    return [Remark(head, body)]


def _unlike(what: Quantity, low: float, high: float, *, tested: bool) -> str:
    if what is Quantity.FLOW:
        return t("flow, {times:.1f} times", times=high / low)
    if what is Quantity.COST:
        return t("cost {low:.2f} to {high:.2f} a kilogram", low=low, high=high)
    if what is Quantity.PAINT:
        return t("paint {low:.0f} to {high}", low=low * 100, high=percent(high))
    said = (
        t("thinner {low:.0f} to {high}", low=low * 100, high=percent(high))
        if what is Quantity.THINNER
        else t("parts of medium {low:.1f} to {high:.1f}", low=low, high=high)
    )
    return t("{unlike} (tested)", unlike=said) if tested else said


def _mixed_up(found: Margin) -> list[Remark]:
    made: list[Remark] = []
    for one in found.mixed_up:
        body = confounding.sentence(one)
        if one is found.separable and found.lacking is not None:
            body += " " + n(
                "\x02X\x03 adds {panels} panel that tells them apart.", "\x02X\x03 adds {panels} panels that tell them apart.",
                one.panels, panels=one.panels,
            )  # fmt: skip
        made.append(Remark("" if made else t("Mixed up together"), body, Weight.PLAIN if one.separated else Weight.CAUTION))
    return made


def _repeats(found: Margin, units: Units) -> list[Remark]:
    each = t(
        "\x02{repeats}\x03 of each recipe, so \x02{each}\x03 panels stand behind every level.", repeats=found.repeats, each=found.behind_level
    )  # fmt: skip
    made = [Remark(t("Repeats"), each)]
    if found.one_more is not None:
        extra = count_text(found.one_more.panels, "more panel", "more panels")
        size = amount(found.shows.response, found.one_more.size, units)
        made.append(Remark("", t("\x02One more repeat of each\x03 would show {amount}. It takes {extra}.", amount=size, extra=extra)))
    return made


def _lacking(found: Lacking | None, units: Units) -> list[Remark]:
    if found is None:
        return []
    made = []
    if found.short:
        lines = listed([f"{units.mass_text(d.short_kg)} {units.called(d.name)}" for d in found.short], 6)
        made.append(Remark(t("Short on the shelf"), t("{lines}. Get it before you start.", lines=lines), Weight.STOP))
    if found.too_few_panels:
        body = t("{panels} are planned, {have_panels:.0f} are at hand.", panels=count_text(found.panels, "panel"), have_panels=found.have_panels)
        made.append(Remark(t("Short of panels"), body, Weight.STOP))
    what = [t("the stock of {names} (Shelf)", names=listed([units.called(name) for name in found.unsaid], 3))] if found.unsaid else []
    what += [t("bare panels and rack places (\x02H\x03, at the end)")] if found.have_panels is None else []
    if what:
        made.append(Remark(t("Not entered"), t("{what}. Whether it is enough is not known.", what=first_up("; ".join(what)))))
    return made
