"""A panel that is taken up and photographed again: which photograph is next, how many there are, which wait to be read."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum, auto
from typing import TYPE_CHECKING, Final

from dribbet.records import RAKED, Lamp, Response, Stage

if TYPE_CHECKING:
    from dribbet.records import Panel, Photo
    from dribbet.studio.run import Run

IN_HAND: Final = "again"
"""Under which the desk holds the panel that is being photographed again."""
ENOUGH: Final = 5
"""Photographs of one panel, the first among them: from here on another panel tells more."""
FOR_FIGURES: Final = 3
"""Photographs of each panel where most of a test's scatter is the camera's."""


class Next(StrEnum):
    """What is to be done next with the camera."""

    BRING = auto()
    TAKE = auto()
    PANEL = auto()
    READ = auto()


@dataclass(frozen=True, slots=True, kw_only=True)
class Again:
    """How far a panel's repeated photographs are."""

    take: int
    """The one that is made now."""
    lamp: Lamp
    """The next lamp of it."""
    whole: int
    """Photographs with all their lamps, the first among them."""
    newest: Photo | None
    """Of those taken again."""

    @property
    def enough(self) -> bool:
        """Whether another panel would tell more."""
        return self.whole >= ENOUGH


def lamps_of(run: Run) -> tuple[Lamp, ...]:
    """Lamps that a photograph of this series wants."""
    asked = {r for r, _ in run.series.responses}
    raked = (Lamp.LEFT, Lamp.RIGHT) if asked & set(RAKED) else ()
    return (Lamp.DIFFUSE, *raked, *((Lamp.EDGE,) if Response.SHINE in asked else ()))


def can(run: Run, panel: Panel) -> bool:
    """Whether a panel has the dry photograph that others can stand beside."""
    return all(run.photo(panel, lamp, Stage.DRY) is not None for lamp in lamps_of(run))


def stands(run: Run, panel: Panel) -> Again:
    """How far it is with a panel."""
    wanted = lamps_of(run)
    mine = [p for p in run.again if p.panel_id == panel.id and p.stage is Stage.DRY]
    have: dict[int, set[Lamp]] = {}
    for p in mine:
        have.setdefault(p.take, set()).add(p.lamp)
    last = max(have, default=0)
    missing = [lamp for lamp in wanted if lamp not in have.get(last, set())] if last else []
    whole = 1 + sum(set(wanted) <= lamps for lamps in have.values())
    return Again(take=last if missing else last + 1, lamp=(missing or wanted)[0], whole=whole, newest=mine[-1] if mine else None)


def laid(run: Run, panel: Panel, stage: Stage, take: int) -> int:
    """How often a panel was laid before a camera until this photograph, whose lamps all see it in one place: at other stages, and other takes."""
    mine = {(p.stage, p.take) for p in (*run.photos, *run.again) if p.panel_id == panel.id and not p.left_out}
    return len(mine - {(stage, take)})


def unread(run: Run, reader: str = "") -> list[tuple[Panel, Photo]]:
    """Photographs taken again that this reader, or none at all, has read, each with its panel."""
    known = {r.photo_id for r in run.read_again if reader in ("", r.reader)}
    panels = {p.id: p for p in run.panels}
    wanted = set(lamps_of(run))
    return [
        (panels[p.panel_id], p)
        for p in run.again
        if p.lamp is Lamp.DIFFUSE and p.id not in known and p.panel_id in panels and wanted <= {q.lamp for q in run.again if _same(p, q)}
    ]


def _same(p: Photo, q: Photo) -> bool:
    return (p.panel_id, p.stage, p.take) == (q.panel_id, q.stage, q.take)


def next_panel(run: Run) -> str:
    """The first panel of a series that has fewer photographs than a noisy test wants; empty where none is left."""
    return next((p.id for p in run.in_order() if not p.spoiled and can(run, p) and stands(run, p).whole < FOR_FIGURES), "")
