"""What a person's own limits, windows and offsets say of a pot; the usual ones where they set none."""

from __future__ import annotations

from typing import TYPE_CHECKING

from dribbet.lab.paint.consistency import TECHNIQUE_GRADES, grade
from dribbet.lab.plan.planning import side_name
from dribbet.records import Factor, HouseRules, Kind, Role, Technique

if TYPE_CHECKING:
    from collections.abc import Mapping

    from dribbet.lab.plan.arm import Arm
    from dribbet.records import Material, Series


def window(technique: Technique, rules: HouseRules) -> tuple[int, int]:
    """Lowest and highest grade that a way of pouring wants."""
    own = next(((w.low, w.high) for w in rules.windows if w.technique is technique), None)
    return own or TECHNIQUE_GRADES[technique]


def grade_of(mound_s: float, rules: HouseRules) -> int:
    """Grade 1 to 5 by the person's own limits."""
    return grade(mound_s, rules.grade_limits_s)


def seconds_of(low: int, high: int, rules: HouseRules) -> tuple[float, float]:
    """Mound seconds from the thin end of one grade to the thick end of another; grade 5 has no end."""
    limits = (0.0, *rules.grade_limits_s, float("inf"))
    return limits[low - 1], limits[high]


def techniques_for(grades: list[int], rules: HouseRules, most_out: float = 0.2) -> list[Technique]:
    """Ways of pouring that suit nearly all pots of a set."""
    if not grades:
        return []
    fits = []
    for technique in TECHNIQUE_GRADES:
        low, high = window(technique, rules)
        if sum(low <= g <= high for g in grades) >= len(grades) * (1.0 - most_out):
            fits.append(technique)
    return fits


def role_of(colour: str, arm: Arm, series: Series, shelf: Mapping[str, Material]) -> Role:
    """What a pot is in the pour."""
    colours = [layer.material for layer in arm.layers]
    if arm.held.activator != "none" and colour == side_name(arm.held.activator, "activator", colours):
        return Role.ACTIVATOR
    if colour == side_name(arm.held.base, "base", colours):
        return Role.BASE
    if arm.technique is Technique.SWIPE and arm.layers and colour == arm.layers[-1].material and not series.varies(Factor.ORDER):
        return Role.SWIPE
    if colour in shelf and shelf[colour].kind is Kind.SHIMMER:
        return Role.METALLIC
    return Role.COLOUR


def offset(role: Role, rules: HouseRules) -> float:
    """How much farther than the set this role's drip should run."""
    return next((o.runs for o in rules.offsets if o.role is role), 1.0)
