"""Mixes and leftovers that are put by."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING

from dribbet.records.materials import NO_HEX
from dribbet.records.order import Happened
from dribbet.records.require import (
    MOST_KG,
    require_between,
    require_hex,
    require_not_negative,
    require_share,
    require_text,
)

if TYPE_CHECKING:
    from datetime import datetime


class BottleKind(StrEnum):
    """What a bottle keeps."""

    MIX = "mix"
    LEFTOVER = "leftover"


@dataclass(frozen=True, slots=True, kw_only=True)
class Bottle:
    """A mix, or a leftover, put by with a label."""

    id: str
    code: str
    name: str
    kind: BottleKind
    contents: tuple[tuple[str, float], ...]
    """Raw components and their mass fractions when it was stored; they sum to one."""
    stored_at: datetime
    stored_kg: float
    """With the bottle, as the scale showed it when it was capped."""
    empty_kg: float = 0.0
    """The bottle alone; 0 where it was not weighed."""
    hex: str = NO_HEX
    silicone: bool = False
    activator: bool = False
    series_id: str | None = None
    mix_id: str | None = None
    grade: float = 0.0
    """Consistency grade at storing; 0 where it was not checked."""
    note: str = ""
    finished: bool = False

    def __post_init__(self) -> None:
        for kg in (self.stored_kg, self.empty_kg, self.stored_kg - self.empty_kg):
            require_not_negative(kg, f"What is in {self.code}", "Weigh the full bottle, and the empty one before it.", MOST_KG)
        for name, share in self.contents:
            require_share(share, f"{name} in {self.code}")
        require_between(self.grade, 0.0, 5.0, f"The grade of {self.code}", "Grades go from 1 to 5; 0 is not checked.")
        require_hex(self.hex, self.code)
        require_text(self.code, "The code of a bottle", 12)
        require_text(self.name, "The name of a bottle", 80)


@dataclass(frozen=True, slots=True, kw_only=True)
class BottleWeighing(Happened):
    """A stored bottle on the scale again, with the water that was given back."""

    id: str
    bottle_id: str
    mass_kg: float
    at: datetime
    water_added_kg: float = 0.0
    taken_out_kg: float = 0.0
    taken_back: bool = False

    def __post_init__(self) -> None:
        require_not_negative(self.mass_kg, "The bottle", "Put it on the scale, or type its weight.", MOST_KG)
        require_not_negative(self.water_added_kg, "Water given back", "Enter the grams, or 0.", MOST_KG)
        require_not_negative(self.taken_out_kg, "What was taken out", "Enter the grams, or 0.", MOST_KG)
