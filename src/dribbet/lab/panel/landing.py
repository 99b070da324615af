"""Where each colour of a cup comes to lie on the panel, and what will sink: from the order of filling, the way to pour, and densities."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup import overturning
from dribbet.lab.paint import density
from dribbet.records import DribbetError, Technique

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from dribbet.records import Layer

AS_FILLED: Final = (Technique.OPEN_CUP, Technique.SWIPE, Technique.BLOOM)
"""Ways in which what went in first lies lowest: the cup has no floor, or there is none."""
SCORED_AFTER_S: Final = 120.0
GRID: Final = (32, 64)


@dataclass(frozen=True, slots=True, kw_only=True)
class Lying:
    """One colour on the panel, from below."""

    material: str
    share: float
    sinks: bool = False
    """Whether it is heavier than what lies below it, by more than two weighings part."""


def lying(layers: Sequence[Layer], technique: Technique, densities: Mapping[str, float]) -> tuple[Lying, ...]:
    """Colours on the panel from below.

    A flipped or poured cup is turned over on its way: the first colours in come to the top. An open cup, a swipe and a bloom stay as they were laid.
    Where a density is not known nothing is said of sinking.
    """
    up = list(layers) if technique in AS_FILLED else list(reversed(layers))
    known = [densities.get(layer.material, math.nan) for layer in up]  # with what is not known, nothing compares
    sinks = {i + 1 for i in density.overturning_joints(known)}
    return tuple(Lying(material=layer.material, share=layer.share, sinks=i in sinks) for i, layer in enumerate(up))


def stack(up: Sequence[Lying], film_m: float, densities: Mapping[str, float], viscosities: Mapping[str, float]) -> list[overturning.Wet]:
    """Wet layers of a film of this thickness, from below; neighbours of one colour are one layer."""
    merged: list[tuple[str, float]] = []
    for one in up:
        if merged and merged[-1][0] == one.material:
            merged[-1] = (one.material, merged[-1][1] + one.share)
        else:
            merged.append((one.material, one.share))
    lacking = [name for name, _ in merged if name not in densities]
    if lacking:
        raise DribbetError(f"How heavy is {lacking[0]}? Weigh a syringe of it on Shelf.")
    return [
        overturning.Wet(
            thick_m=max(film_m * share, 10 * overturning.LEAST_M), density_kg_m3=densities[name], viscosity_pa_s=viscosities.get(name, 1.0)
        )
        for name, share in merged
        if share > 0.0
    ]


def names(up: Sequence[Lying]) -> tuple[str, ...]:
    """Colour of each wet layer of `stack`, from below."""
    made: list[str] = []
    for one in up:
        if one.share > 0.0 and (not made or made[-1] != one.material):
            made.append(one.material)
    return tuple(made)


def seen_shares(up: Sequence[Lying], wet: Sequence[overturning.Wet], seconds: float = SCORED_AFTER_S, *, seed: int = 0) -> dict[str, float]:
    """Share of the view that each colour has after so long, by the physics of the stack alone; sums to one."""
    moved = overturning.Stack(wet, shape=GRID, width_m=0.04, seed=seed)
    moved.run(seconds)
    made: dict[str, float] = {}
    for name, share in zip(names(up), moved.shares(), strict=True):
        made[name] = made.get(name, 0.0) + float(share)
    total = sum(made.values()) or 1.0
    return {name: share / total for name, share in made.items()}


def scored(up: Sequence[Lying], wet: Sequence[overturning.Wet], measured: Mapping[str, float]) -> float:
    """Score of a panel's forecast against the shares that its photograph gave."""
    return score(seen_shares(up, wet), measured)


def score(forecast: Mapping[str, float], measured: Mapping[str, float]) -> float:
    """How near a forecast of colour shares came: one minus half the summed differences; 1 is exact, 0 shares nothing."""
    colours = set(forecast) | set(measured)
    return 1.0 - 0.5 * sum(abs(forecast.get(c, 0.0) - measured.get(c, 0.0)) for c in colours)
