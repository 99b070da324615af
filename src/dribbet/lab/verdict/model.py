"""What a whole test shows: every response, every factor, every pair of levels and every product that the panels can tell, judged together.

One model for window, command line and rehearsal. Words are closed over everything that the test asked (Holm 1979); each interval stands at the
level at which its answer was judged, so that a word and its interval never contradict each other.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Any, Final

import numpy as np

from dribbet.lab.verdict import exact, laws
from dribbet.lab.verdict.columns import Columns, Contrast, columns_of, numbered
from dribbet.lab.verdict.effects import sorted_levels
from dribbet.lab.verdict.judge import CONFIDENCE, Word
from dribbet.lab.verdict.laws import Kind, Method

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    import numpy.typing as npt

    Floats = npt.NDArray[np.float64]

ALPHA: Final = 1.0 - CONFIDENCE
CLEAR: Final = 1.0 - 1e-9  # of a level: exact tests may come out at one twentieth to the last bit, and that is not below it
ROUNDING: Final = 1e-12  # of the largest figure: a difference smaller than this is none
PER_AREA: Final = (Kind.COUNT, Kind.LENGTH)
MANY_ZEROS: Final = 0.3  # of the panels have none: lengths are then judged by shuffling
LEAST_FOR_ONE: Final = 2.0  # degrees of freedom of a recipe's own scatter from which noise counts in full for how sure it is
LEAST_FOR_ALL: Final = 4.0  # the same of all recipes' together
LENGTH_FLOOR: Final = 0.05  # of the mean length: what is nearer to none scatters no less than here
LEAST_FREE: Final = 0.1  # of a panel's own figure is left by the model, before it can be said to lie apart
MOVED_R: Final = 0.3  # correlation from which a thing is said to have moved along with a factor (science, 8)


@dataclass(frozen=True, kw_only=True)
class Asked:
    """One response of a test: a value for each panel, None where it has none (for a time: not yet; NaN: not known)."""

    name: str
    kind: Kind
    values: tuple[float | None, ...]
    measuring_sd: float = 0.0
    """Scatter of the same panel photographed again: panels poured alike never scatter less."""
    noise_sd: tuple[float, ...] = ()
    """The same of each panel, where they are known to be unlike: some are of another size, photographed more often, or harder to read."""
    independent: bool = True
    """Whether each panel errs for itself; False where panels that are alike err alike, as points that are rounded do."""
    followed: float | None = None
    """Of a time: for how long the panels were followed; None: until the last one that came."""


@dataclass(frozen=True, kw_only=True)
class Test:
    """Panels of one test: what was varied, what they showed, what they share and what moved along."""

    __test__ = False

    factors: Mapping[str, tuple[str, ...]]
    responses: tuple[Asked, ...]
    area_dm2: tuple[float, ...] | None = None
    block: tuple[str, ...] | None = None
    sheet: tuple[str, ...] | None = None
    covariates: Mapping[str, tuple[float, ...]] = field(default_factory=dict)


@dataclass(frozen=True, kw_only=True)
class Answer:
    """One difference of one response: first level minus second, per dm2 for counts and lengths."""

    response: str
    what: str
    factors: tuple[str, ...]
    first: str
    second: str
    difference: float | None
    low: float | None
    high: float | None
    level: float
    p: float | None
    """Adjusted for all that was asked: below 0.05 exactly where the word is 'real'."""
    word: Word
    way: Method


@dataclass(frozen=True, kw_only=True)
class Unlike:
    """Something that moved along with a factor: the root of the share of its variance that lies between the factor's levels."""

    covariate: str
    factor: str
    r: float


@dataclass(frozen=True, kw_only=True)
class _Raw:
    """An answer before it is held against the others."""

    contrast: Contrast
    difference: float
    variance: float
    df: float
    p: float | None
    least_p: float = 0.0
    way: Method


def answers(test: Test) -> tuple[Answer, ...]:
    """Judge a test."""
    raw = [(asked, one) for asked in test.responses for one in _raw(test, asked)]
    levels = _steps([r.p for _, r in raw], [r.least_p for _, r in raw])
    return tuple(_closed(asked, one, step) for (asked, one), step in zip(raw, levels, strict=True))


