"""Findings: claims with what stands behind them, luck, and what the bench has to do with it. No widgets."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from dribbet.bench.parts.claim_rows import ClaimView, TestView
from dribbet.bench.parts.response_plots import PlotView
from dribbet.lab.plan.axes import axis_of
from dribbet.lab.plan.responses import SCALES
from dribbet.lab.verdict.pooled import Strength
from dribbet.records import Lamp, Level, Photo, Stage
from dribbet.records.wording import first_up
from dribbet.studio.acts import following
from dribbet.studio.standing import findings
from dribbet.words import bench as bench_words
from dribbet.words import findings as words
from dribbet.words.levels import level_text
from dribbet.words.units import units_of

if TYPE_CHECKING:
    from dribbet.records import Panel
    from dribbet.sight.round_face import Disc
    from dribbet.studio.desk import Desk
    from dribbet.studio.standing.findings import Claim

WIDEST: Final = 50.0  # bands of luck: an interval beyond says no more


@dataclass(frozen=True, slots=True)
class Detail:
    """What stands beside the claim in hand: heads and words, and its panels on the axis of what was varied."""

    sentence: str
    where: str
    plot_head: str
    plot: PlotView | None
    notes: tuple[tuple[str, str], ...]


@dataclass(frozen=True, slots=True)
class Thumb:
    """What a small picture of a panel is made of."""

    panel_id: str
    photo: Photo
    corners: tuple[tuple[float, float], ...]
    size_mm: tuple[float, float]
    disc: Disc | None


@dataclass(frozen=True, slots=True)
class FindingsView:
    """Everything the page shows."""

    sentence: str = ""
    note: str = ""
    claims: tuple[ClaimView, ...] = ()
    hand: int = 0
    detail: Detail | None = None
    luck: tuple[str, ...] = ()
    luck_shown: bool = False
    waiting: bool = False


class FindingsPresenter:
    """Which claim is in hand, and which are looked for."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self.hand = 0
        self.wanted = ""
        self.luck_shown = False

    def claims(self) -> list[Claim]:
        """Claims that hold all words that are looked for: in what they say, and in their tests' and panels' names."""
        found = list(findings.claims(self.desk))
        asked = self.wanted.lower().split()
        return [c for c in found if all(word in self._about(c) for word in asked)] if asked else found

    def _about(self, c: Claim) -> str:
        units = units_of(self.desk)
        parts = [words.claim(c, units), words.size(c, units), words.strength(c), str(c.response), c.varied.words, words.where(c, units)]
        parts += [f"{b.series.name} {b.series.code}" for b in c.tests] + [p.panel.code for p in c.points]
        return " ".join(parts).lower()

    def view(self) -> FindingsView:
        """What is so; waits where series are still being judged."""
        if not findings.ready(self.desk):
            return FindingsView(sentence=words.JUDGING, waiting=True)
        every, found, units = findings.claims(self.desk), self.claims(), units_of(self.desk)
        self.hand = min(self.hand, max(len(found) - 1, 0))
        panels = {p.panel.id for c in every for p in c.points}
        tests = {b.series.id for c in every for b in c.tests}
        note = words.summary(every, len(panels), len(tests)) if every else words.NOTHING_NOTE
        return FindingsView(
            sentence=words.headline(every), note=note, claims=tuple(self._row(c) for c in found), hand=self.hand,
            detail=self._detail(found[self.hand]) if found else None,
            luck=(*bench_words.luck(self.desk.learned, units), *bench_words.seen(self.desk.learned)),
            luck_shown=self.luck_shown,
        )  # fmt: skip

    def _row(self, c: Claim) -> ClaimView:
        units, luck = units_of(self.desk), c.luck or 1.0

        def of(middle: float, low: float, high: float, *, real: bool) -> TestView:
            low, high = (min(max(v / luck, -WIDEST), WIDEST) for v in (low, high))
            return TestView(min(max(middle / luck, -WIDEST), WIDEST), low, high, real)

        stands = c.strength in (Strength.STANDS, Strength.ONE)
        return ClaimView(
            sentence=words.claim(c, units), note=words.size(c, units), strength=words.strength(c), codes=tuple(b.series.code for b in c.tests),
            tests=tuple(of(b.shown.difference, b.shown.low, b.shown.high, real=b.shown.real) for b in c.tests) if len(c.tests) > 1 else (),
            pooled=of(c.pooled.difference, c.pooled.low, c.pooled.high, real=stands) if c.pooled is not None else None,
            speaking=tuple(p.panel.id for p in c.points if p.speaks_for), against=tuple(p.panel.id for p in c.points if not p.speaks_for),
            contradicted=c.strength is Strength.AGAINST,
        )  # fmt: skip

    def _detail(self, c: Claim) -> Detail:
        units = units_of(self.desk)
        odd = words.against(c, units)
        notes = [(words.FOR_IT, words.behind(c.tests)), (words.BESIDE, words.beside(c.tests) if c.tests else "")]
        notes += [(words.CONTRADICTED, odd), (words.SETTLE, words.settle(c, units))]
        return Detail(words.claim(c, units), words.where(c, units), self._head(c), self._plot(c), tuple((h, b) for h, b in notes if b))

    def _head(self, c: Claim) -> str:
        scale = SCALES[c.response]
        unit = f"{scale.unit}/dm²" if scale.per_area else scale.unit
        return f"{first_up(str(c.response))}{f', {unit}' if unit else ''}"

    def _plot(self, c: Claim) -> PlotView | None:
        """Its panels over what was varied, and the mean at each level."""
        if not c.points:
            return None
        at = sorted({p.level for p in c.points})
        low, span = at[0], max(at[-1] - at[0], 1e-9)
        axis, units = axis_of(c.varied.factor), units_of(self.desk)
        named = c.second.value is None
        levels = tuple(
            (
                (x - low) / span,
                level_text(c.varied.factor, (c.first, c.second)[int(x)] if named else Level(value=round(axis.back(x), 9)), units),
            )
            for x in at
        )
        means = tuple(((x - low) / span, sum(v) / len(v)) for x in at if (v := [p.value for p in c.points if p.level == x]))
        points = tuple(((p.level - low) / span, p.value, p.panel.code) for p in c.points)
        return PlotView(first_up(c.varied.words), levels, points, (("", means),))

    def thumbs(self) -> list[Thumb]:
        """Pictures of all panels that speak for or against a shown claim."""
        found: dict[str, Thumb] = {}
        for c in self.claims():
            for p in c.points:
                if p.panel.id not in found and (one := self._thumb(p.series_id, p.panel)) is not None:
                    found[p.panel.id] = one
        return list(found.values())

    def _thumb(self, series_id: str, panel: Panel) -> Thumb | None:
        run = self.desk.load(series_id)
        reading, photo = run.reading(panel), run.photo(panel, Lamp.DIFFUSE, Stage.DRY)
        if reading is None or photo is None:
            return None
        return Thumb(panel.id, photo, tuple((x, y) for x, y in reading.result["panel"]["corners_px"]), run.size_mm(panel), run.disc(panel))

    # ------------------------------------------------------------ what a press does

    def choose(self, row: int) -> None:
        """Take another claim in hand."""
        self.hand = row
        self.desk.changed()

    def step(self) -> None:
        """Take the next claim in hand."""
        self.choose((self.hand + 1) % max(len(self.claims()), 1))

    def search(self, typed: str) -> None:
        """Look for claims."""
        self.wanted, self.hand = typed, 0

    def turn_luck(self) -> None:
        """Show luck and the bench, or the claims again."""
        self.luck_shown = not self.luck_shown
        self.desk.changed()

    def settle(self) -> None:
        """Ask the test that would settle the claim in hand."""
        following.settle(self.desk, self.claims()[self.hand], words.REPEATS)
