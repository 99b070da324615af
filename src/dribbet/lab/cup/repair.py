"""Rescuing an overshoot: the smallest additions that bring a cup back to its recipe (science: recipes)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup.recipe import RecipeError

if TYPE_CHECKING:
    from collections.abc import Mapping

EXACT_TO: Final = 1e-9  # relative difference of fractions that counts as none


@dataclass(frozen=True, slots=True, kw_only=True)
class Repair:
    """What to add, what the cup then holds, and what stays wrong."""

    additions_kg: dict[str, float]
    total_kg: float
    exact: bool
    left_wrong: tuple[str, ...] = ()
    pour_off_kg: float = 0.0
    """Well-mixed paint to pour off first so that the exact repair would fit; 0 where it fits."""


def repair(cup_kg: Mapping[str, float], target: Mapping[str, float], *, capacity_kg: float | None = None) -> Repair:
    """Smallest additions that reach the target fractions.

    Parameters
    ----------
    cup_kg : mapping of name to kilograms
        What is in the cup now.
    target : mapping of name to mass fraction
        Sums to one.
    capacity_kg : float, optional
        Most that the cup may hold.

    Returns
    -------
    Repair
        Without a limit S = max(m_i / w_i) and a_i = S w_i - m_i. With a limit C < S the non-negative additions with
        the least squared difference of fractions: the fractions reachable at total T are those with
        f_i >= m_i / T, a set that grows with T, so the best total is C itself, and there the answer is the
        projection x_i = max(m_i, C w_i + shift) with the shift that makes the sum C.

    Raises
    ------
    RecipeError
        If a weight is negative or not a number, or the cup already holds more than it can.
    """
    for name, mass in cup_kg.items():
        if not (math.isfinite(mass) and mass >= 0.0):
            raise RecipeError(f"The cup holds {mass * 1000:g} g of {name}. Enter what was really weighed in, zero or more.")
    held = math.fsum(cup_kg.values())
    names = [n for n, w in target.items() if w > 0.0]
    foreign = [n for n, m in cup_kg.items() if m > 0.0 and target.get(n, 0.0) <= 0.0]
    known = {n: cup_kg.get(n, 0.0) for n in names}
    scale = max((known[n] / target[n] for n in names), default=0.0)
    full = scale + math.fsum(cup_kg[n] for n in foreign)
    wrong = [f"{n} is not part of the recipe and cannot be taken out again: {cup_kg[n] / full:.1%} of the cup will stay {n}." for n in foreign]
    if capacity_kg is None or full <= capacity_kg * (1.0 + 1e-12):
        additions = {n: max(scale * target[n] - known[n], 0.0) for n in names}
        additions = {n: (a if a > scale * EXACT_TO else 0.0) for n, a in additions.items()}
        return Repair(additions_kg=additions, total_kg=held + math.fsum(additions.values()), exact=not foreign, left_wrong=tuple(wrong))
    if held > capacity_kg:
        raise RecipeError(
            f"The cup holds {held * 1000:.1f} g and takes {capacity_kg * 1000:.1f} g. Pour some off into a spare cup, or enter a larger cup."
        )
    room = capacity_kg - math.fsum(cup_kg[n] for n in foreign)
    shift = _shift(known, target, room)
    final = {n: max(known[n], room * target[n] + shift) for n in names}
    additions = {n: max(final[n] - known[n], 0.0) for n in names}
    for n in names:
        share, want = final[n] / capacity_kg, target[n]
        if abs(share - want) > 5e-4:
            wrong.append(f"{n} stays at {share:.1%} instead of {want:.1%}.")
    pour_off = held * (1.0 - capacity_kg / full)
    return Repair(additions_kg=additions, total_kg=held + math.fsum(additions.values()), exact=False, left_wrong=tuple(wrong), pour_off_kg=pour_off)


def _shift(known: Mapping[str, float], target: Mapping[str, float], total: float) -> float:
    """Find the shift with sum of max(m_i, T w_i + shift) = T, exactly, by letting bound ones drop out."""
    free = list(known)
    while True:
        fixed = math.fsum(known[n] for n in known if n not in free)
        shift = (total - fixed - total * math.fsum(target[n] for n in free)) / len(free)
        bound = [n for n in free if total * target[n] + shift < known[n]]
        if not bound or len(bound) == len(free):
            return shift
        free = [n for n in free if n not in bound]


@dataclass(frozen=True, slots=True, kw_only=True)
class Thrift:
    """The other way to mend a cup: take well-mixed paint out first, then add less."""

    take_out_kg: float
    additions_kg: dict[str, float]
    total_kg: float


def take_out_first(cup_kg: Mapping[str, float], target: Mapping[str, float], total_kg: float) -> Thrift | None:
    """Least that must be taken out, well mixed, so that the exact repair ends at a total; None where nothing need be.

    The exact repair of what is kept, a share k of the cup, ends at k S, with S = max(m_i / w_i); so k = T / S.

    Raises
    ------
    RecipeError
        If the cup holds something that the recipe has not: taking out never gets rid of it.
    """
    whole = repair(cup_kg, target)
    if not whole.exact:
        raise RecipeError(whole.left_wrong[0])
    if whole.total_kg <= total_kg * (1.0 + 1e-9):
        return None
    keep = total_kg / whole.total_kg
    additions = {n: kg * keep for n, kg in whole.additions_kg.items()}
    return Thrift(take_out_kg=math.fsum(cup_kg.values()) * (1.0 - keep), additions_kg=additions, total_kg=total_kg)
