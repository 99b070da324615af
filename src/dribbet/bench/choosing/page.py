"""Choosing blind: the page. Two panels at one scale without their codes, a row of pairs, three keys."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from dribbet.bench.choosing.presenter import ChoosingPresenter
from dribbet.bench.choosing.sitting_page import SittingPage
from dribbet.bench.parts.base import DrawnPart, Words, draw_text
from dribbet.bench.parts.keys import Key
from dribbet.bench.parts.likings import Likings
from dribbet.bench.parts.photo_stage import PhotoStage, ShownPlace
from dribbet.bench.parts.tape import draw_strip
from dribbet.bench.theme.inks import WALL
from dribbet.bench.theme.patterns import solid
from dribbet.bench.theme.type import width as text_width
from dribbet.records import Liked
from dribbet.words import choosing as words
from dribbet.words.scoring import SCORE

if TYPE_CHECKING:
    from collections.abc import Callable

    from PyQt6.QtGui import QPainter

    from dribbet.bench.jobs import Jobs
    from dribbet.bench.pictures import Pictures
    from dribbet.studio.desk import Desk

LEFT, RIGHT = "←", "→"
BOX_PX = 38.0


class PairRow(DrawnPart):
    """A box for each pair: done, in hand, to come."""

    def __init__(self) -> None:
        super().__init__(WALL)
        self.words, self.done, self.pairs = "", 0, 0
        self.setFixedHeight(38)

    def show_pairs(self, words_: str, done: int, pairs: int) -> None:
        self.words, self.done, self.pairs = words_, done, pairs
        self.name(words_, words.PICKED_OF(done=done, pairs=pairs))
        self.update()

    def draw(self, p: QPainter) -> None:
        left = text_width(self.words, 20, 700) + 24  # type grows with the window
        draw_text(p, QRectF(0, 0, left, self.height()), self.words, 20, 700, self.inks.ink)
        each = min(BOX_PX + 10, (self.width() - left) / max(self.pairs, 1))
        for i in range(self.pairs):
            box = QRectF(left + i * each, 7, max(each - 10, 4.0), 24)
            if i < self.done:
                p.fillRect(box, self.inks.ink)
            elif i == self.done:
                draw_strip(p, box, f"pair {i}", self.inks.tape, self.inks.crepe)
            else:
                p.setPen(solid(self.inks.rule, 2))
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawRect(box)


class Covered(PhotoStage):
    """A stage whose code is covered by tape."""

    def draw(self, p: QPainter) -> None:
        super().draw(p)
        if self.image is not None and self.loading is None:
            room = self.photo_room().intersected(QRectF(self.rect()))
            draw_strip(p, QRectF(room.left() + 10, room.top() + 10, 88, 30), "covered", self.inks.tape, self.inks.crepe)


class ChoosingPage(SittingPage):
    """One pair after the other."""

    said_so_far = words.PICKED

    def __init__(self, desk: Desk, jobs: Jobs, pictures: Pictures) -> None:
        self.presenter = ChoosingPresenter(desk)
        super().__init__(desk, jobs, pictures, self.presenter)
        self.view = self.presenter.view()
        self.photos = QWidget()
        row = QHBoxLayout(self.photos)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(14)
        self.left, self.right = Covered(WALL), Covered(WALL)
        self.left.moved.connect(lambda place: self._moved(self.right, place))
        self.right.moved.connect(lambda place: self._moved(self.left, place))
        for stage in (self.left, self.right):
            stage.show_scale = False
            row.addWidget(stage, 1)
        self.body.addWidget(self.photos, 10)
        self.pair_row = PairRow()
        self.body.addWidget(self.pair_row)
        self.lines = Words("", 17, 400, role="note", inks=WALL)
        self.body.addWidget(self.lines)
        self.ask_who(10)

    def refresh(self) -> None:
        self.view = v = self.presenter.view()
        picking = v.left is not None or v.right is not None
        self.title("", v.sentence, v.note)
        self.photos.setVisible(picking)
        self.pair_row.setVisible(picking)
        self.lines.say("\n".join(v.lines) if picking and not self.low else "")
        self.show_who(v, looking=picking)
        self.show_results(v.results)
        if self.offer_around(v, (Key("P", SCORE), self._score)):
            return
        self.pair_row.show_pairs(v.progress, v.done, v.pairs)
        self.flats.show(self.left, v.left, words.COMING)
        self.flats.show(self.right, v.right, words.COMING)
        keys: list[tuple[Key, Callable[[], object]]] = [
            (Key(LEFT, words.LEFT, twin=True), lambda: self.presenter.pick(Liked.LEFT)),
            (Key(RIGHT, words.RIGHT, twin=True), lambda: self.presenter.pick(Liked.RIGHT)),
            (Key("Space", words.NEITHER), lambda: self.presenter.pick(Liked.NEITHER)),
        ]
        self.keys([*keys, *self.leaving(v)])

    def lay_out(self) -> None:
        """Put what was picked into the results."""
        for told in self.view.results:
            self.results.addWidget(Words(told.result, 22, 700, inks=WALL))
            self.results.addWidget(self.note(told.who))
            rows = Likings(WALL)
            rows.show_rows(told.rows)
            self.results.addWidget(rows)
            self.results.addWidget(Words(told.note, 16, inks=WALL))
            self.results.addSpacing(14)

    def take_back(self) -> None:
        """Take back the last pick."""
        self.presenter.take_back()

    def _moved(self, other: PhotoStage, place: ShownPlace) -> None:
        other.show_place(place)

    def _score(self) -> None:
        self.go.emit("scoring")
