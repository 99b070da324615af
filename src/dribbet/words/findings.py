"""What the notebook has shown, as one says it: claims, what stands behind them, what would settle them."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.plan.responses import SCALES
from dribbet.lab.verdict.pooled import Strength
from dribbet.records import Factor, Response, Word
from dribbet.records.wording import first_up
from dribbet.words.levels import level_text
from dribbet.words.tongue import n, name, t
from dribbet.words.units import listed

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.studio.standing.findings import Behind, Claim
    from dribbet.words.units import Units

SMALL: Final = 10.0  # below this a difference is told to a tenth
REPEATS: Final = 3
"""Panels of each recipe in the test that would settle a claim."""
GROWS: Final = {
    Factor.FILM_LEFT: t("A thicker film"), Factor.WATER_SHARE: t("More water"), Factor.RATIO: t("More medium"), Factor.SILICONE: t("Silicone"),
    Factor.ALCOHOL: t("Alcohol"), Factor.HEAT: t("Heat"), Factor.HEAT_AFTER: t("Later heat"), Factor.DWELL: t("A longer rest under the cup"),
    Factor.REST: t("A longer rest of the mix"), Factor.POURED: t("More paint poured"), Factor.GRADE: t("A thinner mix"),
    Factor.ANTI_CRAZE: t("Anti-craze additive"), Factor.SHIMMER: t("Shimmer medium"), Factor.BASE_DEPTH: t("A thicker base"),
    Factor.TILT_TIME: t("Longer tilting"), Factor.GROW: t("A longer wait before the stretch"), Factor.SPIN_TURNS: t("More spinning"),
}  # fmt: skip
"""A factor that grows, as the beginning of a sentence."""
DOES: Final = {
    (Response.CRACK_LENGTH, True): t("{what} cracks more."), (Response.CRACK_LENGTH, False): t("{what} cracks less."),
    (Response.CRACKED, True): t("{what} cracks more often."), (Response.CRACKED, False): t("{what} cracks less often."),
    (Response.FIRST_CRACK, True): t("{what} cracks later."), (Response.FIRST_CRACK, False): t("{what} cracks earlier."),
    (Response.CELL_COUNT, True): t("{what} makes more cells."), (Response.CELL_COUNT, False): t("{what} makes fewer cells."),
    (Response.CELL_WIDTH, True): t("{what} makes wider cells."), (Response.CELL_WIDTH, False): t("{what} makes narrower cells."),
    (Response.SPREAD, True): t("{what} covers more."), (Response.SPREAD, False): t("{what} covers less."),
    (Response.LACING, True): t("{what} gives more lacing."), (Response.LACING, False): t("{what} gives less lacing."),
    (Response.SHIMMER, True): t("{what} shimmers more."), (Response.SHIMMER, False): t("{what} shimmers less."),
    (Response.VIVIDNESS, True): t("{what} is more vivid."), (Response.VIVIDNESS, False): t("{what} is less vivid."),
    (Response.UNEVENNESS, True): t("{what} dries less even."), (Response.UNEVENNESS, False): t("{what} dries more even."),
    (Response.SHINE, True): t("{what} dries glossier."), (Response.SHINE, False): t("{what} dries duller."),
    (Response.FAULTS, True): t("{what} leaves more faults."), (Response.FAULTS, False): t("{what} leaves fewer faults."),
}  # fmt: skip
NOTHING: Final = t("Nothing was judged yet.")
NOTHING_NOTE: Final = t("Read the dry panels of a test, and what they show stands here.")
JUDGING: Final = t("Judging what all series show.")
NONE_STANDS: Final = t("Nothing stands yet.")
FOR_IT: Final = t("For it")
BESIDE: Final = t("Beside it")
SETTLE: Final = t("What would settle it")
CONTRADICTED: Final = t("Contradicted elsewhere")
STRENGTH: Final = {
    Strength.ONE: t("one test only"), Strength.AGAINST: t("for and against"), Strength.NOTHING: t("no difference seen"), Strength.OPEN: t("open"),
}  # fmt: skip
SEARCH: Final = t("silicone, cracks, a series or a panel")
SETTLE_IT: Final = t("Ask what would settle it")
LUCK: Final = t("Luck")
NEXT: Final = t("Next")
LOOK_FOR: Final = t("Search")
GO_TO_TODAY: Final = t("Go to Today")


def subject(c: Claim, units: Units) -> str:
    """What does it: a thicker film, glue instead of conditioner."""
    if c.second.value is not None and c.varied.factor in GROWS:
        return GROWS[c.varied.factor]
    if c.second.value is not None:
        return t("More {factor}", factor=c.varied.words)
    return t(
        "{second} instead of {first}",
        second=first_up(level_text(c.varied.factor, c.second, units)),
        first=level_text(c.varied.factor, c.first, units),
    )


def claim(c: Claim, units: Units) -> str:
    """The claim as a sentence; a question where nothing says yet which way."""
    what = subject(c, units)
    if c.strength is Strength.OPEN:
        return t("{what}: {response}?", what=what, response=name(c.response))
    if c.strength is Strength.NOTHING:
        return t("{what} and {response}: nothing seen.", what=what, response=name(c.response))
    return DOES[c.response, c.more].format(what=what)


def amount(c: Claim, value: float, units: Units) -> str:
    """A size of a claim's response: per dm2 for counts and lengths."""
    scale = SCALES[c.response]
    per = t(" in each dm²") if scale.per_area else ""
    digits = max(scale.digits, 1 if abs(value) < SMALL and scale.per_area else 0)
    if scale.unit == "mm" and not scale.per_area:
        return units.length_text(abs(value), digits)
    unit = "" if scale.unit == "cells" else scale.unit
    return f"{abs(value):.{digits}f} {unit}".strip() + per


