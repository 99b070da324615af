"""How long the panels of each recipe kept a person at the bench: weighing its cups, pouring its panels."""

from __future__ import annotations

from itertools import pairwise
from statistics import fmean
from typing import TYPE_CHECKING, Final

from dribbet.records import order

if TYPE_CHECKING:
    from collections.abc import Sequence
    from datetime import datetime

    from dribbet.records import Panel
    from dribbet.studio.run import Run

ONE_GO_S: Final = 900.0
"""A longer gap between two acts was no work at them: the person went away."""


def of_recipe(run: Run, letter: str) -> float | None:
    """Seconds at the bench for one panel of a recipe, the mean over its poured ones; None before any was weighed and poured."""
    poured = [s for p in run.panels if p.recipe == letter and not p.spoiled and (s := _pouring_s(run, p)) is not None]
    if not poured:
        return None
    mixing = 0.0
    for mix in run.mixes:
        if letter in mix.recipes:
            mixing += _gone_s([w.at for w in run.weighings if w.mix_id == mix.id]) / max(
                sum(p.recipe in mix.recipes and mix.block in (0, p.block) for p in run.panels), 1
            )
    return mixing + fmean(poured)


def of_recipes(run: Run, letters: str) -> dict[str, float]:
    """The same of each of these recipes, where it is known."""
    return {letter: seconds for letter in letters if (seconds := of_recipe(run, letter)) is not None}


def _pouring_s(run: Run, panel: Panel) -> float | None:
    mine = sorted((s for s in run.steps if s.panel_id == panel.id), key=order)
    return _gone_s([s.at for s in mine]) + mine[-1].planned_s if len(mine) > 1 else None


def _gone_s(moments: Sequence[datetime]) -> float:
    """Time between acts that followed each other in one go."""
    return sum(gap for a, b in pairwise(sorted(moments)) if (gap := (b - a).total_seconds()) <= ONE_GO_S)
