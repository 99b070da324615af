"""Dry: the page. Bands on a time axis, what is due, answers by touch or digit."""

from __future__ import annotations

import time
from pathlib import Path
from typing import TYPE_CHECKING, Final

from PyQt6.QtCore import QPointF, QRectF, QTimer
from PyQt6.QtGui import QPainter, QPainterPath, QPolygonF
from PyQt6.QtWidgets import QFileDialog, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from dribbet.bench.page import Field, Page
from dribbet.bench.parts.base import DrawnPart, Words, draw_text, scroller
from dribbet.bench.parts.keys import Key, KeyButton
from dribbet.bench.parts.margin import clear
from dribbet.bench.parts.tape import Tape, TapeLabel
from dribbet.bench.parts.time_bands import TimeBands
from dribbet.bench.stations.dry.presenter import Asking, DryPresenter, DryView, DueLine
from dribbet.bench.stations.pour.marks import PanelOutline
from dribbet.bench.theme.inks import BLACK, DRYING
from dribbet.bench.theme.patterns import hatch, solid
from dribbet.bench.theme.type import width
from dribbet.devices import DeviceError, ScaleReading
from dribbet.records import DribbetError
from dribbet.words import bench as bench_words
from dribbet.words import dry as dry_words
from dribbet.words.units import units_of

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.bench.jobs import Jobs
    from dribbet.studio.desk import Desk

TICK_MS = 400
MOST_ANSWERS: Final = 6
LEAST_KG: Final = 0.01
TALL_PX = 780  # below this height the due list shrinks to the next few


