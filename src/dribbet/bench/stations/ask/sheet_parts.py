"""The other sheets of Ask as drawn: containers on a shelf, days on a line, looks as rings, pieces on the outline of a panel."""

from __future__ import annotations

import math
from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from dribbet.bench.parts.base import DrawnPart as Drawn
from dribbet.bench.parts.base import PressButton, Words, draw_focus, draw_text, scroller
from dribbet.bench.parts.margin import clear
from dribbet.bench.parts.tape import draw_strip
from dribbet.bench.stations.ask.flow import PartButton
from dribbet.bench.stations.ask.view import BottleView, Checks, Day, Days, JudgedRow, Leaf, Offered, Region, Sheet
from dribbet.bench.theme.inks import BLACK, EDGE, PAPER, STICK_MEDIUM, WHITE
from dribbet.bench.theme.patterns import dashed, hatch, polyline, solid
from dribbet.bench.theme.type import width
from dribbet.records.wording import first_up
from dribbet.words import ask as ask_words
from dribbet.words import tongue
from dribbet.words.units import count_text

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.words.parts import Part

LEGEND_COLUMNS = 2
LARGE_FROM_PX, LARGE_SCALE = 1000, 1.5
NARROW_PX = 640
BOTTLE = QSize(142, 166)


class OfferButton(PressButton):
    """One of the three sizes."""

    def __init__(self, offered: Offered) -> None:
        super().__init__()
        self.offered = offered
        self.setMinimumHeight(48)
        self.setAccessibleName(f"{offered.digit}: {offered.name}, {offered.panels}")
        self.setAccessibleDescription(offered.words)

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        room = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        if self.offered.current:
            draw_strip(p, room, self.offered.name, PAPER.other_tape, PAPER.other_crepe)
        else:
            p.setPen(dashed(PAPER.ink, 1.5))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(room)
        cap = QRectF(room.left() + 10, room.center().y() - 12, 24, 24)
        p.setPen(solid(BLACK, 1.6))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(cap)
        draw_text(p, cap, str(self.offered.digit), 15, 600, BLACK, Qt.AlignmentFlag.AlignHCenter)
        left = cap.right() + 10
        head = f"{self.offered.name}: {self.offered.panels}"
        words = self.offered.words
        wide = room.right() - left - 6
        if width(words, 14) > wide:
            words = words.partition(". ")[0]
        px = 16 if width(head, 16, 700) <= wide else 14
        draw_text(p, QRectF(left, room.top() + 3, wide, 21), head, px, 700, BLACK)
        draw_text(p, QRectF(left, room.top() + 23, wide, 20), words, 14, 400, PAPER.note)
        if self.hasFocus():
            draw_focus(p, QRectF(self.rect()), PAPER)
        p.end()


class Offers(QWidget):
    """Three sizes of the same question, side by side."""

    taken = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.row = QHBoxLayout(self)
        self.row.setContentsMargins(0, 0, 0, 0)
        self.row.setSpacing(10)
        self._shown: tuple[Offered, ...] = ()

    def show_offers(self, offers: tuple[Offered, ...]) -> None:
        """Show other sizes."""
        self.setVisible(bool(offers))
        if offers == self._shown:
            return
        self._shown = offers
        clear(self.row)
        for offered in offers:
            button = OfferButton(offered)
            button.clicked.connect(partial(self._take, offered.digit))
            self.row.addWidget(button, 1)

    def _take(self, digit: int, _: bool = False) -> None:
        self.taken.emit(digit)


class LeafTab(PressButton):
    """A word that shows another sheet."""

    def __init__(self, words: str) -> None:
        super().__init__()
        self.words, self.current = words, False
        self.setFixedHeight(44)
        self.regrow()
        self.setAccessibleName(words)

    def regrow(self) -> None:
        """Take the size that type has in this window now."""
        self.setFixedWidth(round(width(self.words, 17, 700)) + 26)

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        room = QRectF(self.rect()).adjusted(1, 6, -1, -6)
        if self.current:
            draw_strip(p, room, self.words, PAPER.other_tape, PAPER.other_crepe)
        draw_text(p, room, self.words, 17, 700 if self.current else 500, BLACK, Qt.AlignmentFlag.AlignHCenter)
        if not self.current:
            p.setPen(solid(BLACK, 1.5))
            half = width(self.words, 17, 500) / 2
            p.drawLine(QPointF(room.center().x() - half, room.bottom() - 3), QPointF(room.center().x() + half, room.bottom() - 3))
        if self.hasFocus():
            draw_focus(p, QRectF(self.rect()), PAPER)
        p.end()


