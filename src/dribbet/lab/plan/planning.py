"""From a plan to cups: one batch per colour and distinct recipe, and what it all takes from the shelf."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from dribbet.lab.plan import amounts, design
from dribbet.records import BasePlan, BlockBy, Factor, Kind, Material, Mix, Series

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping, Sequence

    from dribbet.lab.plan.arm import Arm

DROP_KG: Final = 2.9e-5  # 0.03 mL of silicone from a fine nozzle at 965 kg/m3, before the person has weighed twenty
BASE_KG_M3: Final = 1250.0  # house paint, before its container was weighed
DROPS_PER_KG: Final = 10.0  # a dose of one drop per 100 g


def colours_of(series: Series) -> list[str]:
    """Colours of the cup, each once, from below."""
    return list(dict.fromkeys(layer.material for layer in series.layers))


def cup_share(series: Series, colour: str) -> float:
    """Share of the cup that a colour takes."""
    return sum(layer.share for layer in series.layers if layer.material == colour)


def _batch_key(series: Series, arm: Arm, colour: str) -> tuple[object, ...]:
    """Recipes that share a batch of a colour.

    Silicone parts the batches of the colours that get it where it is what the test asks about first; where it is crossed
    with something else, the drops go into a part of the shared batch when the cups are filled.
    """
    key: tuple[object, ...] = (*arm.mix_key, design.mix_fractions(arm, colour).get(colour))
    asked = series.factor in (Factor.SILICONE, Factor.SILICONE_KIND, Factor.SILICONE_COLOUR)
    if asked and colour in arm.held.silicone_colours:
        return (*key, arm.silicone_drops_per_100g, arm.held.silicone)
    return key if not asked else (*key, 0.0, "")


def _pieces(series: Series, arm: Arm, block: int) -> int:
    """Pieces of a recipe in one block; all of them for block 0."""
    if not block:
        return arm.panels
    return sum(1 for repeat in range(arm.panels) if 1 + repeat % series.layout.blocks == block)


def mixes(series: Series, new_id: Callable[[], str], drop_material: str = "") -> list[Mix]:
    """Cups to mix, recipe by recipe in the order of the cup; one batch for the series, or one for each block by batch."""
    by_batch = series.layout.blocks > 1 and series.layout.block_by is BlockBy.BATCH
    recipes = design.arms(series)
    made: list[Mix] = []
    for block in range(1, series.layout.blocks + 1) if by_batch else (0,):
        for colour, members in _batches(series, recipes):
            share = cup_share(series, colour)
            poured = sum(a.held.poured_kg * share * _pieces(series, a, block) for a in members)
            total = amounts.with_loss(poured, series.constants)
            if total <= 0.0:
                continue
            plan = tuple((name, round(total * w, 7)) for name, w in design.mix_fractions(members[0], colour).items())
            doses = {a.silicone_drops_per_100g for a in members}
            takes = colour in members[0].held.silicone_colours
            drops = round(doses.pop() * total * DROPS_PER_KG) if len(doses) == 1 and takes else 0
            made.append(
                Mix(
                    id=new_id(), series_id=series.id, colour=colour, recipes="".join(a.letter for a in members), place=len(made) + 1, plan=plan,
                    block=block, drops=drops, drop_material=(drop_material or members[0].held.silicone) if drops else "",
                )
            )  # fmt: skip
    return made


def side_name(name: str, what: str, colours: Sequence[str]) -> str:
    """Name of a base's or an activator's cup; told apart where a colour of the cup has it already."""
    return f"{name}, {what}" if name in colours else name


def side_mixes(series: Series, new_id: Callable[[], str], first_place: int, density_kg_m3: Callable[[str], float]) -> list[Mix]:
    """Cups beside the colours: base and activator, one batch for all recipes that share them.

    They are mixed and checked like colours, so that their flow stands beside the colours' (domain: base or pillow consistency).
    """
    colours, held_in = colours_of(series), design.arms(series)
    wanted: dict[tuple[str, float], tuple[str, float, list[tuple[str, float]]]] = {}
    for arm in held_in:
        held = arm.held
        if held.base_plan not in (BasePlan.NONE, BasePlan.MIST):
            faces = series.repeats / len(held_in) if design.paired(series) else float(arm.panels)
            kg = amounts.with_loss(amounts.base_m3(held) * faces * density_kg_m3(held.base), held)
            name = side_name(held.base, "base", colours)
            plan = [(held.base, 1.0 - held.base_water_share), ("water", held.base_water_share)]
            letters, total, _ = wanted.get((name, held.base_water_share), ("", 0.0, plan))
            wanted[name, held.base_water_share] = (letters + arm.letter, total + kg, plan)
        if held.activator != "none" and held.activator_kg:
            kg = held.activator_kg * arm.panels * (1.0 + held.reserve)
            name = side_name(held.activator, "activator", colours)
            letters, total, _ = wanted.get((name, 0.0), ("", 0.0, []))
            wanted[name, 0.0] = (letters + arm.letter, total + kg, [(held.activator, 1.0)])
    made: list[Mix] = []
    for (name, _), (letters, total, shares) in wanted.items():
        whole = tuple((n, round(total * w, 7)) for n, w in shares if w > 0.0)
        made.append(Mix(id=new_id(), series_id=series.id, colour=name, recipes=letters, place=first_place + len(made), plan=whole))
    return made


def _batches(series: Series, recipes: Sequence[Arm]) -> list[tuple[str, list[Arm]]]:
    """Batches of each distinct recipe, in the order of the recipes and, within one, of the cup."""
    groups: dict[tuple[object, ...], list[Arm]] = {}
    for arm in recipes:
        for colour in colours_of(series):
            groups.setdefault((colour, *_batch_key(series, arm, colour)), []).append(arm)
    order = {a.letter: i for i, a in enumerate(recipes)}
    place = {c: i for i, c in enumerate(colours_of(series))}
    found = [(str(key[0]), members) for key, members in groups.items()]
    return sorted(found, key=lambda g: (order[g[1][0].letter], place[g[0]]))


def demand_kg(planned: Sequence[Mix]) -> dict[str, float]:
    """Kilograms of each material that a set of cups takes."""
    need: dict[str, float] = {}
    for mix in planned:
        for name, mass in mix.plan:
            need[name] = need.get(name, 0.0) + mass
    return need


@dataclass(frozen=True, slots=True, kw_only=True)
class Demand:
    """What a test takes of one material, against what stands on the shelf."""

    role: str
    name: str
    kg: float
    m3: float
    stock_kg: float | None
    """None where the shelf has no such container."""
    price_per_kg: float = 0.0
    hex: str = "#9A9A9A"

    @property
    def short_kg(self) -> float:
        """How much is missing; water from the tap never is."""
        return 0.0 if self.name == "water" else max(self.kg - (self.stock_kg or 0.0), 0.0)


def demand(series: Series, shelf: Sequence[Material]) -> list[Demand]:
    """Everything a test takes: colours, mediums, thinners, additives, base, activator; from one batch for all panels."""
    known = {m.name: m for m in shelf}
    numbers = iter(range(1_000_000))
    planned = mixes(series, lambda: str(next(numbers)))
    colours = set(colours_of(series))
    recipes = design.arms(series)
    need: dict[tuple[str, str], float] = {}

    def take(role: str, name: str, kg: float) -> None:
        if kg > 0.0:
            need[role, name] = need.get((role, name), 0.0) + kg

    for name, kg in demand_kg(planned).items():
        role = "colour" if name in colours else "thinner" if name in design.THINNERS else "medium"
        take(role, name, kg)
    for arm in recipes:
        held = arm.held
        dosed = sum(cup_share(series, c) for c in held.silicone_colours)
        drops = held.silicone_drops_per_100g * held.poured_kg * DROPS_PER_KG * dosed * arm.panels
        drop = known[held.silicone].drop_kg if held.silicone in known and known[held.silicone].drop_kg else DROP_KG
        take("additive", held.silicone, drops * drop)
        if held.activator != "none":
            take("activator", held.activator, held.activator_kg * arm.panels * (1.0 + held.reserve))
        if held.base_plan not in (BasePlan.NONE, BasePlan.MIST):
            faces = series.repeats / len(recipes) if design.paired(series) else float(arm.panels)
            density = known[held.base].density_kg_m3 if held.base in known else BASE_KG_M3
            mass = amounts.with_loss(amounts.base_m3(held) * faces * density, held)
            take("base", held.base, mass * (1.0 - held.base_water_share))
            take("thinner", "water", mass * held.base_water_share)
    return [
        Demand(
            role=role, name=name, kg=kg, m3=kg / (known[name].density_kg_m3 if name in known else 1000.0),
            stock_kg=known[name].stock_kg if name in known else None, price_per_kg=known[name].price_per_kg if name in known else 0.0,
            hex=known[name].hex if name in known else "#9A9A9A",
        )
        for (role, name), kg in need.items()
    ]  # fmt: skip


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


def prices_per_kg(shelf: Sequence[Material]) -> tuple[tuple[str, float], ...]:
    """Price of each material, as a plan at equal cost keeps it."""
    return tuple((m.name, m.price_per_kg) for m in shelf if m.price_per_kg)
