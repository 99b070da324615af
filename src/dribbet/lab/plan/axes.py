"""On which axis a factor acts evenly, and which of its levels a hand can weigh, drop or time.

Paint and medium act by their share, water by its share (the logarithm of flow is straight in it), times and drops by their ratios.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from dribbet.lab.plan.factors import NATURES, Measure
from dribbet.records import Factor

if TYPE_CHECKING:
    from collections.abc import Callable

TIME_S: Final = 10.0  # times act by their ratio from here on; below, by their difference
FEW_DROPS: Final = 1.0  # drops likewise


@dataclass(frozen=True, slots=True)
class Axis:
    """From a level to its place on the axis on which it acts evenly, and back."""

    to: Callable[[float], float]
    back: Callable[[float], float]


def _log_from(unit: float) -> Axis:
    return Axis(lambda v: math.log1p(max(v, 0.0) / unit), lambda x: unit * math.expm1(max(x, 0.0)))


PLAIN: Final = Axis(lambda v: v, lambda x: x)
PAINT_SHARE: Final = Axis(lambda v: -1.0 / (1.0 + v), lambda x: -1.0 / min(x, -1e-6) - 1.0)
"""Of parts of medium to one of paint; turned round, so that more parts lie further right."""


def axis_of(factor: Factor) -> Axis:
    """The axis on which a factor acts evenly.

    >>> axis = axis_of(Factor.RATIO)
    >>> round(axis.back((axis.to(1.0) + axis.to(3.0)) / 2.0), 2)  # between one half and one quarter of paint
    1.67
    """
    if factor is Factor.RATIO:
        return PAINT_SHARE
    measure = NATURES[factor].measure
    if measure in (Measure.SECONDS, Measure.HOURS):
        return _log_from(TIME_S)
    if measure is Measure.DROPS:
        return _log_from(FEW_DROPS)
    return PLAIN


def handy(factor: Factor, level: float) -> float:
    """A level as it can be weighed, dropped or counted: whole drops, passes and turns, shares to a hundredth, all else to two figures.

    >>> handy(Factor.SILICONE, 3.4384), handy(Factor.WATER_SHARE, 0.1837), handy(Factor.FILM_LEFT, 0.001533)
    (3.0, 0.18, 0.0015)
    """
    measure = NATURES[factor].measure
    if measure in (Measure.DROPS, Measure.COUNT, Measure.ROUNDS, Measure.TURNS):
        return float(round(level))
    if 0.02 < abs(level) < 1.0 or measure is Measure.SHARE:
        return round(level, 2)
    return float(f"{level:.2g}")
