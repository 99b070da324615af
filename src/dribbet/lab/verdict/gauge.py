"""What photographing alone changes: the same panel taken up, laid down anew and photographed again (a gauge study; science, 8)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from dribbet.lab.plan.power import Model
from dribbet.lab.plan.responses import SCALES
from dribbet.records import Response

if TYPE_CHECKING:
    from collections.abc import Iterable

MEASURED_DM2: Final = 1.65
"""Face of the panels on which the figures of `SCALES` were measured (benchmarks/repeats.py)."""
PRIOR_DF: Final = 4.0
"""Degrees of freedom that those figures count for: as much as one panel photographed five times."""
GROW: Final = (Model.COUNT, Model.LENGTH)
"""What errs on each piece of the face by itself: its variance grows with the face (cells on three times the face: 2.1 times the scatter)."""
SHRINK: Final = (Response.CELL_WIDTH,)
"""A middle over the cells of the face: its variance falls as they become more (on three times the face 0.67 of the scatter). Shares and colours
err with the light and the card, whatever the face."""


@dataclass(frozen=True, slots=True)
class Repeated:
    """One panel's figures, one of each photograph of it, in the response's unit, and its face in dm2."""

    values: tuple[float, ...]
    area_dm2: float


@dataclass(frozen=True, slots=True)
class Noise:
    """Scatter of one photograph of a panel in the response's unit, and how much of a person's own it rests on."""

    sd: float
    photographs: int = 0
    panels: int = 0

    @property
    def own(self) -> bool:
        """Whether any panel was photographed again; else it is the reader's figure from docs/measuring.md."""
        return self.panels > 0


def share_of_face(response: Response, area_dm2: float) -> float:
    """By what the variance of a figure is greater on a face of this size than on one of `MEASURED_DM2` (benchmarks/repeats.py --times 1.7)."""
    times = area_dm2 / MEASURED_DM2
    if times <= 0.0:
        return 1.0
    return times if SCALES[response].model in GROW else 1.0 / times if response in SHRINK else 1.0


def noise_of(response: Response, panels: Iterable[Repeated], area_dm2: float) -> Noise:
    """Scatter between photographs of a panel with a face of `area_dm2`: a person's own, steadied by the reader's figure.

    The variance is the mean of the reader's own, counted `PRIOR_DF` times, and of what each panel scattered by, its degrees of freedom counted
    (Gelman et al., Bayesian Data Analysis, 3rd ed., 2.6: scaled inverse chi-squared prior); each is first brought to the same face.
    """
    squares, df, photographs, seen = PRIOR_DF * SCALES[response].measuring_sd ** 2, PRIOR_DF, 0, 0
    for panel in panels:
        n = len(panel.values)
        if n < 2:
            continue
        mean = sum(panel.values) / n
        squares += sum((v - mean) ** 2 for v in panel.values) / share_of_face(response, panel.area_dm2)
        df += n - 1
        photographs += n
        seen += 1
    return Noise((squares / df * share_of_face(response, area_dm2)) ** 0.5, photographs, seen)
