"""What changed on a panel between two of its photographs, in words."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.words.tongue import n, t
from dribbet.words.units import in_words, percent

if TYPE_CHECKING:
    from dribbet.studio.standing.since import SinceShown
    from dribbet.words.units import Units

MINUS: Final = "\u2212"
LIGHTER: Final = 1.5  # L* more, from which on it is seen
CRACK_MM: Final = 5.0


def key(told: SinceShown) -> str:
    """The key that turns to it."""
    return t("Since {stage}", stage=str(told.stage))


def head(told: SinceShown) -> str:
    """What is held against what."""
    quarters = {1: t("a quarter turn"), 2: t("a half turn"), 3: t("three quarter turns")}.get(told.change.turned)
    said = t("Change since the {stage} photo.", stage=str(told.stage))
    return said + (" " + t("The panel lay turned by {turn}.", turn=quarters) if quarters and told.change.over_each_other else "")


def cells(told: SinceShown) -> tuple[str, str, str]:
    """Figure, unit and sentence of the cells."""
    c = told.change
    if not c.over_each_other:
        return str(told.cells), t("cells before"), t("Too few of them are found again to say which is which.")
    assert c.growth is not None
    step = c.growth - 1.0
    if not c.growth_sure:
        grew = t("They are as large as before, as far as photos tell.")
    elif step > 0.0:
        grew = t("Half of them grew by more than {share} in area.", share=percent(step))
    else:
        grew = t("Half of them shrank by more than {share} in area.", share=percent(-step))
    gone = n("{count} is gone,", "{count} are gone,", max(len(c.gone), 1), count=_many(len(c.gone)).capitalize())
    new = n("{count} is new.", "{count} are new.", max(len(c.new), 1), count=_many(len(c.new)))
    return str(len(c.pairs)), t("of {count} cells still there", count=told.cells), f"{grew} {gone} {new}"


def _many(count: int) -> str:
    return in_words(count) if count else t("none")


def crack(told: SinceShown, units: Units) -> tuple[str, str, str]:
    """Figure, unit and sentence of the cracks."""
    more = told.change.crack_mm
    figure, _, unit = units.length_text(abs(more)).partition("\u202f")
    new = len(told.change.new_cracks)
    where = n("{count} crack lies where none was.", "{count} cracks lie where none was.", new, count=in_words(new).capitalize()) if new else ""
    if abs(more) < CRACK_MM:
        return "0", t("{unit} more of crack", unit=unit), where or t("As far as photos tell.")
    return signed(more, figure), t("{unit} of crack", unit=unit), where


def vivid(told: SinceShown) -> tuple[str, str, str]:
    """Figure, unit and sentence of the colours."""
    c = told.change
    light = t("Lighter by {step:.0f} L*.", step=c.lightness) if c.lightness >= LIGHTER else ""
    dark = t("Darker by {step:.0f} L*.", step=-c.lightness) if c.lightness <= -LIGHTER else ""
    return signed(c.chroma, f"{abs(c.chroma):.0f}"), t("C* vivid"), light or dark or t("As light as before.")


def signed(value: float, figure: str) -> str:
    """A figure with its sign; none where nothing is left of it."""
    if not any(digit in figure for digit in "123456789"):
        return figure
    return ("+" if value > 0.0 else MINUS) + figure
