"""Pour: the page. A clock that reads across the room, the steps on one bench line, the film gauge."""

from __future__ import annotations

import math
import time
from typing import TYPE_CHECKING, Final

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, QTimer
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout

from dribbet.bench.page import Field, Page
from dribbet.bench.parts.base import DrawnPart, Words, draw_figure, draw_text
from dribbet.bench.parts.cup import CupView, draw_cup, layer_heights
from dribbet.bench.parts.film_gauge import FilmGauge
from dribbet.bench.parts.keys import Key, KeyButton
from dribbet.bench.parts.tape import draw_strip
from dribbet.bench.stations.pour.marks import MishapButton, PanelOutline
from dribbet.bench.stations.pour.presenter import PourPresenter, PourView, StepView
from dribbet.bench.stations.pour.sketches import draw_step
from dribbet.bench.theme.inks import BLACK, TAPE
from dribbet.bench.theme.patterns import polyline, solid
from dribbet.bench.theme.type import fitting_px, width
from dribbet.devices import DeviceError, ScaleReading
from dribbet.records import MISHAPS, SIGNS, MishapKind, Step
from dribbet.records.wording import first_up
from dribbet.studio.acts.stills import small
from dribbet.words import bench as bench_words
from dribbet.words import pour as pour_words
from dribbet.words.parts import Remark, Weight
from dribbet.words.units import units_of

if TYPE_CHECKING:
    from collections.abc import Callable

    from PyQt6.QtGui import QPainter

    from dribbet.bench.jobs import Jobs
    from dribbet.records import Panel, Report, StepMark
    from dribbet.studio.desk import Desk

TICK_MS = 200


TICK_PX = 84
DAY_S = 86_400.0
TICK_STEPS_S = (60.0, 120.0, 300.0, 600.0, 900.0, 1800.0, 3600.0, 7200.0, 10_800.0, 21_600.0, 43_200.0, DAY_S)


class LayeredCup(DrawnPart):
    """The cup to pour, with each layer's grams on a leader."""

    def __init__(self) -> None:
        super().__init__()
        self.layers: tuple[tuple[str, str, float, str], ...] = ()
        self.note = ""
        self.ticked = 0
        self.names = True
        self.setMinimumSize(240, 160)

    def sizeHint(self) -> QSize:
        return QSize(360, 240)

    def show_layers(self, layers: tuple[tuple[str, str, float, str], ...], note: str, ticked: int = 0) -> None:
        if (layers, note, ticked) == (self.layers, self.note, self.ticked):
            return
        self.layers, self.note, self.ticked = layers, note, ticked
        self.name("Cup", ", ".join(f"{n} {g}{', in' if i < ticked else ''}" for i, (n, g, _, _) in enumerate(layers)) + ". " + note)
        self.update()

    def draw(self, p: QPainter) -> None:
        tall = self.height() - 46.0
        cup = QRectF(8, 8, min(tall * 0.72, 150), tall)
        view = CupView(layers=tuple((h, s) for _, _, s, h in self.layers))
        draw_cup(p, cup, view, self.inks, wall=4)
        pitch = min(34.0, tall / max(len(self.layers), 1))
        edges = layer_heights(view, cup.height())
        for i, ((name, grams, _, _), (low, high)) in enumerate(zip(self.layers, edges, strict=True)):
            y = cup.bottom() - pitch * (i + 0.5) - (tall - pitch * len(self.layers)) / 2
            at = cup.bottom() - (low + high) / 2 * cup.height()
            p.setPen(solid(BLACK, 1.8))
            polyline(p, [QPointF(cup.right() - 16, at), QPointF(cup.right() + 6, at), QPointF(cup.right() + 20, y)])
            draw_text(p, QRectF(cup.right() + 26, y - 14, 56, 28), grams, 20, 700, BLACK)
            if i < self.ticked:  # it is in: a tick over its end of the leader
                p.setPen(solid(BLACK, 3))
                polyline(p, [QPointF(cup.right() - 30, at), QPointF(cup.right() - 24, at + 7), QPointF(cup.right() - 12, at - 8)])
            room = self.width() - cup.right() - 90
            if room > 90:
                draw_text(p, QRectF(cup.right() + 84, y - 14, room, 28), name, 17, 400, self.inks.note)
        draw_text(p, QRectF(8, self.height() - 28, self.width(), 26), self.note, 16, 400, self.inks.note)


