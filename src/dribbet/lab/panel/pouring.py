"""Steps of one pour: those of its way to pour that what is held of its recipe asks for, with their planned times."""

from __future__ import annotations

from typing import TYPE_CHECKING

from dribbet.records.ways import NONE, WAYS

if TYPE_CHECKING:
    from dribbet.records import Constants, Step
    from dribbet.records.ways import WayStep


def steps(held: Constants, *, alcohol_share: float = 0.0) -> list[tuple[Step, float]]:
    """Steps in their order, each with its planned seconds.

    A step whose constant is nought or none is left out: no base, no activator, no flame. With alcohol in the mix nothing is heated.

    >>> from dribbet.records import Constants, Technique
    >>> [(str(s), t) for s, t in steps(Constants(technique=Technique.STRAIGHT_POUR, torch_passes=0))]
    [('fill', 40.0), ('pour', 20.0), ('tilt', 90.0), ('weigh', 20.0)]
    """
    return [(one.step, _seconds(one, held)) for one in WAYS[held.technique] if _wanted(one, held) and not (one.heat and alcohol_share)]


def _wanted(one: WayStep, held: Constants) -> bool:
    if not one.needs:
        return True
    value = getattr(held, one.needs)
    return value not in NONE if isinstance(value, str) else bool(value)


def _seconds(one: WayStep, held: Constants) -> float:
    return float(getattr(held, one.held)) * one.each_s if one.held else one.seconds
