"""Cups as they are mixed: the plan of each, what was really weighed in, and what else happened to it."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING, Final

from dribbet.records.errors import RecordError
from dribbet.records.order import Happened
from dribbet.records.require import (
    MOST_KG,
    require_between,
    require_not_negative,
    require_text,
)

if TYPE_CHECKING:
    from datetime import datetime


@dataclass(frozen=True, slots=True, kw_only=True)
class Mix:
    """One colour for one or more recipes; the plan for a cup that is weighed in."""

    id: str
    series_id: str
    colour: str
    recipes: str
    place: int
    plan: tuple[tuple[str, float], ...]
    """Ingredient and planned kilograms, in the order of mixing."""
    block: int = 0
    """Block it is mixed for; 0 where one batch serves all."""
    drops: int = 0
    drop_material: str = ""
    drop_share: float = 1.0
    """Share of a drop that is the additive; the rest of a prediluted one is the medium."""
    covered_at: datetime | None = None
    kept_over: bool = False
    done: bool = False

    def __post_init__(self) -> None:
        require_text(self.colour, "The name of a mix", 80)
        for name, kg in self.plan:
            require_not_negative(kg, f"{name} in {self.colour}", "Plan it as zero grams or more.", MOST_KG)
        if not self.recipes.isalpha():
            raise RecordError(f"{self.colour} is mixed for {self.recipes[:12]!r}. Name its recipes by their letters.")
        require_between(self.drops, 0, 10_000, f"Drops in {self.colour}", "Enter whole drops, 0 to 10 000.")
        if not 0.0 < self.drop_share <= 1.0:
            raise RecordError(f"Drops of {self.colour} hold {self.drop_share:g} of their additive. Enter a share above 0, up to 1.")
        require_between(self.block, 0, 12, f"The block of {self.colour}", "Blocks are numbered 1 to 12; 0 is all of them.")


CORRECTION: Final = "correction"
"""Source of a `Weighing` that mended a pot after its check."""
IN_THE_DROPS: Final = "in the drops"
"""Source of a `Weighing` that came with the prediluted drops before it."""
TAKEN_OUT: Final = "taken out"
"""Ingredient of a `Weighing` that stands for well-mixed paint taken out of the cup: every component goes down alike."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Weighing(Happened):
    """One addition to a cup, as the scale or the person gave it."""

    id: str
    mix_id: str
    ingredient: str
    mass_kg: float
    at: datetime
    source: str = "typed"
    drops: int = 0
    """How many drops were counted; 0 where it was weighed or typed as a weight."""
    taken_back: bool = False

    def __post_init__(self) -> None:
        require_between(self.drops, 0, 10_000, f"Drops of {self.ingredient}", "Count them, 0 to 10 000.")
        require_not_negative(self.mass_kg, f"Weight of {self.ingredient}", "A weight added to a cup is zero or more, up to 1000 kg.", MOST_KG)


class MarkKind(StrEnum):
    """What else happens to a cup at the bench."""

    WETTED = "powder wetted"
    STIRRED = "stirred"
    STRAINED = "strained"
    RIM = "rim wiped"
    LUMPS = "lumps seen"
    COVERED = "covered"
    UNCOVERED = "uncovered"
    ACCEPTED = "accepted as it is"
    CONTAMINATED = "contaminated"
    STORED = "stored"
    WATER = "water from"
    RIGHT = "looks right"


@dataclass(frozen=True, slots=True, kw_only=True)
class MixMark(Happened):
    """A moment in the life of a cup."""

    id: str
    mix_id: str
    kind: MarkKind
    at: datetime
    note: str = ""
    taken_back: bool = False
