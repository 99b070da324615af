"""What a recipe's cup is really made of: the ledger where a colour was weighed in, the plan where it was not."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup import house_mix, recipe
from dribbet.lab.cup.dosing import PER_100G
from dribbet.lab.plan.arm import THINNERS, Arm, mix_fractions
from dribbet.lab.plan.factors import blend
from dribbet.records import ALCOHOL, TAKEN_OUT, WATER, Basis, Component, Ingredient, Kind, Mix, Recipe, Series, Weighing

if TYPE_CHECKING:
    from collections.abc import Iterable, Mapping, Sequence

    from dribbet.records import Material

MOST_DROPS: Final = 1000.0  # in 100 g: what a plan can hold


def weighed_in(mix: Mix, weighings: Iterable[Weighing]) -> dict[str, float]:
    """Kilograms of each ingredient that a mix holds by the ledger, in the order in which each first went in.

    What was taken out again was well mixed, so it took every ingredient that was in by then along, each by its share.
    """
    held: dict[str, float] = {}
    for w in weighings:
        if w.mix_id != mix.id or w.taken_back:
            continue
        if w.ingredient == TAKEN_OUT:
            total = sum(held.values())
            keep = max(1.0 - w.mass_kg / total, 0.0) if total > 0.0 else 1.0
            held = {name: kg * keep for name, kg in held.items()}
        else:
            held[w.ingredient] = held.get(w.ingredient, 0.0) + w.mass_kg
    return held


def of_colour(arm: Arm, colour: str, mixes: Sequence[Mix], weighings: Sequence[Weighing], block: int = 0) -> dict[str, float]:
    """Mass fractions of one colour's mix, from the cup of one block or (block 0) all its cups together; planned ones until they are done."""
    mine = [m for m in mixes if m.colour == colour and arm.letter in m.recipes and m.done and (not block or m.block in (0, block))]
    held: dict[str, float] = {}
    for mix in mine:
        for name, kg in weighed_in(mix, weighings).items():
            held[name] = held.get(name, 0.0) + kg
    total = sum(held.values())
    return {name: kg / total for name, kg in held.items()} if total > 0.0 else mix_fractions(arm, colour)


def of_cup(
    series: Series, arm: Arm, mixes: Sequence[Mix] = (), weighings: Sequence[Weighing] = (), shelf: Sequence[Material] = (), block: int = 0
) -> dict[str, float]:
    """Mass fractions of the whole cup of a recipe, all colours together, house mixes opened up; they sum to one.

    A block's cup holds what that block's batches hold; block 0 is all of them together.
    """
    cup: dict[str, float] = {}
    for layer in arm.layers:
        for name, share in of_colour(arm, layer.material, mixes, weighings, block).items():
            cup[name] = cup.get(name, 0.0) + layer.share * share
    total = sum(cup.values())
    return house_mix.raw({name: share / total for name, share in cup.items()}, shelf)


def counted_dose(arm: Arm, mixes: Sequence[Mix], weighings: Sequence[Weighing], block: int = 0) -> float | None:
    """Drops of silicone in 100 g of the colours that carry it, by what was counted or weighed into their cups.

    None before any is done, and where drops were neither planned for a cup nor logged in it: then the plan is all that is known.
    """
    mine = [m for m in mixes if arm.dose_of(m.colour) and arm.letter in m.recipes and m.done and (not block or m.block in (0, block))]
    held = [weighed_in(m, weighings) for m in mine]
    total = math.fsum(kg for cup in held for kg in cup.values())
    if total <= 0.0 or not any(m.drops or cup.get(arm.held.silicone) for m, cup in zip(mine, held, strict=True)):
        return None
    oil = math.fsum(cup.get(arm.held.silicone, 0.0) for cup in held)
    return oil / arm.held.drop_kg / ((total - oil) * PER_100G)


def actual_arm(series: Series, arm: Arm, mixes: Sequence[Mix], weighings: Sequence[Weighing], shelf: Sequence[Material] = (), block: int = 0) -> Arm:
    """Return the recipe with the shares that were really weighed in for a block (0 for all), averaged over the cup, and the drops counted.

    Where water (or alcohol) is the medium itself, what there is of it beyond the planned thinner counts as the medium.
    """
    cup = of_cup(series, arm, mixes, weighings, shelf, block)
    colours = set(arm.colours)
    mediums = set(house_mix.raw(blend(arm.medium), shelf)) - set(THINNERS)
    others = {arm.held.shimmer_medium: "shimmer", arm.held.anti_craze: "craze", **dict.fromkeys(THINNERS, "thinner")}
    others |= dict.fromkeys((name for name, _ in arm.held.added), "added")
    others |= dict.fromkeys(mediums, "medium")
    additives = {m.key for m in shelf if m.kind is Kind.ADDITIVE and m.key not in others} | {arm.held.silicone}
    kinds = {name: "paint" if name in colours else "additive" if name in additives else others.get(name, "medium") for name in cup}

    def share(kind: str) -> float:
        return sum(v for name, v in cup.items() if kinds[name] == kind)

    thinners = {WATER: arm.water_share, ALCOHOL: arm.alcohol_share}
    as_medium = {n: max(cup.get(n, 0.0) - thinners[n], 0.0) if n in blend(arm.medium) else 0.0 for n in THINNERS}
    counted = counted_dose(arm, mixes, weighings, block)
    return replace(
        arm,
        held=arm.held if counted is None else replace(arm.held, silicone_drops_per_100g=min(counted, MOST_DROPS)),
        paint_share=share("paint"),
        medium_share=share("medium") + sum(as_medium.values()),
        shimmer_share=share("shimmer"),
        anti_craze_share=share("craze"),
        added=tuple((name, cup.get(name, 0.0)) for name, _ in arm.held.added),
        water_share=cup.get(WATER, 0.0) - as_medium[WATER],
        alcohol_share=cup.get("alcohol", 0.0) - as_medium["alcohol"],
    )


def _components(cup: Mapping[str, float], shelf: Sequence[Material]) -> tuple[Component, ...]:
    cup = house_mix.raw(cup, shelf)
    known = {m.key: m for m in shelf}
    parts = [
        Ingredient(
            name=name,
            parts=share,
            density_kg_m3=known[name].density_kg_m3 if name in known else None,
            volume_solids=known[name].volume_solids if name in known else None,
        )
        for name, share in cup.items()
    ]
    return recipe.flatten(Recipe(basis=Basis.MASS, ingredients=tuple(parts)))


def density_kg_m3(cup: Mapping[str, float], shelf: Sequence[Material]) -> float:
    """Density of a composition, from the densities on the shelf."""
    return recipe.mix_density_kg_m3(_components(cup, shelf))


def volume_solids(cup: Mapping[str, float], shelf: Sequence[Material]) -> float:
    """Share of a composition's volume that stays when dry."""
    return recipe.volume_solids(_components(cup, shelf))


def volumes_by_role(cup_kg: Mapping[str, float], paint: str, medium: str, shelf: Sequence[Material]) -> dict[str, float]:
    """Volumes in m3 of the raw components of a pot, the paint and the medium by those words, the rest by their names."""
    known = {m.key: m.density_kg_m3 for m in shelf}
    found: dict[str, float] = {}
    for name, kg in house_mix.raw(cup_kg, shelf).items():
        key = "paint" if name == paint else "medium" if name == medium else name
        found[key] = found.get(key, 0.0) + kg / known.get(name, recipe.UNKNOWN_KG_M3 if name != WATER else recipe.WATER_KG_M3)
    return found
