"""Judging made-up tests: the page. One plot, two keys; then what was true, what the judge said, and the tally of both."""

from __future__ import annotations

from typing import TYPE_CHECKING

from dribbet.bench.page import Page
from dribbet.bench.parts.base import Words
from dribbet.bench.parts.keys import Key
from dribbet.bench.parts.response_plots import ResponsePlots
from dribbet.bench.playing.presenter import PlayingPresenter
from dribbet.bench.theme.inks import WALL
from dribbet.words import playing as words

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.bench.jobs import Jobs
    from dribbet.studio.desk import Desk


class PlayingPage(Page):
    """One made-up test after the other."""

    inks = WALL

    def __init__(self, desk: Desk, jobs: Jobs) -> None:
        super().__init__(desk, jobs)
        self.presenter = PlayingPresenter(desk)
        self.view = self.presenter.view()
        self.plots = ResponsePlots(WALL)
        self.body.addWidget(self.plots, 10)
        self.told = Words("", 24, 700, inks=WALL)
        self.body.addWidget(self.told)
        self.tallies = Words("", 18, 400, inks=WALL)
        self.body.addWidget(self.tallies)

    def refresh(self) -> None:
        self.view = v = self.presenter.view()
        self.title("", v.sentence, v.note)
        self.plots.setVisible(v.plot is not None)
        if v.plot is not None:
            self.plots.show_plots(v.head, (v.plot,))
        self.told.say(" ".join(v.told))
        self.tallies.say("\n".join(v.tallies))
        back = (Key("X", words.BACK), lambda: self.go.emit("ask"))
        if v.cannot:
            self.keys([(Key("Space", words.BACK), lambda: self.go.emit("ask"))])
        elif v.told:
            self.keys([(Key("Space", words.ANOTHER), self._another), back])
        else:
            self.keys([(Key("R", words.REAL, twin=True), self._say(real=True)), (Key("C", words.CHANCE, twin=True), self._say(real=False)), back])

    def _say(self, *, real: bool) -> Callable[[], None]:
        def act() -> None:
            self.presenter.say(real=real)
            self.refresh()

        return act

    def _another(self) -> None:
        self.presenter.another()
        self.refresh()
