"""What is measured of a container, and when it must be measured again (domain: materials)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from statistics import fmean
from typing import TYPE_CHECKING, Final

from dribbet.lab.paint.consistency import puddle_yield_stress_pa
from dribbet.lab.paint.flow_scale import mean_of
from dribbet.records import DribbetError, GaugingKind, Kind, Material, Opacity, latest

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence

    from dribbet.records import Gauging

SYRINGE_M3: Final = 10e-6
AGREE_WITHIN: Final = 0.01  # two fillings of a syringe that differ by more have air in one of them
DENSITY_RANGE: Final = (600.0, 3000.0)
BODY_PA: Final = (
    (0.5, "runs like a ready-mixed paint"),
    (3.0, "flows slowly"),
    (15.0, "soft, keeps a low mark"),
    (math.inf, "heavy, stands as it is put"),
)
"""Yield stress of a slump disc against how the paint feels; our own words and limits, to place a paint among its owner's others."""
START_BY_BODY: Final = (1.0, 2.0, 2.0, 3.0)
"""Parts of conditioner to one of paint for those four, before the person's own mixes say better (starting figures)."""
RECHECKED: Final = (GaugingKind.DENSITY, GaugingKind.BODY)


def density_of_fillings(fillings_kg: Sequence[float], empty_kg: float = 0.0, volume_m3: float = SYRINGE_M3) -> float:
    """Density from a syringe filled and weighed, twice or more.

    Raises
    ------
    DribbetError
        If the fillings differ too much, or the result is no paint.
    """
    nets = [kg - empty_kg for kg in fillings_kg]
    if len(nets) < 2:
        raise DribbetError("Fill and weigh the syringe twice: one filling cannot show that air was in it.")
    mean, _ = mean_of(nets)
    low, high = DENSITY_RANGE
    if not low <= mean / volume_m3 <= high:
        raise DribbetError(
            f"{mean * 1e3:g} g in {volume_m3 * 1e6:g} mL is no liquid of this bench. Take the empty syringe off, and check that it was full."
        )
    if (max(nets) - min(nets)) > AGREE_WITHIN * mean:
        raise DribbetError(f"The fillings differ by {(max(nets) - min(nets)) * 1e3:.2f} g. Press the air out, fill again, and weigh once more.")
    return mean / volume_m3


def density_sd(fillings_kg: Sequence[float], empty_kg: float = 0.0, volume_m3: float = SYRINGE_M3) -> float:
    """Standard deviation of the density over the fillings."""
    return mean_of([(kg - empty_kg) / volume_m3 for kg in fillings_kg])[1]


def slump_diameter_m(diameters_m: Sequence[float]) -> float:
    """Mean of two diameters of a slump disc, across each other."""
    if len(diameters_m) < 2:
        raise DribbetError("Measure the disc twice, once across the other way: it is never quite round.")
    if max(diameters_m) > 1.4 * min(diameters_m):
        raise DribbetError("The disc is far from round. Level the plate, and set the sample down again.")
    return fmean(diameters_m)


@dataclass(frozen=True, slots=True, kw_only=True)
class Body:
    """Body of a paint as it leaves its container."""

    yield_pa: float
    words: str
    start_parts: float
    """Conditioner to one part of paint to start from."""


def body_of(diameter_m: float, *, sample_kg: float, density_kg_m3: float) -> Body:
    """Body from the disc that a fixed mass spreads to: tau = 225 rho g V^2 / (128 pi^2 R^5)."""
    stress = puddle_yield_stress_pa(sample_kg / density_kg_m3, diameter_m / 2.0, density_kg_m3)
    at = next(i for i, (limit, _) in enumerate(BODY_PA) if stress <= limit)
    return Body(yield_pa=stress, words=BODY_PA[at][1], start_parts=START_BY_BODY[at])


def newest(gaugings: Iterable[Gauging], material: Material, kind: GaugingKind) -> Gauging | None:
    """Latest measurement of a kind."""
    mine = [g for g in gaugings if g.material_id == material.id and g.kind is kind and not g.taken_back]
    return latest(mine)


def to_check(material: Material, gaugings: Sequence[Gauging]) -> tuple[GaugingKind, ...]:
    """What a new lot asks to be measured again: what was measured before it came."""
    if material.lot_since is None:
        return ()
    found = []
    for kind in RECHECKED:
        last = newest(gaugings, material, kind)
        if (last is None and kind is GaugingKind.DENSITY) or (last is not None and last.at < material.lot_since):
            found.append(kind)
    return tuple(found)


def hidden_shimmer(agent: Material, partner: Material) -> bool:
    """Whether a shimmer agent will hardly show, because its partner hides it."""
    return agent.kind is Kind.SHIMMER and partner.opacity is Opacity.OPAQUE and partner.kind is Kind.PAINT
