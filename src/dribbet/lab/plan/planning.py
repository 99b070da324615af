"""From a plan to cups: one batch per colour and distinct recipe, and what it all takes from the shelf."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup.dosing import Dosing, dosing
from dribbet.lab.plan import amounts, design, layouts
from dribbet.records import NO_HEX, WATER, BasePlan, BlockBy, Constants, Kind, Material, Mix, Series

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping, Sequence

    from dribbet.lab.plan.arm import Arm

DROP_KG: Final = 2.9e-5  # 0.03 mL of silicone from a fine nozzle at 965 kg/m3, before the person has weighed twenty
BASE_KG_M3: Final = 1250.0  # house paint, before its container was weighed
NO_ACTIVATOR: Final = "none"


def colours_of(series: Series) -> list[str]:
    """Colours of the cup as it is planned for all, each once, from below; a recipe may hold others (`Arm.colours`)."""
    return list(dict.fromkeys(layer.material for layer in series.layers))


def colours_in(series: Series) -> list[str]:
    """Every colour that any recipe's cup holds, each once: those of the first recipe first."""
    return list(dict.fromkeys(colour for arm in design.arms(series) for colour in arm.colours))


def _pieces(series: Series, arm: Arm, block: int) -> int:
    """Pieces of a recipe in one block; all of them for block 0."""
    if not block:
        return arm.panels
    return sum(1 for repeat in range(arm.panels) if 1 + repeat % series.layout.blocks == block)


def piece_share(series: Series) -> float:
    """Share of a panel that one piece takes: all of it, or its region where recipes lie side by side."""
    if not design.paired(series):
        return 1.0
    left, top, right, bottom = layouts.regions(len(design.arms(series)), series.constants.panel_width_m, series.constants.panel_height_m)[0]
    return (right - left) * (bottom - top)


def poured_kg(series: Series, arm: Arm) -> float:
    """Paint that one piece of a recipe takes: what is poured on a panel, or the piece's share of it where recipes share one."""
    return arm.held.poured_kg * piece_share(series)


@dataclass(frozen=True, slots=True, kw_only=True)
class Batch:
    """One colour that is mixed together for one or more recipes."""

    colour: str
    members: tuple[Arm, ...]
    block: int
    needed_kg: float
    """What the panels take, with what stays in the cup and the reserve."""
    dosing: Dosing | None = None
    """None where no drops go in."""

    @property
    def total_kg(self) -> float:
        """What is mixed: more than is needed where a cup was grown for whole drops."""
        return self.dosing.cup_kg if self.dosing is not None else self.needed_kg

    @property
    def letters(self) -> str:
        """Recipes that share it."""
        return "".join(a.letter for a in self.members)


def batches(series: Series) -> list[Batch]:
    """Batches of a series, recipe by recipe in the order of the cup; one for the series, or one for each block by batch.

    Recipes share a batch of a colour where all that is in it is alike, its drops included: with silicone crossed with
    something else, each dose has a carrying cup of its own, and the colours without drops are mixed together.
    """
    by_batch = series.layout.blocks > 1 and series.layout.block_by is BlockBy.BATCH
    recipes = design.arms(series)
    groups: dict[tuple[object, ...], list[Arm]] = {}
    for arm in recipes:
        for colour in arm.colours:
            groups.setdefault((colour, *arm.batch_key(colour)), []).append(arm)
    place = {a.letter: i for i, a in enumerate(recipes)}
    found = [(str(key[0]), members) for key, members in groups.items()]
    ordered = sorted(found, key=lambda g: (place[g[1][0].letter], g[1][0].colours.index(g[0])))
    made: list[Batch] = []
    for block in range(1, series.layout.blocks + 1) if by_batch else (0,):
        for colour, members in ordered:
            poured = sum(poured_kg(series, a) * a.cup_share(colour) * _pieces(series, a, block) for a in members)
            needed = amounts.with_loss(poured, series.constants)
            if needed <= 0.0:
                continue
            dose = members[0].dose_of(colour)
            drops = dosing(dose, needed, members[0].held.drops_by) if dose > 0.0 else None
            made.append(Batch(colour=colour, members=tuple(members), block=block, needed_kg=needed, dosing=drops))
    return made


def mixes(series: Series, new_id: Callable[[], str]) -> list[Mix]:
    """Cups to mix, one for each batch."""
    made: list[Mix] = []
    for batch in batches(series):
        plan = tuple((name, round(batch.total_kg * w, 7)) for name, w in design.mix_fractions(batch.members[0], batch.colour).items())
        drops = batch.dosing
        made.append(
            Mix(
                id=new_id(), series_id=series.id, colour=batch.colour, recipes=batch.letters, place=len(made) + 1, plan=plan, block=batch.block,
                drops=drops.drops if drops else 0, drop_material=batch.members[0].held.silicone if drops else "",
                drop_share=drops.drop_share if drops else 1.0,
            )
        )  # fmt: skip
    return made


def side_name(name: str, what: str, colours: Sequence[str]) -> str:
    """Name of a base's or an activator's cup; told apart where a colour of the cup has it already."""
    return f"{name}, {what}" if name in colours else name


def base_fractions(held: Constants) -> dict[str, float]:
    """Mass fractions of the base's mix, in the order of mixing."""
    plain = 1.0 - held.base_water_share - held.base_craze_share
    each = [(held.base, plain), (held.anti_craze, held.base_craze_share), (WATER, held.base_water_share)]
    return {name: share for name, share in each if share > 0.0}


