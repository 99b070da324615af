"""The drawn parts of Check beside the drip card: mounds, the cup with what wants to sink, ways to pour, kinds of test."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPainterPath
from PyQt6.QtWidgets import QWidget

from dribbet.bench.parts.base import DrawnPart, PressButton, draw_focus, draw_text, put_away
from dribbet.bench.parts.cup import CupView, draw_cup, layer_heights
from dribbet.bench.parts.tape import draw_strip
from dribbet.bench.theme.inks import BLACK, EDGE, MIDDLE, PAPER, WHITE
from dribbet.bench.theme.patterns import dashed, polyline, solid
from dribbet.bench.theme.type import width
from dribbet.words import check as check_words

if TYPE_CHECKING:
    from dribbet.bench.stations.check.view import CheckTest, MoundView, WayView


class Mounds(DrawnPart):
    """Mounds on a bench line, as tall as they hold."""

    def __init__(self) -> None:
        super().__init__()
        self.mounds: tuple[MoundView, ...] = ()
        self.setMinimumHeight(92)
        self.setMaximumHeight(108)

    def show_mounds(self, mounds: tuple[MoundView, ...]) -> None:
        self.mounds = mounds
        self.name(check_words.MOUND_HOLDS, ", ".join(f"{m.name} {m.text}" for m in mounds))
        self.update()

    def draw(self, p: QPainter) -> None:
        base, wide = self.height() - 34.0, self.width() / max(len(self.mounds), 1)
        most = max([m.seconds or 0.0 for m in self.mounds] + [3.0])
        for i, m in enumerate(self.mounds):
            x = (i + 0.5) * wide
            if m.seconds is None:
                p.setPen(dashed(self.inks.off, 1.5))
                p.drawLine(QPointF(x - 24, base - 3), QPointF(x + 24, base - 3))
            else:
                tall = 10 + (base - 14) * m.seconds / most
                half = 30.0 - 10.0 * m.seconds / most
                path = QPainterPath(QPointF(x - half, base))
                path.cubicTo(QPointF(x - half * 0.4, base), QPointF(x - half * 0.4, base - tall), QPointF(x, base - tall))
                path.cubicTo(QPointF(x + half * 0.4, base - tall), QPointF(x + half * 0.4, base), QPointF(x + half, base))
                p.fillPath(path, QColor(m.hex))
                if QColor(m.hex).lightness() > 190:
                    p.setPen(solid(EDGE, 1.2))
                    p.drawPath(path)
            draw_text(
                p,
                QRectF(i * wide, base + 6, wide, 26),
                m.text,
                16 if m.seconds is not None else 14,
                700 if m.seconds is not None else 400,
                self.inks.ink,
                Qt.AlignmentFlag.AlignHCenter,
            )
        p.setPen(solid(self.inks.ink, 3))
        p.drawLine(QPointF(0, base), QPointF(self.width(), base))


class SinkingCup(DrawnPart):
    """The cup with its layers' densities; an arrow where the upper one wants to sink."""

    def __init__(self) -> None:
        super().__init__()
        self.rows: tuple[tuple[str, str, str, bool], ...] = ()
        self.shares: tuple[float, ...] = ()
        self.setMinimumHeight(158)

    def sizeHint(self) -> QSize:
        return QSize(400, 158)

    def show_rows(self, rows: tuple[tuple[str, str, str, bool], ...], shares: tuple[float, ...]) -> None:
        self.rows, self.shares = rows, shares
        self.name(check_words.WANTS_TO_SINK, ", ".join(f"{n} {d}{' sinks' if s else ''}" for n, d, _, s in rows))
        self.update()

    def draw(self, p: QPainter) -> None:
        if not self.rows:
            return
        tall = self.height() - 14.0
        cup = QRectF(6, 8, min(tall * 0.68, self.width() * 0.34), tall - 4)
        layers = tuple((hex_, share) for (_, _, hex_, _), share in zip(reversed(self.rows), self.shares, strict=True))
        view = CupView(layers=layers)
        draw_cup(p, cup, view, self.inks, wall=4)
        edges = list(reversed(layer_heights(view, cup.height())))
        pitch = min(31.0, tall / len(self.rows))
        for i, ((name, density, _, sinks), (low, high)) in enumerate(zip(self.rows, edges, strict=True)):
            y = 8 + pitch * (i + 0.5)
            at = cup.bottom() - (low + high) / 2 * cup.height()
            p.setPen(solid(self.inks.ink, 1.5))
            polyline(p, [QPointF(cup.right() - 16, at), QPointF(cup.right() + 4, at), QPointF(cup.right() + 16, y)])
            draw_text(p, QRectF(cup.right() + 20, y - 13, 50, 26), density, 17, 700, self.inks.ink)
            draw_text(p, QRectF(cup.right() + 68, y - 13, 150, 26), name, 15, 400, self.inks.note)
            if sinks:
                roomy = self.width() > 360
                x = self.width() - (76.0 if roomy else 14.0)
                p.setPen(solid(self.inks.ink, 2.4))
                p.drawLine(QPointF(x, y + 4), QPointF(x, y + 18))
                polyline(p, [QPointF(x - 5, y + 13), QPointF(x, y + 19), QPointF(x + 5, y + 13)])
                if roomy:  # else the arrow alone: the sentence below says what it means
                    draw_text(p, QRectF(x + 12, y - 1, 64, 26), "sinks", 15, 700, self.inks.ink)


