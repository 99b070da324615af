"""Scoring blind, as one says it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.records import MOST_POINTS, Response, Word
from dribbet.records.wording import first_up
from dribbet.words.tongue import n, t
from dribbet.words.units import listed

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.studio.standing.scoring import Points, Scored, Scoring

SCORE: Final = t("Score each")
QUESTIONS: Final = {
    Response.CELL_COUNT: t("How many cells?"),
    Response.CELL_WIDTH: t("How wide are its cells?"),
    Response.CRACK_LENGTH: t("How much is cracked?"),
    Response.LACING: t("How much lacing?"),
    Response.SPREAD: t("How much is covered?"),
    Response.VIVIDNESS: t("How vivid?"),
    None: t("How well do you like it?"),
}
LEAST: Final = {
    Response.CELL_COUNT: t("few"),
    Response.CELL_WIDTH: t("small"),
    Response.CRACK_LENGTH: t("none"),
    Response.LACING: t("none"),
    Response.SPREAD: t("little"),
    Response.VIVIDNESS: t("dull"),
    None: t("not at all"),
}
MOST: Final = {
    Response.CELL_COUNT: t("many"),
    Response.CELL_WIDTH: t("wide"),
    Response.CRACK_LENGTH: t("very much"),
    Response.LACING: t("very much"),
    Response.SPREAD: t("all"),
    Response.VIVIDNESS: t("vivid"),
    None: t("very much"),
}
NAMES: Final = {
    Response.CELL_COUNT: t("number of cells"),
    Response.CELL_WIDTH: t("width of cells"),
    Response.CRACK_LENGTH: t("cracks"),
    Response.LACING: t("lacing"),
    Response.SPREAD: t("spread"),
    Response.VIVIDNESS: t("vividness"),
    None: t("liking"),
}
WHO: Final = t("Who scores?")
WHO_NOTE: Final = t("Type a name. All panels for one thing, then for the next; how well you like them comes last.")
HIDDEN: Final = t("Codes are hidden. Hold it against your own least and most.")
HIDDEN_OVERALL: Final = t("The last question: all things together.")
NO_ANCHORS: Final = t("No panels of other tests to hold it against yet. Take the whole range of what you know.")
UNKNOWN: Final = t("Cannot tell")
SCORED: Final = t("What was scored")
OVER: Final = t("All panels are scored.")
NOTHING: Final = t("Nothing is scored yet.")
LEAST_OF: Final = t("your least")
MOST_OF: Final = t("your most")
AGAIN: Final = t("Two panels come again for each thing, to see if you score the same again.")

STRONG: Final = 0.6
"""Rank correlation from which one thing is said to go with another; below a third of a turn's worth (0.3) hardly."""
HARDLY: Final = 0.3


def _figure(value: float) -> str:
    return f"{value:.1f}".replace("-", "\N{MINUS SIGN}")


def progress(sitting: Scoring) -> str:
    """Panel 3 of 8."""
    done, every = sitting.of_this
    return t("Panel {now} of {all}", now=done + 1, all=every)


def things(sitting: Scoring) -> str:
    """Which thing this is, of how many."""
    order = list(dict.fromkeys(c for c, _ in sitting.order))
    assert sitting.now is not None
    return t("Thing {now} of {all}", now=order.index(sitting.now[0]) + 1, all=len(order))


def result(scored: Scored, called: Callable[[str], str]) -> str:
    """What the points for one thing say, in a sentence."""
    real = [a for a in scored.answers if a.word is Word.REAL and a.difference]
    name = first_up(NAMES[scored.criterion])
    if real:
        best = max(real, key=lambda a: abs(a.difference or 0.0))
        more, less = (best.first, best.second) if (best.difference or 0.0) > 0 else (best.second, best.first)
        return t("{name}: {more} scores higher than {less}. That is real.", name=name, more=called(more), less=called(less))
    if scored.answers and all(a.word is Word.TOO_FEW for a in scored.answers):
        return t("{name}: too few panels to say.", name=name)
    return t("{name}: could be chance.", name=name)


def notes(scored: Scored) -> str:
    """How the eye agrees with the reader, and whether liking goes with it."""
    told = []
    if scored.measured is not None:
        rank = _figure(scored.measured)
        if scored.measured >= STRONG:
            told.append(t("Eye and reader rank the panels alike ({rank}).", rank=rank))
        elif scored.measured > HARDLY:
            told.append(t("Eye and reader agree in part ({rank}).", rank=rank))
        else:
            told.append(t("Eye and reader do not agree ({rank}). Look at the panels again.", rank=rank))
    if scored.overall is not None:
        rank = _figure(scored.overall)
        if abs(scored.overall) < HARDLY:
            told.append(t("Liking has little to do with it ({rank}).", rank=rank))
        elif scored.overall > 0.0:
            told.append(t("Panels with more of it are liked more ({rank}).", rank=rank))
        else:
            told.append(t("Panels with more of it are liked less ({rank}).", rank=rank))
    return " ".join(told)


def mean(scored: tuple[float, ...]) -> str:
    """Mean points of a recipe, and of how many panels."""
    return t("{mean} of {most}", mean=_figure(sum(scored) / len(scored)), most=MOST_POINTS)


def who(found: Points, *, guests: bool) -> str:
    """Who scored, and how often."""
    names = listed(list(found.judges))
    if guests:
        return n("Guests ({names}), {count} score", "Guests ({names}), {count} scores", found.scores, names=names, count=found.scores)
    return n("{names}, {count} score", "{names}, {count} scores", found.scores, names=names, count=found.scores)


def repeated(found: Points) -> str:
    """Whether one scores the same again; empty where nothing came twice."""
    if not found.again:
        return ""
    return n(
        "Of {again} panel that came twice, {same} got the same points, or one more or less.",
        "Of {again} panels that came twice, {same} got the same points, or one more or less.",
        found.again,
        again=found.again,
        same=found.same,
    )
