"""Scoring blind: the page. One panel without its code between the person's own least and most, a row of panels, five keys."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from dribbet.bench.choosing.page import Covered, PairRow
from dribbet.bench.choosing.scoring_presenter import ScoringPresenter
from dribbet.bench.flats import Flats
from dribbet.bench.page import Field, Page
from dribbet.bench.parts.base import Words, scroller
from dribbet.bench.parts.keys import Key
from dribbet.bench.parts.likings import Likings
from dribbet.bench.parts.margin import clear
from dribbet.bench.parts.photo_stage import PhotoStage
from dribbet.bench.parts.points_row import PointsRow
from dribbet.bench.theme.inks import WALL
from dribbet.records import LEAST_POINTS, MOST_POINTS
from dribbet.words import choosing as choosing_words
from dribbet.words import scoring as words

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.bench.jobs import Jobs
    from dribbet.bench.pictures import Pictures
    from dribbet.studio.desk import Desk


class Anchor(QWidget):
    """One of the person's own panels, and which end of the scale it stands for."""

    def __init__(self) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.stage = PhotoStage(WALL)
        self.stage.show_scale = False
        self.words = Words("", 18, 700, inks=WALL)
        self.words.setAlignment(Qt.AlignmentFlag.AlignHCenter)
        column.addWidget(self.stage, 1)
        column.addWidget(self.words)


class ScoringPage(Page):
    """One panel after the other, one thing at a time."""

    inks = WALL

    def __init__(self, desk: Desk, jobs: Jobs, pictures: Pictures) -> None:
        super().__init__(desk, jobs)
        self.presenter = ScoringPresenter(desk)
        self.flats = Flats(desk, jobs, pictures, self.failed)
        self.view = self.presenter.view()
        self.photos = QWidget()
        row = QHBoxLayout(self.photos)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(18)
        self.least, self.most = Anchor(), Anchor()
        self.panel = Covered(WALL)
        self.panel.show_scale = False
        for part, share in ((self.least, 4), (self.panel, 5), (self.most, 4)):
            row.addWidget(part, share)
        self.body.addWidget(self.photos, 10)
        self.points = PointsRow(WALL)
        self.points.given.connect(lambda points: self.attempt(self._giving(points)))
        self.body.addWidget(self.points)
        self.panel_row = PairRow()
        self.body.addWidget(self.panel_row)
        self.lines = Words("", 17, 400, role="note", inks=WALL)
        self.body.addWidget(self.lines)
        self.who = Field(choosing_words.NAME, WALL, px=22, width_px=320)
        self.who.returnPressed.connect(lambda: self.attempt(self._begin))
        self.body.addWidget(self.who)
        inner = QWidget()
        self.results = QVBoxLayout(inner)
        self.results.setContentsMargins(0, 8, 4, 0)
        self.results.setSpacing(8)
        self.told = scroller(inner, WALL)
        self._shown: object = None
        self.body.addWidget(self.told, 10)

    def refresh(self) -> None:
        self.view = v = self.presenter.view()
        scoring = v.panels > 0
        self.title("", v.sentence, v.note)
        self.photos.setVisible(scoring)
        self.points.setVisible(scoring)
        self.panel_row.setVisible(scoring)
        self.lines.say(f"{v.thing}. {v.line}" if scoring and not self.low else "")
        self.who.setVisible(v.asking)
        self.space_types = v.asking  # a name may hold one
        self.told.setVisible(not scoring)
        self._show_results()
        if v.asking and not self.who.hasFocus():
            self.who.setFocus()
        self._offer()
        if scoring:
            self.points.show_ends(v.low, v.high)
            self.panel_row.show_pairs(v.progress, v.done, v.panels)
            self.flats.show(self.panel, v.panel, choosing_words.COMING, self._scale)
            for anchor, shot, which, end in ((self.least, v.least, words.LEAST_OF, LEAST_POINTS), (self.most, v.most, words.MOST_OF, MOST_POINTS)):
                anchor.setVisible(shot is not None)
                anchor.words.say(f"{end}: {which}")
                self.flats.show(anchor.stage, shot, choosing_words.COMING, self._scale)
            QTimer.singleShot(0, self._scale)

    def _offer(self) -> None:
        v = self.view
        back = (Key("X", choosing_words.BACK), self._leave)
        if v.cannot:
            self.keys([(Key("Space", choosing_words.BACK), self._leave)])
        elif v.asking:
            told = [(Key("S", words.SCORED, hand=self.presenter.telling), self.presenter.turn_results)] if v.scored else []
            guest = (Key("G", choosing_words.GUEST, hand=v.guest), self.presenter.turn_guest)
            self.keys([(Key("Enter", choosing_words.BEGIN), self._begin), guest, *told, back])
        elif v.over:
            another = (Key("A", choosing_words.ANOTHER), self.presenter.leave)
            self.keys([(Key("Space", choosing_words.BACK), self._leave), another, (Key("Z", choosing_words.TAKE_BACK), self.presenter.take_back)])
        else:
            keys: list[tuple[Key, Callable[[], object]]] = [(Key("Space", words.UNKNOWN, quiet=True), self._giving(None))]
            if v.can_take_back:
                keys.append((Key("Z", choosing_words.TAKE_BACK), self.presenter.take_back))
            keys.append((Key("X", choosing_words.ENOUGH), self.presenter.leave))
            self.keys(keys)

    def press_digit(self, digit: int) -> bool:
        """Give the panel in hand so many points."""
        if self.view.panels == 0 or not LEAST_POINTS <= digit <= MOST_POINTS:
            return False
        self.attempt(self._giving(digit))
        return True

    def _scale(self, _: object = None) -> None:
        """One scale for all three: that of the panel that is largest in its room."""
        stages = [self.panel, *(a.stage for a in (self.least, self.most) if not a.isHidden())]
        shown = [s for s in stages if s.image is not None and s.width() > 0]
        fits = [min(s.width() / s.image.width(), s.height() / s.image.height()) / s.unit_per_px for s in shown if s.image is not None]
        for s in shown:
            s.px_per_unit = min(fits)
            s.update()

    def resizeEvent(self, event: object) -> None:
        super().resizeEvent(event)
        QTimer.singleShot(0, self._scale)

    def _giving(self, points: int | None) -> Callable[[], object]:
        return lambda: self.presenter.score(points)

    def _show_results(self) -> None:
        if self.view.results == self._shown:
            return
        self._shown = self.view.results
        clear(self.results)
        for side in self.view.results:
            self.results.addWidget(Words(" ".join(s for s in (side.who + ".", side.note) if s), 16, 400, role="note", inks=WALL))
            for told in side.told:
                self.results.addWidget(Words(told.result, 20, 700, inks=WALL))
                rows = Likings(WALL)
                rows.show_rows(told.rows, told.ends)
                self.results.addWidget(rows)
                if told.note:
                    self.results.addWidget(Words(told.note, 16, inks=WALL))
                self.results.addSpacing(10)
        self.results.addStretch(1)

    def _begin(self) -> None:
        self.presenter.begin(self.who.text())
        self.who.clear()
        self.who.clearFocus()
        self.setFocus()

    def _leave(self) -> None:
        self.presenter.leave()
        self.go.emit("decide")
