"""From a plan to cups: one batch per colour and distinct recipe, and what it all takes from the shelf."""

from __future__ import annotations

from typing import TYPE_CHECKING

from dribbet.lab import amounts, design
from dribbet.records import Factor, Kind, Material, Mix, Series

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping, Sequence


def colours_of(series: Series) -> list[str]:
    """Colours of the cup, each once, from below."""
    return list(dict.fromkeys(layer.material for layer in series.layers))


def cup_share(series: Series, colour: str) -> float:
    """Share of the cup that a colour takes."""
    return sum(layer.share for layer in series.layers if layer.material == colour)


def _batch_key(series: Series, arm: design.Arm) -> tuple[object, ...]:
    """Recipes that share a batch: silicone goes into the colour, so its dose parts batches where it is tested."""
    silicone = Factor.SILICONE in (series.factor, series.crossed)
    return (*arm.mix_key, arm.silicone_drops_per_100g if silicone and series.crossed is not Factor.SILICONE else 0.0)


def mixes(series: Series, new_id: Callable[[], str], drop_material: str = "belt silicone") -> list[Mix]:
    """Cups to mix, recipe by recipe in the order of the cup."""
    groups: dict[tuple[object, ...], list[design.Arm]] = {}
    for arm in design.arms(series):
        groups.setdefault(_batch_key(series, arm), []).append(arm)
    made: list[Mix] = []
    for members in groups.values():
        for colour in colours_of(series):
            total = amounts.batch_kg(series.constants.poured_kg, cup_share(series, colour), len(members) * series.repeats)
            plan = tuple((name, round(total * w, 7)) for name, w in design.mix_fractions(members[0], colour).items())
            doses = {a.silicone_drops_per_100g for a in members}
            drops = round(doses.pop() * total / 0.1) if len(doses) == 1 and colour in series.constants.silicone_colours else 0
            made.append(
                Mix(
                    id=new_id(),
                    series_id=series.id,
                    colour=colour,
                    recipes="".join(a.letter for a in members),
                    place=len(made) + 1,
                    plan=plan,
                    drops=drops,
                    drop_material=drop_material if drops else "",
                )
            )
    return made


def demand_kg(planned: Sequence[Mix]) -> dict[str, float]:
    """Kilograms of each material that a set of cups takes."""
    need: dict[str, float] = {}
    for mix in planned:
        for name, mass in mix.plan:
            need[name] = need.get(name, 0.0) + mass
    return need


def short_of(need: Mapping[str, float], shelf: Sequence[Material]) -> dict[str, float]:
    """Kilograms missing from the shelf; water is never short."""
    stock = {m.name: m.stock_kg for m in shelf}
    return {name: kg - stock.get(name, 0.0) for name, kg in need.items() if kg > stock.get(name, 0.0) + 1e-9 and "water" not in name}


def cost(need: Mapping[str, float], shelf: Sequence[Material]) -> float:
    """Money for what a set of cups takes."""
    price = {m.name: m.price_per_kg for m in shelf}
    return sum(kg * price.get(name, 0.0) for name, kg in need.items())


def paints(shelf: Sequence[Material]) -> list[Material]:
    """Materials that can be a layer of a cup."""
    return [m for m in shelf if m.kind in (Kind.PAINT, Kind.SHIMMER, Kind.BASE)]
