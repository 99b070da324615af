"""The run line: eight stops, panels as beads, and the three doors below. The only navigation."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter
from PyQt6.QtWidgets import QAbstractButton, QWidget

from dribbet.bench.parts.base import draw_focus
from dribbet.bench.parts.tape import draw_strip
from dribbet.bench.theme.inks import BLACK, PAPER, Inks
from dribbet.bench.theme.patterns import dashed, solid
from dribbet.bench.theme.type import font, grown, width
from dribbet.words import window as window_words

if TYPE_CHECKING:
    from collections.abc import Sequence

FULL_PX, SLIM_PX = 150, 92
FIRST_Y = 96
BOTTOM_PX = 168
MOST_ROWS = 5
ROWS_BEFORE_DOORS = 2  # under the last stop the doors begin
STATIONS = ("Ask", "Mix", "Check", "Pour", "Dry", "Shoot", "Read", "Decide")
DOORS = ("Today", "Shelf", "Findings")


@dataclass(frozen=True, slots=True)
class StationStop:
    """A station as the line shows it."""

    beads: int = 0
    hand: bool = False
    needs_you: bool = False
    ready: bool = True


class LineButton(QAbstractButton):
    """A stop, a door or the series' tape: one target of its own."""

    def __init__(self, parent: RunLine, text: str, kind: str) -> None:
        super().__init__(parent)
        self.line, self.words, self.kind = parent, text, kind
        self.current = False
        self.stop = StationStop()
        self.extra = ""
        self.last = text == STATIONS[-1]
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(text)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
        elif event is not None:
            event.ignore()

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        {"stop": self._stop, "door": self._door, "series": self._series}[self.kind](p)
        if self.hasFocus():
            draw_focus(p, QRectF(self.rect()), self.line.inks)
        p.end()

    def _stop(self, p: QPainter) -> None:
        inks, slim = self.line.inks, self.line.slim
        x, y = self.line.axis_x(), 18.0
        if self.current:
            draw_strip(p, QRectF(2, 0, self.width() - (6 if slim else 8), 36), self.words, inks.tape, inks.crepe)
        ink = BLACK if self.current else inks.ink
        if self.stop.needs_you and not self.current:
            p.fillRect(QRectF(x - 9, y - 9, 18, 18), inks.ink)
            p.setPen(inks.ground)
            p.setFont(font(15, 800))
            p.drawText(QRectF(x - 9, y - 9, 18, 18), int(Qt.AlignmentFlag.AlignCenter), "!")
        else:
            p.setPen(solid(ink, 3) if self.stop.ready or self.current else solid(inks.off, 3))
            p.setBrush(ink if self.current else inks.ground)
            p.drawEllipse(QPointF(x, y), 7.5, 7.5)
        p.setPen(ink if self.stop.ready or self.current else inks.off)
        p.setFont(font(16 if slim else 19, 800 if self.current else 500))
        left = x + (15 if slim else 16)
        p.drawText(QRectF(left, 0, self.width() - left, 36), int(Qt.AlignmentFlag.AlignVCenter), self.words)
        if self.stop.beads and not slim:
            p.setPen(inks.note)
            p.setFont(font(14))
            words = f"{self.stop.beads} panel{'s' if self.stop.beads != 1 else ''}"
            p.drawText(QRectF(left, 32, self.width() - left, 22), int(Qt.AlignmentFlag.AlignVCenter), words)
        self._beads(p, x, 38.0)

    def _beads(self, p: QPainter, x: float, y: float) -> None:
        inks, count = self.line.inks, self.stop.beads
        p.setPen(Qt.PenStyle.NoPen)
        rows = (count + 1) // 2 if count > MOST_ROWS else count
        if count > 10 or (self.last and rows > ROWS_BEFORE_DOORS):
            p.setBrush(inks.ink)
            p.drawEllipse(QPointF(x, y + 11), 11.5, 11.5)
            p.setPen(inks.ground)
            p.setFont(font(14, 800))
            p.drawText(QRectF(x - 12, y - 1, 24, 24), int(Qt.AlignmentFlag.AlignCenter), str(count))
            return
        two = count > MOST_ROWS
        for i in range(count):
            column, row = (i % 2, i // 2) if two else (0, i)
            at = QPointF(x + ((column - 0.5) * 9.5 if two else 0.0), y + row * 8.4)
            mine = self.stop.hand and i == 0
            p.setPen(solid(BLACK, 1.5) if mine else Qt.PenStyle.NoPen)
            p.setBrush(inks.tape if mine else inks.ink)
            p.drawEllipse(at, 3.9, 3.9)

    def _door(self, p: QPainter) -> None:
        inks = self.line.inks
        if self.current:
            wide = min(self.width() - 6.0, width(self.words + self.extra, 16, 700) + 30)
            draw_strip(p, QRectF(3, 6, wide, 32), self.words, inks.tape, inks.crepe)
        p.setPen(BLACK if self.current else inks.ink)
        p.setFont(font(16, 700 if self.current else 500))
        p.drawText(QRectF(12, 0, self.width() - 12, self.height()), int(Qt.AlignmentFlag.AlignVCenter), self.words + self.extra)

    def _series(self, p: QPainter) -> None:
        inks = self.line.inks
        room = QRectF(12, 4, self.width() - 22, 32)
        if self.extra:
            draw_strip(p, room.translated(5, 5), self.words + "+", inks.other_tape, inks.other_crepe)
        draw_strip(p, room, self.words, inks.tape, inks.crepe)
        p.setPen(BLACK)
        px = 19
        while px > 14 and width(self.words, px, 700) > room.width() - 12:
            px -= 1
        p.setFont(font(px, 700))
        p.drawText(room, int(Qt.AlignmentFlag.AlignCenter), self.words)
        p.setPen(inks.note)
        p.setFont(font(14, 500))
        p.drawText(QRectF(12, 40, self.width() - 12, 20), int(Qt.AlignmentFlag.AlignVCenter), self.extra)


class RunLine(QWidget):
    """The rail on the left of the window."""

    station_wanted = pyqtSignal(int)
    door_wanted = pyqtSignal(int)
    series_wanted = pyqtSignal()

    def __init__(self, inks: Inks = PAPER) -> None:
        super().__init__()
        self.inks = inks
        self.slim = False
        self._names = ("", "")
        self.series = LineButton(self, "", "series")
        self.series.clicked.connect(self.series_wanted)
        self.stops = [LineButton(self, name, "stop") for name in STATIONS]
        self.doors = [LineButton(self, name, "door") for name in DOORS]
        for i, stop in enumerate(self.stops):
            stop.clicked.connect(lambda _=False, i=i: self.station_wanted.emit(i))
        for i, door in enumerate(self.doors):
            door.clicked.connect(lambda _=False, i=i: self.door_wanted.emit(i))
        self.setFixedWidth(grown(FULL_PX))

    def regrow(self) -> None:
        """Take the size that type has in this window now."""
        self.set_slim(self.slim)

    def axis_x(self) -> float:
        """Where the line runs."""
        return 18.0 if self.slim else 26.0

    def set_slim(self, slim: bool) -> None:
        self.slim = slim
        self.setFixedWidth(grown(SLIM_PX if slim else FULL_PX))
        self._rename()
        self._place()

    def set_inks(self, inks: Inks) -> None:
        self.inks = inks
        self.update()

    def show_series(self, name: str, code: str, others: int) -> None:
        """Name of the series in hand, and how many others there are."""
        self._names = (name, code)
        self._others = others
        self._rename()

    def _rename(self) -> None:
        others = getattr(self, "_others", 0)
        self.series.words = self._names[1] if self.slim else self._names[0]
        self.series.extra = "" if not others else (f"{others} more" if self.slim else window_words.OTHER_SERIES(others=others))
        self.series.setAccessibleName(window_words.SERIES_IN_HAND(name=self._names[0]))
        self.series.update()

    def show_stops(self, stops: Sequence[StationStop]) -> None:
        for button, stop in zip(self.stops, stops, strict=True):
            button.stop = stop
            words = f"{button.words}: {stop.beads} panels" if stop.beads else button.words
            button.setAccessibleName(words + (", needs you" if stop.needs_you else ""))
            button.update()

    def show_current(self, station: int | None, door: int | None) -> None:
        for i, button in enumerate(self.stops):
            button.current = i == station
            button.update()
        for i, button in enumerate(self.doors):
            button.current = i == door
            button.update()

    def show_due(self, count: int) -> None:
        self.doors[0].extra = f" {count}" if count else ""
        self.doors[0].setAccessibleName(f"Today: {count} due")
        self.doors[0].update()

    def pitch(self) -> float:
        return (self.height() - FIRST_Y - BOTTOM_PX) / 7

    def _place(self) -> None:
        pitch = self.pitch()
        self.series.setGeometry(0, 4, self.width(), 62)
        for i, stop in enumerate(self.stops):
            stop.setGeometry(0, round(FIRST_Y - 18 + i * pitch), self.width(), round(min(pitch, 92)))
        top = FIRST_Y + 7 * pitch + 38
        step = min(44.0, (self.height() - top - 2) / 3)
        for i, door in enumerate(self.doors):
            door.setGeometry(0, round(top + i * step), self.width(), round(step))

    def resizeEvent(self, event: object) -> None:
        self._place()

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        x, pitch = self.axis_x(), self.pitch()
        for i in range(7):
            ready = self.stops[i + 1].stop.ready
            p.setPen(solid(self.inks.ink, 3) if ready else dashed(self.inks.off, 3))
            p.drawLine(QPointF(x, FIRST_Y + i * pitch), QPointF(x, FIRST_Y + (i + 1) * pitch))
        p.end()
