"""Interval strips: all share one noise band in the middle, so one look down the column answers."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt

from dribbet.bench.parts.base import DrawnPart, draw_text
from dribbet.bench.theme.inks import BLACK, CHANCE, CHANCE_HATCH, WALL, WHITE, Inks
from dribbet.bench.theme.patterns import dashed, hatch, polyline, solid
from dribbet.bench.theme.type import width
from dribbet.lab.verdict.judge import Word

if TYPE_CHECKING:
    from PyQt6.QtGui import QPainter, QResizeEvent

NAME_PX = 128
HALF_BANDS = 4.0  # the strip shows this many noise bands to either side at least
MOST_BANDS = 10.0
WORDS_PX = 136.0
NOISE_PX = 32.0  # half of the word over the band
WORD_PX = 152.0


@dataclass(frozen=True, slots=True)
class StripView:
    """One response: difference and interval in units of the noise band's half-width (None: cannot be given)."""

    name: str
    middle: float | None
    low: float | None
    high: float | None
    word: Word
    words: str
    said: str = ""
    """The word as it is written."""


class IntervalStrips(DrawnPart):
    """All responses of a test."""

    def __init__(self, inks: Inks = WALL) -> None:
        super().__init__(inks)
        self.head = ""
        self.strips: tuple[StripView, ...] = ()
        self.foot = ""
        self.setMinimumHeight(120)

    def show_strips(self, head: str, strips: tuple[StripView, ...], foot: str = "") -> None:
        self.head, self.strips, self.foot = head, strips, foot
        self.name(head, "; ".join(f"{s.name}: {s.words}, {s.said or s.word}" for s in strips))
        self._make_room()
        self.update()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._make_room()

    def _make_room(self) -> None:
        self.setMinimumHeight(34 + 38 * len(self.strips) + self._foot_px())

    def _foot_px(self) -> int:
        """Room of the line under the strips: two lines where it is long."""
        return 0 if not self.foot else 24 if width(self.foot, 14, 400) <= self.width() else 42

    def sizeHint(self) -> QSize:
        return QSize(740, 34 + 42 * max(len(self.strips), 1) + 24)

    def draw(self, p: QPainter) -> None:
        inks = self.inks
        said = max([WORDS_PX, *(width(s.words, 16, 500) + 18 for s in self.strips)])
        left, right = NAME_PX, self.width() - said - WORD_PX
        middle, unit = (left + right) / 2, (right - left) / 2 / self.half_bands()
        rows = min(42.0, (self.height() - 34 - self._foot_px()) / max(len(self.strips), 1))
        bottom = 32 + rows * len(self.strips)
        px = 17
        while px > 14 and width(self.head, px, 700) > middle - max(unit, NOISE_PX) - 62:
            px -= 1
        top = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop
        beside = max(unit, NOISE_PX)
        draw_text(p, QRectF(0, 0, middle - beside - 60, 36), self.head, px, 700, inks.ink, top, wrap=True)
        draw_text(p, QRectF(middle - beside - 56, 0, 50, 28), "less", 15, 400, inks.note, Qt.AlignmentFlag.AlignRight)
        draw_text(p, QRectF(middle - 40, 0, 80, 28), "noise", 15, 700, inks.ink, Qt.AlignmentFlag.AlignHCenter)
        draw_text(p, QRectF(middle + beside + 6, 0, 50, 28), "more", 15, 400, inks.note)
        band = QRectF(middle - unit, 30, 2 * unit, bottom - 30)
        p.fillRect(band, CHANCE)
        hatch(p, band, CHANCE_HATCH, gap=6)
        p.setPen(dashed(inks.ink, 1.5))
        p.drawLine(QPointF(middle, 30), QPointF(middle, bottom))
        for i, strip in enumerate(self.strips):
            y = 32 + rows * (i + 0.5)
            draw_text(p, QRectF(0, y - 14, NAME_PX - 8, 28), strip.name, 18, 600, inks.ink)
            self._interval(p, strip, middle, unit, y, left, right)
            draw_text(p, QRectF(right + 12, y - 14, said - 8, 28), strip.words, 16, 500, inks.ink)
            box = QRectF(right + said + 6, y - 14, WORD_PX - 6, 28)
            if strip.word is Word.REAL:
                plate = QRectF(box.left(), box.top(), 58, 28)
                p.fillRect(plate, WHITE)
                draw_text(p, plate, "real", 16, 700, BLACK, Qt.AlignmentFlag.AlignHCenter)
            else:
                draw_text(p, box, strip.said or strip.word, 16, 400, inks.note)
        if self.foot:
            draw_text(p, QRectF(0, bottom + 2, self.width(), self._foot_px() - 2), self.foot, 14, 400, inks.note, top, wrap=True)

    def half_bands(self) -> float:
        """How many half-widths of the noise band are shown to either side: more where differences are larger, to a limit."""
        ends = [abs(v) for s in self.strips for v in (s.middle, s.low, s.high) if v is not None]
        return min(max([HALF_BANDS, *(1.08 * v for v in ends)]), MOST_BANDS)

    def _interval(self, p: QPainter, s: StripView, middle: float, unit: float, y: float, left: float, right: float) -> None:
        ink = self.inks.ink

        def x_of(v: float) -> float:
            return min(max(middle + v * unit, left + 6), right - 6)

        if s.word is Word.TOO_FEW or s.middle is None:
            p.setPen(dashed(ink, 2))
            p.drawLine(QPointF(left + 6, y), QPointF(right - 6, y))
            if s.middle is not None:
                p.setBrush(self.inks.ground)
                p.setPen(solid(ink, 2))
                p.drawEllipse(QPointF(x_of(s.middle), y), 5.5, 5.5)
            return
        real = s.word is Word.REAL
        p.setPen(solid(ink, 5 if real else 2.5))
        low, high = s.low if s.low is not None else s.middle, s.high if s.high is not None else s.middle
        p.drawLine(QPointF(x_of(low), y), QPointF(x_of(high), y))
        p.setPen(solid(ink, 2.5))
        for v in (low, high):
            if left + 6 < middle + v * unit < right - 6:
                p.drawLine(QPointF(x_of(v), y - 7), QPointF(x_of(v), y + 7))
            else:  # off the end: an arrow head
                x, side = x_of(v), 1 if v > 0 else -1
                polyline(p, [QPointF(x - 7 * side, y - 6), QPointF(x, y), QPointF(x - 7 * side, y + 6)])
        p.setPen(solid(BLACK if real else ink, 2.5))
        p.setBrush(WHITE if real else self.inks.ground)
        p.drawEllipse(QPointF(x_of(s.middle), y), 8 if real else 7, 8 if real else 7)
