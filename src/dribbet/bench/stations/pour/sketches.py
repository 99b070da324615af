"""Small drawings of the steps of a pour, seen from the side: what lies on the panel, and what is done to it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Final

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPolygonF

from dribbet.bench.parts.cup import CupState, CupView, draw_cup
from dribbet.bench.theme.inks import BLACK, MIDDLE, PAPER
from dribbet.bench.theme.patterns import polyline, solid
from dribbet.records import Step

Colours = list[QColor]


def puddle(p: QPainter, x: float, base: float, half: float, tall: float, colours: Colours) -> None:
    """Paint that lies on the panel, its colours one inside the other."""
    p.setPen(Qt.PenStyle.NoPen)
    p.save()
    p.setClipRect(QRectF(x - half - 2, base - tall - 2, 2 * half + 4, tall + 2))
    for i, colour in enumerate(colours):
        share = 1.0 - i / len(colours)
        p.setBrush(colour)
        p.drawEllipse(QPointF(x, base), half * (0.5 + 0.5 * share), tall * share)
    p.restore()


def arrow(p: QPainter, start: QPointF, end: QPointF, head: float) -> None:
    """A stroke with a head: which way something goes."""
    p.setPen(solid(BLACK, 2.4))
    p.drawLine(start, end)
    dx, dy = end.x() - start.x(), end.y() - start.y()
    long = max((dx * dx + dy * dy) ** 0.5, 1e-6)
    ux, uy = dx / long * head, dy / long * head
    polyline(p, [QPointF(end.x() - ux - uy * 0.7, end.y() - uy + ux * 0.7), end, QPointF(end.x() - ux + uy * 0.7, end.y() - uy - ux * 0.7)])


def _base(p: QPainter, x: float, base: float, k: float, colours: Colours, view: CupView) -> None:
    p.setPen(solid(BLACK, 1.6))
    p.setBrush(PAPER.sheet)
    p.drawRect(QRectF(x - 46 * k, base - 7 * k, 62 * k, 7 * k))
    p.drawEllipse(QPointF(x + 18 * k, base - 12 * k), 12 * k, 12 * k)
    p.setPen(solid(BLACK, 2.6))
    p.drawLine(QPointF(x + 18 * k, base - 12 * k), QPointF(x + 38 * k, base - 44 * k))


def _stand(p: QPainter, x: float, base: float, k: float, colours: Colours, view: CupView) -> None:
    draw_cup(p, QRectF(x - 18 * k, base - 48 * k, 36 * k, 46 * k), CupView(layers=()), PAPER)
    arrow(p, QPointF(x, base - 82 * k), QPointF(x, base - 56 * k), 7 * k)


def _press(p: QPainter, x: float, base: float, k: float, colours: Colours, view: CupView) -> None:
    puddle(p, x, base, 36 * k, 10 * k, colours)
    p.setPen(solid(BLACK, 1.8))
    p.setBrush(PAPER.sheet)
    p.drawRect(QRectF(x - 40 * k, base - 40 * k, 80 * k, 9 * k))
    for side in (-22.0, 22.0):
        arrow(p, QPointF(x + side * k, base - 66 * k), QPointF(x + side * k, base - 44 * k), 6 * k)


def _pour(p: QPainter, x: float, base: float, k: float, colours: Colours, view: CupView) -> None:
    puddle(p, x, base, 30 * k, 14 * k, colours)
    p.fillRect(QRectF(x - 2.5 * k, base - 50 * k, 5 * k, 40 * k), colours[-1])
    p.save()
    p.translate(x + 14 * k, base - 58 * k)
    p.rotate(-105)
    draw_cup(p, QRectF(-14 * k, -18 * k, 28 * k, 36 * k), view, PAPER)
    p.restore()


def _ring(p: QPainter, x: float, base: float, k: float, colours: Colours, view: CupView) -> None:
    puddle(p, x, base, 34 * k, 14 * k, colours * 2)
    p.setPen(solid(BLACK, 2.4))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawEllipse(QPointF(x, base - 40 * k), 20 * k, 7 * k)
    arrow(p, QPointF(x + 14 * k, base - 34 * k), QPointF(x + 20 * k, base - 40 * k), 6 * k)


def _lay(p: QPainter, x: float, base: float, k: float, colours: Colours, view: CupView) -> None:
    wide = 80 * k / max(len(colours), 1)
    for i, colour in enumerate(colours):
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(colour)
        p.drawEllipse(QPointF(x - 40 * k + (i + 0.5) * wide, base - 4 * k), wide * 0.5, 9 * k)


def _pull(p: QPainter, x: float, base: float, k: float, colours: Colours, view: CupView) -> None:
    puddle(p, x, base, 38 * k, 12 * k, colours)
    p.setPen(solid(BLACK, 2.2))
    path = QPainterPath(QPointF(x - 30 * k, base - 4 * k))
    path.cubicTo(x - 10 * k, base - 14 * k, x + 6 * k, base - 2 * k, x + 22 * k, base - 22 * k)
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawPath(path)
    arrow(p, QPointF(x + 20 * k, base - 22 * k), QPointF(x + 40 * k, base - 40 * k), 7 * k)


def _swipe(p: QPainter, x: float, base: float, k: float, colours: Colours, view: CupView) -> None:
    _coat(p, x, base, k, colours)
    p.setPen(solid(BLACK, 2))
    p.setBrush(PAPER.sheet)
    p.save()
    p.translate(x - 6 * k, base - 14 * k)
    p.rotate(28)
    p.drawRect(QRectF(-3 * k, -34 * k, 6 * k, 36 * k))
    p.restore()
    arrow(p, QPointF(x + 2 * k, base - 34 * k), QPointF(x + 36 * k, base - 34 * k), 7 * k)


def _blow(p: QPainter, x: float, base: float, k: float, colours: Colours, view: CupView) -> None:
    puddle(p, x, base, 38 * k, 11 * k, colours)
    p.setPen(solid(BLACK, 2.4))
    p.setBrush(PAPER.sheet)
    p.drawRect(QRectF(x - 4 * k, base - 70 * k, 8 * k, 22 * k))
    for way in (-1.0, 0.0, 1.0):
        arrow(p, QPointF(x + 3 * way * k, base - 44 * k), QPointF(x + 20 * way * k, base - 18 * k), 6 * k)


def _activate(p: QPainter, x: float, base: float, k: float, colours: Colours, view: CupView) -> None:
    puddle(p, x, base, 38 * k, 11 * k, colours)
    p.setPen(solid(BLACK, 1.8))
    p.setBrush(PAPER.sheet)
    for dx, dy, r in ((-12, -14, 4), (2, -16, 5), (14, -13, 3.5)):
        p.drawEllipse(QPointF(x + dx * k, base + dy * k), r * k, r * k)
    p.drawEllipse(QPointF(x + 2 * k, base - 48 * k), 9 * k, 5 * k)
    p.setPen(solid(BLACK, 2.6))
    p.drawLine(QPointF(x + 11 * k, base - 48 * k), QPointF(x + 34 * k, base - 60 * k))


def _wait(p: QPainter, x: float, base: float, k: float, colours: Colours, view: CupView) -> None:
    puddle(p, x, base, 36 * k, 12 * k, colours)
    p.setPen(solid(BLACK, 2.4))
    p.setBrush(PAPER.sheet)
    middle = QPointF(x, base - 44 * k)
    p.drawEllipse(middle, 17 * k, 17 * k)
    p.drawLine(middle, QPointF(x, base - 56 * k))
    p.drawLine(middle, QPointF(x + 9 * k, base - 40 * k))


def _spin(p: QPainter, x: float, base: float, k: float, colours: Colours, view: CupView) -> None:
    puddle(p, x, base, 42 * k, 10 * k, colours)
    p.setPen(solid(BLACK, 2.4))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawArc(QRectF(x - 34 * k, base - 44 * k, 68 * k, 22 * k), 20 * 16, 300 * 16)
    arrow(p, QPointF(x + 24 * k, base - 40 * k), QPointF(x + 33 * k, base - 35 * k), 7 * k)


def _cup(p: QPainter, x: float, base: float, k: float, colours: Colours, view: CupView) -> None:
    draw_cup(p, QRectF(x - 18 * k, base - 48 * k, 36 * k, 46 * k), view, PAPER)


def _lift(p: QPainter, x: float, base: float, k: float, colours: Colours, view: CupView) -> None:
    draw_cup(p, QRectF(x - 17 * k, base - 76 * k, 34 * k, 40 * k), replace(view, fill=0.5), PAPER)
    puddle(p, x, base, 26 * k, 18 * k, colours)
    arrow(p, QPointF(x + 32 * k, base - 38 * k), QPointF(x + 32 * k, base - 73 * k), 8 * k)


def _torch(p: QPainter, x: float, base: float, k: float, colours: Colours, view: CupView) -> None:
    puddle(p, x, base, 36 * k, 12 * k, colours)
    p.setPen(solid(BLACK, 2))
    p.setBrush(PAPER.sheet)
    p.save()
    p.translate(x + 26 * k, base - 40 * k)
    p.rotate(35)
    p.drawRect(QRectF(-9 * k, -34 * k, 18 * k, 34 * k))
    p.drawPolygon(QPolygonF([QPointF(-6 * k, 4), QPointF(6 * k, 4), QPointF(0, 22 * k)]))
    p.restore()


def _tilt(p: QPainter, x: float, base: float, k: float, colours: Colours, view: CupView) -> None:
    p.save()
    p.translate(x, base - 8 * k)
    p.rotate(-13)
    p.fillRect(QRectF(-46 * k, -2 * k, 92 * k, 6 * k), BLACK)
    _coat(p, 0.0, -2 * k, k, colours)
    p.restore()


def _weigh(p: QPainter, x: float, base: float, k: float, colours: Colours, view: CupView) -> None:
    _coat(p, x, base, k, colours)
    p.setPen(solid(BLACK, 2))
    p.setBrush(PAPER.sheet)
    p.drawRect(QRectF(x - 30 * k, base + 8 * k - 3, 60 * k, 10 * k))


def _coat(p: QPainter, x: float, base: float, k: float, colours: Colours) -> None:
    """The colours one over the other, over the whole panel."""
    for i, colour in enumerate(colours[:4]):
        p.fillRect(QRectF(x - 46 * k, base - 3 * k - 3 * i * k, 92 * k, 3 * k), colour)


Sketch = Callable[[QPainter, float, float, float, Colours, CupView], None]
"""Painter, middle, height of the panel's face, scale, the cup's colours from below, and its cup."""
SKETCHES: Final[dict[Step, Sketch]] = {
    Step.BASE: _base, Step.STAND: _stand, Step.FILL: _cup, Step.REST: _cup, Step.LIFT: _lift, Step.POUR: _pour, Step.RING: _ring,
    Step.LAY: _lay, Step.PULL: _pull, Step.SWIPE: _swipe, Step.BLOW: _blow, Step.ACTIVATE: _activate,
    Step.WAIT: _wait, Step.GROW: _wait, Step.PRESS: _press, Step.TORCH: _torch,
    Step.SPIN: _spin, Step.TILT: _tilt, Step.WEIGH: _weigh,
}  # fmt: skip
NO_PANEL: Final = (Step.FILL, Step.TILT)
"""Steps beside the panel, or whose drawing has a panel of its own."""
PANEL_PX: Final = 8.0


def draw_step(p: QPainter, step: str, x: float, bench: float, k: float, layers: tuple[tuple[str, float], ...], *, stands: bool) -> None:
    """Draw a step on the bench: `x` its middle, `bench` the height of the bench, `k` the scale; `stands` where the cup is never turned over."""
    kind = Step(step)
    beside = kind in NO_PANEL and not (kind is Step.FILL and stands)
    if not beside:
        p.fillRect(QRectF(x - 46 * k, bench - PANEL_PX * k, 92 * k, 5 * k), BLACK)
    base = bench if kind is Step.FILL and not stands else bench - PANEL_PX * k
    turned = kind in (Step.REST, Step.LIFT) and not stands
    view = CupView(layers=layers, state=CupState.FLIPPED if turned else CupState.FILLED)
    SKETCHES[kind](p, x, base, k, [QColor(h) for h, _ in layers] or [MIDDLE], view)
