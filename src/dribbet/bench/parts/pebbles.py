"""Cells by width as pebbles: one ring per cell at its size, heaped by class. A histogram whose bars are what they count."""

from __future__ import annotations

import itertools
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt

from dribbet.bench.parts.base import DrawnPart, draw_text
from dribbet.bench.theme.inks import WALL, Inks
from dribbet.bench.theme.patterns import solid
from dribbet.words import window as window_words

if TYPE_CHECKING:
    from PyQt6.QtGui import QPainter

CLASSES_MM = (1, 3, 5, 7, 9, 99)


class Pebbles(DrawnPart):
    """Heaps of rings."""

    def __init__(self, inks: Inks = WALL) -> None:
        super().__init__(inks)
        self.diameters_mm: tuple[float, ...] = ()
        self.setMinimumHeight(120)

    def sizeHint(self) -> QSize:
        return QSize(288, 300)

    def show_cells(self, diameters_mm: tuple[float, ...]) -> None:
        self.diameters_mm = diameters_mm
        counts = [sum(a <= d < b for d in diameters_mm) for a, b in itertools.pairwise(CLASSES_MM)]
        self.name("Cells by width", ", ".join(window_words.CELLS_FROM(cells=n, least_mm=a) for n, a in zip(counts, CLASSES_MM, strict=False)))
        self.update()

    def draw(self, p: QPainter) -> None:
        base = self.height() - 26.0
        wide = self.width() / 5
        p.setPen(solid(self.inks.ink, 2))
        p.drawLine(QPointF(0, base), QPointF(self.width(), base))
        for i, (low, high) in enumerate(itertools.pairwise(CLASSES_MM)):
            draw_text(p, QRectF(i * wide, base + 3, wide, 22), f"{low}", 15, 500, self.inks.note)
            members = sorted(d for d in self.diameters_mm if low <= d < high)
            self._heap(p, members, QRectF(i * wide + 2, 4, wide - 5, base - 5))
        draw_text(p, QRectF(0, base + 3, self.width(), 22), "mm", 15, 500, self.inks.note, Qt.AlignmentFlag.AlignRight)

    def _heap(self, p: QPainter, members: list[float], room: QRectF) -> None:
        if not members:
            return
        px = 2.2  # per mm; shrinks until the heap fits
        while px > 0.4:
            size = max(min(members[-1], 14.0) * px, 3.0) + 1.5
            columns = max(1, int(room.width() / size))
            if -(-len(members) // columns) * size <= room.height():
                break
            px *= 0.9
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(solid(self.inks.ink, 1.4))
        for i, d in enumerate(members):
            row, column = divmod(i, columns)
            at = QPointF(room.left() + (column + 0.5) * size, room.bottom() - (row + 0.5) * size)
            r = max(min(d, 14.0) * px / 2, 1.3)
            p.drawEllipse(at, r, r)
