"""A panel's reading turned into the responses that tests are judged by."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Final

from dribbet.lab.plan.power import Model
from dribbet.records import Response

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence


@dataclass(frozen=True, slots=True, kw_only=True)
class ResponseScale:
    """How a response is written: its unit, its digits, and the figure's place in a reading."""

    unit: str
    digits: int
    group: str
    key: str
    factor: float = 1.0
    measuring_sd: float = 0.0
    """Scatter between photographs of the same panel, in the unit: not below what was measured (docs/measuring.md)."""
    model: Model = Model.MEAN
    per_area: bool = False
    """Whether it grows with the face that it is counted on."""

    @property
    def count(self) -> bool:
        """Whether it is a number of things."""
        return self.model is Model.COUNT


SET_UP_SHARE: Final = 0.03
"""Of a panel's shine, what setting board and phone up anew changes (standard deviation; docs/measuring.md)."""
EVEN: Final = 0.5  # of the photographs say yes
STANDS_OUT: Final = 2.0  # standard deviations of the power
HIDDEN_WITHIN: Final = 3.0
SMOOTH: Final = 0.001
"""Of a slope that is told to a tenth of a per cent: nobody asks what may hide below."""
SCALES: Final = {
    Response.CRACK_LENGTH: ResponseScale(unit="mm", digits=0, group="cracks", key="length_mm", measuring_sd=8.0, model=Model.LENGTH, per_area=True),
    Response.CRACKED: ResponseScale(unit="", digits=0, group="cracks", key="count", model=Model.YES_NO),
    Response.FIRST_CRACK: ResponseScale(unit="h", digits=0, group="", key=""),  # from the looks while it dries, never from a photograph
    Response.CELL_COUNT: ResponseScale(unit="cells", digits=0, group="cells", key="count", measuring_sd=2.5, model=Model.COUNT, per_area=True),
    Response.CELL_WIDTH: ResponseScale(unit="mm", digits=1, group="cells", key="median_diameter_mm", measuring_sd=0.22),
    Response.SPREAD: ResponseScale(unit="%", digits=0, group="spread", key="fraction", factor=100.0, measuring_sd=0.5, model=Model.SHARE),
    Response.LACING: ResponseScale(unit="%", digits=1, group="lacing", key="area_fraction", factor=100.0, measuring_sd=0.4, model=Model.SHARE),
    Response.SHIMMER: ResponseScale(unit="", digits=2, group="shimmer", key="index", measuring_sd=0.02),
    Response.VIVIDNESS: ResponseScale(unit="C*", digits=0, group="colour", key="mean_chroma", measuring_sd=1.0),
    Response.UNEVENNESS: ResponseScale(unit="%", digits=1, group="surface", key="slope", factor=100.0, measuring_sd=0.1),
    Response.FAULTS: ResponseScale(unit="faults", digits=0, group="surface", key="count", measuring_sd=0.6, model=Model.COUNT, per_area=True),
    Response.SHINE: ResponseScale(unit="%", digits=1, group="shine", key="step", factor=100.0, measuring_sd=0.05),
}


def doubt_of(result: Mapping[str, Any], response: Response) -> float:
    """How far the reader itself says that a figure may be off (standard deviation, in the response's unit); nought where it says nothing."""
    if response is Response.CELL_COUNT:
        return float(result.get("cells", {}).get("count_sd", 0.0))
    if response is Response.CRACK_LENGTH:
        cracks = result.get("cracks", {})
        open_mm = float(cracks.get("doubtful_mm", 0.0)) if cracks.get("doubtful") else 0.0  # lines that nobody has told yet: all of them, or none
        return math.hypot(float(cracks.get("length_sd", 0.0)), open_mm)
    if response is Response.UNEVENNESS:
        return SCALES[response].factor * float((result.get("surface") or {}).get("slope_sd", 0.0))
    if response is Response.SHINE:
        shine = result.get("shine") or {}
        return SCALES[response].factor * math.hypot(shine.get("step_sd", 0.0), SET_UP_SHARE * shine.get("step", 0.0))
    return 0.0


def hidden_slope(surface: Mapping[str, Any]) -> float | None:
    """The steepest slope that may hide among flakes, of the `surface` of a reading; None where what was read stands out from them.

    Power adds up, slopes do not: in squares, what was read must be two standard deviations above nought, and no more than three above it may be
    there. On 384 drawn films with flakes, waves and both, the true slope was above that once in a hundred (docs/measuring.md).
    """
    read = surface["slope"] ** 2
    off = (surface["slope"] + surface.get("slope_sd", 0.0)) ** 2 - read
    most = math.sqrt(read + HIDDEN_WITHIN * off)
    return most if read < STANDS_OUT * off and most > SMOOTH else None


def mean_of(results: Sequence[Mapping[str, Any]], response: Response) -> float | None:
    """A response over several photographs of one panel: their mean; of yes or no what most say, the first where they are even.

    None where none of them gives it.
    """
    known = [v for v in (value_of(r, response) for r in results) if v is not None]
    if not known:
        return None
    if SCALES[response].model is Model.YES_NO:
        yes = sum(known) / len(known)
        return known[0] if yes == EVEN else float(yes > EVEN)
    return sum(known) / len(known)


def value_of(result: Mapping[str, Any], response: Response) -> float | None:
    """One response from a reading, in the unit of `SCALES`; None where the photograph could not give it."""
    scale = SCALES[response]
    group = result.get(scale.group)
    if not isinstance(group, dict):
        return None
    value = group.get(scale.key)
    if value is None or (response is Response.SPREAD and group.get("doubtful")):  # nobody has said yet what is base
        return None
    if scale.model is Model.YES_NO:
        return 1.0 if float(value) > 0.0 else 0.0
    left = 1.0 - float(result.get("panel", {}).get("left_out", 0.0))
    if scale.per_area and 0.0 < left < 1.0:  # counted on a smaller face: said for the whole, so that panels can be compared
        return float(round(value / left)) if scale.count else float(value) / left
    return float(value) * scale.factor
