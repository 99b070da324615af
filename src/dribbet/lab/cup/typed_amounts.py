"""Amounts as people type them: a figure and a unit, nothing else. Never an expression that somebody computes."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Final

from dribbet.lab.paint.measures import KG_PER_G, KG_PER_OZ, M3_PER_FLOZ, M3_PER_ML, M3_PER_TEASPOON
from dribbet.records import DribbetError

KG_PER_LB: Final = 0.45359237  # international avoirdupois pound, exact
MASSES: Final = {
    "mg": 1e-6, "g": KG_PER_G, "gram": KG_PER_G, "grams": KG_PER_G, "kg": 1.0, "oz": KG_PER_OZ, "ounce": KG_PER_OZ, "ounces": KG_PER_OZ,
    "lb": KG_PER_LB, "lbs": KG_PER_LB, "pound": KG_PER_LB, "pounds": KG_PER_LB,
}  # fmt: skip
VOLUMES: Final = {
    "ml": M3_PER_ML, "cl": 1e-5, "dl": 1e-4, "l": 1e-3, "liter": 1e-3, "litre": 1e-3, "liters": 1e-3, "litres": 1e-3, "cm3": M3_PER_ML,
    "cm³": M3_PER_ML,
    "floz": M3_PER_FLOZ, "fluidounce": M3_PER_FLOZ, "tsp": M3_PER_TEASPOON, "teaspoon": M3_PER_TEASPOON, "teaspoons": M3_PER_TEASPOON,
}  # fmt: skip
LARGEST: Final = 1e6
"""In the person's own unit: a million grams are a ton of paint."""
_AMOUNT: Final = re.compile(r"(?P<figure>\d{1,12}(?:[.,]\d{1,12})?|[.,]\d{1,12})\s*(?P<unit>[a-zA-Z³ ._]{1,16}[3³]?)", re.ASCII | re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class Amount:
    """So many kilograms, or so many cubic metres."""

    kg: float | None = None
    m3: float | None = None


def amount(text: str) -> Amount:
    """Read an amount such as 250g, 0.25 kg, 8 oz, 120 ml or 4 fl oz.

    Raises
    ------
    DribbetError
        If it is anything else, zero, negative, or more than a million.
    """
    found = _AMOUNT.fullmatch(text.strip())
    unit = re.sub(r"[ ._]", "", found["unit"]).lower() if found is not None else ""
    figure = float(found["figure"].replace(",", ".")) if found is not None else 0.0
    if found is None or (unit not in MASSES and unit not in VOLUMES):
        raise DribbetError(f"{text[:40]} is no amount. Write a figure and a unit, such as 250g or 120ml.")
    if not 0.0 < figure <= LARGEST:
        raise DribbetError(f"{text[:40]} cannot be mixed. Write more than nothing and at most a million, such as 250g or 120ml.")
    return Amount(kg=figure * MASSES[unit]) if unit in MASSES else Amount(m3=figure * VOLUMES[unit])
