"""How often each recipe was picked: a dot with its interval between never and always, an even chance in the middle."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt

from dribbet.bench.parts.base import Part, draw_text
from dribbet.bench.theme.inks import WALL, Inks
from dribbet.bench.theme.patterns import dashed, solid
from dribbet.words import choosing as words

if TYPE_CHECKING:
    from PyQt6.QtGui import QPainter

ROW_PX: Final = 40.0
HEAD_PX: Final = 28.0
NAME_SHARE: Final = 0.3
COUNT_PX: Final = 130.0


@dataclass(frozen=True, slots=True)
class Liking:
    """One recipe: how likely it is picked before the others, from 0 to 1, with its interval."""

    name: str
    share: float
    low: float
    high: float
    count: str


class Likings(Part):
    """All recipes of a sitting, most liked first."""

    def __init__(self, inks: Inks = WALL) -> None:
        super().__init__(inks)
        self.rows: tuple[Liking, ...] = ()

    def sizeHint(self) -> QSize:
        return QSize(740, round(HEAD_PX + ROW_PX * len(self.rows)))

    def show_rows(self, rows: tuple[Liking, ...]) -> None:
        """Show other recipes."""
        self.rows = rows
        self.name(words.AXIS, "; ".join(f"{r.name}: {r.share * 100:.0f}, {r.low * 100:.0f} to {r.high * 100:.0f}, {r.count}" for r in rows))
        self.setFixedHeight(self.sizeHint().height())
        self.update()

    def draw(self, p: QPainter) -> None:
        left, right = self.width() * NAME_SHARE, self.width() - COUNT_PX
        centre = Qt.AlignmentFlag.AlignHCenter

        def x_of(share: float) -> float:
            return left + share * (right - left)

        for share, text in ((0.0, words.NEVER), (0.5, words.EVEN), (1.0, words.ALWAYS)):
            draw_text(p, QRectF(x_of(share) - 60, 0, 120, HEAD_PX - 4), text, 14, 400, self.inks.note, centre)
        p.setPen(dashed(self.inks.ink, 1.2))
        p.drawLine(QPointF(x_of(0.5), HEAD_PX), QPointF(x_of(0.5), HEAD_PX + ROW_PX * len(self.rows)))
        for i, r in enumerate(self.rows):
            at = HEAD_PX + (i + 0.5) * ROW_PX
            draw_text(p, QRectF(0, at - ROW_PX / 2, left - 30, ROW_PX), r.name, 17, 700, self.inks.ink)
            p.setPen(solid(self.inks.ink, 2.4))
            p.drawLine(QPointF(x_of(r.low), at), QPointF(x_of(r.high), at))
            p.setBrush(self.inks.ground if r.low <= 0.5 <= r.high else self.inks.ink)
            p.drawEllipse(QPointF(x_of(r.share), at), 7.0, 7.0)
            draw_text(p, QRectF(right + 20, at - ROW_PX / 2, COUNT_PX - 20, ROW_PX), r.count, 16, 400, self.inks.ink)
