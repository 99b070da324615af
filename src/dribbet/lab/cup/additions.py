"""The order in which a cup is made, with its stirs and looks: powder wetted first, thinner after paint and medium, additive last."""

from __future__ import annotations

from enum import Enum, auto
from typing import TYPE_CHECKING, Final

from dribbet.lab.plan.arm import THINNERS
from dribbet.records import TAKEN_OUT, Kind, MarkKind, order

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from dribbet.records import Material, Mix, MixMark, Weighing

SETTLING_SHARE: Final = 0.05  # a shimmer agent beyond this share settles while a cup stands


class Rank(Enum):
    """When an ingredient goes in."""

    POWDER = auto()
    PAINT = auto()
    MEDIUM = auto()
    THINNER = auto()
    ADDITIVE = auto()


class CupAct(Enum):
    """Something to do with a cup beside pouring in."""

    WET = auto()
    """Work the powder into a paste."""
    STIR_FIRST = auto()
    """Paint and medium are in."""
    STIR_THIN = auto()
    """The thinner is in."""
    STIR_LAST = auto()
    """The drops are in."""
    RIM = auto()
    STRAIN = auto()

    @property
    def kind(self) -> MarkKind:
        """What it is logged as."""
        return _LOGGED_AS.get(self, MarkKind.STIRRED)


_LOGGED_AS: Final = {CupAct.WET: MarkKind.WETTED, CupAct.RIM: MarkKind.RIM, CupAct.STRAIN: MarkKind.STRAINED}


def rank(name: str, shelf: Mapping[str, Material]) -> Rank:
    """When an ingredient goes in; by what the shelf says it is, by its name where it is not there."""
    material = shelf.get(name)
    if material is None:
        return Rank.THINNER if name in THINNERS else Rank.MEDIUM
    if material.is_powder:
        return Rank.POWDER
    by_kind = {Kind.PAINT: Rank.PAINT, Kind.SHIMMER: Rank.PAINT, Kind.BASE: Rank.PAINT, Kind.THINNER: Rank.THINNER}
    if material.kind is Kind.ADDITIVE:
        return Rank.ADDITIVE if material.wash_off else Rank.MEDIUM  # an anti-craze additive is a medium by its way in
    return by_kind.get(material.kind, Rank.MEDIUM)


def in_order(plan: Sequence[tuple[str, float]], shelf: Mapping[str, Material]) -> list[tuple[str, float]]:
    """Ingredients in the order of the craft: powder and what wets it, paint, medium, thinner, additive; else as planned.

    A powder is wetted by the medium, so with one in the cup the medium comes before any other paint.
    """
    powder = any(rank(n, shelf) is Rank.POWDER for n, _ in plan)
    order = [Rank.POWDER, Rank.MEDIUM, Rank.PAINT, Rank.THINNER, Rank.ADDITIVE] if powder else list(Rank)
    return sorted(plan, key=lambda p: order.index(rank(p[0], shelf)))


def acts_due(mix: Mix, weighings: Sequence[Weighing], marks: Sequence[MixMark], left: Sequence[str], shelf: Mapping[str, Material]) -> list[CupAct]:
    """What is to be done with the cup before the next ingredient goes in, first thing first.

    Parameters
    ----------
    weighings, marks : sequence
        Of this cup, those that count.
    left : sequence of str
        Ingredients still to come, in order.

    Notes
    -----
    A stir is due when paint and medium are in and a thinner comes next, when the thinner is in, and after the additive; any
    addition after the last stir makes it due again before the cup counts as done. Lumps ask for the strainer.
    """
    mine = sorted((w for w in weighings if w.ingredient != TAKEN_OUT), key=order)
    if not mine:
        return []
    last = {kind: max((order(m) for m in marks if m.kind is kind), default=None) for kind in MarkKind}

    def since(kind: MarkKind) -> list[Weighing]:
        place = last[kind]
        return [w for w in mine if place is None or order(w) > place]

    unstirred = {rank(w.ingredient, shelf) for w in since(MarkKind.STIRRED)}
    coming = rank(left[0], shelf) if left else None
    due: list[CupAct] = []
    powder_in = any(rank(w.ingredient, shelf) is Rank.POWDER for w in mine)
    wetted = last[MarkKind.WETTED] is not None
    if powder_in and not wetted and any(rank(w.ingredient, shelf) is Rank.MEDIUM for w in mine):
        due.append(CupAct.WET)
    solid_in = unstirred & {Rank.PAINT, Rank.MEDIUM, Rank.POWDER}
    if coming is Rank.THINNER and solid_in and unstirred - {Rank.PAINT}:
        due.append(CupAct.STIR_FIRST)
    elif coming is Rank.ADDITIVE and unstirred - {Rank.ADDITIVE}:
        due.append(CupAct.STIR_THIN)
    elif coming is None and unstirred:
        thin = CupAct.STIR_THIN if Rank.THINNER in unstirred else CupAct.STIR_FIRST
        due.append(CupAct.STIR_LAST if Rank.ADDITIVE in unstirred else thin)
    lumps, strained = last[MarkKind.LUMPS], last[MarkKind.STRAINED]
    if lumps is not None and (strained is None or strained < lumps):
        due.append(CupAct.STRAIN)
    wiped = last[MarkKind.RIM]
    if coming is None and (wiped is None or wiped < order(mine[-1])):
        due.append(CupAct.RIM)
    return due


def restir_needed(fractions: Mapping[str, float], shelf: Mapping[str, Material]) -> str:
    """Shimmer agent that will settle while the cup stands; empty where none does."""
    found = [n for n, share in fractions.items() if n in shelf and shelf[n].kind is Kind.SHIMMER and share >= SETTLING_SHARE]
    return found[0] if found else ""
