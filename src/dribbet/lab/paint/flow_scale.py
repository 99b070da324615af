"""One scale for every kind of consistency reading: viscosity, with what a single reading of that kind is worth.

The scale is only as absolute as its starting constants; compared within one kind of reading it is far better, which is why
`lab.cup.matching` compares pots by one kind, and `lab.paint.learning` gives each kind a step of its own.
"""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Final

import numpy as np

from dribbet.lab.paint.consistency import GRAVITY_M_S2, ConsistencyError, FlowCup, drip_viscosity_m2_s, kinematic_viscosity_m2_s
from dribbet.records import CheckKind

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.records import Check, HomeCup, HouseRules

MOUND_S_PER_PA_S: Final = 2.5
"""Seconds a mound holds for each Pa s: a mound relaxes in a time that is proportional to viscosity (science: mound), and this
constant puts the middles of the grades (`GRADE_VISCOSITY_PA_S`) at the middles of their seconds."""
SD_LN: Final = {  # spread of one reading on ln viscosity: hand and stopwatch; our own choice until learned
    CheckKind.MOUND: 0.18,
    CheckKind.DRIP: 0.20,
    CheckKind.FLOW_CUP: 0.06,
    CheckKind.SLUMP: 0.35,
}
REACTION_S: Final = 0.25  # of a person with a stopwatch
HUPPERT_DISC: Final = 0.894  # radius of a viscous puddle: 0.894 (g V^3 t / (3 nu))^(1/8) (Huppert 1982, eq. 2.23)


def home_cup_viscosity_m2_s(seconds: float, cup: HomeCup) -> float:
    """Kinematic viscosity from a home-made cup: between its own liquids by nu = a t - b / t where two pin it, else by straight lines in logs.

    Raises
    ------
    ConsistencyError
        If the time lies outside what its liquids covered.
    """
    points = sorted(cup.points)
    low, high = points[0][0], points[-1][0]
    if not low <= seconds <= high:
        raise ConsistencyError(
            f"{seconds:g} s is outside what {cup.name} was tried with ({low:g} to {high:g} s). Time another known liquid through it in Set-up."
        )
    if len(points) == 2:
        (t1, n1), (t2, n2) = points
        a, b = np.linalg.solve([[t1, -1.0 / t1], [t2, -1.0 / t2]], [n1, n2])
        if a > 0.0 and b >= 0.0:
            return float(a * seconds - b / seconds)
    logs = np.log([p[0] for p in points]), np.log([p[1] for p in points])
    return float(np.exp(np.interp(np.log(seconds), *logs)))


def slump_viscosity_m2_s(diameter_m: float, *, volume_m3: float, seconds: float) -> float:
    """Kinematic viscosity from the disc a volume has spread to: nu = g V^3 t / 3 (0.894 / R)^8."""
    return GRAVITY_M_S2 * volume_m3**3 * seconds / 3.0 * (HUPPERT_DISC / (diameter_m / 2.0)) ** 8


def viscosity_pa_s(check: Check, *, density_kg_m3: float, rules: HouseRules) -> float:
    """Viscosity that one reading stands for.

    Raises
    ------
    ConsistencyError
        If the reading is outside its method, or is of a kind that says nothing of viscosity.
    """
    if check.kind is CheckKind.MOUND:
        return max(check.value, 0.1) / MOUND_S_PER_PA_S
    if check.kind is CheckKind.DRIP:
        if not check.value > 0.0:
            raise ConsistencyError("The drip did not run, so it only says that the paint is thick. Thin it, or set a larger drop.")
        seconds = check.seconds or rules.drip_seconds
        return density_kg_m3 * drip_viscosity_m2_s(check.value, volume_m3=rules.drip_m3, width_m=rules.drip_width_m, time_s=seconds)
    if check.kind is CheckKind.FLOW_CUP:
        own = next((c for c in rules.home_cups if c.name == check.tool), None)
        if own is not None:
            return density_kg_m3 * home_cup_viscosity_m2_s(check.value, own)
        known = next((c for c in FlowCup if c == check.tool), None)
        if known is None:
            raise ConsistencyError(f"There is no cup called “{check.tool}”. Choose a standard one, or enter your own in Set-up.")
        return density_kg_m3 * float(kinematic_viscosity_m2_s(check.value, known))
    if check.kind is CheckKind.SLUMP:
        return density_kg_m3 * slump_viscosity_m2_s(
            check.value, volume_m3=rules.slump_kg / density_kg_m3, seconds=check.seconds or rules.slump_seconds
        )
    raise ConsistencyError(f"A {check.kind} says nothing of viscosity.")


def sd_ln(check: Check) -> float:
    """Spread of ln viscosity of one reading; a stopwatch blurs short times."""
    base = SD_LN[check.kind]
    return math.hypot(base, REACTION_S / max(check.value, 0.3)) if check.kind is CheckKind.MOUND else base


def mean_of(values: Sequence[float]) -> tuple[float, float]:
    """Mean of repeated readings and their standard deviation; 0 where there is one."""
    mean = math.fsum(values) / len(values)
    return mean, math.sqrt(math.fsum((v - mean) ** 2 for v in values) / (len(values) - 1)) if len(values) > 1 else 0.0
