"""Read: the page. The panel squared up, what was counted drawn over it, three figures and the pebbles."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QColor, QPainter, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from dribbet.bench.page import Page
from dribbet.bench.parts.base import DrawnPart, Words, draw_text
from dribbet.bench.parts.keys import Key
from dribbet.bench.parts.pebbles import Pebbles
from dribbet.bench.parts.photo_stage import PhotoStage, dotted_pens
from dribbet.bench.pictures import Flat, Pictures, load_flat
from dribbet.bench.stations.read.presenter import FigureView, ReadPresenter, ReadView
from dribbet.bench.stations.read.several import Several
from dribbet.bench.theme.inks import WALL, WHITE, Inks
from dribbet.bench.theme.patterns import dashed, solid
from dribbet.bench.theme.type import grown, width
from dribbet.lab.panel import landing
from dribbet.records import DribbetError, Reading, Where
from dribbet.studio.standing import turning
from dribbet.words import fates as fate_words
from dribbet.words import read as read_words
from dribbet.words import shoot as shoot_words
from dribbet.words import turning as turning_words
from dribbet.words.parts import Remark, Weight

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.bench.jobs import Job, Jobs
    from dribbet.studio.desk import Desk


class ReadOut(QWidget):
    """A figure with its unit, and a sentence."""

    def __init__(self) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.figure = Words("", 22, 600, inks=WALL, wrap=False)
        self.words = Words("", 15, 400, role="note", inks=WALL)
        column.addWidget(self.figure)
        column.addWidget(self.words)

    def show_figure(self, figure: FigureView) -> None:
        self.figure.say(f"\x11{figure.figure}\x12 {figure.unit}")
        self.words.say(figure.words)
        self.setAccessibleName(f"{figure.figure} {figure.unit}. {figure.words}")


class FigureColumn(QWidget):
    """The column of figures beside the photo: as wide as its type is large."""

    def __init__(self) -> None:
        super().__init__()
        self.regrow()

    def regrow(self) -> None:
        """Take the size that type has in this window now."""
        self.setFixedWidth(grown(FIGURES_PX))


FIGURES_PX: Final = 300
SHORT_PX: Final = 620.0
BETWEEN_SAMPLES_PX: Final = 24.0


class LineKey(DrawnPart):
    """What the lines over the photo mean."""

    def __init__(self, inks: Inks = WALL) -> None:
        super().__init__(inks)
        self.setFixedHeight(28)
        self.faults = self.dotted = False
        self.name(read_words.LINES)

    def show_kinds(self, faults: bool, dotted: bool) -> None:
        """With what a pit or a bump is drawn as, and what a line that may be a crack, where there are any."""
        if (faults, dotted) != (self.faults, self.dotted):
            self.faults, self.dotted = faults, dotted
            self.name(read_words.LINES_AND_FAULTS if faults else read_words.LINES)
            self.update()

    def draw(self, p: QPainter) -> None:
        ink = WHITE
        p.setPen(solid(ink, 2))
        p.drawEllipse(QPointF(12, 14), 9, 7)
        x = self._named(p, 30.0, "cell")
        ring = dashed(ink, 2)
        ring.setDashPattern([2, 1.6])  # the ring is too small for the usual one
        p.setPen(ring)
        p.drawEllipse(QPointF(x + 8, 14), 9, 7)
        x = self._named(p, x + 26, "perhaps")
        p.setPen(dashed(ink, 3))
        p.drawLine(QPointF(x, 14), QPointF(x + 30, 14))
        x = self._named(p, x + 38, "crack")
        if self.dotted:
            for pen in dotted_pens():
                p.setPen(pen)
                p.drawLine(QPointF(x, 14), QPointF(x + 30, 14))
            x = self._named(p, x + 38, "perhaps")
        short = self.width() < SHORT_PX
        if not (short and self.faults and self.dotted):  # there is no room for all: what the paint's edge is, is plain to see
            p.setPen(solid(ink, 1.6))
            for y in (11, 16):
                p.drawLine(QPointF(x, y), QPointF(x + 26, y))
            edge = "edge" if short and (self.faults or self.dotted) else read_words.EDGE_OF_THE_PAINT
            x = self._named(p, x + 34, edge)
        if self.faults:
            p.setPen(solid(ink, 2))
            for flat, tip, words in ((8.0, 20.0, "pit"), (19.0, 7.0, "bump")):
                p.drawPolygon(QPolygonF([QPointF(x, flat), QPointF(x + 15, flat), QPointF(x + 7.5, tip)]))
                x = self._named(p, x + 22, words)

    def _named(self, p: QPainter, x: float, words: str) -> float:
        """Write what a sample is, and say where the next one begins."""
        wide = width(words, 15)
        draw_text(p, QRectF(x, 0, wide + 8, 28), words, 15, 400, self.inks.note)
        return x + wide + BETWEEN_SAMPLES_PX


class Shades(DrawnPart):
    """Colours of the film by share; above them those of the cup, where it is known which are which."""

    def __init__(self, inks: Inks = WALL) -> None:
        super().__init__(inks)
        self.shades: tuple[tuple[str, float], ...] = ()
        self.poured: tuple[tuple[str, float], ...] = ()
        self.setFixedHeight(26)

    def show_shades(self, shades: tuple[tuple[str, float], ...], poured: tuple[tuple[str, float], ...] = ()) -> None:
        self.shades, self.poured = shades, poured
        self.setFixedHeight(52 if poured else 26)
        said = [("Colours by share", shades), *([("poured", poured)] if poured else [])]
        self.name("Colours by share", "; ".join(f"{head}: " + ", ".join(f"{h} {s:.0%}" for h, s in bar) for head, bar in said))
        self.update()

    def draw(self, p: QPainter) -> None:
        if not self.poured:
            self._bar(p, self.shades, 0.0, 2.0)
            return
        left = max(width(w, 14) for w in (fate_words.POURED, fate_words.SHOWS)) + 12.0
        for words, bar, top in ((fate_words.POURED, self.poured, 2.0), (fate_words.SHOWS, self.shades, 28.0)):
            draw_text(p, QRectF(0, top, left, 22), words, 14, 400, self.inks.note)
            self._bar(p, bar, left, top)

    def _bar(self, p: QPainter, bar: tuple[tuple[str, float], ...], left: float, top: float) -> None:
        x, room = left, self.width() - left
        for hex_, share in bar:
            p.fillRect(QRectF(x, top, share * room, 22), QColor(hex_))
            x += share * room
        if x < self.width() - 0.5:  # blends of them
            p.setPen(solid(self.inks.note, 1.2))
            p.drawRect(QRectF(x + 1, top + 1, self.width() - x - 2, 20))


class ReadPage(Page):
    """One panel, read."""

    inks = WALL

    def __init__(self, desk: Desk, jobs: Jobs, pictures: Pictures) -> None:
        super().__init__(desk, jobs)
        self.presenter = ReadPresenter(desk)
        self.pictures = pictures
        self.view = ReadView()
        self._shown: tuple[object, ...] = ()
        self._job: Job | None = None
        self.several = Several(self.presenter, jobs, self.refresh, self._all_read)
        row = QHBoxLayout()
        row.setSpacing(26)
        left = QVBoxLayout()
        self._scoring: set[str] = set()
        self.stage = PhotoStage(WALL, empty=read_words.NO_PHOTO_YET)
        self.stage.cell_chosen.connect(self._cell_chosen)
        self.stage.ring_drawn.connect(lambda x, y, wide: self.attempt(lambda: self.presenter.draw_ring(x, y, wide)))
        self.stage.ring_moved.connect(lambda dx, dy: self.attempt(lambda: self.presenter.move_ring(dx, dy)))
        left.addWidget(self.stage, 1)
        self.key_line = LineKey()
        left.addWidget(self.key_line)
        row.addLayout(left, 72)
        self.side = FigureColumn()
        side = QVBoxLayout(self.side)
        side.setContentsMargins(0, 0, 0, 0)
        side.setSpacing(10)
        self.figures = [ReadOut() for _ in range(5)]
        for figure in self.figures:
            side.addWidget(figure)
        self.shade_head = Words(read_words.COLOURS_OF_THE_FILM, 16, 700, inks=WALL)
        self.shades = Shades()
        side.addWidget(self.shade_head)
        side.addWidget(self.shades)
        self.fate = Words("", 14, 400, role="note", inks=WALL)
        side.addWidget(self.fate)
        self.heap_head = Words("Cells by width", 16, 700, inks=WALL)
        self.pebbles = Pebbles(WALL)
        side.addWidget(self.heap_head)
        side.addWidget(self.pebbles, 1)
        side.addStretch(0)  # where there is no heap, room is left below, not between a figure and its words
        self.warnings = QVBoxLayout()
        side.addLayout(self.warnings)
        row.addWidget(self.side)
        self.body.addLayout(row, 1)

    def refresh(self) -> None:
        self.view = v = self.presenter.view(self.stage.hand_cell)
        self.key_line.show_kinds(faults=bool(v.overlay.faults), dotted=v.lines_open)
        for part in (self.stage, self.key_line, self.side):
            part.setVisible(not v.empty)
        self.title(v.code, v.sentence, shoot_words.DRAW_THE_RING if v.ring else v.note)
        self.stage.draws_ring = v.ring
        if v.empty:
            self.keys([(Key("Space", v.one_key), lambda: self.go.emit("shoot"))])
            return
        for out in self.figures:
            out.hide()
        for out, figure in zip(self.figures, v.figures, strict=False):
            out.show_figure(figure)
            out.show()
        self.shade_head.setVisible(v.is_read and not v.poured)  # two bars with their words need no head
        self.shades.setVisible(v.is_read)
        for heap in (self.heap_head, self.pebbles):
            heap.setVisible(v.is_read and not self.low and not ((v.base_open and v.warnings) or v.lines_open))  # what is asked needs the room
        self.pebbles.show_cells(v.diameters_mm)
        self.shades.show_shades(v.shades, v.poured)
        self.fate.say(v.fate)
        self.fate.setVisible(bool(v.fate) and v.is_read and not self.low and not v.base_open and not v.lines_open)
        self.remarks(self.warnings, [Remark("", w, Weight.CAUTION) for w in v.warnings[:2]], 14)
        self._score(v)
        self._show_flat(v)
        self._offer(v)
        self._make_room()

    def _make_room(self) -> None:
        """Where the figures take all of the column, the heap of cells goes: nothing that is said is cut."""
        column = self.side.layout()
        if not isinstance(column, QVBoxLayout) or self.pebbles.isHidden():
            return
        column.activate()
        if column.minimumHeightForWidth(self.side.width()) > self.side.height() > 0:
            self.heap_head.hide()
            self.pebbles.hide()

    def _offer(self, v: ReadView) -> None:
        if self._job is not None:
            self.keys([(Key("Space", "Wait: reading", busy=True), lambda: None), (Key("Esc", "Stop reading"), self._cancel)])
            return
        if self.several.busy:
            self.title(v.code, self.several.words(), read_words.KEPT_AT_ONCE)
            self.keys([(Key("Space", "Wait: reading", busy=True), lambda: None), (Key("Esc", "Stop reading"), self.several.stop)])
            return
        walk = (Key("N", "Next" if self.narrow else "Next panel"), lambda: self._walk(1))
        leaving = [key for key in (self.zone_key(v.panel), self.leave_out_key(v.panel)) if key is not None]
        every = [(Key("A", f"Read all {v.unread + v.unread_again}"), self.read_all)] if v.unread > 1 or v.unread_again else []
        if not v.is_read:
            self.keys([(Key("Space", v.one_key), self.read), *every, walk, *leaving])
            return
        keys: list[tuple[Key, Callable[[], object]]] = [
            (Key("Space", v.one_key), self._onwards),
            (Key("V", "Lines" if self.narrow else "Lines off" if self.stage.lines_shown else "Lines on"), self._lines),
        ]
        if v.base_open:
            keys += [(Key("D", "It is base"), lambda: self._tell_base(True)), (Key("P", "It is paint"), lambda: self._tell_base(False))]
        elif v.lines_open:  # one question at a time
            yes, no = ("Cracks, too", "Not these") if v.overlay.cracks else ("Cracks", "No cracks")
            keys += [(Key("D", yes), lambda: self._tell_lines(True)), (Key("P", no), lambda: self._tell_lines(False))]
        if v.since:
            keys.append((Key("T", v.since, hand=v.is_since), self.presenter.turn_since))
        if self.stage.hand_cell is not None or v.base_open or v.lines_open:
            keys.append((Key("X", "Remove", why_not="" if self.stage.hand_cell is not None else read_words.TOUCH_A_CELL_FIRST), self._remove))
        else:  # one row of keys: a cell that is touched brings the key that removes it
            keys.append((Key("Z", v.part, hand=self.presenter.part is not Where.WHOLE), self._next_part))
        keys += [(Key("R", "Again"), self.read), *every, walk, *leaving]
        self.keys(keys)

    def _score(self, v: ReadView) -> None:
        """Score the forecast of a panel's colours once it was read; computed in a job, said when it is there."""
        run = self.desk.run()
        reading = self.presenter.shown(run, v.panel) if run is not None and v.panel is not None and v.is_read else None
        if run is None or v.panel is None or reading is None or reading.id in self._scoring or run.reading(v.panel) is not reading:
            return
        self._scoring.add(reading.id)
        told = turning.forecast(self.desk, run, v.panel)
        if told is None:
            return

        def done(score: object) -> None:
            self.presenter.scores[reading.id] = turning_words.scored(float(str(score)))
            self.refresh()

        self.jobs.start(lambda report: landing.scored(told.up, told.wet, dict(told.measured)), done, lambda error: None)

    # ------------------------------------------------------------ the photo

    def _show_flat(self, v: ReadView) -> None:
        if v.photo is None:
            return
        key = ("flat", v.photo.sha256, v.corners, v.size_mm, v.disc)
        if key != self._shown:
            self._shown = key
            self.stage.hand_cell = None
            kept = self.pictures.get(key)
            if isinstance(kept, Flat):
                self._flat_ready(key, kept)
            elif len(v.corners) == 4:
                self.stage.loading = (f"Squaring up {v.code}", 0.4)
                self.stage.update()
                path, corners, size, disc, wide = self.desk.notebook.photos.path_of(v.photo), v.corners, v.size_mm, v.disc, v.photo.width_px
                self.jobs.start(
                    lambda report: load_flat(path, wide, corners, size, disc, report), lambda flat: self._flat_ready(key, flat), self.failed
                )
            else:
                self.stage.show_photo(None)
        elif self.stage.image is not None:
            self.stage.overlay = v.overlay
            self.stage.update()

    def _flat_ready(self, key: tuple[object, ...], flat: object) -> None:
        assert isinstance(flat, Flat)
        self.pictures.put(key, flat)
        if key == self._shown:
            self.stage.loading = None
            self.stage.show_photo(flat.image, unit_per_px=1.0 / flat.px_per_mm, overlay=self.view.overlay)

    def _cell_chosen(self, i: int) -> None:
        self.view = self.presenter.view(i)
        self.subline.say(self.view.cell_words or self.view.note)
        self._offer(self.view)

    def _next_part(self) -> None:
        self.presenter.next_part()
        if self.view.ring:
            self.stage.setFocus()  # arrows move the ring

    def _lines(self) -> None:
        self.stage.set_lines(not self.stage.lines_shown)
        self._offer(self.view)

    # ------------------------------------------------------------ reading

    def read(self) -> None:
        """Measure the panel in hand, off the GUI thread."""
        run = self.desk.need_run()
        panel = self.presenter.panel(run)
        if panel is None or self._job is not None or self.several.busy:
            return
        work = self.presenter.reading_of(panel)
        self.stage.loading = (f"Reading {panel.code}", 0.05)
        self.stage.update()
        self._job = self.jobs.start(work, self._read, self._not_read, self._progressed)
        self._job.cancelled.connect(self._stopped)
        self._offer(self.view)

    def read_all(self) -> None:
        """Measure every panel that waits, as many at a time as there are cores."""
        if self._job is None and not self.several.busy:
            self.several.start(self.presenter.waiting())

    def _all_read(self, troubles: str) -> None:
        if troubles:
            self.failed(DribbetError(troubles))

    def _progressed(self, done: int, total: int) -> None:
        self.stage.loading = (f"Reading {self.view.code}: {_STEP_WORDS[min(done, len(_STEP_WORDS) - 1)]}", (done + 0.3) / total)
        self.stage.update()

    def _read(self, reading: object) -> None:
        assert isinstance(reading, Reading)
        self._job = None
        self.stage.loading = None
        self.attempt(lambda: self.presenter.keep(reading))
        self.refresh()

    def _not_read(self, error: Exception) -> None:
        self._job = None
        self.stage.loading = None
        self.refresh()
        self.failed(error)

    def _stopped(self) -> None:
        self._job = None
        self.stage.loading = None
        self.stage.update()
        self.refresh()

    def _cancel(self) -> None:
        if self._job is not None:
            self._job.cancel()

    def _onwards(self) -> None:
        if self.view.newly_lit:
            self.read()
        elif self.view.unread:
            self.presenter.next_panel()
        else:
            self.go.emit("decide")

    def _walk(self, step: int) -> None:
        self.stage.hand_cell = None
        self.presenter.choose_by(step)

    def _tell_lines(self, cracked: bool) -> None:
        self.presenter.tell_lines(cracked)
        self.refresh()

    def _tell_base(self, bare: bool) -> None:
        self.presenter.tell_base(bare)
        self.refresh()

    def _remove(self) -> None:
        self.presenter.remove_cell(self.stage.hand_cell)
        self.stage.hand_cell = None
        self.refresh()


_STEP_WORDS = (
    read_words.FINDING_THE_PANEL,
    read_words.SQUARING_IT,
    "balancing colour",
    "a first look",
    "spread",
    "cells",
    "cracks",
    "shimmer",
    "colours",
    "done",
)
