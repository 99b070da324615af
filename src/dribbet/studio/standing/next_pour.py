"""What could be poured next, each with what it is expected to bring, how many panels it takes and what they cost."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from enum import StrEnum
from statistics import fmean
from typing import TYPE_CHECKING, Final

from dribbet.lab.plan import confounding, control, design, further, next_pour, sizes
from dribbet.lab.plan.axes import axis_of, handy
from dribbet.lab.plan.factors import NATURES, Measure
from dribbet.lab.plan.next_pour import Along, Place, Sought, Worth
from dribbet.lab.plan.responses import SCALES
from dribbet.lab.verdict import judge
from dribbet.lab.verdict.laws import Kind
from dribbet.lab.verdict.poured import level_name
from dribbet.records import BETWEEN, Bottle, Equal, Factor, Goal, Level, Response, Varied, Wanted, Word
from dribbet.studio.standing import again, panel_costs, verdict

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.records import Extra, Panel, Series
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

NOTEBOOK_DF: Final = 4.0  # panels that the notebook's own scatter counts for, beside those of this series
YES_NO_SD: Final = 0.4
LARGER: Final = 1.5  # times each side: twice and a quarter the face
ROUND_M: Final = 0.01
MOST_PANEL_M: Final = 1.2
FEW_REPEATS: Final = 8  # more of each recipe than this: levels further apart tell it sooner
MEASURING_RULES: Final = 0.5  # of the scatter: from here on photographs are the cheaper cure
MISTAKEN: Final = {confounding.Coupling.DESIGN: 0.5, confounding.Coupling.FLOW: 0.25}
"""How likely what one would pour changes once an effect and what moved along with it are told apart."""
COUPLED: Final = 0.1
"""The same for couplings that stay as they are in any further recipe, such as water and the share of paint."""
ROOTED: Final = (Kind.COUNT, Kind.LENGTH)
"""Responses whose scatter grows with their size: evened by the square root (Bartlett 1936)."""


class Act(StrEnum):
    """What is proposed."""

    READ = "read the other panels"
    REPEAT = "repeat"
    PHOTOGRAPH = "photograph again"
    LEVEL = "another level"
    CONTROL = "go without"
    SEPARATE = "separate"
    EQUAL = "make equal"
    CONFIRM = "keep the best and ask the next"
    LARGER = "a larger panel"
    STOP = "stop"


KNOWING: Final = (Act.SEPARATE, Act.CONFIRM, Act.LARGER)
"""What tells why, and makes no recipe better by itself: it never keeps a test from its end."""
ANSWERING: Final = (Act.READ, Act.REPEAT, Act.PHOTOGRAPH)
"""What answers the question that was asked: listed however little it makes the best recipe better."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Proposal:
    """One thing that could be poured next."""

    act: Act
    gain: float = 0.0
    """Expected gain of the best recipe's desirability, 0 to 1."""
    panels: int = 0
    poured_kg: float = 0.0
    cost: float = 0.0
    """Of its panels' paint; 0 where prices are not known."""
    which: int = 0
    """Thing varied that it is about."""
    level: Level | None = None
    best: Level | None = None
    settings: tuple[int, ...] = ()
    """Best recipe, by its levels."""
    place: Place = Place.TRIED
    repeats: int = 0
    what: confounding.Coupling | None = None
    """What moved along, for `SEPARATE` and `EQUAL`."""
    extras: tuple[Extra, ...] = ()
    unread: tuple[Panel, ...] = ()

    @property
    def each(self) -> float:
        """Expected gain by panel; what takes none counts as one."""
        return self.gain / max(self.panels, 1)


@dataclass(frozen=True, slots=True, kw_only=True)
class NextPour:
    """All proposals, best first, and how sure it is that nothing better is left."""

    proposals: tuple[Proposal, ...]
    sure: float
    known: bool
    """Whether the scatter of panels poured alike is known: without it nothing can be weighed up."""


