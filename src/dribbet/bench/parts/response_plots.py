"""What each thing varied does to one response: levels on their own axis, a point for each panel, a line through the means."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal

from dribbet.bench.parts.base import DrawnPart, draw_text
from dribbet.bench.theme.inks import WALL, Inks
from dribbet.bench.theme.patterns import dashed, polyline, solid
from dribbet.bench.theme.type import width

if TYPE_CHECKING:
    from PyQt6.QtGui import QMouseEvent, QPainter

LEFT_PX: Final = 64
TOP_PX: Final = 30
FOOT_PX: Final = 30
GAP_PX: Final = 22
POINT_PX: Final = 5.0
REACH_PX: Final = 18.0
ROOM: Final = 0.12  # of the range, above and below all points


@dataclass(frozen=True, slots=True)
class PlotView:
    """One thing varied against the response of the page."""

    name: str
    levels: tuple[tuple[float, str], ...]
    """(place on the axis 0..1, words)."""
    points: tuple[tuple[float, float, str], ...]
    """(place on the axis, value, panel's code)."""
    lines: tuple[tuple[str, tuple[tuple[float, float], ...]], ...]
    """(level of the other thing, (place, mean) of each level); one without a name where nothing else was varied."""
    named: bool = False
    """Whether each point is called by its name."""


def round_steps(low: float, high: float, most: int = 4) -> tuple[float, ...]:
    """Round values from low to high, at most so many.

    >>> round_steps(0.0, 58.2)
    (0.0, 20.0, 40.0)
    >>> round_steps(3.1, 4.9)
    (3.5, 4.0, 4.5)
    """
    span = max(high - low, 1e-9)
    power = 10.0 ** math.floor(math.log10(span / most))
    step = next(m * power for m in (1.0, 2.0, 5.0, 10.0, 20.0) if span / (m * power) <= most)
    first = math.ceil(low / step - 1e-9)
    return tuple(round((first + i) * step, 10) for i in range(most + 1) if (first + i) * step <= high + 1e-9)


class ResponsePlots(DrawnPart):
    """Plots side by side, all on one axis of values; a point names its panel under the pointer, and shows it when it is pressed."""

    chosen = pyqtSignal(str)
    """Panel whose point was pressed."""

    def __init__(self, inks: Inks = WALL) -> None:
        super().__init__(inks)
        self.head = ""
        self.plots: tuple[PlotView, ...] = ()
        self.under = ""
        """Panel under the pointer."""
        self._spots: list[tuple[QPointF, str]] = []
        """Where each point was drawn."""
        self.setMouseTracking(True)
        self.setMinimumHeight(150)

    def sizeHint(self) -> QSize:
        return QSize(740, 190)

    def _near(self, at: QPointF) -> str:
        """Panel whose point lies nearest, within reach of a finger."""
        told = [((spot - at).manhattanLength(), code) for spot, code in self._spots]
        return min(told)[1] if told and min(told)[0] <= REACH_PX else ""

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and (under := self._near(event.position())) != self.under:
            self.under = under
            self.update()

    def leaveEvent(self, event: object) -> None:
        self.under = ""
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and (code := self._near(event.position())):
            self.chosen.emit(code)

    def show_plots(self, head: str, plots: tuple[PlotView, ...]) -> None:
        """Show other plots."""
        if (head, plots) == (self.head, self.plots):
            return
        self.head, self.plots = head, plots
        self.name(head, "; ".join(f"{v.name}: " + ", ".join(f"{code} {y:g}" for _, y, code in v.points) for v in plots))
        self.update()

    def range(self) -> tuple[float, float]:
        """Lowest and highest value shown, with room; nought is shown where it is near."""
        values = [y for v in self.plots for y in (*(y for _, y, _ in v.points), *(y for _, line in v.lines for _, y in line))]
        low, high = min(values, default=0.0), max(values, default=1.0)
        if 0.0 < low < 0.5 * high:
            low = 0.0
        room = (high - low) * ROOM or max(abs(high), 1.0) * ROOM
        return (low if low == 0.0 else low - room), high + room

    def draw(self, p: QPainter) -> None:
        self._spots = []
        draw_text(p, QRectF(0, 0, self.width(), 26), self.head, 17, 700, self.inks.ink)
        if not self.plots:
            return
        low, high = self.range()
        wide = (self.width() - LEFT_PX - GAP_PX * len(self.plots)) / len(self.plots)
        bottom = self.height() - FOOT_PX
        top = TOP_PX + 20.0

        def y_of(value: float) -> float:
            return bottom - (value - low) / (high - low) * (bottom - top)

        for value in round_steps(low, high):
            at = y_of(value)
            p.setPen(dashed(self.inks.rule, 1.0))
            p.drawLine(QPointF(LEFT_PX, at), QPointF(self.width(), at))
            draw_text(p, QRectF(0, at - 10, LEFT_PX - 8, 20), f"{value:.3g}", 14, 400, self.inks.note, Qt.AlignmentFlag.AlignRight)
        for i, view in enumerate(self.plots):
            left = LEFT_PX + GAP_PX / 2 + i * (wide + GAP_PX)
            self._plot(p, view, QRectF(left, top, wide, bottom - top), y_of)

    def _plot(self, p: QPainter, view: PlotView, box: QRectF, y_of: object) -> None:
        assert callable(y_of)
        inset = min(60.0, box.width() * 0.16)

        def x_of(place: float) -> float:
            return box.left() + inset + place * (box.width() - 2 * inset)

        draw_text(p, QRectF(box.left(), TOP_PX - 2, box.width(), 22), view.name, 15, 700, self.inks.ink)
        p.setPen(solid(self.inks.ink, 2))
        p.drawLine(QPointF(box.left(), box.bottom()), QPointF(box.right(), box.bottom()))
        taken = -1e9
        for place, words in view.levels:
            at, half = x_of(place), width(words, 14) / 2
            if at - half > taken:
                draw_text(p, QRectF(at - half - 4, box.bottom() + 6, 2 * half + 8, 20), words, 14, 400, self.inks.note, Qt.AlignmentFlag.AlignHCenter)
                taken = at + half + 6
        for j, (label, means) in enumerate(view.lines):
            p.setPen(solid(self.inks.ink, 2.2) if j == 0 else dashed(self.inks.ink, 2.2))
            polyline(p, [QPointF(x_of(x), y_of(y)) for x, y in means])
            if label and means:
                x, y = means[-1]
                draw_text(p, QRectF(x_of(x) + 10, y_of(y) - 10, max(box.right() - x_of(x) - 4, 40), 20), label, 13, 400, self.inks.note)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(solid(self.inks.ink, 1.8))
        for x, y, name in view.points:
            p.setPen(solid(self.inks.ink, 1.8))
            spot = QPointF(x_of(x), y_of(y))
            here = name == self.under
            p.setBrush(self.inks.ink if here else Qt.BrushStyle.NoBrush)
            p.drawEllipse(spot, POINT_PX, POINT_PX)
            self._spots.append((spot, name))
            if view.named or here:
                draw_text(p, QRectF(spot.x() + 9, spot.y() - 22, 90, 20), name, 14, 700, self.inks.ink)
