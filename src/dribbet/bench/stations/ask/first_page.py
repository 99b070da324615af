"""First page of an empty notebook: what Dribbet does in eight drawn stations, and three ways in."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF, QTransform
from PyQt6.QtWidgets import QAbstractButton, QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from dribbet.bench.parts.base import DrawnPart, Words, draw_focus, draw_text
from dribbet.bench.parts.cup import CupView, draw_cup, outline
from dribbet.bench.parts.tape import draw_strip
from dribbet.bench.theme.inks import BLACK, PAPER, TAPE, WHITE
from dribbet.bench.theme.patterns import hatch, polyline, solid
from dribbet.bench.theme.type import width
from dribbet.words import ask as ask_words
from dribbet.words import first_page as words

if TYPE_CHECKING:
    from collections.abc import Callable

TEAL, GREEN, OCHRE, RED, FOAM = (QColor(h) for h in ("#0F6A7A", "#4C7A3A", "#C9902B", "#9C2F3C", "#ECE8DC"))
CAP: Final = 30
CELLS: Final = ((0.22, 0.25, 0.055, FOAM), (0.30, 0.42, 0.08, GREEN), (0.55, 0.62, 0.05, OCHRE), (0.62, 0.78, 0.07, BLACK), (0.80, 0.40, 0.06, TEAL))
"""Cells drawn for Read: place and size as shares of the panel, and colour."""


class EightStations(DrawnPart):
    """Eight stations on one line, each with its picture above and its words below."""

    def __init__(self) -> None:
        super().__init__()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumHeight(210)
        self.name(ask_words.EIGHT_STATIONS, "; ".join(f"{name}: {what}" for name, what in words.STATIONS))

    def draw(self, p: QPainter) -> None:
        wide, tall = self.width() / len(words.STATIONS), float(self.height())
        text_px = 15 if wide < 150 else 18
        below = 46.0 + text_px * 1.42 * (3 if wide >= 128 else 4)
        picture = min(tall - below - 12, wide * 0.8, 210.0)
        y = tall - below - max(tall - below - picture - 12, 0.0) * 0.4
        p.setPen(solid(BLACK, 4))
        p.drawLine(QPointF(0, y), QPointF(self.width(), y))
        for i, ((name, what), draw) in enumerate(zip(words.STATIONS, DRAWN, strict=True)):
            x = wide * (i + 0.5)
            p.save()
            draw(p, QRectF(x - picture / 2, y - picture - 6, picture, picture))
            p.restore()
            p.setPen(solid(BLACK, 2.5))
            p.setBrush(PAPER.ground)
            p.drawEllipse(QPointF(x, y), 9, 9)
            centred = Qt.AlignmentFlag.AlignHCenter
            draw_text(p, QRectF(x - wide / 2, y + 12, wide, 26), name, 20, 700, BLACK, centred)
            room = QRectF(x - wide / 2 + 5, y + 38, wide - 10, below - 38)
            draw_text(p, room, what, text_px, 400, PAPER.note, centred | Qt.AlignmentFlag.AlignTop, wrap=True)


def _ask(p: QPainter, room: QRectF) -> None:
    draw_text(p, room, "?", round(room.height() * 0.72), 800, BLACK, Qt.AlignmentFlag.AlignHCenter)


def _mix(p: QPainter, room: QRectF) -> None:
    cup = QRectF(room.center().x() - room.width() * 0.28, room.top() + room.height() * 0.18, room.width() * 0.56, room.height() * 0.82)
    draw_cup(p, cup, CupView(layers=(("#0F6A7A", 0.55), ("#E3DFD3", 0.27), ("water", 0.18))), PAPER)


def _check(p: QPainter, room: QRectF) -> None:
    card = QRectF(room.center().x() - room.width() * 0.36, room.top() + room.height() * 0.12, room.width() * 0.72, room.height() * 0.88)
    p.fillRect(card, PAPER.card)
    p.setPen(solid(BLACK, 2))
    p.drawRect(card)
    p.setPen(Qt.PenStyle.NoPen)
    for i, (colour, share) in enumerate(((TEAL, 0.66), (OCHRE, 0.62), (RED, 0.40))):
        lane = QRectF(card.left() + card.width() * (0.10 + 0.29 * i), card.top() + 8, card.width() * 0.2, card.height() * share)
        p.setBrush(colour)
        p.drawRoundedRect(lane, lane.width() / 2, lane.width() / 2)


def _panel(p: QPainter, room: QRectF, ground: QColor, bands: tuple[QColor, ...]) -> None:
    """A poured panel: bands that wind across it."""
    p.save()
    p.setClipRect(room)
    p.fillRect(room, ground)
    for i, colour in enumerate(bands):
        p.setPen(QPen(colour, max(room.height() * 0.13, 3.0), Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        steps = 14
        turn = (0.8, 1.4, 2.1, 0.5)[i % 4]
        heights = [0.2 + 0.2 * i + 0.14 * ((k * turn + i) % 2.0) for k in range(steps + 1)]
        polyline(p, [QPointF(room.left() + room.width() * k / steps, room.top() + room.height() * y) for k, y in enumerate(heights)])
    p.restore()
    p.setPen(solid(BLACK, 1.5))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawRect(room)


def _pour(p: QPainter, room: QRectF) -> None:
    panel = QRectF(room.left() + room.width() * 0.12, room.bottom() - room.height() * 0.22, room.width() * 0.76, room.height() * 0.2)
    _panel(p, panel, TEAL, (GREEN, BLACK, OCHRE))
    cup = QRectF(-room.width() * 0.2, -room.height() * 0.24, room.width() * 0.4, room.height() * 0.48)
    p.translate(QPointF(room.center().x(), room.top() + room.height() * 0.42))
    p.setTransform(QTransform().rotate(145), combine=True)
    p.setPen(solid(BLACK, 3))
    p.setBrush(PAPER.card)
    p.drawPath(outline(cup))


def _dry(p: QPainter, room: QRectF) -> None:
    for i in range(3):
        row = QRectF(room.left() + 4, room.top() + room.height() * (0.26 + 0.25 * i), room.width() - 8, room.height() * 0.16)
        for grey, low, high in (("#202020", 0.0, 0.22), ("#9A9A9A", 0.18, 0.62), ("#CFCFCF", 0.55, 1.0)):
            left, right = row.left() + row.width() * low, row.left() + row.width() * high
            lean = row.height() * (0.5 if low else 0.0)
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(QColor(grey))
            corners = [QPointF(left + lean, row.top()), QPointF(right, row.top()), QPointF(right, row.bottom()), QPointF(left, row.bottom())]
            p.drawPolygon(QPolygonF(corners))
        p.setPen(solid(BLACK, 1.5))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(row)


def _shoot(p: QPainter, room: QRectF) -> None:
    _panel(p, QRectF(room.left(), room.top() + room.height() * 0.32, room.width() * 0.64, room.height() * 0.48), RED, (FOAM, OCHRE))
    card = QRectF(room.left() + room.width() * 0.72, room.top() + room.height() * 0.38, room.width() * 0.26, room.height() * 0.38)
    p.fillRect(card, PAPER.card)
    p.setPen(solid(BLACK, 1.5))
    p.drawRect(card)
    for i in range(6):
        grey = QColor.fromHslF(0.0, 0.0, 0.95 - 0.16 * i)
        p.fillRect(QRectF(card.center().x() - 5, card.top() + card.height() * (0.12 + 0.13 * i), 10, card.height() * 0.11), grey)


def _read(p: QPainter, room: QRectF) -> None:
    panel = QRectF(room.left(), room.top() + room.height() * 0.18, room.width(), room.height() * 0.72)
    _panel(p, panel, TEAL, (FOAM, GREEN, FOAM))
    for x, y, size, colour in CELLS:
        centre, radius = QPointF(panel.left() + panel.width() * x, panel.top() + panel.height() * y), panel.width() * size
        p.setBrush(colour)
        for pen in (QPen(BLACK, 4.0), QPen(WHITE, 2.0)):
            p.setPen(pen)
            p.drawEllipse(centre, radius, radius)


def _decide(p: QPainter, room: QRectF) -> None:
    band = QRectF(room.center().x() - room.width() * 0.16, room.top() + room.height() * 0.1, room.width() * 0.32, room.height() * 0.8)
    hatch(p, band, PAPER.rule, gap=7)
    for y, low, high, real in ((0.34, 0.68, 1.0, True), (0.68, 0.1, 0.72, False)):
        at = room.top() + room.height() * y
        p.setPen(solid(BLACK, 4 if real else 2.5))
        p.drawLine(QPointF(room.left() + room.width() * low, at), QPointF(room.left() + room.width() * high, at))
        p.setBrush(BLACK if real else PAPER.ground)
        p.setPen(solid(BLACK, 2.5))
        p.drawEllipse(QPointF(room.left() + room.width() * (low + high) / 2, at), 7, 7)


DRAWN: Final[tuple[Callable[[QPainter, QRectF], None], ...]] = (_ask, _mix, _check, _pour, _dry, _shoot, _read, _decide)


class WayIn(QAbstractButton):
    """One way in: its digit, its name, and what comes of it."""

    def __init__(self, digit: int, head: str, body: str) -> None:
        super().__init__()
        self.digit, self.head, self.what = digit, head, body
        self.setAccessibleName(f"{digit}: {head}")
        self.setAccessibleDescription(body)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)

    def sizeHint(self) -> QSize:
        return QSize(300, 150)

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        room = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        p.setPen(solid(BLACK, 2))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(room)
        p.drawRect(QRectF(16, 16, CAP, CAP))
        draw_text(p, QRectF(16, 16, CAP, CAP), str(self.digit), 15, 700, BLACK, Qt.AlignmentFlag.AlignHCenter)
        if self.digit == 1:
            draw_strip(p, QRectF(58, 15, width(self.head, 20, 700) + 22, 32), self.head, TAPE, PAPER.crepe)
        draw_text(p, QRectF(68, 15, self.width() - 80, 32), self.head, 20, 700, BLACK)
        px = 15 if self.width() < 420 else 18
        draw_text(p, QRectF(16, 58, self.width() - 32, self.height() - 62), self.what, px, 400, BLACK, Qt.AlignmentFlag.AlignTop, wrap=True)
        if self.hasFocus() or self.underMouse():
            draw_focus(p, QRectF(self.rect()), PAPER)
        p.end()


class FirstPage(QWidget):
    """All of it; `taken` tells which way was chosen."""

    taken = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(10)
        column.addWidget(EightStations(), 1)
        column.addWidget(Words("Three ways in", 18, 700))
        row = QHBoxLayout()
        row.setSpacing(10)
        self.ways = [WayIn(i, head, body) for i, (head, body) in enumerate(words.ways(), start=1)]
        for way in self.ways:
            way.clicked.connect(lambda _=False, n=way.digit: self.taken.emit(n))
            row.addWidget(way)
        column.addLayout(row)
        column.addWidget(Words(words.NOTHING_INVENTED, 15, role="note"))
