"""Masking tape: torn strips that carry codes. Yellow for what is in hand, grey for others."""

from __future__ import annotations

import random
import zlib
from enum import Enum
from functools import lru_cache

from PyQt6.QtCore import QLineF, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen

from dribbet.bench.parts.base import DrawnPart, show_in_place
from dribbet.bench.theme.inks import BLACK, PAPER, Inks
from dribbet.bench.theme.patterns import hatch
from dribbet.bench.theme.type import font, width

HEIGHT = 1.55  # times the type size
PAD_PX = 11


class Tape(Enum):
    """What a strip stands for."""

    HAND = "in hand"
    OTHER = "other"
    NONE = "not poured"
    LOST = "not found"


@lru_cache(maxsize=512)
def tape_path(text: str, width_px: float, height_px: float) -> tuple[QPainterPath, tuple[float, ...]]:
    """Outline of a strip with torn ends, and the places of its crepe lines; the same text tears alike."""
    rng = random.Random(zlib.crc32(text.encode()))
    teeth = max(3, round(height_px / 4))
    path = QPainterPath(QPointF(rng.uniform(0, 3), 0))
    path.lineTo(width_px - rng.uniform(0, 3), 0)
    for i in range(1, teeth + 1):
        path.lineTo(width_px - rng.uniform(0, 3.4), height_px * i / teeth)
    for i in range(teeth, -1, -1):
        path.lineTo(rng.uniform(0, 3.4), height_px * i / teeth)
    path.closeSubpath()
    lines, x = [], 5.0
    while x < width_px - 4:
        lines.append(x)
        x += rng.uniform(4, 11)
    return path, tuple(lines)


def draw_strip(p: QPainter, room: QRectF, seed: str, tape: QColor, crepe: QColor) -> None:
    """Draw an empty strip over a rectangle."""
    path, lines = tape_path(seed, round(room.width(), 1), round(room.height(), 1))
    p.save()
    p.translate(room.topLeft())
    p.fillPath(path, tape)
    pen = QColor(crepe)
    pen.setAlphaF(0.55)
    p.setPen(QPen(pen, 1.0))
    if lines:
        p.drawLines(*(QLineF(x, 1.0, x, room.height() - 1.0) for x in lines))
    p.restore()


def strip_size(text: str, px: int) -> QSize:
    """Room that a strip with a code takes."""
    return QSize(round(width(text, px, 700, code=True)) + 2 * PAD_PX, round(px * HEIGHT))


def draw_code(p: QPainter, room: QRectF, text: str, px: int, kind: Tape, inks: Inks) -> None:
    """Draw a code on its strip."""
    if kind is not Tape.NONE:
        tape, crepe = (inks.tape, inks.crepe) if kind is Tape.HAND else (inks.other_tape, inks.other_crepe)
        draw_strip(p, room, text, tape, crepe)
    if kind is Tape.LOST:
        hatch(p, room, BLACK, gap=7)
    p.setFont(font(px, 600 if kind is Tape.NONE else 700, code=True))
    p.setPen(inks.note if kind is Tape.NONE else BLACK)
    p.drawText(room, int(Qt.AlignmentFlag.AlignCenter), text)


class TapeLabel(DrawnPart):
    """A code on tape. Labels things; is never a button."""

    def __init__(self, text: str = "", px: int = 18, kind: Tape = Tape.HAND, inks: Inks = PAPER) -> None:
        super().__init__(inks)
        self._text, self._px, self._kind = text, px, kind
        self.set_code(text, kind)

    def set_code(self, text: str, kind: Tape = Tape.HAND) -> None:
        """Show a code; hides where there is none."""
        self._text, self._kind = text, kind
        self.setFixedSize(strip_size(text, self._px))
        show_in_place(self, bool(text))
        self.name(text, kind.value)
        self.update()

    def regrow(self) -> None:
        """Take the size that type has in this window now."""
        self.set_code(self._text, self._kind)

    @property
    def px(self) -> int:
        """Size of its type."""
        return self._px

    def set_px(self, px: int) -> None:
        """Write in another size."""
        if px != self._px:
            self._px = px
            self.set_code(self._text, self._kind)

    def draw(self, p: QPainter) -> None:
        draw_code(p, QRectF(self.rect()), self._text, self._px, self._kind, self.inks)
