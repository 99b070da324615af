"""What all panels of the notebook have shown: claims with the tests behind them, their panels for and against, and what would settle them.

A claim is one thing varied and one response. Tests are put together only where they are alike in what they laid the paint on and in
what was coated over it; where a factor is a number, its effect is taken for one and the same step on the axis on which it acts.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from statistics import fmean, median
from typing import TYPE_CHECKING, Final

from dribbet.lab.plan.axes import axis_of, handy
from dribbet.lab.plan.responses import SCALES
from dribbet.lab.verdict import pooled
from dribbet.lab.verdict.laws import Kind
from dribbet.lab.verdict.pooled import Pooled, Strength
from dribbet.lab.verdict.poured import level_name
from dribbet.records import BasePlan, Factor, Level, Response, Wanted, Word
from dribbet.studio.standing import choosing, verdict

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.records import Panel, Series, Varied
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

RANK: Final = {Strength.STANDS: 0, Strength.AGAINST: 1, Strength.ONE: 2, Strength.NOTHING: 3, Strength.OPEN: 4}
SAME: Final = 1e-9
PAIR: Final = 1.96 * 2.0**0.5  # standard deviations of one panel within which 95 of 100 differences of two lie


@dataclass(frozen=True, slots=True, kw_only=True)
class Behind:
    """One test behind a claim."""

    series: Series
    shown: pooled.Shown
    """Second level minus first, for the claim's step, per dm2 or in %."""
    word: Word
    panels: tuple[Panel, ...]
    moved: tuple[str, ...] = ()
    """What moved along with the thing varied."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Point:
    """One panel of a claim: its level, what it showed, and whether it speaks for the claim."""

    series_id: str
    panel: Panel
    level: float
    """On the axis for numbers, its place among the names else."""
    value: float
    speaks_for: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Claim:
    """One thing varied, one response, and all tests of it that can be put together."""

    varied: Varied
    first: Level
    second: Level
    response: Response
    wanted: Wanted
    strength: Strength
    pooled: Pooled | None
    luck: float
    """Half-width of what panels poured alike differ by, per dm2 or in %; 0 where it is not known."""
    tests: tuple[Behind, ...]
    points: tuple[Point, ...]
    unread: int = 0
    """Panels that were poured or planned for it and are not read."""

    @property
    def key(self) -> tuple[Factor, str, Response]:
        """What it is about."""
        return self.varied.factor, self.varied.words, self.response

    @property
    def more(self) -> bool:
        """Whether the second level gives more."""
        return self.pooled is not None and self.pooled.difference > 0.0


def claims(desk: Desk) -> tuple[Claim, ...]:
    """All claims, those that stand first; once until something changes."""
    groups: dict[tuple[object, ...], list[tuple[Run, int, Response]]] = {}
    for series in desk.all_series():
        run = desk.load(series.id)
        if run.series.seed is None or choosing.covered(run):
            continue
        for which, varied in enumerate(series.varied):
            if len(varied.levels) < 2:
                continue
            for response, _ in series.responses:
                groups.setdefault((*_alike(series, varied), response), []).append((run, which, response))
    made = [_claim(desk, group) for group in groups.values()]
    return tuple(sorted((c for c in made if c is not None), key=lambda c: (RANK[c.strength], -len(c.tests), -_size(c))))


def _size(c: Claim) -> float:
    """How large a claim is against luck, so that the larger comes first."""
    return abs(c.pooled.difference) / c.luck if c.pooled is not None and c.luck > 0.0 else 0.0


def _numeric(varied: Varied) -> bool:
    values = [level.value for level in varied.levels]
    return all(v is not None for v in values) and len(set(values)) == len(values)


def _alike(series: Series, varied: Varied) -> tuple[object, ...]:
    """What tests must have in common to be put together: what is varied, over which base, under which coat."""
    held = series.constants
    base = held.base if held.base_plan not in (BasePlan.NONE, BasePlan.MIST) and not series.varies(Factor.BASE_PAINT) else ""
    names: tuple[str, ...] = () if _numeric(varied) else tuple(sorted({varied.levels[0].name, varied.levels[-1].name}))
    return varied.factor, varied.of, varied.words, names, base, held.after if not series.varies(Factor.AFTER) else ""


def _claim(desk: Desk, group: Sequence[tuple[Run, int, Response]]) -> Claim | None:
    response = group[0][2]
    numeric = _numeric(group[0][0].series.varied[group[0][1]])
    varied = group[-1][0].series.varied[group[-1][1]]
    first, second = _ends([one for one in group if _says(desk, one)] or group, numeric=numeric)
    step = _place(varied, second, group) - _place(varied, first, group)
    tests, points, unread = [], [], 0
    for run, which, _ in group:
        told = verdict.shown(desk, run)
        unread += len(told.unread)
        one = _behind(run, which, response, told, step, first, numeric=numeric)
        if one is not None:
            tests.append(one)
        points += _points(run, which, response, told, first, numeric=numeric)
    known = [t.shown for t in tests if t.word is not Word.TOO_FEW]
    together = pooled.pool(known) if known else None
    strength = pooled.strength(known)
    if not points and not unread:
        return None
    wanted = dict(group[-1][0].series.responses)[response]
    return Claim(
        varied=varied, first=first, second=second, response=response, wanted=wanted, strength=strength, pooled=together,
        luck=_luck(desk, group, response), tests=tuple(tests),
        points=_for_and_against(points, together.difference if together is not None else _rough(points)), unread=unread,
    )  # fmt: skip


def _says(desk: Desk, one: tuple[Run, int, Response]) -> bool:
    """Whether a test was judged in this: one that is only planned, or has too few panels, does not choose for what step a claim is told."""
    run, which, response = one
    answers = verdict.shown(desk, run).answers
    return any(a.response == str(response) and a.factors == (str(which),) and a.word is not Word.TOO_FEW for a in answers)


def _ends(group: Sequence[tuple[Run, int, Response]], *, numeric: bool) -> tuple[Level, Level]:
    """The step that a claim is told for: the middle of the lowest and of the highest levels of these tests."""
    all_varied = [run.series.varied[which] for run, which, _ in group]
    if not numeric:
        return all_varied[-1].levels[0], all_varied[-1].levels[-1]
    values = [[level.value for level in v.levels if level.value is not None] for v in all_varied]
    factor = all_varied[-1].factor
    return Level(value=handy(factor, median(min(v) for v in values))), Level(value=handy(factor, median(max(v) for v in values)))


def _place(varied: Varied, level: Level, group: Sequence[tuple[Run, int, Response]]) -> float:
    return axis_of(varied.factor).to(level.value) if level.value is not None else float(level != _ends(group, numeric=False)[0])


def _behind(run: Run, which: int, response: Response, told: verdict.Shown, step: float, first: Level, *, numeric: bool) -> Behind | None:
    """What one test shows for the claim's step; None where it says nothing."""
    varied = run.series.varied[which]
    low, high = 0, len(varied.levels) - 1
    if numeric:
        axis = axis_of(varied.factor)
        places = [axis.to(level.value) for level in varied.levels if level.value is not None]
        low, high = min(range(len(places)), key=places.__getitem__), max(range(len(places)), key=places.__getitem__)
        own = places[high] - places[low]
    else:
        if varied.levels[0] != first:
            low, high = high, low
        own = 1.0
    answer = told.pair(str(which), level_name(high), level_name(low)).get(str(response))
    if answer is None or answer.difference is None or own <= SAME:
        return None
    factor = (100.0 if verdict.KINDS[response] is Kind.SHARE else 1.0) * (step / own if numeric else 1.0)
    if answer.low is None or answer.high is None:
        return Behind(
            series=run.series, word=answer.word, panels=told.panels,
            shown=pooled.Shown(difference=answer.difference * factor, low=float("-inf"), high=float("inf"), real=False),
        )  # fmt: skip
    shown = pooled.Shown(
        difference=answer.difference * factor, low=answer.low * factor, high=answer.high * factor, real=answer.word is Word.REAL, level=answer.level
    )
    moved = tuple(u.covariate for u in told.moved if u.factor == str(which))
    return Behind(series=run.series, shown=shown, word=answer.word, panels=told.panels, moved=moved)


