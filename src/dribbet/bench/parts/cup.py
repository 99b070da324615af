"""The cup glyph: layers to scale from below, stir stick, silicone drops."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import Enum

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPixmap, QPolygonF

from dribbet.bench.parts.base import DrawnPart
from dribbet.bench.parts.tape import draw_strip
from dribbet.bench.theme.inks import BLACK, EDGE, PAPER, STICK_MEDIUM, STICK_REST, WAVE, WHITE, Inks
from dribbet.bench.theme.patterns import dashed, hatch, solid, waves
from dribbet.bench.theme.type import font

TAPER = 0.13
FULL = 0.86
WATER = "water"


class CupState(Enum):
    """How a cup stands."""

    PLANNED = "planned"
    FILLED = "filled"
    FLIPPED = "flipped"
    UNKNOWN = "colour unknown"


@dataclass(frozen=True, slots=True)
class CupView:
    """What to draw: (hex or `water`, share) from below; stick shares of paint, medium, thinner."""

    layers: tuple[tuple[str, float], ...] = ()
    fill: float = 1.0
    state: CupState = CupState.FILLED
    stick: tuple[float, float, float] | None = None
    drops: dict[int, int] = field(default_factory=dict)
    hand: bool = False
    behind: int = 0
    over_from: float | None = None
    """Share of the filled height from which the topmost layer is surplus."""


def outline(room: QRectF) -> QPainterPath:
    """Walls of a cup that fills a rectangle."""
    inset = room.width() * TAPER
    path = QPainterPath(room.topLeft())
    path.lineTo(room.topRight())
    path.lineTo(QPointF(room.right() - inset, room.bottom()))
    path.lineTo(QPointF(room.left() + inset, room.bottom()))
    path.closeSubpath()
    return path


def band(room: QRectF, low: float, high: float) -> QPainterPath:
    """Slice of a cup between two heights, as shares from the bottom."""

    def x_at(share: float) -> float:
        return room.width() * TAPER * (1.0 - share)

    y0, y1 = room.bottom() - low * room.height(), room.bottom() - high * room.height()
    path = QPainterPath()
    path.addPolygon(
        QPolygonF(
            [
                QPointF(room.left() + x_at(low), y0),
                QPointF(room.right() - x_at(low), y0),
                QPointF(room.right() - x_at(high), y1),
                QPointF(room.left() + x_at(high), y1),
            ]
        )
    )
    path.closeSubpath()
    return path


def layer_heights(view: CupView, height_px: float) -> list[tuple[float, float]]:
    """Lower and upper edge of each layer as shares of the cup's height; none thinner than 2 px."""
    total = sum(share for _, share in view.layers) or 1.0
    full = FULL * view.fill
    least = 2.0 / max(height_px, 1.0)
    heights = [max(full * share / total, least) for _, share in view.layers]
    if heights:
        heights[heights.index(max(heights))] -= sum(heights) - full
    edges, at = [], 0.0
    for h in heights:
        edges.append((at, at + h))
        at += h
    return edges


def draw_cup(p: QPainter, room: QRectF, view: CupView, inks: Inks, *, wall: float = 2.0) -> None:
    """Draw a cup into a rectangle: its walls fill it, rim and stick reach over it."""
    p.save()
    if view.state is CupState.FLIPPED:
        p.translate(room.center())
        p.rotate(180)
        p.translate(-room.center())
    cup = outline(room)
    planned = view.state is CupState.PLANNED
    if view.stick and room.width() >= 24:
        _stick(p, room, view.stick, inks)
    p.fillPath(cup, PAPER.sheet if not planned or view.layers else inks.ground)
    for i, ((colour, _), (low, high)) in enumerate(zip(view.layers, layer_heights(view, room.height()), strict=True)):
        slice_ = band(room, low, high)
        if colour == WATER:
            p.fillPath(slice_, WHITE)
            waves(p, slice_, WAVE, gap=max(4.0, min(14.0, room.height() / 30)))
        else:
            p.fillPath(slice_, QColor(colour))
        if i == len(view.layers) - 1 and view.over_from is not None:
            hatch(p, band(room, max(low, high - view.over_from), high), BLACK, gap=7, line=2)
        count = view.drops.get(i, 0)
        if count and room.width() >= 24:
            _drops(p, slice_.boundingRect(), count)
    if view.state is CupState.UNKNOWN:
        p.fillPath(band(room, 0, FULL), STICK_REST)
        p.setFont(font(max(14, round(room.height() * 0.3)), 700))
        p.setPen(inks.ink)
        p.drawText(room, int(Qt.AlignmentFlag.AlignCenter), "?")
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(dashed(inks.ink, wall * 0.8) if planned else solid(inks.ink, wall))
    p.drawPath(cup)
    if not planned:
        p.setPen(solid(inks.ink, wall * 1.6))
        reach = room.width() * 0.06
        p.drawLine(QPointF(room.left() - reach, room.top()), QPointF(room.right() + reach, room.top()))
    p.restore()


