"""What became of each colour, in words."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.records.wording import first_up
from dribbet.words.tongue import t
from dribbet.words.units import listed, percent

if TYPE_CHECKING:
    from dribbet.studio.standing.fate import Fate, Fates
    from dribbet.words.units import Units

LOST: Final = 0.6  # of what was poured shows, below which a colour is said to have gone under
RISEN: Final = 1.5  # and above which it is said to have come up
TELLING: Final = 0.03  # of the pour or of the view: less is a stain
BLENDED: Final = 0.15  # of the view is none of the paints, from which on it is said
POURED = t("poured")
SHOWS = t("shows")


def sentence(told: Fates, units: Units) -> str:
    """The colour that lost most and the one that gained most, where they did, and blends."""
    known = [f for f in told.of if max(f.poured, f.shows) >= TELLING]
    lost = min(known, key=lambda f: f.survival, default=None)
    risen = max(known, key=lambda f: f.survival, default=None)
    said = []
    if lost is not None and lost.survival < LOST:
        said.append(_of(lost, units))
    if risen is not None and risen.survival > RISEN:
        said.append(_of(risen, units))
    if told.blended >= BLENDED:
        said.append(t("{share} is blends of them.", share=percent(told.blended)))
    return " ".join(said) if said else t("Each shows about as much as was poured.")


def _of(fate: Fate, units: Units) -> str:
    names = first_up(listed([units.called(p) for p in fate.paints]))
    return t("{paint}: {poured} poured, {shows} shows.", paint=names, poured=percent(fate.poured), shows=percent(fate.shows))
