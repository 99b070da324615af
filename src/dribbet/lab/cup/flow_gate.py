"""Do the pots of one colour flow alike in all recipes: what a comparison at equal flow stands on (domain: basis of a comparison).

Read, never estimated: each pot's own reading since its last addition, put as the run of a drip. Recipes that are thinned to unlike
grades on purpose are compared after taking out what they were meant to differ by.
"""

from __future__ import annotations

from dataclasses import dataclass
from statistics import median
from typing import TYPE_CHECKING

from dribbet.lab.cup import matching
from dribbet.lab.plan.arm import grade_viscosity_pa_s

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.lab.cup.matching import Pot
    from dribbet.records import CheckKind, HouseRules


@dataclass(frozen=True, slots=True, kw_only=True)
class Compared:
    """One pot of the colour, with the recipes it is for and the grade they are thinned to on purpose (0 where none is)."""

    pot: Pot
    recipes: str
    grade: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class UnequalFlow:
    """The pot that stands farthest from the others of its colour, or pots that nothing compares."""

    colour: str
    recipes: str
    kind: CheckKind | None
    """Reading that all were compared by; None where there is none that all have."""
    apart: float = 1.0
    """How many times as far as the others it runs."""


def unlike(pots: Sequence[Compared], rules: HouseRules) -> UnequalFlow | None:
    """What bars a pour at equal flow among the pots of one colour; None where they flow alike within the band.

    A run goes as the viscosity to the power of -1/3 (Huppert 1982), so a grade's own viscosity says how far its pot should run.
    """
    if len(pots) < 2:
        return None
    kind = matching.compared_by([c.pot for c in pots], rules)
    read = {c.pot.mix_id: r[1] for c in pots if kind is not None and (r := matching.reading(c.pot, kind, rules)) is not None}
    missing = next((c for c in pots if c.pot.mix_id not in read), None)
    if missing is not None:
        return UnequalFlow(colour=missing.pot.name, recipes=missing.recipes, kind=None)
    runs = {c.pot.mix_id: read[c.pot.mix_id] * (grade_viscosity_pa_s(c.grade) ** (1.0 / 3.0) if c.grade else 1.0) for c in pots}
    middle = median(runs.values())
    worst = max(pots, key=lambda c: abs(runs[c.pot.mix_id] / middle - 1.0))
    apart = runs[worst.pot.mix_id] / middle
    return UnequalFlow(colour=worst.pot.name, recipes=worst.recipes, kind=kind, apart=apart) if abs(apart - 1.0) > rules.match_within else None
