"""Blind choice: which pairs come, how far a sitting has come, and what all picks say."""

from __future__ import annotations

import zlib
from dataclasses import dataclass
from typing import TYPE_CHECKING

from dribbet.lab.verdict import preference
from dribbet.lab.verdict.preference import Between, PairSeen, Strength
from dribbet.records import Lamp, Liked, Stage

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.records import Panel, Pick
    from dribbet.studio.run import Run

WAY = {Liked.LEFT: 1, Liked.RIGHT: -1, Liked.NEITHER: 0}


@dataclass(frozen=True, slots=True, kw_only=True)
class Sitting:
    """One judge's sitting: its pairs, and how many are picked."""

    judge: str
    number: int
    guest: bool
    pairs: tuple[tuple[Panel, Panel], ...]
    done: int

    @property
    def over(self) -> bool:
        """Whether all pairs are picked."""
        return self.done >= len(self.pairs)

    @property
    def pair(self) -> tuple[Panel, Panel] | None:
        """The pair to look at; None where all are picked."""
        return None if self.over else self.pairs[self.done]


@dataclass(frozen=True, slots=True, kw_only=True)
class Preferred:
    """What picks say: of the maker, or of guests."""

    judges: tuple[str, ...]
    picks: int
    strengths: tuple[Strength, ...]
    between: tuple[Between, ...]
    same: int
    again: int
    """Of so many pairs that came twice, `same` were picked alike."""
    any_p: float
    """Chance that recipes would be picked so unlike often if nobody cared which."""
    circles: tuple[tuple[str, str, str], ...]
    single: tuple[str, ...]
    """Recipes of which one panel was looked at only: then it is the panel that was liked."""


def photographed(run: Run) -> dict[str, tuple[Panel, ...]]:
    """Panels that can be looked at, by recipe: dry, photographed in one light, and counted."""
    found: dict[str, list[Panel]] = {}
    for panel in run.in_order():
        if not panel.spoiled and run.photo(panel, Lamp.DIFFUSE, Stage.DRY) is not None and run.reading(panel) is not None:
            found.setdefault(panel.recipe, []).append(panel)
    return {r: tuple(p) for r, p in found.items()}


def next_sitting(run: Run, judge: str) -> int:
    """Number of the sitting that a judge goes on with: the last one where it is not over, else another."""
    number = max((p.sitting for p in run.picks if p.judge == judge), default=0)
    return number if number and not sitting(run, judge, number, guest=False).over else number + 1


def sitting(run: Run, judge: str, number: int, *, guest: bool) -> Sitting:
    """A judge's sitting; its pairs follow from who sits and which sitting it is."""
    picked = [p for p in run.picks if p.judge == judge and p.sitting == number]
    seed = zlib.crc32(f"{run.series.id}/{judge}/{number}".encode())
    by_id = {p.id: p for panels in photographed(run).values() for p in panels}
    planned = preference.pairs_of({r: [p.id for p in panels] for r, panels in photographed(run).items()}, seed)
    pairs = tuple((by_id[a], by_id[b]) for a, b in planned)
    return Sitting(judge=judge, number=number, guest=guest, pairs=pairs, done=len(picked))


def preferred(run: Run, *, guests: bool) -> Preferred | None:
    """What the picks of the maker (or of guests, apart) say; None before any. Pairs that came again count for repeatability alone."""
    recipe = {p.id: p.recipe for p in run.panels}
    mine = [p for p in run.picks if p.guest is guests and p.panel_id in recipe and p.other_id in recipe]
    if not mine:
        return None
    first, same, again = [], 0, 0
    for key in dict.fromkeys((p.judge, p.sitting) for p in mine):
        told = sorted((p for p in mine if (p.judge, p.sitting) == key), key=lambda p: p.number)
        alike, seen = preference.repeated([(p.panel_id, p.other_id, WAY[p.liked]) for p in told])
        same, again = same + alike, again + seen
        first += _first(told)
    seen_as = [PairSeen(left=recipe[p.panel_id], right=recipe[p.other_id], liked=WAY[p.liked]) for p in first]
    told_of = preference.between(seen_as)
    shown: dict[str, set[str]] = {}
    for p in mine:
        for panel in (p.panel_id, p.other_id):
            shown.setdefault(recipe[panel], set()).add(panel)
    return Preferred(
        judges=tuple(dict.fromkeys(p.judge for p in mine)), picks=len(first), strengths=preference.strengths(seen_as), between=told_of, same=same,
        again=again, any_p=preference.any_p(seen_as), circles=preference.circles(told_of),
        single=tuple(sorted(r for r, panels in shown.items() if len(panels) == 1)),
    )  # fmt: skip


def _first(told: Sequence[Pick]) -> list[Pick]:
    """Each pair of panels of a sitting the first time it came, sides exchanged or not."""
    seen: set[frozenset[str]] = set()
    made = []
    for p in told:
        pair = frozenset((p.panel_id, p.other_id))
        if pair not in seen:
            seen.add(pair)
            made.append(p)
    return made


def covered(run: Run) -> bool:
    """Whether the recipes of a blind test are still hidden: until the maker has ended a sitting, of pairs or of points, or opened them."""
    if not run.series.layout.blind or run.series.seed is None or run.series.opened_at is not None:
        return False
    from dribbet.studio.standing import scoring  # which builds on this

    sat = {(p.judge, p.sitting) for p in run.picks if not p.guest}
    scored = {(s.judge, s.sitting) for s in run.scores if not s.guest}
    return not (
        any(sitting(run, judge, number, guest=False).over for judge, number in sat)
        or any(scoring.sitting(run, judge, number, guest=False).over for judge, number in scored)
    )
