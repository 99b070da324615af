"""What else differed between two sides of a test, beside what was varied: facts, each with its panels, figures and names."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import timedelta
from enum import Enum, auto
from typing import TYPE_CHECKING, Any, Final

from dribbet.lab.cup import batches
from dribbet.lab.panel import cracking, progress
from dribbet.lab.panel.drying import LATE_AFTER, hours_of
from dribbet.lab.plan import confounding, goals
from dribbet.records import CORRECTION, CheckKind, Factor, Goal, MarkKind, MishapKind, Response, Stage, Word
from dribbet.studio.standing import panel_costs, panels, pots, verdict

if TYPE_CHECKING:
    from dribbet.records import Panel
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

RESTED_APART_H: Final = 1.0  # hours of rest from which two sides count as unlike
FILM_APART_MM: Final = 0.15
MOST_ODD: Final = 3  # panels that lie apart are named at most
MOST_MENDED: Final = 2
MOST_SIGNS: Final = 2
MOST_MARKED: Final = 6
MOST_RANKED: Final = 3
CRACKS: Final = frozenset({Response.CRACK_LENGTH, Response.CRACKED})  # read from photographs


class About(Enum):
    """What a fact is about."""

    LEFT_OUT = auto()
    HALF_CRACKED = auto()
    CONFOUND = auto()
    GOAL = auto()
    MISSED = auto()
    INSISTED = auto()
    TOGETHER = auto()
    UNREAD = auto()
    OPEN_BASE = auto()
    OPEN_LINES = auto()
    LAMPED = auto()
    MOVED = auto()
    APART = auto()
    FILM = auto()
    MENDED = auto()
    KEPT = auto()
    OVERSHOT = auto()
    TRACE = auto()
    WATER = auto()
    REST = auto()
    COST = auto()
    SIGN = auto()
    COATS = auto()
    ZONE = auto()
    SUBSTITUTED = auto()
    MARKED = auto()


@dataclass(frozen=True, slots=True, kw_only=True)
class Beside:
    """One thing that differed."""

    about: About
    codes: tuple[str, ...] = ()
    """Panels or recipes."""
    names: tuple[str, ...] = ()
    """What it was: a reason, an ingredient, a colour."""
    values: tuple[float, ...] = ()
    record: Any = None
    """The record behind it, where its words come from more than a name."""
    changes: bool = False
    """Whether a word of the verdict would be another without it."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Sides:
    """The two groups of recipes that are compared, by their letters, and the thing varied that parts them."""

    first: str
    second: str
    thing: str = ""
    levels: tuple[str, str] = ("", "")

    @property
    def both(self) -> str:
        """Letters of all recipes in it."""
        return self.first + self.second


def beside(desk: Desk, run: Run, sides: Sides) -> tuple[Beside, ...]:
    """Everything that can be computed or was told, in the order in which it matters."""
    both = sides.both
    made = [Beside(about=About.LEFT_OUT, codes=(p.code,), names=(p.spoiled,)) for p in run.panels if p.spoiled and p.recipe in both]
    recipes = [a for a in run.actual_arms if a.letter in both or a.extra is not None]
    made += [Beside(about=About.CONFOUND, record=c) for c in confounding.after_the_fact(run.series, recipes)]
    made += _half_cracked(run, sides) + _goal(desk, run) + _missed(desk, run)
    made += [Beside(about=About.INSISTED, record=i) for i in run.series.insisted]
    made += _together(desk, run) + _unread(desk, run) + _open(run, both)
    made += _moved(desk, run, sides) + _apart(desk, run, both) + _film(desk, run, sides)
    made += _cups(run, both) + _rests(run, sides)
    cost = panel_costs.of_recipes(desk, run, "".join(sorted(both)))
    made += [Beside(about=About.COST, record=cost)] if cost else []
    signs = [(p.code, m) for m in run.mishaps for p in run.panels if p.id == m.panel_id and not p.spoiled and p.recipe in both and m.kind.is_sign]
    made += [Beside(about=About.SIGN, codes=(code,), record=m) for code, m in signs[:MOST_SIGNS]]
    return tuple(made + _coats(run, both) + _marked(run, both))


def _half_cracked(run: Run, sides: Sides) -> list[Beside]:
    """Hour at which half of the panels of each side were cracked, where the test asks when; below nought where fewer than half did."""
    if Response.FIRST_CRACK not in {r for r, _ in run.series.responses}:
        return []
    found = []
    for letters in (sides.first, sides.second):
        told = [b for p in run.panels if p.recipe in letters and not p.spoiled and (b := run.began(p)) is not None]
        if not told:
            return []
        half = cracking.turnbull_median_h(told)
        found += [len(told), -1.0 if half is None else half]
    return [Beside(about=About.HALF_CRACKED, codes=(sides.first, sides.second), values=tuple(found))]


