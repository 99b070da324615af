"""What else differed, as one says it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.records.wording import first_up
from dribbet.studio.standing.differs import About, Beside
from dribbet.words import confounding, costs, dry, pour, stops, verdict
from dribbet.words import mix as mix_words
from dribbet.words.parts import Remark, Weight
from dribbet.words.tongue import n, name, t
from dribbet.words.units import listed, percent

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence
    from datetime import datetime

    from dribbet.words.units import Units

NOTHING: Final = t("Nothing else that Dribbet can compute or was told of.")
LEFT_OUT: Final = t("Left out")
BARE: Final = t("bare")
PLAIN: Final = (About.LEFT_OUT, About.HALF_CRACKED, About.GOAL, About.OVERSHOT, About.COST, About.SIGN, About.MARKED)
"""What asks for no care."""


def remarks(found: Sequence[Beside], units: Units, local: Callable[[datetime], datetime]) -> tuple[Remark, ...]:
    """All of it; that there is nothing, where there is."""
    made = [remark(b, units, local) for b in found]
    return tuple(made) or (Remark("", NOTHING),)


def remark(b: Beside, units: Units, local: Callable[[datetime], datetime]) -> Remark:
    """One fact with how much it matters."""
    calm = b.about in PLAIN or (b.about is About.CONFOUND and b.record.separated)
    head = LEFT_OUT if b.about is About.LEFT_OUT else ""
    return Remark(head, sentence(b, units, local), Weight.PLAIN if calm else Weight.CAUTION)


def sentence(b: Beside, units: Units, local: Callable[[datetime], datetime]) -> str:
    """One fact in words."""
    code = b.codes[0] if b.codes else ""
    recipes = listed(list(b.codes)) if b.codes else ""
    said: dict[About, Callable[[], str]] = {
        About.LEFT_OUT: lambda: t("{code}: {why}.", code=code, why=b.names[0]),
        About.HALF_CRACKED: lambda: _half_cracked(b),
        About.CONFOUND: lambda: confounding.sentence(b.record),
        About.GOAL: lambda: _goal(b),
        About.MISSED: lambda: t(
            "{missed:.0f} of {due:.0f} looks were never made: when a crack began is less sure.", missed=b.values[0], due=b.values[1]
        ),
        About.INSISTED: lambda: t("By choice: {what} ({day}).", what=stops.gone_against(b.record), day=day(local(b.record.at))),
        About.TOGETHER: lambda: verdict.depends(b.names[0], b.names[1], b.names[2]),
        About.UNREAD: lambda: verdict.unread(b.codes),
        About.OPEN_BASE: lambda: t("Spread waits for {recipes}: say on Read what is base there.", recipes=listed(list(b.codes), 4)),
        About.OPEN_LINES: lambda: n(
            "Lines on {recipes} may be cracks and count as none: look at it on Read.",
            "Lines on {recipes} may be cracks and count as none: look at them on Read.",
            len(b.codes), recipes=listed(list(b.codes), 4),
        ),
        About.LAMPED: lambda: t(
            "Cracks of {recipes} alone were read under raking lamps, which show more of them. Photograph the others so, too, if they were not.",
            recipes=listed(list(b.codes), 4),
        ),
        About.MOVED: lambda: _moved(b),
        About.APART: lambda: verdict.apart(code, b.names[0], b.names[1:], changes=b.changes),
        About.FILM: lambda: _film(b, units),
        About.MENDED: lambda: t(
            "{mass} {ingredient} was added to {colour} of {recipes} after the check.",
            mass=units.mass_text(b.values[0]), ingredient=b.names[0], colour=b.names[1], recipes=recipes,
        ),
        About.KEPT: lambda: t(
            "{colour} of {recipes} was poured as it was: {why}.", colour=first_up(b.names[0]), recipes=recipes, why=b.names[1] or t("nobody said why")
        ),
        About.OVERSHOT: lambda: t(
            "An overshoot in {colour} of {recipes} was accepted; its real shares are used.", colour=b.names[0], recipes=recipes
        ),
        About.TRACE: lambda: t("{code} may hold a trace of another cup ({why}).", code=code, why=mix_words.contaminated(*b.names)),
        About.WATER: lambda: t("The water was not of one kind: {sources}.", sources=listed(list(b.names))),
        About.REST: lambda: t(
            "The cups rested {first:.1f} h against {second:.1f} h before they were poured.", first=b.values[0], second=b.values[1]
        ),
        About.COST: lambda: costs.panels(b.record),
        About.SIGN: lambda: t("While pouring {code}: {kind}.", code=code, kind=name(b.record.kind)),
        About.COATS: lambda: _coats(b),
        About.ZONE: lambda: t(
            "{share} of {code} is left out of every figure ({kinds}).", share=percent(b.values[0], 1), code=code, kinds=listed(list(b.names))
        ),
        About.SUBSTITUTED: lambda: t("{code}, {what}.", code=code, what=pour.substituted_text(b.record)),
        About.MARKED: lambda: t("{code} is counted, though marked: {kind}.", code=code, kind=name(b.record.kind)),
    }  # fmt: skip
    return said[b.about]()


def day(at: datetime) -> str:
    """A day as one says it: 9 Oct."""
    return f"{at:%-d %b}"


def _goal(b: Beside) -> str:
    ranked = t(", then ").join(t("{letter} ({share:.2f} of 1)", letter=c, share=v) for c, v in zip(b.codes, b.values, strict=True))
    said = t("By the goal “{goal}”, recipe {ranked}.", goal=b.names[0], ranked=ranked)
    alone = [t("By {response} alone it would be {letter}.", response=name(r), letter=letter) for r, letter in b.record or ()]
    return " ".join((said, *alone, t("Goals can be exchanged on Ask.")))


def _film(b: Beside, units: Units) -> str:
    first, second = (units.length_text(v, 1) for v in b.values)
    said = t("The film was not equal: {first} against {second}.", first=first, second=second)
    if not b.changes:
        return said
    hangs = " ".join(verdict.without_film(r, with_it, without) for r, with_it, without in b.record)
    return f"{said} {hangs or verdict.FILM_COUNTED}"


def _moved(b: Beside) -> str:
    said = t("{what} was not alike on both sides (r = {r:.2f}).", what=first_up(b.names[0]), r=b.values[0])
    return f"{said} {verdict.FILM_COUNTED}" if b.changes else said


def _coats(b: Beside) -> str:
    told = "; ".join(f"{listed(list(codes))} {dry.coat(coat) or BARE}" for coat, codes in b.record)
    return t("Not photographed alike: {told}. Shine and colour are then not the paint's alone.", told=told)


def _half_cracked(b: Beside) -> str:
    first, second = (dry.half_cracked(hours if hours >= 0.0 else None, round(count)) for count, hours in (b.values[:2], b.values[2:]))
    one, other = (n("recipe {letters}", "recipes {letters}", len(letters), letters=listed(list(letters))) for letters in b.codes)
    return t("{one}: {first}; {other}: {second}.", one=first_up(one), first=first, other=other, second=second)