def proposed(desk: Desk, run: Run) -> NextPour:
    """What to pour after a series; once until something changes that it rests on."""
    scatters = tuple(desk.learned.scatter(r) for r, _ in run.series.responses)
    goal = next((g for g in desk.notebook.all(Goal) if g.id == run.series.goal_id), None)
    return run.once(("next", scatters, goal, len(desk.notebook.all(Bottle))), lambda: _proposed(desk, run))


def _proposed(desk: Desk, run: Run) -> NextPour:
    told, series = verdict.shown(desk, run), run.series
    rows, counted = _rows(run, told.panels)
    if not rows:
        return NextPour(proposals=tuple(_reading(told)), sure=0.0, known=False)
    found = [s for r, w in series.responses if (s := _sought(desk, run, told, r, w, counted)) is not None]
    alike = len(rows) > len(set(rows)) and not found  # there are repeats, and all panels show the same
    first = _reading(told)
    if alike:
        return NextPour(proposals=(*first, _confirm(desk, run, _settings(series, rows[0]))), sure=1.0, known=True)
    if not found:
        again = _priced(desk, run, Proposal(act=Act.REPEAT, repeats=1), len(run.arms), series)  # what it brings cannot be told yet
        return NextPour(proposals=(*first, again), sure=0.0, known=False)
    along = [_along(series, i, v) for i, v in enumerate(series.varied)]
    wanted = _wanted_repeats(desk, run, told)
    out = next_pour.outlook(along, rows, found, repeats=max(wanted, 1))
    settings = _settings(series, out.best)
    real = [a for a in told.answers if a.word is Word.REAL]
    made = [
        *first, *_levels(desk, run, out, settings), *_repeats(desk, run, wanted, out), *_photographs(desk, run, told, out),
        *_moved_along(desk, run, out, real=bool(real)),
    ]  # fmt: skip
    open_ = bool(told.answers) and all(a.word is Word.TOO_FEW for a in told.answers)  # no repeats of its own: nothing of it can be judged
    made = sorted(made, key=lambda p: (p.act is not Act.READ, not (open_ and p.act is Act.REPEAT), p.act is not Act.PHOTOGRAPH, -p.each))
    worth = [p for p in made if p.gain >= next_pour.NOTHING_LEFT or p.act in ANSWERING]  # the question that was asked is still open
    if all(p.act in KNOWING for p in worth):
        stop = Proposal(act=Act.STOP, settings=settings, gain=max((p.gain for p in made if p.act not in KNOWING), default=0.0))
        worth = [stop, *worth, _confirm(desk, run, settings), *_larger(desk, run, settings)]
    elif real and all(a.named for a in along):
        worth.append(_confirm(desk, run, settings))
    return NextPour(proposals=tuple(worth), sure=out.sure, known=True)


def _reading(told: verdict.Shown) -> list[Proposal]:
    return [Proposal(act=Act.READ, unread=told.unread)] if told.unread else []


# ---------------------------------------------------------------- panels as the curves see them


def _axis_levels(series: Series, which: int) -> tuple[tuple[float, ...], bool]:
    """Levels of a thing varied on its axis, and whether they are names."""
    varied = series.varied[which]
    values = [level.value for level in varied.levels]
    if any(v is None for v in values):
        return tuple(float(i) for i in range(len(values))), True
    axis = axis_of(varied.factor)
    return tuple(axis.to(v) for v in values if v is not None), False


def _along(series: Series, which: int, varied: Varied) -> Along:
    levels, named = _axis_levels(series, which)
    if named:
        return Along(levels=levels, named=True)
    axis, nature = axis_of(varied.factor), NATURES[varied.factor]
    tried = {handy(varied.factor, axis.back(x)) for x in levels} | {level.value for level in varied.levels}
    least, most = axis.to(nature.least), axis.to(nature.most)
    others = {h for x in next_pour.places(levels, least, most) if nature.least <= (h := handy(varied.factor, axis.back(x))) <= nature.most}
    without = axis.to(0.0) if nature.zero_is_without and 0.0 not in tried else None
    return Along(levels=levels, others=tuple(axis.to(v) for v in sorted(others - tried) if v or not nature.zero_is_without), without=without)