def _counted(run: Run, letters: str) -> list[Panel]:
    return [p for p in run.panels if not p.spoiled and p.recipe in letters]


def _goal(desk: Desk, run: Run) -> list[Beside]:
    """Which recipes come nearest to what good means here; not a measurement."""
    goal = next((g for g in desk.notebook.all(Goal) if g.id == run.series.goal_id), None)
    if goal is None:
        return []
    asked = dict(run.series.responses)
    values = {a.letter: {r: run.values(r).get(a.letter, []) for r in asked} for a in run.arms}
    best = goals.ranked(goal, asked, values)[:MOST_RANKED]
    if not best:
        return []
    alone = []
    for aim in (a for a in goal.aims if a.weight > 0.0 and a.response in asked):
        first = goals.ranked(replace(goal, aims=(aim,)), asked, values)
        if first and first[0][0] != best[0][0]:
            alone.append((aim.response, first[0][0]))
    return [Beside(about=About.GOAL, codes=tuple(c for c, _ in best), values=tuple(v for _, v in best), names=(goal.name,), record=tuple(alone))]


def _missed(desk: Desk, run: Run) -> list[Beside]:
    """Looks that the protocol asked for and that were never made: how many, of how many."""
    now, names = desk.now(), progress.looks_of(run.series)
    due = missed = 0
    for panel in run.panels:
        poured = run.poured_at(panel)
        if poured is None or panel.spoiled:
            continue
        made = {look.due for look in run.looks if look.panel_id == panel.id}
        past = [n for n in names if now > poured + timedelta(hours=hours_of(n) * (1 + LATE_AFTER) + 1)]
        due += len(past)
        missed += len([n for n in past if n not in made])
    return [Beside(about=About.MISSED, values=(float(missed), float(due)))] if missed else []


def _together(desk: Desk, run: Run) -> list[Beside]:
    """What two things do together beyond what each does alone, where that is real."""
    made = []
    for a in verdict.shown(desk, run).together():
        names = [str(run.series.varied[int(f)].factor) for f in a.factors if f.isdigit()]
        if a.word is Word.REAL and len(names) == len(a.factors):
            made.append(Beside(about=About.TOGETHER, names=(*names, a.response)))
    return list(dict.fromkeys(made))


def _unread(desk: Desk, run: Run) -> list[Beside]:
    unread = verdict.shown(desk, run).unread
    return [Beside(about=About.UNREAD, codes=tuple(p.code for p in unread))] if unread else []


def _open(run: Run, both: str) -> list[Beside]:
    """Panels whose reading leaves open what was asked: what is base, and whether lines are cracks."""
    asked = {r for r, _ in run.series.responses}
    read = [(p.code, result) for p in _counted(run, both) if (result := run.counted(p)) is not None]
    base = tuple(code for code, result in read if result["spread"].get("doubtful")) if Response.SPREAD in asked else ()
    lines = tuple(code for code, result in read if result["cracks"].get("doubtful_mm")) if asked & CRACKS else ()
    made = [Beside(about=about, codes=codes) for about, codes in ((About.OPEN_BASE, base), (About.OPEN_LINES, lines)) if codes]
    deep = tuple(code for code, result in read if result["cracks"].get("under_lamps"))
    if asked & CRACKS and 0 < len(deep) < len(read):  # raking lamps show more cracks, so that panels read with them and without are unlike
        made.append(Beside(about=About.LAMPED, codes=deep))
    return made


def _moved(desk: Desk, run: Run, sides: Sides) -> list[Beside]:
    """What moved along with what parts the two sides, but film, which has a sentence of its own; whether the figures take it into account."""
    told = verdict.shown(desk, run)
    mine = [u for u in told.moved if u.factor == sides.thing and u.covariate not in (verdict.FILM, verdict.ORDER)]
    return [Beside(about=About.MOVED, names=(u.covariate,), values=(u.r,), changes=u.covariate in told.test.covariates) for u in mine]


def _apart(desk: Desk, run: Run, both: str) -> list[Beside]:
    """Panels that lie apart from those poured alike: what happened to them, and whether a word would be another without them."""
    told = verdict.shown(desk, run)
    now = {(a.response, a.what): a.word for a in told.answers}
    made = []
    for one in told.odd[:MOST_ODD]:
        panel = told.panels[one.panel]
        if panel.recipe in both:
            happened = tuple(str(m.kind) for m in run.mishaps if m.panel_id == panel.id and not m.kind.is_sign)
            others = verdict.words_without(told, one.panel)
            changes = any(others.get(k, w) is not w for k, w in now.items() if k[0] == one.response)
            made.append(Beside(about=About.APART, codes=(panel.code,), names=(one.response, *happened), changes=changes))
    return made


