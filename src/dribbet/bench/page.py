"""What every page has: one sentence at the top, a stage, perhaps a right column, and one big key at the bottom."""

from __future__ import annotations

import logging
import time
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QPalette
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QSizePolicy, QSpacerItem, QVBoxLayout, QWidget

from dribbet.bench.guard import in_words
from dribbet.bench.parts.base import Words
from dribbet.bench.parts.keys import Key, KeyStrip
from dribbet.bench.parts.margin import DoubleRule, RemarkRow, clear
from dribbet.bench.parts.tape import Tape, TapeLabel
from dribbet.bench.parts.why_row import WhyRow
from dribbet.bench.theme.inks import PAPER, Inks
from dribbet.bench.theme.type import font, grown
from dribbet.records import DribbetError, Panel, Series, SeriesState
from dribbet.studio.acts import leaving_out as left_out
from dribbet.studio.acts import zones
from dribbet.words import window as window_words
from dribbet.words.parts import Remark, Weight

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from dribbet.bench.jobs import Jobs
    from dribbet.studio.desk import Desk

log = logging.getLogger(__name__)
PRESS_GAP_S = 0.6
COLUMN_PX = {1000: 250, 1500: 300}  # right column by the width of the page; beyond: 360
WIDE_COLUMN_PX = 360
LOW_PX = 760  # pages lower than this leave out what can be left out
NARROW_PX = 1000
LEAVE_CAP = "O"
ZONE_CAP = "B"
MOST_TYPED = 2000  # letters; what is pasted may be a whole book


