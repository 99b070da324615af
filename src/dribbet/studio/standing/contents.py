"""What stands in a cup: its plan as a ratio, how thick the plan will come out, what is really in it, what its materials ask care for."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup import composition, house_mix, house_rules, parts
from dribbet.lab.cup.recipe import WATER_KG_M3, dose_mg_per_100g
from dribbet.lab.paint import containers, costs, flow_scale, history, measures
from dribbet.lab.paint.consistency import GRADE_VISCOSITY_PA_S
from dribbet.lab.paint.learning import starting_ln
from dribbet.records import WATER, BasePlan, Basis, DribbetError, Hazard, Kind
from dribbet.studio.learned import LEAST_READINGS
from dribbet.studio.standing import cups

if TYPE_CHECKING:
    from collections.abc import Mapping

    from dribbet.lab.cup.filling import Filling
    from dribbet.records import Material, Mix, Technique
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

LEAST_OFF: Final = 5e-4
"""Difference of a share from its plan that is said."""


# ---------------------------------------------------------------- the plan as a ratio


@dataclass(frozen=True, slots=True, kw_only=True)
class Ratio:
    """A plan to one part of its paint, by weight and by volume, in the order in which it goes in."""

    paint: str
    by_mass: Mapping[str, float]
    by_volume: Mapping[str, float]
    shares: Mapping[str, float]
    total_kg: float
    step_kg: float
    off: float | None = None
    """Most that the scale's step changes a share; None where the step is too coarse for any of it."""
    refused: str = ""
    """What the scale cannot do, where it cannot."""


def ratio(desk: Desk, mix: Mix, shelf: Mapping[str, Material]) -> Ratio | None:
    """The plan of a cup as a ratio; None where there is nothing to mix the paint with."""
    plan = dict(mix.plan)
    if not plan.get(mix.colour) or len(plan) < 2:
        return None
    known = {n: shelf[n].density_kg_m3 if n in shelf else WATER_KG_M3 for n in plan}
    step, off, refused = desk.rules.scale_step_kg, None, ""
    try:
        off = max(abs(x) for x in parts.rounded(plan, step)[1].values())
    except DribbetError as error:
        refused = str(error)
    return Ratio(
        paint=mix.colour,
        by_mass=parts.to_one(plan, mix.colour),
        by_volume=parts.to_one(parts.converted(plan, known, have=Basis.MASS, want=Basis.VOLUME), mix.colour),
        shares=parts.percentages(plan),
        total_kg=math.fsum(plan.values()),
        step_kg=step,
        off=off,
        refused=refused,
    )


# ---------------------------------------------------------------- how thick it will come out


@dataclass(frozen=True, slots=True, kw_only=True)
class CupForecast:
    """A plan that by the person's own cups comes out of another grade than its way to pour wants."""

    readings: int
    cups: int
    grade: int
    technique: Technique
    wants: tuple[int, int]
    water_kg: tuple[float, float] | None = None
    """How much water more would thin it, from and to; None where it comes out too thin."""


def forecast(desk: Desk, run: Run, mix: Mix) -> CupForecast | None:
    """How thick a plan will come out; None where nothing is known of its paint, or where it suits."""
    medium = history.medium_of(mix, run.shelf)
    line = desk.learned.line(mix.colour, medium)
    if line.readings < LEAST_READINGS:
        return None
    rules, technique = desk.rules, cups.arm_of(run, mix).technique
    volumes = composition.volumes_by_role(dict(mix.plan), mix.colour, medium, run.shelf)
    others = {n: v for n, v in volumes.items() if n not in ("paint", "medium", WATER)}
    whole = sum(volumes.values())
    plain = {n: volumes.get(n, 0.0) for n in ("paint", "medium", WATER)}
    others_ln = sum(v * starting_ln(n) for n, v in others.items())
    told = line.ln_viscosity({n: v / whole for n, v in plain.items()}, others_ln=others_ln / whole)
    grade = house_rules.grade_of(math.exp(told.value) * flow_scale.MOUND_S_PER_PA_S, rules)
    low, high = house_rules.window(technique, rules)
    if low <= grade <= high:
        return None
    water = None
    if grade > high:
        more = line.water_to_add_m3(plain | {"others": sum(others.values())}, math.log(GRADE_VISCOSITY_PA_S[high]), others_ln_m3=others_ln)
        water = more.low * WATER_KG_M3, more.high * WATER_KG_M3
    return CupForecast(readings=told.readings, cups=told.cups, grade=grade, technique=technique, wants=(low, high), water_kg=water)


# ---------------------------------------------------------------- what is really in it


@dataclass(frozen=True, slots=True, kw_only=True)
class Held:
    """An ingredient by its share of what is in the cup, and by its plan."""

    key: str
    share: float
    planned: float

    @property
    def off(self) -> bool:
        """Whether the two differ by as much as is said."""
        return abs(self.share - self.planned) >= LEAST_OFF


