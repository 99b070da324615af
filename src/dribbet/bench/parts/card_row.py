"""One line of a card: what it is and how it stands; a press goes on to its next value, or asks for one."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from dribbet.bench.parts.base import PressButton, draw_focus, draw_text
from dribbet.bench.parts.tape import draw_strip
from dribbet.bench.theme.inks import BLACK, PAPER
from dribbet.bench.theme.patterns import solid
from dribbet.bench.theme.type import width

LINE_PX = 44


class CardRow(PressButton):
    """One line of a card; a press goes on to its next value, or asks for one below."""

    def __init__(self, head: str, text: str, hand: bool) -> None:
        super().__init__()
        self.head, self.text_, self.hand = head, text, hand
        self.setFixedHeight(LINE_PX)
        self.setAccessibleName(f"{head}: {text}")

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setRenderHint(QPainter.RenderHint.TextAntialiasing)
        if self.hand:
            draw_strip(p, QRectF(self.rect()).adjusted(0, 4, 0, -4), self.head, PAPER.tape, PAPER.crepe)
        ink = BLACK if self.hand else PAPER.note
        needed = width(self.head, 15, 400) + 14
        said = min(width(self.text_, 16, 600), self.width() * 0.5)
        head = min(needed, max(self.width() - 10 - said, self.width() * 0.4))  # wraps rather than lose a word
        draw_text(p, QRectF(6, 0, head, self.height()), self.head, 15 if needed <= head else 14, 400, ink, wrap=needed > head)
        room = QRectF(6 + head, 0, self.width() - head - 10, self.height())
        px = 16
        while px > 14 and width(self.text_, px, 600) > room.width():
            px -= 1
        wrap = width(self.text_, px, 600) > room.width()
        draw_text(p, room, self.text_, px, 600, BLACK, Qt.AlignmentFlag.AlignRight, wrap=wrap)
        p.setPen(solid(PAPER.rule, 1))
        p.drawLine(QPointF(0, self.height() - 1), QPointF(self.width(), self.height() - 1))
        if self.hasFocus():
            draw_focus(p, QRectF(self.rect()), PAPER)
        p.end()
