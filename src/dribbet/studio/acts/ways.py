"""Ways to pour of a person's own: copied, edited, put aside. What a test was planned with stays as it was."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from dribbet.notebook.store import new_id
from dribbet.records import WAYS, DribbetError, Factor, Series, Technique, Way, WayStep

if TYPE_CHECKING:
    from dribbet.studio.desk import Desk


def own(desk: Desk) -> list[Way]:
    """Own ways as they are now, oldest first."""
    return [w for w in desk.notebook.all(Way) if not w.replaced]


def copy(desk: Desk, of: str, name: str) -> Way:
    """Copy a shipped way, or one of one's own, under a name of its own."""
    name = " ".join(name.split())[:40]
    known = own(desk)
    if name.lower() in {w.name.lower() for w in known} | {str(t).lower() for t in Technique}:
        raise DribbetError(f"There is a way called {name} already. Give it another name.")
    model = next((w for w in known if w.name == of), None)
    technique = model.of if model is not None else Technique(of)
    made = Way(id=new_id(), name=name, of=technique, steps=model.steps if model is not None else WAYS[technique], made_at=desk.now())
    desk.notebook.add(made)
    desk.changed()
    return made


def change(desk: Desk, way: Way, steps: tuple[WayStep, ...]) -> Way:
    """Other steps for an own way: a new one takes its name, the old one stays on record."""
    made = replace(way, id=new_id(), steps=steps, made_at=desk.now(), replaced=False)
    with desk.notebook.transaction():
        desk.notebook.replace(replace(way, replaced=True))
        desk.notebook.add(made)
    desk.changed()
    return made


def put_aside(desk: Desk, way: Way) -> None:
    """Offer an own way no longer; tests that use it keep it."""
    desk.notebook.replace(replace(way, replaced=True))
    desk.changed()


def offered(desk: Desk, series: Series) -> Series:
    """Series with every own way at hand, so that one can be named; lots once drawn, nothing is changed."""
    if series.seed is not None:
        return series
    return replace(series, constants=replace(series.constants, ways=tuple(own(desk))))


def kept(series: Series) -> Series:
    """Series with only those own ways that it names."""
    if series.seed is not None:
        return series
    named = {series.constants.way, *(level.name for v in series.varied if v.factor is Factor.TECHNIQUE for level in v.levels)}
    ways = tuple(w for w in series.constants.ways if w.name in named)
    return series if ways == series.constants.ways else replace(series, constants=replace(series.constants, ways=ways))
