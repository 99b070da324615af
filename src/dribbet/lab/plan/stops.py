"""What keeps a plan from being poured as it stands: nothing is drawn by lot while one of these is so."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import Enum, auto
from typing import TYPE_CHECKING

from dribbet.lab.cup.dosing import OFF_FAR, OFF_LITTLE, Dosing
from dribbet.lab.plan import design, layouts, planning

if TYPE_CHECKING:
    from dribbet.records import Series

TENTHS_OF_A_GRAM = 1e4


class Why(Enum):
    """Kinds of what stops a plan."""

    UNMIXABLE = auto()
    DROPS = auto()
    PIECES = auto()


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


def stops(series: Series) -> tuple[Stop, ...]:
    """Everything that stops this plan."""
    recipes = design.arms(series)
    if design.paired(series) and len(recipes) > layouts.REGIONS_MOST:
        return (Stop(why=Why.PIECES, pieces=len(recipes)),)
    found = [Stop(why=Why.UNMIXABLE, letters=a.letter, said=a.trouble) for a in recipes if a.trouble]
    return (*found, *(s for s in doses(series) if s.dosing is not None and abs(s.dosing.off) > OFF_FAR))


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
