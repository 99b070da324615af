"""Recipes flattened to mass fractions, and what follows from them (science: recipes)."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Final

from dribbet.records import WATER, Basis, Component, DribbetError, Ingredient, Recipe

if TYPE_CHECKING:
    from collections.abc import Sequence

WATER_KG_M3: Final = 998.0
# Starting densities in kg/m3 and volume solids by word in the name, used only where an ingredient brings none.
# Densities: middle of the ranges usual for these products; a weighed syringe replaces them.
DENSITY_BY_WORD: Final = {
    WATER: WATER_KG_M3,
    "alcohol": 810.0,
    "silicone": 968.0,
    "conditioner": 1025.0,
    "glue": 1080.0,
    "white": 1400.0,
    "metallic": 1190.0,
    "paint": 1200.0,
}
SOLIDS_BY_WORD: Final = {
    WATER: 0.0,
    "alcohol": 0.0,
    "silicone": 1.0,
    "conditioner": 0.15,
    "glue": 0.47,
    "binder": 0.45,
    "paint": 0.40,
}
UNKNOWN_KG_M3: Final = 1050.0
UNKNOWN_SOLIDS: Final = 0.35
ALCOHOL_KG_M3: Final = 785.0  # pure isopropyl alcohol at 20 degrees C
WATER_DROP_M3: Final = 0.05e-6
SILICONE_DROP_M3: Final = 0.03e-6  # fine nozzle


class RecipeError(DribbetError):
    """A recipe that cannot be computed with."""


def _by_word(name: str, table: dict[str, float], otherwise: float) -> float:
    low = name.lower()
    return next((value for word, value in table.items() if word in low), otherwise)


def density_of(ingredient: Ingredient) -> float:
    """Density of an ingredient in kg/m3: its own, its recipe's, or the starting value for its name."""
    if ingredient.density_kg_m3 is not None:
        return ingredient.density_kg_m3
    if ingredient.recipe is not None:
        return mix_density_kg_m3(flatten(ingredient.recipe))
    return _by_word(ingredient.name, DENSITY_BY_WORD, UNKNOWN_KG_M3)


def flatten(recipe: Recipe) -> tuple[Component, ...]:
    """Raw components of a recipe with nested house mixes opened up.

    Parameters
    ----------
    recipe : Recipe
        Parts by mass or by volume; a nested mix counts as so many parts of the whole mix.

    Returns
    -------
    tuple of Component
        In order of first appearance; a material that appears twice is added up. Mass fractions sum to one.
    """
    return _flat(recipe, {})


def _flat(recipe: Recipe, known: dict[int, tuple[Component, ...]]) -> tuple[Component, ...]:
    """Raw components; each nested recipe is opened once, however many use it."""
    if id(recipe) in known:
        return known[id(recipe)]
    masses: dict[str, float] = {}
    facts: dict[str, tuple[float, float]] = {}
    for ingredient in recipe.ingredients:
        if ingredient.parts == 0.0:
            continue
        inner = _flat(ingredient.recipe, known) if ingredient.recipe is not None else ()
        density = mix_density_kg_m3(inner) if inner and ingredient.density_kg_m3 is None else density_of(ingredient)
        mass = ingredient.parts * (density if recipe.basis is Basis.VOLUME else 1.0)
        if ingredient.recipe is None:
            solids = ingredient.volume_solids
            if solids is None:
                solids = _by_word(ingredient.name, SOLIDS_BY_WORD, UNKNOWN_SOLIDS)
            inner = (Component(name=ingredient.name, mass_fraction=1.0, density_kg_m3=density, volume_solids=solids),)
        for part in inner:
            masses[part.name] = masses.get(part.name, 0.0) + mass * part.mass_fraction
            facts.setdefault(part.name, (part.density_kg_m3, part.volume_solids))
    total = sum(masses.values())  # plain: of numbers that are too large it makes infinity, no error
    if not (math.isfinite(total) and total > 0.0):
        raise RecipeError("The parts of the recipe add up to nothing that can be weighed. Use ordinary numbers of parts, such as 1 and 2.")
    known[id(recipe)] = tuple(
        Component(name=name, mass_fraction=mass / total, density_kg_m3=facts[name][0], volume_solids=facts[name][1]) for name, mass in masses.items()
    )
    return known[id(recipe)]


def mix_density_kg_m3(components: Sequence[Component]) -> float:
    """Density of a mix: 1/rho = sum of w_i/rho_i (volumes add)."""
    return 1.0 / math.fsum(c.mass_fraction / c.density_kg_m3 for c in components)


def volume_solids(components: Sequence[Component]) -> float:
    """Share of the wet volume that stays when dry: sum of v_i s_i over sum of v_i."""
    volumes = [c.mass_fraction / c.density_kg_m3 for c in components]
    return math.fsum(v * c.volume_solids for v, c in zip(volumes, components, strict=True)) / math.fsum(volumes)


def final_alcohol_share(solution_mass_fraction: float, label_share: float) -> float:
    """Mass share of pure alcohol in a mix that holds a labelled solution.

    Parameters
    ----------
    solution_mass_fraction : float
        Mass fraction of the solution in the mix.
    label_share : float
        Volume share printed on the bottle, such as 0.91.
    """
    alcohol = label_share * ALCOHOL_KG_M3
    return solution_mass_fraction * alcohol / (alcohol + (1.0 - label_share) * WATER_KG_M3)


def dose_mg_per_100g(drops: float, drop_kg: float, mix_kg: float) -> float:
    """Additive dose in milligrams for each 100 g of mix, so that cups of unlike size compare."""
    if not mix_kg > 0.0:
        raise RecipeError("The cup is empty, so drops have no dose yet. Weigh the paint first.")
    return drops * drop_kg / mix_kg * 1e5


def water_lost_kg(stored_kg: float, now_kg: float, water_stored_kg: float) -> float:
    """Water to top a stored bottle up with: the weight lost, capped by the water that was in it."""
    return min(max(stored_kg - now_kg, 0.0), water_stored_kg)
