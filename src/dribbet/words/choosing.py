"""Choosing blind, as one says it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.verdict.preference import REAL
from dribbet.records import Word
from dribbet.records.wording import first_up
from dribbet.words.levels import recipe_text
from dribbet.words.tongue import Sentence, n, t
from dribbet.words.units import listed

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.lab.plan.arm import Arm
    from dribbet.records import Series
    from dribbet.studio.standing.choosing import Preferred, Sitting
    from dribbet.words.units import Units

QUESTION: Final = t("Which one is better?")
HIDDEN: Final = t("Codes and numbers are hidden. Same lamp, same size, sides drawn by lot.")
WHO: Final = t("Who picks?")
WHO_NOTE: Final = t("Type a name. Each judge picks alone, and may sit more than once.")
NAME: Final = t("first name")
BEGIN: Final = t("Begin")
GUEST: Final = t("A guest")
LEFT: Final = t("Left one")
RIGHT: Final = t("Right one")
NEITHER: Final = t("Neither")
TAKE_BACK: Final = t("Take back")
ENOUGH: Final = t("Enough")
AXIS: Final = t("How often each is picked")
NEVER: Final = t("never picked")
EVEN: Final = t("as often as not")
ALWAYS: Final = t("always")
PICKED: Final = t("What was picked")
BACK: Final = t("Back to Decide")
ANOTHER: Final = t("Another sitting")
COMING: Final = t("Squaring it up")
CHOOSE: Final = t("Choose blind")
OPEN: Final = t("Open the recipes")
COVERED: Final = t("This test is blind. Choose first, or open its recipes.")
COVERED_NOTE: Final = t("What was measured stays hidden until then, so that no figure picks for you.")
TOO_FEW: Final = t("Two recipes with a dry panel that was read are needed.")
AGAIN: Final = t("Some pairs come twice, to see if you pick the same again.")
ALONE: Final = t("Each picks alone. What others chose stays hidden till the end.")
OVER: Final = t("All pairs are picked.")


ENOUGH_PICKS: Final = 6
"""Fewer than this cannot be told from chance, however they fall."""


def progress(sitting: Sitting) -> str:
    """Pair 8 of 12."""
    return t("Pair {now} of {all}", now=sitting.done + 1, all=len(sitting.pairs))


def result(found: Preferred, called: Callable[[str], str]) -> str:
    """What the picks say, in a sentence; `called` names a recipe."""
    if not found.between:
        return ""
    if len(found.strengths) > 2:
        if found.any_p >= REAL:
            return t("Which was picked could be chance.") if found.picks >= ENOUGH_PICKS else t("Too few picks to say.")
        return t(
            "{liked} was picked most, {other} least. That is real.",
            liked=first_up(called(found.strengths[0].recipe)),
            other=called(found.strengths[-1].recipe),
        )
    real = [b for b in found.between if b.word is Word.REAL]
    if real:
        best = max(real, key=lambda b: abs(b.wins - b.losses))
        liked, other = (best.first, best.second) if best.wins > best.losses else (best.second, best.first)
        return t("{liked} was picked before {other}. That is real.", liked=first_up(called(liked)), other=called(other))
    if all(b.word is Word.TOO_FEW for b in found.between):
        return t("Too few picks to say.")
    return t("Which was picked could be chance.")


def repeated(found: Preferred) -> str:
    """Whether one picks the same again; empty where no pair came twice."""
    if not found.again:
        return ""
    return n(
        "Of {again} pair that came twice, {same} was picked alike.",
        "Of {again} pairs that came twice, {same} were picked alike.",
        found.again,
        again=found.again,
        same=found.same,
    )


def circles(found: Preferred, called: Callable[[str], str]) -> str:
    """Recipes that beat each other in a circle."""
    told = (t("{a} before {b}, {b} before {c}, {c} before {a}: a circle.", a=called(a), b=called(b), c=called(c)) for a, b, c in found.circles[:2])
    return " ".join(first_up(words) for words in told)


def single(found: Preferred, called: Callable[[str], str]) -> str:
    """Recipes of which one panel only was looked at."""
    return (
        t("One panel of {recipes} only: the panel was liked, the recipe is not judged.", recipes=listed([called(r) for r in found.single]))
        if found.single
        else ""
    )


def who(found: Preferred, *, guests: bool) -> str:
    """Who picked, and how often."""
    names = listed(list(found.judges))
    if guests:
        return n("Guests ({names}), {count} pick", "Guests ({names}), {count} picks", found.picks, names=names, count=found.picks)
    return n("{names}, {count} pick", "{names}, {count} picks", found.picks, names=names, count=found.picks)


def picked(found: Preferred, recipe: str) -> str:
    """How often a recipe was picked, of all pairs that it stood in."""
    mine = [b for b in found.between if recipe in (b.first, b.second)]
    wins = sum(b.wins if b.first == recipe else b.losses for b in mine)
    return t("{wins} of {all}", wins=wins, all=sum(b.wins + b.losses + b.ties for b in mine))


def recipe(series: Series, arm: Arm, units: Units, *, covered: bool) -> str:
    """How a recipe is called: its levels, or its letter while it is hidden."""
    if covered:
        return t("recipe {letter}", letter=arm.letter)
    return recipe_text(series, arm, units)


PICKED_OF: Final = Sentence("{done} of {pairs} picked")
SAY_WHO_PICKS: Final = t("Say who picks, such as your first name.")
SAY_WHO_PICKS_FIRST: Final = t("Say who picks first.")
SAY_WHO_SCORES: Final = t("Say who scores, such as your first name.")
SAY_WHO_SCORES_FIRST: Final = t("Say who scores first.")
