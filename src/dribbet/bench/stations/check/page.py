"""Check: the page. A drip card with true runs, mounds, what wants to sink, ways to pour."""

from __future__ import annotations

import time
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QVBoxLayout, QWidget

from dribbet.bench.page import Field, Page
from dribbet.bench.parts.base import Part, Words, draw_text, scroller
from dribbet.bench.parts.cup import CupView, draw_cup, layer_heights
from dribbet.bench.parts.drip_lanes import DripLanes
from dribbet.bench.parts.keys import Key
from dribbet.bench.parts.margin import Remark, Weight
from dribbet.bench.stations.check.presenter import CheckPresenter, CheckView, MoundView
from dribbet.bench.theme.inks import EDGE
from dribbet.bench.theme.patterns import dashed, solid

if TYPE_CHECKING:
    from dribbet.bench.jobs import Jobs
    from dribbet.bench.studio import Studio


class Mounds(Part):
    """Mounds on a bench line, as tall as they hold."""

    def __init__(self) -> None:
        super().__init__()
        self.mounds: tuple[MoundView, ...] = ()
        self.setMinimumHeight(104)
        self.setMaximumHeight(120)

    def show_mounds(self, mounds: tuple[MoundView, ...]) -> None:
        self.mounds = mounds
        self.name("How long the mound holds", ", ".join(f"{m.name} {m.text}" for m in mounds))
        self.update()

    def draw(self, p: QPainter) -> None:
        base, wide = self.height() - 34.0, self.width() / max(len(self.mounds), 1)
        most = max([m.seconds or 0.0 for m in self.mounds] + [3.0])
        for i, m in enumerate(self.mounds):
            x = (i + 0.5) * wide
            if m.seconds is None:
                p.setPen(dashed(self.inks.off, 1.5))
                p.drawLine(QPointF(x - 24, base - 3), QPointF(x + 24, base - 3))
            else:
                tall = 10 + (base - 14) * m.seconds / most
                half = 30.0 - 10.0 * m.seconds / most
                path = QPainterPath(QPointF(x - half, base))
                path.cubicTo(QPointF(x - half * 0.4, base), QPointF(x - half * 0.4, base - tall), QPointF(x, base - tall))
                path.cubicTo(QPointF(x + half * 0.4, base - tall), QPointF(x + half * 0.4, base), QPointF(x + half, base))
                p.fillPath(path, QColor(m.hex))
                if QColor(m.hex).lightness() > 190:
                    p.setPen(solid(EDGE, 1.2))
                    p.drawPath(path)
            draw_text(
                p,
                QRectF(i * wide, base + 6, wide, 26),
                m.text,
                16 if m.seconds is not None else 14,
                700 if m.seconds is not None else 400,
                self.inks.ink,
                Qt.AlignmentFlag.AlignHCenter,
            )
        p.setPen(solid(self.inks.ink, 3))
        p.drawLine(QPointF(0, base), QPointF(self.width(), base))


class Sinking(Part):
    """The cup with its layers' densities; an arrow where the upper one wants to sink."""

    def __init__(self) -> None:
        super().__init__()
        self.rows: tuple[tuple[str, str, str, bool], ...] = ()
        self.shares: tuple[float, ...] = ()
        self.setMinimumHeight(190)

    def sizeHint(self) -> QSize:
        return QSize(400, 190)

    def show_rows(self, rows: tuple[tuple[str, str, str, bool], ...], shares: tuple[float, ...]) -> None:
        self.rows, self.shares = rows, shares
        self.name("What wants to sink", ", ".join(f"{n} {d}{' sinks' if s else ''}" for n, d, _, s in rows))
        self.update()

    def draw(self, p: QPainter) -> None:
        if not self.rows:
            return
        tall = self.height() - 14.0
        cup = QRectF(6, 8, min(tall * 0.68, self.width() * 0.34), tall - 4)
        layers = tuple((hex_, share) for (_, _, hex_, _), share in zip(reversed(self.rows), self.shares, strict=True))
        view = CupView(layers=layers)
        draw_cup(p, cup, view, self.inks, wall=4)
        edges = list(reversed(layer_heights(view, cup.height())))
        pitch = min(31.0, tall / len(self.rows))
        for i, ((name, density, _, sinks), (low, high)) in enumerate(zip(self.rows, edges, strict=True)):
            y = 8 + pitch * (i + 0.5)
            at = cup.bottom() - (low + high) / 2 * cup.height()
            p.setPen(solid(self.inks.ink, 1.5))
            p.drawPolyline([QPointF(cup.right() - 16, at), QPointF(cup.right() + 4, at), QPointF(cup.right() + 16, y)])
            draw_text(p, QRectF(cup.right() + 20, y - 13, 50, 26), density, 17, 700, self.inks.ink)
            draw_text(p, QRectF(cup.right() + 68, y - 13, 150, 26), name, 15, 400, self.inks.note)
            if sinks:
                roomy = self.width() > 360
                x = self.width() - (76.0 if roomy else 14.0)
                p.setPen(solid(self.inks.ink, 2.4))
                p.drawLine(QPointF(x, y + 4), QPointF(x, y + 18))
                p.drawPolyline([QPointF(x - 5, y + 13), QPointF(x, y + 19), QPointF(x + 5, y + 13)])
                if roomy:  # else the arrow alone: the sentence below says what it means
                    draw_text(p, QRectF(x + 12, y - 1, 64, 26), "sinks", 15, 700, self.inks.ink)


