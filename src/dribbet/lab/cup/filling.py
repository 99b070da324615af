"""Where a cup stands: what is in it, what is still to add or do, and how it is mended after an overshoot."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup import additions, composition
from dribbet.lab.cup.recipe import RecipeError
from dribbet.lab.cup.repair import Repair, Thrift, repair, take_out_first
from dribbet.records import CORRECTION, TAKEN_OUT, MarkKind, order

EYE_STEP: Final = 0.1  # of the estimate: a small step more, once it is in

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence
    from datetime import datetime

    from dribbet.lab.cup.additions import CupAct
    from dribbet.records import Material, Mix, MixMark, Weighing


@dataclass(frozen=True, slots=True, kw_only=True)
class Filling:
    """One cup at one moment. Amounts in kg."""

    held: dict[str, float]
    wanted: dict[str, float]
    """What each ingredient should come to, the mending included."""
    left: list[tuple[str, float]]
    """Still to add, in order."""
    over: dict[str, float] = field(default_factory=dict)
    """Ingredients beyond their plan, and by how much, where that was not accepted."""
    mended: Repair | None = None
    thrift: Thrift | None = None
    """The other way: take well-mixed paint out first, and end at the planned amount, or where the cup is full."""
    acts: list[CupAct] = field(default_factory=list)
    """To be done before the next ingredient goes in."""
    short: dict[str, float] = field(default_factory=dict)
    """Ingredients that are in, but not all of them, and how much is missing: that may be kept."""
    tolerance_kg: float = 0.0
    """How far what is due may be from its amount."""
    by_eye: bool = False
    """Whether what is due goes in step by step until it looks right; its amount in `left` is an estimate."""

    @property
    def total(self) -> float:
        """What is in the cup."""
        return math.fsum(self.held.values())


def planned(mix: Mix, drop_kg: float, shelf: Mapping[str, Material]) -> dict[str, float]:
    """Plan of a cup in the order of the craft, its drops as an ingredient of their own."""
    dropped = mix.drops * drop_kg * mix.drop_share
    plan = [*mix.plan, *([(mix.drop_material, dropped)] if mix.drops and mix.drop_material else [])]
    return dict(additions.in_order(plan, shelf))


SMALL_OFF: Final = 0.10
"""A small ingredient may be off by so much of itself, where the scale can tell that: 0.2 g would be half of a dose of 0.4 g."""
FINEST_KG: Final = 0.1e-3
"""Digit of the usual kitchen balance."""


def allowance_kg(planned_kg: float, tolerance_kg: float) -> float:
    """How far an ingredient may be from its plan before that is over or short, in kg."""
    return min(tolerance_kg, max(SMALL_OFF * planned_kg, FINEST_KG))


def filling(
    mix: Mix,
    weighings: Sequence[Weighing],
    marks: Sequence[MixMark],
    shelf: Mapping[str, Material],
    *,
    tolerance_kg: float,
    drop_kg: float,
    capacity_kg: float = math.inf,
    by_eye: str = "",
) -> Filling:
    """Where a cup stands by its ledger.

    An overshoot that was accepted, or that water was added to on purpose after a check, is not mended. Drops are never
    mended: what is too much silicone stays, and the dose says so. What goes in by eye (`by_eye` names it) is never over; it is
    due until it was said to look right.
    """
    mine = [w for w in weighings if w.mix_id == mix.id and not w.taken_back]
    happened = [m for m in marks if m.mix_id == mix.id and not m.taken_back]
    held = composition.weighed_in(mix, mine)
    plan = planned(mix, drop_kg, shelf)
    drops = {mix.drop_material} if mix.drops else set()
    solid = {n: kg for n, kg in plan.items() if n not in drops}
    may_be = {n: allowance_kg(kg, tolerance_kg) for n, kg in plan.items()}
    over = {n: held.get(n, 0.0) - kg for n, kg in solid.items() if n != by_eye and held.get(n, 0.0) > kg + may_be[n]}
    settled = _settled_at(mine, happened)
    over = {n: kg for n, kg in over.items() if settled is None or any(w.ingredient == n and order(w) > settled for w in mine)}
    mended, thrift = None, None
    wanted = dict(plan)
    shrunk = any(w.ingredient == TAKEN_OUT for w in mine)
    if over or (shrunk and settled is None):
        solid = {n: kg for n, kg in solid.items() if n != by_eye}
        total = math.fsum(solid.values())
        target = {n: kg / total for n, kg in solid.items()}
        inside = {n: kg for n, kg in held.items() if n not in drops and n != by_eye}
        mended = repair(inside, target)
        if over:
            try:
                thrift = take_out_first(inside, target, capacity_kg if mended.total_kg > capacity_kg else total)
            except RecipeError:
                thrift = None
        else:  # paint was taken out: what is left is filled up to the plan, or to what the repair needs
            mended = _filled_up(inside, target, max(mended.total_kg, min(total, capacity_kg)))
        wanted |= {n: held.get(n, 0.0) + a for n, a in mended.additions_kg.items()}
    step = min(tolerance_kg, drop_kg * mix.drop_share * 0.5)
    left = [(n, wanted[n] - held.get(n, 0.0)) for n in plan if wanted[n] - held.get(n, 0.0) > (step if n in drops else may_be[n])]
    short = {n: kg for n, kg in left if n not in drops and n != by_eye and held.get(n, 0.0) > may_be[n]} if not over and mended is None else {}
    if settled is not None and not over:
        short = {}
        left = [(n, kg) for n, kg in left if n in drops or not any(w.ingredient == n for w in mine)]
    left = _with_eye(left, plan, held, happened, by_eye)
    acts = additions.acts_due(mix, mine, happened, [n for n, _ in left], shelf)
    looking = bool(left) and left[0][0] == by_eye
    return Filling(
        held=held,
        wanted=wanted,
        left=left,
        over=over,
        mended=mended,
        thrift=thrift,
        acts=acts,
        short=short,
        by_eye=looking,
        tolerance_kg=may_be.get(left[0][0], tolerance_kg) if left else tolerance_kg,
    )


def _with_eye(
    left: list[tuple[str, float]], plan: Mapping[str, float], held: Mapping[str, float], happened: Sequence[MixMark], by_eye: str
) -> list[tuple[str, float]]:
    """What is left, with what goes in by eye due until it looks right: the rest of its estimate, or another small step."""
    if not by_eye:
        return left
    done = any(m.kind is MarkKind.RIGHT for m in happened)
    rest = {n: kg for n, kg in left if n != by_eye}
    if not done:
        rest[by_eye] = max(plan[by_eye] - held.get(by_eye, 0.0), plan[by_eye] * EYE_STEP)
    return [(n, rest[n]) for n in plan if n in rest]


def _settled_at(mine: Sequence[Weighing], happened: Sequence[MixMark]) -> tuple[int, datetime] | None:
    """Place in the order at which what was in the cup was last taken as it was: accepted, or corrected after a check."""
    places = [order(m) for m in happened if m.kind is MarkKind.ACCEPTED] + [order(w) for w in mine if w.source == CORRECTION]
    return max(places, default=None)


def _filled_up(held: Mapping[str, float], target: Mapping[str, float], total: float) -> Repair:
    """Additions that end at a total on the recipe."""
    adds = {n: max(total * w - held.get(n, 0.0), 0.0) for n, w in target.items()}
    return Repair(additions_kg=adds, total_kg=math.fsum(held.values()) + math.fsum(adds.values()), exact=True)
