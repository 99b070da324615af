"""The drawn parts of the weighing bench: the cup in hand, the scale's figure, the yellow strip, the tray, the list of cups."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter
from PyQt6.QtWidgets import QAbstractButton, QVBoxLayout, QWidget

from dribbet.bench.parts.base import DrawnPart, PressButton, Words, draw_focus, draw_text, put_away
from dribbet.bench.parts.cup import WATER, CupState, CupView, band, draw_cup, outline
from dribbet.bench.parts.margin import clear
from dribbet.bench.parts.tape import Tape, draw_code, draw_strip, strip_size
from dribbet.bench.theme.inks import BLACK, PAPER, WAVE, WHITE
from dribbet.bench.theme.patterns import dashed, hatch, polyline, solid, waves
from dribbet.bench.theme.type import width
from dribbet.records import WATER_HEX
from dribbet.records.wording import first_up

if TYPE_CHECKING:
    from dribbet.bench.stations.mix.view import BatchLine, Slice, TrayCup


class BigCup(DrawnPart):
    """The cup in hand with a labelled leader to each amount."""

    def __init__(self) -> None:
        super().__init__()
        self.slices: tuple[Slice, ...] = ()
        self.capacity_kg = 0.25
        self.live_kg = 0.0
        self.setMinimumSize(330, 260)

    def sizeHint(self) -> QSize:
        return QSize(470, 560)

    def show_slices(self, slices: tuple[Slice, ...], capacity_kg: float, live_kg: float) -> None:
        """Draw what is in, what is to come, and what the scale shows beyond the ledger."""
        if (slices, capacity_kg, round(live_kg, 5)) == (self.slices, self.capacity_kg, round(self.live_kg, 5)):
            return
        self.slices, self.capacity_kg, self.live_kg = slices, capacity_kg, live_kg
        self.name("Cup", ", ".join(f"{s.name} {s.text} {s.state}" for s in slices))
        self.update()

    def draw(self, p: QPainter) -> None:
        wide = min(self.width() * (0.46 if self.width() > 420 else 0.36), self.height() * 0.42)
        cup = QRectF(10, 14, wide, self.height() - 24)
        done = [s for s in self.slices if s.state in ("done", "over")]
        now = next((s for s in self.slices if s.state == "now"), None)
        rest = [s for s in self.slices if s.state == "planned"]
        total = sum(s.kg for s in self.slices) or 1.0
        full = max(self.capacity_kg * 0.86, total)
        p.fillPath(outline(cup), self.inks.sheet)
        at, places = 0.0, []
        for s in done:
            top = at + s.kg / full
            self._fill(p, band(cup, at, top), s.hex)
            if s.over_kg:
                hatch(p, band(cup, top - s.over_kg / full, top), BLACK, gap=6, line=2)
            places.append((s, (at + top) / 2 if s.state != "over" else top - 0.004))
            at = top
        if self.live_kg > 0.0 and now is not None:
            self._fill(p, band(cup, at, at + self.live_kg / full), now.hex)
        for s in [*([now] if now else []), *rest]:
            top = at + s.kg / full
            y = cup.bottom() - min(top, 0.99) * cup.height()
            inset = cup.width() * 0.13 * (1 - min(top, 1.0))
            p.setPen(solid(BLACK, 3) if s.state == "now" else dashed(self.inks.ink, 2))
            p.drawLine(QPointF(cup.right() - inset - 34, y), QPointF(cup.right() - inset, y))
            places.append((s, min(top, 0.99)))
            at = top
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(solid(self.inks.ink, 5))
        p.drawPath(outline(cup))
        p.setPen(solid(self.inks.ink, 7))
        p.drawLine(QPointF(cup.left() - 8, cup.top()), QPointF(cup.right() + 8, cup.top()))
        self._labels(p, cup, places)

    def _fill(self, p: QPainter, path: object, colour: str) -> None:
        p.fillPath(path, WHITE if colour == WATER else QColor(colour))  # type: ignore[arg-type]
        if colour == WATER:
            waves(p, path, WAVE, gap=12)  # type: ignore[arg-type]

    def _labels(self, p: QPainter, cup: QRectF, places: list[tuple[Slice, float]]) -> None:
        left, px = cup.right() + 26, 19
        pitch, bottom = 30.0, cup.bottom()
        wanted = [cup.bottom() - h * cup.height() for _, h in places]
        placed: list[float] = []
        for (s, _), y in zip(places, wanted, strict=True):  # from below upwards, never closer than a line; a surplus takes two
            least = bottom - 8 - (pitch if s.over_kg else 0.0)
            placed.append(min(y, (placed[-1] - pitch * (2 if s.over_kg else 1)) if placed else least))
        lift = min(placed[-1] - 20.0, 0.0) if placed else 0.0
        for i in range(len(placed)):
            placed[i] -= lift if placed[i] - lift <= wanted[i] + 200 else 0.0
        for (s, h), y, label in zip(places, wanted, placed, strict=True):
            inset = cup.width() * 0.13 * (1 - h)
            p.setPen(solid(BLACK, 2))
            polyline(p, [QPointF(cup.right() - inset - 26, y), QPointF(cup.right() - inset + 12, y), QPointF(left - 4, label)])
            x = left
            if s.state == "done":
                p.setPen(solid(BLACK, 2.8))
                polyline(p, [QPointF(x, label + 1), QPointF(x + 6, label + 8), QPointF(x + 17, label - 8)])
                x += 25
            if s.over_kg:
                hatch(p, QRectF(x, label + pitch - 9, 18, 18), BLACK, gap=5, line=2)
                draw_text(p, QRectF(x + 26, label + pitch - 14, self.width() - x - 26, 28), s.over_text, 19, 700, BLACK)
            weight, size = 700 if s.state == "now" else 500, px
            while size > 14 and x + width(s.name, size, 700) + 8 + width(s.text, size, 500) > self.width():
                size -= 1  # a smaller word rather than a cut one
            draw_text(p, QRectF(x, label - 14, self.width() - x, 28), s.name, size, weight, BLACK)
            draw_text(p, QRectF(x + width(s.name, size, weight) + 8, label - 14, 120, 28), s.text, size, 500, self.inks.note)


class TrayButton(QAbstractButton):
    """A cup on the tray."""

    def __init__(self, cup: TrayCup, tray: Tray) -> None:
        super().__init__(tray)
        self.cup, self.tray = cup, tray
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName(f"{cup.group}, {cup.state}")

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        room = QRectF(self.rect())
        if self.cup.state == "now":
            draw_strip(p, room, self.cup.group + self.cup.hex, self.tray.inks.tape, self.tray.inks.crepe)
        cup = QRectF(room.center().x() - 13, room.bottom() - 40, 26, 36)
        fill = {"done": 1.0, "now": 0.7, "planned": 0.3}[self.cup.state]
        colour = self.cup.hex if self.cup.hex != WATER else WATER_HEX
        state = CupState.PLANNED if self.cup.state == "planned" else CupState.FILLED
        draw_cup(p, cup, CupView(layers=((colour, 1.0),), fill=fill, state=state), self.tray.inks, wall=2)
        if self.hasFocus():
            draw_focus(p, room, self.tray.inks)
        p.end()


class Tray(DrawnPart):
    """All cups of the series, in groups of one recipe."""

    chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.cups: tuple[TrayCup, ...] = ()
        self.note = ""
        self.buttons: list[TrayButton] = []
        self.setFixedHeight(82)

    def show_cups(self, cups: tuple[TrayCup, ...], note: str) -> None:
        if (cups, note) == (self.cups, self.note):
            return
        self.cups, self.note = cups, note
        put_away(self.buttons)
        self.buttons = []
        for cup in cups:
            button = TrayButton(cup, self)
            button.clicked.connect(lambda _=False, i=cup.mix_id: self.chosen.emit(i))
            button.show()
            self.buttons.append(button)
        self._place()
        self.update()

    def _slots(self) -> list[float]:
        groups = list(dict.fromkeys(c.group for c in self.cups))
        pitch = min(46.0, (self.width() - 14.0 * len(groups)) / max(len(self.cups), 1))
        x, slots, last = 6.0, [], None
        for cup in self.cups:
            if last is not None and cup.group != last:
                x += 14
            slots.append(x)
            x += pitch
            last = cup.group
        self._pitch = pitch
        return slots

    def _place(self) -> None:
        for button, x in zip(self.buttons, self._slots(), strict=True):
            button.setGeometry(round(x), 28, max(round(self._pitch), 20), 50)

    def resizeEvent(self, event: object) -> None:
        self._place()

    def draw(self, p: QPainter) -> None:
        p.setPen(solid(self.inks.ink, 4))
        p.drawLine(QPointF(0, self.height() - 3), QPointF(self.width(), self.height() - 3))
        last, slots = None, self._slots()
        note = width(self.note, 17, 500) + 10
        for i, (cup, x) in enumerate(zip(self.cups, slots, strict=True)):
            if cup.group != last:
                if last is not None:
                    p.setPen(solid(self.inks.ink, 2))
                    crosses = x - 8 > self.width() - note  # the count of what is mixed stands there
                    p.drawLine(QPointF(x - 8, 28 if crosses else 2), QPointF(x - 8, self.height()))
                following = next((slots[j] for j in range(i, len(slots)) if self.cups[j].group != cup.group), float(self.width()))
                room = min(following - x - 10, self.width() - note - x)
                words = cup.group if width(cup.group, 16, 700) < room else cup.group.split("  ")[0]
                if width(words, 16, 700) < room:
                    draw_text(p, QRectF(x, 0, room, 26), words, 16, 700, self.inks.ink)
                last = cup.group
        draw_text(p, QRectF(self.width() - note, 0, note, 26), self.note, 17, 500, self.inks.note, Qt.AlignmentFlag.AlignRight)


ROW_PX = 74


class BatchRow(PressButton):
    """One cup of the series: its codes on tape, what it is, with which tools, and when."""

    def __init__(self, line: BatchLine) -> None:
        super().__init__()
        self.line = line
        self.setFixedHeight(ROW_PX)
        words = f"{line.codes}, {line.name}, {line.amount}, {line.tools}, {line.state}, {line.when} {line.note}"
        self.setAccessibleName(words)

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setRenderHint(QPainter.RenderHint.TextAntialiasing)
        b, tall = self.line, float(self.height())
        cup = QRectF(10, 12, 36, tall - 24)
        colour = b.hex if b.hex != WATER else WATER_HEX
        state = CupState.FILLED if b.state == "done" else CupState.PLANNED
        drops = {0: b.drops} if b.drops else {}
        draw_cup(p, cup, CupView(layers=((colour, 1.0),), fill=1.0 if b.state == "done" else 0.5, state=state, drops=drops), PAPER, wall=2.4)
        size = strip_size(b.codes, 18)
        draw_code(
            p, QRectF(66, (tall - size.height()) / 2, size.width(), size.height()), b.codes, 18, Tape.HAND if b.state == "now" else Tape.OTHER, PAPER
        )
        x = max(66 + size.width() + 18, self.width() * 0.27)
        room = self.width() * 0.53 - x
        name = first_up(b.name)
        draw_text(p, QRectF(x, 8, room, 32), name, 22, 700, BLACK)
        word = {"done": "mixed", "now": "in hand", "next": "next", "planned": ""}[b.state]
        draw_text(p, QRectF(x, 40, room, 26), f"{b.amount}{', ' + word if word else ''}", 18, 500, PAPER.note)
        x = self.width() * 0.54
        room = self.width() - x - 8
        draw_text(p, QRectF(x, 8, room, 32), b.when, 22, 600, BLACK)
        if b.flagged:
            hatch(p, QRectF(x, 44, 10, 20), BLACK, gap=5)
        draw_text(p, QRectF(x + (18 if b.flagged else 0), 40, room - 18, 26), b.note, 18, 500, BLACK if b.flagged else PAPER.note)
        p.setPen(solid(PAPER.rule, 1))
        p.drawLine(QPointF(0, tall - 1), QPointF(self.width(), tall - 1))
        if self.hasFocus():
            draw_focus(p, QRectF(self.rect()), PAPER)
        p.end()


class BatchList(QWidget):
    """All cups of the series, clean to dirty."""

    chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.lines: tuple[BatchLine, ...] = ()
        self.rows = QVBoxLayout(self)
        self.rows.setContentsMargins(0, 0, 8, 0)
        self.rows.setSpacing(0)

    def show_lines(self, lines: tuple[BatchLine, ...]) -> None:
        """Draw these cups, with a head over each set of tools."""
        if lines == self.lines and self.rows.count():
            return
        self.lines = lines
        clear(self.rows)
        last = None
        for line in lines:
            if line.group != last:
                self.rows.addWidget(Words(first_up(line.group), 17, 700))
                last = line.group
            row = BatchRow(line)
            row.clicked.connect(lambda _=False, i=line.mix_id: self.chosen.emit(i))
            self.rows.addWidget(row)
        self.rows.addStretch(1)
