"""All records of one series, and what follows from them."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING, Any, Final, TypeVar

from dribbet.lab.cup import composition
from dribbet.lab.panel import cracking, progress
from dribbet.lab.panel.drying import LOOKS_H, hours_of
from dribbet.lab.panel.progress import DueLook, Station
from dribbet.lab.plan import pieces
from dribbet.lab.plan.design import Arm, arms
from dribbet.lab.plan.responses import mean_of
from dribbet.records import (
    Check,
    Constants,
    Lamp,
    Levelled,
    Look,
    Material,
    Mishap,
    Mix,
    MixMark,
    Outline,
    Panel,
    PanelWeighing,
    PanelWeight,
    Photo,
    Pick,
    Reading,
    Response,
    Score,
    Series,
    Stage,
    StepMark,
    Treated,
    Weighing,
)
from dribbet.sight.as_laid import measured_as
from dribbet.sight.round_face import Disc
from dribbet.sight.zones import Outside, Zone, share_out, without, zones_of

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping
    from datetime import datetime

    from dribbet.lab.panel.cracking import Began
    from dribbet.lab.panel.waking import Waking

T = TypeVar("T")

LATE_FROM_H: Final = dict(LOOKS_H)["dry"]
"""Looks after this hour stay due although the panel was judged dry."""
MOST_ANSWERS: Final = 400  # moments pass


@dataclass(frozen=True)
class Run:
    """All records of one series."""

    series: Series
    panels: tuple[Panel, ...]
    mixes: tuple[Mix, ...]
    weighings: tuple[Weighing, ...]
    checks: tuple[Check, ...]
    """Those that still hold: an addition makes what was read of a cup before it the past."""
    steps: tuple[StepMark, ...]
    panel_weighings: tuple[PanelWeighing, ...]
    mishaps: tuple[Mishap, ...]
    looks: tuple[Look, ...]
    photos: tuple[Photo, ...]
    readings: tuple[Reading, ...]
    """Those whose photographs still hold."""
    again: tuple[Photo, ...] = ()
    """Photographs of panels that were taken up and photographed again: beside those that stand for them, never among `photos`."""
    read_again: tuple[Reading, ...] = ()
    """What was read from them."""
    levelled: tuple[Levelled, ...] = ()
    treated: tuple[Treated, ...] = ()
    """What was done to its panels once they were dry."""
    picks: tuple[Pick, ...] = ()
    """Blind choices between two of its panels."""
    scores: tuple[Score, ...] = ()
    """Points that its panels were given blind."""
    marks: tuple[MixMark, ...] = ()
    """What else happened to its cups, beside weighing."""
    shelf: tuple[Material, ...] = ()
    waking: Waking | None = None
    """When the person looks; None: at any hour."""

    @cached_property
    def arms(self) -> tuple[Arm, ...]:
        """Recipes as they were planned."""
        return arms(self.series)

    @cached_property
    def actual_arms(self) -> tuple[Arm, ...]:
        """Recipes as they were really weighed in, all blocks together; the plan where nothing was weighed yet."""
        return tuple(composition.actual_arm(self.series, a, self.mixes, self.weighings, self.shelf) for a in self.arms)

    def arm(self, panel: Panel) -> Arm:
        """Recipe of a panel, as it was weighed into the cups of its own block."""

        def compute() -> Arm:
            return composition.actual_arm(self.series, self._planned[panel.recipe], self.mixes, self.weighings, self.shelf, panel.block)

        return self.once(("arm", panel.recipe, panel.block), compute)

    def held(self, panel: Panel) -> Constants:
        """What is held for a panel, with its recipe's levels in place."""
        return self._planned[panel.recipe].held

    @cached_property
    def _planned(self) -> dict[str, Arm]:
        return {a.letter: a for a in self.arms}

    def area_m2(self, panel: Panel) -> float:
        """Face that a panel's paint lies on."""
        return pieces.area_m2(self._planned[panel.recipe], panel)

    def planned_mm(self, panel: Panel) -> tuple[float, float]:
        """Size of the whole panel as its recipe plans it, whatever was measured."""
        held = self._planned[panel.recipe].held
        return held.panel_width_m * 1e3, held.panel_height_m * 1e3

    def sheet_mm(self, panel: Panel) -> tuple[float, float]:
        """Size of the whole panel, as it is photographed: as a person measured it, else as planned."""
        return pieces.whole_mm(self._planned[panel.recipe], panel)

    def holds(self, reading: Reading, photo: Photo) -> bool:
        """Whether a reading was made with its panel's size and its photograph's corners as they are now."""
        panel = next((p for p in self.panels if p.id == reading.panel_id), None)
        if panel is None or panel.recipe not in self._planned:  # nobody knows how it lies: verify says what is wrong with it
            return True
        return measured_as(reading.result["panel"], self.size_mm(panel), photo.corners_px, self.box(panel))

    def is_round(self, panel: Panel) -> bool:
        """Whether the whole panel is a disc (or an ellipse)."""
        return self._planned[panel.recipe].held.outline is Outline.ROUND

    def disc(self, panel: Panel) -> Disc | None:
        """The face of a round panel, as what is measured of it sees it; None for one with corners."""
        return Disc.of_piece(self.sheet_mm(panel), self.box(panel)) if self.is_round(panel) else None

    def size_mm(self, panel: Panel) -> tuple[float, float]:
        """Size of what is measured: the panel, or its region without the strips."""
        return pieces.measured_mm(self.series, self._planned[panel.recipe], panel)

    def face_dm2(self, panel: Panel) -> float:
        """Area of what is measured, zones or not."""
        return pieces.measured_dm2(self.series, self._planned[panel.recipe], panel)

    def left_out(self, panel: Panel) -> float:
        """Share of what is measured that lies in zones that are left out."""
        size, out, disc = self.size_mm(panel), self.zones(panel), self.disc(panel)
        if not out or disc is None:
            return share_out(out, *size)
        beyond = Outside(disc)
        table = share_out([beyond], *size)
        return (share_out([*out, beyond], *size) - table) / (1.0 - table)

    def box(self, panel: Panel) -> tuple[float, float, float, float]:
        """Part of the panel that is measured, as shares."""
        return pieces.measured_box(self.series, self._planned[panel.recipe], panel)

    def together(self, panel: Panel) -> list[Panel]:
        """Pieces that share this panel, with itself."""
        return [p for p in self.panels if p.id == panel.id or (panel.sheet and p.sheet == panel.sheet)]

    def cup(self, panel: Panel) -> dict[str, float]:
        """Mass fractions of what is in a panel's cup, from the cups of its own block."""

        def compute() -> dict[str, float]:
            return composition.of_cup(self.series, self._planned[panel.recipe], self.mixes, self.weighings, self.shelf, panel.block)

        return self.once(("cup", panel.recipe, panel.block), compute)

    @cached_property
    def _asked(self) -> dict[tuple[object, ...], object]:
        """Answers that pages ask for many times while they show one moment."""
        return {}

    def once(self, key: tuple[object, ...], compute: Callable[[], T]) -> T:
        """Answer of a computation over these records, made once."""
        if key not in self._asked:
            if len(self._asked) > MOST_ANSWERS:
                self._asked.clear()
            self._asked[key] = compute()
        return self._asked[key]  # type: ignore[return-value]

    def knows(self, key: tuple[object, ...]) -> bool:
        """Whether an answer was computed already."""
        return key in self._asked

    def in_order(self) -> list[Panel]:
        """Panels in pouring order."""
        return sorted(self.panels, key=lambda p: p.place)

    def poured_at(self, panel: Panel) -> datetime | None:
        """When a panel was poured; None before."""
        return progress.poured_at(panel, self.panel_weighings, self.steps)

    def station(self, panel: Panel, now: datetime) -> Station:
        """First station at which something is left to do for a panel."""

        def compute() -> Station:
            return progress.station_of(
                self.series,
                panel,
                mixes=self.mixes,
                checks=self.checks,
                weighings=self.panel_weighings,
                steps=self.steps,
                photos=self.photos,
                readings=self.readings,
                now=now,
            )

        return self.once(("station", panel.id, now), compute)

    def weight(self, panel: Panel, kind: PanelWeight) -> float | None:
        """Latest weight of a panel in kg; pieces that share a sheet are weighed once, together."""
        sheet = {p.id for p in self.together(panel)}
        mine = [w for w in self.panel_weighings if w.panel_id in sheet and w.kind is kind and not w.taken_back]
        return mine[-1].mass_kg if mine else None

    def due_looks(self, now: datetime) -> list[DueLook]:
        """Next check-in of every panel that dries, soonest first."""
        return self.once(("dues", now), lambda: self._due_looks(now))

    def _due_looks(self, now: datetime) -> list[DueLook]:
        found = []
        for panel in self.panels:
            poured = self.poured_at(panel)
            if poured is not None and not panel.spoiled:
                look = progress.next_look(panel, poured, self.looks, now, progress.looks_of(self.series), self.waking)
                if look is not None and (self.station(panel, now) in (Station.DRY, Station.SHOOT) or hours_of(look.name) > LATE_FROM_H):
                    found.append(look)
        return sorted(found, key=lambda d: d.due)

    def reading(self, panel: Panel) -> Reading | None:
        """Newest reading of a panel, dry before others."""
        mine = [r for r in self.readings if r.panel_id == panel.id]
        dry = [r for r in mine if r.stage is Stage.DRY]
        return (dry or mine)[-1] if mine else None

    def zones(self, panel: Panel) -> tuple[Zone, ...]:
        """Zones of a panel that are left out of its readings, in mm of what is measured."""
        wide, high = self.sheet_mm(panel)
        left, top = self.box(panel)[:2]
        whole = zones_of([m for m in self.mishaps if m.panel_id == panel.id], wide, high)
        return tuple(Zone(z.x_mm - left * wide, z.y_mm - top * high, z.radius_mm) for z in whole)

    def counted(self, panel: Panel) -> Mapping[str, Any] | None:
        """What the newest reading of a panel says without its zones; None where nothing was read."""
        reading = self.reading(panel)
        if reading is None:
            return None
        return self.once(("counted", panel.id, reading.id), lambda: without(reading.result, self.zones(panel)))

    def photographed(self, panel: Panel) -> tuple[Mapping[str, Any], ...]:
        """What each dry photograph of a panel says without its zones, all by one reader, the one that stands for it first.

        One result where it was photographed once, or where a person mended what was read of it: the other photographs know nothing of that.
        """
        reading, counted = self.reading(panel), self.counted(panel)
        if reading is None or counted is None or reading.stage is not Stage.DRY:
            return ()
        return self.once(("photographed", panel.id, reading.id), lambda: (counted, *self._read_again(panel, reading)))

    def photographs(self, panel: Panel) -> tuple[Mapping[str, Any], ...]:
        """Like `photographed`, as the reader left them: nobody's hand has mended any. Fewer than two tell nothing of photographing."""
        dry = [r for r in self.readings if r.panel_id == panel.id and r.stage is Stage.DRY and not r.mended]
        if not dry:
            return ()
        first = dry[-1]
        return self.once(("photographs", panel.id, first.id), lambda: (without(first.result, self.zones(panel)), *self._read_again(panel, first)))

    def _read_again(self, panel: Panel, first: Reading) -> list[Mapping[str, Any]]:
        newest = {r.photo_id: r for r in self.read_again if r.panel_id == panel.id and r.stage is first.stage and r.reader == first.reader}
        return [without(r.result, self.zones(panel)) for r in newest.values()]

    def photo(self, panel: Panel, lamp: Lamp = Lamp.DIFFUSE, stage: Stage | None = None) -> Photo | None:
        """Newest photo of a panel with a lamp."""
        mine = [p for p in self.photos if p.panel_id == panel.id and p.lamp is lamp and not p.left_out and (stage is None or p.stage is stage)]
        return mine[-1] if mine else None

    def value(self, panel: Panel, response: Response) -> float | None:
        """One response of a panel, dry; None where it is not known. Hours to the first crack: the middle of the interval in which it came."""
        if response is Response.FIRST_CRACK:
            interval = self.began(panel)
            return None if interval is None or interval.until_h is None else (interval.from_h + interval.until_h) / 2.0
        return mean_of(self.photographed(panel), response)

    def began(self, panel: Panel) -> Began | None:
        """When a panel began to crack, as an interval; None where it was not poured or nobody looked."""
        poured = self.poured_at(panel)
        return cracking.began(poured, [k for k in self.looks if k.panel_id == panel.id]) if poured is not None else None

    def values(self, response: Response, letters: str | None = None) -> dict[str, list[float]]:
        """Response by recipe over panels that are not spoiled."""
        found: dict[str, list[float]] = {}
        for panel in self.panels:
            if panel.spoiled or (letters is not None and panel.recipe not in letters):
                continue
            value = self.value(panel, response)
            if value is not None:
                found.setdefault(panel.recipe, []).append(value)
        return found
