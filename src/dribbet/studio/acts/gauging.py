"""Guided measurements of a container or a bottle: what a reading may be, and what is kept of them."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup import bottles
from dribbet.lab.paint import containers
from dribbet.records import BottleWeighing, DribbetError, GaugingKind
from dribbet.studio.acts.shelving import Shelving

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.lab.cup.bottles import Stand
    from dribbet.lab.paint.containers import Body
    from dribbet.records import Bottle, Material
    from dribbet.studio.desk import Desk

COUNTS: Final = {GaugingKind.DROP: 20, GaugingKind.TEASPOON: 3, GaugingKind.SQUIRT: 10, GaugingKind.PEA: 10}
"""How many are weighed together."""
HEAP: Final = (0.2, 3.0)
"""Of the mass that a slump disc is set down with: less or more is another heap."""
LONGEST_RUN_M: Final = 1.0


@dataclass(frozen=True, slots=True, kw_only=True)
class DensityWeighed:
    """Density in kg/m3 and by how much the fillings differ."""

    value: float
    spread: float


@dataclass(frozen=True, slots=True, kw_only=True)
class BodySeen:
    """Diameter of a slump disc in m, and the body that it stands for."""

    diameter_m: float
    body: Body


@dataclass(frozen=True, slots=True, kw_only=True)
class BottleAgain:
    """A bottle that was weighed again: what it lost, and what was given back, in kg."""

    lost_kg: float
    given_kg: float


def syringe(kg: Sequence[float]) -> None:
    """Refuse a filling that is no heavier than the empty syringe (`kg`: empty, then fillings)."""
    if len(kg) > 1 and kg[-1] <= kg[0]:
        raise DribbetError("The filled syringe is not heavier than the empty one. Fill it to 10 mL, and weigh it again.")


def density(desk: Desk, m: Material, kg: Sequence[float]) -> DensityWeighed:
    """Keep a density: the empty syringe, then its fillings of 10 mL."""
    value = containers.density_of_fillings(list(kg[1:]), kg[0])
    Shelving(desk).measured(replace(m, density_kg_m3=value), GaugingKind.DENSITY, value, tuple(kg))
    return DensityWeighed(value=value, spread=containers.density_sd(list(kg[1:]), kg[0]))


def heap(desk: Desk, kg: float) -> None:
    """Refuse a heap for the slump disc that is far from what the rules ask."""
    wanted = desk.rules.slump_kg
    if not HEAP[0] <= kg / wanted <= HEAP[1]:
        raise DribbetError(f"That is {kg * 1e3:.1f} g. Set about {wanted * 1e3:g} g down, so that discs compare.")


def body(desk: Desk, m: Material, kg: float, across_m: Sequence[float]) -> BodySeen:
    """Keep the body of a container by a slump disc: its mass, and its diameter in two directions."""
    diameter = containers.slump_diameter_m(list(across_m))
    found = containers.body_of(diameter, sample_kg=kg, density_kg_m3=m.density_kg_m3)
    Shelving(desk).measured(m, GaugingKind.BODY, diameter, tuple(across_m), sample_kg=kg, seconds=desk.rules.slump_seconds)
    return BodySeen(diameter_m=diameter, body=found)


def run(run_m: float) -> None:
    """Refuse a run that no drip makes."""
    if not 0.0 < run_m < LONGEST_RUN_M:
        raise DribbetError("That is no run. Measure from the top of the drop to its tip, in mm; 1 where it did not run at all.")


def drip(desk: Desk, m: Material, run_m: float) -> None:
    """Keep how far a drip of neat paint ran."""
    Shelving(desk).measured(m, GaugingKind.DRIP, run_m, (run_m,), seconds=desk.rules.drip_seconds)


def together(desk: Desk, m: Material, kind: GaugingKind, kg: float) -> float:
    """Keep what one drop, spoon, squirt or pea weighs, by several of them; returns it in kg."""
    if not kg > 0.0:
        raise DribbetError(f"The scale saw nothing of {COUNTS[kind]} {kind}s. Let more fall, or use a finer scale.")
    one = kg / COUNTS[kind]
    changed = replace(m, drop_kg=one) if kind is GaugingKind.DROP else m
    Shelving(desk).measured(changed, kind, one, (kg,), count=COUNTS[kind])
    return one


def filled(kg: Sequence[float]) -> None:
    """Refuse a bottle that is no heavier full than empty."""
    if len(kg) == 2 and kg[1] <= kg[0]:
        raise DribbetError("The capped bottle is not heavier than the empty one. Weigh it full, with its cap.")


def cap(desk: Desk, b: Bottle, kg: Sequence[float]) -> float:
    """Keep the empty and the capped weight of a bottle that was just filled; returns what it holds in kg."""
    Shelving(desk).cap(b, kg[0], kg[1])
    return kg[1] - kg[0]


def bottle(b: Bottle, kg: float) -> None:
    """Refuse a weight below the bottle's own."""
    if b.empty_kg and kg < b.empty_kg:
        raise DribbetError(f"The empty bottle alone weighs {b.empty_kg * 1e3:.1f} g. Put the right bottle on the scale.")


def stands(desk: Desk, b: Bottle, gross_kg: float) -> Stand:
    """How a bottle stands that weighs so much now."""
    known = desk.notebook.all(BottleWeighing, bottle_id=b.id)
    return bottles.stand(b, [*known, Shelving(desk).weighing(b, gross_kg)])


def wants_back_kg(desk: Desk, b: Bottle, gross_kg: float) -> float:
    """Water that a bottle wants back when it weighs so much now."""
    return stands(desk, b, gross_kg).lost_kg


def worth_it(desk: Desk, b: Bottle, gross_kg: float) -> bool:
    """Whether a bottle lost so much water that giving it back is worth the trouble."""
    return wants_back_kg(desk, b, gross_kg) >= bottles.WORTH_G


def weigh_again(desk: Desk, b: Bottle, kg: Sequence[float]) -> BottleAgain:
    """Keep the weight of a stored bottle, and the water that was given back."""
    lost, given = stands(desk, b, kg[0]).lost_kg, kg[1] if len(kg) > 1 else 0.0
    Shelving(desk).weigh_bottle(b, kg[0], given)
    return BottleAgain(lost_kg=lost, given_kg=given)
