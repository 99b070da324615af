"""Mix: the page. A cup that fills to scale, the scale's figure as large as the window allows, one key."""

from __future__ import annotations

import time
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QVBoxLayout, QWidget

from dribbet.bench.page import Field, Page
from dribbet.bench.parts.base import Words, scroller
from dribbet.bench.parts.card_row import CardRow
from dribbet.bench.parts.keys import Key
from dribbet.bench.parts.margin import clear
from dribbet.bench.parts.weighing import NowStrip, ScaleFigure
from dribbet.bench.stations.mix.parts import BatchList, BigCup, Tray
from dribbet.bench.stations.mix.presenter import MixPresenter, still_text
from dribbet.bench.stations.mix.view import MixView
from dribbet.devices import DeviceError, ScaleReading, SimulatedScale
from dribbet.records import DribbetError, Stream
from dribbet.words import bench as bench_words
from dribbet.words import mix as mix_words
from dribbet.words.parts import Remark, Weight
from dribbet.words.units import clock_text, units_of

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.bench.jobs import Jobs
    from dribbet.studio.desk import Desk

TICK_MS = 45  # a little over 20 readings a second
STEADY_TICKS = 3  # readings in a row, steady and on target, before a weight is taken by itself
AFTER_TAKING_S = 1.2  # a press within this of a weight that took itself meant the same weight
LIFTED_KG = 3e-3  # the scale shows this much less than the cup: it was lifted off to be stirred
JUMP_KG = 0.5e-3
MORE_THAN_DROPS_KG = 1e-3  # beyond drift and noise: something else was put in while drops were due
REST_TICK_S = 1.0
BENCH_PX = 480  # the least width for the figure, the strip and the tray
CONTAMINATED = mix_words.TYPE_WHY
CODE = mix_words.LIKE_A_CODE
PAINT = mix_words.GRAMS_OF_PAINT
FLOWS = (
    (Stream.WATER, "Like water"), (Stream.THREAD, "Thin thread"), (Stream.MOUND, "Small mound"), (Stream.ROPE, "Rope"), (Stream.FOLDS, "Folds"),
)  # fmt: skip
"""What the thread from the stick does, thin to thick, in words short enough for a key."""


