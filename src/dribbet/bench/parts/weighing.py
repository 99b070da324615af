"""What stands beside a scale: its figure as large as the room allows, and the yellow strip that says what to do."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt

from dribbet.bench.parts.base import DrawnPart, draw_figure, draw_text
from dribbet.bench.parts.tape import draw_strip
from dribbet.bench.theme.inks import BLACK
from dribbet.bench.theme.patterns import solid
from dribbet.bench.theme.type import fitting_px, font, width
from dribbet.words import window as window_words

if TYPE_CHECKING:
    from PyQt6.QtGui import QPainter


class ScaleFigure(DrawnPart):
    """The scale's figure, as large as the room allows."""

    def __init__(self) -> None:
        super().__init__()
        self.figure, self.unit, self.state = "0.0", "g", ""
        self.setMinimumHeight(116)

    def sizeHint(self) -> QSize:
        return QSize(600, 260)

    def show_figure(self, figure: str, unit: str, state: str) -> None:
        if (figure, unit, state) == (self.figure, self.unit, self.state):
            return
        self.figure, self.unit, self.state = figure, unit, state
        self.name(window_words.ON_THE_SCALE(figure=figure, unit=unit), state)
        self.update()

    def draw(self, p: QPainter) -> None:
        draw_text(p, QRectF(0, 0, self.width() / 2, 32), "On the scale", 24, 500, self.inks.note)
        wide = width(self.state, 24, 600)
        x = self.width() - wide - 30
        p.setPen(solid(self.inks.ink, 2.5))
        p.setBrush(self.inks.ink if self.state == "steady" else Qt.BrushStyle.NoBrush)
        if self.state:
            p.drawEllipse(QPointF(x + 10, 16), 8, 8)
        draw_text(p, QRectF(x + 28, 0, wide + 4, 32), self.state, 24, 600, self.inks.ink)
        unit_room = width(self.unit, max(40, int(self.height() * 0.3)), 600) + 20
        room = QRectF(0, 40, self.width() - unit_room, self.height() - 44)
        px = fitting_px(self.figure if len(self.figure) > 4 else "00.0 ", room, 350 if self.height() > 400 else 262)
        base = draw_figure(p, room.left(), room, self.figure, px, self.inks.ink)
        p.setFont(font(max(40, px // 3), 600))
        p.setPen(self.inks.ink)
        p.drawText(QPointF(self.width() - unit_room + 10, base), self.unit)


class NowStrip(DrawnPart):
    """The one yellow strip: what to add, and how much is left."""

    def __init__(self) -> None:
        super().__init__()
        self.words = ("", "", "", "")
        self.setMinimumHeight(96)
        self.setMaximumHeight(112)

    def sizeHint(self) -> QSize:
        return QSize(600, 112)

    def say(self, add: str, hint: str, head: str, figure: str) -> None:
        if (add, hint, head, figure) == self.words:
            return
        self.words = (add, hint, head, figure)
        self.name(add, f"{head} {figure}. {hint}")
        self.update()

    def draw(self, p: QPainter) -> None:
        add, hint, head, figure = self.words
        draw_strip(p, QRectF(self.rect()), add, self.inks.tape, self.inks.crepe)
        right = self.width() - 22.0
        if figure:
            px = 84 if self.height() > 100 and self.width() > 560 else 60
            wide = width(figure, px, 800)
            draw_text(p, QRectF(right - wide, 0, wide + 4, self.height()), figure, px, 800, BLACK)
            draw_text(p, QRectF(right - wide - width(head, 24, 500) - 14, self.height() * 0.42, 90, 40), head, 24, 500, BLACK)
            right -= wide + width(head, 24, 500) + 20
        px = 36
        while px > 20 and width(add, px, 700) > right - 24:
            px -= 2
        middle = self.height() / 2
        draw_text(p, QRectF(24, middle - 42, right - 24, 44), add, px, 700, BLACK)
        px = 22
        while px > 15 and width(hint, px, 500) > right - 24:
            px -= 1
        draw_text(p, QRectF(24, middle + 4, right - 24, 32), hint, px, 500, BLACK)
