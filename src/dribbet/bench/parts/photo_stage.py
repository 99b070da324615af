"""The photo stage: a photo at its true shape on the wall, thin lines over it, corners to drag, zoom and pan in millimetres."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass, replace

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPen, QPixmap, QPolygonF, QTransform, QWheelEvent

from dribbet.bench.parts.base import DrawnPart, draw_text
from dribbet.bench.parts.tape import draw_strip
from dribbet.bench.theme.inks import BLACK, PIT, PLATE, WALL, WHITE, Inks
from dribbet.bench.theme.patterns import dashed, hatch, solid
from dribbet.bench.theme.type import width as text_width
from dribbet.sight.round_face import rim_on

CORNERS = 4
GRAB_PX = 22.0
LEAST_FAULT_PX = 9.0
RING_STEP_PX = 20.0
ARROWS = {Qt.Key.Key_Right: (1.0, 0.0), Qt.Key.Key_Left: (-1.0, 0.0), Qt.Key.Key_Down: (0.0, 1.0), Qt.Key.Key_Up: (0.0, -1.0)}
MOST_ZOOM = 12.0
SCALE_STEPS_MM = (1, 2, 5, 10, 20, 30, 50, 100, 200)


DOTS = [0.6, 2.0]
"""Pattern of lines that may be cracks."""


def dotted_pens() -> tuple[QPen, QPen]:
    """Of lines that may be cracks, the lower one first."""
    dotted = dashed(WHITE, 2.6)
    dotted.setDashPattern(DOTS)
    return QPen(BLACK, 4.4), dotted


@dataclass(frozen=True, slots=True)
class Overlay:
    """Lines over a photo in its own units: outlines of cells, cracks, and the edge of the paint."""

    cells: tuple[tuple[tuple[float, float], ...], ...] = ()
    perhaps: frozenset[int] = frozenset()
    """Which of the cells are not sure."""
    cracks: tuple[tuple[tuple[float, float], ...], ...] = ()
    edge: tuple[tuple[tuple[float, float], ...], ...] = ()
    unsure: tuple[tuple[tuple[float, float], ...], ...] = ()
    """Fields that may be base or paint."""
    lines: tuple[tuple[tuple[float, float], ...], ...] = ()
    """What may be cracks."""
    zones: tuple[tuple[float, float, float], ...] = ()
    """Discs that are left out: middle and radius."""
    faults: tuple[tuple[float, float, float, bool], ...] = ()
    """Pits and bumps: middle, width, and whether it is a bump."""
    inner: tuple[tuple[float, float], tuple[float, float]] | None = None
    """Corners of the middle, where it and the rim are looked at apart."""
    inner_round: bool = False
    """Whether the middle is the disc between those corners."""


@dataclass(frozen=True, slots=True)
class ShownPlace:
    """What part of the photo is shown: zoom over fitting, and the centre as shares of width and height."""

    zoom: float = 1.0
    x: float = 0.5
    y: float = 0.5


def _fault(x: float, y: float, reach: float, bump: bool) -> QPolygonF:
    """A triangle round a fault: on its base for a bump, on its tip for a pit."""
    up = -1.0 if bump else 1.0
    return QPolygonF([QPointF(x, y + up * reach), QPointF(x - 0.87 * reach, y - up * reach / 2), QPointF(x + 0.87 * reach, y - up * reach / 2)])


def _polygons(lines: tuple[tuple[tuple[float, float], ...], ...]) -> list[QPolygonF]:
    """Closed lines in the photo's own unit."""
    return [QPolygonF([QPointF(x, y) for x, y in line]) for line in lines]


def _parted(overlay: Overlay) -> tuple[list[QPolygonF], list[QPolygonF]]:
    """Cells that are sure, and those that are not."""
    every = _polygons(overlay.cells)
    return [c for i, c in enumerate(every) if i not in overlay.perhaps], [c for i, c in enumerate(every) if i in overlay.perhaps]


