"""Why a panel went wrong, as one says it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.verdict.causes import FAR, LEAST_GOOD, Figure, Symptom
from dribbet.words.tongue import n, t
from dribbet.words.units import NARROW, percent

if TYPE_CHECKING:
    from dribbet.lab.verdict.causes import Cause
    from dribbet.studio.standing.causes import Diagnosis
    from dribbet.words.units import Units

VERY_FAR: Final = 2.0  # standard deviations
WHY: Final = t("Why")
BACK: Final = t("Back")
NEXT_PANEL: Final = t("Next panel")
NEXT_SYMPTOM: Final = t("Something else")
NOTHING: Final = t("No panel of this series was read yet.")
GOOD: Final = t("good panels")
SYMPTOM: Final = {
    Symptom.CRACKS: t("cracked"), Symptom.FEW_CELLS: t("has few cells"), Symptom.SMALL_CELLS: t("has small cells"), Symptom.BARE: t("has bare spots"),
    Symptom.DULL: t("is dull"), Symptom.LACING: t("is laced"),
}  # fmt: skip
NAMES: Final = {
    Figure.FILM: t("Wet film"), Figure.WATER: t("Water in the mix"), Figure.PAINT: t("Paint in the mix"), Figure.SILICONE: t("Silicone"),
    Figure.ALCOHOL: t("Alcohol"), Figure.ANTI_CRAZE: t("Anti-craze additive"), Figure.FLOW: t("Run of its drips"), Figure.DRYING: t("Drying air"),
    Figure.HEAT_PASSES: t("Passes of heat"), Figure.HEAT_AFTER: t("Time to the first heat"), Figure.DWELL: t("Rest under the cup"),
    Figure.MIX_REST: t("Rest of the mix"), Figure.ORDER: t("Place in the order"), Figure.POURED: t("Paint poured"),
}  # fmt: skip


def sentence(d: Diagnosis) -> str:
    """Why: the first cause that lies far from the good panels, or that none does."""
    code = d.panel.code
    if not d.present:
        return t("{code}: would it be one that {symptom}?", code=code, symptom=SYMPTOM[d.symptom])
    first = next((c for c in d.causes if c.named), None)
    if first is None:
        return t("{code} {symptom}. Nothing that is known of it explains that.", code=code, symptom=SYMPTOM[d.symptom])
    return t("{code} {symptom}. Look at this first: {cause}.", code=code, symptom=SYMPTOM[d.symptom], cause=NAMES[first.figure].lower())


def note(d: Diagnosis) -> str:
    """What it is held against."""
    said = n("Held against {count} panel of yours without it.", "Held against {count} panels of yours without it.", d.good, count=d.good)
    return said if d.good >= LEAST_GOOD else t("{said} So few say little.", said=said)


def amount(figure: Figure, value: float, units: Units) -> str:
    """A figure of how a panel was made."""
    if figure in (Figure.FILM, Figure.FLOW):
        return units.length_text(value * 1e3, 1)
    if figure in (Figure.WATER, Figure.PAINT, Figure.ALCOHOL, Figure.ANTI_CRAZE):
        return percent(value)
    if figure is Figure.SILICONE:
        return t("{drops:.1f} drops in 100 g", drops=value) if value else t("none")
    if figure is Figure.DRYING:
        return t("{grams:.0f} g/(m² h)", grams=value * 3.6e6)
    if figure is Figure.POURED:
        return units.mass_text(value)
    if figure in (Figure.HEAT_AFTER, Figure.DWELL):
        return f"{value:.0f}{NARROW}s"
    if figure is Figure.MIX_REST:
        return f"{value / 3600.0:.1f}{NARROW}h"
    return f"{value:.0f}"


def against(c: Cause, units: Units) -> str:
    """A panel's figure against the good ones."""
    return t(
        "{mine}; good ones {good} ({panels})",
        mine=amount(c.figure, c.value, units), good=amount(c.figure, c.good, units),
        panels=n("{count} panel", "{count} panels", c.panels, count=c.panels),
    )  # fmt: skip


def far(c: Cause) -> str:
    """How far it lies."""
    if c.far <= -FAR:
        return t("lies the other way")
    return t("far off") if c.far >= VERY_FAR else t("off") if c.named else t("as with good ones")
