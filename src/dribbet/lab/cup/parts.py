"""Ratios that cannot be mistaken: always with names, normalised to paint = 1, by mass or by volume (domain: parts and ratios)."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from dribbet.lab.cup.recipe import RecipeError
from dribbet.records import Basis

if TYPE_CHECKING:
    from collections.abc import Mapping


def converted(parts: Mapping[str, float], density_kg_m3: Mapping[str, float], *, have: Basis, want: Basis) -> dict[str, float]:
    """Parts on another basis: volume = mass / density.

    Raises
    ------
    RecipeError
        If a density is missing.
    """
    if have is want:
        return dict(parts)
    lost = [n for n in parts if not density_kg_m3.get(n, 0.0) > 0.0]
    if lost:
        raise RecipeError(f"The density of {lost[0]} is not known, so parts by volume and by mass cannot be told apart. Weigh 10 mL of it on Shelf.")
    return {n: p * density_kg_m3[n] if want is Basis.MASS else p / density_kg_m3[n] for n, p in parts.items()}


def to_one(parts: Mapping[str, float], paint: str) -> dict[str, float]:
    """Parts to one part of paint.

    Raises
    ------
    RecipeError
        If there is no paint in them.
    """
    if not parts.get(paint, 0.0) > 0.0:
        raise RecipeError(f"There is no {paint} in this recipe, so it has no ratio to it.")
    return {n: p / parts[paint] for n, p in parts.items()}


def percentages(parts: Mapping[str, float]) -> dict[str, float]:
    """Shares of one; they sum to one.

    Raises
    ------
    RecipeError
        If nothing is in it.
    """
    total = math.fsum(parts.values())
    if not total > 0.0:
        raise RecipeError("All parts are zero. Give at least one of them some parts.")
    return {n: p / total for n, p in parts.items()}


def rounded(masses_kg: Mapping[str, float], step_kg: float) -> tuple[dict[str, float], dict[str, float]]:
    """Masses as the scale can show them, and by how much each share of the mix is then off.

    Returns
    -------
    (dict, dict)
        Kilograms, each the nearest multiple of the step; and share after rounding less share before.
    """
    if not step_kg > 0.0:
        raise RecipeError("The scale's step must be more than zero. Enter the smallest change it shows, such as 0.1 g.")
    shown = {n: round(kg / step_kg) * step_kg for n, kg in masses_kg.items()}
    before, after = math.fsum(masses_kg.values()), math.fsum(shown.values())
    if not before > 0.0:
        raise RecipeError("All amounts are zero. Ask for more than nothing.")
    if not after > 0.0:
        raise RecipeError(f"Every amount is below the scale's step of {step_kg * 1e3:g} g. Mix more at once.")
    return shown, {n: shown[n] / after - masses_kg[n] / before for n in masses_kg}


def scaled_to_paint(masses_kg: Mapping[str, float], paint: str, paint_kg: float) -> dict[str, float]:
    """Amounts for the paint in hand."""
    return {n: p * paint_kg for n, p in to_one(masses_kg, paint).items()}
