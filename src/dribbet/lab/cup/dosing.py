"""Drops for a cup: how many carry a planned dose, what they really come to, and how large a cup has to be for a whole one.

A dose is planned for 100 g of the colour that carries it. Drops are whole, so a small cup gets more or less than was asked: that
is computed here and said before lots are drawn, never rounded away (domain: units, drops; small cups).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

from dribbet.records import DropsBy

PER_100G: Final = 10.0  # hundred-gram portions in a kilogram
DILUTION: Final = 10.0  # drops of a prediluted additive that hold what one plain drop holds
OFF_LITTLE: Final = 0.05
"""Share of the dose from which it is said that whole drops come to something else."""
OFF_FAR: Final = 0.25
"""Share of the dose from which levels of a ladder run into each other: nothing is poured of that."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Dosing:
    """Whole drops for one cup."""

    asked: float
    """Drops in 100 g."""
    cup_kg: float
    """Mass of the cup that they go into, grown where that was wanted."""
    drops: int
    drop_share: float
    """Share of each drop that is the additive."""

    @property
    def got(self) -> float:
        """Drops in 100 g that the whole drops come to."""
        return self.drops * self.drop_share / (self.cup_kg * PER_100G)

    @property
    def off(self) -> float:
        """How far that is from what was asked, as a share of it."""
        return (self.got - self.asked) / self.asked


def dosing(asked: float, cup_kg: float, by: DropsBy) -> Dosing:
    """Drops for a cup.

    Parameters
    ----------
    asked : float
        Drops in 100 g of the colour, above zero.
    cup_kg : float
        Mass of the cup as it is planned without growing.

    Examples
    --------
    >>> dosing(2.0, 0.030, DropsBy.NEAREST).drops  # 0.6 of a drop
    1
    >>> round(dosing(2.0, 0.030, DropsBy.NEAREST).off, 3)
    0.667
    >>> dosing(2.0, 0.030, DropsBy.GROWN).cup_kg
    0.05
    >>> dosing(2.0, 0.030, DropsBy.DILUTED).drops
    6
    """
    wanted = asked * cup_kg * PER_100G
    if by is DropsBy.GROWN:
        drops = max(1, math.ceil(wanted - 1e-9))
        return Dosing(asked=asked, cup_kg=drops / (asked * PER_100G), drops=drops, drop_share=1.0)
    if by is DropsBy.DILUTED:
        return Dosing(asked=asked, cup_kg=cup_kg, drops=round(wanted * DILUTION), drop_share=1.0 / DILUTION)
    return Dosing(asked=asked, cup_kg=cup_kg, drops=round(wanted), drop_share=1.0)


def mg_per_100g(drops_per_100g: float, drop_kg: float) -> float:
    """Dose in milligrams for each 100 g, by what one drop weighs.

    Examples
    --------
    >>> round(mg_per_100g(2.0, 2.9e-5), 6)
    58.0
    """
    return drops_per_100g * drop_kg * 1e6
