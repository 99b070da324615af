"""What sinks in a cup by weight: from what was really weighed in."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup import composition
from dribbet.lab.paint import density
from dribbet.lab.plan.design import mix_fractions
from dribbet.studio.standing import pots, turning

if TYPE_CHECKING:
    from dribbet.records import Sheen
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

TENSIONS_N_M: Final = (0.1e-3, 1e-3)
"""Least and most tension between two wet paints (science: density and the cup); what follows is told as a range."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Sinking:
    """Layers of a cup from below, and what turns over."""

    layers: tuple[tuple[str, float], ...]
    """(colour, kg/m3 of its mix)."""
    joints: tuple[int, ...] = ()
    """Indices of layers below a heavier one."""
    patches_m: tuple[float, float] = (0.0, 0.0)
    """Least and most width of the patches that come of it."""
    begins_s: tuple[float, float] = (0.0, 0.0)
    """Least and most time in which those of the quickest joint grow by a factor e, in the film that is planned."""
    sheens: tuple[tuple[str, Sheen, str, Sheen], ...] = ()
    """Neighbours of unlike sheen: below, its sheen, above, its sheen."""


def of_group(desk: Desk, run: Run, group: str) -> Sinking:
    """What sinks in the cup of one recipe (a letter, and its block)."""
    arm = next(a for a in run.arms if a.letter == group[0])
    block, layers = pots.block_of(group), []
    for layer in run.series.layers:
        mix = next((m for m in run.mixes if group[0] in m.recipes and m.block == block and m.colour == layer.material), None)
        cup = {n: kg for n, kg in composition.weighed_in(mix, run.weighings).items() if kg > 0.0} if mix else {}
        layers.append((layer.material, composition.density_kg_m3(cup or mix_fractions(arm, layer.material), run.shelf)))
    joints = density.overturning_joints([d for _, d in layers])
    sheen = {m.key: m.sheen for m in run.shelf if m.sheen}
    sheens = tuple((a, sheen[a], b, sheen[b]) for (a, _), (b, _) in pairwise(layers) if a in sheen and b in sheen and sheen[a] is not sheen[b])
    if not joints:
        return Sinking(layers=tuple(layers), sheens=sheens)
    steps = [layers[i + 1][1] - layers[i][1] for i in joints]
    thick = turning.viscosities_of(desk, run, arm)

    def growth_per_s(joint: int, tension_n_m: float) -> float:
        (_, below), (above, heavy) = layers[joint], layers[joint + 1]
        film = arm.film_m * run.series.layers[joint + 1].share
        return density.growth_rate_per_s(heavy - below, tension_n_m, film, thick.get(above, arm.viscosity_pa_s))

    thin, wide = (density.fastest_wavelength_m(max(steps), gamma) for gamma in TENSIONS_N_M)
    soon, late = (1.0 / max(growth_per_s(i, gamma) for i in joints) for gamma in TENSIONS_N_M)
    return Sinking(layers=tuple(layers), joints=joints, patches_m=(thin, wide), begins_s=(soon, late), sheens=sheens)