class MixPage(Page):
    """The weighing bench."""

    bench = True
    slim = True

    def __init__(self, desk: Desk, jobs: Jobs) -> None:
        super().__init__(desk, jobs)
        self.presenter = MixPresenter(desk)
        self.view = MixView()
        self._base_kg = 0.0
        self._reading: ScaleReading | None = None
        self._before_loss: float | None = None
        self._lost = ""
        self._frozen = False
        self._on_target = 0
        self._took_s = -9.0
        self._rest_shown = 0.0
        self.more = False
        self.flowing = False
        self.listing = False
        self.reading_ledger = False
        self._offered: list[Key] = []
        self._asking: Callable[[str], object] | None = None
        self._asking_for = ""
        row = QHBoxLayout()
        row.setSpacing(24)
        self.cup = BigCup()
        row.addWidget(self.cup, 42)
        right = QVBoxLayout()
        right.setSpacing(8)
        self.reading, self.now = ScaleFigure(), NowStrip()
        right.addWidget(self.reading, 10)
        right.addWidget(self.now, 3)
        self.over = Words("", 26, 700)
        self.mend = Words("", 22, 500)
        self.then = Words("", 20, 400, role="note")
        self.facts = Words("", 18, 400, role="note")
        for words in (self.over, self.mend, self.then, self.facts):
            right.addWidget(words)
        typing = QHBoxLayout()
        self.typed = Field(mix_words.TYPE_THE_GRAMS, px=20, width_px=190)
        self.typed.returnPressed.connect(self._enter_typed)
        self.typed_note = Words("", 16, 400, role="note")
        typing.addWidget(self.typed)
        typing.addWidget(self.typed_note, 1, Qt.AlignmentFlag.AlignVCenter)
        right.addLayout(typing)
        self.cautions = QVBoxLayout()
        right.addLayout(self.cautions)
        right.addStretch(1)
        self.tray = Tray()
        self.tray.chosen.connect(lambda i: self.attempt(lambda: self._choose(i)))
        right.addWidget(self.tray)
        right.setContentsMargins(0, 0, 0, 0)
        bench = QWidget()
        bench.setMinimumWidth(BENCH_PX)
        bench.setLayout(right)
        row.addWidget(bench, 58)
        self.holder = QWidget()
        self.holder.setLayout(row)
        row.setContentsMargins(0, 0, 0, 0)
        self.body.addWidget(self.holder, 1)
        self.batches = BatchList()
        self.batches.chosen.connect(lambda i: self.attempt(lambda: self._choose(i)))
        sheet = QVBoxLayout()
        when = QHBoxLayout()
        self.pour_at = Field("pour at 14:30", px=20, width_px=190)
        self.pour_at.returnPressed.connect(self._pour_at_typed)
        self.pour_at_note = Words("", 16, 400, role="note")
        when.addWidget(self.pour_at)
        when.addWidget(self.pour_at_note, 1, Qt.AlignmentFlag.AlignVCenter)
        sheet.addLayout(when)
        self.care = QVBoxLayout()
        sheet.addLayout(self.care)
        self.batch_area = scroller(self.batches)
        sheet.addWidget(self.batch_area, 1)
        entries = QWidget()
        self.entries = QVBoxLayout(entries)
        self.entries.setContentsMargins(0, 0, 8, 0)
        self.entries.setSpacing(0)
        self.ledger_area = scroller(entries)
        sheet.addWidget(self.ledger_area, 1)
        sheet.setContentsMargins(0, 0, 0, 0)
        self.sheet = QWidget()
        self.sheet.setLayout(sheet)
        self.body.addWidget(self.sheet, 1)
        self.sheet.hide()
        self.timer = QTimer(self)
        self.timer.setInterval(TICK_MS)
        self.timer.timeout.connect(self.tick)

    def entered(self) -> None:
        self._zero()
        if not self._frozen:
            self.timer.start()

    def leave(self) -> None:
        self.timer.stop()

    def freeze(self, reading: ScaleReading | None, *, lost: str = "") -> None:
        """Show one reading and stay there (the tour and tests: no clock)."""
        self._frozen, self._reading, self._lost = True, reading, lost
        self.timer.stop()
        self._show_live()

    # ------------------------------------------------------------ showing

    def refresh(self) -> None:
        self.view = self.presenter.view()
        v = self.view
        if v.empty:
            self.title("", v.empty)
            self.tape.hide()
            self.holder.hide()
            self.sheet.hide()
            self.keys([(Key("Space", v.one_key), lambda: self.go.emit("ask"))])
            return
        self.holder.setVisible(not self.listing)
        self.sheet.setVisible(self.listing)
        if self.listing:
            self._show_ledger() if self.reading_ledger else self._show_list()
            return
        self.title(v.codes, v.title, "" if self.low else v.note_line)
        self.over.say("" if self.low else v.over)
        self.mend.say((f"{v.over}. {v.mend}" if self.low else v.mend) if v.over else "")
        self.then.say(v.note or ("" if self.low else v.mend_then))
        self.facts.say(f"{v.rest} {v.facts}".strip() if v.finished else "")
        self.tray.show_cups(v.tray, v.tray_note)
        self.remarks(self.cautions, [Remark("", v.caution, Weight.CAUTION)] if v.caution and not (self.low and v.over) else [], 16)
        self._show_typing()
        self._show_live()

    def _show_typing(self) -> None:
        v = self.view
        weighing = not v.finished and not v.act
        self.typed.setVisible(weighing or self._asking is not None)
        unit = "grams" if units_of(self.desk).mass == "g" else "ounces"
        self.typed.setPlaceholderText(self._asking_for if self._asking is not None else mix_words.OR_TYPE_HOW_MANY if v.drops else f"or type {unit}")
        practice = isinstance(self.desk.scale, SimulatedScale)
        note = "" if self.desk.scale is None else mix_words.PRACTICE_SCALE if practice else self.desk.scale.name
        asked = {
            CONTAMINATED: mix_words.WHAT_GOT_INTO_IT,
            CODE: mix_words.ASK_CODE,
            PAINT: mix_words.HOW_MUCH_IS_THERE,
        }
        self.typed_note.say(asked[self._asking_for] if self._asking is not None else (v.how or note) if weighing else "")

    def _part_of_sheet(self, *, ledger: bool) -> None:
        for part in (self.pour_at, self.pour_at_note, self.batch_area):
            part.setVisible(not ledger)
        self.ledger_area.setVisible(ledger)

    def _show_ledger(self) -> None:
        """What happened to the cup in hand, entry by entry."""
        self._part_of_sheet(ledger=True)
        self.remarks(self.care, [])
        told = self.presenter.ledger_lines()
        self.title(self.view.codes, (mix_words.WENT_IN if told else mix_words.NOTHING_WENT_IN)(title=self.view.title), self.view.facts)
        clear(self.entries)
        for head, text in told:
            self.entries.addWidget(CardRow(head, text, False))
        self.entries.addStretch(1)
        self.keys([(Key("Space", mix_words.BACK_TO_THE_CUP), self._back), (Key("Z", "Take back"), self.presenter.acts.take_back)])

    def _show_list(self) -> None:
        self._part_of_sheet(ledger=False)
        lines = self.presenter.list_of_batches()
        done = sum(b.state == "done" for b in lines)
        self.title("", mix_words.CUPS_ARE_MIXED(done=done, cups=len(lines)), mix_words.ONE_BATCH)
        when = self.presenter.pour_at()
        self.pour_at_note.say(mix_words.YOU_POUR_AT(time=self.desk.local(when)) if when else mix_words.SAY_WHEN_YOU_POUR)
        self.remarks(self.care, [Remark(head + ":", words, Weight.CAUTION) for head, words in self.presenter.checklist()], 15)
        self.batches.show_lines(lines)
        self.keys([(Key("Space", mix_words.BACK_TO_THE_CUP), self._back), (Key("Esc", "Back"), self._back)])

    def _added(self) -> float:
        """What the scale shows beyond the ledger: added, or with a minus taken out."""
        return self._reading.mass_kg - self._base_kg if self._reading is not None else 0.0

    def _show_live(self) -> None:
        v, units = self.view, units_of(self.desk)
        if v.empty or self.listing:
            return
        added, steady = self._added(), True
        if self.desk.scale is None or self._reading is None:
            self.reading.show_figure(units.mass_figure(v.already_kg), units.mass, (self._lost and "not answering") or "no scale")
        else:
            steady = self._reading.steady
            word = "too heavy" if self._reading.overload else self._reading.note or ("steady" if steady else "moving")
            shown = added if v.tare_each and not v.finished else v.already_kg + added
            self.reading.show_figure(units.mass_figure(shown), units.mass, word)
        poured = max(added, 0.0)
        self.cup.show_slices(v.slices, v.capacity_kg, 0.0 if v.act or v.taking_out else poured)
        self._show_now(added)
        self._offer(poured, steady)

    def _show_now(self, added: float) -> None:
        v, units = self.view, units_of(self.desk)
        if v.finished:
            left = v.rest_s
            self.now.say(v.add_name, v.add_hint, "rests" if left > 0 else "", clock_text(left) if left > 0 else "")
        elif v.act:
            self.now.say(v.add_name, v.add_hint, "", "")
        elif v.drops:
            self.now.say(v.add_name, v.add_hint, "count", str(v.drops))
        elif v.by_eye:
            self.now.say(v.add_name, v.add_hint, "so far" if v.eye_begun else "", v.eye_share if v.eye_begun else "")
        else:
            live = v.already_kg + added
            left = live - v.target_kg if v.taking_out else v.target_kg - live
            head = "still" if left >= -v.tolerance_kg else "over"
            hint = v.add_hint if left > v.tolerance_kg else mix_words.THAT_IS_IT if left >= -v.tolerance_kg else mix_words.TAKE_IT
            self.now.say(v.add_name, hint, head, still_text(units, v.target_kg, live))

    def _offer(self, poured: float, steady: bool) -> None:
        v, scale = self.view, self.desk.scale
        if self._asking is not None:
            words = {CONTAMINATED: "Flag this cup", CODE: mix_words.FILL_FROM_IT, PAINT: mix_words.SCALE_CUP_TO_IT}[self._asking_for]
            offered = [(Key("Space", words), lambda: self._asked(self.typed.text())), (Key("Esc", "Leave it"), self._leave_asking)]
        elif self.flowing:
            offered = [(Key(str(i), words), lambda k=kind: self._flows(k)) for i, (kind, words) in enumerate(FLOWS, start=1)]  # type: ignore[misc]
        elif self.more:
            offered = [
                (Key("Space", mix_words.BACK_TO_THE_CUP), self._back),
                (Key("B", "All cups"), self._list),
                (Key("E", "Ledger"), self._ledger),
                (Key("N", "Start anew"), lambda: self._then_back(self.presenter.acts.start_anew)),
                (Key("X", "Contaminated"), self._ask_reason),
            ]
            if v.already_kg > 0.0:
                offered.append((Key("S", "Store it"), self._store))
            else:
                offered.append((Key("U", "Use a bottle"), self._ask_bottle))
                offered.append((Key("H", "Paint in hand"), self._ask_paint))
        else:
            offered = [(self._one_key(poured, steady), self._space), (Key("Z", "Take back"), self.presenter.acts.take_back)]
            for choice in v.choices:
                act = self.presenter.acts.accept if choice.keeps else self.presenter.acts.take_out
                offered.append((Key(choice.digit, choice.words), act))
            if not v.choices:
                covered = v.is_covered
                if v.already_kg > 0.0 and not v.covered:
                    words = mix_words.COVER_OFF if covered else "Cover it" if v.finished else "Pause" if self.narrow else "Pause, cover"
                    offered.append((Key("P", words), self.presenter.acts.cover))
                if v.act and not v.covered:
                    offered.append((Key("L", "Lumps seen"), self.presenter.acts.lumps))
            if v.eye_begun:
                offered.append((Key("F", "How it flows"), self._ask_flow))
            if isinstance(scale, SimulatedScale) and not v.act and not v.finished:
                words = "Stop" if scale.pouring else "Take out" if v.taking_out else "Pour"
                offered.append((Key("D", words, hand=scale.pouring), self._pour))
            if len(offered) < 5:
                offered.append((Key("M", "More"), self._more))
        told = [k for k, _ in offered]
        if told != self._offered or told != [b.key for b in self.strip.buttons[: len(offered)]]:
            self._offered = told
            self.keys(offered)
            self.actions.setdefault("m", self._back if self.more else self._more)  # works where there is no room for its key

    def _one_key(self, poured: float, steady: bool) -> Key:
        v = self.view
        if v.act or v.finished or self.desk.scale is None or self._reading is None:
            return Key("Space", v.one_key)
        if not steady:
            return Key("Space", bench_words.WAIT_NOT_STEADY, busy=True)
        if v.taking_out:
            return Key("Space", v.one_key if self._added() < 0.0 else mix_words.TAKE_PAINT_OUT)
        if poured <= 0.0:
            return Key("Space", v.one_key if v.drops or v.eye_begun else "Pour it in")
        if v.by_eye:
            return Key("Space", mix_words.WEIGH_STEP_IN)
        return Key("Space", "Go on" if self.narrow and v.choices else v.one_key)

    def press_digit(self, digit: int) -> bool:
        """The offered ways out of an overshoot."""
        return self.press_by_keyboard(str(digit))

    # ------------------------------------------------------------ the scale

    def tick(self) -> None:
        """One reading; some twenty times a second."""
        scale = self.desk.scale
        if self.view.finished and self.view.rest_s > 0.0 and time.monotonic() - self._rest_shown >= REST_TICK_S:
            self._rest_shown = time.monotonic()
            before = self.view.rest_s
            self.view = self.presenter.view()
            if before > 0.0 >= self.view.rest_s:
                self._tone()
            self._show_now(self._added())
        if scale is None:
            return
        try:
            reading = scale.read(time.monotonic())
        except DeviceError as error:
            if not self._lost:
                self._before_loss = self._reading.mass_kg if self._reading is not None else None
                self._lost = str(error)
                self.say_trouble(self._lost)
            self._reading = None
        else:
            self._reading = reading
            if self._lost:
                self._back_again(reading)
            self._take_by_itself()
        self._show_live()

    def _back_again(self, reading: ScaleReading) -> None:
        """The scale answers again: it goes on where it was, or from the cup as it is logged where its zero is another one."""
        self._lost = ""
        jumped = self._before_loss is None or reading.mass_kg < self._before_loss - JUMP_KG
        if jumped:
            self._base_kg = reading.mass_kg
            self.say_note(mix_words.SCALE_IS_BACK)
        else:
            self.say_trouble("")

    def _take_by_itself(self) -> None:
        """Take a weight that stands steady within the tolerance; a hand that is in the paint need not press."""
        v, reading = self.view, self._reading
        if (
            reading is None
            or v.empty
            or v.act
            or v.finished
            or v.taking_out
            or v.by_eye
            or v.drops
            or not v.take_when_steady
            or self.listing
            or self.more
        ):
            return
        near = abs(v.target_kg - v.already_kg - self._added()) <= v.tolerance_kg
        pouring = isinstance(self.desk.scale, SimulatedScale) and self.desk.scale.pouring
        enough = self._added() > v.tolerance_kg  # an ingredient smaller than the tolerance is taken by a press
        self._on_target = self._on_target + 1 if reading.steady and near and enough and not pouring and not reading.overload else 0
        if self._on_target >= STEADY_TICKS:
            self._on_target = 0
            self._took_s = time.monotonic()
            self.attempt(lambda: self._enter_reading(self._added()))
            self._tone()

    def _tone(self) -> None:
        if self.desk.rules.tone:
            QApplication.beep()

    def _zero(self) -> None:
        scale = self.desk.scale
        if scale is not None:
            try:
                self._reading = scale.read(time.monotonic())
                self._base_kg = self._reading.mass_kg
            except DeviceError:
                self._reading = None

    def _pour(self) -> None:
        scale = self.desk.scale
        if isinstance(scale, SimulatedScale):
            if scale.pouring:
                scale.stop()
            elif self.view.taking_out:
                scale.put(self.view.target_kg - self.view.already_kg)
            elif not self.view.finished:
                left = self.view.target_kg - self.view.already_kg
                scale.pour(max(2.5e-3, min(9e-3, left / 3.0)))
            self._show_live()

    # ------------------------------------------------------------ presses

    def _space(self) -> None:
        v = self.view
        if v.act:
            self._acted()
            return
        if v.finished:
            self.presenter.acts.finish()
            if self.presenter.all_done():
                self.go.emit("check")
            self._empty_scale()
            return
        if self._reading is None:
            self._enter_typed()
            return
        if self._reading.overload:
            raise DribbetError(mix_words.MORE_THAN_THE_SCALE_WEIGHS)
        if not self._reading.steady or time.monotonic() - self._took_s < AFTER_TAKING_S:
            return
        if v.drops:  # always counted: drops weigh less than a scale drifts
            self._count()
            return
        if self._added() <= self.desk.rules.tolerance_kg and v.eye_begun:
            self.presenter.acts.looks_right()
            self._base_kg = self._reading.mass_kg
            return
        self._enter_reading(-self._added() if v.taking_out else self._added())

    def _count(self) -> None:
        """Take the drops as planned, unless the scale says that something else went in."""
        added, drops = self._added(), self.view.target_kg - self.view.already_kg
        if added > MORE_THAN_DROPS_KG + drops:
            units = units_of(self.desk)
            raise DribbetError(mix_words.MORE_THAN_DROPS_WEIGH(mass=units.mass_text(added), drops_mg=drops * 1e6))
        self.presenter.acts.count_drops()
        if self._reading is not None:
            self._base_kg = self._reading.mass_kg

    def _acted(self) -> None:
        """A stir is done; the cup must stand on the scale again before anything goes on."""
        if self._reading is not None and not self.view.finished:
            if self._added() < -LIFTED_KG:
                raise DribbetError(mix_words.CUP_NOT_ON_THE_SCALE)
            if not self._reading.steady and not self._lost:
                return
        self.presenter.acts.acted()
        if self._reading is not None:
            self._base_kg = self._reading.mass_kg
        self._show_live()

    def _enter_reading(self, added: float) -> None:
        practice = isinstance(self.desk.scale, SimulatedScale)
        reading = self._reading
        self.presenter.acts.enter(added, "practice scale" if practice else "scale")
        if reading is not None:
            self._base_kg = reading.mass_kg
        scale = self.desk.scale
        if self.view.tare_each and scale is not None:
            try:
                scale.tare(time.monotonic())
                self._base_kg = 0.0
                self._reading = scale.read(time.monotonic())
            except DeviceError as error:
                self.say_trouble(str(error))
        self._show_live()

    def _empty_scale(self) -> None:
        scale = self.desk.scale
        if isinstance(scale, SimulatedScale):
            scale.clear()
        self._base_kg = 0.0
        if scale is not None:
            try:
                scale.tare(time.monotonic())
            except DeviceError as error:  # said by the next reading too; the grams can be typed meanwhile
                self.say_trouble(str(error))

    def _enter_typed(self) -> None:
        if self._asking is not None:
            self._asked(self.typed.text())
            return

        def enter() -> None:
            text = self.typed.text()
            if not text.strip() and (self.view.drops or self.view.eye_begun):
                self.presenter.acts.count_drops() if self.view.drops else self.presenter.acts.looks_right()
                return
            if not text.strip():
                raise DribbetError(mix_words.NO_GRAMS)
            self.presenter.typed(text)
            self.typed.clear()
            self.setFocus()
            self._zero()

        self.attempt(enter)

    def _choose(self, mix_id: str) -> None:
        self.listing = self.more = False
        self.presenter.acts.choose(mix_id)
        self._empty_scale()

    def _more(self) -> None:
        self.more = True
        self._show_live()

    def _ask_flow(self) -> None:
        self.flowing = True
        self._show_live()

    def _flows(self, stream: Stream) -> None:
        self.flowing = False
        self.presenter.acts.looks(stream)
        self.refresh()

    def _back(self) -> None:
        self.flowing = self.more = self.listing = self.reading_ledger = False
        self.refresh()

    def _list(self) -> None:
        self.listing, self.reading_ledger, self.more = True, False, False
        self.refresh()

    def _ledger(self) -> None:
        self.listing, self.reading_ledger, self.more = True, True, False
        self.refresh()

    def _then_back(self, act: Callable[[], object]) -> None:
        self.more = False
        act()
        self._zero()
        self.refresh()

    def _store(self) -> None:
        bottle = self.presenter.acts.store()
        self.more = False
        self.refresh()
        self.say_note(mix_words.BOTTLED(code=bottle.code))

    def _ask_bottle(self) -> None:
        self._asking, self._asking_for = self.presenter.acts.use_bottle, CODE
        self.refresh()
        self.typed.setFocus()

    def _ask_paint(self) -> None:
        self._asking, self._asking_for = lambda text: self.say_note(self.presenter.scale_to_paint(text)), PAINT
        self.refresh()
        self.typed.setFocus()

    def _ask_reason(self) -> None:
        self._asking, self._asking_for = self.presenter.acts.contaminate, CONTAMINATED
        self.refresh()
        self.typed.setFocus()

    def _asked(self, text: str) -> None:
        act, self._asking, self.more = self._asking, None, False
        self.typed.clear()
        self.setFocus()
        if act is not None:
            self.attempt(lambda: act(text))
        self.refresh()

    def _leave_asking(self) -> None:
        self._asking, self.more = None, False
        self.typed.clear()
        self.refresh()

    def _pour_at_typed(self) -> None:
        def take() -> None:
            self.presenter.set_pour_at(self.pour_at.text())
            self.pour_at.clear()
            self.setFocus()

        self.attempt(take)
