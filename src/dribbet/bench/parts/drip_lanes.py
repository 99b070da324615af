"""Drips on a white card, one lane per colour, mm downward, with the aim as a band across all lanes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPainterPath

from dribbet.bench.parts.base import DrawnPart, draw_focus, draw_text
from dribbet.bench.parts.tape import draw_strip
from dribbet.bench.theme.inks import AIM, BLACK, EDGE, PAPER, Inks
from dribbet.bench.theme.patterns import dashed, polyline, solid
from dribbet.bench.theme.type import font

if TYPE_CHECKING:
    from PyQt6.QtWidgets import QWidget

AXIS_PX = 44
WORDS_PX = 124
FEW_WORDS_PX = 84  # where no lane has an instruction
LONG_PX = 165  # drips shorter than this have no neck


@dataclass(frozen=True, slots=True)
class Lane:
    """One colour: its run in the person's unit (None: not dripped), its verdict in words."""

    name: str
    hex: str
    run: float | None
    run_text: str
    verdict: str
    instruction: str = ""
    good: bool = False
    hand: bool = False


@dataclass(frozen=True, slots=True)
class DripCardView:
    """All lanes; aim and axis in the same unit."""

    lanes: tuple[Lane, ...]
    aim: tuple[float, float] | None
    aim_text: str
    longest: float
    unit: str
    step: float


class LaneTarget(DrawnPart):
    """A lane as a target of its own."""

    pressed = pyqtSignal(int)

    def __init__(self, number: int, parent: QWidget) -> None:
        super().__init__(PAPER, parent)
        self.number = number
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)

    def mousePressEvent(self, event: object) -> None:
        self.pressed.emit(self.number)

    def draw(self, p: QPainter) -> None:
        """Show nothing of its own; the card below is drawn in one piece."""


