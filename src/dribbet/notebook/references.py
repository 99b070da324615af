"""Whether the records of a notebook fit each other: what no foreign key can tell. Used by `verify` and by `import`."""

from __future__ import annotations

from dataclasses import dataclass, fields
from typing import TYPE_CHECKING, Any, Final, TypeVar

from dribbet.notebook.mapping import TABLES
from dribbet.records import (
    BETWEEN,
    TAKEN_OUT,
    Bottle,
    Constants,
    Material,
    Mix,
    Panel,
    Photo,
    Reading,
    Series,
    Weighing,
)

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

R = TypeVar("R")
HELD_NAMES: Final = ("medium", "third_liquid", "anti_craze", "shimmer_medium", "silicone", "base", "activator")
"""Constants of a series that name a material."""


@dataclass(frozen=True, slots=True)
class Misfit:
    """A record that does not fit another."""

    table: str
    id: str
    sentence: str


def misfits(all_of: Callable[[type[Any]], list[Any]]) -> list[Misfit]:
    """Every record that does not fit those it speaks of; `all_of` gives the records of a kind."""
    series: dict[str, Series] = {s.id: s for s in all_of(Series)}
    panels: dict[str, Panel] = {p.id: p for p in all_of(Panel)}
    found = [*_of_panels(series, panels), *_of_photos(panels, all_of(Photo), all_of(Reading))]
    found += _of_names(series, all_of(Mix), all_of(Weighing), all_of(Bottle), all_of(Material))
    return found


def _of_panels(series: dict[str, Series], panels: dict[str, Panel]) -> Iterator[Misfit]:
    recipes: dict[tuple[str, str], tuple[int, ...]] = {}
    for panel in panels.values():
        mine = series.get(panel.series_id)
        if mine is None:
            continue  # a foreign key says so
        if len(panel.settings) != len(mine.varied) or any(
            s != BETWEEN and s >= len(v.levels) for s, v in zip(panel.settings, mine.varied, strict=False)
        ):
            yield Misfit("panel", panel.id, f"{panel.code} has levels that {mine.name} does not vary.")
        known = recipes.setdefault((panel.series_id, panel.recipe), panel.settings)
        if known != panel.settings and not mine.layout.extras:
            yield Misfit("panel", panel.id, f"{panel.code} has other levels than the other panels of its recipe.")
        if not panel.code.startswith(mine.code):
            yield Misfit("panel", panel.id, f"{panel.code} belongs to {mine.name}, whose panels begin with {mine.code}.")


def _of_photos(panels: dict[str, Panel], photos: list[Photo], readings: list[Reading]) -> Iterator[Misfit]:
    known = {p.id: p for p in photos}
    for reading in readings:
        photo = known.get(reading.photo_id)
        code = panels[reading.panel_id].code if reading.panel_id in panels else "a panel"
        if photo is None:
            continue
        if photo.panel_id != reading.panel_id:
            yield Misfit("reading", reading.id, f"A reading of {code} was made from another panel's photo ({photo.name}).")
        elif photo.stage is not reading.stage:
            yield Misfit("reading", reading.id, f"A reading of {code} is kept as {reading.stage}, its photo {photo.name} as {photo.stage}.")


def held_names(held: Constants) -> set[str]:
    """Materials that the constants of a series name, with the parts of a blend."""
    named = {str(getattr(held, f.name)) for f in fields(held) if f.name in HELD_NAMES} | set(held.silicone_colours) | {name for name, _ in held.added}
    return {word for name in named for word in (name, *(piece.strip().rpartition(" ")[0] or piece.strip() for piece in name.split("+")))}


def _of_names(
    series: dict[str, Series], mixes: list[Mix], weighings: list[Weighing], bottles: list[Bottle], shelf: list[Material]
) -> Iterator[Misfit]:
    on_shelf = {m.key for m in shelf}
    cups = {m.id: m for m in mixes}
    for s in series.values():
        missing = next((layer.material for layer in s.layers if layer.material not in on_shelf), None)
        if missing is not None and shelf:
            yield Misfit("series", s.id, f"{s.name} pours {missing}, which is not on the shelf.")
    for mix in mixes:
        mine = series.get(mix.series_id)
        known = (
            on_shelf
            | (held_names(mine.constants) if mine else set())
            | {word for v in (mine.varied if mine else ()) for word in (v.of, *(level.name for level in v.levels))}
        )
        missing = next((n for n, _ in mix.plan if n not in known), None)
        if missing is not None and shelf:
            yield Misfit("mix", mix.id, f"A cup of {mix.colour} takes {missing}, which is not on the shelf.")
    for w in weighings:
        mix_of = cups.get(w.mix_id)
        if mix_of is None or w.ingredient == TAKEN_OUT or w.ingredient in on_shelf or w.ingredient in dict(mix_of.plan):
            continue
        yield Misfit("weighing", w.id, f"Into a cup of {mix_of.colour} went {w.ingredient}, which is not on the shelf.")
    for bottle in bottles:
        missing = next((n for n, _ in bottle.contents if n not in on_shelf), None)
        if missing is not None and shelf:
            yield Misfit("bottle", bottle.id, f"Bottle {bottle.code} holds {missing}, which is not on the shelf.")


TABLE_OF: Final = {table.name: kind for kind, table in TABLES.items()}
"""Kind of record in each table."""