def size(c: Claim, units: Units) -> str:
    """From which level to which, and by how much."""
    first, second = (level_text(c.varied.factor, level, units) for level in (c.first, c.second))
    step = t("{first} to {second}", first=first, second=second)
    if c.strength is Strength.AGAINST:
        return n("{step}: {count} test disagrees with itself", "{step}: {count} tests disagree", len(c.tests), step=step, count=len(c.tests))
    if c.pooled is None:
        if c.unread:
            return n("{step}: {count} panel is to be read", "{step}: {count} panels are to be read", c.unread, step=step, count=c.unread)
        return t("{step}: too few panels", step=step)
    way = t("more") if c.more else t("less")
    return t("{step}: {amount} {way}", step=step, amount=amount(c, c.pooled.difference, units), way=way)


def strength(c: Claim) -> str:
    """How well it stands."""
    if c.strength is Strength.STANDS:
        return n("stands: {count} series", "stands: {count} series", len(c.tests), count=len(c.tests))
    return STRENGTH[c.strength]


def headline(claims: Sequence[Claim]) -> str:
    """What decides what, of the claims that stand: two at most, each of its own response."""
    said: dict[Response, str] = {}
    for c in claims:
        if c.strength in (Strength.STANDS, Strength.ONE) and c.response not in said:
            words = t("{factor} decides {response}.") if c.strength is Strength.STANDS else t("{factor} seems to move {response}.")
            said[c.response] = words.format(factor=first_up(c.varied.words), response=name(c.response))
    return " ".join(list(said.values())[:2]) or (NONE_STANDS if claims else NOTHING)


def summary(claims: Sequence[Claim], panels: int, tests: int) -> str:
    """How much stands behind it all."""
    count = {s: sum(c.strength is s for c in claims) for s in Strength}
    said = [
        n("{count} stands", "{count} stand", count[Strength.STANDS], count=count[Strength.STANDS]),
        n("{count} rests on one test", "{count} rest on one test", count[Strength.ONE], count=count[Strength.ONE]),
        n("{count} is contradicted", "{count} are contradicted", count[Strength.AGAINST], count=count[Strength.AGAINST]),
        n("{count} shows nothing", "{count} show nothing", count[Strength.NOTHING], count=count[Strength.NOTHING]),
        n("{count} is open", "{count} are open", count[Strength.OPEN], count=count[Strength.OPEN]),
    ]  # fmt: skip
    kept = [
        s
        for s, k in zip(said, (count[x] for x in (Strength.STANDS, Strength.ONE, Strength.AGAINST, Strength.NOTHING, Strength.OPEN)), strict=True)
        if k
    ]
    whole = t(
        "{panels}, {tests}, {claims}",
        panels=n("{count} panel", "{count} panels", panels, count=panels), tests=n("{count} test", "{count} tests", tests, count=tests),
        claims=n("{count} claim", "{count} claims", len(claims), count=len(claims)),
    )  # fmt: skip
    return f"{whole}: {listed(kept, 5)}." if kept else f"{whole}."


def behind(tests: Sequence[Behind]) -> str:
    """Tests behind a claim, with what each was called."""
    return " ".join(
        t(
            "{series}: {word}, {panels}.",
            series=b.series.name, word=str(b.word), panels=n("{count} panel", "{count} panels", len(b.panels), count=len(b.panels)),
        )
        for b in tests
    )  # fmt: skip


def beside(tests: Sequence[Behind]) -> str:
    """What moved along in the tests behind a claim."""
    found = [(b.series.name, b.moved) for b in tests if b.moved]
    return " ".join(t("In {series}, {what} moved along.", series=s, what=listed(list(moved))) for s, moved in found) or t(
        "Nothing that was measured moved along."
    )


def where(c: Claim, units: Units) -> str:
    """For what paint and way of pouring it was shown."""
    held = [b.series.constants for b in c.tests]
    if not held:
        return ""
    ways, mediums = sorted({str(h.technique) for h in held}), sorted({units.called(h.medium) for h in held})
    return t("Shown with {ways} and {mediums}.", ways=listed(ways), mediums=listed(mediums))


def against(c: Claim, units: Units) -> str:
    """Which tests point the other way, and by how much; empty where none does."""
    if c.pooled is None:
        return ""
    odd = [b for b in c.tests if b.word is not Word.TOO_FEW and (b.shown.difference > 0.0) != c.more]
    return " ".join(
        t(
            "{series}: {amount} {way}.",
            series=b.series.name, amount=amount(c, b.shown.difference, units), way=t("more") if b.shown.difference > 0 else t("less"),
        )
        for b in odd
    )  # fmt: skip


def settle(c: Claim, units: Units) -> str:
    """The test that would settle it."""
    first, second = (level_text(c.varied.factor, level, units) for level in (c.first, c.second))
    last = c.tests[-1].series.name if c.tests else ""
    like = t(", all else as in {series}", series=last) if last else ""
    return t("{first} against {second}, {repeats} panels each{like}.", first=first_up(first), second=second, repeats=REPEATS, like=like)