class Page(QWidget):
    """A station's or a door's page. Subclasses fill `body` (and `column`), and say what each key does."""

    inks: Inks = PAPER
    bench = False
    slim = False
    space_types = False
    """Whether Space belongs to text here and Enter is the one key."""

    go = pyqtSignal(str)
    """Asks the window to walk somewhere: a station's name, `series`, `report` and the like."""

    done = pyqtSignal()
    """What a press asked for was done."""

    def __init__(self, desk: Desk, jobs: Jobs, *, column: bool = False) -> None:
        super().__init__()
        self.desk, self.jobs = desk, jobs
        self.actions: dict[str, Callable[[], object]] = {}  # type: ignore[assignment]  # a page has no menu actions of the toolkit
        self._last_press = 0.0
        self._said: dict[int, object] = {}
        self._why: WhyRow | None = None
        self._leaving: Panel | None = None
        self._wired = 0
        """So many buttons of the strip know what to do."""
        self._left_out = ""
        """Panel that was left out last on this page."""
        palette = self.palette()
        palette.setColor(QPalette.ColorRole.Window, self.inks.ground)
        self.setPalette(palette)
        outer = QHBoxLayout(self)
        outer.setContentsMargins(22, 20, 24, 20)
        outer.setSpacing(16)
        main = QVBoxLayout()
        main.setSpacing(10)
        outer.addLayout(main, 1)
        head = QHBoxLayout()
        head.setSpacing(18)
        self.tape = TapeLabel("", 26 if self.bench else 24, Tape.HAND, self.inks)
        head.addWidget(self.tape, 0, Qt.AlignmentFlag.AlignVCenter)
        self.sentence = Words("", 28, 700, inks=self.inks)
        self.sentence.setAlignment(Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft)
        head.addWidget(self.sentence, 1)
        main.addLayout(head)
        self.subline = Words("", 16, 400, role="note", inks=self.inks)
        main.addWidget(self.subline)
        self.body = QVBoxLayout()
        self.body.setSpacing(10)
        main.addLayout(self.body, 1)
        main.addItem(QSpacerItem(0, 0, QSizePolicy.Policy.Minimum, QSizePolicy.Policy.Expanding))
        self.trouble = QVBoxLayout()
        main.addLayout(self.trouble)
        self.strip = KeyStrip(self.inks, bench=self.bench)
        main.addWidget(self.strip)
        self.column: QVBoxLayout | None = None
        self.column_widget: QWidget | None = None
        if column:
            self.column_rule = DoubleRule(self.inks)
            outer.addWidget(self.column_rule)
            holder = QWidget()
            holder.setFixedWidth(300)
            holder.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Expanding)
            self.column = QVBoxLayout(holder)
            self.column.setContentsMargins(0, 8, 0, 0)
            self.column.setSpacing(10)
            self.column_widget = holder
            outer.addWidget(holder)

    @property
    def low(self) -> bool:
        """Whether there is little height."""
        return self.height() < LOW_PX

    @property
    def narrow(self) -> bool:
        """Whether there is little width."""
        return self.width() < NARROW_PX

    def show_column(self, shown: bool) -> None:
        """Show the right column with its rule, or give its room to the page."""
        if self.column_widget is not None:
            self.column_rule.setVisible(shown)
            self.column_widget.setVisible(shown)

    def resizeEvent(self, event: object) -> None:
        if self.column_widget is not None:
            self.column_widget.setFixedWidth(next((px for most, px in COLUMN_PX.items() if self.width() < most), WIDE_COLUMN_PX))

    # ------------------------------------------------------------ leaving a panel out

    def leave_out_key(self, panel: Panel | None) -> tuple[Key, Callable[[], object]] | None:
        """The key that leaves this panel out, or counts it again; None where there is no panel."""
        known = None
        if self._left_out:  # what was left out last can be counted again, though the page has gone on
            known = next((p for p in self.desk.notebook.all(Panel) if p.id == self._left_out and p.spoiled), None)
        if panel is not None and panel.spoiled:
            known = panel
        if known is not None:
            return Key(LEAVE_CAP, "Count it again"), lambda: self._count_again(known)
        if panel is None:
            return None
        return Key(LEAVE_CAP, "Leave out"), lambda: self._ask_why(panel)

    def zone_key(self, panel: Panel | None) -> tuple[Key, Callable[[], object]] | None:
        """The key that leaves the zone of a panel's last mishap out of every reading, or counts it again; None where it has none."""
        run = self.desk.run()
        placed = zones.last_placed(run, panel) if run is not None and panel is not None else None
        if placed is None:
            return None
        return Key(ZONE_CAP, "Count its zone" if placed.zone_out else "Zone out"), lambda: zones.turn(self.desk, placed)

    def _ask_why(self, panel: Panel) -> None:
        if self._why is None:
            field = Field("another reason", self.inks, width_px=120)
            field.setMaximumWidth(10_000)
            self._why = WhyRow(self, field, left_out.REASONS, self.inks)
            self._why.said.connect(lambda reason: self.attempt(lambda: self._leave_out(reason)))
        self._leaving = panel
        self._why.ask(panel.code)

    def _leave_out(self, reason: str) -> None:
        panel = self._leaving
        if panel is None:
            return
        was = self.desk.notebook.get(Series, panel.series_id).state
        before, self._left_out = self._left_out, panel.id
        try:
            self.went_out(panel, counts=False)
            left_out.leave_out(self.desk, panel, reason)
        except DribbetError:
            self._left_out = before
            raise
        self.stop_asking()
        self._say_reopened(panel, was, window_words.LEFT_OUT(code=panel.code, reason=reason.strip(), key=LEAVE_CAP))

    def _count_again(self, panel: Panel) -> None:
        was = self.desk.notebook.get(Series, panel.series_id).state
        self._left_out = ""
        self.went_out(panel, counts=True)
        left_out.count_again(self.desk, panel)
        self._say_reopened(panel, was, window_words.COUNTS_AGAIN(code=panel.code))

    def _say_reopened(self, panel: Panel, was: SeriesState, words: str) -> None:
        series = self.desk.notebook.get(Series, panel.series_id)
        if was is SeriesState.DECIDED and series.state is not SeriesState.DECIDED:
            words += window_words.OPEN_AGAIN(name=series.name)
        self.say_note(words)

    def went_out(self, panel: Panel, *, counts: bool) -> None:
        """Called when a panel is about to be left out, or to count again."""

    def stop_asking(self) -> bool:
        """Take the question why away; True where it stood there."""
        asked = self._why is not None and self._why.isVisible()
        if self._why is not None:
            self._why.hide()
            self.setFocus()
        self._leaving = None
        return asked

    def digit(self, number: int) -> bool:
        """What a digit does: it answers what is asked on the page."""
        if self._why is not None and self._why.isVisible():
            return self._why.choose(number)
        own = getattr(self, "press_digit", None)
        return bool(own(number)) if own is not None else False

    # ------------------------------------------------------------ what subclasses do

    def refresh(self) -> None:
        """Ask the presenter what is so, and show it."""

    def entered(self) -> None:
        """Called when the page comes into view."""

    def busy(self) -> bool:
        """Whether something of it is still to come, beside the jobs."""
        return False

    def leave(self) -> None:
        """Called when another page comes into view."""

    # ------------------------------------------------------------ what all do

    def title(self, code: str, sentence: str, note: str = "") -> None:
        """Tape, sentence, and the line under it."""
        self.tape.set_code(code)
        self.sentence.say(sentence)
        self.subline.say(note)

    def keys(self, keys: Sequence[tuple[Key, Callable[[], object]]]) -> None:
        """Offer keys with what each does."""
        self.actions = {key.cap.lower(): act for key, act in keys}
        self.strip.offer([key for key, _ in keys])
        for button in self.strip.buttons[self._wired :]:  # each does what its cap says when it is pressed
            button.clicked.connect(lambda _=False, button=button: self.press(button.key.cap))
        self._wired = len(self.strip.buttons)

    def press(self, cap: str) -> bool:
        """Do what a key says; False where there is no such key, or it may not be pressed now."""
        button = self.strip.button_for(cap)
        act = self.actions.get(cap.lower())
        if act is None or (button is not None and not button.isEnabled()):
            return False
        self.attempt(act)
        return True

    def press_by_keyboard(self, cap: str) -> bool:
        """As `press`, but a second press within 0.6 s is ignored: wet gloves bounce."""
        if self._why is not None and self._why.isVisible():
            return True  # the keys lie under the question: only its answers, or Esc
        now = time.monotonic()
        if now - self._last_press < PRESS_GAP_S and cap.lower() in ("space", "enter"):
            return cap.lower() in self.actions
        done = self.press(cap)
        if done:
            self._last_press = now
            button = self.strip.button_for(cap)
            if button is not None:
                button._flashed()
        return done

    def attempt(self, act: Callable[[], object]) -> None:
        """Do something that may fail in words; the words stand above the keys until the next press."""
        self.say_trouble("")
        try:
            act()
        except DribbetError as error:
            self.say_trouble(str(error))
        else:
            self.done.emit()

    def say_trouble(self, words: str) -> None:
        """Show an error as a sentence with a stop bar."""
        clear(self.trouble)
        if words:
            head, _, rest = words.partition(". ")
            self.trouble.addWidget(RemarkRow(Remark(head + ("." if rest else ""), rest, Weight.STOP), self.inks, 16))

    def say_note(self, words: str) -> None:
        """Say what came of a press, in the same place, without a bar."""
        clear(self.trouble)
        head, _, rest = words.partition(". ")
        self.trouble.addWidget(RemarkRow(Remark(head + ("." if rest else ""), rest), self.inks, 16))

    def failed(self, error: Exception) -> None:
        """A job failed: words where it says words, an honest sentence otherwise."""
        if not isinstance(error, DribbetError):
            log.error("unexpected: %s", error, exc_info=error)
        self.say_trouble(in_words(error, None))

    def remarks(self, layout: QVBoxLayout, remarks: Sequence[Remark], px: int = 15) -> None:
        """Fill a column with sentences; leaves it alone where they are the same."""
        key = (tuple(remarks), px)
        if self._said.get(id(layout)) == key and layout.count():
            return
        self._said[id(layout)] = key
        for i, remark in enumerate(remarks):
            item = layout.itemAt(i)
            row = item.widget() if item is not None else None
            if isinstance(row, RemarkRow) and row.px == px and row.show_remark(remark):
                continue
            if item is not None and row is not None:
                layout.takeAt(i)
                row.hide()
                row.deleteLater()
            layout.insertWidget(i, RemarkRow(remark, self.inks, px))
        while layout.count() > len(remarks):
            left = layout.takeAt(layout.count() - 1)
            if left is not None and (widget := left.widget()) is not None:
                widget.hide()
                widget.deleteLater()


class Field(QLineEdit):
    """A place to type one figure or word; letters typed here are text, never keys."""

    def regrow(self) -> None:
        """Take the size that type has in this window now."""
        self.setFont(font(self._px, 600))
        self.setFixedWidth(grown(self._width_px))

    def text(self) -> str:
        """What was typed or pasted, without signs that nobody can see."""
        return "".join(sign for sign in super().text() if sign.isprintable() or sign == " ")[:MOST_TYPED]

    def __init__(self, name: str, inks: Inks = PAPER, *, px: int = 20, width_px: int = 130) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setPlaceholderText(name)
        self._px, self._width_px = px, width_px
        self.setMinimumHeight(44)
        self.regrow()
        self.setStyleSheet(
            f"QLineEdit {{ background: {PAPER.sheet.name()}; color: {PAPER.ink.name()}; "
            f"border: 2px solid {inks.ink.name()}; border-radius: 0; padding: 2px 8px; }}"
            f"QLineEdit:focus {{ border: 3px solid {inks.ink.name()}; }}"
        )