def _rows(run: Run, panels: Sequence[Panel]) -> tuple[list[tuple[float, ...]], list[int]]:
    """Places of the panels on the axes, and which of them they are; panels with something else exchanged are left out."""
    odd = {a.letter for a in run.arms if a.extra is not None and a.extra.instead}
    axes = [_axis_levels(run.series, i)[0] for i in range(len(run.series.varied))]
    rows, counted = [], []
    for k, p in enumerate(panels):
        if p.recipe not in odd:
            rows.append(tuple((min(x) + max(x)) / 2.0 if at == BETWEEN else x[at] for x, at in zip(axes, p.settings, strict=True)))
            counted.append(k)
    return rows, counted


def _settings(series: Series, best: tuple[float, ...]) -> tuple[int, ...]:
    """Levels of a recipe that was tried, from its places; `BETWEEN` for a centre point."""
    found = []
    for i, x in enumerate(best):
        levels = _axis_levels(series, i)[0]
        found.append(next((k for k, level in enumerate(levels) if abs(level - x) < 1e-9), BETWEEN))
    return tuple(found)


def _sought(desk: Desk, run: Run, told: verdict.Shown, response: Response, wanted: Wanted, counted: Sequence[int]) -> Sought | None:
    """One response on a scale on which panels scatter evenly; None where their scatter is not known, or none says anything."""
    scale, kind = SCALES[response], verdict.KINDS[response]
    rooted = kind in ROOTED
    by_panel = {p.id: v for p, v in verdict.figures(told, response)}
    if kind is Kind.TIME:  # a panel without a crack counts as long as it was followed
        asked = next(r for r in told.test.responses if r.name == str(response))
        followed = math.nan if asked.followed is None else asked.followed
        by_panel = {p.id: (followed if v is None else v) for p, v in zip(told.panels, asked.values, strict=True)}

    def evened(value: float) -> float:
        return math.sqrt(max(value, 0.0)) if rooted else value

    values = [evened(by_panel.get(told.panels[k].id, math.nan)) for k in counted]
    known = [v for v in values if math.isfinite(v)]
    if len(set(known)) < 2:  # what is the same on every panel tells no recipe from another
        return None
    groups: dict[str, list[float]] = {}
    for k, v in zip(counted, values, strict=True):
        if math.isfinite(v):
            groups.setdefault(told.panels[k].recipe, []).append(v)
    sd = _scatter(desk, run, response, list(groups.values()), fmean(known))
    if sd is None:
        return None
    goal = next((g for g in desk.notebook.all(Goal) if g.id == run.series.goal_id), None)
    aim = next((a for a in goal.aims if a.response is response), None) if goal is not None else None
    if aim is not None and not aim.weight:
        return None
    area = _area(told) if scale.per_area else 1.0
    ends = [None if aim is None or v is None else evened(v / area) for v in ((aim.low, aim.high) if aim is not None else (None, None))]
    return Sought(values=tuple(values), more=wanted is Wanted.MORE, sd=sd, low=ends[0], high=ends[1], weight=aim.weight if aim is not None else 1.0)


def _area(told: verdict.Shown) -> float:
    return fmean(told.test.area_dm2) if told.test.area_dm2 else 1.0


def _measuring(told: verdict.Shown, response: Response, mean: float) -> float:
    """Scatter between photographs of one panel, on the evened scale."""
    scale = SCALES[response]
    sd = verdict.noise(told, response) / (_area(told) if scale.per_area else 1.0)
    return sd / (2.0 * max(mean, 0.5)) if verdict.KINDS[response] in ROOTED else sd