def base_kg(series: Series, arm: Arm, density_kg_m3: float) -> float:
    """Base that all pieces of a recipe take, with what stays in the cup and the reserve; 0 where none is laid."""
    if arm.held.base_plan in (BasePlan.NONE, BasePlan.MIST):
        return 0.0
    return amounts.with_loss(amounts.base_m3(arm.held) * arm.panels * piece_share(series) * density_kg_m3, arm.held)


def activator_kg(series: Series, arm: Arm) -> float:
    """Activator that all pieces of a recipe take, with the reserve; 0 where none is laid."""
    if arm.held.activator == NO_ACTIVATOR:
        return 0.0
    return arm.held.activator_kg * arm.panels * piece_share(series) * (1.0 + arm.held.reserve)


def side_mixes(series: Series, new_id: Callable[[], str], first_place: int, density_kg_m3: Callable[[str], float]) -> list[Mix]:
    """Cups beside the colours: base and activator, one batch for all recipes that share them.

    They are mixed and checked like colours, so that their flow stands beside the colours' (domain: base or pillow consistency).
    """
    colours, recipes = colours_in(series), design.arms(series)
    wanted: dict[tuple[str, tuple[tuple[str, float], ...]], tuple[str, float]] = {}
    for arm in recipes:
        laid = base_fractions(arm.held)
        beside = [
            (side_name(arm.held.base, "base", colours), laid, base_kg(series, arm, density_kg_m3(arm.held.base))),
            (side_name(arm.held.activator, "activator", colours), {arm.held.activator: 1.0}, activator_kg(series, arm)),
        ]
        for name, shares, kg in beside:
            if kg > 0.0:
                key = (name, tuple(shares.items()))
                letters, total = wanted.get(key, ("", 0.0))
                wanted[key] = (letters + arm.letter, total + kg)
    made: list[Mix] = []
    for (name, shares_of), (letters, total) in wanted.items():
        whole = tuple((n, round(total * w, 7)) for n, w in shares_of)
        made.append(Mix(id=new_id(), series_id=series.id, colour=name, recipes=letters, place=first_place + len(made), plan=whole))
    return made


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
    """None where the shelf has no such container, or nobody entered what is left in it."""
    on_shelf: bool = True
    price_per_kg: float = 0.0
    hex: str = NO_HEX

    @property
    def short_kg(self) -> float:
        """How much is missing; water from the tap never is, and of what nobody entered it is not known."""
        if self.name == WATER or (self.on_shelf and self.stock_kg is None):
            return 0.0
        return max(self.kg - (self.stock_kg or 0.0), 0.0)


def drop_kg(material: Material | None) -> float:
    """Mass of one drop: as its container says, else the usual one."""
    return material.drop_kg if material is not None and material.drop_kg > 0.0 else DROP_KG


def demand(series: Series, shelf: Sequence[Material]) -> list[Demand]:
    """Everything a test takes: colours, mediums, thinners, additives, base, activator; from one batch for all panels."""
    known = {m.key: m for m in shelf}
    numbers = iter(range(1_000_000))
    planned = mixes(series, lambda: str(next(numbers)))
    colours = set(colours_in(series))
    need: dict[tuple[str, str], float] = {}

    def take(role: str, name: str, kg: float) -> None:
        if kg > 0.0:
            need[role, name] = need.get((role, name), 0.0) + kg

    for name, kg in demand_kg(planned).items():
        role = "colour" if name in colours else "thinner" if name in design.THINNERS else "medium"
        take(role, name, kg)
    for mix in planned:
        take("additive", mix.drop_material, mix.drops * mix.drop_share * drop_kg(known.get(mix.drop_material)))
    for arm in design.arms(series):
        held = arm.held
        take("activator", held.activator, activator_kg(series, arm))
        mass = base_kg(series, arm, known[held.base].density_kg_m3 if held.base in known else BASE_KG_M3)
        for name, share in base_fractions(held).items():
            take("base" if name == held.base else "thinner" if name == WATER else "medium", name, mass * share)
    return [
        Demand(
            role=role, name=name, kg=kg, m3=kg / (known[name].density_kg_m3 if name in known else 1000.0),
            stock_kg=known[name].stock_kg if name in known and (known[name].full_kg or known[name].stock_kg) else None,
            on_shelf=name in known, price_per_kg=known[name].price_per_kg if name in known else 0.0,
            hex=known[name].hex if name in known else NO_HEX,
        )
        for (role, name), kg in need.items()
    ]  # fmt: skip


def cost(need: Mapping[str, float], shelf: Sequence[Material]) -> float:
    """Money for what a set of cups takes."""
    price = {m.key: m.price_per_kg for m in shelf}
    return sum(kg * price.get(name, 0.0) for name, kg in need.items())


def paints(shelf: Sequence[Material]) -> list[Material]:
    """Materials that can be a layer of a cup."""
    return [m for m in shelf if m.kind in (Kind.PAINT, Kind.SHIMMER, Kind.BASE)]


def prices_per_kg(shelf: Sequence[Material]) -> tuple[tuple[str, float], ...]:
    """Price of each material, as a plan at equal cost keeps it."""
    return tuple((m.key, m.price_per_kg) for m in shelf if m.price_per_kg)