def unlike(test: Test) -> tuple[Unlike, ...]:
    """What moved along with a factor, strongest first."""
    found = []
    for name, values in test.covariates.items():
        v = np.asarray(values, np.float64)
        for factor, column in test.factors.items():
            cells = numbered(column)
            if np.ptp(v) == 0.0 or cells.max() == 0:
                continue
            means = np.array([v[cells == c].mean() for c in range(int(cells.max()) + 1)])[cells]
            r = math.sqrt(float(np.var(means) / np.var(v)))
            if r > MOVED_R:
                found.append(Unlike(covariate=name, factor=factor, r=r))
    return tuple(sorted(found, key=lambda u: -u.r))


@dataclass(frozen=True, kw_only=True)
class Odd:
    """A panel that lies apart from those poured alike, in one response."""

    response: str
    panel: int
    """Its place among the panels of the test."""
    p: float
    """Chance of a panel so far off, the furthest of all taken into account (Bonferroni)."""


def odd(test: Test) -> tuple[Odd, ...]:
    """Panels that lie apart: externally studentised residuals, for figures that are least squares (Cook and Weisberg 1982).

    The others never scatter by less than measuring alone makes them: where all but one are alike to the last figure (no crack on any,
    or all covered), what is left of their scatter is rounding.
    """
    found = []
    for asked in test.responses:
        rows = [i for i, v in enumerate(asked.values) if v is not None and math.isfinite(v)]
        mine = _some(test, rows)
        if asked.kind in (Kind.YES_NO, Kind.TIME) or not mine.factors:
            continue
        area = np.ones(len(rows)) if mine.area_dm2 is None else np.asarray(mine.area_dm2, np.float64)
        y = np.array([asked.values[i] for i in rows], np.float64) / (area if asked.kind in PER_AREA else 1.0)
        measured = _noise(asked, rows, area)
        if asked.kind in PER_AREA:  # on the root, counts scatter alike; what measuring adds is halved by the root's slope
            measured = measured / (4.0 * np.maximum(np.maximum(y, np.sqrt(measured)), ROUNDING))
        shown = np.sqrt(np.maximum(y, 0.0)) if asked.kind in PER_AREA else y
        f = laws.fit(columns_of(mine.factors), shown)
        free = np.diag(f.rest)
        all_ = float(f.left @ f.left)
        if f.df < 2 or all_ <= 0.0:
            continue
        for i, row in enumerate(rows):
            rest = all_ - f.left[i] ** 2 / max(free[i], 1e-9)
            others = max(rest / (f.df - 1) if rest > ROUNDING * all_ else 0.0, float(np.delete(measured, i).mean()))
            if free[i] > LEAST_FREE and others > 0.0:
                p = laws.t_p(float(f.left[i]), others * float(free[i]), f.df - 1) * len(rows)
                if p < ALPHA:
                    found.append(Odd(response=asked.name, panel=row, p=p))
    return tuple(sorted(found, key=lambda o: (float(f"{o.p:.9g}"), o.panel)))  # two of one recipe are equally far: no rounding orders them


def without(test: Test, panel: int) -> Test:
    """The test with one panel less."""
    rows = [i for i in range(len(next(iter(test.factors.values())))) if i != panel]

    def of(values: tuple[Any, ...]) -> tuple[Any, ...]:
        return tuple(values[i] for i in rows) if values else ()

    return replace(_some(test, rows), responses=tuple(replace(r, values=of(r.values), noise_sd=of(r.noise_sd)) for r in test.responses))


# ------------------------------------------------------------ one response


def _raw(test: Test, asked: Asked) -> list[_Raw]:
    """Every question of one response, by the model that answers it."""
    rows = [i for i, v in enumerate(asked.values) if (v is None and asked.kind is Kind.TIME) or (v is not None and math.isfinite(v))]
    mine = _some(test, rows)
    if not mine.factors or not rows:
        return []
    area = np.ones(len(rows)) if mine.area_dm2 is None else np.asarray(mine.area_dm2, np.float64)
    values = np.array([math.inf if (v := asked.values[i]) is None else v for i in rows], np.float64)
    y = _times(values, asked.followed) if asked.kind is Kind.TIME else values / area if asked.kind in PER_AREA else values
    blocks = [mine.block] if mine.block is not None else []
    plain = columns_of(mine.factors, blocks=blocks, covariates=mine.covariates)
    noise = _noise(asked, rows, area)
    rows_are_panels = [(plain, y, area, noise)]
    by_sheet: list[tuple[Columns, Floats, Floats, Floats]] = []
    if mine.sheet is not None:
        rows_are_panels = [(columns_of(mine.factors, blocks=[*blocks, mine.sheet], covariates=mine.covariates), y, area, noise)]
        by_sheet = _between(mine, y, area, noise)
    models = [(m, values) for m in rows_are_panels] + [(m, None) for m in by_sheet]
    fits = [(c, laws.fit(c, y_, area_ if asked.kind in PER_AREA else None), area_, noise_, own) for (c, y_, area_, noise_), own in models]
    found = []
    for contrast in plain.contrasts:
        for columns, f, area_, noise_, own in fits:
            same = next((c for c in columns.contrasts if c.what == contrast.what), None)
            if same is not None and columns.tells(same.weights):
                found.append(_judged(mine, asked, same, f, (area_, noise_), own))
                break
        else:
            found.append(_Raw(contrast=contrast, difference=math.nan, variance=math.nan, df=0.0, p=None, way=Method.TIED))
    return found


