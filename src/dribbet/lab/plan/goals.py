"""How near a recipe comes to a goal, kept apart from what was measured (Derringer and Suich 1980, J. Quality Technology 12)."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import TYPE_CHECKING

from dribbet.records import Aim, Response, Wanted

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from dribbet.records import Goal


def desirability(value: float, aim: Aim, wanted: Wanted, seen: tuple[float, float]) -> float:
    """How well one response does, 0 to 1.

    Inside the goal's range it is 1, and it falls straight to 0 one width of the range beyond its ends; a range with one end
    falls over the spread of what was seen. Without a range it rises (or falls) over what was seen.
    """
    low, high = aim.low, aim.high
    spread = max(seen[1] - seen[0], 1e-9)
    if low is None and high is None:
        share = (value - seen[0]) / spread
        return min(max(share if wanted is Wanted.MORE else 1.0 - share, 0.0), 1.0)
    reach = (high - low) if low is not None and high is not None and high > low else spread
    if low is not None and value < low:
        return max(0.0, 1.0 - (low - value) / reach)
    if high is not None and value > high:
        return max(0.0, 1.0 - (value - high) / reach)
    return 1.0


def unbeaten(told: Mapping[str, tuple[float, float]]) -> tuple[str, ...]:
    """Recipes that no other beats in both liking (more is better) and cost (less is better), cheapest first.

    >>> unbeaten({"a": (0.4, 1.0), "b": (0.8, 2.0), "c": (0.7, 2.5), "d": (0.4, 1.5)})
    ('a', 'b')
    """
    found = []
    for name, (liked, cost) in told.items():
        others = [v for other, v in told.items() if other != name]
        if not any(v >= liked and c <= cost and (v > liked or c < cost) for v, c in others):
            found.append(name)
    return tuple(sorted(found, key=lambda n: told[n][1]))


def weighed(
    goal: Goal,
    wanted: Mapping[Response, Wanted],
    values: Mapping[str, Mapping[Response, Sequence[float]]],
    response: Response,
    shares: Sequence[float],
) -> dict[str, tuple[float, ...]]:
    """How near each recipe comes as one response takes such shares (0 to 1) of all weight, and the others keep theirs among themselves."""
    others = sum(a.weight for a in goal.aims if a.response is not response and a.weight > 0.0 and a.response in wanted)
    mine = next((a for a in goal.aims if a.response is response), Aim(response=response, weight=1.0))
    told: dict[str, list[float]] = {}
    for share in shares:
        aims = [replace(a, weight=a.weight / others * (1.0 - share)) for a in goal.aims if a.response is not response and others > 0.0]
        found = dict(ranked(replace(goal, aims=(*aims, replace(mine, weight=share))), wanted, values))
        for recipe in values:
            if recipe in found:
                told.setdefault(recipe, []).append(found[recipe])
    return {recipe: tuple(scores) for recipe, scores in told.items() if len(scores) == len(shares)}


def ranked(goal: Goal, wanted: Mapping[Response, Wanted], values: Mapping[str, Mapping[Response, Sequence[float]]]) -> list[tuple[str, float]]:
    """Recipes by their weighted geometric mean of desirabilities, best first; those without a counted response are left out."""
    counted = [a for a in goal.aims if a.weight > 0.0 and a.response in wanted]
    made = []
    for recipe, found in values.items():
        total = weight = 0.0
        for aim in counted:
            mine = found.get(aim.response)
            if not mine:
                continue
            means = [sum(v) / len(v) for other in values.values() if (v := other.get(aim.response))]
            d = desirability(sum(mine) / len(mine), aim, wanted[aim.response], (min(means), max(means)))
            total += aim.weight * math.log(max(d, 1e-6))
            weight += aim.weight
        if weight:
            made.append((recipe, math.exp(total / weight)))
    return sorted(made, key=lambda r: -r[1])
