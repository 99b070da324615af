"""Decide: two recipes against each other, what is real, what else differed, what to pour next. No widgets."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import timedelta
from typing import TYPE_CHECKING

from dribbet.bench.parts.interval_strip import StripView
from dribbet.bench.parts.response_plots import PlotView
from dribbet.bench.stations.decide.following import NextPresenter
from dribbet.lab.cup import batches
from dribbet.lab.panel import progress
from dribbet.lab.panel.drying import LATE_AFTER, hours_of
from dribbet.lab.panel.film import wet_film_m
from dribbet.lab.plan import confounding, goals
from dribbet.lab.plan.power import Model
from dribbet.lab.plan.responses import SCALES
from dribbet.lab.verdict import judge, predicted
from dribbet.lab.verdict.judge import Word
from dribbet.lab.verdict.laws import Kind
from dribbet.lab.verdict.poured import added as added_by
from dribbet.lab.verdict.poured import level_name
from dribbet.records import (
    Aim,
    CheckKind,
    Factor,
    Goal,
    Lamp,
    MarkKind,
    MishapKind,
    Panel,
    PanelWeight,
    Photo,
    Response,
    SeriesState,
    Stage,
)
from dribbet.records.wording import first_up
from dribbet.sight import zones
from dribbet.studio.acts import deciding
from dribbet.studio.standing import choosing, panel_costs, verdict
from dribbet.studio.standing import panels as standing
from dribbet.studio.standing import pots as flow_set
from dribbet.words import choosing as choosing_words
from dribbet.words import costs
from dribbet.words import dry as dry_words
from dribbet.words import pour as pour_words
from dribbet.words import stops as stops_words
from dribbet.words import verdict as verdict_words
from dribbet.words.levels import level_text
from dribbet.words.parts import Remark, Weight
from dribbet.words.tongue import name
from dribbet.words.units import MINUS, listed, percent, units_of

if TYPE_CHECKING:
    from dribbet.bench.parts.next_list import NextRow
    from dribbet.lab.verdict.model import Answer
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

ALIKE_COST = 0.02
MOST_PLAIN = 2  # fewer recipes than this are not plotted against each other
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


@dataclass(frozen=True, slots=True)
class DecideView:
    """Everything the page shows."""

    sentence: str = ""
    empty: bool = False
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
                added = f"recipe {arm.letter}, with {factor} {words}"
                pair = (level_name(0), level_name(1))
                made.append(Pair(there, arm.letter, f"recipe {there}", added, None, added_by(arm.letter), pair))
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
                return f"{percent(actual, 1)} (planned {words})"
        return words

    def letters(self, run: Run, which: int, level: int) -> str:
        """Recipes of the design at one level of one thing varied."""
        return "".join(a.letter for a in run.arms if a.settings[which] == level and (a.extra is None or not a.extra.instead))

    def read_panels(self, run: Run, letters: str) -> list[Panel]:
        return [p for p in run.in_order() if p.recipe in letters and (r := run.reading(p)) is not None and r.stage is Stage.DRY]

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
        scale = SCALES[response]
        first, second = (self._count(run, letters, response) for letters in (pair.first, pair.second))
        if answer is None or answer.difference is None or not first or not second:
            return Difference(None, float("nan"), None, None, Word.TOO_FEW, first, second, 0.0)
        factor = 100.0 if verdict.KINDS[response] is Kind.SHARE else 1.0
        area = self._area_dm2(run) if scale.per_area else 1.0
        band = 0.0 if scale.model is Model.YES_NO else NOISE_SD * scale.measuring_sd / area * (1.0 / first + 1.0 / second) ** 0.5
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
            return DecideView(sentence="Nothing to decide yet. Ask a question first.", empty=True, one_key="Go to Ask")
        pairs = self.pairs(run)
        if not pairs or not any(self.read_panels(run, a.letter) for a in run.arms):
            return DecideView(sentence="Nothing to decide yet. Dry panels must be read first.", empty=True, one_key="Go to Read")
        if choosing.covered(run):
            return DecideView(
                sentence=choosing_words.COVERED, note=choosing_words.COVERED_NOTE, empty=True, covered=True, one_key=choosing_words.CHOOSE
            )
        pair = pairs[self.pair % len(pairs)]
        s = run.series
        found = self.differences(run, pair)
        words = [pair.first_words, pair.second_words]
        against_cost = self.plotted >= len(s.responses)
        return DecideView(
            sentence=(verdict_words.closed(s, units_of(self.desk)) if s.state is SeriesState.DECIDED and self.pair == 0 else "")
            or verdict_words.for_now(self._sentence(run, pair, found), len(verdict.shown(self.desk, run).unread)),
            head=f"{words[0]} instead of {words[1]}",
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
            one_key=self.next.go(run) if self.next.shown else "Next question" if s.state is SeriesState.DECIDED else "Close it",
            pairs=len(pairs),
            plotting=self.plotted >= 0 and not self.next.shown,
            plot_head=verdict_words.AGAINST_COST if against_cost else self.plot_head(self._plotted(run)),
            plots=() if self.plotted < 0 else self.cost_plot(run) if against_cost else self.plots(run, self._plotted(run)),
        )

    def plot_head(self, response: Response) -> str:
        """A response with its unit, as it is plotted."""
        scale = SCALES[response]
        unit = f"{scale.unit}/dm²" if scale.per_area else scale.unit
        return f"{first_up(name(response))}{f', {unit}' if unit else ''}"

    def _plotted(self, run: Run) -> Response:
        return run.series.responses[max(self.plotted, 0) % len(run.series.responses)][0]

    def next_plot(self) -> None:
        """Plot the next response, then liking against cost; after the last, the intervals again."""
        run = self.desk.need_run()
        last = len(run.series.responses) + bool(self.cost_plot(run))
        self.plotted = self.plotted + 1 if self.plotted + 1 < last else -1
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

    def cost_plot(self, run: Run) -> tuple[PlotView, ...]:
        """How good each recipe is (by the goal, or all that is asked alike) against what a panel of it costs; those that nobody beats are joined."""
        costs_of = {letter: c.mixed for letter, c in panel_costs.of_recipes(self.desk, run, "".join(a.letter for a in run.arms))}
        asked = dict(run.series.responses)
        values = {a.letter: {r: run.values(r).get(a.letter, []) for r in asked} for a in run.arms}
        found = next((g for g in self.desk.notebook.all(Goal) if g.id == run.series.goal_id), None)
        goal = found or Goal(id="", name="all alike", aims=tuple(Aim(response=r, weight=1.0) for r in asked))
        told = {letter: (share, costs_of[letter]) for letter, share in goals.ranked(goal, asked, values) if letter in costs_of}
        if len(told) < MOST_PLAIN:
            return ()
        prices = [c for _, c in told.values()]
        low, span = min(prices), max(prices) - min(prices)
        if span < ALIKE_COST * max(prices):  # the scale's last digit is no price
            return ()
        levels = tuple(dict.fromkeys((round((c - low) / span, 6), f"{c:.2f}") for _, c in sorted(told.values(), key=lambda v: v[1])))
        points = tuple(((c - low) / span, liked, letter) for letter, (liked, c) in told.items())
        front = tuple(((told[n][1] - low) / span, told[n][0]) for n in goals.unbeaten(told))
        return (PlotView(verdict_words.UNBEATEN, levels, points, (("", front),), named=True),)

    def amount(self, response: Response, value: float) -> str:
        scale = SCALES[response]
        if scale.unit == "mm":
            return units_of(self.desk).length_text(value, scale.digits)
        sign = MINUS if value < 0 else ""
        return f"{sign}{abs(value):.{scale.digits}f} {scale.unit}".strip()

    def per_face(self, response: Response, value: float) -> str:
        """A difference as it is judged: counts and lengths per dm2."""
        if not SCALES[response].per_area:
            return self.amount(response, value)
        sign = MINUS if value < 0 else ""
        return f"{sign}{abs(value):.{1 if abs(value) < FEW_PER_DM2 else 0}f} {SCALES[response].unit}/dm²"

    def strip(self, response: Response, d: Difference) -> StripView:
        name = verdict_words.SHORT.get(response) or first_up(str(response))
        if d.difference != d.difference:
            return StripView(name, None, None, None, d.word, "not read yet")
        band = d.band or 1.0
        rounded = abs(round(d.difference, SCALES[response].digits + SCALES[response].per_area))
        words = "hardly moves" if rounded == 0 else f"{self.per_face(response, abs(d.difference))} {'more' if d.difference > 0 else 'less'}"
        low, high = (None, None) if d.low is None or d.high is None else (d.low / band, d.high / band)
        return StripView(name, d.difference / band, low, high, d.word, words)

    def _sentence(self, run: Run, pair: Pair, found: list[tuple[Response, Difference]]) -> str:
        names = [self._named(run, pair, words) for words in (pair.first_words, pair.second_words)]
        return verdict_words.headline([(r, d.difference, d.word) for r, d in found], names[0], pair.second_words)

    def _named(self, run: Run, pair: Pair, words: str) -> str:
        """A level with what it is of."""
        return verdict_words.named(name(run.series.varied[pair.which].factor), words) if pair.which is not None else words

    def _foot(self, run: Run, found: list[tuple[Response, Difference]]) -> str:
        _, d = found[0]
        told = f"{d.n_first} against {d.n_second} panels"
        if d.answer is None or d.low is None:
            return f"{told}."
        asked = sum(a.p is not None for a in verdict.shown(self.desk, run).answers)
        all_of = f"; {asked} questions taken together" if asked > 1 else ""
        return f"{told}: {verdict_words.METHOD[d.answer.way]}{all_of}."

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
        return Side(panel, panel.code, words, photo, corners)

    def film_mm(self, run: Run, letters: str) -> list[float]:
        found = []
        for panel in run.panels:
            if panel.recipe in letters:
                bare, poured = run.weight(panel, PanelWeight.BARE), run.weight(panel, PanelWeight.POURED)
                if bare is not None and poured is not None and poured > bare:
                    found.append(wet_film_m(poured - bare, self.desk.density(run, panel), run.area_m2(panel)) * 1e3)
        return found

    def _predicted(self, run: Run) -> str:
        """What became of the prediction; nothing before it can be judged at all."""
        p = run.series.prediction
        if p is None:
            return ""
        found = dict(self.differences(run, self.pairs(run)[0]))
        if p.response not in found:
            return ""
        size = f" by {self.amount(p.response, p.size)}" if p.size else ""
        locked = f", locked {self.desk.local(p.locked_at):%-d %b}" if p.locked_at else ""
        asked = replace(p, size=p.size / self._area_dm2(run)) if SCALES[p.response].per_area else p  # told per panel, judged per dm2
        became = first_up(predicted.outcome(asked, found[p.response]))
        return f"Expected: {p.more_or_less} {p.response}{size} at {self.pairs(run)[0].second_words}{locked}. {became}."

    def _by_goal(self, run: Run) -> list[Remark]:
        """Which recipe comes nearest to what good means here; not a measurement, and exchangeable on Ask."""
        goal = next((g for g in self.desk.notebook.all(Goal) if g.id == run.series.goal_id), None)
        if goal is None:
            return []
        asked = dict(run.series.responses)
        values = {a.letter: {r: run.values(r).get(a.letter, []) for r in asked} for a in run.arms}
        best = goals.ranked(goal, asked, values)[:3]
        if not best:
            return []
        said = ", then ".join(f"{letter} ({share:.2f} of 1)" for letter, share in best)
        return [Remark("", f"By the goal “{goal.name}”, recipe {said}. Goals can be exchanged on Ask.")]

    def _missed(self, run: Run) -> str:
        """Observations that the protocol asked for and that were never made."""
        now = self.desk.now()
        names = progress.looks_of(run.series)
        due = missed = 0
        for panel in run.panels:
            poured = run.poured_at(panel)
            if poured is None or panel.spoiled:
                continue
            made = {look.due for look in run.looks if look.panel_id == panel.id}
            past = [n for n in names if now > poured + timedelta(hours=hours_of(n) * (1 + LATE_AFTER) + 1)]
            due += len(past)
            missed += len([n for n in past if n not in made])
        return f"{missed} of {due} looks were never made: when a crack began is less sure." if missed else ""

    def _differs(self, run: Run, pair: Pair) -> tuple[Remark, ...]:
        s, units = run.series, units_of(self.desk)
        recipes = [a for a in run.actual_arms if a.letter in pair.first + pair.second or a.extra is not None]
        made = [Remark("Left out", f"{p.code}: {p.spoiled}.") for p in run.panels if p.spoiled and p.recipe in pair.first + pair.second]
        made += [Remark("", c.sentence, Weight.PLAIN if c.separated else Weight.CAUTION) for c in confounding.after_the_fact(s, recipes)]
        made += self._by_goal(run)
        missed = self._missed(run)
        if missed:
            made.append(Remark("", missed, Weight.CAUTION))
        made += [Remark("", f"By choice: {stops_words.gone_against(i)} ({self.desk.local(i.at):%-d %b}).", Weight.CAUTION) for i in s.insisted]
        made += self._together(run) + self._open(run) + self._odd(run, pair)
        films = [self.film_mm(run, letters) for letters in (pair.first, pair.second)]
        if all(films) and not s.varies(Factor.FILM_LEFT):
            means = [sum(f) / len(f) for f in films]
            if abs(means[0] - means[1]) > 0.15:
                said = f"The film was not equal: {units.length_text(means[0], 1)} against {units.length_text(means[1], 1)}."
                made.append(Remark("", f"{said} {self._without_film(run, pair)}".strip(), Weight.CAUTION))
        letters = pair.first + pair.second
        mended = [w for w in run.weighings if w.source == "correction" and any(m.id == w.mix_id and set(m.recipes) & set(letters) for m in run.mixes)]
        for w in mended[:2]:
            mix = next(m for m in run.mixes if m.id == w.mix_id)
            made.append(
                Remark(
                    "",
                    f"{units.mass_text(w.mass_kg)} {w.ingredient} was added to {mix.colour} of {' and '.join(mix.recipes)} after the check.",
                    Weight.CAUTION,
                )
            )
        kept = {c.mix_id: c.note for c in run.checks if c.kind is CheckKind.KEPT}
        for mix in run.mixes:
            if not set(mix.recipes) & set(letters):
                continue
            if mix.id in kept:
                made.append(
                    Remark("", f"{first_up(mix.colour)} of {' and '.join(mix.recipes)} was poured as it was: {kept[mix.id]}.", Weight.CAUTION)
                )
            if mix.kept_over:
                made.append(Remark("", f"An overshoot in {mix.colour} of {' and '.join(mix.recipes)} was accepted; its real shares are used."))
        for panel_id, why in batches.contaminated_panels(run.panels, run.mixes, run.marks).items():
            panel = next(p for p in run.panels if p.id == panel_id)
            if panel.recipe in letters:
                made.append(Remark("", f"{panel.code} may hold a trace of another cup ({why}).", Weight.CAUTION))
        sources = {
            k.note for k in run.marks if k.kind is MarkKind.WATER and any(m.id == k.mix_id and set(m.recipes) & set(letters) for m in run.mixes)
        }
        if len(sources) > 1:
            made.append(Remark("", f"The water was not of one kind: {' and '.join(sorted(sources))}.", Weight.CAUTION))
        rests = [[h for c in side if (h := flow_set.rested_h(run, c)) is not None] for side in (pair.first, pair.second)]
        if all(rests) and not s.varies(Factor.REST):
            first, second = (sum(hours) / len(hours) for hours in rests)
            if abs(first - second) > RESTED_APART_H:
                made.append(Remark("", f"The cups rested {first:.1f} h against {second:.1f} h before they were poured.", Weight.CAUTION))
        money = costs.panels(panel_costs.of_recipes(self.desk, run, "".join(sorted(letters))))
        if money:
            made.append(Remark("", money))
        counted = [(p.code, m.kind) for m in run.mishaps for p in run.panels if p.id == m.panel_id and not p.spoiled and p.recipe in letters]
        for code, kind in [(c, k) for c, k in counted if k.is_sign][:2]:
            made.append(Remark("", f"While pouring {code}: {kind}."))
        made += self._coats(run, letters)
        made += self._marked(run, letters)
        return tuple(made) or (Remark("", "Nothing else that Dribbet can compute or was told of."),)

    def _together(self, run: Run) -> list[Remark]:
        """What two things do together beyond what each does alone, where that is real."""
        made = []
        for a in verdict.shown(self.desk, run).together():
            names = [str(run.series.varied[int(f)].factor) for f in a.factors if f.isdigit()]
            if a.word is Word.REAL and len(names) == len(a.factors):
                made.append(Remark("", verdict_words.depends(names[0], names[1], a.response), Weight.CAUTION))
        return list(dict.fromkeys(made))

    def _open(self, run: Run) -> list[Remark]:
        """Panels that are still to be read, and what looking before costs."""
        unread = verdict.shown(self.desk, run).unread
        return [Remark("", verdict_words.unread([p.code for p in unread]), Weight.CAUTION)] if unread else []

    def _odd(self, run: Run, pair: Pair) -> list[Remark]:
        """Panels that lie apart from those poured alike: what happened to them, and what would be said without them."""
        told = verdict.shown(self.desk, run)
        now = {(a.response, a.what): a.word for a in told.answers}
        made = []
        for one in told.odd[:MOST_ODD]:
            panel = told.panels[one.panel]
            if panel.recipe not in pair.first + pair.second:
                continue
            happened = [str(m.kind) for m in run.mishaps if m.panel_id == panel.id and not m.kind.is_sign]
            others = verdict.words_without(told, one.panel)
            changed = any(others.get(k, w) is not w for k, w in now.items() if k[0] == one.response)
            made.append(Remark("", verdict_words.apart(panel.code, one.response, happened, changes=changed), Weight.CAUTION))
        return made

    def _without_film(self, run: Run, pair: Pair) -> str:
        """What would be said if the film were left out of the model; empty where it is not in it."""
        if verdict.FILM not in verdict.shown(self.desk, run).test.covariates:
            return ""
        both = zip(self.differences(run, pair), self._pair(run, pair, plain=True), strict=True)
        hangs = [verdict_words.without_film(r, a.word, b.word) for (r, a), (_, b) in both if a.word is not b.word]
        return " ".join(hangs) or verdict_words.FILM_COUNTED

    def _coats(self, run: Run, letters: str) -> list[Remark]:
        """Panels that were photographed under unlike coats: shine and colour are then not the paint's alone."""
        by_coat: dict[str, list[str]] = {}
        for panel in (p for p in run.panels if not p.spoiled and p.recipe in letters):
            reading = run.reading(panel)
            photo = next((f for f in run.photos if reading is not None and f.id == reading.photo_id), None)
            if photo is not None:
                coat = dry_words.coat(standing.coat_at(run, panel, photo.added_at))
                by_coat.setdefault(coat or "bare", []).append(panel.code.split("-")[-1])
        if len(by_coat) < 2 or run.series.varies(Factor.AFTER):
            return []
        said = "; ".join(f"{listed(codes)} {coat}" for coat, codes in by_coat.items())
        return [Remark("", f"Not photographed alike: {said}. Shine and colour are then not the paint's alone.", Weight.CAUTION)]

    def _marked(self, run: Run, letters: str) -> list[Remark]:
        """What went wrong on panels that count: zones left out of them, other products, and mishaps that are counted all the same."""
        made = []
        for panel in (p for p in run.panels if not p.spoiled and p.recipe in letters):
            mine = [m for m in run.mishaps if m.panel_id == panel.id and not m.kind.is_sign]
            out = zones.share_out(run.zones(panel), *run.size_mm(panel))
            if out:
                kinds = listed(list(dict.fromkeys(str(m.kind) for m in mine if m.zone_out)))
                made.append(Remark("", f"{percent(out, 1)} of {panel.code} is left out of every figure ({kinds}).", Weight.CAUTION))
            for m in mine:
                if m.kind is MishapKind.SUBSTITUTED:
                    made.append(Remark("", f"{panel.code}, {pour_words.substituted_text(m)}.", Weight.CAUTION))
                elif not m.zone_out:
                    made.append(Remark("", f"{panel.code} is counted, though marked: {m.kind}.", Weight.PLAIN))
        return made[:6]

    # ------------------------------------------------------------ what a press does

    def next_pair(self) -> None:
        run = self.desk.need_run()
        self.pair = (self.pair + 1) % max(len(self.pairs(run)), 1)
        self.shown = [0, 0]
        self.desk.changed()

    def side_panel(self, view: DecideView) -> Panel | None:
        """The panel shown on the left, as it is now."""
        return next((p for p in self.desk.need_run().panels if view.left is not None and p.id == view.left.panel.id), None)

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