def _some(test: Test, rows: Sequence[int]) -> Test:
    """Some panels of a test; factors that do not differ among them go."""

    def of(column: Sequence[str]) -> tuple[str, ...]:
        return tuple(column[i] for i in rows)

    return Test(
        factors={n: of(c) for n, c in test.factors.items() if len(set(of(c))) > 1},
        responses=(),
        area_dm2=None if test.area_dm2 is None else tuple(test.area_dm2[i] for i in rows),
        block=None if test.block is None else of(test.block),
        sheet=None if test.sheet is None else of(test.sheet),
        covariates={n: tuple(c[i] for i in rows) for n, c in test.covariates.items()},
    )


def _between(test: Test, y: Floats, area: Floats, noise: Floats) -> list[tuple[Columns, Floats, Floats, Floats]]:
    """Sheets as the panels, for what does not differ within them: a sheet's pieces share its pour, and its photograph, and say one thing together."""
    assert test.sheet is not None
    sheets = list(dict.fromkeys(test.sheet))
    members = [[i for i, s in enumerate(test.sheet) if s == sheet] for sheet in sheets]
    whole = {n: tuple(c[m[0]] for m in members) for n, c in test.factors.items() if all(len({c[i] for i in m}) == 1 for m in members)}
    whole = {n: c for n, c in whole.items() if len(set(c)) > 1}
    if not whole:
        return []
    blocks = [] if test.block is None else [tuple(test.block[m[0]] for m in members)]
    covariates = {n: [float(np.mean([c[i] for i in m])) for m in members] for n, c in test.covariates.items()}
    means, noises = (np.array([np.average(v[m], weights=area[m]) for m in members]) for v in (y, noise))
    return [(columns_of(whole, blocks=blocks, covariates=covariates), means, np.array([area[m].sum() for m in members]), noises)]


def _times(values: Floats, followed: float | None) -> Floats:
    """Hours until it came, those that have not come held at the last hour that is known of them."""
    seen = values[np.isfinite(values)]
    if not len(seen):
        return np.zeros(len(values))
    return np.minimum(values, max(float(seen.max()), followed or 0.0))


def _judged(test: Test, asked: Asked, contrast: Contrast, f: laws.Fit, of_rows: tuple[Floats, Floats], values: Floats | None) -> _Raw:
    """One contrast of one response; `of_rows` are each row's area and noise, `values` the panels' own figures where the rows are panels."""
    area, noise = of_rows
    weights = f.weights(contrast.weights)
    d = float(weights @ f.y)
    if abs(d) < ROUNDING * float(np.abs(f.y).max()):
        d = 0.0
    if f.df < 1:
        return _Raw(contrast=contrast, difference=d, variance=math.nan, df=0.0, p=None, way=Method.NONE)
    variance, df, way = _scatter(asked, f, area, noise, weights)
    one = _Raw(contrast=contrast, difference=d, variance=variance, df=df, p=None, way=way)
    single, sheets = len(contrast.factors) == 1, test.sheet is not None
    if asked.kind is Kind.YES_NO and values is not None and (single or (test.block is None and not sheets and _two_by_two(test, contrast))):
        return _exact(test, contrast, one, values, sheets=sheets)
    zeros = asked.kind is Kind.LENGTH and float(np.mean(f.y == 0.0)) > MANY_ZEROS
    if single and values is not None and (asked.kind is Kind.TIME or zeros or variance <= 0.0):
        shuffled = _shuffle(test, contrast, one, exact.log_rank_scores(values) if asked.kind is Kind.TIME else f.y, weights, sheets=sheets)
        own = laws.own_scatter(f) if zeros and shuffled.least_p >= ALPHA else None
        if own is None or not variance > 0.0:
            return _above_noise(shuffled, float(weights**2 @ noise))
        variance, df = _apart(asked, f, own, noise, weights)  # too few to shuffle: each recipe's own scatter
        one = replace(one, variance=variance, df=df, way=Method.APART)
    if not variance > 0.0:
        return replace(one, p=1.0 if d == 0.0 else None)
    return replace(one, p=laws.t_p(d, variance, df))


