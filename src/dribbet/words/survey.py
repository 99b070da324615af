"""A pre-test of a set of colours, as one says it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.paint import survey
from dribbet.records import GaugingKind
from dribbet.records.wording import first_up
from dribbet.words.parts import Remark, Weight
from dribbet.words.tongue import t
from dribbet.words.units import count_text, in_words, listed

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.lab.paint.survey import SurveyRow
    from dribbet.words.units import Units

MEASURED: Final = {GaugingKind.DENSITY: "Weigh", GaugingKind.DRIP: "Drip", GaugingKind.BODY: t("Set down")}
ALIKE: Final = 1.25
"""Viscosities this near to each other run alike."""


def sentence(table: Sequence[SurveyRow], finished: bool) -> str:
    """What is to be done, or that it is over."""
    due = survey.next_due(table)
    if finished:
        return t("This pre-test is over. Plans use what it found.")
    if due is None:
        return t("Every colour is measured. Plans use it from now on.")
    material, kind = due
    return t("{measured} {name} next.", measured=MEASURED[kind], name=material.name)


def note(table: Sequence[SurveyRow]) -> str:
    """How much is done."""
    left = sum(len(row.due) for row in table)
    return t(
        "{count}, no panels. {words} left to measure.",
        count=count_text(len(table), "colour"),
        words=first_up(in_words(left)) if left else "Nothing",
    )


def key_words(table: Sequence[SurveyRow]) -> str:
    """What the one key does."""
    due = survey.next_due(table)
    return f"{MEASURED[due[1]]} {due[0].name}" if due is not None else t("It is over")


def found(table: Sequence[SurveyRow]) -> list[Remark]:
    """What the table says so far."""
    made: list[Remark] = []
    weight, drip = survey.by_density(table), survey.by_drip(table)
    for heavy, under in survey.sinking(table)[:3]:
        made.append(
            Remark(
                "" if made else t("What sinks"),
                t("{name} sinks into {names}.", name=first_up(heavy.name), names=listed([m.name for m in under], 3)),
                Weight.PLAIN,
            )
        )
    if weight is not None and not made:
        made.append(Remark(t("What sinks"), t("None: all are as heavy as each other, within what a syringe tells.")))
    if drip is not None:
        if drip.times < ALIKE:
            made.append(Remark(t("How they run"), t("All run alike as they are: start them with one ratio.")))
        else:
            said = t(
                "{thick} is {times:.1f} times as thick as {thin}. Start it with more medium or water.",
                thick=first_up(drip.most.name),
                times=drip.times,
                thin=drip.least.name,
            )
            made.append(Remark(t("How they run"), said))
    bodies = [(row.material, row.body) for row in table if row.body is not None]
    for i, (material, body) in enumerate(bodies[:6]):
        assert body is not None
        made.append(
            Remark(
                "" if i else t("To start from"),
                t(
                    "{name} {words}: 1 part to {start_parts:g} of conditioner.",
                    name=first_up(material.name),
                    words=body.words,
                    start_parts=body.start_parts,
                ),
            )
        )
    return made or [Remark("", t("What sinks into what, how far the colours run, and the ratio to start from stand here as you measure."))]


def figures(row: SurveyRow, units: Units) -> tuple[str, str, str]:
    """Density, run and disc of a colour, empty where they are still to come."""
    density = f"{row.density.value / 1000:.3f}" if row.density is not None else ""
    drip = units.length_text(row.drip.value * 1e3) if row.drip is not None else ""
    disc = units.length_text(row.disc.value * 1e3) if row.disc is not None else ""
    return density, drip, disc


G_IN_EACH_ML: Final = t("g in each mL")
RUN_OF_A_DRIP: Final = t("run of a drip")
