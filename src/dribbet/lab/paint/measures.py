"""Drops, spoons, squirts and peas in kilograms, by the person's own calibration where there is one (domain: units, drops)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup.recipe import SILICONE_DROP_M3, WATER_DROP_M3, RecipeError
from dribbet.records import GaugingKind, Kind, order

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.records import Gauging, Material

KG_PER_G: Final = 1e-3
KG_PER_OZ: Final = 28.349523125e-3  # international avoirdupois ounce, exact
M3_PER_ML: Final = 1e-6
M3_PER_FLOZ: Final = 29.5735295625e-6  # US fluid ounce, exact
M3_PER_TEASPOON: Final = 5e-6  # metric teaspoon; a person's own spoon is weighed
MASS_UNITS: Final = {"g": KG_PER_G, "oz": KG_PER_OZ}
VOLUME_UNITS: Final = {"mL": M3_PER_ML, "fl oz": M3_PER_FLOZ, "teaspoon": M3_PER_TEASPOON}
OWN_UNITS: Final = {
    "drop": GaugingKind.DROP,
    "teaspoon": GaugingKind.TEASPOON,
    "squirt": GaugingKind.SQUIRT,
    "pea": GaugingKind.PEA,
}
UNIT_WORDS: Final = {
    "": "", "g": "g", "oz": "oz", "ml": "mL", "fl oz": "fl oz", "tsp": "teaspoon", "teaspoon": "teaspoon", "teaspoons": "teaspoon",
    "drop": "drop", "drops": "drop", "squirt": "squirt", "squirts": "squirt", "pea": "pea", "peas": "pea",
}  # fmt: skip
"""How people write them; the empty word is the unit that is set."""
UNITS: Final = (*MASS_UNITS, *VOLUME_UNITS, "drop", "squirt", "pea")


@dataclass(frozen=True, slots=True, kw_only=True)
class Weighed:
    """One drop, spoon, squirt or pea: its mass, its scatter, and what it rests on."""

    kg: float
    own: bool
    """Whether the person weighed it."""
    count: int = 0


def one(unit: str, material: Material, gaugings: Sequence[Gauging] = ()) -> Weighed:
    """Mass of one unit of a material.

    Raises
    ------
    RecipeError
        If the unit is not known, or is one that nobody can know before it was weighed.
    """
    if unit in MASS_UNITS:
        return Weighed(kg=MASS_UNITS[unit], own=False)
    kind = OWN_UNITS.get(unit)
    mine = [g for g in gaugings if g.material_id == material.id and g.kind is kind and not g.taken_back]
    if mine:
        newest = max(mine, key=order)
        return Weighed(kg=newest.value, own=True, count=newest.count)
    if unit == "drop":
        if material.drop_kg > 0.0:
            return Weighed(kg=material.drop_kg, own=False)
        volume = SILICONE_DROP_M3 if material.kind is Kind.ADDITIVE else WATER_DROP_M3
        return Weighed(kg=volume * material.density_kg_m3, own=False)
    if unit in VOLUME_UNITS:
        return Weighed(kg=VOLUME_UNITS[unit] * material.density_kg_m3, own=False)
    if unit in OWN_UNITS:
        raise RecipeError(f"One {unit} of {material.name} was never weighed. Weigh ten of them on Shelf, then it is a measure.")
    raise RecipeError(f"“{unit}” is no measure here. Choose one of {', '.join(UNITS)}.")


def to_kg(amount: float, unit: str, material: Material, gaugings: Sequence[Gauging] = ()) -> float:
    """Kilograms of so many units."""
    return amount * one(unit, material, gaugings).kg


def from_kg(kg: float, unit: str, material: Material, gaugings: Sequence[Gauging] = ()) -> float:
    """So many units of a mass."""
    return kg / one(unit, material, gaugings).kg