WAY_PX = 17
AXIS_PX = 26
LEAST_S, MOST_S = 0.25, 12.0  # ends of the axis of mound seconds
TICKS_S = (0.5, 1, 2, 4, 8)


class Ways(DrawnPart):
    """Ways of pouring as windows on an axis of mound seconds, and the set's pots as upright lines through them."""

    def __init__(self) -> None:
        super().__init__()
        self.ways: tuple[WayView, ...] = ()
        self.pots: tuple[tuple[str, str, float], ...] = ()

    def show_ways(self, ways: tuple[WayView, ...], pots: tuple[tuple[str, str, float], ...]) -> None:
        """Draw these windows and pots."""
        self.ways, self.pots = ways, pots
        self.setFixedHeight(AXIS_PX + WAY_PX * len(ways) + 8)
        said = [f"{w.name} {w.low_s:g} to {w.high_s:g} s{', suits' if w.suits else ''}" for w in ways]
        self.name("Ways to pour", "; ".join(said + [f"{n} holds {s:.1f} s" for n, _, s in pots]))
        self.update()

    def _x(self, seconds: float, left: float) -> float:
        share = math.log(min(max(seconds, LEAST_S), MOST_S) / LEAST_S) / math.log(MOST_S / LEAST_S)
        return left + share * (self.width() - left - 10)

    def draw(self, p: QPainter) -> None:
        left = max((width(w.name, 14, 700) for w in self.ways), default=80.0) + 14
        base = AXIS_PX + 2.0  # above the windows: what suits stands first, and the axis with it, before anything is scrolled
        for i, w in enumerate(self.ways):
            y = base + i * WAY_PX + 5.0
            draw_text(p, QRectF(0, y - 3, left - 8, WAY_PX + 2), w.name, 14, 700 if w.suits else 400, self.inks.ink if w.suits else self.inks.note)
            bar = QRectF(self._x(w.low_s, left), y + 2, self._x(w.high_s, left) - self._x(w.low_s, left), WAY_PX - 8)
            p.setPen(solid(self.inks.ink, 1.5))
            p.setBrush(MIDDLE if w.suits else WHITE)
            p.drawRect(bar)
        p.setBrush(Qt.BrushStyle.NoBrush)
        for _, hex_, seconds in self.pots:
            x = self._x(seconds, left)
            p.setPen(solid(self.inks.ink, 6))
            foot = float(self.height())
            p.drawLine(QPointF(x, base), QPointF(x, foot))
            p.setPen(solid(QColor(hex_), 3.5))
            p.drawLine(QPointF(x, base + 1), QPointF(x, foot - 1))
        p.setPen(solid(self.inks.ink, 2))
        p.drawLine(QPointF(left, base), QPointF(self.width(), base))
        for seconds in TICKS_S:
            x = self._x(seconds, left)
            p.setPen(solid(self.inks.ink, 1.5))
            p.drawLine(QPointF(x, base - 5), QPointF(x, base))
            words = f"{seconds:g} s" if seconds == TICKS_S[-1] else f"{seconds:g}"
            draw_text(p, QRectF(x - 22, 0, 44, 20), words, 14, 400, self.inks.note, Qt.AlignmentFlag.AlignHCenter)


class TestWord(PressButton):
    """One kind of test, as a word to press."""

    def __init__(self, test: CheckTest, parent: QWidget) -> None:
        super().__init__(parent)
        self.test = test
        self.setAccessibleName(f"Test: {test.words}{', in hand' if test.hand else ''}")

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setRenderHint(QPainter.RenderHint.TextAntialiasing)
        room = QRectF(self.rect())
        if self.test.hand:
            draw_strip(p, room.adjusted(1, 5, -1, -5), self.test.kind, PAPER.tape, PAPER.crepe)
        draw_text(p, room, self.test.words, 16, 700 if self.test.hand else 500, BLACK, Qt.AlignmentFlag.AlignHCenter)
        if self.hasFocus():
            draw_focus(p, room, PAPER)
        p.end()


class Tests(QWidget):
    """All kinds of test in a row; the one in hand on tape."""

    chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.words: list[TestWord] = []
        self.tests: tuple[CheckTest, ...] = ()
        self.setFixedHeight(44)

    def show_tests(self, tests: tuple[CheckTest, ...]) -> None:
        """Offer these."""
        if tests == self.tests:
            return
        self.tests = tests
        put_away(self.words)
        self.words = []
        for test in tests:
            word = TestWord(test, self)
            word.clicked.connect(lambda _=False, k=test.kind: self.chosen.emit(k))
            word.show()
            self.words.append(word)
        self._place()

    def _place(self) -> None:
        if not self.words:
            return
        natural = [width(w.test.words, 16, 700) + 22 for w in self.words]
        spare = max(self.width() - sum(natural), 0.0) / len(natural)
        x = 0.0
        for word, wide in zip(self.words, natural, strict=True):
            word.setGeometry(round(x), 0, round(min(wide + spare, wide + 24)), 44)
            x += min(wide + spare, wide + 24)

    def resizeEvent(self, event: object) -> None:
        self._place()
