"""What could be poured next: a row each, with a bar for what it is expected to bring and what it takes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal

from dribbet.bench.parts.base import DrawnPart, draw_text
from dribbet.bench.theme.inks import WALL, Inks
from dribbet.bench.theme.patterns import solid
from dribbet.bench.theme.type import width

if TYPE_CHECKING:
    from PyQt6.QtGui import QMouseEvent, QPainter

ROWS: Final = 4
HEAD_PX: Final = 28
NUMBER_PX: Final = 34
BAR_PX: Final = 120
NARROW_BAR_PX: Final = 70
TAKES_PX: Final = 190
NARROW_PX: Final = 620
SIZES_PX: Final = (17, 15, 14)


@dataclass(frozen=True, slots=True)
class NextRow:
    """One proposal in words, with its expected gain from 0 to 1."""

    what: str
    why: str
    brings: str
    takes: str
    gain: float


def fitting(words: str, room_px: float, weight: int) -> tuple[int, int]:
    """Largest type in which words fit their room, and its weight: the least size is read at arm's length."""
    return next(((px, weight) for px in SIZES_PX if width(words, px, weight) <= room_px), (SIZES_PX[-1], 400))


class NextList(DrawnPart):
    """Proposals, best first; the one in hand is marked."""

    taken = pyqtSignal(int)
    """A row was touched, from 0."""

    def __init__(self, inks: Inks = WALL) -> None:
        super().__init__(inks)
        self.head = ""
        self.axis = ""
        self.rows: tuple[NextRow, ...] = ()
        self.hand = 0
        self.setMinimumHeight(150)

    def sizeHint(self) -> QSize:
        return QSize(740, 190)

    def show_rows(self, head: str, axis: str, rows: tuple[NextRow, ...], hand: int) -> None:
        """Show other proposals."""
        if (head, axis, rows, hand) == (self.head, self.axis, self.rows, self.hand):
            return
        self.head, self.axis, self.rows, self.hand = head, axis, rows[:ROWS], hand
        self.name(head, "; ".join(f"{i + 1}: {r.what} {r.brings} {r.takes}" for i, r in enumerate(self.rows)))
        self.update()

    def _row(self, i: int) -> QRectF:
        high = (self.height() - HEAD_PX) / max(len(self.rows), 3)
        return QRectF(0, HEAD_PX + i * high, self.width(), high)

    def draw(self, p: QPainter) -> None:
        wide = self.width() >= NARROW_PX
        bar = BAR_PX if wide else NARROW_BAR_PX
        right = TAKES_PX if wide else 0
        words = self.width() - NUMBER_PX - bar - right - 20
        draw_text(p, QRectF(0, 0, words, HEAD_PX), self.head, 17, 700, self.inks.ink)
        if any(r.brings for r in self.rows) and wide:
            draw_text(p, QRectF(NUMBER_PX + words + 10, 2, bar + right, HEAD_PX), self.axis, 14, 400, self.inks.note)
        most = max((r.gain for r in self.rows if r.brings), default=0.0)
        for i, row in enumerate(self.rows):
            box = self._row(i)
            number = QRectF(0, box.top() + 4, 26, 26)
            hand = i == self.hand
            p.setPen(solid(self.inks.ink, 1.6))
            p.setBrush(self.inks.ink if hand else Qt.BrushStyle.NoBrush)
            p.drawRect(number)
            draw_text(p, number, str(i + 1), 16, 700, self.inks.ground if hand else self.inks.ink, Qt.AlignmentFlag.AlignCenter)
            px, weight = fitting(row.what, words, 700 if hand else 400)
            draw_text(p, QRectF(NUMBER_PX, box.top(), words, 26), row.what, px, weight, self.inks.ink)
            if box.height() >= 44:
                draw_text(p, QRectF(NUMBER_PX, box.top() + 24, words, 22), row.why if wide else row.takes, 14, 400, self.inks.note)
            left = NUMBER_PX + words + 10
            if row.brings and most > 0.0:
                long = max(row.gain / most * (bar - 4), 2.0)
                p.setPen(Qt.PenStyle.NoPen)
                p.setBrush(self.inks.ink)
                p.drawRect(QRectF(left, box.top() + 6, long, 12))
                draw_text(p, QRectF(left, box.top() + 22, bar + 20, 20), row.brings, 14, 400, self.inks.note)
            if wide:
                draw_text(p, QRectF(left + bar + 14, box.top(), right - 10, 24), row.takes, 15, 400, self.inks.ink)
            if i + 1 < len(self.rows):
                p.setPen(solid(self.inks.rule, 1.0))
                p.drawLine(QPointF(0, box.bottom() - 2), QPointF(self.width(), box.bottom() - 2))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            for i in range(len(self.rows)):
                if self._row(i).contains(event.position()):
                    self.taken.emit(i)