class Clock(DrawnPart):
    """Time left, as large as the room allows."""

    def __init__(self) -> None:
        super().__init__()
        self.head, self.figure = "", ""
        self.setMinimumSize(200, 150)

    def show_time(self, head: str, figure: str) -> None:
        if (head, figure) != (self.head, self.figure):
            self.head, self.figure = head, figure
            self.name(f"{head} {figure}")
            self.update()

    def draw(self, p: QPainter) -> None:
        draw_text(p, QRectF(0, 0, self.width(), 32), self.head, 24, 500, self.inks.note)
        room = QRectF(0, 40, self.width() - 8, self.height() - 48)
        px = fitting_px(self.figure, room, 236)
        draw_figure(p, -px * 0.03, room, self.figure, px, self.inks.ink)


BANKS: Final = (MISHAPS[:5], MISHAPS[5:10], SIGNS)
NEXT_BANK: Final = ("More", "Runs?", "Mishaps")
MOST_KEYS: Final = 5
NAMES_PX: Final = 66.0
"""Room under the bench for the names of the steps and what is said of each."""
UNDER_PX: Final = 118.0
"""The same with the time axis."""
AXIS_FROM_PX: Final = 190
DONE_PX = 32  # of a step that is done, with the gaps beside it
NAME_GAP_PX = 10  # between the names of two steps


