"""What a test shows, as one says it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.verdict.laws import Method
from dribbet.records import Response, Word
from dribbet.records.wording import first_up
from dribbet.words.levels import level_text
from dribbet.words.tongue import n, name, t
from dribbet.words.units import listed

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.lab.verdict.model import Unlike
    from dribbet.lab.verdict.rehearse import Rehearsed
    from dribbet.records import Series
    from dribbet.words.units import Units

SHORT: Final = {Response.CRACK_LENGTH: t("Cracks"), Response.CELL_COUNT: t("Cells"), Response.FIRST_CRACK: t("First crack")}
"""Responses as they stand beside their strip, where there is little room."""
METHOD: Final = {
    Method.ALIKE: t("least squares, one scatter"),
    Method.APART: t("least squares, each recipe's own scatter"),
    Method.COUNTS: t("counts, Poisson or wider"),
    Method.SHARES: t("shares, least squares"),
    Method.EXACT: t("exact test of yes and no"),
    Method.SHUFFLED: t("panels shuffled within the design"),
    Method.NONE: t("no panels poured alike"),
    Method.TIED: t("moves together with something else in this design"),
}
"""How a difference was judged."""


AGAINST_COST: Final = t("How good, from 0 to 1, against the paint of a panel")
AGAINST_WEIGHT: Final = t("How good, from 0 to 1, by how much one thing weighs beside the others")
AGAINST_LABOUR: Final = t("How good, from 0 to 1, against the time of a panel at the bench")
UNBEATEN: Final = t("Joined: those that no other beats in both")
NOTHING_REAL: Final = t("No difference that could not be chance.")
TOO_FEW: Final = t("Too few panels to say. Pour a repeat of each recipe.")


def named(what: str, level: str) -> str:
    """A level with what it is of, where it does not say that itself: film left 1.2 mm, but no silicone."""
    return level if what in level else f"{what} {level}"


def headline(found: Sequence[tuple[Response, float | None, Word]], first: str, second: str) -> str:
    """What a pair of levels shows, in one sentence: its first response that is real."""
    for response, difference, word in found:
        if word is Word.REAL and difference is not None:
            return _real(response, difference > 0.0, first_up(first), second)
    return TOO_FEW if all(word is Word.TOO_FEW for _, _, word in found) else NOTHING_REAL


def _real(response: Response, more: bool, first: str, second: str) -> str:
    said = {
        (Response.CRACK_LENGTH, True): t("{first} cracks more than {second}. That is real.", first=first, second=second),
        (Response.CRACK_LENGTH, False): t("{first} cracks less than {second}. That is real.", first=first, second=second),
        (Response.CELL_COUNT, True): t("{first} makes more cells than {second}. That is real.", first=first, second=second),
        (Response.CELL_COUNT, False): t("{first} makes fewer cells than {second}. That is real.", first=first, second=second),
        (Response.CELL_WIDTH, True): t("{first} makes cells wider than {second}. That is real.", first=first, second=second),
        (Response.CELL_WIDTH, False): t("{first} makes cells narrower than {second}. That is real.", first=first, second=second),
        (Response.FIRST_CRACK, True): t("{first} cracks later than {second}. That is real.", first=first, second=second),
        (Response.FIRST_CRACK, False): t("{first} cracks earlier than {second}. That is real.", first=first, second=second),
    }
    if (response, more) in said:
        return said[response, more]
    if more:
        return t("{first} gives more {response} than {second}. That is real.", first=first, second=second, response=response)
    return t("{first} gives less {response} than {second}. That is real.", first=first, second=second, response=response)


def closed(series: Series, units: Units) -> str:
    """What a closed series said, from its facts; in its own words where it is of an older version, empty where it said nothing."""
    if not series.concluded:
        return series.verdict
    one = series.concluded[0]
    varied = series.varied[one.which]
    first, second = (level_text(varied.factor, varied.levels[i], units) for i in (one.first, one.second))
    return headline([(c.response, c.difference, c.word) for c in series.concluded], named(name(varied.factor), first), second)


def for_now(sentence: str, unread: int) -> str:
    """A headline before all panels are read."""
    return t("For now: {sentence}", sentence=sentence[:1].lower() + sentence[1:]) if unread and sentence not in (TOO_FEW, NOTHING_REAL) else sentence


def unread(codes: Sequence[str]) -> str:
    """Panels that are still to be read."""
    return n(
        "{codes} is not read yet. Who looks early and again later sees “real” by chance more often than once in twenty.",
        "{codes} are not read yet. Who looks early and again later sees “real” by chance more often than once in twenty.",
        len(codes), codes=listed(list(codes), 4),
    )  # fmt: skip


def apart(code: str, response: str, happened: Sequence[str], *, changes: bool) -> str:
    """A panel that lies apart from those poured alike."""
    said = t("{code} lies apart in {response}", code=code, response=response)
    if happened:
        said = t("{said} ({happened})", said=said, happened=listed(list(happened)))
    return said + (t(". Without it the word would be another.") if changes else t(". Without it the word stays."))


FILM_COUNTED: Final = t("The figures take it into account.")


def depends(one: str, other: str, response: str) -> str:
    """Two things that do more together than each alone."""
    return t("What {one} does to {response} depends on {other}: look at each level of it.", one=one, other=other, response=response)


def without_film(response: Response, with_film: Word, without: Word) -> str:
    """A word that hangs on the film."""
    said = t("{response}: {with_film} with the film counted in, {without} without.", response=response, with_film=with_film, without=without)
    return first_up(said)


def rehearsed(out: Rehearsed, effect: str, response: str) -> str:
    """What playing a plan through told."""
    return t(
        "Played {tests} times by the judge of Decide: {effect} of {response} is called real in {found:.0f} of 100, and where nothing is true, "
        "anything is called real in {wrong:.0f}. \x02J\x03 shows such tests, for you to judge.",
        tests=out.tests, effect=effect, response=response, found=out.found * 100.0, wrong=out.wrong * 100.0,
    )  # fmt: skip


REHEARSED: Final = t("Rehearsed")
REHEARSING: Final = t("Rehearsing: the plan is played 400 times, some seconds long.")
NOT_REHEARSED: Final = t("Nothing can be rehearsed yet: no series has repeats of what is asked first, or nothing is promised.")


def same_in_all(factor: str) -> str:
    """A factor that has one level only."""
    return t("{factor} has the same level in every panel, so nothing can be said of it.", factor=factor)


def moved(one: Unlike) -> str:
    """Something that moved along with a factor."""
    return t("{covariate} moved along with {factor} (r = {r:.2f}).", covariate=one.covariate, factor=one.factor, r=one.r)
