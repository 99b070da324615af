"""Patterns that carry status: hatching for caution and doubt, waves for water, dashes for what is planned."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

if TYPE_CHECKING:
    from collections.abc import Sequence


def hatch(p: QPainter, shape: QPainterPath | QRectF, colour: QColor, *, gap: float = 6.0, line: float = 1.5) -> None:
    """Diagonal hatching inside a shape."""
    path = shape
    if isinstance(shape, QRectF):
        path = QPainterPath()
        path.addRect(shape)
    assert isinstance(path, QPainterPath)
    box = path.boundingRect()
    p.save()
    p.setClipPath(path, Qt.ClipOperation.IntersectClip)
    p.setPen(QPen(colour, line))
    strokes, x = [], box.left() - box.height()
    while x < box.right():
        strokes.append(QLineF(x, box.bottom(), x + box.height(), box.top()))
        x += gap
    if strokes:
        p.drawLines(*strokes)
    p.restore()


def waves(p: QPainter, shape: QPainterPath | QRectF, colour: QColor, *, gap: float = 9.0) -> None:
    """Waves inside a shape: water."""
    path = shape
    if isinstance(shape, QRectF):
        path = QPainterPath()
        path.addRect(shape)
    assert isinstance(path, QPainterPath)
    box = path.boundingRect()
    p.save()
    p.setClipPath(path, Qt.ClipOperation.IntersectClip)
    p.setPen(QPen(colour, 1.2))
    p.setBrush(Qt.BrushStyle.NoBrush)
    y = box.top() + gap * 0.6
    while y < box.bottom() + gap:
        line = QPainterPath(QPointF(box.left(), y))
        x, up = box.left(), True
        while x < box.right():
            line.quadTo(QPointF(x + 4, y + (-4 if up else 4)), QPointF(x + 8, y))
            x, up = x + 8, not up
        p.drawPath(line)
        y += gap
    p.restore()


def dashed(colour: QColor, line: float = 1.5) -> QPen:
    """Pen for what is planned or not there."""
    pen = QPen(colour, line)
    pen.setDashPattern([4, 3])
    pen.setCapStyle(Qt.PenCapStyle.FlatCap)
    return pen


def solid(colour: QColor, line: float = 2.0) -> QPen:
    """Pen with mitred joins and flat ends."""
    pen = QPen(colour, line)
    pen.setJoinStyle(Qt.PenJoinStyle.MiterJoin)
    pen.setCapStyle(Qt.PenCapStyle.FlatCap)
    return pen


def polyline(p: QPainter, points: Sequence[QPointF] | QPolygonF) -> None:
    """A line from point to point."""
    p.drawPolyline(QPolygonF(points))
