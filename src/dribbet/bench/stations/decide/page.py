"""Decide: the page. Two panels at one scale with a tape seam, intervals against one noise band, what else differed."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QVBoxLayout, QWidget

from dribbet.bench.flats import Flats, FlatShot
from dribbet.bench.page import Page
from dribbet.bench.parts.base import DrawnPart, Words, scroller
from dribbet.bench.parts.interval_strip import IntervalStrips
from dribbet.bench.parts.keys import Key
from dribbet.bench.parts.next_list import NextList
from dribbet.bench.parts.photo_stage import PhotoStage, ShownPlace
from dribbet.bench.parts.response_plots import ResponsePlots
from dribbet.bench.parts.wipe import Wipe
from dribbet.bench.stations.decide.presenter import DecidePresenter, DecideView, Side
from dribbet.bench.theme.inks import WALL
from dribbet.bench.theme.patterns import solid
from dribbet.notebook.whole_file import file_name, save_file
from dribbet.studio.acts import choosing
from dribbet.studio.acts import following as following_acts
from dribbet.words import causes as why_words
from dribbet.words import choosing as choosing_words
from dribbet.words import decide as decide_words
from dribbet.words import looking as looking_words
from dribbet.words import next_pour as next_words

if TYPE_CHECKING:
    from collections.abc import Callable

    from PyQt6.QtGui import QPainter

    from dribbet.bench.jobs import Jobs
    from dribbet.bench.pictures import Flat, Pictures
    from dribbet.records import Report
    from dribbet.studio.desk import Desk


class Upright(DrawnPart):
    """A thin line between two columns."""

    def __init__(self) -> None:
        super().__init__(WALL)
        self.setFixedWidth(9)

    def draw(self, p: QPainter) -> None:
        p.setPen(solid(self.inks.rule, 2))
        p.drawLine(QPointF(4, 0), QPointF(4, QRectF(self.rect()).height()))


class DecidePage(Page):
    """The verdict."""

    inks = WALL

    def __init__(self, desk: Desk, jobs: Jobs, pictures: Pictures) -> None:
        super().__init__(desk, jobs)
        self.presenter = DecidePresenter(desk)
        self.view = DecideView()
        self.flats = Flats(desk, jobs, pictures, self.failed)
        self._making = False
        self.more = False
        """Whether the keys that are needed less stand there."""
        photos = QHBoxLayout()
        photos.setSpacing(14)
        self.left, self.right = Wipe(WALL), PhotoStage(WALL)
        self.left.empty = self.right.empty = decide_words.NO_DRY_PANEL
        self.left.show_scale = False
        self.left.moved.connect(self._left_moved)
        self.right.moved.connect(self._right_moved)
        photos.addWidget(self.left, 1)
        photos.addWidget(self.right, 1)
        self.body.addLayout(photos, 10)
        self.below = QWidget()
        low = QHBoxLayout(self.below)
        low.setContentsMargins(0, 4, 0, 0)
        low.setSpacing(14)
        self.strips = IntervalStrips(WALL)
        low.addWidget(self.strips, 70)
        self.plots = ResponsePlots(WALL)
        self.plots.chosen.connect(lambda code: self.attempt(lambda: self.presenter.show_panel(code)))
        low.addWidget(self.plots, 70)
        self.nexts = NextList(WALL)
        self.nexts.taken.connect(lambda row: self.attempt(lambda: self.presenter.next.choose(row)))
        low.addWidget(self.nexts, 70)
        low.addWidget(Upright())
        side = QVBoxLayout()
        side.setSpacing(6)
        side.addWidget(Words("What else differed", 17, 700, inks=WALL))
        inner = QWidget()
        self.differs = QVBoxLayout(inner)
        self.differs.setContentsMargins(0, 0, 4, 0)
        self.differs.setSpacing(6)
        scroll = scroller(inner, self.inks)
        side.addWidget(scroll, 1)
        self.next_head = Words("Pour next", 17, 700, inks=WALL)
        self.next_words = Words("", 15, 400, inks=WALL)
        side.addWidget(self.next_head)
        side.addWidget(self.next_words)
        low.addLayout(side, 30)
        self.body.addWidget(self.below, 5)

    def refresh(self) -> None:
        self.view = v = self.presenter.view()
        for part in (self.left, self.right, self.below):
            part.setVisible(not v.empty)
        self.title("", v.sentence, v.predicted or v.note)
        if v.covered:
            self.keys(
                [
                    (Key("Space", v.one_key), lambda: self.go.emit("choosing")),
                    (Key("U", choosing_words.OPEN), lambda: choosing.open_recipes(self.desk)),
                ]
            )
            return
        if v.empty:
            self.keys([(Key("Space", v.one_key), lambda: self.go.emit(v.leads))])
            return
        small = self.width() < 950
        self.right.setVisible(not small)
        self.strips.show_strips(v.head, v.strips, v.foot)
        self.strips.setVisible(not v.plotting and not v.proposing)
        self.nexts.setVisible(v.proposing)
        self.nexts.show_rows(next_words.HEAD, next_words.AXIS, v.rows, v.row)
        self.plots.setVisible(v.plotting)
        self.plots.show_plots(v.plot_head, v.plots)
        self.remarks(self.differs, v.differs, 15)
        self.differs.addStretch(1)
        self.next_words.say(v.next_words)
        self.next_head.setVisible(bool(v.next_words) and not v.proposing)
        self.next_words.setVisible(not v.proposing)
        for i, (stage, side) in enumerate(((self.left, v.left), (self.right, v.right))):
            stage.code = side.code if side else ""
            stage.code_note = side.words if side else ""
            self._load(i, side)
        self.left.second_code = v.right.code if v.right else ""
        if self._making:
            self.keys([(Key("Space", decide_words.WAIT_WRITING_THE_REPORT, busy=True), lambda: None)])
            return
        following = (Key("N", "Next pour", hand=v.proposing), self.presenter.next.turn)
        if v.proposing:
            self.keys(
                [(Key("Space", v.one_key), self._follow), following, (Key("X", "Reopen"), self._reopen)]
                if v.decided
                else [(Key("Space", v.one_key), self._follow), following]
            )
            return
        front: list[tuple[Key, Callable[[], object]]] = [
            following,
            (Key("V", "Plots", hand=v.plotting), self.presenter.next_plot),
            (Key("K", looking_words.LOOK), lambda: self.go.emit("looking")),
            (Key("C", choosing_words.CHOOSE), lambda: self.go.emit("choosing")),
        ]
        panel = self.presenter.side_panel(v)
        behind: list[tuple[Key, Callable[[], object]]] = [
            (Key("W", "Wipe", hand=self.left.wiping), self._wipe),
            (Key("A", "Panel"), lambda: self.presenter.next_panel(0)),
            *([(Key("B", "Levels"), self.presenter.next_pair)] if v.pairs > 1 else []),
            *([(Key("L", f"Lamp: {v.lamp}"), self.presenter.next_lamp)] if len(v.lamps) > 1 else []),
            (Key("Y", why_words.WHY), self._why_so),
            (Key("P", "Report"), self.save_report),
            *[key for key in (self.zone_key(panel), self.leave_out_key(panel)) if key is not None],
        ]
        if self.narrow:
            behind.insert(0, front.pop())
        bank = behind if self.more else front
        self.keys([(Key("Space", v.one_key), self._onwards), *bank, (Key("M", "More", hand=self.more), self._turn_more)])
        self.actions |= {key.cap.lower(): act for key, act in (*front, *behind)}  # who knows a key need not turn to it

    def _why_so(self) -> None:
        panel = self.presenter.side_panel(self.view)
        if panel is not None:
            self.desk.take("why", panel.id)
        self.go.emit("why")

    def _turn_more(self) -> None:
        self.more = not self.more
        self.refresh()

    def _load(self, i: int, side: Side | None) -> None:
        """Show a side's panel; the right one also lies under the wipe."""
        shot = FlatShot(side.photo, side.corners, self.view.size_mm, side.disc) if side is not None else None
        if i == 1 and side is None:
            self.left.show_second(None, "")
        coming = decide_words.squaring(side.code) if side is not None else ""
        self.flats.show((self.left, self.right)[i], shot, coming, self._second if i == 1 else None)

    def _second(self, flat: Flat) -> None:
        self.left.show_second(flat.image, self.view.right.code if self.view.right else "")

    def _left_moved(self, place: ShownPlace) -> None:
        self.right.show_place(place)

    def _right_moved(self, place: ShownPlace) -> None:
        self.left.show_place(place)

    def _wipe(self) -> None:
        self.left.wiping = not self.left.wiping
        self.left.update()
        self.refresh()

    def press_digit(self, digit: int) -> bool:
        """Digits take a proposal in hand."""
        return self.presenter.next.choose(digit - 1)

    def _follow(self) -> None:
        self.go.emit(self.presenter.next.take())

    def _reopen(self) -> None:
        following_acts.reopen(self.desk)

    def _onwards(self) -> None:
        if self.view.decided:
            self.go.emit("new")
        else:
            self.presenter.close()

    def save_report(self) -> None:
        """Ask where the PDF goes."""
        run = self.desk.need_run()
        name, _ = QFileDialog.getSaveFileName(self, "Report", f"{file_name(run.series.name)}.pdf", "PDF (*.pdf)")
        if name:
            self.write_report(Path(name))

    def write_report(self, path: Path) -> None:
        """Write the PDF off the GUI thread; the file appears whole."""
        self._making = True
        self.refresh()

        from dribbet.bench.stations.decide.paper import report_of

        draw = report_of(self.presenter)

        def work(report: Report) -> Path:
            save_file(path, draw(report))
            return path

        self.jobs.start(work, self._written, self._not_written)

    def _written(self, path: object) -> None:
        self._making = False
        self.refresh()
        assert isinstance(path, Path)
        self.subline.say(decide_words.REPORT_IS_IN(name=path.name))

    def _not_written(self, error: Exception) -> None:
        self._making = False
        self.refresh()
        self.failed(error)