class LeafTabs(QWidget):
    """Words over the sheets, one for each."""

    wanted = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self.row = QHBoxLayout(self)
        self.row.setContentsMargins(0, 0, 0, 0)
        self.row.setSpacing(4)
        self.tabs: dict[Leaf, LeafTab] = {}

    def show_leaves(self, leaves: tuple[Leaf, ...], current: Leaf) -> None:
        """Show these, one of them open."""
        if tuple(self.tabs) != leaves:
            clear(self.row)
            self.tabs = {}
            for leaf in leaves:
                tab = LeafTab(tongue.name(leaf))
                tab.clicked.connect(partial(self._want, leaf))
                self.row.addWidget(tab)
                self.tabs[leaf] = tab
            self.row.addStretch(1)
        for leaf, tab in self.tabs.items():
            tab.current = leaf is current
            tab.update()

    def _want(self, leaf: Leaf, _: bool = False) -> None:
        self.wanted.emit(leaf)


class BottlePart(Drawn):
    """A container: what it holds, and the part that the test takes hatched."""

    def __init__(self, bottle: BottleView, scale: float = 1.0) -> None:
        super().__init__()
        self.bottle, self.scale = bottle, scale
        self.setFixedSize(BOTTLE * scale)
        self.name(f"{bottle.name}: {bottle.need} {bottle.stock}", bottle.short)

    def draw(self, p: QPainter) -> None:
        b = self.bottle
        p.scale(self.scale, self.scale)
        body = QRectF(14, 18, 54, 86)
        neck = QRectF(body.center().x() - 11, 6, 22, 12)
        p.fillRect(body, self.inks.sheet)
        whole = not b.on_shelf
        full = QRectF(body.left(), body.top() + 8, body.width(), body.height() - 8)
        if not whole:
            p.fillRect(full, QColor(b.hex))
            taken = full.height() * min(b.share, 1.0)
            box = QRectF(full.left(), full.top(), full.width(), max(taken, 3.0))
            p.fillRect(box, self.inks.sheet)
            hatch(p, box, BLACK, gap=5)
            p.setPen(solid(BLACK, 1.5))
            p.drawLine(box.bottomLeft(), box.bottomRight())
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(dashed(BLACK, 2) if whole else solid(EDGE, 1.2))
        p.drawRect(body)
        p.setPen(dashed(BLACK, 2) if whole else solid(BLACK, 2))
        p.drawRect(body)
        p.drawRect(neck)
        if b.short:
            p.fillRect(QRectF(76, 62, 20, 20), BLACK)
            draw_text(p, QRectF(76, 62, 20, 20), "!", 16, 800, self.inks.sheet, Qt.AlignmentFlag.AlignHCenter)
        top = Qt.AlignmentFlag.AlignTop
        draw_text(p, QRectF(8, 110, BOTTLE.width() - 10, 20), first_up(b.name[:20]), 15, 700, BLACK, top)
        grams, _, rest = b.need.partition(", ")
        draw_text(p, QRectF(76, 14, BOTTLE.width() - 76, 22), grams, 16, 700, BLACK, top)
        draw_text(p, QRectF(76, 35, BOTTLE.width() - 76, 20), rest, 14, 400, self.inks.note, top)
        draw_text(p, QRectF(8, 129, BOTTLE.width() - 10, 20), b.stock, 14, 400, self.inks.note, top)
        if b.short:
            draw_text(p, QRectF(8, 148, BOTTLE.width() - 10, 20), b.short, 15, 700, BLACK, top)