def _stick(p: QPainter, room: QRectF, stick: tuple[float, float, float], inks: Inks) -> None:
    wide, tall = max(9.0, room.width() * 0.14), room.height() * 0.48  # so that the stick of the cup behind stays in the glyph, too
    box = QRectF(room.center().x() + room.width() * 0.12, room.top() - tall, wide, tall)
    p.fillRect(box, WHITE)
    y = box.bottom()
    total = sum(stick) or 1.0
    for i, share in enumerate(stick):
        h = tall * share / total
        piece = QRectF(box.left(), y - h, wide, h)
        if i == 2:
            waves(p, piece, PAPER.note, gap=5)
        else:
            p.fillRect(piece, BLACK if i == 0 else STICK_MEDIUM)
        y -= h
    p.setPen(solid(inks.ink, 1.5))
    p.drawRect(box)


def _drops(p: QPainter, room: QRectF, count: int) -> None:
    shown = min(count, 4)
    p.setBrush(WHITE)
    p.setPen(QPen(BLACK, 1.4))
    r = min(3.6, room.height() * 0.28)
    for i in range(shown):
        p.drawEllipse(QPointF(room.left() + room.width() * (0.26 + 0.5 * i / max(shown - 1, 1)), room.center().y()), r, r)


MOST_PICTURES = 200
_PICTURES: dict[tuple[object, ...], QPixmap] = {}


class CupGlyph(DrawnPart):
    """A cup, or several of one recipe one behind the other."""

    def __init__(self, view: CupView, width_px: int = 72, inks: Inks = PAPER) -> None:
        super().__init__(inks)
        self.view = view
        self._cup_width = width_px
        self.setFixedSize(self.room_for(width_px, view))
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)

    @property
    def cup_px(self) -> int:
        """Width of a cup."""
        return self._cup_width

    def set_width(self, width_px: int) -> None:
        """Draw the cups in another size."""
        if width_px != self._cup_width:
            self._cup_width = width_px
            self.setFixedSize(self.room_for(width_px, self.view))
            self.update()

    @staticmethod
    def room_for(width_px: int, view: CupView) -> QSize:
        """Room that cups of this width take."""
        tall = round(width_px * 1.22)
        return QSize(round(width_px * (1.25 + 0.8 * min(view.behind, 1))), round(tall * (1.62 if view.stick else 1.1)) + 8)

    def draw(self, p: QPainter) -> None:
        if self.view.hand:
            draw_strip(p, QRectF(self.rect()).adjusted(0, 2, 0, -1), self.accessibleName(), self.inks.tape, self.inks.crepe)
        p.drawPixmap(QPointF(0, 0), self._drawn())

    def _drawn(self) -> QPixmap:
        """The cups as a picture; recipes that look alike share it, so that a rack of many is quick."""
        view, scale = self.view, self.devicePixelRatioF()
        key = (view.layers, view.fill, view.state, view.stick, tuple(sorted(view.drops.items())), view.behind, view.over_from, self._cup_width)
        whole = (*key, self.width(), self.height(), scale, self.inks.ink.rgb())
        found = _PICTURES.get(whole)
        if found is None:
            if len(_PICTURES) >= MOST_PICTURES:
                _PICTURES.clear()
            found = QPixmap(round(self.width() * scale), round(self.height() * scale))
            found.setDevicePixelRatio(scale)
            found.fill(Qt.GlobalColor.transparent)
            p = QPainter(found)
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            p.setRenderHint(QPainter.RenderHint.TextAntialiasing)
            self._draw_cups(p)
            p.end()
            _PICTURES[whole] = found
        return found

    def _draw_cups(self, p: QPainter) -> None:
        w = float(self._cup_width)
        h = w * 1.22
        bottom = self.height() - 4.0
        left = w * 0.12
        if self.view.behind:
            behind = Inks(**{**vars(self.inks), "ink": EDGE})
            draw_cup(p, QRectF(left + w * 0.72, bottom - h - 12, w, h), self.view, behind)
        draw_cup(p, QRectF(left, bottom - h, w, h), self.view, self.inks, wall=2.4)
