"""How the cups of a series stand: what is in each, what is still to add or do, since when it is covered, how large a cup holds it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.cup import batches, composition
from dribbet.lab.cup.filling import Filling, filling
from dribbet.lab.paint import measures
from dribbet.lab.plan import planning
from dribbet.lab.plan.factors import blend
from dribbet.records import WATER, Dosage, MarkKind, order

if TYPE_CHECKING:
    from datetime import datetime

    from dribbet.lab.cup.batches import Batch
    from dribbet.lab.plan.arm import Arm
    from dribbet.records import Mix, Weighing
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

CUP_ROOM: Final = 1.35  # a cup holds this much more than its plan, where the person set no size


def all_batches(run: Run) -> list[Batch]:
    """All cups, clean to dirty."""
    return batches.ordered(run.mixes, run.arms, {m.key: m for m in run.shelf}, run.marks)


def in_hand(desk: Desk, run: Run) -> Mix | None:
    """Cup in hand: the chosen one, else the next by the order from clean to dirty."""
    if not run.mixes:
        return None
    chosen = desk.in_hand("mix")
    found = next((m for m in run.mixes if m.id == chosen), None)
    return found or next((b.mix for b in all_batches(run) if b.next_up), run.mixes[-1])


def arm_of(run: Run, mix: Mix) -> Arm:
    """First recipe that a cup is mixed for."""
    return next(a for a in run.arms if a.letter == mix.recipes[0])


def ledger(run: Run, mix: Mix) -> list[Weighing]:
    """What was weighed into a cup."""
    return [w for w in run.weighings if w.mix_id == mix.id]


def held(run: Run, mix: Mix) -> dict[str, float]:
    """Kilograms in the cup by ingredient."""
    return composition.weighed_in(mix, run.weighings)


def drop_kg(desk: Desk, run: Run, mix: Mix) -> float:
    """Mass of one drop of what is dropped into a cup: weighed by the person, else the usual one."""
    material = next((m for m in run.shelf if m.key == mix.drop_material), None)
    return measures.one("drop", material, desk.gaugings()).kg if material is not None else planning.DROP_KG


def diluent(run: Run, mix: Mix) -> str:
    """What prediluted drops of a cup are diluted in: its medium."""
    return next(iter(blend(arm_of(run, mix).medium)))


def capacity_kg(desk: Desk, mix: Mix) -> float:
    """What the cup in hand holds: the smallest of the person's cups that the plan fits into with room to stir and mend."""
    plan = sum(kg for _, kg in mix.plan) * CUP_ROOM
    return next((kg for kg in sorted(desk.rules.cups_kg) if kg >= plan), plan)


def by_eye(run: Run, mix: Mix) -> bool:
    """Whether the water of a cup goes in step by step until it looks right."""
    return arm_of(run, mix).held.thinned is Dosage.BY_EYE and any(name == WATER for name, _ in mix.plan)


def filling_of(desk: Desk, run: Run, mix: Mix) -> Filling:
    """Where a cup stands."""
    return filling(
        mix,
        run.weighings,
        run.marks,
        {m.key: m for m in run.shelf},
        tolerance_kg=desk.rules.tolerance_kg,
        drop_kg=drop_kg(desk, run, mix),
        capacity_kg=capacity_kg(desk, mix),
        by_eye=WATER if by_eye(run, mix) else "",
    )


def covered_since(run: Run, mix: Mix) -> datetime | None:
    """Since when a cup stands covered; None where it is open."""
    mine = sorted((m for m in run.marks if m.mix_id == mix.id and m.kind in (MarkKind.COVERED, MarkKind.UNCOVERED)), key=order)
    return mine[-1].at if mine and mine[-1].kind is MarkKind.COVERED else None


def open_minutes(desk: Desk, run: Run, mix: Mix) -> float:
    """How long nothing has happened to a cup that stands open."""
    moments = [w.at for w in ledger(run, mix)] + [m.at for m in run.marks if m.mix_id == mix.id]
    return max(0.0, (desk.now() - max(moments)).total_seconds()) / 60.0 if moments else 0.0


def taking_out_kg(desk: Desk, mix: Mix) -> float:
    """How much well-mixed paint is to be taken out now; 0 where nothing is."""
    text = desk.hand.get(f"take-out/{mix.id}", "")
    return float(text) if text else 0.0