class Amounts(QWidget):
    """What is taken from the shelf, container by container."""

    def __init__(self) -> None:
        super().__init__()
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        self.inner = QWidget()
        self.grid = QGridLayout(self.inner)
        self.grid.setContentsMargins(0, 0, 0, 0)
        self.grid.setSpacing(6)
        outer.addWidget(scroller(self.inner), 1)
        outer.addWidget(Words(ask_words.HATCHED_IS_TAKEN, 15, role="note"))
        self._shown: tuple[object, ...] = ()

    def show_bottles(self, bottles: tuple[BottleView, ...]) -> None:
        """Show what is taken."""
        scale = LARGE_SCALE if self.width() > LARGE_FROM_PX else 1.0
        columns = max(int(self.width() // (BOTTLE.width() * scale + 6)), 3)
        key = (bottles, columns)
        if key == self._shown:
            return
        self._shown = key
        clear(self.grid)  # type: ignore[arg-type]
        for i, bottle in enumerate(bottles):
            self.grid.addWidget(BottlePart(bottle, scale), i // columns, i % columns, Qt.AlignmentFlag.AlignTop)
        self.grid.setColumnStretch(columns, 1)
        self.grid.setRowStretch(len(bottles) // columns + 1, 1)


class DaysLine(Drawn):
    """Days at the bench as filled hours, looks as rings, on one axis of days."""

    ROW = 46

    def __init__(self) -> None:
        super().__init__()
        self.days = Days()

    def show_days(self, days: Days) -> None:
        """Show another plan."""
        self.days = days
        self._fit()
        self.name("Days", ". ".join(f"{d.words}: {', '.join([d.work, *(f'{n} look, {w}' for n, w in d.looks)]).strip(', ')}" for d in days.days))
        self.update()

    def resizeEvent(self, event: object) -> None:
        self._fit()

    def _fit(self) -> None:
        """Take the height that the longest day needs."""
        shown, wide = self._columns()
        lines = [len(_wrapped(d.work, wide - 8)) * 19 + sum(24 + 18 * len(_wrapped(w, wide - 24)) for _, w in d.looks) for d in shown]
        tall = round(self._bars_px()) + 34 + max(lines, default=0) + 6
        if self.minimumHeight() != tall:
            self.setFixedHeight(tall)

    def _bars_px(self) -> float:
        """Height of the hours: more where the sheet has room."""
        window = self.window()
        return 44.0 if window is None or window.height() < 950 else 170.0

    def _columns(self) -> tuple[tuple[Day, ...], float]:
        shown = self.days.days[: max(int(self.width() / 92), 3)]
        return shown, self.width() / max(len(shown), 1)

    def draw(self, p: QPainter) -> None:
        days = self.days.days
        if not days:
            return
        shown, wide = self._columns()
        tall = self._bars_px()
        longest = max(self.days.sitting_h, *(d.mix_h + d.pour_h for d in shown), 1.0)
        base = tall + 24
        p.setPen(solid(BLACK, 3))
        p.drawLine(QPointF(0, base), QPointF(self.width(), base))
        for i, d in enumerate(shown):
            x = i * wide
            draw_text(p, QRectF(x + 2, 0, wide - 4, 20), d.words, 15, 700, BLACK)
            if d.work:
                self._work(p, d, x, base, tall / longest)
            p.setPen(solid(BLACK, 1.5))
            p.drawLine(QPointF(x, base - 6), QPointF(x, base + 6))
            y = base + 10
            for line in _wrapped(d.work, wide - 8):
                draw_text(p, QRectF(x + 4, y, wide - 6, 19), line, 15, 600, BLACK)
                y += 19
            for name, words in d.looks:
                p.setPen(solid(BLACK, 2))
                p.setBrush(PAPER.card)
                p.drawEllipse(QPointF(x + 11, y + 12), 6, 6)
                draw_text(p, QRectF(x + 22, y + 2, wide - 24, 20), f"{name} look", 15, 600, BLACK)
                for line in _wrapped(words, wide - 24):
                    y += 18
                    draw_text(p, QRectF(x + 22, y + 2, wide - 24, 19), line, 14, 400, PAPER.note)
                y += 22
        if len(shown) < len(days):
            draw_text(p, QRectF(self.width() - 60, base - 24, 58, 20), f"+ {len(days) - len(shown)}", 15, 700, BLACK, Qt.AlignmentFlag.AlignRight)

    def _work(self, p: QPainter, d: Day, x: float, base: float, per_h: float) -> None:
        """Hours of one day: mixing grey, pouring black, and the hours there are as a dashed frame."""
        box = QRectF(x + 10, base - self.days.sitting_h * per_h, 30, self.days.sitting_h * per_h)
        mix = QRectF(box.left(), base - d.mix_h * per_h, box.width(), d.mix_h * per_h)
        pour = QRectF(box.left(), mix.top() - d.pour_h * per_h, box.width(), d.pour_h * per_h)
        p.fillRect(mix, STICK_MEDIUM)
        p.fillRect(pour, BLACK)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(dashed(PAPER.off, 1.5))
        p.drawRect(box)
        over = d.mix_h + d.pour_h > self.days.sitting_h
        if over:
            hatch(p, QRectF(box.left(), pour.top(), box.width(), box.top() - pour.top()), WHITE, gap=6)
        draw_text(p, QRectF(box.right() + 6, base - 26, 60, 20), f"{d.mix_h + d.pour_h:.1f} h", 15, 600, BLACK)


def _wrapped(text: str, wide: float, px: int = 15) -> list[str]:
    lines: list[str] = []
    for word in text.split(" "):
        if lines and width(f"{lines[-1]} {word}", px, 600) <= wide:
            lines[-1] += f" {word}"
        else:
            lines.append(word)
    return lines


class RackSlots(Drawn):
    """Places on the drying rack: taken by others, needed, free."""

    def __init__(self) -> None:
        super().__init__()
        self.places = (0, 0, 20)
        self.setFixedHeight(28)

    def show_places(self, places: tuple[int, int, int]) -> None:
        """Show how many are needed, taken and there."""
        self.places = places
        self.name(ask_words.RACK_PLACES(taken=places[1], all=places[2], needed=places[0]))
        self.update()

    def draw(self, p: QPainter) -> None:
        need, taken, there = self.places
        draw_text(p, QRectF(0, 0, 110, 22), "Drying rack", 15, 700, BLACK)
        shown = max(there, taken + need)
        wide = min((self.width() - 330) / max(shown, 1), 24)
        for i in range(shown):
            box = QRectF(112 + i * wide, 4, wide - 4, 15)
            p.setPen(solid(BLACK, 1.4) if i < there else dashed(BLACK, 1.4))
            p.setBrush(Qt.BrushStyle.NoBrush)
            if i < taken:
                p.fillRect(box, STICK_MEDIUM)
            elif i < taken + need:
                hatch(p, box, BLACK, gap=4)
            p.drawRect(box)
        words = (
            ask_words.PLACES_LEFT(taken=taken, needed=need, left=max(there - taken - need, 0))
            if need + taken <= there
            else f"{need + taken - there} too few"
        )
        draw_text(p, QRectF(118 + shown * wide, 0, 210, 24), words, 15, 600, BLACK)


class DaysSheet(QWidget):
    """The day plan: line, rack, and what should be known."""

    def __init__(self) -> None:
        super().__init__()
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        self.line = DaysLine()
        column.addWidget(self.line)
        self.slots = RackSlots()
        column.addWidget(self.slots)
        self.said = Words("", 16)
        column.addWidget(self.said)
        self.paces = Words("", 15, role="note")
        column.addWidget(self.paces)
        column.addStretch(1)
        outer.addWidget(scroller(inner))

    def show_days(self, days: Days) -> None:
        """Show another plan."""
        self.line.show_days(days)
        self.slots.show_places(days.rack)
        self.said.say("\n".join(("\x02" + days.ends + "\x03", *days.said)))
        self.paces.say("; ".join(days.paces) + ".")


class LookRing(PressButton):
    """Whether a response is judged at a time."""

    def __init__(self, words: str, made: bool, wide: int) -> None:
        super().__init__()
        self.made = made
        self.setFixedSize(wide, 44)
        self.setAccessibleName(f"{words}: {'judged' if made else 'not judged'}")

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        middle = QPointF(self.width() / 2, self.height() / 2)
        p.setPen(solid(PAPER.rule, 2))
        p.drawLine(QPointF(0, middle.y()), QPointF(self.width(), middle.y()))
        p.setPen(solid(BLACK, 2.4) if self.made else dashed(PAPER.off, 1.6))
        p.setBrush(BLACK if self.made else PAPER.ground)
        p.drawEllipse(middle, 10, 10)
        if self.made:  # a tick, so that fill alone does not say it
            p.setPen(solid(WHITE, 2.2))
            polyline(p, [middle + QPointF(-5, 0), middle + QPointF(-1, 4), middle + QPointF(5, -4)])
        if self.hasFocus():
            draw_focus(p, QRectF(self.rect()), PAPER)
        p.end()


class RegionPebbles(PressButton):
    """How much a response counts: none to three pebbles."""

    def __init__(self, words: str, weight: int) -> None:
        super().__init__()
        self.weight = weight
        self.setFixedSize(74, 44)
        self.setAccessibleName(ask_words.WEIGHT_OF_RESPONSE(response=words, weight=weight))

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        for i in range(3):
            p.setPen(solid(BLACK, 1.8) if i < self.weight else dashed(PAPER.off, 1.4))
            p.setBrush(BLACK if i < self.weight else Qt.BrushStyle.NoBrush)
            p.drawEllipse(QPointF(14 + i * 22, self.height() / 2), 7.5, 7.5)
        if self.hasFocus():
            draw_focus(p, QRectF(self.rect()), PAPER)
        p.end()


class LooksSheet(QWidget):
    """When each response is judged, and what it counts: rings on the axis of looks, pebbles beside."""

    toggled = pyqtSignal(str, str)
    weighed = pyqtSignal(str)

    def __init__(self, open_part: Callable[[PartButton], None]) -> None:
        super().__init__()
        self._open = open_part
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(0, 0, 0, 0)
        self.goal_row = QHBoxLayout()
        self.grid = QGridLayout()
        self.grid.setHorizontalSpacing(0)
        self.grid.setVerticalSpacing(2)
        self.note = Words("", 15, role="note")
        column.addLayout(self.grid)
        column.addLayout(self.goal_row)
        column.addWidget(self.note)
        column.addStretch(1)
        outer.addWidget(scroller(inner))
        self._shown: tuple[Checks, int] | None = None

    def show_checks(self, checks: Checks) -> None:
        """Show another protocol."""
        wide = self._ring_px(len(checks.times))
        if (checks, wide) == self._shown:
            return
        self._shown = checks, wide
        clear(self.grid)  # type: ignore[arg-type]
        clear(self.goal_row)
        for i, (name, when) in enumerate(checks.times):
            head = f"\x02{name}\x03" + (f"\n\x0e{when}\x0f" if wide > 50 else "")
            label = Words(head, 15, wrap=False)
            label.setAlignment(Qt.AlignmentFlag.AlignHCenter)  # over its ring
            self.grid.addWidget(label, 0, i + 1)
        n = len(checks.times)
        counts = Words("\x02Counts\x03", 15, wrap=False)
        counts.setAlignment(Qt.AlignmentFlag.AlignHCenter)
        self.grid.addWidget(counts, 0, n + 1)
        self.grid.addWidget(Words("\x02Should be\x03", 15, wrap=False), 0, n + 2)
        for r, row in enumerate(checks.rows, 1):
            self._row(r, row, [name for name, _ in checks.times], wide)
        self.grid.setColumnStretch(n + 3, 1)
        if checks.goal is not None:
            meaning = Words(ask_words.WHAT_GOOD_MEANS_HERE, 17, wrap=False)
            meaning.setAlignment(Qt.AlignmentFlag.AlignVCenter)
            self.goal_row.addWidget(meaning)
            self._part(self.goal_row, checks.goal)
            self.goal_row.addStretch(1)
        self.note.say(checks.note)

    def _label_px(self) -> int:
        return 170 if self.width() > NARROW_PX else 112

    def _ring_px(self, times: int) -> int:
        """Width of a ring's place: the axis takes what the words leave."""
        rest = self.width() - self._label_px() - 74 - (110 if self.width() > NARROW_PX else 100)
        return max(40, min(104, rest // max(times, 1)))

    def _row(self, r: int, row: JudgedRow, names: list[str], wide: int) -> None:
        label = Words(f"\x02{row.name}\x03", 16 if self.width() > NARROW_PX else 15)
        label.setAlignment(Qt.AlignmentFlag.AlignVCenter)
        label.setFixedWidth(self._label_px())
        self.grid.addWidget(label, r, 0)
        for i, (name, made) in enumerate(zip(names, row.times, strict=True)):
            ring = LookRing(ask_words.AT_LOOK(name=row.name, look=name), made, wide)
            ring.clicked.connect(partial(self._toggle, row.value, name))
            self.grid.addWidget(ring, r, i + 1)
        pebbles = RegionPebbles(row.name, row.weight)
        pebbles.clicked.connect(partial(self._weigh, row.value))
        self.grid.addWidget(pebbles, r, len(names) + 1)
        button = PartButton(row.range_part, 16, hand=False, fixed=False)
        button.clicked.connect(lambda _=False, b=button: self._open(b))
        self.grid.addWidget(button, r, len(names) + 2)

    def _part(self, row: QHBoxLayout, part: Part) -> None:
        button = PartButton(part, 17, hand=False, fixed=False)
        button.clicked.connect(lambda _=False, b=button: self._open(b))
        row.addWidget(button)

    def _toggle(self, response: str, time: str, _: bool = False) -> None:
        self.toggled.emit(response, time)

    def _weigh(self, response: str, _: bool = False) -> None:
        self.weighed.emit(response)


class PanelsSheet(Drawn):
    """Panels with their pieces, to scale: regions, hatched strips, codes on tape."""

    def __init__(self) -> None:
        super().__init__()
        self.sheet = Sheet()

    def show_sheet(self, sheet: Sheet) -> None:
        """Show other pieces."""
        self.sheet = sheet
        said = "; ".join(f"panel {i}: " + ", ".join(f"{r.code} {r.words}" for r in panel) for i, panel in enumerate(sheet.panels, 1))
        self.name(f"Pieces on {count_text(len(sheet.panels), 'panel')}", said)
        self.update()

    def draw(self, p: QPainter) -> None:
        panels = self.sheet.panels
        if not panels:
            return
        w, h = self.sheet.size_mm
        legend = sorted({(r.code[0], r.words) for panel in panels for r in panel})
        foot = 30 + 20 * math.ceil(len(legend) / LEGEND_COLUMNS)
        columns = min(len(panels), 3 if self.width() > 620 else 2)
        rows = math.ceil(len(panels) / columns)
        scale = min((self.width() - 20 * columns) / (columns * w), (self.height() - foot - 32 * rows) / (rows * h))
        for i, panel in enumerate(panels):
            left = (i % columns) * (w * scale + 20) + 2
            top = (i // columns) * (h * scale + 32) + 24
            draw_text(p, QRectF(left, top - 24, w * scale, 22), f"Panel {i + 1}", 15, 700, BLACK)
            self._panel(p, panel, QRectF(left, top, w * scale, h * scale))
        y = self.height() - foot + 4
        for i, (letter, text) in enumerate(legend):
            x = (i % LEGEND_COLUMNS) * self.width() / LEGEND_COLUMNS
            draw_text(p, QRectF(x, y + 20 * (i // LEGEND_COLUMNS), 20, 20), letter, 15, 700, BLACK)
            draw_text(p, QRectF(x + 20, y + 20 * (i // LEGEND_COLUMNS), self.width() / LEGEND_COLUMNS - 24, 20), text, 14, 400, BLACK)
        draw_text(p, QRectF(0, self.height() - 24, self.width(), 22), self.sheet.note, 15, 400, PAPER.note)

    def _panel(self, p: QPainter, panel: tuple[Region, ...], room: QRectF) -> None:
        p.fillRect(room, PAPER.card)
        for r in panel:
            box, inner = _placed(r.box, room), _placed(r.inner, room)
            hatch(p, box, BLACK, gap=6)
            p.fillRect(inner, PAPER.card)
            p.setPen(solid(BLACK, 1.5))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(box)
            tape = QRectF(0, 0, width(r.code, 16, 700) + 18, 26)
            tape.moveCenter(inner.center())
            draw_strip(p, tape, r.code, PAPER.other_tape, PAPER.other_crepe)
            draw_text(p, tape, r.code, 16, 700, BLACK, Qt.AlignmentFlag.AlignHCenter)
        p.setPen(solid(BLACK, 2.4))
        p.drawRect(room)


def _placed(box: tuple[float, float, float, float], room: QRectF) -> QRectF:
    left, top, right, bottom = box
    return QRectF(room.left() + left * room.width(), room.top() + top * room.height(), (right - left) * room.width(), (bottom - top) * room.height())
