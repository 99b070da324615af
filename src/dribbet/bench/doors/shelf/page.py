"""Shelf: every container and bottle drawn with its fill level; its card; and guided measurements on the scale."""

from __future__ import annotations

import time
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QFileDialog, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from dribbet.bench.doors.shelf.guide import OnScale
from dribbet.bench.doors.shelf.parts import Container
from dribbet.bench.doors.shelf.presenter import ShelfPresenter
from dribbet.bench.doors.shelf.survey_table import SurveyTable
from dribbet.bench.page import Field, Page
from dribbet.bench.parts.base import Words, scroller
from dribbet.bench.parts.card_row import CardRow
from dribbet.bench.parts.keys import Key
from dribbet.bench.parts.margin import clear
from dribbet.bench.parts.weighing import NowStrip, ScaleFigure
from dribbet.devices import DeviceError, ScaleReading, SimulatedScale
from dribbet.notebook.whole_file import save_file
from dribbet.records import Bottle, DribbetError, GaugingKind, Kind, Material
from dribbet.records.wording import first_up
from dribbet.studio.acts import gauging
from dribbet.words import shelf as shelf_words
from dribbet.words import survey as survey_words
from dribbet.words.card import lines as card_lines
from dribbet.words.units import clock_text, units_of

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.bench.doors.shelf import guide
    from dribbet.bench.jobs import Jobs
    from dribbet.studio.desk import Desk
    from dribbet.words.parts import CardLine

TICK_MS = 45
MEASURES = {"1": GaugingKind.DENSITY, "2": GaugingKind.BODY, "3": GaugingKind.DROP, "4": GaugingKind.TEASPOON, "5": GaugingKind.SQUIRT}
MEASURE_WORDS = {"1": "Density", "2": "Body", "3": "Drops", "4": "Spoons", "5": "Squirts"}
NEW = shelf_words.LIKE_A_CONTAINER
JAR_PX = 105


