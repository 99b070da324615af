"""Points from least to most: a box for each, with what the ends mean; a digit or a touch gives them."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal

from dribbet.bench.parts.base import DrawnPart, draw_text
from dribbet.bench.theme.inks import WALL, Inks
from dribbet.bench.theme.patterns import solid
from dribbet.records import LEAST_POINTS, MOST_POINTS

if TYPE_CHECKING:
    from PyQt6.QtGui import QMouseEvent, QPainter

HIGH_PX: Final = 60
GAP_PX: Final = 10
COUNT: Final = MOST_POINTS - LEAST_POINTS + 1


class PointsRow(DrawnPart):
    """As many boxes as there are points."""

    given = pyqtSignal(int)
    """A box was touched: its points."""

    def __init__(self, inks: Inks = WALL) -> None:
        super().__init__(inks)
        self.low = self.high = ""
        self.setFixedHeight(HIGH_PX)

    def sizeHint(self) -> QSize:
        return QSize(740, HIGH_PX)

    def show_ends(self, low: str, high: str) -> None:
        """Say what least and most points mean."""
        self.low, self.high = low, high
        self.name(f"{LEAST_POINTS} {low}, {MOST_POINTS} {high}")
        self.update()

    def box(self, points: int) -> QRectF:
        """Where the box of some points lies."""
        wide = (self.width() - GAP_PX * (COUNT - 1)) / COUNT
        return QRectF((points - LEAST_POINTS) * (wide + GAP_PX), 0, wide, self.height())

    def draw(self, p: QPainter) -> None:
        centre = Qt.AlignmentFlag.AlignCenter
        for points in range(LEAST_POINTS, MOST_POINTS + 1):
            box = self.box(points)
            p.setPen(solid(self.inks.ink, 2.0))
            p.setBrush(self.inks.ink)
            p.drawRect(box.adjusted(1, 1, -1, -1))
            said = {LEAST_POINTS: self.low, MOST_POINTS: self.high}.get(points, "")
            if said:
                draw_text(p, QRectF(box.left() + 14, box.top(), 30, box.height()), str(points), 28, 700, self.inks.ground)
                draw_text(p, QRectF(box.left() + 50, box.top(), box.width() - 54, box.height()), said, 20, 700, self.inks.ground)
            else:
                draw_text(p, box, str(points), 28, 700, self.inks.ground, centre)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            for points in range(LEAST_POINTS, MOST_POINTS + 1):
                if self.box(points).contains(event.position()):
                    self.given.emit(points)