class CheckPage(Page):
    """Consistency of one recipe's colours."""

    def __init__(self, studio: Studio, jobs: Jobs) -> None:
        super().__init__(studio, jobs)
        self.presenter = CheckPresenter(studio)
        self.view = CheckView("")
        row = QHBoxLayout()
        row.setSpacing(34)
        left = QVBoxLayout()
        left.setSpacing(8)
        self.lanes = DripLanes()
        self.lanes.pressed.connect(lambda i: self.attempt(lambda: self.presenter.choose(i)))
        left.addWidget(self.lanes, 1)
        typing = QHBoxLayout()
        self.typed = Field("run in mm", width_px=150)
        self.typed.returnPressed.connect(self._typed)
        self.typed_note = Words("Type a run and press Enter, or read a photo of the drip card.", 15, 400, role="note")
        typing.addWidget(self.typed)
        typing.addWidget(self.typed_note, 1, Qt.AlignmentFlag.AlignVCenter)
        left.addLayout(typing)
        self.cautions = QVBoxLayout()
        left.addLayout(self.cautions)
        row.addLayout(left, 60)
        inner = QWidget()
        side = QVBoxLayout(inner)
        side.setContentsMargins(0, 0, 8, 0)
        side.setSpacing(6)
        self.side_parts: list[QWidget] = []
        self.mounds, self.sinking = Mounds(), Sinking()
        self.mound_note, self.sink_note, self.ways = (Words("", 15, 400, role="note") for _ in range(3))
        for head, part, note in (
            ("How long the mound holds", self.mounds, self.mound_note),
            ("What wants to sink in the cup", self.sinking, self.sink_note),
            ("Ways to pour at this consistency", None, self.ways),
        ):
            title = Words(head, 17, 700)
            for widget in (title, part, note):
                if widget is not None:
                    side.addWidget(widget)
                    self.side_parts.append(widget)
            side.addSpacing(8)
        side.addStretch(1)
        row.addWidget(scroller(inner), 40)
        self.body.addLayout(row, 1)

    def refresh(self) -> None:
        self.view = v = self.presenter.view()
        for part in [self.lanes, self.typed, self.typed_note, *self.side_parts]:
            part.setVisible(not v.empty)
        self.title("", v.sentence, v.note)
        if v.empty:
            self.keys([(Key("Space", "Go to Mix"), lambda: self.go.emit("mix"))])
            return
        self.lanes.show_card(v.card)
        self.mounds.show_mounds(v.mounds)
        self.mound_note.say(v.mound_note)
        run = self.studio.need_run()
        self.sinking.show_rows(v.sinking, tuple(layer.share for layer in run.series.layers))
        self.sink_note.say(v.sink_note)
        self.ways.say(v.ways)
        self.remarks(self.cautions, [Remark("", v.caution, Weight.CAUTION)] if v.caution else [], 15)
        words = f"Stop: {v.timing} is flat" if v.timing else "Time the next mound"
        offered = []
        if v.matched and not v.timing:
            if v.more:
                offered.append((Key("Space", "Matched: next recipe"), self.presenter.next_undone))
            else:
                offered.append((Key("Space", "Matched: go to Pour"), lambda: self.go.emit("pour")))
            offered.append((Key("M", "Time a mound"), self._mound))
        else:
            offered.append((Key("Space", words, hand=False), self._mound))
        offered.append((Key("C", "Read a drip card"), self._card))
        if self.presenter.hand is not None:
            offered.append((Key("D", "Drip again"), self.presenter.drip_again))
        if v.fix:
            offered.append((Key("W", v.fix), self.presenter.log_fix))
        if len(v.groups) > 1:
            offered.append((Key("R", "Next recipe"), self.presenter.next_group))
        self.keys(offered)
        self.actions["m"] = self._mound  # the key that started the stopwatch stops it too

    def _mound(self) -> None:
        self.presenter.time_mound(time.monotonic())
        self.refresh()

    def _typed(self) -> None:
        def take() -> None:
            self.presenter.type_run(self.typed.text())
            self.typed.clear()

        self.attempt(take)

    def _card(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Photo of the drip card", "", "Photos (*.jpg *.jpeg *.png *.tif *.tiff *.webp *.heic *.heif)")
        if name:
            self.read_card(Path(name))

    def read_card(self, path: Path) -> None:
        """Read a photo of a drip card off the GUI thread."""
        self.typed_note.say("Reading the drip card…")
        self.jobs.start(lambda report: self.presenter.read_card(path, report), self._card_read, self.failed)

    def _card_read(self, runs: object) -> None:
        self.typed_note.say("")
        assert isinstance(runs, list)
        self.attempt(lambda: self.presenter.take_card(runs))
