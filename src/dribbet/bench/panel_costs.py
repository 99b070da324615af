"""What the panels of each recipe cost: what was mixed, what lies on the panel, what was poured off. No widgets."""

from __future__ import annotations

from statistics import fmean
from typing import TYPE_CHECKING

from dribbet.bench.units import percent
from dribbet.lab.cup import composition
from dribbet.lab.paint import costs
from dribbet.records import Bottle, DribbetError, PanelWeight

if TYPE_CHECKING:
    from dribbet.bench.studio import Run, Studio
    from dribbet.lab.paint.costs import PanelCost


def of_recipe(studio: Studio, run: Run, letter: str) -> PanelCost | None:
    """Cost of one panel of a recipe, the mean over its poured ones; None before anything was mixed, or without prices."""
    mixed = kept = 0.0
    stored = {b.mix_id: b.stored_kg - b.empty_kg for b in studio.notebook.all(Bottle) if b.mix_id}
    for mix in run.mixes:
        if letter in mix.recipes:
            share = max(sum(p.recipe in mix.recipes and mix.block in (0, p.block) for p in run.panels), 1)
            mixed += sum(composition.weighed_in(mix, run.weighings).values()) / share
            kept += stored.get(mix.id, 0.0) / share
    arm = next(a for a in run.arms if a.letter == letter)
    cup = composition.of_cup(run.series, arm, run.mixes, run.weighings, run.shelf)
    per_kg = costs.of_amounts(cup, run.shelf)
    left = []
    for panel in run.panels:
        bare, poured = run.weight(panel, PanelWeight.BARE), run.weight(panel, PanelWeight.POURED)
        if panel.recipe == letter and bare is not None and poured is not None and poured > bare:
            left.append(poured - bare)
    if not mixed or not per_kg:
        return None
    try:
        return costs.of_panel(
            per_kg, mixed_kg=mixed, on_panel_kg=fmean(left) if left else None, kept_kg=min(kept, mixed - (fmean(left) if left else 0.0))
        )
    except DribbetError:
        return None


def sentence(studio: Studio, run: Run, letters: str) -> str:
    """What a panel of each of these recipes cost; empty where nothing is known."""
    said = []
    for letter in letters:
        found = of_recipe(studio, run, letter)
        if found is not None:
            gone = f", {percent(found.lost_share)} of it poured off" if found.on_panel else ""
            said.append(f"{letter} {found.mixed:.2f} a panel{gone}")
    return f"Paint cost: {'; '.join(said)}." if said else ""