class BenchLine(DrawnPart):
    """Steps side by side on one bench line, with sketches seen from the side."""

    def __init__(self) -> None:
        super().__init__()
        self.steps: tuple[StepView, ...] = ()
        self.layers: tuple[tuple[str, float], ...] = ()
        self.elapsed_s = 0.0
        self._pictures: dict[bytes, QPixmap] = {}
        self.setMinimumHeight(160)
        self.setMaximumHeight(300)

    def sizeHint(self) -> QSize:
        return QSize(900, 230)

    def show_steps(self, steps: tuple[StepView, ...], layers: tuple[tuple[str, float], ...], elapsed_s: float) -> None:
        self.steps, self.layers, self.elapsed_s = steps, layers, elapsed_s
        self.name("Steps", ", ".join(f"{s.name}: {s.state}, {s.note}" for s in steps))
        self.update()

    def draw(self, p: QPainter) -> None:
        if not self.steps:
            return
        bench = self.height() - (UNDER_PX if self._tall() else NAMES_PX)
        wide = self.width() / len(self.steps)
        for i, s in enumerate(self.steps):
            if s.state == "now":
                draw_strip(p, QRectF(i * wide + 6, 0, wide - 12, bench + 62), s.step, self.inks.tape, self.inks.crepe)
        p.setPen(solid(self.inks.ink, 4))
        p.drawLine(QPointF(0, bench), QPointF(self.width(), bench))
        name_px = 19 if max(width(s.name, 19, 700) for s in self.steps) < wide - NAME_GAP_PX else 16
        stands = any(s.step == Step.STAND for s in self.steps)  # an open cup is never turned over
        for i, s in enumerate(self.steps):
            x = (i + 0.5) * wide
            if s.still and s.state != "planned":
                self._still(p, s.still, QRectF(i * wide + 8, 4, wide - 16, bench - 10))
            else:
                draw_step(p, s.step, x, bench, min(1.0, (bench - 6) / 84), self.layers, stands=stands)
            draw_text(
                p,
                QRectF(i * wide, bench + 6, wide, 28),
                s.name,
                name_px,
                700 if s.state != "planned" else 600,
                BLACK,
                Qt.AlignmentFlag.AlignHCenter,
            )
            note = s.note if width(s.note, 16) + DONE_PX <= wide else pour_words.STATES.get(s.state, s.note)
            if s.state == "done":
                half = width(note, 16) / 2
                p.setPen(solid(BLACK, 2.6))
                polyline(p, [QPointF(x - half - 22, bench + 47), QPointF(x - half - 17, bench + 53), QPointF(x - half - 7, bench + 40)])
            draw_text(
                p,
                QRectF(i * wide, bench + 33, wide, 26),
                note,
                16,
                400,
                BLACK if s.state == "now" else self.inks.note,
                Qt.AlignmentFlag.AlignHCenter,
            )
        if self._tall():
            self._axis(p, bench + 74)

    def _tall(self) -> bool:
        """Whether there is room for the time axis under the names."""
        return self.height() >= AXIS_FROM_PX

    def _still(self, p: QPainter, jpeg: bytes, room: QRectF) -> None:
        """What the camera saw as the step began, in a thin frame."""
        picture = self._pictures.get(jpeg)
        if picture is None:
            picture = QPixmap()
            picture.loadFromData(jpeg, "JPG")
            self._pictures = {k: v for k, v in self._pictures.items() if any(s.still == k for s in self.steps)} | {jpeg: picture}
        if picture.isNull():
            return
        scale = min(room.width() / picture.width(), room.height() / picture.height())
        box = QRectF(0, 0, picture.width() * scale, picture.height() * scale)
        box.moveCenter(room.center())
        box.moveBottom(room.bottom())
        p.setRenderHint(p.RenderHint.SmoothPixmapTransform)
        p.drawPixmap(box, picture, QRectF(picture.rect()))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(solid(self.inks.ink, 1.5))
        p.drawRect(box)

    def _axis(self, p: QPainter, y: float) -> None:
        total = max(sum(s.planned_s for s in self.steps), self.elapsed_s, 60.0)

        def x_of(seconds: float) -> float:
            return seconds / total * (self.width() - 2)

        at = 0.0
        for i, s in enumerate(self.steps):
            begun = s.begun_s if s.begun_s is not None else max(at, self.elapsed_s if any(q.begun_s is not None for q in self.steps) else 0.0)
            after = next((q.begun_s for q in self.steps[i + 1 :] if q.begun_s is not None), None)
            end = after if after is not None else begun + s.planned_s
            box = QRectF(x_of(begun), y, max(x_of(end) - x_of(begun) - 2, 2), 14)
            if s.state == "done":
                p.fillRect(box, BLACK)
            elif s.state == "now":
                p.fillRect(QRectF(box.left(), y, max(x_of(min(self.elapsed_s, end)) - box.left(), 0), 14), BLACK)
                p.fillRect(QRectF(x_of(min(self.elapsed_s, end)), y, max(box.right() - x_of(min(self.elapsed_s, end)), 0), 14), TAPE)
            else:
                p.fillRect(box, self.inks.sheet)
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(solid(self.inks.ink, 1.5))
            p.drawRect(box)
            at = end
        for seconds, label in axis_ticks(total, self.width()) if y + 44 <= self.height() else []:
            x = x_of(seconds)
            p.setPen(solid(self.inks.ink, 2))
            p.drawLine(QPointF(max(x, 1), y + 16), QPointF(max(x, 1), y + 24))
            first = seconds == 0
            draw_text(
                p,
                QRectF(x - (0 if first else 40), y + 24, 90 if first else 80, 20),
                label,
                14,
                400,
                self.inks.note,
                Qt.AlignmentFlag.AlignLeft if first else Qt.AlignmentFlag.AlignHCenter,
            )


