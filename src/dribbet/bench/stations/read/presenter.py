"""Read: what the photo shows, counted and measured in mm. No widgets."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from statistics import median
from typing import TYPE_CHECKING, Any, Final

from dribbet.bench.apart import apart_told
from dribbet.bench.parts.photo_stage import Overlay
from dribbet.lab.panel.progress import Station
from dribbet.lab.plan.responses import hidden_slope, value_of
from dribbet.notebook.store import new_id
from dribbet.records import MENDED, RAKED, DribbetError, Lamp, Panel, Photo, Reading, Report, Response, Where, order
from dribbet.records.results import FaultKind, faults_of
from dribbet.records.wording import first_up
from dribbet.sight import READER, zones
from dribbet.sight.arrangement import named_direction
from dribbet.sight.cracks import missed_mm
from dribbet.sight.photographs import ToRead, read
from dribbet.sight.round_face import Disc
from dribbet.sight.zones import part_of
from dribbet.studio.acts import leaving_out as left_out
from dribbet.studio.standing import again, fate
from dribbet.studio.standing import panels as standing
from dribbet.studio.standing import since as change
from dribbet.words import arranged
from dribbet.words import dry as dry_words
from dribbet.words import fates as fate_words
from dribbet.words import read as read_words
from dribbet.words import shoot as shoot_words
from dribbet.words import since as since_words
from dribbet.words.units import count_text, in_words, percent, units_of

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping

    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run
    from dribbet.words.units import Units


PERHAPS: Final = 0.6
"""Sureness below which a cell is drawn as one that may be none."""
RING_SHARE: Final = 0.2  # of the shorter side: how wide a ring begins, from its middle
LEAST_RING_MM: Final = 2.0


@dataclass(frozen=True, slots=True)
class FigureView:
    """A read-out: figure, unit, and a sentence under it."""

    figure: str
    unit: str
    words: str


@dataclass(frozen=True, slots=True)
class ReadView:
    """Everything the page shows."""

    code: str = ""
    panel: Panel | None = None
    sentence: str = ""
    note: str = ""
    empty: bool = False
    photo: Photo | None = None
    corners: tuple[tuple[float, float], ...] = ()
    size_mm: tuple[float, float] = (200.0, 150.0)
    disc: Disc | None = None
    overlay: Overlay = field(default_factory=lambda: Overlay())
    figures: tuple[FigureView, ...] = ()
    diameters_mm: tuple[float, ...] = ()
    shades: tuple[tuple[str, float], ...] = ()
    warnings: tuple[str, ...] = ()
    unread: int = 0
    unread_again: int = 0
    """Photographs of panels taken up and photographed again that wait to be read."""
    one_key: str = ""
    is_read: bool = False
    newly_lit: bool = False
    """Whether photographs under other lamps came in since it was read."""
    base_open: bool = False
    """Whether a field may be base or paint, and nobody has said which."""
    lines_open: bool = False
    """Whether it is asked what lines are: cracks or none."""
    cell_words: str = ""
    part: str = ""
    """Words of the part of the panel that the figures are of."""
    poured: tuple[tuple[str, float], ...] = ()
    """Colours of the cup by share, in the order of `shades` where those are of the paints too."""
    fate: str = ""
    """What became of the colours."""
    since: str = ""
    """Words of the key that turns to what changed since an earlier stage; empty where none was read."""
    is_since: bool = False
    ring: bool = False
    """Whether a person may point at a place whose figures are told."""


def _piece_corners(run: Run, panel: Panel, corners_px: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
    """Corners of what is measured of a panel: the panel itself, or its region of a shared one."""
    if not panel.region or len(corners_px) != 4:
        return corners_px
    import numpy as np

    from dribbet.sight.geometry import part_of

    return tuple((float(x), float(y)) for x, y in part_of(np.array(corners_px), run.box(panel)))


BESIDE: Final = (Lamp.LEFT, Lamp.RIGHT, Lamp.EDGE)
"""Lamps whose photographs are read beside the diffuse one."""


class ReadPresenter:
    """Which panel is read, and what a press does."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self._lines: tuple[object, Overlay] | None = None
        self.part = Where.WHOLE
        """What of a panel the figures are of."""
        self.since = False
        """Whether what changed since an earlier stage is told."""
        self.rings: dict[str, zones.Zone] = {}
        """Places that a person points at, by panel."""
        self.scores: dict[str, str] = {}
        """What was said of the forecast of a reading's colours."""

    def readable(self, run: Run) -> list[Panel]:
        """Panels that have a photo with a diffuse lamp."""
        return [p for p in run.in_order() if run.photo(p) is not None]

    def unread(self, run: Run) -> list[Panel]:
        now = self.desk.now()
        return [p for p in self.readable(run) if run.station(p, now) is Station.READ or run.reading(p) is None or self.newly_lit(run, p)]

    def newly_lit(self, run: Run, panel: Panel) -> bool:
        """Whether a panel was photographed under other lamps since it was read: both that rake over it, or the one that is mirrored."""
        reading = self.shown(run, panel)
        if reading is None:
            return False
        sets = ((Lamp.LEFT, Lamp.RIGHT), (Lamp.EDGE,))
        photos = [[run.photo(panel, lamp, reading.stage) for lamp in lamps] for lamps in sets]
        whole = [[p for p in some if p is not None] for some in photos if None not in some]
        return any(order(p) > order(reading) for some in whole for p in some)

    def waiting(self) -> list[tuple[Panel, Photo | None]]:
        """All that waits to be read of the series in hand: panels, then (each with its photograph) those that were photographed again."""
        run = self.desk.need_run()
        return [*((p, None) for p in self.unread(run)), *again.unread(run, READER)]

    def panel(self, run: Run) -> Panel | None:
        chosen = self.desk.in_hand("read")
        known = self.readable(run)
        return next((p for p in known if p.id == chosen), None) or next(iter(self.unread(run)), None) or (known[-1] if known else None)

    def shown(self, run: Run, panel: Panel) -> Reading | None:
        """The reading on view: the newest of the stage that the newest photo is of."""
        photo = run.photo(panel)
        return next((r for r in reversed(run.readings) if photo is not None and r.panel_id == panel.id and r.stage is photo.stage), None)

    def view(self, hand_cell: int | None = None) -> ReadView:
        run = self.desk.run()
        panel = self.panel(run) if run is not None else None
        if run is None or panel is None:
            return ReadView(sentence=read_words.NOTHING_TO_READ, empty=True, one_key=read_words.GO_TO_SHOOT)
        photo = run.photo(panel)
        assert photo is not None
        size = run.size_mm(panel)
        reading = self.shown(run, panel)
        waiting = [p for p in self.unread(run) if p.id != panel.id]
        waiting_again = len(again.unread(run, READER))
        if reading is None:
            return ReadView(
                code=panel.code, panel=panel, sentence=read_words.NOT_READ(code=panel.code),
                note=f"{photo.stage} photo, {photo.name}", photo=photo, corners=_piece_corners(run, panel, photo.corners_px),
                size_mm=size, disc=run.disc(panel), unread=len(waiting) + 1, unread_again=waiting_again, one_key=read_words.READ_THIS_PANEL,
            )  # fmt: skip
        result = dict(run.counted(panel) or reading.result) if run.reading(panel) is reading else reading.result
        whole = result
        base_open, lines_open = bool(whole["spread"].get("doubtful")), bool(whole["cracks"].get("doubtful"))
        asked = base_open or lines_open  # of the whole panel: that comes first
        changed = None if asked else change.since(run, panel, reading)
        since = changed if self.since else None
        part = Where.WHOLE if asked or since is not None else self.part
        here = self.ring(panel, reading) if part is Where.HERE and since is None else None
        if part is not Where.WHOLE:
            left_out = run.zones(panel) if run.reading(panel) is reading else ()
            result = run.once(("part", reading.id, part, here), lambda: part_of(reading.result, part, left_out, here))
        lit = self.newly_lit(run, panel)
        told = run.once(("fates", reading.id), lambda: fate.fates(self.desk, run, panel)) if run.reading(panel) is reading else None
        out = run.left_out(panel)
        corners = tuple((x, y) for x, y in result["panel"]["corners_px"])
        shot = next((p for p in run.photos if p.id == reading.photo_id), photo)
        return ReadView(
            code=panel.code,
            panel=panel,
            sentence=self._sentence(whole),
            note=since_words.head(since)
            if since is not None
            else (read_words.LEFT_OUT(code=panel.code, reason=panel.spoiled) if panel.spoiled else "")
            + read_words.READ_BY(stage=shot.stage, reader=reading.reader)
            + (f", {coat}" if (coat := dry_words.coat(standing.coat_at(run, panel, shot.added_at))) else "")
            + (read_words.FACE_LEFT_OUT(share=percent(out)) if out else "")
            + (read_words.NEWLY_LIT if lit else "")
            + (read_words.STILL_TO_READ(panels=count_text(len(waiting), "panel")) if waiting else "")
            + (f"; {shoot_words.waiting(waiting_again)}" if waiting_again else "")
            + (f". {self.scores[reading.id]}" if reading.id in self.scores else ""),
            photo=shot,
            corners=corners,
            size_mm=size,
            disc=run.disc(panel),
            overlay=self._overlay(reading, run.zones(panel), part, here),
            ring=here is not None,
            since=since_words.key(changed) if changed is not None else "",
            is_since=since is not None,
            figures=self._since_figures(since)
            if since is not None
            else self._part_figures(result, part)
            if part is not Where.WHOLE
            else self._figures(result, run.photographed(panel) if run.reading(panel) is reading else ()),
            diameters_mm=tuple(c["diameter_mm"] for c in result["cells"]["items"]),
            shades=tuple((f.hex, f.shows) for f in told.of) if told else tuple((s["hex"], s["share"]) for s in result["colour"]["shares"]),
            poured=tuple((f.hex, f.poured) for f in told.of) if told else (),
            fate=fate_words.sentence(told, units_of(self.desk)) if told else "",
            warnings=tuple(result["light"]["warnings"]),
            unread=len(waiting),
            unread_again=waiting_again,
            one_key=read_words.READ_IT_AGAIN if lit else read_words.NEXT_PANEL if waiting else read_words.GO_TO_DECIDE,
            newly_lit=lit,
            is_read=True,
            base_open=base_open,
            lines_open=lines_open,
            part=shoot_words.PARTS[part],
            cell_words=self._cell_words(reading.result, hand_cell),
        )

    def _overlay(self, reading: Reading, left_out: tuple[zones.Zone, ...], part: Where, here: zones.Zone | None) -> Overlay:
        """Lines of a reading, made once while it is shown."""
        key = (reading.id, left_out, part, here)
        if self._lines is None or self._lines[0] != key:
            drawn = replace(overlay_of(reading.result), zones=tuple((z.x_mm, z.y_mm, z.radius_mm) for z in left_out))
            if here is not None:
                ring = Disc(here.x_mm, here.y_mm, here.radius_mm, here.radius_mm)
                drawn = replace(drawn, inner=ring.box, inner_round=True)
            elif part is not Where.WHOLE:
                wide, high = (float(reading.result["panel"][k]) for k in ("width_mm", "height_mm"))
                rim = zones.rim_mm(wide, high)
                disc = Disc.of_result(reading.result["panel"])
                inner = (disc or Disc.within(wide, high)).smaller(rim).box
                drawn = replace(drawn, inner=inner, inner_round=disc is not None)
            self._lines = (key, drawn)
        return self._lines[1]

    def ring(self, panel: Panel, reading: Reading) -> zones.Zone:
        """The place of a panel that a person points at; where nobody has yet, its middle."""
        wide, high = (float(reading.result["panel"][k]) for k in ("width_mm", "height_mm"))
        return self.rings.get(panel.id) or zones.Zone(wide / 2, high / 2, RING_SHARE * min(wide, high))

    def draw_ring(self, x_mm: float, y_mm: float, radius_mm: float | None) -> None:
        """Point at a place; without a radius it is as wide as before."""
        run = self.desk.need_run()
        panel = self.panel(run)
        reading = self.shown(run, panel) if panel is not None else None
        if panel is None or reading is None:
            return
        wide, high = (float(reading.result["panel"][k]) for k in ("width_mm", "height_mm"))
        radius = self.ring(panel, reading).radius_mm if radius_mm is None else max(radius_mm, LEAST_RING_MM)
        self.rings[panel.id] = zones.Zone(min(max(x_mm, 0.0), wide), min(max(y_mm, 0.0), high), min(radius, max(wide, high)))
        self.desk.changed()

    def move_ring(self, dx_mm: float, dy_mm: float) -> None:
        """Move the place a little."""
        run = self.desk.need_run()
        panel = self.panel(run)
        reading = self.shown(run, panel) if panel is not None else None
        if panel is not None and reading is not None:
            at = self.ring(panel, reading)
            self.draw_ring(at.x_mm + dx_mm, at.y_mm + dy_mm, None)

    def next_part(self) -> None:
        """Turn to the figures of the middle, of the rim, of a place, then of the whole again."""
        self.since = False
        parts = list(Where)
        self.part = parts[(parts.index(self.part) + 1) % len(parts)]
        self.desk.changed()

    def turn_since(self) -> None:
        """Turn to what changed since an earlier stage, and back."""
        self.since = not self.since
        self.desk.changed()

    def _since_figures(self, told: change.SinceShown) -> tuple[FigureView, ...]:
        units = units_of(self.desk)
        return tuple(FigureView(*words) for words in (since_words.cells(told), since_words.crack(told, units), since_words.vivid(told)))

    def _part_figures(self, result: dict[str, Any], part: Where) -> tuple[FigureView, ...]:
        """What can be told of a part of a panel, so that parts of any size can be held against each other."""
        units, cells, where = units_of(self.desk), result["cells"], shoot_words.ON[part]
        long, wide = [c["elongation"] for c in cells["items"]], units.length_text(cells["median_diameter_mm"], 1)
        words = shoot_words.part_cells(where, cells["count"], wide, median(long)) if long else shoot_words.none(where)
        crack = units.length_text(result["cracks"]["length_mm"])
        made = [
            FigureView(f"{cells['per_dm2']:.1f}", read_words.CELLS_IN_EACH_DM2, words),
            FigureView(crack.partition("\u202f")[0], f"{units.length} of crack", ""),
        ]
        made.append(FigureView(f"{result['spread']['fraction'] * 100:.0f}", "% covered", ""))
        if self._of_the_edge(result):
            made.append(_shine(result["shine"], ""))
        elif result.get("shimmer"):
            made.append(FigureView(f"{result['shimmer']['index']:.2f}", "shimmer", ""))
        made.append(FigureView(f"{result['colour']['mean_chroma']:.0f}", "C* vivid", ""))
        return tuple(made)

    def _sentence(self, result: dict[str, Any]) -> str:
        n, crack = result["cells"]["count"], result["cracks"]["length_mm"]
        length = units_of(self.desk).length_text(crack) if crack else ""
        unsure = bool(result["cracks"].get("doubtful_mm") or missed_mm(result["cracks"]))
        said = read_words.cells_and_cracks(n, length, unsure=unsure)
        return said + (
            read_words.IS_HATCHED_BASE
            if result["spread"].get("doubtful")
            else read_words.ARE_DOTTED_CRACKS
            if result["cracks"].get("doubtful")
            else ""
        )

    def _ranged(self, told: tuple[Mapping[str, Any], ...], response: Response) -> str:
        """What a figure came out as on all photographs of a panel that was photographed again."""
        known = [v for r in told if (v := value_of(r, response)) is not None]
        if len(known) < 2:
            return ""
        return " " + shoot_words.ranged(response, min(known), max(known), len(known), units_of(self.desk))

    def _figures(self, result: dict[str, Any], photographed: tuple[Mapping[str, Any], ...] = ()) -> tuple[FigureView, ...]:
        units, cells, cracks, spread = units_of(self.desk), result["cells"], result["cracks"], result["spread"]
        lie = self._ranged(photographed, Response.CELL_COUNT) or _lie(result, units)
        made = [
            FigureView(
                str(cells["count"]),
                "cells",
                read_words.HALF_ARE_WIDER(
                    length=units.length_text(cells["median_diameter_mm"], 1),
                    percent=percent(cells["touching_fraction"]),
                    lie=lie,
                    doubted=_doubted(cells),
                )
                if cells["count"]
                else read_words.NONE_OF_1_MM_OR_MORE,
            )
        ]
        crack = units.length_text(cracks["length_mm"])
        figure, _, unit = crack.partition("\u202f")
        where = (
            read_words.CRACKS_IN_ALL(cracks["count"], cracks=in_words(cracks["count"]), length=units.length_text(cracks["max_width_mm"], 1))
            + shoot_words.off(cracks.get("length_sd", 0.0), units)
            + (read_words.MORE_DOTTED_MAY_BE_CRACKS(length=units.length_text(cracks["doubtful_mm"])) if cracks.get("doubtful") else "")
            if cracks["count"]
            else read_words.DOTTED_MAY_BE_CRACKS(length=units.length_text(cracks["doubtful_mm"]))
            if cracks.get("doubtful")
            else read_words.LINES_MAY_BE_CRACKS(length=units.length_text(doubtful))
            if (doubtful := cracks.get("doubtful_mm", 0.0))
            else read_words.NONE_FOUND_BUT(length=units.length_text(missed))
            if (missed := missed_mm(cracks))
            else read_words.NO_GROOVE
            if cracks.get("under_lamps")
            else read_words.NONE_FOUND
        ) + _by_lamps(cracks, units)
        made.append(FigureView(figure, f"{unit} of crack", where + self._ranged(photographed, Response.CRACK_LENGTH)))
        bare = spread["bare_corners"]
        words = read_words.STOPS_SHORT(len(bare), bare=in_words(len(bare))) if bare else read_words.NO_BARE_CORNER_IS_SEEN
        most, open_ = spread["fraction"], spread.get("doubtful", 0.0)
        if open_:
            words = read_words.HATCHED_MAY_BE_BASE(percent=percent(open_))
        else:
            words += self._ranged(photographed, Response.SPREAD)
        least = f"{max(most - open_, 0.0) * 100:.0f}–" if open_ else ""
        made.append(FigureView(f"{least}{most * 100:.0f}", "% covered", words))
        if self._of_the_edge(result):
            made.append(_shine(result["shine"], _grade(result["shine"], units) + self._ranged(photographed, Response.SHINE)))
        elif result.get("shimmer"):
            made.append(self._raked(result, photographed))
        lacing = result["lacing"]["area_fraction"]
        if lacing > 0.004:
            made.append(FigureView(f"{lacing * 100:.1f}", "% lacing", ""))
        return tuple(made)

    def _of_the_edge(self, result: dict[str, Any]) -> bool:
        """Whether shine is told: there is room for it or for what the lamps left and right tell, and what the test asks first comes first."""
        asked = [r for r, _ in self.desk.need_run().series.responses if r is Response.SHINE or r in RAKED]
        return "shine" in result and (not result.get("shimmer") or asked[:1] == [Response.SHINE])

    def _raked(self, result: dict[str, Any], photographed: tuple[Mapping[str, Any], ...]) -> FigureView:
        """What the lamps left and right tell, in one figure: there is room for four. What the test asks comes first."""
        shimmer, surface = result["shimmer"], result.get("surface")
        if not surface:
            return FigureView(f"{shimmer['index']:.2f}", "shimmer", read_words.GLINTS(shimmer=shimmer["glints_per_cm2"]))
        kinds = [f["kind"] for f in surface["faults"]]
        faults = read_words.faults(kinds.count(FaultKind.PIT), kinds.count(FaultKind.BUMP))
        asked = {r for r, _ in self.desk.need_run().series.responses}
        most = hidden_slope(surface)
        if asked & {Response.UNEVENNESS, Response.FAULTS} and Response.SHIMMER not in asked:
            more = read_words.SHIMMER_IS(shimmer=shimmer["index"]) if most is None else read_words.FLAKES_HIDE(percent=percent(most, 1))
            words = f"{faults} {more}" + self._ranged(photographed, Response.UNEVENNESS)
            return FigureView(f"{surface['slope'] * 100:.1f}", "% uneven", words)
        uneven = read_words.UNEVEN_IS(percent=percent(surface["slope"], 1)) if most is None else read_words.UNEVEN_WITHIN(percent=percent(most, 1))
        return FigureView(f"{shimmer['index']:.2f}", "shimmer", f"{uneven} {faults}")

    def _cell_words(self, result: dict[str, Any], i: int | None) -> str:
        items = result["cells"]["items"]
        faults = faults_of(result)
        if i is None or i >= len(items) + len(faults):
            return ""
        if i >= len(items):
            fault = faults[i - len(items)]
            return read_words.THIS_FAULT(kind=FaultKind(fault["kind"]), length=units_of(self.desk).length_text(fault["width_mm"], 1))
        cell, units = items[i], units_of(self.desk)
        shape = "round" if cell["elongation"] < 1.25 else "oval" if cell["elongation"] < 1.8 else "stretched"
        return read_words.THIS_CELL(length=units.length_text(cell["diameter_mm"], 1), shape=shape)

    # ------------------------------------------------------------ work in a job

    def to_read(self, panel: Panel, main: Photo) -> ToRead:
        """What is asked of the reader for a panel: its photographs and where it lies on them."""
        run = self.desk.need_run()
        if main.take:
            mine = {p.lamp: p for p in run.again if (p.panel_id, p.stage, p.take) == (panel.id, main.stage, main.take)}
            left, right, edge = (mine.get(lamp) for lamp in BESIDE)
        else:
            left, right, edge = (run.photo(panel, lamp, main.stage) for lamp in BESIDE)
        path_of = self.desk.notebook.photos.path_of
        return ToRead(
            main=path_of(main),
            left=path_of(left) if left is not None else None,
            right=path_of(right) if right is not None else None,
            edge=path_of(edge) if edge is not None else None,
            size_mm=run.size_mm(panel),
            width_px=main.width_px,
            corners_px=main.corners_px,
            sheet_mm=run.sheet_mm(panel) if panel.region else None,
            piece=run.box(panel) if panel.region else None,
            disc=run.disc(panel),
        )

    def reading_of(self, panel: Panel, photo: Photo | None = None) -> Callable[[Report], Reading]:
        """What measures a panel in a job; all that it needs of the notebook is taken now, in the window's thread.

        From the photograph that stands for it, else from the one given, which was taken again.
        """
        main = photo or self.desk.need_run().photo(panel)
        if main is None:
            raise DribbetError(read_words.NO_DIFFUSE_PHOTO(code=panel.code))
        order = self.to_read(panel, main)

        def work(report: Report) -> Reading:
            result = apart_told(report, read, order)
            return Reading(id=new_id(), panel_id=panel.id, photo_id=main.id, stage=main.stage, reader=READER, at=self.desk.now(), result=result)

        return work

    # ------------------------------------------------------------ what a press does

    def keep(self, reading: Reading, *, in_hand: bool = True) -> None:
        """Store what was read; its panel comes into view unless it was read among others.

        What a person had said of an earlier reading of the same photograph is said of this one too, as a reading of its own, where another reader
        or other corners read it.
        """
        again_said = self._said_again(reading)
        with self.desk.notebook.transaction():
            self.desk.notebook.add(reading, *again_said)
            left_out.reopen(self.desk, self.desk.notebook.get(Panel, reading.panel_id).series_id)
        if in_hand:
            self.desk.take("read", reading.panel_id)
        self.desk.changed()

    def _said_again(self, reading: Reading) -> tuple[Reading, ...]:
        from dribbet.sight.retold import retold

        before = self.desk.notebook.all(Reading, panel_id=reading.panel_id, photo_id=reading.photo_id)
        mended = next((r for r in reversed(before) if r.mended), None)
        if mended is None:
            return ()
        read = next((r for r in reversed(before[: before.index(mended)]) if not r.mended), None)
        if read is None or before[-1] is not mended:  # a person had it read again, and let that stand
            return ()
        laid = ("corners_px", "width_mm", "height_mm")
        if read.reader == reading.reader and all(read.result["panel"][k] == reading.result["panel"][k] for k in laid):
            return ()  # the very same reading once more: that is how what was said is taken back
        result = retold(reading.result, read.result, mended.result)
        if result == reading.result:
            return ()
        return (replace(reading, id=new_id(), reader=f"{reading.reader}{MENDED}"[:24], result=result),)

    def next_panel(self) -> None:
        run = self.desk.need_run()
        waiting = self.unread(run)
        now = self.panel(run)
        rest = [p for p in waiting if now is None or p.id != now.id]
        known = self.readable(run)
        if rest:
            self.desk.take("read", rest[0].id)
        elif known and now is not None:
            self.desk.take("read", known[(known.index(now) + 1) % len(known)].id)
        self.desk.changed()

    def choose_by(self, step: int) -> None:
        """Walk to the panel before or after."""
        run = self.desk.need_run()
        known, now = self.readable(run), self.panel(run)
        if known and now is not None:
            self.desk.take("read", known[(known.index(now) + step) % len(known)].id)
            self.desk.changed()

    def remove_cell(self, i: int | None) -> None:
        """Take a cell out by hand, or a fault (they count on after the cells): a new reading that says so; the old one stays."""
        run = self.desk.need_run()
        panel = self.panel(run)
        from dribbet.sight.corrected import without_cell, without_fault

        reading = self.shown(run, panel) if panel is not None else None
        if panel is None or reading is None or i is None:
            raise DribbetError(read_words.NO_CELL_IN_HAND)
        cells = len(reading.result["cells"]["items"])
        self._mended(reading, without_cell(reading.result, i) if i < cells else without_fault(reading.result, i - cells))

    def tell_base(self, bare: bool) -> None:
        """Say of what may be base or paint which it is: a new reading that says so; the old one stays."""
        run = self.desk.need_run()
        panel = self.panel(run)
        from dribbet.sight.corrected import with_base_told

        reading = self.shown(run, panel) if panel is not None else None
        if reading is None:
            raise DribbetError(read_words.READ_IT_FIRST)
        self._mended(reading, with_base_told(reading.result, bare))

    def tell_lines(self, cracked: bool) -> None:
        """Say of lines that may be cracks whether they are: a new reading that says so; the old one stays."""
        run = self.desk.need_run()
        panel = self.panel(run)
        from dribbet.sight.corrected import with_lines_told

        reading = self.shown(run, panel) if panel is not None else None
        if reading is None:
            raise DribbetError(read_words.READ_IT_FIRST)
        self._mended(reading, with_lines_told(reading.result, cracked))

    def _mended(self, reading: Reading, result: dict[str, Any]) -> None:
        run = self.desk.need_run()
        by_hand = reading.reader if reading.mended else f"{reading.reader}{MENDED}"
        with self.desk.notebook.transaction():
            self.desk.notebook.add(replace(reading, id=new_id(), reader=by_hand[:24], at=self.desk.now(), result=result))
            left_out.reopen(self.desk, run.series.id)
        self.desk.changed()