def _two_by_two(test: Test, contrast: Contrast) -> bool:
    return len(test.factors) == 2 and all(len(set(test.factors[f])) == 2 for f in contrast.factors)


def _above_noise(one: _Raw, noise: float) -> _Raw:
    """No arrangement of panels makes a difference surer than the photographs are."""
    if one.p is None or noise <= 0.0:
        return one
    return replace(one, p=max(one.p, laws.t_p(one.difference, noise, math.inf)), variance=max(one.variance, noise))


def _noise(asked: Asked, rows: Sequence[int], area: Floats) -> Floats:
    """Variance of each panel's figure that comes of measuring alone; of the panels in these rows."""
    sd = np.array([asked.noise_sd[i] if asked.noise_sd else asked.measuring_sd for i in rows], np.float64)
    return np.asarray((sd / area if asked.kind in PER_AREA else sd) ** 2, np.float64)


def _apart(asked: Asked, f: laws.Fit, own: dict[int, tuple[float, float]], noise: Floats, weights: Floats) -> tuple[float, float]:
    """Variance by each recipe's own scatter, never below the measuring noise, and its degrees of freedom."""
    floors = {c: float(noise[f.columns.cells == c].mean()) for c in own}
    sure = {c: laws.surer(d, s, floors[c], LEAST_FOR_ONE) if asked.independent else d for c, (s, d) in own.items()}
    return laws.apart(weights, f, {c: (max(s, floors[c]), sure[c]) for c, (s, _) in own.items()})


def _scatter(asked: Asked, f: laws.Fit, area: Floats, noise: Floats, weights: Floats) -> tuple[float, float, Method]:
    """Variance of a contrast by the law of its kind, or by each recipe's own scatter where they scatter unlike."""
    if asked.kind is Kind.COUNT:
        cell_area = np.array([area[f.columns.cells == c].sum() for c in f.columns.cells])
        scatter = laws.counted(f, area, 0.5 / cell_area)
    else:
        way, law = Method.ALIKE, np.ones(len(f.y))
        if asked.kind is Kind.SHARE:
            mu = np.clip(f.means, laws.FLOOR_SHARE, 1.0 - laws.FLOOR_SHARE)
            way, law = Method.SHARES, mu * (1.0 - mu)
        elif asked.kind is Kind.LENGTH:
            law = np.maximum(f.means, LENGTH_FLOOR * max(float(f.y.mean()), 1e-12))
        own = laws.own_scatter(f)
        if own is not None and laws.unlike(own, {c: float(law[f.columns.cells == c][0]) for c in own}):
            return (*_apart(asked, f, own, noise, weights), Method.APART)
        scatter = laws.alike(f, law, way)
    steadied = replace(scatter, found=np.maximum(scatter.found, noise))
    if asked.kind is not Kind.COUNT and asked.independent:  # of counts, what needs no estimate is told apart already
        steadied = replace(steadied, df=laws.surer(scatter.df, float(weights**2 @ scatter.found), float(weights**2 @ steadied.found), LEAST_FOR_ALL))
    return (*steadied.of(weights), scatter.way)


def _strata(test: Test, contrast: Contrast, *, sheets: bool) -> tuple[npt.NDArray[np.intp], npt.NDArray[np.bool_], npt.NDArray[np.bool_]]:
    """Strata within which a pair of levels is compared, and the panels of the first and of the second level."""
    column = test.factors[contrast.factors[0]]
    others = [c for n, c in test.factors.items() if n != contrast.factors[0]]
    others += [c for c in (test.block, test.sheet if sheets else None) if c is not None]
    strata = numbered(*others) if others else np.zeros(len(column), np.intp)
    return strata, np.array([v == contrast.first for v in column]), np.array([v == contrast.second for v in column])


