"""Cells by width as pebbles: one ring per cell at its size, heaped by class. A histogram whose bars are what they count."""

from __future__ import annotations

import itertools
from typing import TYPE_CHECKING, Final

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt

from dribbet.bench.parts.base import DrawnPart, draw_text
from dribbet.bench.theme.inks import WALL, Inks
from dribbet.bench.theme.patterns import solid
from dribbet.words import window as window_words

if TYPE_CHECKING:
    from collections.abc import Sequence

    from PyQt6.QtGui import QPainter

CLASSES_MM = (1, 3, 5, 7, 9, 99)
WIDEST_MM: Final = 14.0  # wider ones are drawn as that
MOST_PX_PER_MM: Final = 5.0
LEAST_PX_PER_MM: Final = 0.4


def _ring(members: list[float], px: float) -> float:
    """Room for one ring of a heap, px."""
    return max(min(members[-1], WIDEST_MM) * px, 3.0) + 1.5


def scale_of(heaps: Sequence[list[float]], wide: float, high: float) -> float:
    """Pixels for each mm, one scale for all heaps: as large as lets the fullest fit."""
    px = MOST_PX_PER_MM
    while px > LEAST_PX_PER_MM and any(-(-len(m) // max(1, int(wide / _ring(m, px)))) * _ring(m, px) > high for m in heaps if m):
        px *= 0.95
    return px


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
        heaps = [sorted(d for d in self.diameters_mm if low <= d < high) for low, high in itertools.pairwise(CLASSES_MM)]
        px = scale_of(heaps, wide - 5, base - 5)
        for i, members in enumerate(heaps):
            draw_text(p, QRectF(i * wide, base + 3, wide, 22), f"{CLASSES_MM[i]}", 15, 500, self.inks.note)
            self._heap(p, members, QRectF(i * wide + 2, 4, wide - 5, base - 5), px)
        draw_text(p, QRectF(0, base + 3, self.width(), 22), "mm", 15, 500, self.inks.note, Qt.AlignmentFlag.AlignRight)

    def _heap(self, p: QPainter, members: list[float], room: QRectF, px: float) -> None:
        if not members:
            return
        size = _ring(members, px)
        columns = max(1, int(room.width() / size))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(solid(self.inks.ink, 1.4))
        for i, d in enumerate(members):
            row, column = divmod(i, columns)
            at = QPointF(room.left() + (column + 0.5) * size, room.bottom() - (row + 0.5) * size)
            r = max(min(d, WIDEST_MM) * px / 2, 1.3)
            p.drawEllipse(at, r, r)