def _scatter(desk: Desk, run: Run, response: Response, groups: list[list[float]], mean: float) -> float | None:
    """Scatter of panels poured alike on the evened scale: this series' own, steadied by the notebook's; None where neither is known."""
    told = verdict.shown(desk, run)
    if verdict.KINDS[response] is Kind.YES_NO:
        return YES_NO_SD
    own, learned = judge.pooled_sd(groups), desk.learned.scatter(response)
    parts: list[tuple[float, float]] = []
    if own is not None:
        parts.append((own[0] ** 2, float(own[1])))
    if learned is not None and response is not Response.FIRST_CRACK:
        area = _area(told) if SCALES[response].per_area else 1.0
        sd = learned.sd / area
        parts.append(((sd / (2.0 * max(mean, 0.5)) if verdict.KINDS[response] in ROOTED else sd) ** 2, NOTEBOOK_DF))
    if not parts:
        return None
    variance = sum(v * df for v, df in parts) / sum(df for _, df in parts)
    return max(math.sqrt(variance), _measuring(told, response, mean), 1e-6)


# ---------------------------------------------------------------- proposals


def _priced(desk: Desk, run: Run, one: Proposal, panels: int, series: Series) -> Proposal:
    """A proposal with what its panels take."""
    letters = "".join(a.letter for a in run.arms)
    costs = [c.mixed for _, c in panel_costs.of_recipes(desk, run, letters)]
    return replace(one, panels=panels, poured_kg=panels * series.constants.poured_kg, cost=panels * fmean(costs) if costs else 0.0)


def _levels(desk: Desk, run: Run, out: next_pour.Outlook, settings: tuple[int, ...]) -> list[Proposal]:
    """The best further level of each thing varied: between, beyond either end, and without it."""
    if BETWEEN in settings:
        return []
    made: dict[tuple[int, Place], Proposal] = {}
    planned = {a.settings for a in run.arms if a.extra is None}
    for worth in out.worths:
        moved = [i for i, (x, y) in enumerate(zip(worth.at, out.best, strict=True)) if abs(x - y) > 1e-9]
        if worth.place is Place.TRIED or len(moved) != 1 or (moved[0], worth.place) in made:
            continue
        if _settings(run.series, worth.at) in planned:
            continue  # it is of this very test, and only not read yet
        made[moved[0], worth.place] = _level(desk, run, worth, moved[0], settings)
    return list(made.values())


def _level(desk: Desk, run: Run, worth: Worth, which: int, settings: tuple[int, ...]) -> Proposal:
    varied = run.series.varied[which]
    value = handy(varied.factor, axis_of(varied.factor).back(worth.at[which]))
    one = Proposal(
        act=Act.CONTROL if worth.place is Place.WITHOUT else Act.LEVEL, gain=worth.gain, which=which, level=Level(value=value),
        best=varied.levels[settings[which]], settings=settings, place=worth.place, repeats=next_pour.EACH,
    )  # fmt: skip
    return _priced(desk, run, one, worth.panels, run.series)


def _wanted_repeats(desk: Desk, run: Run, told: verdict.Shown) -> int:
    """Panels more of each recipe that would show the difference that there seems to be; 0 where none are wanted or too many would be."""
    series = run.series
    if further.why_not(series, run.mixes, ()):
        return 0
    response = series.responses[0][0]
    answer = told.pair("0", level_name(0), level_name(len(series.varied[0].levels) - 1)).get(str(response))
    if answer is None or answer.word is Word.TOO_FEW or not answer.difference:
        return 1
    if answer.word is Word.REAL:
        return 0
    scale = SCALES[response]
    size = abs(answer.difference) * (100.0 if verdict.KINDS[response] is Kind.SHARE else 1.0) * (_area(told) if scale.per_area else 1.0)
    needed = sizes.repeats_for(series, design.arms(series), desk.learned.scatter(response), size, judge.POWER)
    return 0 if needed is None or needed > FEW_REPEATS else max(needed - series.repeats, 1)


def _repeats(desk: Desk, run: Run, wanted: int, out: next_pour.Outlook) -> list[Proposal]:
    """More panels of the same recipes."""
    if not wanted:
        return []
    return [_priced(desk, run, Proposal(act=Act.REPEAT, repeats=wanted, gain=out.repeat.gain), wanted * len(run.arms), run.series)]


