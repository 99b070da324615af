"""Marks of a pour: what went wrong or how it runs, one press each, and where it is on the panel's outline."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPainterPath
from PyQt6.QtWidgets import QAbstractButton

from dribbet.bench.parts.base import DrawnPart, draw_focus, draw_text
from dribbet.bench.parts.tape import draw_strip
from dribbet.bench.theme.inks import AIM, BLACK, CREPE, PAPER, TAPE
from dribbet.bench.theme.patterns import hatch, polyline, solid
from dribbet.records import MishapKind
from dribbet.records.wording import first_up
from dribbet.words import pour as pour_words

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.bench.stations.pour.presenter import ZoneView

DRAWN_SHARE: Final = 0.03  # of the outline: a shorter stroke is a touch


class MishapButton(QAbstractButton):
    """One press marks what went wrong."""

    def __init__(self, number: int, kind: MishapKind) -> None:
        super().__init__()
        self.number, self.kind = number, kind
        self.hand = False
        self.setMinimumSize(120, 72)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName(f"Mishap {number}: {kind}")

    def sizeHint(self) -> QSize:
        return QSize(190, 84)

    def offer(self, kind: MishapKind) -> None:
        """Stand for another mishap or sign."""
        if kind is not self.kind:
            self.kind = kind
            self.setAccessibleName(f"{'Sign' if kind.is_sign else 'Mishap'} {self.number}: {kind}")
            self.update()

    def _sign(self, p: QPainter, room: QRectF) -> None:
        """A sign has no drawing: its word stands alone."""
        draw_text(p, QRectF(14, 6, 30, 22), str(self.number), 16, 500, PAPER.note)
        top = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop
        draw_text(p, QRectF(14, 28, room.width() - 18, room.height() - 28), first_up(str(self.kind)), 18, 700, BLACK, top, wrap=True)

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        room = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        if self.kind.is_sign:
            p.fillRect(room, PAPER.sheet)
            p.setPen(solid(BLACK, 2))
            p.drawRect(room)
            self._sign(p, room)
            if self.hasFocus():
                draw_focus(p, QRectF(self.rect()), PAPER)
            p.end()
            return
        if self.hand:
            draw_strip(p, room, str(self.kind), TAPE, CREPE)
        else:
            p.fillRect(room, PAPER.sheet)
        p.setPen(solid(BLACK, 2))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(room)
        roomy = room.width() > 180
        box = QRectF(12, room.height() / 2 - 24, 62, 50) if roomy else QRectF(10, 7, 56, 42)  # else the name stands under the drawing
        p.fillRect(box, AIM)
        p.setPen(solid(BLACK, 1.5))
        p.drawRect(box)
        self._drawing(p, box)
        words = first_up(str(self.kind))
        top = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop
        draw_text(p, QRectF(box.right() + 10, 8, 30, 22), str(self.number), 16, 500, PAPER.note)
        if roomy:
            draw_text(p, QRectF(84, 28, room.width() - 86, room.height() - 28), words, 16, 700, BLACK, top, wrap=True)
        else:
            draw_text(p, QRectF(10, box.bottom() + 5, room.width() - 12, room.height() - box.bottom() - 6), words, 15, 700, BLACK, top)
        if self.hasFocus():
            draw_focus(p, QRectF(self.rect()), PAPER)
        p.end()

    def _drawing(self, p: QPainter, box: QRectF) -> None:
        p.setPen(solid(BLACK, 2.4))
        p.setBrush(Qt.BrushStyle.NoBrush)
        DRAWINGS[self.kind](p, box, box.center())


def _smudge(p: QPainter, box: QRectF, c: QPointF) -> None:
    p.setPen(solid(BLACK, 3.5))
    for dx in (-12, 0, 12):
        p.drawLine(QPointF(c.x() + dx - 5, c.y() + 14), QPointF(c.x() + dx + 7, c.y() - 14))


def _blisters(p: QPainter, box: QRectF, c: QPointF) -> None:
    for dx, dy, r in ((-14, -6, 7), (4, 2, 10), (16, -12, 5), (-8, 14, 4), (18, 12, 5)):
        p.drawEllipse(QPointF(c.x() + dx, c.y() + dy), r, r)


def _corner(p: QPainter, box: QRectF, c: QPointF) -> None:
    path = QPainterPath(box.bottomRight())
    path.lineTo(box.right() - 30, box.bottom())
    path.quadTo(QPointF(box.right() - 26, box.bottom() - 26), QPointF(box.right(), box.bottom() - 34))
    path.closeSubpath()
    hatch(p, path, BLACK, gap=5)
    p.drawPath(path)


def _dust(p: QPainter, box: QRectF, c: QPointF) -> None:
    p.drawArc(QRectF(c.x() - 20, c.y() - 12, 30, 26), 0, 180 * 16)
    for dx, dy in ((-6, 8), (14, 4), (8, 16), (20, -10)):
        p.drawEllipse(QPointF(c.x() + dx, c.y() + dy), 1.5, 1.5)


def _slipped(p: QPainter, box: QRectF, c: QPointF) -> None:
    p.drawEllipse(QPointF(c.x() - 8, c.y()), 14, 14)
    p.drawEllipse(QPointF(c.x() + 8, c.y()), 14, 14)


def _spill(p: QPainter, box: QRectF, c: QPointF) -> None:
    path = QPainterPath(QPointF(c.x() - 22, c.y() + 4))
    for to, by in (((-6, -14), (-20, -16)), ((12, -10), (4, -4)), ((22, 6), (24, -8)), ((2, 16), (14, 18)), ((-22, 4), (-16, 20))):
        path.quadTo(QPointF(c.x() + by[0], c.y() + by[1]), QPointF(c.x() + to[0], c.y() + to[1]))
    hatch(p, path, BLACK, gap=5)
    p.drawPath(path)


def _crumb(p: QPainter, box: QRectF, c: QPointF) -> None:
    polyline(p, [QPointF(c.x() + x, c.y() + y) for x, y in ((-10, 6), (-6, -8), (4, -6), (11, 2), (4, 11), (-10, 6))])
    p.drawLine(QPointF(c.x() - 24, c.y() + 14), QPointF(c.x() + 24, c.y() + 14))


def _insect(p: QPainter, box: QRectF, c: QPointF) -> None:
    p.drawEllipse(c, 5, 10)
    for side in (-1, 1):
        for dy in (-7, 0, 7):
            p.drawLine(QPointF(c.x() + side * 5, c.y() + dy * 0.6), QPointF(c.x() + side * 16, c.y() + dy * 1.5))


def _water(p: QPainter, box: QRectF, c: QPointF) -> None:
    path = QPainterPath(QPointF(c.x(), c.y() - 18))
    path.cubicTo(QPointF(c.x() + 16, c.y() + 2), QPointF(c.x() + 10, c.y() + 14), QPointF(c.x(), c.y() + 14))
    path.cubicTo(QPointF(c.x() - 10, c.y() + 14), QPointF(c.x() - 16, c.y() + 2), QPointF(c.x(), c.y() - 18))
    p.drawPath(path)


def _retouched(p: QPainter, box: QRectF, c: QPointF) -> None:
    p.drawLine(QPointF(c.x() + 20, c.y() - 16), QPointF(c.x(), c.y() + 6))
    polyline(p, [QPointF(c.x() + x, c.y() + y) for x, y in ((-22, 12), (-14, 6), (-8, 14), (0, 6), (6, 14))])


DRAWINGS: Final[dict[MishapKind, Callable[[QPainter, QRectF, QPointF], None]]] = {
    MishapKind.SMUDGED: _smudge, MishapKind.OVER_TORCHED: _blisters, MishapKind.RAN_OFF: _corner, MishapKind.DUST: _dust,
    MishapKind.CUP_SLIPPED: _slipped, MishapKind.SPILL: _spill, MishapKind.CRUMB: _crumb, MishapKind.INSECT: _insect,
    MishapKind.WATER: _water, MishapKind.RETOUCHED: _retouched,
}  # fmt: skip


class PanelOutline(DrawnPart):
    """The panel's outline: touch where a mishap is, and draw outwards as far as it reaches."""

    touched = pyqtSignal(float, float, object)

    def __init__(self) -> None:
        super().__init__()
        self.setFixedSize(132, 84)
        self.name(pour_words.PANEL_OUTLINE)
        self.shape = 4 / 3
        self.round_face = False
        self.zones: tuple[ZoneView, ...] = ()
        self.asking = False
        self._from: QPointF | None = None
        self._to: QPointF | None = None

    def show_zones(self, zones: tuple[ZoneView, ...], shape: float, *, asking: bool, round_face: bool) -> None:
        if (zones, shape, asking, round_face) != (self.zones, self.shape, self.asking, self.round_face):
            self.zones, self.shape, self.asking, self.round_face = zones, shape, asking, round_face
            left = sum(z.out for z in zones)
            self.name(pour_words.PANEL_OUTLINE if asking else pour_words.PANEL_OUTLINE_ZONES(left=left, zones=len(zones)))
            self.update()

    def room(self) -> QRectF:
        wide = min(self.width() - 8.0, (self.height() - 8.0) * self.shape)
        return QRectF(4, 4, wide, wide / self.shape)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self.asking:
            self._from = self._to = event.position()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._from is not None:
            self._to = event.position()
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._from is None or self._to is None:
            return
        room, start, drawn = self.room(), self._from, self._to - self._from
        self._from = self._to = None
        reach = (drawn.x() ** 2 + drawn.y() ** 2) ** 0.5 / room.width()
        self.touched.emit(
            min(max((start.x() - room.left()) / room.width(), 0), 1),
            min(max((start.y() - room.top()) / room.height(), 0), 1),
            min(max(reach, 0.01), 1.0) if reach > DRAWN_SHARE else None,
        )

    def draw(self, p: QPainter) -> None:
        room = self.room()
        face = QPainterPath()
        (face.addEllipse if self.round_face else face.addRect)(room)
        p.fillPath(face, self.inks.sheet)
        p.save()
        p.setClipPath(face)
        for z in self.zones:
            at, reach = QPointF(room.left() + z.x * room.width(), room.top() + z.y * room.height()), z.reach * room.width()
            path = QPainterPath()
            path.addEllipse(at, reach, reach)
            if z.out:
                hatch(p, path, self.inks.ink, gap=5)
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(solid(self.inks.ink, 1.6))
            p.drawPath(path)
        if self._from is not None and self._to is not None:
            drawn = self._to - self._from
            reach = (drawn.x() ** 2 + drawn.y() ** 2) ** 0.5
            p.setPen(solid(self.inks.ink, 1.6))
            p.drawEllipse(self._from, reach, reach)
        p.restore()
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(solid(self.inks.ink, 3 if self.asking else 2))
        p.drawPath(face)