@dataclass(frozen=True, slots=True, kw_only=True)
class Dropped:
    """What was dropped in, as a dose. Milligrams in 100 g."""

    drops: float
    of_colour: float
    of_cup: float
    drop_kg: float
    weighed: int
    """Drops that were weighed to know what one weighs; nought where nobody did."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Shimmers:
    """A shimmer agent: its share of the wet mix and of the dry film."""

    key: str
    wet: float
    dry: float
    shows_from: float | None = None
    """Share of the wet mix from which it shows, where there is less of it."""
    hidden_by: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Contents:
    """What really is in a cup."""

    held: tuple[Held, ...]
    dries_to: float
    """Share of its volume that stays."""
    paint: float
    little: float | None = None
    """The person's least share of paint, where there is less."""
    dropped: Dropped | None = None
    shimmers: tuple[Shimmers, ...] = ()
    money: float = 0.0
    unpriced: str = ""


def contents(desk: Desk, run: Run, mix: Mix, now: Filling, shelf: Mapping[str, Material]) -> Contents | None:
    """Actual against planned, solids, dose, cost; None while nothing is in the cup."""
    if not now.total:
        return None
    planned = dict(mix.plan)
    whole = math.fsum(planned.values())
    raw = house_mix.raw({n: kg / now.total for n, kg in now.held.items()}, run.shelf)
    paint = sum(share for n, share in raw.items() if n in shelf and shelf[n].kind in (Kind.PAINT, Kind.SHIMMER))
    money = costs.of_amounts(now.held, run.shelf)
    left_out = costs.unpriced(now.held, run.shelf) if money > 0.0 else ()
    return Contents(
        held=tuple(Held(key=n, share=now.held.get(n, 0.0) / now.total, planned=kg / whole) for n, kg in planned.items()),
        dries_to=composition.volume_solids(raw, run.shelf),
        paint=paint,
        little=desk.rules.least_paint if 0.0 < paint < desk.rules.least_paint else None,
        dropped=_dropped(desk, run, mix, now, shelf),
        shimmers=shimmers(raw, shelf),
        money=money,
        unpriced=left_out[0] if left_out else "",
    )


def _dropped(desk: Desk, run: Run, mix: Mix, now: Filling, shelf: Mapping[str, Material]) -> Dropped | None:
    material = shelf.get(mix.drop_material)
    inside = now.held.get(mix.drop_material, 0.0)
    if material is None or inside <= 0.0:
        return None
    drops = inside / cups.drop_kg(desk, run, mix)
    cup_kg = now.total / max(sum(layer.share for layer in run.series.layers if layer.material == mix.colour), 1e-9)
    drop = measures.one("drop", material, desk.gaugings())
    return Dropped(
        drops=drops,
        of_colour=dose_mg_per_100g(drops, drop.kg, now.total),
        of_cup=dose_mg_per_100g(drops, drop.kg, cup_kg),
        drop_kg=drop.kg,
        weighed=drop.count if drop.own else 0,
    )


def shimmers(raw: Mapping[str, float], shelf: Mapping[str, Material]) -> tuple[Shimmers, ...]:
    """Shimmer agents: their share of the wet mix and of the dry film, against what shows, and what hides them."""
    solids = {n: share / shelf[n].density_kg_m3 * shelf[n].volume_solids for n, share in raw.items() if n in shelf}
    made = []
    for key, share in raw.items():
        agent = shelf.get(key)
        if agent is None or not (agent.smallest_share or agent.kind is Kind.SHIMMER):
            continue
        made.append(
            Shimmers(
                key=key,
                wet=share,
                dry=solids[key] / sum(solids.values()) if sum(solids.values()) else 0.0,
                shows_from=agent.smallest_share if agent.smallest_share and share < agent.smallest_share else None,
                hidden_by=next((n for n in raw if n in shelf and containers.hidden_shimmer(agent, shelf[n])), ""),
            )
        )
    return tuple(made)


# ---------------------------------------------------------------- care


def care(run: Run) -> tuple[tuple[Hazard, tuple[str, ...]], ...]:
    """What each material of a series asks care for: the hazard, and who has it; each once."""
    shelf = {m.key: m for m in run.shelf}
    names = {n for m in run.mixes for n, _ in m.plan} | {m.drop_material for m in run.mixes if m.drop_material}
    held = [a.held for a in run.arms]
    names |= {h.silicone for h in held if h.silicone_drops_per_100g} | {h.base for h in held if h.base_plan not in (BasePlan.NONE, BasePlan.MIST)}
    found: dict[Hazard, list[str]] = {}
    for key in sorted(names & set(shelf)):
        for hazard in dict.fromkeys((*shelf[key].hazards, *([Hazard.DUST] if shelf[key].is_powder else []))):
            found.setdefault(hazard, []).append(key)
    return tuple((hazard, tuple(who)) for hazard, who in found.items())
