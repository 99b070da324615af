"""Mix: the page. A cup that fills to scale, the scale's figure as large as the window allows, one key."""

from __future__ import annotations

import time
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QPainter
from PyQt6.QtWidgets import QAbstractButton, QHBoxLayout, QVBoxLayout, QWidget

from dribbet.bench.page import Field, Page
from dribbet.bench.parts.base import Part, Words, draw_figure, draw_focus, draw_text
from dribbet.bench.parts.cup import WATER, CupState, CupView, band, draw_cup, outline
from dribbet.bench.parts.keys import Key
from dribbet.bench.parts.margin import Remark, Weight
from dribbet.bench.parts.tape import draw_strip
from dribbet.bench.stations.mix.presenter import TOLERANCE_KG, MixPresenter, MixView, Slice, TrayCup, still_text
from dribbet.bench.theme.inks import BLACK
from dribbet.bench.theme.patterns import dashed, hatch, solid, waves
from dribbet.bench.theme.type import fitting_px, font, width
from dribbet.devices import DeviceError, ScaleReading, SimulatedScale

if TYPE_CHECKING:
    from dribbet.bench.jobs import Jobs
    from dribbet.bench.studio import Studio

TICK_MS = 45  # a little over 20 readings a second


class BigCup(Part):
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
            if s.state == "over":
                surplus = min(0.4, 0.2) * (top - at)
                hatch(p, band(cup, top - surplus, top), BLACK, gap=6, line=2)
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
        p.fillPath(path, QColor("#FFFFFF") if colour == WATER else QColor(colour))  # type: ignore[arg-type]
        if colour == WATER:
            waves(p, path, QColor("#6A6A6A"), gap=12)  # type: ignore[arg-type]

    def _labels(self, p: QPainter, cup: QRectF, places: list[tuple[Slice, float]]) -> None:
        left, px = cup.right() + 26, 19
        pitch, bottom = 30.0, cup.bottom()
        wanted = [cup.bottom() - h * cup.height() for _, h in places]
        placed: list[float] = []
        for y in wanted:  # from below upwards, never closer than a line
            placed.append(min(y, (placed[-1] - pitch) if placed else bottom - 8))
        lift = min(placed[-1] - 20.0, 0.0) if placed else 0.0
        for i in range(len(placed)):
            placed[i] -= lift if placed[i] - lift <= wanted[i] + 200 else 0.0
        for (s, h), y, label in zip(places, wanted, placed, strict=True):
            inset = cup.width() * 0.13 * (1 - h)
            p.setPen(solid(BLACK, 2))
            p.drawPolyline([QPointF(cup.right() - inset - 26, y), QPointF(cup.right() - inset + 12, y), QPointF(left - 4, label)])
            x = left
            if s.state == "done":
                p.setPen(solid(BLACK, 2.8))
                p.drawPolyline([QPointF(x, label + 1), QPointF(x + 6, label + 8), QPointF(x + 17, label - 8)])
                x += 25
            if s.state == "over":
                hatch(p, QRectF(x, label - 9, 18, 18), BLACK, gap=5, line=2)
                x += 25
            weight, size = 700 if s.state == "now" else 500, px
            while size > 14 and x + width(s.name, size, 700) + 8 + width(s.text, size, 500) > self.width():
                size -= 1  # a smaller word rather than a cut one
            draw_text(p, QRectF(x, label - 14, self.width() - x, 28), s.name, size, weight, BLACK)
            draw_text(p, QRectF(x + width(s.name, size, weight) + 8, label - 14, 120, 28), s.text, size, 500, self.inks.note)