def _photographs(desk: Desk, run: Run, told: verdict.Shown, out: next_pour.Outlook) -> list[Proposal]:
    """More photographs of the same panels, where most of the scatter is the measuring's own."""
    response = run.series.responses[0][0]
    known = [v for _, v in verdict.figures(told, response)]
    if (
        not known
        or verdict.KINDS[response] in (Kind.TIME, Kind.YES_NO)
        or any(a.word is Word.REAL for a in told.answers if a.response == str(response))
        or verdict.noise_from(desk, run, response)[0] is verdict.NoiseFrom.DOUBT  # what the reader cannot tell, no further photograph tells
        or not again.next_panel(run)
    ):
        return []
    evened = [math.sqrt(max(v, 0.0)) if verdict.KINDS[response] in ROOTED else v for v in known]
    groups: dict[str, list[float]] = {}
    for (p, _), v in zip(verdict.figures(told, response), evened, strict=True):
        groups.setdefault(p.recipe, []).append(v)
    sd = _scatter(desk, run, response, list(groups.values()), fmean(evened))
    if sd is None or _measuring(told, response, fmean(evened)) ** 2 < MEASURING_RULES * sd**2:
        return []
    return [Proposal(act=Act.PHOTOGRAPH, gain=out.repeat.gain)]


def _moved_along(desk: Desk, run: Run, out: next_pour.Outlook, *, real: bool) -> list[Proposal]:
    """What moved along with what was asked: told apart by a few panels where an effect is real, made equal by a follow-up in any case.

    An effect may belong to what moved along, and where none shows, two may have cancelled each other.
    """
    series, made = run.series, []
    span = max(out.spans, default=0.0)
    for c in confounding.confounds(series, design.arms(series)):
        if c.separated:
            continue
        gain = MISTAKEN.get(c.what, COUPLED) * span
        if (
            c.what is confounding.Coupling.FLOW
            and series.equal is Equal.RECIPE
            and not series.varies(Factor.WATER_SHARE)
            and not series.varies(Factor.GRADE)
        ):
            one = Proposal(act=Act.EQUAL, gain=gain, what=c.what)
            made.append(_priced(desk, run, one, len(run.arms) * max(series.repeats, 2), series))
        elif real and c.extras and not further.why_not(series, run.mixes, c.extras):
            one = Proposal(act=Act.SEPARATE, gain=gain, what=c.what, extras=c.extras, repeats=1)
            made.append(_priced(desk, run, one, len(run.arms) + c.panels, series))
    if real and control.missing(series) and not any(NATURES[v.factor].measure is not Measure.NAMED for v in series.varied):
        made.append(_priced(desk, run, Proposal(act=Act.CONTROL, gain=COUPLED * span), 2 * next_pour.EACH, series))
    return made


def _confirm(desk: Desk, run: Run, settings: tuple[int, ...]) -> Proposal:
    """The best recipe again, beside the next thing to wonder about."""
    best = settings[0] if settings and settings[0] != BETWEEN else 0
    one = Proposal(act=Act.CONFIRM, settings=settings, best=run.series.varied[0].levels[best])
    return _priced(desk, run, one, 2 * next_pour.EACH, run.series)


def _larger(desk: Desk, run: Run, settings: tuple[int, ...]) -> list[Proposal]:
    """The best recipe on a larger panel, beside the present size: small tests forgive."""
    if run.series.varies(Factor.PANEL_SIZE) or BETWEEN in settings:
        return []
    held = run.series.constants
    wide, high = (round(v * LARGER / ROUND_M) * ROUND_M for v in (held.panel_width_m, held.panel_height_m))
    if max(wide, high) > MOST_PANEL_M:
        return []
    grown = wide * high / (held.panel_width_m * held.panel_height_m)
    now, then = (Level(name=f"{w * 1e3:.0f} x {h * 1e3:.0f}") for w, h in ((held.panel_width_m, held.panel_height_m), (wide, high)))
    one = _priced(desk, run, Proposal(act=Act.LARGER, settings=settings, best=now, level=then), next_pour.EACH * 2, run.series)
    share = (1.0 + grown) / 2.0  # half of the panels are of the present size
    return [replace(one, poured_kg=one.poured_kg * share, cost=one.cost * share)]