def _film(desk: Desk, run: Run, sides: Sides) -> list[Beside]:
    """Films that were not equal, in mm, with what would be said if they were left out of the model."""
    if run.series.varies(Factor.FILM_LEFT):
        return []
    means = []
    for letters in (sides.first, sides.second):
        weighed = [f.wet_m * 1e3 for p in run.panels if p.recipe in letters and (f := panels.film(desk, run, p)).weighed]
        if not weighed:
            return []
        means.append(sum(weighed) / len(weighed))
    if abs(means[0] - means[1]) <= FILM_APART_MM:
        return []
    told = verdict.shown(desk, run)
    if verdict.FILM not in told.test.covariates:
        return [Beside(about=About.FILM, values=tuple(means))]
    with_it, without = (told.pair(sides.thing, *sides.levels, plain=plain) for plain in (False, True))
    hangs = tuple((r, a.word, without[r].word) for r, a in with_it.items() if r in without and a.word is not without[r].word)
    return [Beside(about=About.FILM, values=tuple(means), record=hangs, changes=True)]


def _cups(run: Run, both: str) -> list[Beside]:
    """What happened to the cups: mended, kept as they were, overshot, a trace of another, unlike water."""
    mine = [m for m in run.mixes if set(m.recipes) & set(both)]
    by_id = {m.id: m for m in mine}
    mended = [w for w in run.weighings if w.source == CORRECTION and w.mix_id in by_id]
    made = [
        Beside(about=About.MENDED, codes=tuple(by_id[w.mix_id].recipes), names=(w.ingredient, by_id[w.mix_id].colour), values=(w.mass_kg,))
        for w in mended[:MOST_MENDED]
    ]  # fmt: skip
    kept = {c.mix_id: c.note for c in run.checks if c.kind is CheckKind.KEPT}
    for mix in mine:
        if mix.id in kept:
            made.append(Beside(about=About.KEPT, codes=tuple(mix.recipes), names=(mix.colour, kept[mix.id])))
        if mix.kept_over:
            made.append(Beside(about=About.OVERSHOT, codes=tuple(mix.recipes), names=(mix.colour,)))
    traces = batches.contaminated_panels(run.panels, run.mixes, run.marks)
    made += [Beside(about=About.TRACE, codes=(p.code,), names=traces[p.id]) for p in run.panels if p.id in traces and p.recipe in both]
    sources = sorted({k.note for k in run.marks if k.kind is MarkKind.WATER and k.mix_id in by_id})
    return made + ([Beside(about=About.WATER, names=tuple(sources))] if len(sources) > 1 else [])


def _rests(run: Run, sides: Sides) -> list[Beside]:
    rests = [[h for c in side if (h := pots.rested_h(run, c)) is not None] for side in (sides.first, sides.second)]
    if not all(rests) or run.series.varies(Factor.REST):
        return []
    first, second = (sum(hours) / len(hours) for hours in rests)
    return [Beside(about=About.REST, values=(first, second))] if abs(first - second) > RESTED_APART_H else []


def _coats(run: Run, both: str) -> list[Beside]:
    """Panels that were photographed under unlike coats: shine and colour are then not the paint's alone."""
    by_coat: dict[Any, list[str]] = {}
    for panel in _counted(run, both):
        reading = run.reading(panel)
        photo = next((f for f in run.photos if reading is not None and f.id == reading.photo_id), None)
        if photo is not None:
            by_coat.setdefault(panels.coat_at(run, panel, photo.added_at), []).append(panel.code.split("-")[-1])
    if len(by_coat) < 2 or run.series.varies(Factor.AFTER):
        return []
    return [Beside(about=About.COATS, record=tuple((coat, tuple(codes)) for coat, codes in by_coat.items()))]


def _marked(run: Run, both: str) -> list[Beside]:
    """What went wrong on panels that count: zones left out of them, other products, and mishaps that are counted all the same."""
    made = []
    for panel in _counted(run, both):
        mine = [m for m in run.mishaps if m.panel_id == panel.id and not m.kind.is_sign]
        out = run.left_out(panel)
        if out:
            kinds = tuple(dict.fromkeys(str(m.kind) for m in mine if m.zone_out))
            made.append(Beside(about=About.ZONE, codes=(panel.code,), names=kinds, values=(out,)))
        for m in mine:
            if m.kind is MishapKind.SUBSTITUTED:
                made.append(Beside(about=About.SUBSTITUTED, codes=(panel.code,), record=m))
            elif not m.zone_out:
                made.append(Beside(about=About.MARKED, codes=(panel.code,), record=m))
    return made[:MOST_MARKED]


def read_dry(run: Run, letters: str) -> list[Panel]:
    """Panels of some recipes that were read dry, in pouring order."""
    return [p for p in run.in_order() if p.recipe in letters and (r := run.reading(p)) is not None and r.stage is Stage.DRY]