class DripLanes(DrawnPart):
    """The drip card."""

    pressed = pyqtSignal(int)

    def __init__(self, inks: Inks = PAPER) -> None:
        super().__init__(inks)
        self.card = DripCardView((), None, "", 90.0, "mm", 20.0)
        self._targets: list[LaneTarget] = []
        self.setMinimumSize(420, 320)

    def sizeHint(self) -> QSize:
        return QSize(630, 520)

    def show_card(self, card: DripCardView) -> None:
        """Draw other drips."""
        self.card = card
        while len(self._targets) < len(card.lanes):
            target = LaneTarget(len(self._targets), self)
            target.pressed.connect(self.pressed)
            target.show()
            self._targets.append(target)
        for target, lane in zip(self._targets, card.lanes, strict=False):
            target.name(f"{lane.name}: {lane.run_text or 'not dripped'} {lane.verdict} {lane.instruction}".strip())
        for target in self._targets[len(card.lanes) :]:
            target.hide()
        self._place()
        self.update()

    def _place(self) -> None:
        for i, target in enumerate(self._targets[: len(self.card.lanes)]):
            room = self.lane_room(i)
            target.setGeometry(QRectF(room.left(), 0, room.width(), self.height()).toRect())

    def resizeEvent(self, event: object) -> None:
        self._place()

    def _words_px(self) -> int:
        return WORDS_PX if any(lane.instruction for lane in self.card.lanes) else FEW_WORDS_PX

    def _sheet(self) -> QRectF:
        return QRectF(AXIS_PX, 2, self.width() - AXIS_PX - 2, self.height() - self._words_px() - 4)

    def lane_room(self, i: int) -> QRectF:
        """Lane i on the card."""
        sheet = self._sheet()
        wide = sheet.width() / max(len(self.card.lanes), 1)
        return QRectF(sheet.left() + i * wide, sheet.top(), wide, sheet.height())

    def y_of(self, run: float) -> float:
        """Where a run ends on the card."""
        sheet = self._sheet()
        return sheet.top() + 34 + run / self.card.longest * (sheet.height() - 40)

    def draw(self, p: QPainter) -> None:
        card, sheet, inks = self.card, self._sheet(), self.inks
        p.fillRect(sheet, inks.card)
        if card.aim:
            low, high = (self.y_of(v) for v in card.aim)
            p.fillRect(QRectF(sheet.left(), low, sheet.width(), high - low), AIM)
            p.setPen(solid(inks.ink, 2))
            for y in (low, high):
                p.drawLine(QPointF(sheet.left(), y), QPointF(sheet.right(), y))
        p.setPen(solid(inks.ink, 2))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(sheet)
        self._axis(p)
        labelled = False
        for i, lane in enumerate(card.lanes):
            room = self.lane_room(i)
            if i:
                p.setPen(solid(inks.rule, 1))
                p.drawLine(room.topLeft(), room.bottomLeft())
            self._lane(p, room, lane)
            short = card.aim and (lane.run is None or lane.run < card.aim[0] * 0.93)
            if short and card.aim and not labelled:
                y0, y1 = (self.y_of(v) for v in card.aim)
                draw_text(
                    p,
                    QRectF(room.left() + 3, y0, room.width() - 6, y1 - y0),
                    card.aim_text,
                    14,
                    600,
                    inks.ink,
                    Qt.AlignmentFlag.AlignHCenter,
                    wrap=True,
                )
                labelled = True
            self._words(p, room, lane)

    def _axis(self, p: QPainter) -> None:
        card, sheet = self.card, self._sheet()
        draw_text(p, QRectF(0, sheet.top(), AXIS_PX - 12, 20), card.unit, 14, 400, self.inks.note)
        value = 0.0
        while value <= card.longest:
            y = self.y_of(value)
            p.setPen(solid(self.inks.ink, 2))
            p.drawLine(QPointF(sheet.left() - 14, y), QPointF(sheet.left(), y))
            draw_text(p, QRectF(0, y - 10, AXIS_PX - 18, 20), f"{value:g}", 14, 500, self.inks.ink, Qt.AlignmentFlag.AlignRight)
            for k in range(1, 4):
                half = self.y_of(value + card.step * k / 4)
                if half < sheet.bottom():
                    p.setPen(solid(self.inks.ink, 1))
                    p.drawLine(QPointF(sheet.left() - 7, half), QPointF(sheet.left(), half))
            value += card.step

    def _lane(self, p: QPainter, room: QRectF, lane: Lane) -> None:
        x, top = room.center().x(), self.y_of(0) - 24
        if lane.run is None:
            p.setPen(dashed(self.inks.off, 1.5))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(QRectF(x - 14, top, 28, self.y_of(card_middle(self.card)) - top))
            return
        tip = self.y_of(lane.run)
        head, neck, foot = min(26.0, room.width() * 0.24), min(11.0, room.width() * 0.1), min(15.0, room.width() * 0.14)
        path = QPainterPath(QPointF(x - head, top + 14))
        path.quadTo(QPointF(x - head, top - 2), QPointF(x, top - 2))
        path.quadTo(QPointF(x + head, top - 2), QPointF(x + head, top + 14))
        if tip - top > LONG_PX:
            path.cubicTo(QPointF(x + head, top + 50), QPointF(x + neck, top + 70), QPointF(x + neck, top + 110))
            path.lineTo(QPointF(x + neck, tip - 46))
            path.cubicTo(QPointF(x + neck, tip - 30), QPointF(x + foot, tip - 26), QPointF(x + foot, tip - 14))
            path.quadTo(QPointF(x + foot, tip), QPointF(x, tip))
            path.quadTo(QPointF(x - foot, tip), QPointF(x - foot, tip - 14))
            path.cubicTo(QPointF(x - foot, tip - 26), QPointF(x - neck, tip - 30), QPointF(x - neck, tip - 46))
            path.lineTo(QPointF(x - neck, top + 110))
            path.cubicTo(QPointF(x - neck, top + 70), QPointF(x - head, top + 50), QPointF(x - head, top + 14))
        else:
            end = max(tip, top + 24)
            path.cubicTo(QPointF(x + head, top + 14 + (end - top) * 0.4), QPointF(x + foot * 1.4, end), QPointF(x, end))
            path.cubicTo(QPointF(x - foot * 1.4, end), QPointF(x - head, top + 14 + (end - top) * 0.4), QPointF(x - head, top + 14))
        p.fillPath(path, QColor(lane.hex))
        if QColor(lane.hex).lightness() > 190:
            p.setPen(solid(EDGE, 1.2))
            p.drawPath(path)
        p.setPen(solid(BLACK, 2.4))
        p.drawLine(QPointF(x + 4, tip), QPointF(room.right() - 6, tip))
        above = not (self.card.aim and any(-30 < self.y_of(v) - tip < 0 for v in self.card.aim))
        box = QRectF(x + foot + 2, tip - 32 if above else tip + 2, room.right() - 8 - x - foot - 2, 30)
        draw_text(p, box, lane.run_text, 24 if box.width() >= 38 else 17, 800, BLACK, Qt.AlignmentFlag.AlignRight)

    def _words(self, p: QPainter, room: QRectF, lane: Lane) -> None:
        box = QRectF(room.left() + 2, self.height() - self._words_px() + 4, room.width() - 4, self._words_px() - 6)
        ink = self.inks.ink
        if lane.hand:
            draw_strip(p, box, lane.name, self.inks.tape, self.inks.crepe)
            ink = BLACK
        at = box.adjusted(8, 6, -4, 0)
        metrics_px = 15
        name = ink if lane.hand else self.inks.note
        top = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop
        taken = draw_text(p, QRectF(at.left(), at.top(), at.width(), 40), lane.name, metrics_px, 400, name, top, wrap=True)
        y = taken.bottom() + 2
        mark = 0.0
        if lane.good:
            p.setPen(solid(ink, 2.6))
            polyline(p, [QPointF(at.left(), y + 10), QPointF(at.left() + 5, y + 16), QPointF(at.left() + 14, y + 4)])
            mark = 20.0
        draw_text(p, QRectF(at.left() + mark, y, at.width() - mark, 22), lane.verdict, 17, 700, ink)
        p.setFont(font(15, 500))
        draw_text(
            p,
            QRectF(at.left(), y + 24, at.width(), 46),
            lane.instruction,
            15,
            500,
            ink,
            Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop,
            wrap=True,
        )
        if self.hasFocus():
            draw_focus(p, room, self.inks)


def card_middle(card: DripCardView) -> float:
    """Where an empty lane ends: the middle of the aim, or of the axis."""
    return sum(card.aim) / 2 if card.aim else card.longest / 2
