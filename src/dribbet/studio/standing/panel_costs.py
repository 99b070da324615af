"""What the panels of each recipe cost: what was mixed, what lies on the panel, what was poured off."""

from __future__ import annotations

from statistics import fmean
from typing import TYPE_CHECKING

from dribbet.lab.cup import composition
from dribbet.lab.paint import costs
from dribbet.records import Bottle, DribbetError, PanelWeight

if TYPE_CHECKING:
    from dribbet.lab.paint.costs import PanelCost
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run


def of_recipe(desk: Desk, run: Run, letter: str) -> PanelCost | None:
    """Cost of one panel of a recipe, the mean over its poured ones; None before anything was mixed, or without prices."""
    mixed = kept = 0.0
    stored = {b.mix_id: b.stored_kg - b.empty_kg for b in desk.notebook.all(Bottle) if b.mix_id}
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


def of_recipes(desk: Desk, run: Run, letters: str) -> list[tuple[str, PanelCost]]:
    """Cost of one panel of each of these recipes, where it is known."""
    found = [(letter, of_recipe(desk, run, letter)) for letter in letters]
    return [(letter, cost) for letter, cost in found if cost is not None]
