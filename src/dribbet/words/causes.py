"""Why a panel went wrong, as one says it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.verdict.causes import FAR, LEAST_GOOD, Symptom, Trait
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
    Trait.FILM: t("Wet film"), Trait.WATER: t("Water in the mix"), Trait.PAINT: t("Paint in the mix"), Trait.SILICONE: t("Silicone"),
    Trait.ALCOHOL: t("Alcohol"), Trait.ANTI_CRAZE: t("Anti-craze additive"), Trait.FLOW: t("Run of its drips"), Trait.DRYING: t("Drying air"),
    Trait.HEAT_PASSES: t("Passes of heat"), Trait.HEAT_AFTER: t("Time to the first heat"), Trait.DWELL: t("Rest under the cup"),
    Trait.MIX_REST: t("Rest of the mix"), Trait.ORDER: t("Place in the order"), Trait.POURED: t("Paint poured"),
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


def amount(figure: Trait, value: float, units: Units) -> str:
    """A figure of how a panel was made."""
    if figure in (Trait.FILM, Trait.FLOW):
        return units.length_text(value * 1e3, 1)
    if figure in (Trait.WATER, Trait.PAINT, Trait.ALCOHOL, Trait.ANTI_CRAZE):
        return percent(value)
    if figure is Trait.SILICONE:
        return t("{drops:.1f} drops in 100 g", drops=value) if value else t("none")
    if figure is Trait.DRYING:
        return t("{grams:.0f} g/(m² h)", grams=value * 3.6e6)
    if figure is Trait.POURED:
        return units.mass_text(value)
    if figure in (Trait.HEAT_AFTER, Trait.DWELL):
        return f"{value:.0f}{NARROW}s"
    if figure is Trait.MIX_REST:
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