def axis_ticks(total_s: float, width_px: float) -> list[tuple[float, str]]:
    """Seconds and words of the marks on a time axis: round times, no nearer to each other than their words are wide."""
    room = max(int(width_px // TICK_PX), 1)
    step = next((s for s in TICK_STEPS_S if total_s / s <= room), DAY_S * math.ceil(total_s / DAY_S / room))

    def words(seconds: float) -> str:
        if step >= DAY_S:
            return f"{seconds / DAY_S:.0f} d"
        return f"{seconds / 3600.0:g} h" if step >= 1800.0 else f"{seconds / 60.0:.0f} min"

    return [(0.0, "start"), *((n * step, words(n * step)) for n in range(1, int(total_s // step) + 1))]


class PourPage(Page):
    """One pour."""

    bench = True
    slim = True

    def __init__(self, desk: Desk, jobs: Jobs) -> None:
        super().__init__(desk, jobs)
        self.presenter = PourPresenter(desk)
        self.view = PourView()
        top = QHBoxLayout()
        top.setSpacing(14)
        self.cup, self.clock, self.gauge = LayeredCup(), Clock(), FilmGauge()
        top.addWidget(self.cup, 31)
        top.addWidget(self.clock, 45)
        top.addWidget(self.gauge, 24)
        self.body.addLayout(top, 10)
        self.bench_line = BenchLine()
        self.body.addWidget(self.bench_line, 8)
        self.cautions = QVBoxLayout()
        self.body.addLayout(self.cautions)
        row = QHBoxLayout()
        row.setSpacing(10)
        words = QVBoxLayout()
        self.mishap_head = Words("Mishap?", 19, 700)
        self.mishap_note = Words(pour_words.TOUCH_THEN_WHERE, 16, 400, role="note")
        words.addWidget(self.mishap_head)
        words.addWidget(self.mishap_note)
        words.addStretch(1)
        row.addLayout(words, 2)
        self.buttons = [MishapButton(i + 1, kind) for i, kind in enumerate(BANKS[0])]
        for button in self.buttons:
            button.clicked.connect(lambda _=False, b=button: self.attempt(lambda: self.presenter.mishap(b.kind)))
            row.addWidget(button, 3)
        self.more = KeyButton(bench=True)
        self.more.clicked.connect(self._other_marks)
        row.addWidget(self.more, 2)
        self.outline = PanelOutline()
        self.outline.touched.connect(lambda x, y, reach: self.attempt(lambda: self.presenter.place(x, y, reach)))
        row.addWidget(self.outline)
        self.typed = Field(pour_words.TYPE_THE_GRAMS, px=20, width_px=200)
        self.typed.returnPressed.connect(self._space)
        row.addWidget(self.typed)
        self.body.addLayout(row, 2)
        self.bank = 0
        """Which marks the five buttons stand for: mishaps, further mishaps, or signs of too thick or too thin."""
        self._leaves: object = None
        self._blind = False
        """Whether the camera did not answer when a step began."""
        self._reading: ScaleReading | None = None
        self.timer = QTimer(self)
        self.timer.setInterval(TICK_MS)
        self.timer.timeout.connect(self.tick)
        self._frozen = False

    def entered(self) -> None:
        if not self._frozen:
            self.timer.start()

    def leave(self) -> None:
        self.timer.stop()

    def freeze(self) -> None:
        self._frozen = True
        self.timer.stop()

    def tick(self) -> None:
        """The clock runs; a weight is read where one is wanted."""
        if self.view.need and self.desk.scale is not None:
            try:
                self._reading = self.desk.scale.read(time.monotonic())
            except DeviceError:
                self._reading = None
        self._show()

    def refresh(self) -> None:
        self._show()

    def _show(self) -> None:
        self.view = v = self.presenter.view()
        parts = [self.cup, self.clock, self.gauge, self.bench_line, self.mishap_head, self.more, *self.buttons]
        for part in parts:
            part.setVisible(not v.empty)
        self.mishap_note.setVisible(not v.empty)
        self.title(v.code, v.sentence, f"{v.recipe} {v.ready}".strip())
        if v.empty:
            for part in (self.typed, self.outline):
                part.hide()
            empty: list[tuple[Key, Callable[[], object]]] = [(Key("Space", v.one_key), lambda: self.go.emit(v.leads))]
            self._leaves = None
            self.keys(empty + ([(Key("Y", pour_words.BEFORE), self.presenter.look_back)] if v.before else []))
            return
        self.cup.show_layers(v.layers, v.layers_note, v.ticked)
        self.clock.show_time(v.clock_head, v.clock)
        self.gauge.show_gauge(v.gauge)
        self.bench_line.show_steps(v.steps, tuple((h, s) for _, _, s, h in v.layers), v.elapsed_s)
        for button, kind in zip(self.buttons, BANKS[self.bank], strict=True):
            button.offer(kind)
        signs = self.bank == len(BANKS) - 1
        self.mishap_head.say("How it runs" if signs else "Mishap?")
        asked = pour_words.ONE_PRESS_AT_THE_MOMENT if signs else pour_words.TOUCH_THEN_WHERE
        where = pour_words.TOUCH_AND_DRAW
        self.mishap_head.setVisible(not (self.narrow and (v.zone_words or v.touching)))
        self.mishap_note.say(where if v.placing else v.zone_words or first_up(", ".join(v.mishaps)) or asked)
        run, panel = self.desk.need_run(), v.panel
        if panel is not None:
            wide, high = run.sheet_mm(panel)
            self.outline.show_zones(v.zones, wide / high, asking=v.touching, round_face=run.is_round(panel))
        self.outline.setVisible(bool(v.touching or v.zones))
        typed = pour_words.PRODUCT_HOW_MUCH if v.noting else "mm in 1 m: 2, -1" if v.levelling else "" if v.need else v.asked
        self.typed.setVisible(bool(v.need or typed))
        self.typed.setPlaceholderText(typed or pour_words.TYPE_THE_GRAMS)
        self.typed.setFixedWidth(300 if typed and self.width() > 1150 else 200)
        self.more.set_key(Key("S", NEXT_BANK[self.bank]))
        self.more.setFixedWidth(self.more.natural_width())
        crowded = (bool(v.need or typed) + self.outline.isVisibleTo(self)) * (1 if self.width() > 1150 else 2)
        for button in self.buttons:
            button.setVisible(True)
        for button in self.buttons[max(5 - crowded - (self.width() < 1150), 2) :]:
            button.setVisible(False)
        if [v.caution] != getattr(self, "_cautions", None):
            self._cautions = [v.caution]
            self.remarks(self.cautions, [Remark("", v.caution, Weight.CAUTION)] if v.caution else [], 17)
        words = v.one_key
        if v.need and self._reading is not None and self._reading.mass_kg > 0.01:
            words = f"Take {units_of(self.desk).mass_text(self._reading.mass_kg)}" if self._reading.steady else bench_words.WAIT_NOT_STEADY
        keys = [
            Key("Space", words),
            Key("Z", "Take back", why_not="" if v.can_take_back else pour_words.NOTHING_TO_TAKE_BACK_YET),
        ]
        if v.unmixed:
            keys.append(Key("W", "From elsewhere"))
        most = MOST_KEYS - self.narrow
        acts: list[Callable[[], object]] = [
            self._space,
            self.presenter.take_back,
            *([self.presenter.from_elsewhere] if v.unmixed else []),
        ]
        more: list[tuple[bool, Key, Callable[[], object]]] = [
            (not v.empty and not v.unmixed and v.steps[0].begun_s is None and not v.need, Key("L", "Level"), self.presenter.ask_level),
            (v.past, Key("Y", pour_words.BEFORE), self.presenter.look_back),
            (v.steps[0].begun_s is None, Key("G", "See it turn"), lambda: self.go.emit("turning")),
            (self.bank == 1, Key("U", "Other product"), lambda: self.presenter.mishap(MishapKind.SUBSTITUTED)),
            (bool(v.layer), Key("K", v.layer), self.presenter.layer_in),
            (bool(v.as_last), Key("C", f"All as {v.as_last}"), self.presenter.layers_as_last),
            (bool(v.ran_off), Key("R", f"Keep {v.ran_off} run-off"), lambda: self.say_note(self.presenter.keep_run_off())),
            (bool(v.again), Key("A", f"{v.again} again"), self.presenter.again),
            *([(True, *zone)] if (zone := self.zone_key(v.panel)) is not None else []),
            (v.before and not v.past and v.steps[0].begun_s is None, Key("Y", pour_words.BEFORE), self.presenter.look_back),
            (bool(v.over), Key("N", f"No {v.over[:1].lower()}{v.over[1:].split(',')[0]}"), self.presenter.pass_over),
        ]
        for offered_now, key, act in more:
            if offered_now and len(keys) < most:
                keys.append(key)
                acts.append(act)
        leave = self.leave_out_key(v.panel) if len(keys) < most - bool(v.layer) else None
        offered = [*keys, *([leave[0]] if leave else [])]
        if [b.key for b in self.strip.buttons[: len(offered)]] != offered or self._leaves != (v.panel, offered[-1]):
            self._leaves = (v.panel, offered[-1])
            self.keys([*zip(keys, acts, strict=True), *([leave] if leave else [])])
            self.actions["s"] = self._other_marks  # its key stands beside the marks
            if v.before:
                self.actions.setdefault("y", self.presenter.look_back)

    def went_out(self, panel: Panel, *, counts: bool) -> None:
        self.desk.take("pour", panel.id if counts else "")

    def _other_marks(self) -> None:
        self.bank = (self.bank + 1) % len(BANKS)
        self._show()

    def press_digit(self, digit: int) -> bool:
        """Digits 1 to 5 are the mishaps."""
        if self.view.empty or not 1 <= digit <= len(self.buttons):
            return False
        self.attempt(lambda: self.presenter.mishap(self.buttons[digit - 1].kind))
        return True

    def _space(self) -> None:
        told = self.typed.text().strip()
        if told and not self.view.need and self.typed.isVisible():
            self.attempt(lambda: self._tell(told))
            return
        if self.view.unmixed and not self.view.need:
            self.go.emit("mix")
            return

        def go() -> None:
            kg = None
            if self.view.need:
                text = self.typed.text().strip()
                if text:
                    from dribbet.records import DribbetError

                    try:
                        kg = units_of(self.desk).mass_kg(text)
                    except ValueError:
                        raise DribbetError(pour_words.NO_WEIGHT(text=text)) from None
                elif self._reading is not None and self._reading.steady:
                    kg = self._reading.mass_kg
            before = self.presenter.to_see()
            self.presenter.advance(kg, "scale")
            self.typed.clear()
            self.setFocus()
            seen = self.presenter.to_see()
            if seen is not None and seen != before:
                self._look(*seen)

        self.attempt(go)

    def _look(self, mark: StepMark, code: str) -> None:
        """Take a still of the step that begins, beside the window; a camera that does not answer is told of once."""
        camera = self.desk.camera
        assert camera is not None

        def work(_: Report) -> str:
            frame = camera.still(code, str(mark.step))
            return small(frame.data) if frame is not None else ""

        def done(jpeg: object) -> None:
            self._blind = False
            if jpeg:
                self.attempt(lambda: self.presenter.saw(mark, str(jpeg)))

        def failed(error: Exception) -> None:
            if not self._blind:
                self._blind = True
                self.failed(error)

        self.jobs.start(work, done, failed)

    def _tell(self, told: str) -> None:
        self.presenter.tell(told)
        self.typed.clear()
        self.setFocus()
