"""Scoring blind: the page. One panel without its code between the person's own least and most, a row of panels, five keys."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from dribbet.bench.choosing.page import Covered, PairRow
from dribbet.bench.choosing.scoring_presenter import ScoringPresenter
from dribbet.bench.choosing.sitting_page import SittingPage
from dribbet.bench.parts.base import Words
from dribbet.bench.parts.keys import Key
from dribbet.bench.parts.likings import Likings
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


class ScoringPage(SittingPage):
    """One panel after the other, one thing at a time."""

    said_so_far = words.SCORED

    def __init__(self, desk: Desk, jobs: Jobs, pictures: Pictures) -> None:
        self.presenter = ScoringPresenter(desk)
        super().__init__(desk, jobs, pictures, self.presenter)
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
        self.ask_who(8)

    def refresh(self) -> None:
        self.view = v = self.presenter.view()
        scoring = v.panels > 0
        self.title("", v.sentence, v.note)
        self.photos.setVisible(scoring)
        self.points.setVisible(scoring)
        self.panel_row.setVisible(scoring)
        self.lines.say(f"{v.thing}. {v.line}" if scoring and not self.low else "")
        self.show_who(v, looking=scoring)
        self.show_results(v.results)
        if not self.offer_around(v):
            self.keys([(Key("Space", words.UNKNOWN, quiet=True), self._giving(None)), *self.leaving(v)])
        if scoring:
            self.points.show_ends(v.low, v.high)
            self.panel_row.show_pairs(v.progress, v.done, v.panels)
            self.flats.show(self.panel, v.panel, choosing_words.COMING, self._scale)
            for anchor, shot, which, end in ((self.least, v.least, words.LEAST_OF, LEAST_POINTS), (self.most, v.most, words.MOST_OF, MOST_POINTS)):
                anchor.setVisible(shot is not None)
                anchor.words.say(f"{end}: {which}")
                self.flats.show(anchor.stage, shot, choosing_words.COMING, self._scale)
            QTimer.singleShot(0, self._scale)

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

    def lay_out(self) -> None:
        """Put what was scored into the results."""
        for side in self.view.results:
            self.results.addWidget(self.note(" ".join(s for s in (side.who + ".", side.note) if s)))
            for told in side.told:
                self.results.addWidget(Words(told.result, 20, 700, inks=WALL))
                rows = Likings(WALL)
                rows.show_rows(told.rows, told.ends)
                self.results.addWidget(rows)
                if told.note:
                    self.results.addWidget(Words(told.note, 16, inks=WALL))
                self.results.addSpacing(10)

    def take_back(self) -> None:
        """Take back the last points."""
        self.presenter.take_back()