def _exact(test: Test, contrast: Contrast, one: _Raw, values: Floats, *, sheets: bool) -> _Raw:
    """Yes or no: a pair of levels over strata, or whether two strata differ where two things have two levels each."""
    yes = values > 0.0
    if len(contrast.factors) == 1:
        strata, first, second = _strata(test, contrast, sheets=sheets)
        told = exact.stratified([_table(yes, (strata == s) & first, (strata == s) & second) for s in np.unique(strata)])
    else:
        a, b = (np.array(test.factors[f]) for f in contrast.factors)
        low, high = sorted_levels(list(a)), sorted_levels(list(b))
        told = exact.unlike_strata(*(_table(yes, (b == level) & (a == low[-1]), (b == level) & (a == low[0])) for level in high))
    if told is None:  # nothing could have come out otherwise: all alike, or nothing of it stands side by side
        return replace(one, p=1.0 if yes.all() or not yes.any() else None, way=Method.EXACT)
    return replace(one, p=told[0], least_p=told[1], way=Method.EXACT)


def _table(yes: npt.NDArray[np.bool_], first: npt.NDArray[np.bool_], second: npt.NDArray[np.bool_]) -> exact.Table:
    return int(yes[first].sum()), int(first.sum()), int(yes[second].sum()), int(second.sum())


def _shuffle(test: Test, contrast: Contrast, one: _Raw, y: Floats, weights: Floats, *, sheets: bool) -> _Raw:
    """A pair of levels by panels that change places within strata."""
    strata, first, second = _strata(test, contrast, sheets=sheets)
    told = exact.shuffled(y, weights, strata, first, second)
    if told is None:
        return replace(one, p=1.0 if float(np.ptp(y)) == 0.0 and first.sum() > 1 < second.sum() else None, way=Method.SHUFFLED)
    return replace(one, p=told[0], least_p=told[1], way=Method.SHUFFLED)


# ------------------------------------------------------------ all together


@dataclass(frozen=True, slots=True)
class _Step:
    """At which P an answer was judged, and how it came out."""

    alpha: float
    p: float | None
    real: bool
    told: bool


def _steps(ps: Sequence[float | None], least: Sequence[float]) -> list[_Step]:
    """Holm's steps over all answers that these panels can tell at all."""
    told = [i for i, p in enumerate(ps) if p is not None]
    while told and max(least[i] for i in told) >= ALPHA / len(told) * CLEAR:  # could never have been real here: it is not asked
        told.remove(max(told, key=lambda i: least[i]))
    order = sorted(told, key=lambda i: ps[i] or 0.0)
    steps: dict[int, _Step] = {}
    running, failed = 0.0, 0.0
    for rank, i in enumerate(order):
        p, alpha = ps[i] or 0.0, ALPHA / (len(order) - rank)
        running = max(running, min(1.0, p * (len(order) - rank)))
        if not failed and p >= alpha * CLEAR:
            failed = alpha
        steps[i] = _Step(failed or alpha, running, not failed, True)
    return [steps.get(i, _Step(ALPHA / max(len(order), 1), None, False, False)) for i in range(len(ps))]


def _closed(asked: Asked, one: _Raw, step: _Step) -> Answer:
    word = Word.REAL if step.real else Word.CHANCE if step.told else Word.TOO_FEW
    known = math.isfinite(one.difference) and not (step.real and one.difference == 0.0)  # times that tie may differ by no hour and yet be real
    low = high = None
    if known and step.told:
        reach = laws.quantile(step.alpha, one.df) * math.sqrt(one.variance) if one.variance > 0.0 and one.df >= 1.0 else 0.0
        if one.way in (Method.EXACT, Method.SHUFFLED) and one.p is not None:
            size = abs(one.difference)
            if step.real:  # the exact test decided: the interval follows it (Miettinen's test-based limits)
                reach = min(reach or size, size * laws.quantile(step.alpha, math.inf) / max(laws.quantile(one.p, math.inf), 1e-9))
            else:
                reach = max(reach, size)
        low, high = one.difference - reach, one.difference + reach
    return Answer(
        response=asked.name, what=one.contrast.what, factors=one.contrast.factors, first=one.contrast.first, second=one.contrast.second,
        difference=one.difference if known else None, low=low, high=high, level=1.0 - step.alpha, p=step.p, word=word, way=one.way,
    )  # fmt: skip
