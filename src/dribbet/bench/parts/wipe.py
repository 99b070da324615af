"""Two panels on one place: a strip of tape is the seam between them. Both share zoom, place and scale."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QImage, QKeyEvent, QMouseEvent, QPainter, QPixmap

from dribbet.bench.parts.base import draw_text
from dribbet.bench.parts.photo_stage import PhotoStage
from dribbet.bench.parts.tape import draw_strip
from dribbet.bench.theme.inks import BLACK, PIT, WALL, Inks
from dribbet.bench.theme.patterns import dashed, polyline, solid

GRIP_PX = 48


class Wipe(PhotoStage):
    """A photo stage with a second photo to the right of the seam."""

    def __init__(self, inks: Inks = WALL) -> None:
        super().__init__(inks)
        self.second: QPixmap | None = None
        self.seam = 0.58
        self.wiping = True
        self._held = False
        self.second_code = ""

    def show_second(self, image: QImage | None, code: str) -> None:
        """Show what lies right of the seam."""
        self.second = QPixmap.fromImage(image) if image is not None else None
        self.second_code = code
        self.update()

    def draw(self, p: QPainter) -> None:
        super().draw(p)
        if self.image is None or not self.wiping:
            return
        room = self.photo_room().intersected(QRectF(self.rect()))
        x = room.left() + self.seam * room.width()
        right = QRectF(x, room.top(), room.right() - x, room.height())
        p.save()
        p.setClipRect(right)
        if self.second is not None:
            p.drawPixmap(self.photo_room(), self.second, QRectF(self.second.rect()))
        else:
            p.fillRect(right, PIT)
            p.setPen(dashed(self.inks.rule, 2))
            p.drawRect(right.adjusted(1, 1, -1, -1))
        p.restore()
        wide = 20 if self._held or self.hasFocus() else 14
        draw_strip(p, QRectF(x - wide / 2, room.top(), wide, room.height()), "seam", self.inks.tape, self.inks.crepe)
        grip = QRectF(x - GRIP_PX / 2, room.center().y() - GRIP_PX / 2, GRIP_PX, GRIP_PX)
        draw_strip(p, grip, "grip", self.inks.tape, self.inks.crepe)
        p.setPen(solid(BLACK, 3))
        c = grip.center()
        for side in (-1, 1):
            polyline(p, [c + QPointF(side * 7, -8), c + QPointF(side * 15, 0), c + QPointF(side * 7, 8)])
        if self.second_code:
            p.fillRect(QRectF(x + 14, room.top() + 8, 92, 28), WALL.ink)
            draw_text(p, QRectF(x + 14, room.top() + 8, 92, 28), self.second_code, 16, 700, BLACK, Qt.AlignmentFlag.AlignHCenter)

    def _seam_x(self) -> float:
        room = self.photo_room().intersected(QRectF(self.rect()))
        return room.left() + self.seam * room.width()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self.image is not None and self.wiping and abs(event.position().x() - self._seam_x()) < GRIP_PX / 2:
            self._held = True
            self.update()
            return
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._held:
            room = self.photo_room().intersected(QRectF(self.rect()))
            self.seam = min(max((event.position().x() - room.left()) / room.width(), 0.0), 1.0)
            self.update()
            return
        super().mouseMoveEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._held = False
        super().mouseReleaseEvent(event)
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows move the seam by 1 mm, with Shift by 10 mm."""
        if event is not None and self.image is not None and event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            mm = 10.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0
            room = self.photo_room().intersected(QRectF(self.rect()))
            share = mm * self.scale() / self.unit_per_px / room.width()
            self.seam = min(max(self.seam + (share if event.key() == Qt.Key.Key_Right else -share), 0.0), 1.0)
            self.update()
            return
        super().keyPressEvent(event)