def _perhaps(cells: Mapping[str, Any]) -> frozenset[int]:
    """Which of the cells the reader is not sure of."""
    return frozenset(i for i, c in enumerate(cells["items"]) if c.get("sureness", 1.0) < PERHAPS)


def _doubted(cells: Mapping[str, Any]) -> str:
    """How many cells may be none: those that are dashed on the photo."""
    n = len(_perhaps(cells))
    return read_words.DASHED_MAY_BE_NONE(cells=first_up(in_words(n))) if n else ""


def overlay_of(result: dict[str, Any]) -> Overlay:
    """Outlines of a reading as lines over the photo."""
    lines = result.get("outlines", {})

    def closed(name: str) -> tuple[tuple[tuple[float, float], ...], ...]:
        return tuple(tuple((x, y) for x, y in line) for line in lines.get(name, []))

    return Overlay(
        cells=closed("cells"), perhaps=_perhaps(result["cells"]), cracks=closed("cracks"), edge=closed("edge"), unsure=closed("unsure"),
        lines=closed("lines"), faults=tuple((f["x_mm"], f["y_mm"], f["width_mm"], f["kind"] == FaultKind.BUMP) for f in faults_of(result)),
    )  # fmt: skip


def _by_lamps(cracks: Mapping[str, Any], units: Units) -> str:
    """What the lamps left and right say of the lines."""
    told = cracks.get("under_lamps") or {}
    deep, flat = min(told.get("deep_mm", 0.0), cracks["length_mm"]), told.get("flat_mm", 0.0)
    return (read_words.ARE_GROOVES(length=units.length_text(deep)) if deep else "") + (
        read_words.LIE_FLAT(length=units.length_text(min(flat, cracks["doubtful_mm"]))) if flat and cracks.get("doubtful") else ""
    )


def _lie(result: dict[str, Any], units: Units) -> str:
    """How cells lie to each other, where the reading says so."""
    told = result.get("arrangement") or {}
    if not told or result.get("shimmer") is not None or result["cracks"].get("doubtful") or result["spread"].get("doubtful"):
        return ""  # four figures, or a question, need the room
    return " " + arranged.lie(told, named_direction(told), units.length_text(told.get("gap_mm") or 0.0, 1))


def _grade(shine: Mapping[str, Any] | None, units: Units) -> str:
    """How glossy, in words."""
    if shine is None:
        return ""
    return read_words.shine(shine["grade"], units.length_text(shine["width_mm"], 1) if shine["width_mm"] is not None else "", shine["contrast"])


def _shine(shine: Mapping[str, Any] | None, words: str) -> FigureView:
    """Shine of a panel, or of a part of it; too little of the edge may lie there, or outside its zones."""
    if shine is None:
        return FigureView("–", "% shine", read_words.NO_EDGE_HERE)
    return FigureView(f"{shine['step'] * 100:.1f}", "% shine", words)