class Legend(DrawnPart):
    """What the greys of a band mean, in words."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(26)
        self.name(dry_words.BANDS)

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
        may = width("may crack", 14) + 46
        if x + may + 70 > self.width():
            return  # the rest is told by the accessible name; nothing is cut
        hatch(p, QRectF(x, 5, 24, 16), BLACK, gap=5)
        draw_text(p, QRectF(x + 30, 0, may, 26), "may crack", 14, 400, self.inks.note)
        x += may
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
        self._listed: tuple[DueLine, ...] = ()
        self._reading: ScaleReading | None = None
        self.timer = QTimer(self)
        self.timer.setInterval(TICK_MS)
        self.timer.timeout.connect(self.tick)
        self.bands = TimeBands()
        self.bands.pressed.connect(lambda i: self.attempt(lambda: self.presenter.choose(i)))
        self.axis = scroller(self.bands)
        self.body.addWidget(self.axis, 1)
        self.room = Words("", 15, 400, role="note")
        self.body.addWidget(self.room)
        self.legend = Legend()
        self.body.addWidget(self.legend)
        assert self.column is not None
        self.due_head = Words("Due next", 20, 700)
        self.column.addWidget(self.due_head)
        self.answers = QWidget()
        self.answer_grid = grid = QGridLayout(self.answers)
        self._columns = 2
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(8)
        self.answer_keys = []
        for i in range(MOST_ANSWERS):
            button = KeyButton()
            button.setMinimumHeight(52)
            button.clicked.connect(lambda _=False, digit=i + 1: self.attempt(lambda: self.presenter.answer(digit)))
            grid.addWidget(button, i // 2, i % 2)
            self.answer_keys.append(button)
        self.outline = PanelOutline()
        self.outline.touched.connect(lambda x, y, reach: self.attempt(lambda: self.presenter.answer_crack(True, (x, y))))
        self.outline.setFixedSize(220, 150)
        self.column.addWidget(self.outline)
        self.typed = Field("", px=20, width_px=220)
        self.typed.returnPressed.connect(self._space)
        self.column.addWidget(self.typed)
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
        for part in (self.axis, self.room, self.legend):
            part.setVisible(not v.empty)
        assert self.column_widget is not None
        self.column_widget.setVisible(not v.empty)
        if v.empty or v.bands is None:
            self.keys([(Key("Space", v.one_key), lambda: self.go.emit("pour"))])
            return
        self.bands.show_bands(v.bands)
        self.room.say(v.room)
        self.due_head.say(dry_words.TOUCH_WHERE if v.asking == "where" else "Touch one" if v.choices else "Type it" if v.typed else "Due next")
        self.answers.setVisible(bool(v.choices))
        for i, button in enumerate(self.answer_keys):
            button.setVisible(i < len(v.choices))
            if i < len(v.choices):
                button.set_key(Key(str(i + 1), v.choices[i].words, hand=v.choices[i].ticked))
                button.setAccessibleDescription(v.choices[i].why_not)
        self._in_columns(len(v.choices))
        self.outline.setVisible(v.asking == "where")
        self.outline.show_zones((), v.shape, asking=True, round_face=v.round_face)
        self.typed.setVisible(bool(v.typed))
        self.typed.setPlaceholderText(v.typed)
        dues = v.dues[: (6 if self.height() >= TALL_PX else 3) - max((len(v.choices) + 1) // 2, 3 * (v.asking == "where"))]
        if dues != self._listed:
            self._listed = dues
            self._list(dues)
        self.remarks(self.notes, v.remarks)
        back = Key("Z", "Take back", why_not="" if v.can_take_back or v.asking not in ("", "feel", "crack") else dry_words.NOTHING_TO_TAKE_BACK_YET)
        keys: list[tuple[Key, Callable[[], object]]] = [(Key("Space", self._one_words(v)), self._space)]
        if v.asking == "crack":
            keys.append((Key("K", "It is cracked"), self.presenter.ask_where))
        keys.append((back, self.presenter.take_back))
        turns = v.asking in ("", "feel", "crack")
        if turns:
            keys.append((Key("W", "Weigh"), lambda: self.presenter.turn_to(Asking.WEIGHT)))
        if turns and v.asking != "crack":
            keys.append((Key("T", "Treat"), lambda: self.presenter.turn_to(Asking.TREAT)))
            if not self.narrow:
                keys.append((Key("E", "Room"), lambda: self.presenter.turn_to(Asking.ROOM)))
            keys += [key for key in (self.zone_key(v.hand), self.leave_out_key(v.hand)) if key is not None][: 2 if self.width() > 1300 else 1]
        if v.asking == "room":
            keys.append((Key("F", "From a file"), self._from_file))
        self.keys(keys)
        self.actions.setdefault("e", lambda: self.presenter.turn_to(Asking.ROOM))

    def _in_columns(self, count: int) -> None:
        """Answers stand two and two where their words have room, else one below the other."""
        assert self.column_widget is not None
        half = (self.column_widget.width() - self.answer_grid.horizontalSpacing()) // 2
        columns = 2 if all(b.least_width() <= half for b in self.answer_keys[:count]) else 1
        if columns != self._columns:
            self._columns = columns
            for i, button in enumerate(self.answer_keys):
                self.answer_grid.addWidget(button, i // columns, i % columns)

    def _one_words(self, v: DryView) -> str:
        if v.asking == "weight" and self._reading is not None and self._reading.mass_kg > LEAST_KG:
            return f"Take {units_of(self.desk).mass_text(self._reading.mass_kg)}" if self._reading.steady else bench_words.WAIT_NOT_STEADY
        return v.one_key

    def entered(self) -> None:
        self.timer.start()

    def leave(self) -> None:
        self.timer.stop()

    def tick(self) -> None:
        """A weight is read where one is wanted; a treatment's time runs."""
        if self.view.asking == "weight" and self.desk.scale is not None:
            try:
                self._reading = self.desk.scale.read(time.monotonic())
            except DeviceError:
                self._reading = None
            self.refresh()
        elif self.view.asking == "stuck":
            self.refresh()

    def _space(self) -> None:
        v, typed = self.view, self.typed.text().strip()
        if v.empty:
            self.go.emit("pour")
            return

        def go() -> None:
            if v.asking == "feel":
                self.presenter.answer_feel(None)
            elif v.asking == "crack":
                self.presenter.answer_crack(False)
            elif v.asking == "where":
                self.presenter.answer_crack(True)
            elif v.asking == "weight":
                self.presenter.take_weight(self._kg(typed))
            elif v.asking == "room":
                self.presenter.take_room(typed)
            elif v.asking == "treat":
                self.presenter.turn_to(Asking.NOTHING)
            elif v.asking == "figures":
                self.presenter.begin(typed)
            elif v.asking == "stuck":
                self.presenter.finish()
            else:
                self.go.emit("shoot")
            self.typed.clear()
            self.setFocus()

        self.attempt(go)

    def _from_file(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, dry_words.CLIMATE_FILE, str(Path.home()), "Tables (*.csv *.txt *.tsv);;All files (*)")
        if name:
            self.say_note(self.presenter.bring_in(Path(name)))

    def _kg(self, typed: str) -> float | None:
        if typed:
            try:
                return units_of(self.desk).mass_kg(typed)
            except ValueError:
                raise DribbetError(dry_words.NO_WEIGHT(typed=typed)) from None
        return self._reading.mass_kg if self._reading is not None and self._reading.steady else None

    def _list(self, dues: tuple[DueLine, ...]) -> None:
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
        """Digits answer what is asked."""
        if not 1 <= digit <= len(self.view.choices):
            return False
        self.attempt(lambda: self.presenter.answer(digit))
        return True


class Rule(DrawnPart):
    """A hairline."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(7)

    def draw(self, p: QPainter) -> None:
        p.setPen(solid(self.inks.rule, 1))
        p.drawLine(QPointF(0, 3), QPointF(self.width(), 3))