class ShelfPage(Page):
    """The door Shelf."""

    def __init__(self, desk: Desk, jobs: Jobs) -> None:
        super().__init__(desk, jobs, column=True)
        self.presenter = ShelfPresenter(desk)
        self.hand = ""
        self.line = ""
        """Line of the card that is being typed; `new` for a container or to find one, `left` for a leftover pot."""
        self.choosing = False
        self.choosing_label = False
        self.more = False
        self.guide: guide.Guide | None = None
        self.surveying = False
        """Whether the table of a pre-test stands where the shelf does."""
        self._reading: ScaleReading | None = None
        self._zero_kg = 0.0
        self._waited_from = 0.0
        box = QWidget()
        self.grid = QGridLayout(box)
        self.grid.setContentsMargins(0, 0, 8, 0)
        self.grid.setHorizontalSpacing(0)
        self.grid.setVerticalSpacing(4)
        self.shelf_area = scroller(box)
        self.body.addWidget(self.shelf_area, 1)
        self.table = SurveyTable()
        self.table_area = scroller(self.table)
        self.body.addWidget(self.table_area, 1)
        self.table_area.hide()
        measuring = QVBoxLayout()
        measuring.setContentsMargins(0, 0, 0, 0)
        self.reading, self.now = ScaleFigure(), NowStrip()
        self.guide_words = Words("", 22, 500)
        measuring.addWidget(self.reading, 10)
        measuring.addWidget(self.now)
        measuring.addWidget(self.guide_words)
        measuring.addStretch(2)
        self.measuring = QWidget()
        self.measuring.setLayout(measuring)
        self.body.addWidget(self.measuring, 1)
        self.measuring.hide()
        row = QHBoxLayout()
        self.typed = Field(NEW, width_px=330)
        self.typed.returnPressed.connect(self._typed)
        row.addWidget(self.typed)
        self.typed_note = Words("", 15, 400, role="note")
        row.addWidget(self.typed_note, 20, Qt.AlignmentFlag.AlignVCenter)
        row.addStretch(1)  # keeps the field on the left where it stands alone
        self.body.addLayout(row)
        assert self.column is not None
        self.name_words = Words("", 22, 700)
        self.column.addWidget(self.name_words)
        inner = QWidget()
        side = QVBoxLayout(inner)
        side.setContentsMargins(0, 0, 8, 0)
        side.setSpacing(8)
        self.notes = QVBoxLayout()
        side.addLayout(self.notes)
        self.rows = QVBoxLayout()
        self.rows.setSpacing(0)
        side.addLayout(self.rows)
        side.addStretch(1)
        self.column.addWidget(scroller(inner), 1)
        self._built: tuple[object, ...] = ()
        self._card: tuple[object, ...] = ()
        self.timer = QTimer(self)
        self.timer.setInterval(TICK_MS)
        self.timer.timeout.connect(self.tick)

    def leave(self) -> None:
        self.timer.stop()

    def entered(self) -> None:
        if self.guide is not None:
            self.timer.start()

    # ------------------------------------------------------------ what is in hand

    def _material(self) -> Material | None:
        known = self.presenter.materials()
        if self._bottle() is not None or not known:
            return None
        return next((m for m in known if m.id == (self.hand or self._first())), known[0])

    def _first(self) -> str:
        """What is in hand before anything was touched: the first that is to be seen to, else the first."""
        standing = self.presenter.standing()
        return next((w.id for w in standing if w.flag and not w.bottle), standing[0].id if standing else "")

    def _bottle(self) -> Bottle | None:
        return next((b for b in self.presenter.bottles() if b.id == self.hand), None)

    def _choose(self, id_: str) -> None:
        self.hand, self.line, self.choosing, self.more = id_, "", False, False
        self.refresh()

    # ------------------------------------------------------------ showing

    def refresh(self) -> None:
        guiding = self.guide is not None
        table = self.presenter.survey() if self.surveying else ()
        self.surveying = bool(table)
        self.shelf_area.setVisible(not guiding and not self.surveying)
        self.table_area.setVisible(not guiding and self.surveying)
        self.measuring.setVisible(guiding)
        if guiding:
            self._show_guide()
        elif self.surveying:
            self.title("", survey_words.sentence(table, False), survey_words.note(table))
            self.table.show_rows(table, units_of(self.desk))
        else:
            self.title("", *self.presenter.sentence())
            self._show_shelf()
        self._show_card()
        self._show_field()
        self.keys(self._keys())

    def _show_shelf(self) -> None:
        standing = self.presenter.standing()
        columns = max(4, (self.width() - 380) // JAR_PX)
        hand = self.hand or self._first()
        key = (tuple(standing), hand, columns)
        if key == self._built:
            return
        self._built = key
        while self.grid.count():
            item = self.grid.takeAt(0)
            if item is not None and (widget := item.widget()) is not None:
                widget.hide()
                widget.deleteLater()
        row = column = 0
        for i, what in enumerate(standing):
            if what.bottle and i and not standing[i - 1].bottle:  # bottles stand on a board of their own
                row, column = row + (1 if column else 0), 0
                self.grid.addWidget(Words(shelf_words.BOTTLES_THE_OLDEST_FIRST, 17, 700), row, 0, 1, columns)
                row += 1
            jar = Container(what, what.id == hand)
            jar.chosen.connect(self._choose)
            self.grid.addWidget(jar, row, column)
            if what.id == self.hand:
                QTimer.singleShot(0, lambda j=jar: self._bring_into_view(j))
            column += 1
            if column == columns:
                row, column = row + 1, 0
        self.grid.setRowStretch(row + 1, 1)

    def _bring_into_view(self, jar: Container) -> None:
        if jar.parentWidget() is not None and jar.isVisibleTo(self):
            self.shelf_area.ensureWidgetVisible(jar)

    def _show_card(self) -> None:
        m, b = self._material(), self._bottle()
        if self.surveying and self.guide is None:
            self.name_words.say(shelf_words.WHAT_THE_SET_SAYS)
            self.remarks(self.notes, survey_words.found(self.presenter.survey()))
            self._card = ()
            clear(self.rows)
            return
        if b is not None:
            self.name_words.say(f"{b.code}: {b.name}")
            self.remarks(self.notes, self.presenter.bottle_remarks(b))
            if self._card != (b.id,):
                self._card = (b.id,)
                clear(self.rows)
            return
        if m is None:
            self.name_words.say("")
            self.remarks(self.notes, [])
            clear(self.rows)
            return
        self.name_words.say(first_up(m.name))
        self.remarks(self.notes, self.presenter.remarks(m))
        lines = card_lines(m, self.desk.shelf(), units_of(self.desk))
        key = (m.id, tuple(lines), self.line)
        if key == self._card:
            return
        self._card = key
        clear(self.rows)
        for line in lines:
            row = CardRow(line.head, line.text, line.key == self.line)
            row.clicked.connect(lambda _=False, x=line: self._line_pressed(x))
            self.rows.addWidget(row)

    def _show_field(self) -> None:
        step = self.guide.step if self.guide is not None else None
        if self.guide is not None:
            asks = {"weight": shelf_words.OR_TYPE_GRAMS, "water": shelf_words.OR_TYPE_GRAMS, "length": shelf_words.DIAMETER_IN_MM}.get(
                step.reads if step else "", ""
            )
            note = ""
        elif self.line == "survey":
            asks, note = shelf_words.LIKE_COLOURS, shelf_words.COLOURS_TO_MEASURE
        elif self.line == "left":
            asks, note = "K3-a 35, K3-b 20", shelf_words.SCRAPED_TOGETHER
        elif self.line and self.line != "new":
            m = self._material()
            line = next((x for x in card_lines(m, self.desk.shelf(), units_of(self.desk)) if x.key == self.line), None) if m is not None else None
            asks, note = (line.ask if line else ""), shelf_words.TYPE_IT(head=line.head, name=m.name) if line and m else ""
        elif not self.line:
            asks = note = ""
        else:
            asks = NEW
            note = shelf_words.KINDS(kinds=", ".join(str(k) for k in Kind))
        self.typed.setVisible(bool(asks))
        self.typed.setPlaceholderText(asks)
        self.typed_note.say(note)

    def _keys(self) -> list[tuple[Key, Callable[[], object]]]:
        if self.guide is not None:
            return self._guide_keys()
        if self.surveying:
            return self._survey_keys()
        if self.choosing:
            offered: list[tuple[Key, Callable[[], object]]] = [(Key("Space", "Weigh its density"), lambda: self._begin(GaugingKind.DENSITY))]
            for digit, kind in list(MEASURES.items())[1:]:
                offered.append((Key(digit, MEASURE_WORDS[digit]), lambda k=kind: self._begin(k)))  # type: ignore[misc]
            offered.append((Key("Esc", "Leave it"), self._not_choosing))
            return offered
        if self.choosing_label:
            from dribbet.paper.labels import SIZES  # the PDF library takes its time: not before it is wanted

            sizes = [(Key(cap, f"{size} mm"), lambda x=size: self._print(x)) for cap, size in zip(("Space", "2", "3"), SIZES, strict=True)]
            return [*sizes, (Key("Esc", "Leave it"), self._not_choosing)]
        b = self._bottle()
        if b is not None:
            return [
                (Key("Space", f"Weigh bottle {b.code}"), lambda: self._begin(None)),
                (Key("L", "Labels"), self._labels),
                (Key("E", "It is empty"), self._finish_bottle),
                (Key("N", "Find"), self._new),
            ]
        m = self._material()
        under_way = self.presenter.surveys.now() is not None
        pre_test = (Key("P", "Pre-test"), self._survey if under_way else lambda: self._ask("survey"))
        if self.more:
            rest = [(Key("V", "Leftover"), lambda: self._ask("left")), (Key("L", "Labels"), self._labels)]
            return [(Key("Space", "Back"), self._not_choosing), *([pre_test] if self.narrow else []), *rest]
        offered = [(Key("Space", "Measure it" if m is not None else "Add a container"), self._measure if m is not None else self._new)]
        offered += [(Key("N", "Find, add"), self._new), *([] if self.narrow else [pre_test]), (Key("M", "More"), self._show_more)]
        return offered

    def _survey_keys(self) -> list[tuple[Key, Callable[[], object]]]:
        due = self.presenter.survey_due()
        words = survey_words.key_words(self.presenter.survey())
        return [
            (Key("Space", words), self._measure_next if due is not None else self._end_survey),
            (Key("E", "It is over"), self._end_survey),
            (Key("Esc", "Shelf"), self._leave_survey),
        ]

    def press_digit(self, digit: int) -> bool:
        """The offered measurements."""
        return (self.choosing or self.choosing_label) and self.press_by_keyboard(str(digit))

    # ------------------------------------------------------------ typing

    def _ask(self, line: str) -> None:
        self.line, self.more = line, False
        self.refresh()
        self.typed.setFocus()

    def _new(self) -> None:
        self._ask("new")

    def _line_pressed(self, line: CardLine) -> None:
        if line.ask:
            self._ask("" if self.line == line.key else line.key)
            return
        m = self._material()
        if m is not None:
            self.line = ""
            self.attempt(lambda: self.presenter.change(m, line.key, None))

    def _typed(self) -> None:
        def take() -> None:
            text = self.typed.text()
            if self.guide is not None:
                self._take_typed(text)
            elif self.line == "survey":
                self.presenter.begin_survey(text)
                self.surveying = True
            elif self.line == "left":
                self.hand = self.presenter.add_leftover(text)
            elif self.line and self.line != "new":
                m = self._material()
                assert m is not None
                self.presenter.change(m, self.line, text)
            else:
                self.hand = self.presenter.find(text) if self.presenter.stands(text) else self.presenter.add(text)
            self.typed.clear()
            self.line = ""
            self.setFocus()
            self.refresh()

        self.attempt(take)

    # ------------------------------------------------------------ measuring

    def pre_test(self) -> None:
        """Go on with the pre-test that is under way, or ask which colours a new one is of."""
        if self.presenter.surveys.now() is not None:
            self._survey()
        else:
            self._ask("survey")

    def _survey(self) -> None:
        self.surveying, self.line = True, ""
        self.refresh()

    def _leave_survey(self) -> None:
        self.surveying = False
        self._built = ()
        self.refresh()

    def _end_survey(self) -> None:
        self.surveying = False
        self._built = ()
        self.attempt(self.presenter.surveys.finish)

    def _measure_next(self) -> None:
        due = self.presenter.survey_due()
        if due is not None:
            self.hand = due[0].id
            self._begin(due[1])

    def _measure(self) -> None:
        self.choosing = True
        self.refresh()

    def _show_more(self) -> None:
        self.more = True
        self.refresh()

    def _not_choosing(self) -> None:
        self.choosing = self.choosing_label = self.more = False
        self.refresh()

    def _begin(self, kind: GaugingKind | None) -> None:
        target = self.hand or self._first()
        self.guide = self.presenter.guide_for(target, kind)
        self.choosing, self.line = False, ""
        self._set_zero()
        self._waited_from = time.monotonic()
        self.timer.start()
        self.refresh()

    def _set_zero(self) -> None:
        """A weight counts from what the scale shows now."""
        scale = self.desk.scale
        self._zero_kg = 0.0
        if scale is not None:
            try:
                self._reading = scale.read(time.monotonic())
                self._zero_kg = self._reading.mass_kg
            except DeviceError:
                self._reading = None

    def tick(self) -> None:
        """One reading of the scale, while something is measured."""
        scale = self.desk.scale
        if self.guide is None:
            self.timer.stop()
            return
        if scale is not None:
            try:
                self._reading = scale.read(time.monotonic())
            except DeviceError as error:
                if self._reading is not None:
                    self.say_trouble(str(error))
                self._reading = None
        self._show_guide()

    def _show_guide(self) -> None:
        g = self.guide
        assert g is not None
        self.title("", g.title + ".", "")
        step, units = g.step, units_of(self.desk)
        number = f"{len(g.readings) + 1} of {len(g.steps)}"
        weighs = step is not None and step.reads in ("weight", "water")
        self.reading.setVisible(weighs)
        if step is None:
            self.now.say("Done", shelf_words.KEPT_WITH_DATE_AND_LOT, "", "")
            self.guide_words.say(g.said)
            return
        if weighs:
            if self._reading is None:
                self.reading.show_figure("0.0", units.mass, "no scale" if self.desk.scale is None else "not answering")
            else:
                self.reading.show_figure(units.mass_figure(self._weight()), units.mass, "steady" if self._reading.steady else "moving")
        left = self._wait_left()
        figure = clock_text(left) if step.reads == "wait" else ""
        head = "still" if figure else ""
        if step.reads == "water":
            b = self._bottle()
            if b is not None:
                head, figure = "still", units.mass_text(max(gauging.wants_back_kg(self.desk, b, g.readings[0]) - self._weight(), 0.0))
        self.now.say(step.words, step.hint, head, figure)
        self.guide_words.say(f"Step {number}.")

    def _weight(self) -> float:
        return self._reading.mass_kg - self._zero_kg if self._reading is not None else 0.0

    def _wait_left(self) -> float:
        step = self.guide.step if self.guide is not None else None
        return max(step.wait_s - (time.monotonic() - self._waited_from), 0.0) if step is not None else 0.0

    def _guide_keys(self) -> list[tuple[Key, Callable[[], object]]]:
        g = self.guide
        assert g is not None
        step = g.step
        if step is None:
            if not self.surveying:
                return [(Key("Space", shelf_words.BACK_TO_THE_SHELF), self._end)]
            words = survey_words.key_words(self.presenter.survey())
            return [(Key("Space", words), self._next_of_survey), (Key("Esc", "The table"), self._end)]
        words = {"weight": "Take this weight", "water": "That is back", "length": "Type it", "wait": "It has spread"}[step.reads]
        offered: list[tuple[Key, Callable[[], object]]] = [(Key("Space", words), self._take), (Key("Z", "Take back"), self._step_back)]
        scale = self.desk.scale
        if isinstance(scale, SimulatedScale) and step.reads in ("weight", "water"):
            offered.append((Key("D", "Put it on"), self._practise))
        offered.append((Key("Esc", "Leave it"), self._end))
        return offered

    def _take(self) -> None:
        g = self.guide
        step = g.step if g is not None else None
        if g is None or step is None:
            return
        if step.reads == "wait":
            self._next(self.desk.rules.slump_seconds)
        elif step.reads == "length":
            self.typed.setFocus()
            if self.typed.text().strip():
                self._typed()
        elif self._reading is None:
            raise DribbetError(shelf_words.NO_SCALE)
        elif self._reading.steady:
            self._next(self._weight())

    def _next(self, value: float) -> None:
        g = self.guide
        assert g is not None
        g.take(value)
        step = g.step
        if step is not None and step.reads == "water":
            self._set_zero()
        self._waited_from = time.monotonic()
        self.refresh()

    def _take_typed(self, text: str) -> None:
        g = self.guide
        step = g.step if g is not None else None
        if g is None or step is None:
            return
        try:
            value = units_of(self.desk).length_mm(text) / 1e3 if step.reads == "length" else units_of(self.desk).mass_kg(text)
        except ValueError:
            raise DribbetError(shelf_words.NO_FIGURE_SUCH_AS(text=text, like="62" if step.reads == "length" else "12.4")) from None
        self._next(value)

    def _step_back(self) -> None:
        g = self.guide
        if g is None or not g.back():
            self._end()
        self.refresh()

    def _practise(self) -> None:
        """What a hand would put on the practice scale."""
        scale, g = self.desk.scale, self.guide
        step = g.step if g is not None else None
        if not isinstance(scale, SimulatedScale) or g is None or step is None:
            return
        scale.clear()
        m, b = self._material(), self._bottle()
        if g.on_scale is OnScale.BOTTLE and b is not None:
            lost = 4e-3
            scale.put(b.stored_kg - lost if not g.readings else b.stored_kg)
        elif g.on_scale is OnScale.SYRINGE and m is not None:
            scale.put(10.6e-3 + (10e-6 * m.density_kg_m3 * (1.0 + 1e-3 * len(g.readings)) if g.readings else 0.0))
        elif g.on_scale is OnScale.HEAP:
            scale.put(self.desk.rules.slump_kg)
        elif m is not None:
            scale.put(20 * (m.drop_kg or 3e-5))

    def _next_of_survey(self) -> None:
        self._end()
        self._measure_next() if self.presenter.survey_due() is not None else self._end_survey()

    def _end(self) -> None:
        self.guide = None
        self.timer.stop()
        scale = self.desk.scale
        if isinstance(scale, SimulatedScale):
            scale.clear()
        self._built = self._card = ()
        self.refresh()

    # ------------------------------------------------------------ bottles

    def _finish_bottle(self) -> None:
        b = self._bottle()
        if b is not None:
            self.hand = ""
            self.presenter.finish_bottle(b.id)

    def _labels(self) -> None:
        self.choosing_label, self.more = True, False
        self.refresh()

    def _print(self, size: str) -> None:
        self.choosing_label = False
        self.refresh()
        draw = self.presenter.labels(size)
        name, _ = QFileDialog.getSaveFileName(self, "Labels of bottles", "labels.pdf", "PDF (*.pdf)")
        if name:
            said = shelf_words.LABELS_ARE_IN(size=size, name=Path(name).name)
            self.jobs.start(lambda report: save_file(Path(name), draw(report)), lambda _: self.say_note(said), self.failed)
