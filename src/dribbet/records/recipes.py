"""Recipes: parts by mass or volume, nested house mixes, and what they flatten to."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Final

from dribbet.records.errors import RecordError
from dribbet.records.require import require_positive, require_share

MOST_PARTS: Final = 1e9
DEEPEST: Final = 32


class Basis(StrEnum):
    """What the parts of a recipe count."""

    MASS = "mass"
    VOLUME = "volume"


@dataclass(frozen=True, slots=True, kw_only=True)
class Ingredient:
    """So many parts of a material, or of a house mix that has a recipe of its own."""

    name: str
    parts: float
    density_kg_m3: float | None = None
    volume_solids: float | None = None
    recipe: Recipe | None = None

    def __post_init__(self) -> None:
        if not self.name.strip():
            raise RecordError("An ingredient has no name. Give each ingredient a name.")
        if not (math.isfinite(self.parts) and (self.parts == 0.0 or 1e-9 <= self.parts <= MOST_PARTS)):
            raise RecordError(f"{self.name} has {self.parts:g} parts. Give each ingredient zero or more parts, up to a billion.")
        if self.density_kg_m3 is not None:
            require_positive(self.density_kg_m3, f"Density of {self.name}", "Enter kilograms per cubic metre, such as 1040.", 25_000.0)
        if self.volume_solids is not None:
            require_share(self.volume_solids, f"Volume solids of {self.name}")


@dataclass(frozen=True, slots=True, kw_only=True)
class Recipe:
    """Ingredients in parts; the order is the order of mixing."""

    basis: Basis
    ingredients: tuple[Ingredient, ...]
    depth: int = field(init=False, default=1, compare=False, repr=False)
    """How many recipes lie one in another, this one counted."""

    def __post_init__(self) -> None:
        if not self.ingredients:
            raise RecordError("The recipe has no ingredients. Add at least one.")
        if not sum(i.parts for i in self.ingredients) > 0.0:
            raise RecordError("All parts of the recipe are zero. Give at least one ingredient some parts.")
        deep = 1 + max(i.recipe.depth if i.recipe is not None else 0 for i in self.ingredients)
        object.__setattr__(self, "depth", deep)
        if deep > DEEPEST:
            raise RecordError(f"House mixes are nested more than {DEEPEST} deep. Write the inner ones as what they are made of.")


@dataclass(frozen=True, slots=True, kw_only=True)
class Component:
    """A raw material in a flattened recipe; mass fractions of all components sum to one."""

    name: str
    mass_fraction: float
    density_kg_m3: float
    volume_solids: float
