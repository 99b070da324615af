"""Which cup next: clean ones before dirty ones, tools of their own for each kind, so that no trace reaches the control."""

from __future__ import annotations

from dataclasses import dataclass
from enum import IntEnum
from typing import TYPE_CHECKING

from dribbet.records import MarkKind

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from dribbet.lab.plan.arm import Arm
    from dribbet.records import Material, Mix, MixMark, Panel


class Dirt(IntEnum):
    """What a tool takes along from a cup, cleanest first."""

    CLEAN = 0
    ALCOHOL = 1
    ACTIVATOR = 2
    SILICONE = 3


@dataclass(frozen=True, slots=True, kw_only=True)
class Batch:
    """A cup's place in the day's work."""

    mix: Mix
    dirt: Dirt
    done: bool
    next_up: bool
    contaminated: bool = False
    why: str = ""
    """What got into it, in the person's words; empty where nobody said."""


def dirt_of(mix: Mix, arms: Sequence[Arm], shelf: Mapping[str, Material]) -> Dirt:
    """What a cup leaves on tools: by its plan, its drops, and what is dropped into it when cups are filled."""
    mine = [a for a in arms if a.letter in mix.recipes]
    names = [n for n, _ in mix.plan]
    washed_off = any(shelf[n].wash_off for n in names if n in shelf)
    dropped = mix.drops > 0 or (bool(mine) and all(a.silicone_drops_per_100g > 0 and mix.colour in a.held.silicone_colours for a in mine))
    if washed_off or dropped:
        return Dirt.SILICONE
    if any(a.held.activator == mix.colour for a in mine):
        return Dirt.ACTIVATOR
    if any(n == "alcohol" or (n in shelf and shelf[n].alcohol_share > 0.0) for n in names):
        return Dirt.ALCOHOL
    return Dirt.CLEAN


def ordered(mixes: Sequence[Mix], arms: Sequence[Arm], shelf: Mapping[str, Material], marks: Sequence[MixMark] = ()) -> list[Batch]:
    """All cups of a series, clean to dirty, else in their planned order; the first that is not done is next."""
    ranked = sorted(((dirt_of(m, arms, shelf), m.block, m.place, m) for m in mixes), key=lambda r: r[:3])
    flagged = {k.mix_id: k.note for k in marks if k.kind is MarkKind.CONTAMINATED and not k.taken_back}
    first = next((m.id for *_, m in ranked if not m.done), "")
    return [
        Batch(mix=m, dirt=d, done=m.done, next_up=m.id == first, contaminated=m.id in flagged, why=flagged.get(m.id, "")) for d, _, _, m in ranked
    ]


def contaminated_panels(panels: Sequence[Panel], mixes: Sequence[Mix], marks: Sequence[MixMark]) -> dict[str, tuple[str, str]]:
    """Panels whose cup was flagged: its colour, and the reason (empty where nobody said)."""
    flagged = {k.mix_id: k.note for k in marks if k.kind is MarkKind.CONTAMINATED and not k.taken_back}
    found: dict[str, tuple[str, str]] = {}
    for panel in panels:
        for mix in mixes:
            if mix.id in flagged and panel.recipe in mix.recipes and mix.block in (0, panel.block):
                found[panel.id] = mix.colour, flagged[mix.id]
    return found
