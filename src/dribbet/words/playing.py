"""Judging made-up tests, as one says it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.records import Word
from dribbet.words.tongue import n, t

if TYPE_CHECKING:
    from dribbet.lab.verdict.rehearse import Tally

QUESTION: Final = t("Real, or could it be chance?")
NOTE: Final = t("A made-up test by your plan and your scatter. One in two has the difference, the other has none.")
REAL: Final = t("Real")
CHANCE: Final = t("Could be chance")
ANOTHER: Final = t("Another")
BACK: Final = t("Back to Ask")
CANNOT: Final = t("Nothing can be played yet: no series has repeats of what is asked first, or nothing is promised.")
YOU: Final = t("You")
JUDGE: Final = t("The judge")


def truth(effect: bool, size: str, response: str) -> str:
    """What was true of a made-up test."""
    if effect:
        return t("There was a difference of {size} in {response}.", size=size, response=response)
    return t("There was no difference at all.")


def said(word: Word) -> str:
    """What the judge said of it."""
    return {
        Word.REAL: t("The judge: real."),
        Word.CHANCE: t("The judge: could be chance."),
        Word.TOO_FEW: t("The judge: too few panels to say."),
    }[word]


def tallied(tally: Tally) -> str:
    """How many differences were found, and how often something was seen where nothing was."""
    told = []
    if tally.there:
        told.append(n("{hits} of {there} difference found", "{hits} of {there} differences found", tally.there, hits=tally.hits, there=tally.there))
    if tally.none:
        told.append(
            n(
                "{alarms} false alarm in {none} without one",
                "{alarms} false alarms in {none} without one",
                tally.alarms,
                alarms=tally.alarms,
                none=tally.none,
            )
        )
    return ", ".join(told)
