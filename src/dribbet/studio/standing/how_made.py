"""How a panel was made, as far as it was weighed, timed or read."""

from __future__ import annotations

import math
from statistics import fmean
from typing import TYPE_CHECKING

from dribbet.lab.panel import pouring
from dribbet.lab.verdict.causes import Trait
from dribbet.records import CheckKind, Does, How, Step
from dribbet.studio.standing import panels, pots
from dribbet.studio.standing.panels import progress_of

if TYPE_CHECKING:
    from dribbet.records import Panel
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run


def figures_of(desk: Desk, run: Run, panel: Panel) -> dict[Trait, float]:
    """How a panel was made, as far as it was weighed, timed or read; what was only planned counts where a cup was mixed by it."""
    arm, held = run.arm(panel), run.held(panel)
    found = {
        Trait.WATER: arm.water_share, Trait.PAINT: arm.paint_share, Trait.SILICONE: arm.silicone_drops_per_100g, Trait.ALCOHOL: arm.alcohol_share,
        Trait.ANTI_CRAZE: arm.anti_craze_share, Trait.POURED: held.poured_kg, Trait.ORDER: float(panel.place),
        Trait.DRYING: panels.causes(desk, run, panel).evaporation_kg_m2_s,
    }  # fmt: skip
    film = panels.film(desk, run, panel)
    if film.weighed:
        found[Trait.FILM] = film.wet_m
    rest = pots.rested_h(run, panel.recipe)
    if rest is not None:
        found[Trait.MIX_REST] = rest * 3600.0
    drips = [c.value for c in run.checks if c.kind is CheckKind.DRIP and any(m.id == c.mix_id and panel.recipe in m.recipes for m in run.mixes)]
    if drips:
        found[Trait.FLOW] = fmean(drips)
    pour = progress_of(run, panel)
    if pour.begun:
        heated = [s for s in pour.stages if s.plan.step is Step.TORCH and s.mark is not None and s.mark.how is not How.SKIPPED]
        found[Trait.HEAT_PASSES] = math.fsum(_passes(s, held.torch_passes) for s in heated)
        after = pouring.heat_after_s(pour)
        if after is not None:
            found[Trait.HEAT_AFTER] = after
        rested = next((s for s in pour.stages if s.plan.step is Step.REST and s.mark is not None), None)
        later = next((s for s in pour.stages if s.plan.step is Step.LIFT and s.mark is not None), None)
        if rested is not None and later is not None and rested.mark is not None and later.mark is not None:
            found[Trait.DWELL] = (later.mark.at - rested.mark.at).total_seconds()
    return found


def _passes(heated: pouring.PourStage, planned: int) -> float:
    """Passes of one heating, as they were told, else as planned."""
    told = next((f.value for f in heated.mark.figures if f.does is Does.PASSES), None) if heated.mark is not None else None
    return float(planned) if told is None else told