class PhotoStage(DrawnPart):
    """Shows one picture whose pixels are `unit_per_px` of its own unit (mm for rectified panels, 1 for raw photos)."""

    moved = pyqtSignal(object)
    corners_moved = pyqtSignal(object)
    cell_chosen = pyqtSignal(int)
    ring_drawn = pyqtSignal(float, float, object)
    """Middle in the picture's own units, and how wide (None: as before)."""
    ring_moved = pyqtSignal(float, float)

    def __init__(self, inks: Inks = WALL, *, empty: str = "") -> None:
        super().__init__(inks)
        self.image: QImage | None = None
        self._pixmap: QPixmap | None = None
        self._scaled: tuple[tuple[float, float], QPixmap] | None = None
        self.unit_per_px = 1.0
        self.overlay = Overlay()
        self._shapes: tuple[Overlay, *tuple[list[QPolygonF], ...]] | None = None
        self._layer: tuple[object, QPixmap] | None = None
        self.lines_shown = True
        self.hand_cell: int | None = None
        self.corners: list[QPointF] = []
        self.corners_sure = True
        self.sides: tuple[str, str] | None = None
        """Words at the upper and the left side of what the corners enclose."""
        self.draws_ring = False
        """Whether a press draws a ring, and arrows move it, instead of taking cells in hand."""
        self._ring: tuple[float, float] | None = None
        self.round_face = False
        """Whether the corners are of the square round a disc, whose rim is drawn too: it is the rim that a person fits."""
        self.empty = empty
        self.loading: tuple[str, float] | None = None
        self.error = ""
        self.glare: tuple[float, float] | None = None
        self.code = ""
        self.code_note = ""
        self.place = ShownPlace()
        self.show_scale = True
        self.px_per_unit: float | None = None
        """Screen pixels of one unit where nothing is zoomed; None: as large as there is room."""
        self.marked = 0
        """1 or 2 where it was taken in hand beside another."""
        self.shown_instead: PhotoStage | None = None
        """Another stage whose picture is shown at this one's place."""
        self._drag: tuple[QPointF, ShownPlace] | None = None
        self._corner: int | None = None
        self.setMinimumSize(280, 200)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.name("Photo", empty)

    def sizeHint(self) -> QSize:
        return QSize(800, 560)

    # ------------------------------------------------------------ state

    def show_photo(self, image: QImage | None, *, unit_per_px: float = 1.0, overlay: Overlay | None = None, keep_place: bool = False) -> None:
        """Show another picture."""
        if image is not self.image:
            self.image = image
            self._pixmap = QPixmap.fromImage(image) if image is not None else None
            self._scaled = None
        self.unit_per_px = unit_per_px
        self.overlay = overlay or Overlay()
        if not keep_place:
            self.place = ShownPlace()
        self.update()

    def show_place(self, place: ShownPlace) -> None:
        """Show another part of the photo (for linked stages)."""
        if place != self.place:
            self.place = place
            self.update()

    def set_lines(self, shown: bool) -> None:
        self.lines_shown = shown
        self.update()

    # ------------------------------------------------------------ geometry

    def _fit(self) -> float:
        assert self.image is not None
        room = min(self.width() / self.image.width(), self.height() / self.image.height())
        return room if self.px_per_unit is None else min(self.px_per_unit * self.unit_per_px, room)

    def scale(self) -> float:
        """Screen px per picture px."""
        return self._fit() * self.place.zoom

    def photo_room(self) -> QRectF:
        """Where the whole photo lies on the widget; reaches beyond it when zoomed in."""
        assert self.image is not None
        s = self.scale()
        w, h = self.image.width() * s, self.image.height() * s
        x = self.width() / 2 - self.place.x * w if w > self.width() else (self.width() - w) / 2
        y = self.height() / 2 - self.place.y * h if h > self.height() else (self.height() - h) / 2
        return QRectF(x, y, w, h)

    def to_screen(self, x: float, y: float) -> QPointF:
        """Picture unit to widget px."""
        room = self.photo_room()
        s = self.scale() / self.unit_per_px
        return QPointF(room.left() + x * s, room.top() + y * s)

    def to_photo(self, at: QPointF) -> tuple[float, float]:
        """Widget px to picture unit."""
        room = self.photo_room()
        s = self.scale() / self.unit_per_px
        return (at.x() - room.left()) / s, (at.y() - room.top()) / s

    # ------------------------------------------------------------ painting

    def draw(self, p: QPainter) -> None:
        if self.image is None or self._pixmap is None:
            self._draw_empty(p)
            return
        p.setClipRect(self.rect())
        room = self.photo_room()
        other = self.shown_instead
        if other is not None and other._pixmap is not None:
            p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            p.drawPixmap(room, other._pixmap, QRectF(other._pixmap.rect()))
            draw_text(p, QRectF(10, self.height() - 34, self.width() - 20, 28), other.code, 16, 700, self.inks.ink)
            return
        p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        key = (round(room.width(), 1), self.devicePixelRatioF())
        if self.place.zoom <= 1.0:
            if self._scaled is None or self._scaled[0] != key:
                size = QSize(round(room.width() * key[1]), round(room.height() * key[1]))
                scaled = self._pixmap.scaled(size, Qt.AspectRatioMode.IgnoreAspectRatio, Qt.TransformationMode.SmoothTransformation)
                self._scaled = (key, scaled)
            p.drawPixmap(room, self._scaled[1], QRectF(self._scaled[1].rect()))
        else:
            p.drawPixmap(room, self._pixmap, QRectF(self._pixmap.rect()))
        if self.lines_shown:
            self._draw_lines(p)
        if self.glare is not None:
            at = QPointF(room.left() + self.glare[0] * room.width(), room.top() + self.glare[1] * room.height())
            for pen in (solid(BLACK, 5), solid(self.inks.tape, 3)):
                p.setPen(pen)
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawEllipse(at, room.width() * 0.12, room.height() * 0.1)
            draw_strip(p, QRectF(at.x() - 32, at.y() - room.height() * 0.1 - 34, 64, 26), "glare", self.inks.tape, self.inks.crepe)
            draw_text(p, QRectF(at.x() - 32, at.y() - room.height() * 0.1 - 34, 64, 26), "glare", 15, 700, BLACK, Qt.AlignmentFlag.AlignHCenter)
        if self.corners:
            self._draw_corners(p)
        if self.code:
            self._draw_code(p)
        if self.marked:
            p.setPen(solid(self.inks.tape, 5))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(room.intersected(QRectF(self.rect())).adjusted(2, 2, -2, -2))
        if self.loading is not None or self.error:
            p.fillRect(room, QColor(56, 56, 56, 150))
        if self.loading is not None:
            words, share = self.loading
            box = QRectF(self.width() / 2 - 120, self.height() / 2 - 14, 240, 24)
            p.fillRect(box, PIT)
            p.setPen(solid(self.inks.ink, 2))
            p.drawRect(box)
            p.fillRect(QRectF(box.left() + 4, box.top() + 4, (box.width() - 8) * min(share, 1.0), box.height() - 8), self.inks.ink)
            self._plate(p, QPointF(self.width() / 2, box.bottom() + 26), words)
        elif self.show_scale and self.unit_per_px != 1.0:
            self._draw_scale(p)

    def _plate(self, p: QPainter, centre: QPointF, words: str) -> None:
        wide = text_width(words, 16, 600) + 24
        box = QRectF(centre.x() - wide / 2, centre.y() - 15, wide, 30)
        p.fillRect(box, PLATE)
        draw_text(p, box, words, 16, 600, BLACK, Qt.AlignmentFlag.AlignHCenter)

    def _draw_empty(self, p: QPainter) -> None:
        room = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        p.fillRect(room, PIT)
        p.setPen(dashed(self.inks.rule, 2))
        p.drawRect(room)
        panel = QRectF(room.center().x() - room.width() * 0.12, room.top() + room.height() * 0.22, room.width() * 0.34, room.height() * 0.42)
        p.setPen(dashed(self.inks.ink, 2))
        p.drawRect(panel)
        card = QRectF(panel.left() - room.width() * 0.16, panel.center().y() - panel.height() * 0.2, panel.height() * 0.3, panel.height() * 0.46)
        p.setPen(solid(self.inks.note, 2))
        p.drawRect(card)
        for x, y in ((0.12, 0.08), (0.66, 0.08), (0.66, 0.78), (0.12, 0.78)):
            p.fillRect(QRectF(card.left() + x * card.width(), card.top() + y * card.height(), card.width() * 0.2, card.width() * 0.2), self.inks.note)
        words = self.loading[0] if self.loading else self.error or self.empty
        box = QRectF(room.left() + 24, panel.bottom() + 16, room.width() - 48, room.bottom() - panel.bottom() - 24)
        draw_text(p, box, words, 18, 500, self.inks.ink, Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop, wrap=True)

    def _poly(self, points: tuple[tuple[float, float], ...]) -> QPolygonF:
        room = self.photo_room()
        s = self.scale() / self.unit_per_px
        return QPolygonF([QPointF(room.left() + x * s, room.top() + y * s) for x, y in points])

    def _draw_lines(self, p: QPainter) -> None:
        room, ratio = self.photo_room(), self.devicePixelRatioF()
        key = (id(self.overlay), room.getRect(), self.size(), ratio)
        if self._layer is None or self._layer[0] != key:
            layer = QPixmap(self.size() * ratio)
            layer.setDevicePixelRatio(ratio)
            layer.fill(Qt.GlobalColor.transparent)
            painter = QPainter(layer)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.translate(room.topLeft())
            self._stroke(painter, self.scale() / self.unit_per_px)
            painter.end()
            self._layer = (key, layer)
        p.drawPixmap(0, 0, self._layer[1])
        cells, faults = self.overlay.cells, self.overlay.faults
        if self.hand_cell is not None and self.hand_cell < len(cells) + len(faults):
            chosen = self._poly(cells[self.hand_cell]) if self.hand_cell < len(cells) else self._fault_on_screen(*faults[self.hand_cell - len(cells)])
            for pen in (QPen(BLACK, 7.0), QPen(self.inks.tape, 4.0)):
                p.setPen(pen)
                p.drawPolygon(chosen)

    def _fault_on_screen(self, x: float, y: float, width: float, bump: bool) -> QPolygonF:
        scale, at = self.scale() / self.unit_per_px, self.to_screen(x, y)
        return _fault(at.x(), at.y(), max(width / 2.0 * scale, LEAST_FAULT_PX), bump)

    def _stroke(self, p: QPainter, scale: float) -> None:
        """Lines of the overlay; their weights are of the screen, whatever the zoom."""
        if self._shapes is None or self._shapes[0] is not self.overlay:
            now = self.overlay
            self._shapes = (now, *_parted(now), _polygons(now.edge), _polygons(now.cracks), _polygons(now.unsure), _polygons(now.lines))
        cells, perhaps, edge, cracks, unsure, lines = self._shapes[1:]
        white, under = WHITE, QColor(0, 0, 0, 153)
        for x, y, reach in self.overlay.zones:
            path = QPainterPath()
            path.addEllipse(QPointF(x, y) * scale, reach * scale, reach * scale)
            hatch(p, path, white, gap=7)
            p.setPen(QPen(white, 2.0))
            p.drawPath(path)
        if self.overlay.inner is not None:
            (left, top), (right, bottom) = self.overlay.inner
            for pen in (QPen(under, 5.0), dashed(white, 2.6)):
                p.setPen(pen)
                p.setBrush(Qt.BrushStyle.NoBrush)
                box = QRectF(left * scale, top * scale, (right - left) * scale, (bottom - top) * scale)
                (p.drawEllipse if self.overlay.inner_round else p.drawRect)(box)
        p.setBrush(Qt.BrushStyle.NoBrush)
        for x, y, width, bump in self.overlay.faults:
            for pen in (QPen(BLACK, 4.4), QPen(white, 2.0)):
                p.setPen(pen)
                p.drawPolygon(_fault(x * scale, y * scale, max(width / 2.0 * scale, LEAST_FAULT_PX), bump))
        for shape in unsure:
            path = QPainterPath()
            path.addPolygon(QTransform.fromScale(scale, scale).map(shape))
            hatch(p, path, under, gap=14, line=3.0)
            hatch(p, path, white, gap=14, line=1.4)
        p.scale(scale, scale)
        p.setBrush(Qt.BrushStyle.NoBrush)
        for shapes, pens in (
            (cells, (QPen(under, 3.0), QPen(white, 1.3))),
            (perhaps, (QPen(under, 3.0), dashed(white, 1.3))),
            (unsure, (QPen(BLACK, 4.0), dashed(white, 2.0))),
            (edge, (QPen(BLACK, 5.0), QPen(white, 3.4), QPen(BLACK, 1.2))),
            (cracks, (QPen(BLACK, 4.0), dashed(white, 2.0))),
            (lines, dotted_pens()),
        ):
            for pen in pens:
                pen.setCosmetic(True)
                p.setPen(pen)
                for shape in shapes:
                    p.drawPolygon(shape)

    def _draw_corners(self, p: QPainter) -> None:
        poly = QPolygonF([self.to_screen(c.x(), c.y()) for c in self.corners])
        p.setBrush(Qt.BrushStyle.NoBrush)
        for pen in (QPen(BLACK, 4.0), QPen(WHITE, 2.0) if self.corners_sure else dashed(WHITE, 2.0)):
            p.setPen(pen)
            p.drawPolygon(poly)
            if self.round_face and len(self.corners) == CORNERS:
                rim = rim_on(np.array([(c.x(), c.y()) for c in self.corners]))
                p.drawPolygon(QPolygonF([self.to_screen(x, y) for x, y in rim.tolist()]))
        for i, at in enumerate(self.to_screen(c.x(), c.y()) for c in self.corners):
            p.setPen(solid(BLACK, 2.5))
            p.setBrush(self.inks.tape if i == self._corner else WHITE)
            p.drawEllipse(at, 8, 8)
        if self.sides is not None and len(self.corners) == CORNERS:
            top_left, top_right, _, bottom_left = poly[0], poly[1], poly[2], poly[3]
            for words, end in zip(self.sides, (top_right, bottom_left), strict=True):
                self._plate(p, (top_left + end) / 2, words)

    def _draw_code(self, p: QPainter) -> None:
        wide = text_width(self.code, 17, 700, code=True) + 20
        room = self.photo_room()
        left, top = max(room.left(), 0) + 8, max(room.top(), 0) + 8
        note = text_width(self.code_note, 16, 500) + 18 if self.code_note else 0
        if note:
            p.fillRect(QRectF(left + wide - 2, top, note, 28), PLATE)
            draw_text(p, QRectF(left + wide + 6, top, note, 28), self.code_note, 16, 500, BLACK)
        draw_strip(p, QRectF(left, top, wide, 28), self.code, self.inks.tape, self.inks.crepe)
        draw_text(p, QRectF(left, top, wide, 28), self.code, 17, 700, BLACK, Qt.AlignmentFlag.AlignHCenter)

    def _draw_scale(self, p: QPainter) -> None:
        per_mm = self.scale() / self.unit_per_px
        step = next((s for s in SCALE_STEPS_MM if s * per_mm > 70), SCALE_STEPS_MM[-1])
        wide = step * per_mm
        box = self._scale_room(wide + 20, 36)
        p.fillRect(box, PLATE)
        p.fillRect(QRectF(box.left() + 10, box.bottom() - 11, wide, 6), BLACK)
        draw_text(p, QRectF(box.left(), box.top() + 1, box.width(), 22), f"{step} mm", 15, 700, BLACK, Qt.AlignmentFlag.AlignHCenter)

    def _scale_room(self, wide: float, high: float) -> QRectF:
        """The first of three corners (the fourth is the code's) where the scale hides neither bare base nor what may be some."""
        room = self.photo_room().intersected(QRectF(self.rect()))
        left, right, top, bottom = room.left() + 10, room.right() - 10 - wide, room.top() + 8, room.bottom() - 8 - high
        boxes = [QRectF(x, y, wide, high) for x, y in ((right, bottom), (left, bottom), (right, top))]
        told = [[self.to_screen(*at) for at in line] for line in (*self.overlay.edge, *self.overlay.unsure)] if self.lines_shown else []
        sides = [QRectF(a, b).normalized().adjusted(-1, -1, 1, 1) for line in told for a, b in itertools.pairwise(line)]
        return next((box for box in boxes if not any(box.adjusted(-LEAST_FAULT_PX, -LEAST_FAULT_PX, 0, 0).intersects(s) for s in sides)), boxes[0])

    # ------------------------------------------------------------ hands

    def zoom_by(self, factor: float, at: QPointF | None = None) -> None:
        """Zoom in or out, keeping the place under the pointer."""
        if self.image is None:
            return
        at = at or QPointF(self.width() / 2, self.height() / 2)
        before = self.photo_room()
        u, v = (at.x() - before.left()) / before.width(), (at.y() - before.top()) / before.height()
        zoom = min(max(self.place.zoom * factor, 1.0), MOST_ZOOM)
        self.place = ShownPlace(zoom, self.place.x, self.place.y)
        after = self.photo_room()
        x = (self.width() / 2 - (at.x() - u * after.width())) / after.width()
        y = (self.height() / 2 - (at.y() - v * after.height())) / after.height()
        self._go(zoom, x, y)

    def _go(self, zoom: float, x: float, y: float) -> None:
        assert self.image is not None
        s = self._fit() * zoom
        half_x, half_y = self.width() / 2 / (self.image.width() * s), self.height() / 2 / (self.image.height() * s)
        x = 0.5 if half_x >= 0.5 else min(max(x, half_x), 1 - half_x)
        y = 0.5 if half_y >= 0.5 else min(max(y, half_y), 1 - half_y)
        self.place = ShownPlace(zoom, x, y)
        self.moved.emit(self.place)
        self.update()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None:
            self.zoom_by(1.2 ** (event.angleDelta().y() / 120), event.position())

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self.image is None:
            return
        at = event.position()
        near = [(QPointF(self.to_screen(c.x(), c.y()) - at).manhattanLength(), i) for i, c in enumerate(self.corners)]
        if near and min(near)[0] < GRAB_PX * 1.5:
            self._corner = min(near)[1]
            self.update()
            return
        if self.draws_ring:
            self._ring = self.to_photo(at)
            return
        if self.lines_shown:
            for i, (x, y, width, _) in enumerate(self.overlay.faults, len(self.overlay.cells)):
                reach = max(width / 2.0 * self.scale() / self.unit_per_px, GRAB_PX / 2)
                if math.dist((at.x(), at.y()), (self.to_screen(x, y).x(), self.to_screen(x, y).y())) <= reach:
                    self.choose(i)
                    return
            for i in range(len(self.overlay.cells) - 1, -1, -1):
                if self._poly(self.overlay.cells[i]).containsPoint(at, Qt.FillRule.OddEvenFill):
                    self.choose(i)
                    return
        self._drag = (at, self.place)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self.image is None:
            return
        if self._corner is not None:
            x, y = self.to_photo(event.position())
            self.corners[self._corner] = QPointF(
                min(max(x, 0), self.image.width() * self.unit_per_px), min(max(y, 0), self.image.height() * self.unit_per_px)
            )
            self.update()
        elif self._ring is not None:
            wide = math.dist(self._ring, self.to_photo(event.position()))
            if wide * self.scale() / self.unit_per_px >= GRAB_PX:
                (x, y), edge = self._ring, wide
                self.overlay = replace(self.overlay, inner=((x - edge, y - edge), (x + edge, y + edge)), inner_round=True)
                self.update()
        elif self._drag is not None:
            start, place = self._drag
            room = self.photo_room()
            self._go(
                place.zoom, place.x - (event.position().x() - start.x()) / room.width(), place.y - (event.position().y() - start.y()) / room.height()
            )

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._drag = None
        if self._ring is not None and event is not None:
            (x, y), self._ring = self._ring, None
            wide = math.dist((x, y), self.to_photo(event.position()))
            self.ring_drawn.emit(x, y, wide if wide * self.scale() / self.unit_per_px >= GRAB_PX else None)
        if self._corner is not None:
            self._corner = None
            self.corners_moved.emit([(c.x(), c.y()) for c in self.corners])

    def choose(self, i: int | None) -> None:
        """Take a cell in hand, or a fault: those count on after the cells."""
        self.hand_cell = i
        if i is not None:
            self.cell_chosen.emit(i)
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Plus and minus zoom; arrows step through cells, largest first, and faults, or nudge the corner in hand."""
        if event is None:
            return
        key, cells = event.key(), len(self.overlay.cells) + len(self.overlay.faults)
        if key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.zoom_by(1.25)
        elif key == Qt.Key.Key_Minus:
            self.zoom_by(0.8)
        elif key in ARROWS and self.draws_ring:
            by = RING_STEP_PX / (self.scale() / self.unit_per_px)
            self.ring_moved.emit(*(d * by for d in ARROWS[Qt.Key(key)]))
        elif key in (Qt.Key.Key_Right, Qt.Key.Key_Left) and cells:
            step = 1 if key == Qt.Key.Key_Right else -1
            self.choose(((self.hand_cell if self.hand_cell is not None else -step) + step) % cells)
        elif key in (Qt.Key.Key_Right, Qt.Key.Key_Left, Qt.Key.Key_Up, Qt.Key.Key_Down) and self.corners:
            self._nudge(key, 10.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0)
        elif key == Qt.Key.Key_C and self.corners:
            self._corner = ((self._corner if self._corner is not None else -1) + 1) % 4
            self.update()
        else:
            event.ignore()

    def _nudge(self, key: int, by: float) -> None:
        i = self._corner if self._corner is not None else 0
        dx = {Qt.Key.Key_Right: by, Qt.Key.Key_Left: -by}.get(Qt.Key(key), 0.0)
        dy = {Qt.Key.Key_Down: by, Qt.Key.Key_Up: -by}.get(Qt.Key(key), 0.0)
        self.corners[i] += QPointF(dx, dy)
        self.corners_moved.emit([(c.x(), c.y()) for c in self.corners])
        self.update()
