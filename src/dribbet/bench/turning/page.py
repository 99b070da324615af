"""Two cups turn over side by side: seen from above, and cut through; time runs as the paint's own."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, QTimer
from PyQt6.QtGui import QColor, QImage, QPainter, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout

from dribbet.bench.apart import apart_told
from dribbet.bench.page import Page
from dribbet.bench.parts.base import DrawnPart, Words, draw_text
from dribbet.bench.parts.keys import Key
from dribbet.bench.theme.inks import BLACK
from dribbet.bench.theme.patterns import solid
from dribbet.bench.turning.frames import TurnFrame, turned
from dribbet.studio.standing import turning
from dribbet.words import turning as words
from dribbet.words.units import clock_text, units_of

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.bench.jobs import Job, Jobs
    from dribbet.studio.desk import Desk

GROUND: Final = "#F2EFE8"
FRAME_MS: Final = 160
DEEP: Final = 12.0
"""So many times deeper than wide a section is drawn, or nobody would see its layers."""


class StackPart(DrawnPart):
    """One stack: from above, and cut through below it."""

    def __init__(self) -> None:
        super().__init__()
        self.frame: TurnFrame | None = None
        self.hexes: tuple[str, ...] = ()
        self.width_m = turning.WIDTH_M
        self._image: QImage | None = None
        self.setMinimumSize(260, 240)

    def show_frame(self, frame: TurnFrame | None, hexes: tuple[str, ...]) -> None:
        self.frame, self.hexes = frame, hexes
        if frame is not None:
            high, wide, _ = frame.above.shape
            self._image = QImage(np.ascontiguousarray(frame.above).tobytes(), wide, high, 3 * wide, QImage.Format.Format_RGB888).copy()
        self.name(words.A_CUP, f"after {frame.seconds:.0f} s" if frame is not None else words.NOT_COMPUTED_YET)
        self.update()

    def draw(self, p: QPainter) -> None:
        cut = max(self.height() * 0.26, 60.0)
        room = QRectF(1, 1, self.width() - 2, self.height() - cut - 12)
        if self.frame is None or self._image is None:
            p.setPen(solid(self.inks.off, 2))
            p.drawRect(room)
            return
        p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        wide, high = room.width(), room.width() * self._image.height() / self._image.width()
        source = QRectF(self._image.rect())
        if high > room.height():
            source.setHeight(source.height() * room.height() / high)
            high = room.height()
        p.drawImage(QRectF(room.left(), room.top(), wide, high), self._image, source)
        p.setPen(solid(BLACK, 2))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(QRectF(room.left(), room.top(), wide, high))
        self._section(p, QRectF(room.left(), self.height() - cut + 14, wide, cut - 22))

    def _section(self, p: QPainter, room: QRectF) -> None:
        assert self.frame is not None
        faces = self.frame.section
        scale = room.width() / self.width_m
        tall = min(DEEP, room.height() / max(float(faces[-1].max()) * scale, 1e-9))
        columns = faces.shape[1]
        below = np.zeros(columns)
        xs = room.left() + (np.arange(columns) + 0.5) / columns * room.width()
        p.setPen(Qt.PenStyle.NoPen)
        for face, shade in zip(faces, self.hexes, strict=True):
            upper = room.bottom() - face * scale * tall
            lower = room.bottom() - below * scale * tall
            points = [QPointF(x, y) for x, y in zip(xs, upper, strict=True)] + [QPointF(x, y) for x, y in zip(xs[::-1], lower[::-1], strict=True)]
            p.setBrush(QColor(shade))
            p.drawPolygon(QPolygonF(points))
            below = face
        p.setPen(solid(BLACK, 3))
        p.drawLine(QPointF(room.left(), room.bottom() + 1), QPointF(room.right(), room.bottom() + 1))
        draw_text(p, QRectF(room.left(), room.top() - 20, room.width(), 18), words.CUT_THROUGH(times=tall), 13, 400, self.inks.note)


class TurningPage(Page):
    """What order, density and thickness do, before anything is poured."""

    def __init__(self, desk: Desk, jobs: Jobs) -> None:
        super().__init__(desk, jobs)
        self.letter, self.other = "", 0
        self.frames: list[list[TurnFrame]] = []
        self.at = 0
        self.playing = True
        self._key: object = None
        self._cups: tuple[object, turning.Cup, tuple[turning.Cup, ...]] | None = None
        self._job: Job | None = None
        row = QHBoxLayout()
        row.setSpacing(26)
        self.heads, self.lies, self.paces, self.stacks = [], [], [], []
        for _ in range(2):
            column = QVBoxLayout()
            head, lies, pace, stack = Words("", 19, 700), Words("", 15, 400), Words("", 15, 400, role="note"), StackPart()
            for part in (head, lies, pace):
                column.addWidget(part)
            column.addWidget(stack, 1)
            row.addLayout(column, 1)
            self.heads.append(head)
            self.lies.append(lies)
            self.paces.append(pace)
            self.stacks.append(stack)
        self.body.addLayout(row, 1)
        self.timer = QTimer(self)
        self.timer.setInterval(FRAME_MS)
        self.timer.timeout.connect(self.tick)

    def entered(self) -> None:
        self.timer.start()

    def leave(self) -> None:
        self.timer.stop()
        if self._job is not None:
            self._job.cancel()
            self._job, self._key = None, None

    def show_end(self) -> None:
        """Stop at the last frame."""
        self.playing, self.at = False, max(len(self.frames[0]) - 1, 0) if self.frames else 0
        self.refresh()

    def cups(self) -> tuple[turning.Cup, turning.Cup] | None:
        """The two that are shown."""
        run = self.desk.run()
        if run is None or not run.arms:
            return None
        panel = next((p for p in run.panels if p.id == self.desk.in_hand("pour")), None)
        letter = panel.recipe if panel is not None else run.arms[0].letter
        if letter != self.letter:
            self.letter, self.other = letter, 0
        key = (run.series, letter, self.desk.revision)
        if self._cups is None or self._cups[0] != key:  # how fast a cup turns is worked out once, not for every frame
            mine = turning.cup(self.desk, run, next(a for a in run.arms if a.letter == letter))
            self._cups = (key, mine, turning.cups(self.desk, run, letter))
        return self._cups[1], self._cups[2][self.other % len(self._cups[2])]

    def refresh(self) -> None:
        pair = self.cups()
        if pair is None:
            self.title("", words.NO_CUP_YET)
            self.keys([(Key("Space", "Back"), lambda: self.go.emit("back"))])
            return
        if pair != self._key:
            self._begin(pair)
        units = units_of(self.desk)
        seconds = self.frames[0][self.at].seconds if self.frames else 0.0
        self.title("", words.AFTER(minutes=clock_text(seconds)) if self.frames else words.COMPUTING_BOTH, words.HONEST)
        for i, cup in enumerate(pair):
            self.heads[i].say(words.head(cup))
            self.lies[i].say(words.lies(cup, units))
            self.paces[i].say(words.pace(cup, units))
            self.stacks[i].show_frame(self.frames[i][self.at] if self.frames else None, cup.hexes)
        keys: list[tuple[Key, Callable[[], object]]] = [
            (Key("Space", "Stop" if self.playing else "Run", busy=not self.frames), self._play),
            (Key("N", words.ANOTHER_CUP), self._next),
            (Key("A", "From the start"), self._again),
            (Key("Esc", "Back"), lambda: self.go.emit("back")),
        ]
        self.keys(keys)

    def _begin(self, pair: tuple[turning.Cup, turning.Cup]) -> None:
        if self._job is not None:
            self._job.cancel()
        self._key, self.frames, self.at = pair, [], 0
        told = [(cup.wet, cup.hexes) for cup in pair]
        self._job = self.jobs.start(
            lambda report: apart_told(report, turned, told, GROUND, turning.GRID, turning.WIDTH_M, turning.seconds(*pair), turning.FRAMES),
            lambda frames: self._ready(pair, frames),
            self.failed,
            self._progressed,
        )

    def _ready(self, pair: object, frames: object) -> None:
        if pair == self._key and isinstance(frames, list):
            self.frames, self.at, self._job = frames, 0, None
            self.refresh()

    def _progressed(self, done: int, total: int) -> None:
        if not self.frames:
            self.sentence.say(words.COMPUTING_BOTH_CUPS(done=done, total=total))

    def tick(self) -> None:
        """One frame on, while it runs."""
        if self.frames and self.playing:
            self.at = min(self.at + 1, len(self.frames[0]) - 1)
            self.refresh()

    def _play(self) -> None:
        self.playing = not self.playing
        if self.frames and self.at == len(self.frames[0]) - 1:
            self.at, self.playing = 0, True
        self.refresh()

    def _again(self) -> None:
        self.at, self.playing = 0, True
        self.refresh()

    def _next(self) -> None:
        self.other += 1
        self.refresh()
