"""The drawn parts of Shelf: containers and bottles with their fill level."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPainterPath

from dribbet.bench.parts.base import PressButton, draw_focus, draw_text
from dribbet.bench.parts.cup import WATER
from dribbet.bench.parts.tape import Tape, draw_code, draw_strip, strip_size
from dribbet.bench.theme.inks import BLACK, EDGE, PAPER, WAVE
from dribbet.bench.theme.patterns import hatch, solid, waves
from dribbet.bench.theme.type import grown
from dribbet.records import WATER_HEX, Kind
from dribbet.words import shelf as shelf_words
from dribbet.words.units import NARROW, NO_BREAK

if TYPE_CHECKING:
    from dribbet.bench.doors.shelf.presenter import ShelfLine

TALL_PX = 134


class Container(PressButton):
    """A jar or a bottle with its fill level and its name."""

    chosen = pyqtSignal(str)

    def __init__(self, what: ShelfLine, hand: bool) -> None:
        super().__init__()
        self.what, self.hand = what, hand
        self.setMinimumSize(104, grown(TALL_PX))
        name = f"Bottle {what.code}, {what.name}" if what.bottle else f"{what.name}, {what.kind}"
        self.setAccessibleName(shelf_words.read_aloud(name, what.under, flag=what.flag, hand=hand))
        self.clicked.connect(lambda: self.chosen.emit(what.id))

    def regrow(self) -> None:
        """Take the size that type has in this window now."""
        self.setMinimumSize(104, grown(TALL_PX))

    def sizeHint(self) -> QSize:
        return QSize(118, grown(TALL_PX) + 6)

    def _jar(self, bottom: float) -> tuple[QPainterPath, QRectF]:
        wide, tall = (38.0, 60.0) if self.what.bottle else (50.0, 56.0)
        room = QRectF(self.width() / 2 - wide / 2, bottom - tall, wide, tall)
        path = QPainterPath()
        if self.what.bottle:  # a shoulder and a neck
            neck = wide * 0.36
            path.moveTo(room.left(), room.bottom())
            for x, y in (
                (room.left(), room.top() + 20),
                (room.center().x() - neck / 2, room.top() + 8),
                (room.center().x() - neck / 2, room.top()),
                (room.center().x() + neck / 2, room.top()),
                (room.center().x() + neck / 2, room.top() + 8),
                (room.right(), room.top() + 20),
                (room.right(), room.bottom()),
            ):
                path.lineTo(QPointF(x, y))
            path.closeSubpath()
        else:
            path.addRect(room)
        return path, room

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setRenderHint(QPainter.RenderHint.TextAntialiasing)
        w = self.what
        if self.hand:
            draw_strip(p, QRectF(2, 0, self.width() - 4, self.height()), w.name, PAPER.tape, PAPER.crepe)
        bottom = self.height() - float(grown(64))
        path, room = self._jar(bottom)
        p.fillPath(path, PAPER.sheet)
        level = QRectF(room.left(), room.bottom() - w.share * (room.height() - 4), room.width(), w.share * (room.height() - 4))
        p.save()
        p.setClipPath(path)
        p.fillRect(level, QColor(w.hex if w.hex != WATER else WATER_HEX))
        if w.kind == Kind.THINNER:
            waves(p, level, WAVE, gap=8)
        if w.kind == Kind.ADDITIVE:
            hatch(p, level, EDGE, gap=8, line=1)
        p.restore()
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(solid(BLACK, 3))
        p.drawPath(path)
        lid = 16.0 if w.bottle else room.width() - 12
        p.fillRect(QRectF(room.center().x() - lid / 2, room.top() - 9, lid, 8), BLACK)
        p.setPen(solid(BLACK, 4))
        p.drawLine(QPointF(0, bottom + 2), QPointF(self.width(), bottom + 2))
        if w.flag:
            hatch(p, QRectF(room.right() + 6, room.top(), 10, 26), BLACK, gap=5)
        if w.code:
            size = strip_size(w.code, 14)
            place = QRectF(room.center().x() - size.width() / 2, room.center().y() + 1, size.width(), size.height())
            draw_code(p, place, w.code, 14, Tape.OTHER, PAPER)
        top = Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop
        name = w.name.replace(NARROW, NO_BREAK).replace(" %", f"{NO_BREAK}%")  # a figure stays with its sign
        draw_text(p, QRectF(4, bottom + 6, self.width() - 8, grown(38)), name, 14, 600, BLACK, top, wrap=True)
        ink = BLACK if self.hand else PAPER.note
        draw_text(p, QRectF(4, self.height() - grown(20), self.width() - 8, grown(20)), w.under, 14, 400, ink, Qt.AlignmentFlag.AlignHCenter)
        if self.hasFocus():
            draw_focus(p, QRectF(self.rect()), PAPER)
        p.end()
