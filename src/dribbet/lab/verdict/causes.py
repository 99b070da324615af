"""What went wrong with one panel: causes that a symptom may have, ranked by how far this panel lies from the good ones.

Directions are those of the craft (domain: signs and their causes): they say which way a figure must lie to explain the symptom. A
figure that lies the other way explains nothing. How far it lies is told against the scatter of the good panels.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from statistics import fmean
from typing import TYPE_CHECKING, Final

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence


class Symptom(StrEnum):
    """What is wrong with a panel."""

    CRACKS = "it cracked"
    FEW_CELLS = "few cells"
    SMALL_CELLS = "small cells"
    BARE = "bare spots"
    DULL = "dull colours"
    LACING = "lacing"


class Trait(StrEnum):
    """What is known of how a panel was made."""

    FILM = "wet film"
    WATER = "share of water"
    PAINT = "share of paint"
    SILICONE = "silicone"
    ALCOHOL = "alcohol"
    ANTI_CRAZE = "anti-craze additive"
    FLOW = "run of its drips"
    DRYING = "drying air"
    HEAT_PASSES = "passes of heat"
    HEAT_AFTER = "time to the first heat"
    DWELL = "rest under the cup"
    MIX_REST = "rest of the mix"
    ORDER = "place in the pouring order"
    POURED = "paint poured"


EXPLAINS: Final = {
    Symptom.CRACKS: {
        Trait.FILM: 1, Trait.WATER: 1, Trait.DRYING: 1, Trait.SILICONE: 1, Trait.ANTI_CRAZE: -1, Trait.PAINT: -1, Trait.HEAT_PASSES: 1,
    },
    Symptom.FEW_CELLS: {
        Trait.SILICONE: -1, Trait.FLOW: 0, Trait.HEAT_PASSES: -1, Trait.HEAT_AFTER: 0, Trait.DWELL: 0, Trait.ALCOHOL: -1, Trait.FILM: -1,
    },
    Symptom.SMALL_CELLS: {Trait.SILICONE: 1, Trait.HEAT_AFTER: -1, Trait.FLOW: -1, Trait.FILM: -1, Trait.MIX_REST: 0},
    Symptom.BARE: {Trait.FILM: -1, Trait.FLOW: -1, Trait.POURED: -1, Trait.WATER: -1, Trait.ORDER: 1},
    Symptom.DULL: {Trait.PAINT: -1, Trait.WATER: 1, Trait.ALCOHOL: 1, Trait.DWELL: 1, Trait.FLOW: 1},
    Symptom.LACING: {Trait.SILICONE: 1, Trait.FLOW: 1, Trait.FILM: -1, Trait.HEAT_AFTER: 0},
}  # fmt: skip
"""Which figures explain a symptom: 1 where more of it does, -1 where less, 0 where either may."""
LEAST_GOOD: Final = 3
"""Good panels below which their scatter is not trusted by itself."""
LEAST_SHARE: Final = 0.15  # of a figure's mean: good panels are taken to differ by this at least
FAR: Final = 1.0  # standard deviations from which a figure is named as a cause


@dataclass(frozen=True, slots=True, kw_only=True)
class Cause:
    """One figure that may explain a symptom."""

    figure: Trait
    value: float
    good: float
    """Mean of the good panels."""
    sd: float
    """How much good panels differ."""
    panels: int
    """So many good panels tell it."""
    far: float
    """Standard deviations from the good ones, counted in the way that explains the symptom; below nought it explains nothing."""

    @property
    def named(self) -> bool:
        """Whether it lies far enough to be named."""
        return self.far >= FAR


def ranked(symptom: Symptom, panel: Mapping[Trait, float], good: Sequence[Mapping[Trait, float]]) -> tuple[Cause, ...]:
    """Figures that may explain a symptom, the farthest from the good panels first; those that are not known of it are left out.

    Parameters
    ----------
    panel : mapping of Trait to float
        What is known of the panel, in SI.
    good : sequence of such mappings
        The same of panels without the symptom.

    Examples
    --------
    >>> good = [{Trait.FILM: v} for v in (1.2e-3, 1.3e-3, 1.4e-3, 1.3e-3)]
    >>> (cause,) = ranked(Symptom.CRACKS, {Trait.FILM: 2.3e-3}, good)
    >>> cause.named, round(cause.good * 1e3, 2), cause.panels
    (True, 1.3, 4)
    """
    made = []
    for figure, way in EXPLAINS[symptom].items():
        told = [g[figure] for g in good if figure in g and math.isfinite(g[figure])]
        value = panel.get(figure)
        if value is None or not math.isfinite(value) or not told:
            continue
        mean = fmean(told)
        sd = _scatter(told, mean, value)
        away = (value - mean) / sd if sd > 0.0 else 0.0
        made.append(Cause(figure=figure, value=value, good=mean, sd=sd, panels=len(told), far=abs(away) if way == 0 else way * away))
    return tuple(sorted(made, key=lambda c: -c.far))


def _scatter(told: Sequence[float], mean: float, value: float) -> float:
    """Scatter of the good panels, never less than a share of the figure's size: what hands do alike to a hair is no cause by a hair."""
    least = LEAST_SHARE * max(abs(mean), abs(value) / 2.0)
    own = math.sqrt(sum((v - mean) ** 2 for v in told) / (len(told) - 1)) if len(told) > 1 else 0.0
    return max(own, least)
