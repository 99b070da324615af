"""Causes, a row each: the good panels as a band, this panel as a dot, how far it lies."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt

from dribbet.bench.parts.base import DrawnPart, draw_text
from dribbet.bench.theme.inks import CHANCE, CHANCE_HATCH, WALL, Inks
from dribbet.bench.theme.patterns import hatch, solid
from dribbet.words import causes as words

if TYPE_CHECKING:
    from PyQt6.QtGui import QPainter

ROW_PX: Final = 56.0
HEAD_PX: Final = 28.0
MOST_SD: Final = 5.0
NAME_SHARE: Final = 0.24
WORDS_SHARE: Final = 0.40


@dataclass(frozen=True, slots=True)
class CauseView:
    """One figure of a panel, in standard deviations of the good ones."""

    name: str
    away: float
    """To the right where more of it."""
    words: str
    far: str
    named: bool


class CauseRows(DrawnPart):
    """All causes, the farthest first."""

    def __init__(self, inks: Inks = WALL) -> None:
        super().__init__(inks)
        self.rows: tuple[CauseView, ...] = ()

    def sizeHint(self) -> QSize:
        return QSize(740, round(HEAD_PX + ROW_PX * len(self.rows)))

    def show_rows(self, rows: tuple[CauseView, ...]) -> None:
        """Show other causes."""
        self.rows = rows
        self.name(words.WHY, "; ".join(f"{r.name}: {r.words}, {r.far}" for r in rows))
        self.setFixedHeight(self.sizeHint().height())
        self.update()

    def draw(self, p: QPainter) -> None:
        left, right = self.width() * NAME_SHARE, self.width() * (1.0 - WORDS_SHARE)
        middle, unit = (left + right) / 2, (right - left) / 2 / MOST_SD
        centre = Qt.AlignmentFlag.AlignHCenter
        draw_text(p, QRectF(middle - 90, 0, 180, HEAD_PX - 4), words.GOOD, 14, 700, self.inks.ink, centre)
        band = QRectF(middle - unit, HEAD_PX, 2 * unit, ROW_PX * len(self.rows))
        p.fillRect(band, CHANCE)
        hatch(p, band, CHANCE_HATCH, gap=6)
        for i, r in enumerate(self.rows):
            at = HEAD_PX + (i + 0.5) * ROW_PX
            draw_text(p, QRectF(0, at - ROW_PX / 2, left - 16, ROW_PX), r.name, 17, 700 if r.named else 400, self.inks.ink)
            x = middle + min(max(r.away, -MOST_SD), MOST_SD) * unit
            p.setPen(solid(self.inks.rule, 1.4))
            p.drawLine(QPointF(left, at), QPointF(right, at))
            p.setPen(solid(self.inks.ink, 2.0))
            p.setBrush(self.inks.ink if r.named else self.inks.ground)
            p.drawEllipse(QPointF(x, at), 7.0, 7.0)
            draw_text(p, QRectF(right + 18, at - 24, self.width() - right - 18, 24), r.words, 15, 400, self.inks.ink)
            draw_text(p, QRectF(right + 18, at, self.width() - right - 18, 22), r.far, 14, 700 if r.named else 400, self.inks.note)
