"""Each recipe between two ends, never and always picked or least and most points: a dot with its interval, or with its panels."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt

from dribbet.bench.parts.base import DrawnPart, draw_text
from dribbet.bench.theme.inks import WALL, Inks
from dribbet.bench.theme.patterns import dashed, solid
from dribbet.words import choosing as words

if TYPE_CHECKING:
    from PyQt6.QtGui import QPainter

ROW_PX: Final = 40.0
HEAD_PX: Final = 28.0
NAME_SHARE: Final = 0.3
COUNT_PX: Final = 130.0
BESIDE_PX: Final = 12.0
ENDS: Final = (words.NEVER, words.EVEN, words.ALWAYS)


@dataclass(frozen=True, slots=True)
class Liking:
    """One recipe: how likely it is picked before the others (or its mean points), from 0 to 1, with its interval."""

    name: str
    share: float
    low: float
    high: float
    count: str
    panels: tuple[float, ...] = ()
    """Where each of its panels lies, drawn instead of the interval."""


class Likings(DrawnPart):
    """All recipes of a sitting, most liked first."""

    def __init__(self, inks: Inks = WALL) -> None:
        super().__init__(inks)
        self.rows: tuple[Liking, ...] = ()
        self.ends = ENDS

    def sizeHint(self) -> QSize:
        return QSize(740, round(HEAD_PX + ROW_PX * len(self.rows)))

    def show_rows(self, rows: tuple[Liking, ...], ends: tuple[str, str, str] = ENDS) -> None:
        """Show other recipes; `ends` are printed at the left, in the middle and at the right."""
        self.rows, self.ends = rows, ends
        self.name(words.AXIS, "; ".join(f"{r.name}: {r.share * 100:.0f}, {r.low * 100:.0f} to {r.high * 100:.0f}, {r.count}" for r in rows))
        self.setFixedHeight(self.sizeHint().height())
        self.update()

    def draw(self, p: QPainter) -> None:
        left, right = self.width() * NAME_SHARE, self.width() - COUNT_PX
        centre = Qt.AlignmentFlag.AlignHCenter

        def x_of(share: float) -> float:
            return left + share * (right - left)

        for share, text in zip((0.0, 0.5, 1.0), self.ends, strict=True):
            draw_text(p, QRectF(x_of(share) - 60, 0, 120, HEAD_PX - 4), text, 14, 400, self.inks.note, centre)
        p.setPen(dashed(self.inks.ink, 1.2))
        p.drawLine(QPointF(x_of(0.5), HEAD_PX), QPointF(x_of(0.5), HEAD_PX + ROW_PX * len(self.rows)))
        for i, r in enumerate(self.rows):
            at = HEAD_PX + (i + 0.5) * ROW_PX
            draw_text(p, QRectF(0, at - ROW_PX / 2, left - 30, ROW_PX), r.name, 17, 700, self.inks.ink)
            p.setPen(solid(self.inks.ink, 2.4))
            p.setBrush(self.inks.ground if r.panels or r.low <= 0.5 <= r.high else self.inks.ink)
            if r.panels:
                for share in dict.fromkeys(r.panels):
                    alike = r.panels.count(share)
                    for n in range(alike):  # side by side where they lie together
                        p.drawEllipse(QPointF(x_of(share) + (n - (alike - 1) / 2) * BESIDE_PX, at), 5.0, 5.0)
                p.drawLine(QPointF(x_of(r.share), at - 14), QPointF(x_of(r.share), at + 14))
            else:
                p.drawLine(QPointF(x_of(r.low), at), QPointF(x_of(r.high), at))
                p.drawEllipse(QPointF(x_of(r.share), at), 7.0, 7.0)
            draw_text(p, QRectF(right + 20, at - ROW_PX / 2, COUNT_PX - 20, ROW_PX), r.count, 16, 400, self.inks.ink)
