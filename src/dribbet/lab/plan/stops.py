"""What keeps a plan from being poured as it stands: nothing is drawn by lot while one of these is so."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from enum import Enum, auto
from typing import TYPE_CHECKING

from dribbet.lab.cup.dosing import OFF_FAR, OFF_LITTLE, Dosing
from dribbet.lab.plan import amounts, design, layouts, planning
from dribbet.lab.plan.arm import ROUGH_DENSITY
from dribbet.lab.plan.factors import FILM_BY_TECHNIQUE_M
from dribbet.records import Factor

if TYPE_CHECKING:
    from dribbet.lab.plan.arm import Arm
    from dribbet.records import Series

TENTHS_OF_A_GRAM = 1e4
FILM_WITHIN = 1.05  # densities are rough before anything is weighed


class Why(Enum):
    """Kinds of what stops a plan."""

    UNMIXABLE = auto()
    DROPS = auto()
    PIECES = auto()
    FILM = auto()


@dataclass(frozen=True, slots=True, kw_only=True)
class Stop:
    """One reason, with the recipes that it is about."""

    why: Why
    letters: str = ""
    colour: str = ""
    dosing: Dosing | None = None
    needed_kg: float = 0.0
    said: str = ""
    """What the recipe itself says of it."""
    pieces: int = 0
    film_m: float = 0.0
    poured_kg: float = 0.0


def stops(series: Series) -> tuple[Stop, ...]:
    """Everything that stops this plan."""
    recipes = design.arms(series)
    if design.paired(series) and len(recipes) > layouts.REGIONS_MOST:
        return (Stop(why=Why.PIECES, pieces=len(recipes)),)
    found = [Stop(why=Why.UNMIXABLE, letters=a.letter, said=a.trouble) for a in recipes if a.trouble]
    found += [s for a in recipes if (s := too_thick(a)) is not None and not as_usual(series, a)]
    return (*found, *(s for s in doses(series) if s.dosing is not None and abs(s.dosing.off) > OFF_FAR))


def film_needs_kg(arm: Arm) -> float:
    """Paint to have in the cup so that the planned film can stay: film, base and activator weighed together, and what stays in the cup."""
    held = arm.held
    area = amounts.covered_area_m2(held.panel_width_m, held.panel_height_m, held.side_m, held.outline)
    beside = amounts.base_m3(held) * planning.BASE_KG_M3 + held.activator_kg
    return max(arm.film_m * area * rough_density_kg_m3(arm) - beside, 0.0) / (1.0 - amounts.CUP_LOSS)


def with_enough_paint(series: Series) -> Series:
    """Series with so much paint poured on a panel that the thickest film of its recipes can stay; whole grams."""
    needed = max((film_needs_kg(a) for a in design.arms(series)), default=0.0)
    if needed <= series.constants.poured_kg * FILM_WITHIN:
        return series
    return replace(series, constants=replace(series.constants, poured_kg=math.ceil(needed * 1e3) / 1e3))


def rough_density_kg_m3(arm: Arm) -> float:
    """Density of a recipe's mix before anything was weighed."""
    volume = sum(share / ROUGH_DENSITY.get(name, ROUGH_DENSITY["medium"]) for name, share in arm.parts.items())
    return 1e3 * sum(arm.parts.values()) / volume


def too_thick(arm: Arm) -> Stop | None:
    """A film that cannot stay of the paint that is poured; None where it can."""
    needed = film_needs_kg(arm)
    if needed <= arm.held.poured_kg * FILM_WITHIN:
        return None
    return Stop(why=Why.FILM, letters=arm.letter, needed_kg=needed, film_m=arm.film_m, poured_kg=arm.held.poured_kg)


def as_usual(series: Series, arm: Arm) -> bool:
    """Whether a recipe's film is only what its way to pour usually leaves: nobody asked for it."""
    return not series.varies(Factor.FILM_LEFT) and arm.film_m == FILM_BY_TECHNIQUE_M[arm.technique]


def thinner_than_usual(series: Series) -> tuple[Stop, ...]:
    """Recipes of whose paint less will stay than their way to pour usually leaves, with the film that can."""
    found = []
    for arm in design.arms(series):
        stop = too_thick(arm) if as_usual(series, arm) else None
        if stop is not None:
            found.append(replace(stop, needed_kg=0.0, film_m=arm.film_m * arm.held.poured_kg / stop.needed_kg))
    return tuple(found)


def doses(series: Series) -> tuple[Stop, ...]:
    """Carrying cups whose whole drops come to another dose than was asked; cups that are alike are one."""
    alike: dict[tuple[str, int, Dosing], Stop] = {}
    for b in planning.batches(series):
        if b.dosing is None or abs(b.dosing.off) <= OFF_LITTLE:
            continue
        key = b.colour, round(b.dosing.cup_kg * TENTHS_OF_A_GRAM), replace(b.dosing, cup_kg=0.0)
        before = alike.get(key)
        letters = "".join(sorted({*b.letters, *(before.letters if before else "")}))
        alike[key] = Stop(why=Why.DROPS, letters=letters, colour=b.colour, dosing=b.dosing, needed_kg=b.needed_kg)
    return tuple(alike.values())