class Reading(Part):
    """The scale's figure, as large as the room allows."""

    def __init__(self) -> None:
        super().__init__()
        self.figure, self.unit, self.state = "0.0", "g", ""
        self.setMinimumHeight(116)

    def sizeHint(self) -> QSize:
        return QSize(600, 260)

    def show_figure(self, figure: str, unit: str, state: str) -> None:
        if (figure, unit, state) == (self.figure, self.unit, self.state):
            return
        self.figure, self.unit, self.state = figure, unit, state
        self.name(f"On the scale: {figure} {unit}", state)
        self.update()

    def draw(self, p: QPainter) -> None:
        draw_text(p, QRectF(0, 0, self.width() / 2, 32), "On the scale", 24, 500, self.inks.note)
        wide = width(self.state, 24, 600)
        x = self.width() - wide - 30
        p.setPen(solid(self.inks.ink, 2.5))
        p.setBrush(self.inks.ink if self.state == "steady" else Qt.BrushStyle.NoBrush)
        if self.state:
            p.drawEllipse(QPointF(x + 10, 16), 8, 8)
        draw_text(p, QRectF(x + 28, 0, wide + 4, 32), self.state, 24, 600, self.inks.ink)
        unit_room = width(self.unit, max(40, int(self.height() * 0.3)), 600) + 20
        room = QRectF(0, 40, self.width() - unit_room, self.height() - 44)
        px = fitting_px(self.figure if len(self.figure) > 4 else "00.0 ", room, 350 if self.height() > 400 else 262)
        base = draw_figure(p, room.left() - px * 0.04, room, self.figure, px, self.inks.ink)
        p.setFont(font(max(40, px // 3), 600))
        p.setPen(self.inks.ink)
        p.drawText(QPointF(self.width() - unit_room + 10, base), self.unit)


class NowStrip(Part):
    """The one yellow strip: what to add, and how much is left."""

    def __init__(self) -> None:
        super().__init__()
        self.words = ("", "", "", "")
        self.setMinimumHeight(96)
        self.setMaximumHeight(112)

    def sizeHint(self) -> QSize:
        return QSize(600, 112)

    def say(self, add: str, hint: str, head: str, figure: str) -> None:
        if (add, hint, head, figure) == self.words:
            return
        self.words = (add, hint, head, figure)
        self.name(add, f"{head} {figure}. {hint}")
        self.update()

    def draw(self, p: QPainter) -> None:
        add, hint, head, figure = self.words
        draw_strip(p, QRectF(self.rect()), add, self.inks.tape, self.inks.crepe)
        right = self.width() - 22.0
        if figure:
            px = 84 if self.height() > 100 and self.width() > 560 else 60
            wide = width(figure, px, 800)
            draw_text(p, QRectF(right - wide, 0, wide + 4, self.height()), figure, px, 800, BLACK)
            draw_text(p, QRectF(right - wide - width(head, 24, 500) - 14, self.height() * 0.42, 90, 40), head, 24, 500, BLACK)
            right -= wide + width(head, 24, 500) + 20
        px = 36
        while px > 20 and width(add, px, 700) > right - 24:
            px -= 2
        middle = self.height() / 2
        draw_text(p, QRectF(24, middle - 42, right - 24, 44), add, px, 700, BLACK)
        px = 22
        while px > 15 and width(hint, px, 500) > right - 24:
            px -= 1
        draw_text(p, QRectF(24, middle + 4, right - 24, 32), hint, px, 500, BLACK)


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
        colour = self.cup.hex if self.cup.hex != WATER else "#FFFFFF"
        state = CupState.PLANNED if self.cup.state == "planned" else CupState.FILLED
        draw_cup(p, cup, CupView(layers=((colour, 1.0),), fill=fill, state=state), self.tray.inks, wall=2)
        if self.hasFocus():
            draw_focus(p, room, self.tray.inks)
        p.end()


class Tray(Part):
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
        for button in self.buttons:
            button.hide()
            button.deleteLater()
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
                    p.drawLine(QPointF(x - 8, 2), QPointF(x - 8, self.height()))
                following = next((slots[j] for j in range(i, len(slots)) if self.cups[j].group != cup.group), float(self.width()))
                room = min(following - x - 10, self.width() - note - x)
                words = cup.group if width(cup.group, 16, 700) < room else cup.group.split("  ")[0]
                if width(words, 16, 700) < room:
                    draw_text(p, QRectF(x, 0, room, 26), words, 16, 700, self.inks.ink)
                last = cup.group
        draw_text(p, QRectF(self.width() - note, 0, note, 26), self.note, 17, 500, self.inks.note, Qt.AlignmentFlag.AlignRight)


class MixPage(Page):
    """The weighing bench."""

    bench = True
    slim = True

    def __init__(self, studio: Studio, jobs: Jobs) -> None:
        super().__init__(studio, jobs)
        self.presenter = MixPresenter(studio)
        self.view = MixView()
        self._base_kg = 0.0
        self._reading: ScaleReading | None = None
        self._lost = ""
        self._frozen = False
        row = QHBoxLayout()
        row.setSpacing(24)
        self.cup = BigCup()
        row.addWidget(self.cup, 42)
        right = QVBoxLayout()
        right.setSpacing(10)
        self.reading, self.now = Reading(), NowStrip()
        right.addWidget(self.reading, 10)
        right.addWidget(self.now, 3)
        self.over = Words("", 26, 700)
        self.mend = Words("", 22, 500)
        self.then = Words("", 20, 400, role="note")
        for words in (self.over, self.mend, self.then):
            right.addWidget(words)
        typing = QHBoxLayout()
        self.typed = Field("type the grams", px=20, width_px=190)
        self.typed.returnPressed.connect(self._enter_typed)
        self.typed_note = Words("", 16, 400, role="note")
        typing.addWidget(self.typed)
        typing.addWidget(self.typed_note, 1, Qt.AlignmentFlag.AlignVCenter)
        right.addLayout(typing)
        self.cautions = QVBoxLayout()
        right.addLayout(self.cautions)
        right.addStretch(1)
        self.tray = Tray()
        self.tray.chosen.connect(lambda i: self.attempt(lambda: self.presenter.choose(i)))
        right.addWidget(self.tray)
        row.addLayout(right, 58)
        holder = QWidget()
        holder.setLayout(row)
        self.body.addWidget(holder, 1)
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
            for part in (self.cup, self.reading, self.now, self.tray, self.typed, self.typed_note, self.over, self.mend, self.then):
                part.hide()
            self.keys([(Key("Space", v.one_key), lambda: self.go.emit("ask"))])
            return
        for part in (self.cup, self.reading, self.now, self.tray, self.typed):
            part.show()
        self.title(v.codes, v.title)
        self.over.say(v.over)
        self.mend.say(v.mend)
        self.then.say(v.note or ("" if self.low else v.mend_then))
        self.tray.show_cups(v.tray, v.tray_note)
        self.remarks(self.cautions, [Remark("", v.caution, Weight.CAUTION)] if v.caution else [], 16)
        self.typed.setPlaceholderText("or type grams" if self.studio.units.mass == "g" else "or type ounces")
        practice = isinstance(self.studio.scale, SimulatedScale)
        self.typed_note.say("" if self.studio.scale is None else "Practice scale: D pours, D again stops." if practice else self.studio.scale.name)
        self._show_live()

    def _show_live(self) -> None:
        v, units = self.view, self.studio.units
        if v.empty:
            return
        if self.studio.scale is None or self._reading is None:
            self.reading.show_figure(units.mass_figure(v.already_kg), units.mass, (self._lost and "not answering") or "no scale")
            added, steady = 0.0, True
        else:
            added = max(self._reading.mass_kg - self._base_kg, 0.0)
            steady = self._reading.steady
            word = "too heavy" if self._reading.overload else "steady" if steady else "moving"
            self.reading.show_figure(units.mass_figure(v.already_kg + self._reading.mass_kg - self._base_kg), units.mass, word)
        self.cup.show_slices(v.slices, v.capacity_kg, added)
        live = v.already_kg + added
        if v.finished:
            self.now.say(v.add_name, v.add_hint, "", "")
        else:
            left = v.target_kg - live
            head = "still" if left >= -TOLERANCE_KG else "over"
            hint = v.add_hint if left > TOLERANCE_KG else "that is it" if left >= -TOLERANCE_KG else "take it: the repair follows at once"
            self.now.say(v.add_name, hint, head, still_text(units, v.target_kg, live))
        busy = not steady and not v.finished
        words = "Wait: not steady" if busy else v.one_key
        if not v.finished and added <= 0.0 and not busy:
            words = v.one_key if self.studio.scale is None else f"Pour {v.add_name.removeprefix('Add ')} in"
        offered = [
            (Key("Space", words, busy=busy), self._space),
            (Key("Z", "Take back"), self.presenter.take_back),
            (Key("N", "Start anew"), self.presenter.start_anew),
        ]
        scale = self.studio.scale
        if isinstance(scale, SimulatedScale):
            offered.append((Key("D", "Stop pouring" if scale.pouring else "Pour", hand=scale.pouring), self._pour))
        if [k for k, _ in offered] != [b.key for b in self.strip.buttons[: len(offered)]] or len(self.actions) != len(offered):
            self.keys(offered)

    # ------------------------------------------------------------ the scale

    def tick(self) -> None:
        """One reading; some twenty times a second."""
        scale = self.studio.scale
        if scale is None:
            return
        try:
            self._reading = scale.read(time.monotonic())
        except DeviceError as error:
            if not self._lost:
                self._lost = str(error)
                self.say_trouble(self._lost)
            self._reading = None
        else:
            if self._lost:
                self._lost = ""
                self.say_trouble("")
        self._show_live()

    def _zero(self) -> None:
        scale = self.studio.scale
        if scale is not None:
            try:
                self._reading = scale.read(time.monotonic())
                self._base_kg = self._reading.mass_kg
            except DeviceError:
                self._reading = None

    def _pour(self) -> None:
        scale = self.studio.scale
        if isinstance(scale, SimulatedScale):
            if scale.pouring:
                scale.stop()
            elif not self.view.finished:
                left = self.view.target_kg - self.view.already_kg
                scale.pour(max(2.5e-3, min(9e-3, left / 3.0)))
            self._show_live()

    def _space(self) -> None:
        if self.view.finished:
            self.presenter.finish()
            if self.presenter.all_done():
                self.go.emit("check")
            self._empty_scale()
            return
        if self._reading is None:
            self._enter_typed()
            return
        added = self._reading.mass_kg - self._base_kg
        if not self._reading.steady:
            return
        source = "practice scale" if isinstance(self.studio.scale, SimulatedScale) else "scale"
        self.presenter.enter(added, source)
        self._base_kg = self._reading.mass_kg
        self._show_live()

    def _empty_scale(self) -> None:
        scale = self.studio.scale
        if isinstance(scale, SimulatedScale):
            scale.clear()
        self._base_kg = 0.0
        if scale is not None:
            try:
                scale.tare(time.monotonic())
            except DeviceError as error:  # said by the next reading too; the grams can be typed meanwhile
                self.say_trouble(str(error))

    def _enter_typed(self) -> None:
        def enter() -> None:
            text = self.typed.text()
            if not text.strip():
                from dribbet.records import DribbetError

                raise DribbetError("No grams yet. Pour onto the scale, or type what you added.")
            try:
                kg = self.studio.units.mass_kg(text)
            except ValueError:
                from dribbet.records import DribbetError

                raise DribbetError(f"“{text}” is no weight. Type a figure such as 12.4.") from None
            self.presenter.enter(kg, "typed")
            self.typed.clear()
            self.setFocus()

        self.attempt(enter)
