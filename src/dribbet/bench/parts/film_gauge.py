"""The film gauge: 0 to 3 mm with all panels' marks, zones by density of hatching and by words."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt

from dribbet.bench.parts.base import DrawnPart, draw_text
from dribbet.bench.parts.tape import draw_strip
from dribbet.bench.theme.inks import BLACK, PAPER, Inks
from dribbet.bench.theme.patterns import dashed, hatch, solid
from dribbet.bench.theme.type import font
from dribbet.words import window as window_words

if TYPE_CHECKING:
    from PyQt6.QtGui import QPainter


@dataclass(frozen=True, slots=True)
class GaugeView:
    """Zones as (upper end mm, word), marks of other panels, and the panel in hand: measured or expected."""

    zones: tuple[tuple[float, str], ...]
    marks: tuple[tuple[str, float], ...] = ()
    hand_code: str = ""
    hand_mm: float | None = None
    expected: bool = False
    note: str = ""
    empty: str = ""
    unit_factor: float = 1.0
    unit: str = "mm"
    digits: int = 1
    rests: str = ""
    """What its zones rest on."""


HATCH_GAP = {"thin": 9.0, "safe": 0.0, "risky": 7.0, "cracks": 4.0}


class FilmGauge(DrawnPart):
    """A column with a scale; drawn, never typed into."""

    def __init__(self, inks: Inks = PAPER) -> None:
        super().__init__(inks)
        self.view = GaugeView(())
        self.setMinimumSize(250, 164)

    def show_gauge(self, view: GaugeView) -> None:
        self.view = view
        value = f"{view.hand_mm:.1f} mm, {'expected' if view.expected else 'measured'}" if view.hand_mm is not None else view.empty or "not weighed"
        self.name(window_words.FILM_ON_PANEL(code=view.hand_code), value)
        self.update()

    def draw(self, p: QPainter) -> None:
        v, inks = self.view, self.inks
        head = 50.0 if v.rests else 30.0
        draw_text(p, QRectF(0, 24, self.width(), 20), v.rests, 14, 400, inks.note, Qt.AlignmentFlag.AlignRight)
        draw_text(p, QRectF(0, 0, self.width(), 24), window_words.FILM_IN_UNIT(unit=v.unit), 17, 700, inks.ink, Qt.AlignmentFlag.AlignRight)
        top_mm = v.zones[-1][0] if v.zones else 3.0
        column = QRectF(self.width() - 134, head, 42, self.height() - head - 34)

        def y(mm: float) -> float:
            return column.bottom() - min(mm, top_mm) / top_mm * column.height()

        p.fillRect(column, inks.sheet)
        low = 0.0
        for high, word in v.zones:
            piece = QRectF(column.left(), y(high), column.width(), y(low) - y(high))
            if HATCH_GAP.get(word):
                hatch(p, piece, inks.ink, gap=HATCH_GAP[word])
            p.setPen(solid(inks.ink, 1.5))
            p.drawLine(piece.topLeft(), piece.topRight())
            draw_text(p, QRectF(column.right() + 38, piece.center().y() - 11, 60, 22), word, 15, 500, inks.ink)
            low = high
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(dashed(inks.off, 2) if v.empty else solid(inks.ink, 2.5))
        p.drawRect(column)
        for mm in (float(n) for n in range(int(top_mm) + 1)):
            p.setPen(solid(inks.ink, 2))
            p.drawLine(QPointF(column.right(), y(mm)), QPointF(column.right() + 6, y(mm)))
            word = f"{mm * v.unit_factor:.{0 if v.unit_factor == 1 else 2}f}"
            draw_text(p, QRectF(column.right() + 10, y(mm) - 10, 40, 20), word, 14, 600, inks.note)
        for _, mm in v.marks:
            p.setPen(solid(inks.ink, 2.5))
            p.drawLine(QPointF(column.left() - 9, y(mm)), QPointF(column.left() + 3, y(mm)))
        if v.hand_mm is not None:
            p.setPen(dashed(inks.ink, 3) if v.expected else solid(inks.ink, 4))
            p.drawLine(QPointF(column.left() - 14, y(v.hand_mm)), QPointF(column.right(), y(v.hand_mm)))
            words = f"{v.hand_code}  {v.hand_mm * v.unit_factor:.{v.digits}f}"
            p.setFont(font(16, 700, code=True))
            wide = p.fontMetrics().horizontalAdvance(words) + 20
            strip = QRectF(column.left() - 16 - wide, y(v.hand_mm) - 13, wide, 26)
            draw_strip(p, strip, words, inks.tape, inks.crepe)
            p.setPen(BLACK)
            p.drawText(strip, int(Qt.AlignmentFlag.AlignCenter), words)
            below = strip.bottom() + 4 if strip.bottom() + 46 < column.bottom() else strip.top() - 46
            draw_text(
                p,
                QRectF(0, below, column.left() - 18, 44),
                v.note,
                14,
                400,
                inks.note,
                Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop,
                wrap=True,
            )
        else:
            box = QRectF(0, head + 20, column.left() - 18, 90)
            draw_text(p, box, v.empty or "not weighed", 15, 400, inks.note, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop, wrap=True)
        if v.hand_mm is not None:
            draw_text(p, QRectF(0, self.height() - 26, self.width(), 24), v.empty, 15, 400, inks.note, Qt.AlignmentFlag.AlignRight)
