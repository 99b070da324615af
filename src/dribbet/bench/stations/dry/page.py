"""Dry: the page. Bands on a time axis, what is due, answers by touch or digit."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter, QPainterPath, QPolygonF
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from dribbet.bench.page import Page
from dribbet.bench.parts.base import Part, Words, draw_text
from dribbet.bench.parts.keys import Key, KeyButton
from dribbet.bench.parts.margin import clear
from dribbet.bench.parts.tape import Tape, TapeLabel
from dribbet.bench.parts.time_bands import TimeBands
from dribbet.bench.stations.dry.presenter import DryPresenter, DryView, Due
from dribbet.bench.theme.inks import BLACK, DRYING
from dribbet.bench.theme.patterns import hatch, solid
from dribbet.bench.theme.type import width
from dribbet.records import Feel

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.bench.jobs import Jobs
    from dribbet.studio.desk import Desk

TALL_PX = 780  # below this height the due list shrinks to the next few


class Legend(Part):
    """What the greys of a band mean, in words."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(26)
        self.name("Bands: wet, skin, touch-dry, through-dry, cured; hatched may crack; ring looked")

    def draw(self, p: QPainter) -> None:
        x = 88.0
        draw_text(p, QRectF(0, 0, 86, 26), "Bands", 15, 700, self.inks.ink)
        for colour, word in zip(DRYING, ("wet", "skin", "touch-dry", "through-dry", "cured"), strict=True):
            shape = QPolygonF([QPointF(x, 5), QPointF(x + 20, 5), QPointF(x + 27, 21), QPointF(x, 21)])
            path = QPainterPath()
            path.addPolygon(shape)
            path.closeSubpath()
            p.fillPath(path, colour)
            p.setPen(solid(BLACK, 1.4))
            p.drawPath(path)
            draw_text(p, QRectF(x + 32, 0, 120, 26), word, 14, 400, self.inks.note)
            x += 46 + width(word, 14)
        if x + 108 + 70 > self.width():
            return  # the rest is told by the accessible name; nothing is cut
        hatch(p, QRectF(x, 5, 24, 16), BLACK, gap=5)
        draw_text(p, QRectF(x + 30, 0, 100, 26), "may crack", 14, 400, self.inks.note)
        x += 108
        p.setPen(solid(BLACK, 2))
        p.setBrush(self.inks.card)
        p.drawEllipse(QPointF(x + 6, 13), 5, 5)
        draw_text(p, QRectF(x + 18, 0, 80, 26), "looked", 14, 400, self.inks.note)


class DryPage(Page):
    """Drying panels of one series."""

    def __init__(self, desk: Desk, jobs: Jobs) -> None:
        super().__init__(desk, jobs, column=True)
        self.presenter = DryPresenter(desk)
        self.view = DryView("", "", None)
        self._listed: tuple[Due, ...] = ()
        self.bands = TimeBands()
        self.bands.pressed.connect(lambda i: self.attempt(lambda: self.presenter.choose(i)))
        self.body.addWidget(self.bands, 1)
        self.room = Words("", 15, 400, role="note")
        self.body.addWidget(self.room)
        self.legend = Legend()
        self.body.addWidget(self.legend)
        assert self.column is not None
        self.due_head = Words("Due next", 20, 700)
        self.column.addWidget(self.due_head)
        self.answers = QWidget()
        grid = QGridLayout(self.answers)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(8)
        self.feel_keys = []
        for i, feel in enumerate(Feel):
            button = KeyButton()
            button.set_key(Key(str(i + 1), str(feel).capitalize()))
            button.setMinimumHeight(52)
            button.clicked.connect(lambda _=False, f=feel: self.attempt(lambda: self.presenter.answer_feel(f)))
            grid.addWidget(button, i // 2, i % 2)
            self.feel_keys.append(button)
        self.list = QVBoxLayout()
        self.list.setSpacing(6)
        self.column.addWidget(self.answers)
        self.column.addLayout(self.list)
        self.notes = QVBoxLayout()
        self.notes.setSpacing(10)
        self.column.addSpacing(6)
        self.column.addLayout(self.notes)
        self.column.addStretch(1)

    def refresh(self) -> None:
        self.view = v = self.presenter.view()
        self.title("", v.sentence, v.note)
        for part in (self.bands, self.room, self.legend):
            part.setVisible(not v.empty)
        assert self.column_widget is not None
        self.column_widget.setVisible(not v.empty)
        if v.empty or v.bands is None:
            self.keys([(Key("Space", v.one_key), lambda: self.go.emit("pour"))])
            return
        self.bands.show_bands(v.bands)
        self.room.say(v.room)
        self.answers.setVisible(v.asking == "feel")
        dues = v.dues[: 6 if self.height() >= TALL_PX else 3 - (v.asking == "feel")]
        if dues != self._listed:
            self._listed = dues
            self._list(dues)
        self.remarks(self.notes, v.remarks)
        back = Key("Z", "Take back", why_not="" if v.can_take_back else "Nothing to take back yet.")
        keys: list[tuple[Key, Callable[[], object]]]
        if v.asking == "feel":
            keys = [(Key("Space", v.one_key), lambda: self.presenter.answer_feel(None))]
        elif v.asking == "crack":
            keys = [
                (Key("Space", v.one_key), lambda: self.presenter.answer_crack(False)),
                (Key("K", "It is cracked"), lambda: self.presenter.answer_crack(True)),
            ]
        else:
            keys = [(Key("Space", v.one_key), lambda: self.go.emit("shoot"))]
        also = [key for key in (self.zone_key(v.hand), self.leave_out_key(v.hand)) if key is not None]
        self.keys([*keys, (back, self.presenter.take_back), *also])

    def _list(self, dues: tuple[Due, ...]) -> None:
        clear(self.list)
        for due in dues:
            row = QHBoxLayout()
            row.addWidget(Words(due.when, 15, 700))
            row.addStretch(1)
            row.addWidget(TapeLabel(due.code, 15, Tape.HAND if due.hand else Tape.OTHER))
            self.list.addLayout(row)
            self.list.addWidget(Words(due.words, 15))
            line = Rule()
            self.list.addWidget(line)

    def press_digit(self, digit: int) -> bool:
        """Digits answer how a corner feels."""
        if self.view.asking != "feel" or not 1 <= digit <= len(self.feel_keys):
            return False
        self.feel_keys[digit - 1].click()
        return True


class Rule(Part):
    """A hairline."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(7)

    def draw(self, p: QPainter) -> None:
        p.setPen(solid(self.inks.rule, 1))
        p.drawLine(QPointF(0, 3), QPointF(self.width(), 3))
