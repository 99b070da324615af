"""From the notebook's ledgers and checks to what `lab.paint.learning` learns from: each reading with what was in the cup just then."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, TypeVar

from dribbet.lab.cup import composition, house_mix, house_rules, matching
from dribbet.lab.paint import flow_scale
from dribbet.lab.paint.consistency import ConsistencyError
from dribbet.lab.paint.learning import CupReading, PastMix, reading_of
from dribbet.records import WATER, CheckKind, Kind, order

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence

    from dribbet.records import Check, HouseRules, Material, Mix, Weighing

T = TypeVar("T", "Weighing", "Check")


def medium_of(mix: Mix, shelf: Sequence[Material]) -> str:
    """Medium that a cup holds most of, by its plan; empty where it has none."""
    kinds = {m.key: m.kind for m in shelf}
    mediums = {n: kg for n, kg in house_mix.raw(dict(mix.plan), shelf).items() if kinds.get(n) is Kind.MEDIUM}
    return max(mediums, key=lambda n: mediums[n], default="")


def by_mix(things: Iterable[T]) -> dict[str, list[T]]:
    """Entries that count, by their cup."""
    found: dict[str, list[T]] = {}
    for thing in things:
        if not thing.taken_back:
            found.setdefault(thing.mix_id, []).append(thing)
    return found


@dataclass(frozen=True, slots=True)
class Told:
    """What one cup has to tell."""

    line: tuple[str, str]
    """Its paint and its medium."""
    readings: tuple[CupReading, ...]
    past: PastMix | None
    """The cup as it was at its last reading, if that says a grade."""


def told_by(mix: Mix, ledger: Sequence[Weighing], checks: Sequence[Check], shelf: Sequence[Material], rules: HouseRules) -> Told:
    """Readings of one cup, each with what its ledger held at that moment."""
    medium = medium_of(mix, shelf)
    found = []
    for check in checks:
        held = composition.weighed_in(mix, [w for w in ledger if order(w) <= order(check)])
        if not sum(held.values()) > 0.0:
            continue
        reading = reading_of(
            check,
            mix.id,
            composition.volumes_by_role(held, mix.colour, medium, shelf),
            paint="paint",
            medium="medium",
            density_kg_m3=composition.density_kg_m3(held, shelf),
            rules=rules,
        )
        if reading is not None:
            found.append(reading)
    return Told((mix.colour, medium), tuple(found), _past(mix, medium, ledger, checks, shelf, rules))


def _past(mix: Mix, medium: str, ledger: Sequence[Weighing], checks: Sequence[Check], shelf: Sequence[Material], rules: HouseRules) -> PastMix | None:
    held = house_mix.raw({n: kg for n, kg in composition.weighed_in(mix, ledger).items() if kg > 0.0}, shelf)
    if not checks or not held.get(mix.colour, 0.0) > 0.0:
        return None
    grade = grade_of(mix, checks, composition.density_kg_m3(held, shelf), rules)
    if not grade:
        return None
    return PastMix(
        paint=mix.colour,
        medium=medium,
        medium_to_paint=held.get(medium, 0.0) / held[mix.colour],
        water_share=held.get(WATER, 0.0) / sum(held.values()),
        grade=grade,
    )


def viscosity_of(mix: Mix, checks: Sequence[Check], density_kg_m3: float, rules: HouseRules) -> float | None:
    """Viscosity by a mix's own mound or flow cup (a drip or a slump is only good for ratios); None without either."""
    for kind in (CheckKind.FLOW_CUP, CheckKind.MOUND):
        mine = [c for c in checks if c.mix_id == mix.id and c.kind is kind and not c.taken_back]
        found = matching.latest(mine, kind)
        if found is not None:
            last = max(mine, key=order)
            try:
                return flow_scale.viscosity_pa_s(replace(last, value=found[0]), density_kg_m3=density_kg_m3, rules=rules)
            except ConsistencyError:
                continue
    return None


def grade_of(mix: Mix, checks: Sequence[Check], density_kg_m3: float, rules: HouseRules) -> int:
    """Consistency grade by a mix's own reading; 0 where it has none that says."""
    viscosity = viscosity_of(mix, checks, density_kg_m3, rules)
    return house_rules.grade_of(viscosity * flow_scale.MOUND_S_PER_PA_S, rules) if viscosity is not None else 0
