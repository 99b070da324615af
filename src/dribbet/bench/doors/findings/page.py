"""Findings: the page. Claims on one band of luck with their panels, and beside them what stands behind the one in hand."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from dribbet.bench.doors.findings.presenter import FindingsPresenter, FindingsView, Thumb
from dribbet.bench.page import Field, Page
from dribbet.bench.parts.base import Words, scroller
from dribbet.bench.parts.claim_rows import ClaimRows
from dribbet.bench.parts.keys import Key
from dribbet.bench.parts.margin import clear
from dribbet.bench.parts.response_plots import ResponsePlots
from dribbet.bench.pictures import load_thumb
from dribbet.bench.theme.inks import PAPER
from dribbet.studio.standing import findings
from dribbet.words import findings as words

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.bench.jobs import Jobs
    from dribbet.studio.desk import Desk

JUDGE_MS = 1  # between two series: keys are heard in between
MOST_THUMBS = 400


class FindingsPage(Page):
    """The door Findings."""

    def __init__(self, desk: Desk, jobs: Jobs) -> None:
        super().__init__(desk, jobs, column=True)
        self.presenter = FindingsPresenter(desk)
        self.view = FindingsView()
        self.search = Field(words.SEARCH, px=17, width_px=420)
        self.search.textChanged.connect(self._searched)
        self.body.addWidget(self.search)
        self.rows = ClaimRows(PAPER)
        self.rows.taken.connect(lambda row: self.attempt(lambda: self.presenter.choose(row)))
        self.listing = scroller(self.rows)
        self.body.addWidget(self.listing, 1)
        self.luck = Words("", 18)
        self.luck.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.body.addWidget(self.luck, 1)
        assert self.column is not None
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(0, 0, 4, 0)
        column.setSpacing(8)
        self.head = Words("", 19, 700)
        self.where = Words("", 15)
        self.plot = ResponsePlots(PAPER)
        self.plot.setMinimumHeight(210)
        self.notes = QVBoxLayout()
        self.notes.setSpacing(6)
        for part in (self.head, self.where, self.plot):
            column.addWidget(part)
        column.addLayout(self.notes)
        column.addStretch(1)
        self.column.addWidget(scroller(inner), 1)
        self._thumbs: dict[str, str] = {}
        """Photograph that each panel's small picture is of."""
        self._wanted: list[Thumb] = []
        self._loading = False
        self._noted: object = None
        self.judging = QTimer(self)
        self.judging.setSingleShot(True)
        self.judging.setInterval(JUDGE_MS)
        self.judging.timeout.connect(self._judge)

    def _judge(self) -> None:
        """One series at a time, so that the window stays awake."""
        if findings.judge_one(self.desk):
            self.judging.start()
        else:
            self.refresh()

    def busy(self) -> bool:
        return self.view.waiting or self._loading

    def leave(self) -> None:
        self.judging.stop()

    def refresh(self) -> None:
        self.view = v = self.presenter.view()
        if v.waiting:
            self.judging.start()
        self.title("", v.sentence, v.note)
        listed = bool(v.claims or self.presenter.wanted) and not v.luck_shown
        self.search.setVisible(listed)
        self.listing.setVisible(listed)
        self.luck.say("\n\n".join(v.luck) if v.luck_shown else "")
        self.luck.setVisible(v.luck_shown)
        self.rows.show_claims(v.claims, v.hand)
        self._show_detail()
        keys: list[tuple[Key, Callable[[], object]]] = []
        if v.claims and not v.luck_shown:
            keys += [
                (Key("Space", words.SETTLE_IT), self._settle),
                (Key("N", words.NEXT), self.presenter.step),
                (Key("S", words.LOOK_FOR), self._to_search),
            ]
        else:
            keys.append((Key("Space", words.GO_TO_TODAY), lambda: self.go.emit("today")))
        keys.append((Key("L", words.LUCK, hand=v.luck_shown), self.presenter.turn_luck))
        self.keys(keys)
        self._load()

    def _show_detail(self) -> None:
        v = self.view
        shown = v.detail is not None and not v.luck_shown and not self.narrow
        self.show_column(shown)
        if not shown or v.detail is None:
            return
        d = v.detail
        self.head.say(d.sentence)
        self.where.say(d.where)
        self.where.setVisible(bool(d.where))
        self.plot.setVisible(d.plot is not None)
        self.plot.show_plots(d.plot_head, (d.plot,) if d.plot is not None else ())
        if d.notes == self._noted:
            return
        self._noted = d.notes
        clear(self.notes)
        for head, body in d.notes:
            self.notes.addWidget(Words(head, 16, 700))
            self.notes.addWidget(Words(body, 15))

    # ------------------------------------------------------------ small pictures, one after the other

    def _load(self) -> None:
        if self.view.waiting or self.view.luck_shown:
            return
        self._wanted = [t for t in self.presenter.thumbs()[:MOST_THUMBS] if self._thumbs.get(t.panel_id) != t.photo.sha256]
        if self._wanted and not self._loading:
            self._next_thumb()

    def _next_thumb(self) -> None:
        if not self._wanted:
            self._loading = False
            return
        self._loading = True
        one = self._wanted.pop(0)
        path = self.desk.notebook.photos.path_of(one.photo)
        self.jobs.start(
            lambda report: load_thumb(path, one.photo.width_px, one.corners, one.size_mm, one.disc, report),
            lambda image: self._thumb_ready(one, image),
            lambda error: self._thumb_failed(one, error),
        )

    def _thumb_ready(self, one: Thumb, image: object) -> None:
        self._thumbs[one.panel_id] = one.photo.sha256
        self.rows.show_thumb(one.panel_id, image)  # type: ignore[arg-type]
        self._next_thumb()

    def _thumb_failed(self, one: Thumb, error: Exception) -> None:
        """A photograph that cannot be read leaves its place empty; Read says why."""
        self._thumbs[one.panel_id] = one.photo.sha256
        self._next_thumb()

    # ------------------------------------------------------------ what a press does

    def _searched(self, typed: str) -> None:
        self.presenter.search(typed)
        self.refresh()

    def _to_search(self) -> None:
        self.search.setFocus()
        self.search.selectAll()

    def _settle(self) -> None:
        self.presenter.settle()
        self.go.emit("ask")