def _points(run: Run, which: int, response: Response, told: verdict.Shown, first: Level, *, numeric: bool) -> list[Point]:
    varied, made = run.series.varied[which], []
    axis = axis_of(varied.factor)
    odd = {a.letter for a in run.arms if a.extra is not None and a.extra.instead}
    for panel, value in verdict.figures(told, response):
        at = panel.settings[which]
        if at < 0 or panel.recipe in odd:
            continue
        level = varied.levels[at]
        place = axis.to(level.value) if numeric and level.value is not None else float(level != first)
        made.append(Point(series_id=run.series.id, panel=panel, level=place, value=value, speaks_for=True))
    return made


def _rough(points: Sequence[Point]) -> float:
    """Which way the panels lean where no test could be judged."""
    if len({p.level for p in points}) < 2:
        return 0.0
    x, y = fmean(p.level for p in points), fmean(p.value for p in points)
    return sum((p.level - x) * (p.value - y) for p in points)


def _for_and_against(points: Sequence[Point], way: float) -> tuple[Point, ...]:
    """A panel speaks for a claim where it lies on the side of its own test's mean on which the claim has it."""
    made = []
    for p in points:
        mine = [q for q in points if q.series_id == p.series_id]
        x, y = fmean(q.level for q in mine), fmean(q.value for q in mine)
        side = (p.level - x) * (p.value - y) * way
        made.append(replace(p, speaks_for=side >= 0.0))
    return tuple(made)


def _luck(desk: Desk, group: Sequence[tuple[Run, int, Response]], response: Response) -> float:
    """Half of the width within which nearly all differences of two panels poured alike lie."""
    known = desk.learned.scatter(response) if response is not Response.FIRST_CRACK else None
    if known is None:
        return 0.0
    areas = [a for run, _, _ in group for a in (verdict.shown(desk, run).test.area_dm2 or ())]
    area = fmean(areas) if areas and SCALES[response].per_area else 1.0
    return PAIR * known.sd / area


def ready(desk: Desk) -> bool:
    """Whether every series has been judged since the last change, so that claims are at hand without a wait."""
    return all(desk.load(s.id).knows(verdict.SHOWN) for s in desk.all_series() if s.seed is not None)


def judge_one(desk: Desk) -> bool:
    """Judge one series more; False where all are judged."""
    for series in desk.all_series():
        if series.seed is not None:
            run = desk.load(series.id)
            if not run.knows(verdict.SHOWN):
                verdict.shown(desk, run)
                return True
    return False
