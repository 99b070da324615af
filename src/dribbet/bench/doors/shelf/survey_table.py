"""The table of a pre-test, drawn: a bar for each density, the drip as it ran, the disc as it spread, all to one scale."""

from __future__ import annotations

import itertools
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter

from dribbet.bench.parts.base import DrawnPart, draw_text
from dribbet.bench.parts.tape import draw_strip
from dribbet.bench.theme.inks import BLACK, EDGE, PAPER
from dribbet.bench.theme.patterns import dashed, solid
from dribbet.lab.paint import survey
from dribbet.records import GaugingKind
from dribbet.words import survey as words

if TYPE_CHECKING:
    from dribbet.lab.paint.survey import SurveyRow
    from dribbet.words.units import Units

ROW_PX = 64
HEAD_PX = 44
NAME_PX = 176
LEAST_KG_M3, MOST_KG_M3 = 900.0, 1700.0
"""Ends of the density's bar: lighter and heavier than any paint of this craft."""
SHARES = (0.31, 0.41, 0.28)  # of the width that the columns take
HEADS = (words.G_IN_EACH_ML, words.RUN_OF_A_DRIP, "disc")


class SurveyTable(DrawnPart):
    """Rows are colours, columns what is measured of them; what is next stands on tape."""

    def __init__(self) -> None:
        super().__init__(PAPER)
        self.table: tuple[SurveyRow, ...] = ()
        self._said: tuple[tuple[str, str, str], ...] = ()

    def show_rows(self, table: tuple[SurveyRow, ...], units: Units) -> None:
        """Show another table."""
        self.table, self._said = table, tuple(words.figures(row, units) for row in table)
        self.setMinimumHeight(HEAD_PX + ROW_PX * len(table) + 8)
        said = "; ".join(f"{r.material.name}: {', '.join(x or 'not yet' for x in f)}" for r, f in zip(table, self._said, strict=True))
        self.name("Pre-test", said)
        self.update()

    def _columns(self) -> tuple[QRectF, ...]:
        wide = self.width() - NAME_PX - 8
        starts = (0.0, *itertools.accumulate(SHARES))
        return tuple(QRectF(NAME_PX + wide * x, 0.0, wide * share - 14.0, self.height()) for x, share in zip(starts, SHARES, strict=False))

    def draw(self, p: QPainter) -> None:
        columns = self._columns()
        for head, column in zip(HEADS, columns, strict=True):
            draw_text(p, QRectF(column.left(), 0, column.width(), HEAD_PX - 8), head, 16, 400, self.inks.note)
        longest = max((r.drip.value for r in self.table if r.drip is not None), default=0.0)
        widest = max((r.disc.value for r in self.table if r.disc is not None), default=0.0)
        due = survey.next_due(self.table)
        for i, (row, said) in enumerate(zip(self.table, self._said, strict=True)):
            top = float(HEAD_PX + i * ROW_PX)
            p.setPen(solid(self.inks.rule, 1))
            p.drawLine(QPointF(0, top), QPointF(self.width() - 8, top))
            p.setPen(solid(EDGE, 1))
            p.setBrush(QColor(row.material.hex))
            p.drawRect(QRectF(0, top + 16, 32, 32))
            draw_text(p, QRectF(44, top, NAME_PX - 52, ROW_PX), row.material.name, 18, 500, BLACK)
            cells = [QRectF(c.left(), top + 8, c.width(), ROW_PX - 16) for c in columns]
            for kind, cell, figure in zip((GaugingKind.DENSITY, GaugingKind.DRIP, GaugingKind.BODY), cells, said, strict=True):
                if not figure:
                    self._to_do(p, cell, due is not None and due == (row.material, kind))
            if row.density is not None:
                self._bar(p, cells[0], (row.density.value - LEAST_KG_M3) / (MOST_KG_M3 - LEAST_KG_M3), said[0])
            if row.drip is not None:
                self._drip(p, cells[1], row.drip.value / longest, row.material.hex, said[1])
            if row.disc is not None:
                self._disc(p, cells[2], row.disc.value / widest, row.material.hex, said[2])

    def _to_do(self, p: QPainter, cell: QRectF, now: bool) -> None:
        if now:
            room = QRectF(cell.left(), cell.center().y() - 16, 92, 32)
            draw_strip(p, room, "next", self.inks.tape, self.inks.crepe)
            draw_text(p, room, "next", 17, 700, BLACK, Qt.AlignmentFlag.AlignHCenter)
        else:
            p.setPen(dashed(self.inks.note, 1.5))
            p.drawLine(QPointF(cell.left(), cell.center().y()), QPointF(cell.left() + 60, cell.center().y()))

    def _bar(self, p: QPainter, cell: QRectF, share: float, figure: str) -> None:
        room = QRectF(cell.left(), cell.center().y() - 4, max(cell.width() - 74, 20), 8)
        p.setPen(solid(BLACK, 1.5))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(room)
        p.fillRect(QRectF(room.left(), room.top(), room.width() * min(max(share, 0.0), 1.0), room.height()), BLACK)
        draw_text(p, QRectF(room.right() + 8, cell.top(), 66, cell.height()), figure, 18, 700, BLACK)

    def _drip(self, p: QPainter, cell: QRectF, share: float, hex_: str, figure: str) -> None:
        long = max(cell.width() - 86, 20) * share
        y = cell.center().y()
        p.setPen(solid(EDGE, 1))
        p.setBrush(QColor(hex_))
        p.drawRoundedRect(QRectF(cell.left(), y - 6, max(long, 14.0), 12), 6, 6)
        p.drawEllipse(QRectF(cell.left() - 1, y - 11, 22, 22))
        draw_text(p, QRectF(cell.left() + max(long, 22.0) + 8, cell.top(), 80, cell.height()), figure, 18, 700, BLACK)

    def _disc(self, p: QPainter, cell: QRectF, share: float, hex_: str, figure: str) -> None:
        across = cell.height() * share
        p.setPen(solid(EDGE, 1))
        p.setBrush(QColor(hex_))
        p.drawEllipse(QRectF(cell.left() + (cell.height() - across) / 2, cell.center().y() - across / 2, across, across))
        draw_text(p, QRectF(cell.left() + cell.height() + 10, cell.top(), 80, cell.height()), figure, 18, 700, BLACK)
