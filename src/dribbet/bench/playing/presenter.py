"""Judging made-up tests: which one is in hand, what was said of it, and how often who was right. No widgets; nothing is kept."""

from __future__ import annotations

from dataclasses import dataclass
from statistics import fmean
from typing import TYPE_CHECKING

from dribbet.bench.parts.response_plots import PlotView
from dribbet.lab.verdict import rehearse
from dribbet.lab.verdict.laws import Kind
from dribbet.lab.verdict.model import PER_AREA
from dribbet.lab.verdict.poured import level_name
from dribbet.lab.verdict.rehearse import Tally
from dribbet.records import Word
from dribbet.records.wording import first_up
from dribbet.studio.standing import verdict
from dribbet.studio.standing.rehearsal import Rehearsal, rehearsal
from dribbet.words import decide as decide_words
from dribbet.words import playing as words
from dribbet.words.levels import level_text
from dribbet.words.tongue import name
from dribbet.words.units import units_of

if TYPE_CHECKING:
    from dribbet.lab.verdict.rehearse import Made
    from dribbet.records import Series
    from dribbet.studio.desk import Desk


@dataclass(frozen=True, slots=True)
class PlayingView:
    """Everything the page shows."""

    sentence: str
    note: str
    cannot: bool = False
    head: str = ""
    plot: PlotView | None = None
    told: tuple[str, ...] = ()
    """What was true and what the judge said: only after the person said."""
    tallies: tuple[str, ...] = ()


class PlayingPresenter:
    """One made-up test after the other."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self.seed = 0
        self.mine: bool | None = None
        """What the person says of the test in hand: real or not; None before."""
        self.you, self.judge = Tally(), Tally()
        self._of: Series | None = None
        self._played: Rehearsal | None = None
        self._made: Made | None = None

    def _begin(self, series: Series) -> None:
        self._of, self._played = series, rehearsal(self.desk, series)
        self.you, self.judge, self.mine, self._made = Tally(), Tally(), None, None
        self.seed += 1

    def made(self) -> Made | None:
        """The made-up test in hand; None where the plan cannot be played."""
        run = self.desk.run()
        if run is None:
            return None
        if run.series != self._of:
            self._begin(run.series)
        asked = self._played
        if self._made is None and asked is not None:
            self._made = rehearse.one(asked.plan, asked.responses, asked.effect, asked.factor, asked.ends, self.seed)
        return self._made

    def view(self) -> PlayingView:
        """What is so."""
        made, asked, series = self.made(), self._played, self._of
        if made is None or asked is None or series is None:
            return PlayingView(words.CANNOT, "", cannot=True)
        told: tuple[str, ...] = ()
        if self.mine is not None:
            size = decide_words.per_face(asked.response, asked.size / fmean(self._areas(asked)), units_of(self.desk))
            told = words.truth(made.effect, size, name(asked.response)), words.said(made.word)
        tallies = tuple(f"{who}: {words.tallied(t)}" for who, t in ((words.YOU, self.you), (words.JUDGE, self.judge)) if t.there + t.none)
        return PlayingView(
            words.QUESTION, words.NOTE, head=decide_words.plotted(asked.response), plot=self._plot(series, asked, made), told=told, tallies=tallies
        )

    def _areas(self, asked: Rehearsal) -> tuple[float, ...]:
        """By which each panel's figure is divided: its face in dm2 for what is judged per face."""
        areas = asked.plan.area_dm2
        panels = len(asked.plan.factors[asked.factor])
        return areas if areas is not None and verdict.KINDS[asked.response] in PER_AREA else (1.0,) * panels

    def _plot(self, series: Series, asked: Rehearsal, made: Made) -> PlotView:
        varied, units = series.varied[0], units_of(self.desk)
        known = [level.value for level in varied.levels]
        numbers = [v for v in known if v is not None]
        numeric = len(set(numbers)) == len(known) > 1
        low, high = (min(numbers), max(numbers)) if numeric else (0.0, 1.0)
        place = {level_name(i): ((v or 0.0) - low) / (high - low) if numeric else i / max(len(known) - 1, 1) for i, v in enumerate(known)}
        factor = 100.0 if verdict.KINDS[asked.response] is Kind.SHARE else 1.0
        points = tuple(
            (place[level], value * factor / area, str(i + 1))
            for i, (level, value, area) in enumerate(zip(asked.plan.factors[asked.factor], made.values, self._areas(asked), strict=True))
            if value is not None and level in place
        )
        means = tuple((x, sum(v) / len(v)) for x in place.values() if (v := [y for at, y, _ in points if at == x]))
        levels = tuple((place[level_name(i)], level_text(varied.factor, level, units)) for i, level in enumerate(varied.levels))
        return PlotView(first_up(name(varied.factor)), levels, points, (("", means),))

    # ------------------------------------------------------------ what a press does

    def say(self, *, real: bool) -> None:
        """Say of the test in hand whether it is real; what was true is shown then."""
        made = self.made()
        if made is None or self.mine is not None:
            return
        self.mine = real
        self.you, self.judge = self.you.after(made, real=real), self.judge.after(made, real=made.word is Word.REAL)

    def another(self) -> None:
        """Take the next made-up test."""
        self.seed, self.mine, self._made = self.seed + 1, None, None
