"""Decide, as one says it: what is compared, by how much, how it was judged, what became of the prediction."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.plan.responses import SCALES
from dribbet.records import Word
from dribbet.records.wording import first_up
from dribbet.studio.standing.verdict import NoiseFrom
from dribbet.words.differs import day
from dribbet.words.tongue import Sentence, n, name, t
from dribbet.words.units import MINUS, in_words
from dribbet.words.verdict import METHOD

if TYPE_CHECKING:
    from datetime import datetime

    from dribbet.lab.verdict.gauge import Noise
    from dribbet.lab.verdict.laws import Method
    from dribbet.records import Prediction, Response
    from dribbet.words.units import Units

NO_QUESTION: Final = t("Nothing to decide yet. Ask a question first.")
NOT_READ: Final = t("Nothing to decide yet. Dry panels must be read first.")
GO_TO_ASK: Final = t("Go to Ask")
GO_TO_READ: Final = t("Go to Read")
NEXT_QUESTION: Final = t("Next question")
CLOSE: Final = t("Close it")
ALL_OF_IT: Final = t("all")
UNREAD: Final = t("not read yet")
WITHIN_NOISE: Final = t("within the noise")
HARDLY: Final = t("hardly moves")
SHORT_S: Final = 600.0  # below this, minutes are told to a tenth
FEW_PER_DM2: Final = 10.0  # below this, per dm2 is told to a tenth
ALL_ALIKE: Final = t("all alike")


def squaring(code: str) -> str:
    """What is waited for."""
    return t("Squaring up {code}", code=code)


def instead(first: str, second: str) -> str:
    """What is compared."""
    return t("{first} instead of {second}", first=first, second=second)


def recipe(letter: str) -> str:
    """A recipe by its letter."""
    return t("recipe {letter}", letter=letter)


def recipe_with(letter: str, factor: str, level: str) -> str:
    """An added recipe by what it exchanges."""
    return t("recipe {letter}, with {factor} {level}", letter=letter, factor=factor, level=level)


def really(share: str, planned: str) -> str:
    """A level as it was weighed in, where another was planned."""
    return t("{share} (planned {planned})", share=share, planned=planned)


def amount(response: Response, value: float, units: Units) -> str:
    """A figure of a response."""
    scale = SCALES[response]
    if scale.unit == "mm":
        return units.length_text(value, scale.digits)
    return f"{MINUS if value < 0 else ''}{abs(value):.{scale.digits}f} {scale.unit}".strip()


def per_face(response: Response, value: float, units: Units) -> str:
    """A difference as it is judged: counts and lengths per dm2."""
    scale = SCALES[response]
    if not scale.per_area:
        return amount(response, value, units)
    return f"{MINUS if value < 0 else ''}{abs(value):.{1 if abs(value) < FEW_PER_DM2 else 0}f} {scale.unit}/dm²"


def difference(response: Response, value: float, units: Units) -> str:
    """A difference as it stands beside its strip."""
    scale = SCALES[response]
    if not round(abs(value), scale.digits + scale.per_area):
        return HARDLY
    said = per_face(response, abs(value), units)
    return t("{amount} more", amount=said) if value > 0.0 else t("{amount} less", amount=said)


def plotted(response: Response) -> str:
    """A response with its unit, as it is plotted."""
    scale = SCALES[response]
    unit = f"{scale.unit}/dm²" if scale.per_area else scale.unit
    return f"{first_up(name(response))}{f', {unit}' if unit else ''}"


def minutes(seconds: float) -> str:
    """Time at the bench."""
    return t("{minutes:.0f} min", minutes=seconds / 60.0) if seconds >= SHORT_S else t("{minutes:.1f} min", minutes=seconds / 60.0)


def said(word: Word, *, within: bool) -> str:
    """The word beside a strip; a difference no larger than the noise is said to be within it."""
    if word is Word.TOO_FEW:
        return t("too few panels")
    return WITHIN_NOISE if within and word is Word.CHANCE else str(word)


def noise(what: str, rests: NoiseFrom, known: Noise) -> str:
    """What the noise of a response rests on."""
    if rests is NoiseFrom.DOUBT:
        return t("Noise of {what}: the reader's doubt of these panels.", what=what)
    if rests is NoiseFrom.OWN:
        of = n("{count} panel", "{count} panels", known.panels, count=in_words(known.panels))
        return t("Noise of {what}: your own {count} photographs of {panels}.", what=what, count=in_words(known.photographs), panels=of)
    return t("Noise of {what}: the reader's usual; R on Shoot measures yours.", what=what)


def foot(first: int, second: int, way: Method | None, asked: int) -> str:
    """How many panels were compared, and how; `way` is None where no interval can be given."""
    told = t("{first} against {second} panels", first=first, second=second)
    if way is None:
        return f"{told}."
    together = n("; {asked} questions taken together", "; {asked} questions taken together", asked, asked=asked) if asked > 1 else ""
    return t("{told}: {how}{together}.", told=told, how=METHOD[way], together=together)


def expected(p: Prediction, at: str, became: str, locked: datetime | None, units: Units) -> str:
    """What was expected, and what became of it."""
    size = t(" by {amount}", amount=amount(p.response, p.size, units)) if p.size else ""
    when = t(", locked {day}", day=day(locked)) if locked is not None else ""
    return t(
        "Expected: {way} {response}{size} at {level}{when}. {became}.",
        way=name(p.more_or_less), response=name(p.response), size=size, level=at, when=when, became=first_up(became),
    )  # fmt: skip


DROPS_IN_100_G: Final = Sentence("{silicone_drops_per_100g:g} drops in 100 g")
HELD_IN_SHORT: Final = Sentence("{mass} a panel, {size_text} {support}, {technique}, room {temperature} and {percent} damp.")
INSTEAD_OF: Final = Sentence("{first_words} instead of {second_words}")
INTERVAL_BY: Final = Sentence("{level:.3g} % interval {low} to {high}, by {method}")
INTERVAL_OF_PANELS: Final = Sentence("{interval}; {n_first} against {n_second} panels")
MADE_ON: Final = Sentence("Made by Dribbet on {day:%-d %B %Y}. Figures in millimetres of the squared-up panel.")
NO_DRY_PANEL: Final = t("No dry panel of this recipe is read yet.")
NO_PREDICTION_WAS_MADE: Final = t("No prediction was made.")
QUESTION_IN_FULL: Final = Sentence(
    "Does {asked} change {responses}? {panels}, {repeats} of each recipe, poured in an order drawn by lot (seed {seed})."
)
REPORT_IS_IN: Final = Sentence("The report is in {name}.")
WAIT_WRITING_THE_REPORT: Final = t("Wait: writing the report")
NO_INTERVAL: Final = t("no interval can be given")
WHAT_THEY_DO_TOGETHER: Final = t("what they do together")
