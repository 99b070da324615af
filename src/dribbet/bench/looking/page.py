"""Looking at many panels: the page. A sheet of stages at one scale whose places move together; two of them can take turns."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QTransform
from PyQt6.QtWidgets import QGridLayout, QWidget

from dribbet.bench.flats import Flats
from dribbet.bench.looking.presenter import MOST, LookingPresenter
from dribbet.bench.page import Page
from dribbet.bench.parts.keys import Key
from dribbet.bench.parts.photo_stage import PhotoStage, ShownPlace
from dribbet.bench.theme.inks import WALL
from dribbet.words import looking as words

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.bench.jobs import Jobs
    from dribbet.bench.looking.presenter import Tile
    from dribbet.bench.pictures import Flat, Pictures
    from dribbet.studio.desk import Desk

BLINK_MS = 700
QUARTER = 90.0
ZONE_ZOOM = 3.0  # a ninth fills the room


class LookingPage(Page):
    """The sheet."""

    inks = WALL

    def __init__(self, desk: Desk, jobs: Jobs, pictures: Pictures) -> None:
        super().__init__(desk, jobs)
        self.presenter = LookingPresenter(desk)
        self.flats = Flats(desk, jobs, pictures, self.failed)
        self.view = self.presenter.view()
        self.sheet = QWidget()
        self.grid = QGridLayout(self.sheet)
        self.grid.setContentsMargins(0, 0, 0, 0)
        self.grid.setSpacing(8)
        self.body.addWidget(self.sheet, 1)
        self.stages: list[PhotoStage] = []
        self._flat: dict[int, Flat] = {}
        """What each stage shows, before it is turned."""
        self._laid: object = None
        self.blinking = QTimer(self)
        self.blinking.setInterval(BLINK_MS)
        self.blinking.timeout.connect(self._blink)
        self._second = False
        self._to_turn: list[int] = []
        self.turning = QTimer(self)
        self.turning.setSingleShot(True)
        self.turning.setInterval(0)
        self.turning.timeout.connect(self._turn_next)

    def busy(self) -> bool:
        return bool(self._to_turn)

    def _stage(self, i: int) -> PhotoStage:
        while len(self.stages) <= i:
            stage = PhotoStage(WALL, empty=words.MISSING)
            stage.setMinimumSize(120, 80)
            stage.moved.connect(partial(self._moved, len(self.stages)))
            self.stages.append(stage)
        return self.stages[i]

    def refresh(self) -> None:
        self.view = v = self.presenter.view()
        self.title("", v.sentence, v.note)
        self.sheet.setVisible(bool(v.tiles))
        if not v.tiles:
            self.blinking.stop()
            self.keys([(Key("Space", words.BACK), lambda: self.go.emit("decide"))])
            return
        self._lay_out()
        self._to_turn.clear()
        for i, tile in enumerate(v.tiles):
            self._show(i, tile)
        blinks = self.blinking.isActive()
        if blinks and len(v.marked) < 2:
            self._stop_blinking()
        keys: list[tuple[Key, Callable[[], object]]] = [
            (Key("Space", words.BACK), lambda: self.go.emit("decide")),
            (Key("T", words.PANELS if v.over_time else words.OVER_TIME), self.presenter.turn_time),
            (Key("R", words.TURN), self._quarter),
        ]
        keys.append((Key("Z", v.zone, hand=self.presenter.zone is not None), self._next_zone))
        if len(v.marked) == 2:
            keys.append((Key("K", words.BLINK, hand=self.blinking.isActive()), self._turn_blink))
        if v.lamps > 1:
            keys.append((Key("L", words.lamp(v.lamp)), self.presenter.next_lamp))
        if v.more:
            keys.append((Key("M", words.MORE), self.presenter.next_page))
        self.keys(keys)

    def _lay_out(self) -> None:
        """Put as many stages into the grid as there are tiles."""
        shape = (len(self.view.tiles), self.view.columns)
        if shape == self._laid:
            return
        self._laid = shape
        self._stop_blinking()
        place = self._zone_place()
        for stage in self.stages:  # another sheet begins at the same place, all of it or the ninth that is looked at
            stage.show_place(place)
        for i, stage in enumerate(self.stages):
            self.grid.removeWidget(stage)
            stage.setVisible(i < shape[0])
        for i in range(shape[0]):
            stage = self._stage(i)
            stage.show_place(place)
            self.grid.addWidget(stage, i // shape[1], i % shape[1])
            stage.show()

    def _show(self, i: int, tile: Tile) -> None:
        stage = self._stage(i)
        stage.code, stage.code_note = tile.code.split("-")[-1] if len(self.view.tiles) > 4 else tile.code, tile.note
        stage.show_scale = i == len(self.view.tiles) - 1
        stage.marked = tile.marked
        self.flats.show(stage, tile.shot, words.COMING, partial(self._came, i))
        if tile.shot is None:
            self._flat.pop(i, None)
        elif i in self._flat:
            self._to_turn.append(i)
            self.turning.start()
        self._scale()
        stage.update()

    def _came(self, i: int, flat: Flat) -> None:
        self._flat[i] = flat
        self._turn(i)
        self._scale()

    def _turn_next(self) -> None:
        """One picture at a time, so that keys are heard in between."""
        if self._to_turn:
            i = self._to_turn.pop(0)
            if i in self._flat:
                self._turn(i)
                self._scale()
            self.turning.start()

    def _turn(self, i: int) -> None:
        """Show a picture turned by as many quarters as all are."""
        flat, quarters = self._flat[i], self.presenter.turned
        key = (id(flat), quarters)
        stage = self.stages[i]
        if getattr(stage, "turned_by", None) == key:
            return
        stage.turned_by = key  # type: ignore[attr-defined]
        image = flat.image if not quarters else flat.image.transformed(QTransform().rotate(QUARTER * quarters))
        stage.show_photo(image, unit_per_px=1.0 / flat.px_per_mm, keep_place=True)

    def _scale(self) -> None:
        """One scale for all: that of the panel that is largest in its room."""
        shown = [s for s in self.stages[: len(self.view.tiles)] if s.image is not None]
        fits = [s.width() / (s.image.width() * s.unit_per_px) for s in shown if s.image is not None]
        fits += [s.height() / (s.image.height() * s.unit_per_px) for s in shown if s.image is not None]
        for s in shown:
            s.px_per_unit = min(fits)

    def resizeEvent(self, event: object) -> None:
        super().resizeEvent(event)
        QTimer.singleShot(0, self._scale)

    def _next_zone(self) -> None:
        """The same ninth of every panel, one after the other, then the whole again."""
        self.presenter.next_zone()
        self.refresh()
        self._to_zone()

    def _quarter(self) -> None:
        self.presenter.turn()
        if self.presenter.zone is not None:
            self._to_zone()

    def _to_zone(self) -> None:
        for stage in self.stages[: len(self.view.tiles)]:
            stage.show_place(self._zone_place())

    def _zone_place(self) -> ShownPlace:
        at = self.presenter.place()
        return ShownPlace() if at is None else ShownPlace(ZONE_ZOOM, *at)

    def _moved(self, which: int, place: ShownPlace) -> None:
        for i, stage in enumerate(self.stages[: len(self.view.tiles)]):
            if i != which:
                stage.show_place(place)

    # ------------------------------------------------------------ two panels take turns

    def press_digit(self, digit: int) -> bool:
        """Digits take panels to blink between; 0 is the tenth."""
        return self.presenter.mark((digit or min(MOST, 10)) - 1)

    def _turn_blink(self) -> None:
        if self.blinking.isActive():
            self._stop_blinking()
        else:
            self.blinking.start()
            self._blink()
        self.refresh()

    def _blink(self) -> None:
        """The first of the two shows itself and the other in turn, at its own place."""
        if len(self.view.marked) < 2:
            self._stop_blinking()
            return
        self._second = not self._second
        home, other = self.stages[self.view.marked[0]], self.stages[self.view.marked[1]]
        home.shown_instead = other if self._second else None
        home.update()

    def _stop_blinking(self) -> None:
        self.blinking.stop()
        self._second = False
        for stage in self.stages:
            stage.shown_instead = None
            stage.update()

    def leave(self) -> None:
        self._stop_blinking()
