"""Decide: two recipes against each other, what is real, what else differed, what to pour next. No widgets."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import partial
from typing import TYPE_CHECKING

from dribbet.bench.parts.interval_strip import StripView
from dribbet.bench.parts.response_plots import PlotView
from dribbet.bench.stations.decide import liked
from dribbet.bench.stations.decide.following import NextPresenter
from dribbet.lab.plan.responses import SCALES
from dribbet.lab.verdict import judge, predicted
from dribbet.lab.verdict.judge import Word
from dribbet.lab.verdict.laws import Kind
from dribbet.lab.verdict.poured import added as added_by
from dribbet.lab.verdict.poured import level_name
from dribbet.records import (
    Factor,
    Lamp,
    Panel,
    Photo,
    Response,
    SeriesState,
    Stage,
)
from dribbet.records.wording import first_up
from dribbet.studio.acts import deciding
from dribbet.studio.standing import choosing, differs, verdict
from dribbet.words import choosing as choosing_words
from dribbet.words import decide as decide_words
from dribbet.words import differs as differs_words
from dribbet.words import verdict as verdict_words
from dribbet.words.levels import level_text
from dribbet.words.tongue import name
from dribbet.words.units import percent, units_of

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.bench.parts.next_list import NextRow
    from dribbet.lab.verdict.model import Answer
    from dribbet.sight.round_face import Disc
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run
    from dribbet.words.parts import Remark

RESTED_APART_H = 1.0  # hours of rest from which two sides count as unlike
MOST_ODD = 3  # panels that lie apart are named at most
NOISE_SD = 1.96  # standard deviations of the measuring noise within which nothing is told
FEW_PER_DM2 = 10.0  # below this, per dm2 is told to a tenth
REALLY_OTHER = 0.004  # share of water from which a level counts as another than planned


@dataclass(frozen=True, slots=True)
class Side:
    """One of the two panels shown."""

    panel: Panel
    code: str
    words: str
    photo: Photo
    corners: tuple[tuple[float, float], ...]
    disc: Disc | None


@dataclass(frozen=True, slots=True)
class DecideView:
    """Everything the page shows."""

    sentence: str = ""
    empty: bool = False
    leads: str = ""
    """The page at which the one key arrives, where there is nothing to decide."""
    covered: bool = False
    """Whether its recipes are hidden until somebody chose, or opened them."""
    note: str = ""
    head: str = ""
    left: Side | None = None
    right: Side | None = None
    size_mm: tuple[float, float] = (200.0, 150.0)
    strips: tuple[StripView, ...] = ()
    foot: str = ""
    differs: tuple[Remark, ...] = ()
    predicted: str = ""
    next_words: str = ""
    lamp: str = "diffuse"
    lamps: tuple[str, ...] = ("diffuse",)
    decided: bool = False
    one_key: str = ""
    pairs: int = 1
    proposing: bool = False
    """Whether what to pour next stands in place of the intervals."""
    rows: tuple[NextRow, ...] = ()
    row: int = 0
    plotting: bool = False
    plot_head: str = ""
    plots: tuple[PlotView, ...] = ()


@dataclass(frozen=True, slots=True)
class Pair:
    """Two groups of recipes that are compared, and their words; `which` thing varied tells them apart, if one does."""

    first: str
    second: str
    first_words: str
    second_words: str
    which: int | None
    thing: str = ""
    """Name of what tells them apart, and of its two levels, as the model knows them."""
    levels: tuple[str, str] = ("", "")


@dataclass(frozen=True, slots=True)
class Difference:
    """One response of a pair as it is shown: per dm2 for counts and lengths, in % for shares."""

    answer: Answer | None
    difference: float
    low: float | None
    high: float | None
    word: Word
    n_first: int
    n_second: int
    band: float
    """Half-width of the measuring noise."""

    @property
    def level(self) -> float:
        """How sure the interval is."""
        return self.answer.level if self.answer is not None else judge.CONFIDENCE


class DecidePresenter:
    """Which two settings are compared, and what the notebook says of them."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self.pair = 0
        self.shown = [0, 0]
        self.lamp = Lamp.DIFFUSE
        self.next = NextPresenter(desk)
        self.plotted = -1
        """Which response is plotted; -1 where the intervals are shown."""

    # ------------------------------------------------------------ who is compared

    def pairs(self, run: Run) -> list[Pair]:
        """Pairs of levels of each thing varied, ends first, then neighbours; then what an added recipe separates."""
        made = []
        for which, varied in enumerate(run.series.varied):
            n = len(varied.levels)
            ends = [(0, n - 1)] if n > 1 else []
            both = ends + [(i, i + 1) for i in range(n - 1) if (i, i + 1) not in ends]
            made += [
                Pair(
                    self.letters(run, which, i),
                    self.letters(run, which, j),
                    self.level(run, which, i),
                    self.level(run, which, j),
                    which,
                    str(which),
                    (level_name(i), level_name(j)),
                )
                for i, j in both
            ]
        plain = {a.settings: a for a in run.arms if a.extra is None}
        for arm in run.arms:
            if arm.extra is not None and arm.extra.instead and arm.settings in plain:
                factor, level = arm.extra.instead[-1]
                there = plain[arm.settings].letter
                words = level_text(factor, level, units_of(self.desk))
                added = decide_words.recipe_with(arm.letter, name(factor), words)
                pair = (level_name(0), level_name(1))
                made.append(Pair(there, arm.letter, decide_words.recipe(there), added, None, added_by(arm.letter), pair))
        return made

    def level(self, run: Run, which: int, level: int) -> str:
        """A level in words; what was really weighed in where that is another share than planned."""
        varied = run.series.varied[which]
        words = level_text(varied.factor, varied.levels[level], units_of(self.desk))
        planned = varied.levels[level].value
        if varied.factor is Factor.WATER_SHARE and planned is not None:
            shares = [a.water_share for a in run.actual_arms if a.settings[which] == level and (a.extra is None or not a.extra.instead)]
            actual = sum(shares) / len(shares) if shares else planned
            if abs(actual - planned) >= REALLY_OTHER:
                return decide_words.really(percent(actual, 1), words)
        return words

    def letters(self, run: Run, which: int, level: int) -> str:
        """Recipes of the design at one level of one thing varied."""
        return "".join(a.letter for a in run.arms if a.settings[which] == level and (a.extra is None or not a.extra.instead))

    def read_panels(self, run: Run, letters: str) -> list[Panel]:
        """Panels of some recipes that were read dry."""
        return differs.read_dry(run, letters)

    def values(self, run: Run, letters: str, response: Response) -> list[float]:
        return [v for group in run.values(response, letters).values() for v in group]

    def differences(self, run: Run, pair: Pair) -> list[tuple[Response, Difference]]:
        """Each response of a pair, as the whole series' model answers it."""
        return self._pair(run, pair, plain=False)

    def _pair(self, run: Run, pair: Pair, *, plain: bool) -> list[tuple[Response, Difference]]:
        told = verdict.shown(self.desk, run)
        answers = told.pair(pair.thing, *pair.levels, plain=plain)
        return [(r, self._difference(run, pair, r, answers.get(str(r)))) for r, _ in run.series.responses]

    def _difference(self, run: Run, pair: Pair, response: Response, answer: Answer | None) -> Difference:
        first, second = (self._count(run, letters, response) for letters in (pair.first, pair.second))
        if answer is None or answer.difference is None or not first or not second:
            return Difference(None, float("nan"), None, None, Word.TOO_FEW, first, second, 0.0)
        factor = 100.0 if verdict.KINDS[response] is Kind.SHARE else 1.0
        band = NOISE_SD * verdict.noise_between(verdict.shown(self.desk, run), response, pair.first, pair.second)
        low, high = (None if v is None else v * factor for v in (answer.low, answer.high))
        return Difference(answer, answer.difference * factor, low, high, answer.word, first, second, band)

    def _count(self, run: Run, letters: str, response: Response) -> int:
        """Panels that say something: of a time, those that have not cracked too."""
        if response is Response.FIRST_CRACK:
            return sum(p.recipe in letters and run.began(p) is not None for p in verdict.shown(self.desk, run).panels)
        return len(self.values(run, letters, response))

    def _area_dm2(self, run: Run) -> float:
        """Measured face of the panels that are judged, on the mean."""
        areas = verdict.shown(self.desk, run).test.area_dm2 or (1.0,)
        return sum(areas) / len(areas)

    # ------------------------------------------------------------ what is so

    def view(self) -> DecideView:
        run = self.desk.run()
        if run is None or not run.panels:
            return DecideView(sentence=decide_words.NO_QUESTION, empty=True, one_key=decide_words.GO_TO_ASK, leads="ask")
        pairs = self.pairs(run)
        if not pairs or not any(self.read_panels(run, a.letter) for a in run.arms):
            return DecideView(sentence=decide_words.NOT_READ, empty=True, one_key=decide_words.GO_TO_READ, leads="read")
        if choosing.covered(run):
            return DecideView(
                sentence=choosing_words.COVERED, note=choosing_words.COVERED_NOTE, empty=True, covered=True, one_key=choosing_words.CHOOSE
            )
        pair = pairs[self.pair % len(pairs)]
        s = run.series
        found = self.differences(run, pair)
        words = [pair.first_words, pair.second_words]
        turn = self._turns(run)[self.plotted] if self.plotted >= 0 else None
        return DecideView(
            sentence=(verdict_words.closed(s, units_of(self.desk)) if s.state is SeriesState.DECIDED and self.pair == 0 else "")
            or verdict_words.for_now(self._sentence(run, pair, found), len(verdict.shown(self.desk, run).unread)),
            head=decide_words.instead(*words),
            left=self._side(run, pair.first, 0, words[0]),
            right=self._side(run, pair.second, 1, words[1]),
            size_mm=run.size_mm(run.panels[0]),
            strips=tuple(self.strip(r, d) for r, d in found),
            foot=self._foot(run, found),
            differs=self._differs(run, pair),
            predicted=self._predicted(run),
            next_words=self.next.first(run),
            lamp=str(self.lamp),
            lamps=tuple(str(lamp) for lamp in Lamp if any(p.lamp is lamp and not p.left_out for p in run.photos)),
            decided=s.state is SeriesState.DECIDED,
            proposing=self.next.shown,
            rows=self.next.rows(run) if self.next.shown else (),
            row=self.next.hand,
            one_key=self.next.go(run) if self.next.shown else decide_words.NEXT_QUESTION if s.state is SeriesState.DECIDED else decide_words.CLOSE,
            pairs=len(pairs),
            plotting=self.plotted >= 0 and not self.next.shown,
            plot_head=turn[0] if turn else "",
            plots=turn[1]() if turn else (),
        )

    def plot_head(self, response: Response) -> str:
        """A response with its unit, as it is plotted."""
        return decide_words.plotted(response)

    def _turns(self, run: Run) -> list[tuple[str, Callable[[], tuple[PlotView, ...]]]]:
        """What V turns through: each thing asked, then how good each recipe is by cost, labour and weights, where that can be said."""
        turns = [(self.plot_head(r), partial(self.plots, run, r)) for r, _ in run.series.responses]
        further = (
            (verdict_words.AGAINST_COST, liked.cost_plot),
            (verdict_words.AGAINST_LABOUR, liked.labour_plot),
            (verdict_words.AGAINST_WEIGHT, liked.weight_plots),
        )
        return [*turns, *((head, partial(draw, self.desk, run)) for head, draw in further if draw(self.desk, run))]

    def next_plot(self) -> None:
        """Turn to the next plot; after the last, the intervals again."""
        run = self.desk.need_run()
        self.plotted = self.plotted + 1 if self.plotted + 1 < len(self._turns(run)) else -1
        self.desk.changed()

    def plots(self, run: Run, response: Response) -> tuple[PlotView, ...]:
        """What each thing varied does to a response, beside the other where two were varied."""
        told = verdict.figures(verdict.shown(self.desk, run), response)
        made = []
        for which, varied in enumerate(run.series.varied):
            known = [lv.value for lv in varied.levels]
            numeric = all(v is not None for v in known) and len(set(known)) == len(known) > 1
            low, high = (min(v for v in known if v is not None), max(v for v in known if v is not None)) if numeric else (0.0, 1.0)
            places = [((v or 0.0) - low) / (high - low) if numeric else i / max(len(known) - 1, 1) for i, v in enumerate(known)]
            levels = tuple((place, self.level(run, which, i)) for i, place in enumerate(places))
            mine = [(p, v) for p, v in told if p.settings[which] >= 0]
            other = next((i for i in range(len(run.series.varied)) if i != which), None)
            groups = sorted({p.settings[other] for p, _ in mine if p.settings[other] >= 0}) if other is not None else [None]
            lines = []
            for group in groups:
                means = []
                for i, place in enumerate(places):
                    here = [v for p, v in mine if p.settings[which] == i and (other is None or p.settings[other] == group)]
                    if here:
                        means.append((place, sum(here) / len(here)))
                lines.append(("" if other is None or group is None else self.level(run, other, group), tuple(means)))
            points = tuple((places[p.settings[which]], v, p.code) for p, v in mine)
            made.append(PlotView(first_up(name(varied.factor)), levels, points, tuple(lines)))
        return tuple(made)

    def amount(self, response: Response, value: float) -> str:
        """A figure of a response."""
        return decide_words.amount(response, value, units_of(self.desk))

    def per_face(self, response: Response, value: float) -> str:
        """A difference as it is judged: counts and lengths per dm2."""
        return decide_words.per_face(response, value, units_of(self.desk))

    def strip(self, response: Response, d: Difference) -> StripView:
        """A response as its strip shows it."""
        called = verdict_words.SHORT.get(response) or first_up(name(response))
        if d.difference != d.difference:
            return StripView(called, None, None, None, d.word, decide_words.UNREAD, decide_words.said(d.word, within=False))
        band = d.band or 1.0
        low, high = (None, None) if d.low is None or d.high is None else (d.low / band, d.high / band)
        words = decide_words.difference(response, d.difference, units_of(self.desk))
        return StripView(called, d.difference / band, low, high, d.word, words, decide_words.said(d.word, within=abs(d.difference) < d.band))

    def _sentence(self, run: Run, pair: Pair, found: list[tuple[Response, Difference]]) -> str:
        names = [self._named(run, pair, words) for words in (pair.first_words, pair.second_words)]
        return verdict_words.headline([(r, d.difference, d.word) for r, d in found], names[0], pair.second_words)

    def _named(self, run: Run, pair: Pair, words: str) -> str:
        """A level with what it is of."""
        return verdict_words.named(name(run.series.varied[pair.which].factor), words) if pair.which is not None else words

    def _foot(self, run: Run, found: list[tuple[Response, Difference]]) -> str:
        response, d = found[0]
        asked = sum(a.p is not None for a in verdict.shown(self.desk, run).answers)
        words = decide_words.foot(d.n_first, d.n_second, None if d.answer is None or d.low is None else d.answer.way, asked)
        what = (verdict_words.SHORT.get(response) or name(response)).lower()
        return f"{words} {decide_words.noise(what, *verdict.noise_from(self.desk, run, response))}" if d.band else words

    def _side(self, run: Run, letters: str, which: int, words: str) -> Side | None:
        panels = self.read_panels(run, letters)
        if not panels:
            return None
        panel = panels[self.shown[which] % len(panels)]
        reading = run.reading(panel)
        photo = run.photo(panel, self.lamp, Stage.DRY) or run.photo(panel, Lamp.DIFFUSE, Stage.DRY)
        if reading is None or photo is None:
            return None
        corners = tuple((x, y) for x, y in reading.result["panel"]["corners_px"])
        return Side(panel, panel.code, words, photo, corners, run.disc(panel))

    def _predicted(self, run: Run) -> str:
        """What became of the prediction; nothing before it can be judged at all."""
        p = run.series.prediction
        if p is None:
            return ""
        found = dict(self.differences(run, self.pairs(run)[0]))
        if p.response not in found:
            return ""
        asked = replace(p, size=p.size / self._area_dm2(run)) if SCALES[p.response].per_area else p  # told per panel, judged per dm2
        locked = self.desk.local(p.locked_at) if p.locked_at else None
        became = predicted.outcome(asked, found[p.response])
        return decide_words.expected(p, self.pairs(run)[0].second_words, became, locked, units_of(self.desk))

    def _differs(self, run: Run, pair: Pair) -> tuple[Remark, ...]:
        sides = differs.Sides(first=pair.first, second=pair.second, thing=pair.thing, levels=pair.levels)
        return differs_words.remarks(differs.beside(self.desk, run, sides), units_of(self.desk), self.desk.local)

    # ------------------------------------------------------------ what a press does

    def next_pair(self) -> None:
        run = self.desk.need_run()
        self.pair = (self.pair + 1) % max(len(self.pairs(run)), 1)
        self.shown = [0, 0]
        self.desk.changed()

    def side_panel(self, view: DecideView) -> Panel | None:
        """The panel shown on the left, as it is now."""
        return next((p for p in self.desk.need_run().panels if view.left is not None and p.id == view.left.panel.id), None)

    def show_panel(self, code: str) -> None:
        """Show a panel on the side that it belongs to."""
        run = self.desk.need_run()
        pair = self.pairs(run)[self.pair % len(self.pairs(run))]
        for which, letters in enumerate((pair.first, pair.second)):
            codes = [p.code for p in self.read_panels(run, letters)]
            if code in codes:
                self.shown[which] = codes.index(code)
        self.desk.changed()

    def next_panel(self, which: int) -> None:
        self.shown[which] += 1
        self.desk.changed()

    def next_lamp(self) -> None:
        known = [Lamp(name) for name in self.view().lamps]
        if known:
            self.lamp = known[(known.index(self.lamp) + 1) % len(known)] if self.lamp in known else known[0]
        self.desk.changed()

    def close(self) -> None:
        """Close the series with what it shows."""
        deciding.close(self.desk)
