"""From the notebook's ledgers and checks to what `lab.learning` learns from: each reading with what was in the cup just then."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, TypeVar

from dribbet.lab import composition, flow_scale, house_mix, house_rules, matching
from dribbet.lab.consistency import ConsistencyError
from dribbet.lab.learning import CupReading, PastMix, reading_of
from dribbet.records import CheckKind, Kind

if TYPE_CHECKING:
    from collections.abc import Iterable, Mapping, Sequence

    from dribbet.records import Check, HouseRules, Material, Mix, Weighing

T = TypeVar("T", "Weighing", "Check")


def medium_of(mix: Mix, shelf: Sequence[Material]) -> str:
    """Medium that a cup holds most of, by its plan; empty where it has none."""
    kinds = {m.name: m.kind for m in shelf}
    mediums = {n: kg for n, kg in house_mix.raw(dict(mix.plan), shelf).items() if kinds.get(n) is Kind.MEDIUM}
    return max(mediums, key=lambda n: mediums[n], default="")


def _by_mix(things: Iterable[T]) -> dict[str, list[T]]:
    found: dict[str, list[T]] = {}
    for thing in things:
        if not thing.taken_back:
            found.setdefault(thing.mix_id, []).append(thing)
    return found


def readings(
    mixes: Sequence[Mix], weighings: Iterable[Weighing], checks: Iterable[Check], shelf: Sequence[Material], rules: HouseRules
) -> dict[tuple[str, str], list[CupReading]]:
    """Readings by paint and medium, each with the cup as its ledger stood at that moment."""
    ledgers, read = _by_mix(weighings), _by_mix(checks)
    found: dict[tuple[str, str], list[CupReading]] = {}
    for mix in mixes:
        medium = medium_of(mix, shelf)
        for check in read.get(mix.id, ()):
            held = composition.weighed_in(mix, [w for w in ledgers.get(mix.id, ()) if w.at <= check.at])
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
                found.setdefault((mix.colour, medium), []).append(reading)
    return found


def past_mixes(
    mixes: Sequence[Mix], weighings: Iterable[Weighing], checks: Iterable[Check], shelf: Sequence[Material], rules: HouseRules
) -> list[PastMix]:
    """Every cup that was weighed and read, as it was at its last reading."""
    ledgers, read = _by_mix(weighings), _by_mix(checks)
    found = []
    for mix in mixes:
        grade = grade_of(mix, read.get(mix.id, ()), composition_density(mix, ledgers, shelf), rules)
        held = house_mix.raw(composition.weighed_in(mix, ledgers.get(mix.id, ())), shelf)
        total, medium = sum(held.values()), medium_of(mix, shelf)
        if grade and held.get(mix.colour, 0.0) > 0.0:
            found.append(
                PastMix(
                    paint=mix.colour,
                    medium=medium,
                    medium_to_paint=held.get(medium, 0.0) / held[mix.colour],
                    water_share=held.get("water", 0.0) / total,
                    grade=grade,
                )
            )
    return found


def composition_density(mix: Mix, ledgers: Mapping[str, Sequence[Weighing]], shelf: Sequence[Material]) -> float:
    """Density of a cup by its ledger; by its plan where nothing is in it."""
    held = composition.weighed_in(mix, ledgers.get(mix.id, ())) or dict(mix.plan)
    return composition.density_kg_m3({n: kg for n, kg in held.items() if kg > 0.0} or dict(mix.plan), shelf)


def viscosity_of(mix: Mix, checks: Sequence[Check], density_kg_m3: float, rules: HouseRules) -> float | None:
    """Viscosity by a mix's own mound or flow cup (a drip or a slump is only good for ratios); None without either."""
    for kind in (CheckKind.FLOW_CUP, CheckKind.MOUND):
        mine = [c for c in checks if c.mix_id == mix.id and c.kind is kind and not c.taken_back]
        found = matching.latest(mine, kind)
        if found is not None:
            last = max(mine, key=lambda c: c.at)
            try:
                return flow_scale.viscosity_pa_s(replace(last, value=found[0]), density_kg_m3=density_kg_m3, rules=rules)
            except ConsistencyError:
                continue
    return None


def grade_of(mix: Mix, checks: Sequence[Check], density_kg_m3: float, rules: HouseRules) -> int:
    """Consistency grade by a mix's own reading; 0 where it has none that says."""
    viscosity = viscosity_of(mix, checks, density_kg_m3, rules)
    return house_rules.grade_of(viscosity * flow_scale.MOUND_S_PER_PA_S, rules) if viscosity is not None else 0
