"""The list of series as strips of tape, new series, and Set-up as its last line. Covers the page only while open."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QAbstractButton, QHBoxLayout, QVBoxLayout, QWidget

from dribbet.bench.page import Field, Page
from dribbet.bench.parts.base import Words, draw_focus, draw_text, scroller
from dribbet.bench.parts.keys import Key, KeyButton
from dribbet.bench.parts.margin import clear
from dribbet.bench.parts.tape import Tape, draw_code, strip_size
from dribbet.bench.theme.inks import BLACK, PAPER
from dribbet.bench.theme.type import width
from dribbet.records import Series, SeriesState
from dribbet.records.wording import first_up
from dribbet.studio import scales, sensors
from dribbet.words import series as series_words
from dribbet.words.levels import levels_text
from dribbet.words.units import units_of

if TYPE_CHECKING:
    from dribbet.bench.jobs import Jobs
    from dribbet.studio.desk import Desk
    from dribbet.words.units import Units

FEW = 8  # so many rows are seen at once: no need to search
STATE_WORDS = {SeriesState.PLANNED: "planned", SeriesState.RUNNING: "running", SeriesState.DECIDED: "decided"}


class SeriesRow(QAbstractButton):
    """A series on its strip, with its question."""

    chosen = pyqtSignal(str)

    def __init__(self, series: Series, hand: bool, units: Units) -> None:
        super().__init__()
        self.series, self.hand, self.units = series, hand, units
        self.setMinimumHeight(56)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(f"{series.name}, {self._question(more=True)}, {STATE_WORDS[series.state]}")
        self.sought = f"{series.code} {series.name} {self._question(more=True)} {STATE_WORDS[series.state]}".lower()
        self.clicked.connect(lambda: self.chosen.emit(series.id))

    def _short_question(self) -> str:
        s = self.series
        return series_words.QUESTION_IN_SHORT(asked=s.varied[0].words, responses=s.responses[0][0])

    def _question(self, *, more: bool) -> str:
        s = self.series
        levels = levels_text(s.varied[0], self.units)
        others = "".join(f", with {v.words}" for v in s.varied[1:]) if more else ""
        return series_words.QUESTION(asked=s.varied[0].words, levels=levels, responses=s.responses[0][0], others=others)

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        size = strip_size(self.series.name, 18)
        draw_code(
            p,
            QRectF(8, (self.height() - size.height()) / 2, size.width(), size.height()),
            self.series.name,
            18,
            Tape.HAND if self.hand else Tape.OTHER,
            PAPER,
        )
        room = self.width() - 410
        said = next((q for q in (self._question(more=True), self._question(more=False)) if width(q, 18, 500) <= room), self._short_question())
        draw_text(p, QRectF(270, 0, room, self.height()), said, 18, 500, BLACK)
        draw_text(p, QRectF(self.width() - 130, 0, 120, self.height()), STATE_WORDS[self.series.state], 16, 400, PAPER.note)
        if self.hasFocus() or self.underMouse():
            draw_focus(p, QRectF(self.rect()), PAPER)
        p.end()


class SeriesSheet(Page):
    """Choose a series, start one, or set up."""

    def __init__(self, desk: Desk, jobs: Jobs) -> None:
        super().__init__(desk, jobs)
        self.search = Field(series_words.FIND_A_SERIES, width_px=420)
        self.search.textChanged.connect(lambda _: self._list())
        self.body.addWidget(self.search)
        self.nothing = Words("", 17, role="note")
        self.body.addWidget(self.nothing)
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(0, 0, 8, 0)
        self.rows = QVBoxLayout()
        self.rows.setSpacing(2)
        column.addLayout(self.rows)
        column.addStretch(1)
        self.body.addWidget(scroller(inner), 1)
        self._rows: dict[str, SeriesRow] = {}
        self._stands: object = None
        self.body.addWidget(Words("Set-up", 18, 700))
        line = QHBoxLayout()
        self.unit_keys = {}
        for name, choices in (("mass", ("g", "oz")), ("volume", ("mL", "fl oz")), ("length", ("mm", "in")), ("temperature", ("°C", "°F"))):
            button = KeyButton()
            button.setProperty("unit", (name, choices))
            button.clicked.connect(lambda _=False, n=name, c=choices: self.attempt(lambda: self._unit(n, c)))
            line.addWidget(button)
            self.unit_keys[name] = button
        self.body.addLayout(line)
        self.scale_key = KeyButton()
        self.scale_key.clicked.connect(lambda: self.attempt(lambda: scales.choose_next(self.desk)))
        line.addWidget(self.scale_key)
        self.sensor_key = KeyButton()
        self.sensor_key.clicked.connect(lambda: self.attempt(lambda: sensors.choose_next(self.desk)))
        line.addWidget(self.sensor_key)
        rename = QHBoxLayout()
        self.name_field = Field(series_words.NAME_OF_THIS_SERIES, width_px=320)
        self.name_field.returnPressed.connect(self._rename)
        rename.addWidget(self.name_field)
        rename.addWidget(Words(series_words.ASK_NAME, 15, role="note"), 1, Qt.AlignmentFlag.AlignVCenter)
        self.body.addLayout(rename)
        self.where = Words("", 15, role="note")
        self.body.addWidget(self.where)

    def _list(self) -> None:
        """Rows of all series, newest first; what is typed leaves those that hold every word of it."""
        known, hand, units = self.desk.all_series(), self.desk.series_id, units_of(self.desk)
        stands = (known, hand, units)
        if stands != self._stands:
            self._stands = stands
            clear(self.rows)
            self._rows = {}
            for series in reversed(known):
                row = SeriesRow(series, series.id == hand, units)
                row.chosen.connect(self._chosen)
                self.rows.addWidget(row)
                self._rows[series.id] = row
        self.search.setVisible(len(known) > FEW)
        wanted = self.search.text().lower().split()
        shown = 0
        for row in self._rows.values():
            fits = all(word in row.sought for word in wanted)
            row.setVisible(fits)
            shown += fits
        self.nothing.say("" if shown or not known else series_words.NONE_HOLDS_THESE_WORDS)

    def refresh(self) -> None:
        known = self.desk.all_series()
        self.title("", series_words.CHOOSE_OR_START if known else series_words.NO_SERIES_YET)
        self._list()
        units = units_of(self.desk)
        for name, button in self.unit_keys.items():
            button.set_key(Key("", f"{first_up(name)}: {getattr(units, name)}"))
        self.scale_key.set_key(Key("", f"Scale: {scales.words(scales.chosen(self.desk))}"))
        self.sensor_key.set_key(Key("", f"Air: {sensors.words(sensors.chosen(self.desk))}"))
        self.where.say(f"Notebook: {self.desk.notebook.folder.name}" + (series_words.THIS_WINDOW_ONLY_READS if self.desk.notebook.read_only else ""))
        self.keys(
            [
                (Key("Space", "New series"), lambda: self.go.emit("new")),
                (Key("B", "Bench rules"), lambda: self.go.emit("rules")),
                (Key("Esc", "Back"), lambda: self.go.emit("back")),
            ]
        )

    def _chosen(self, series_id: str) -> None:
        self.desk.choose_series(series_id)
        self.go.emit("chosen")

    def _unit(self, name: str, choices: tuple[str, str]) -> None:
        now = getattr(units_of(self.desk), name)
        self.desk.set_units(replace(self.desk.units, **{name: choices[1] if now == choices[0] else choices[0]}))

    def _rename(self) -> None:
        def rename() -> None:
            run = self.desk.need_run()
            text = self.name_field.text().strip()
            if text:
                self.desk.notebook.replace(replace(run.series, name=text[:40]))
                self.name_field.clear()
                self.desk.changed()

        self.attempt(rename)
