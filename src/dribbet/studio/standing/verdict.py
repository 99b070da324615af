"""What a series shows: its panels as a test, judged by the one model; what else differed, with and without."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import TYPE_CHECKING, Any, Final

from dribbet.lab.plan.power import Model
from dribbet.lab.plan.responses import SCALES, doubt_of, mean_of
from dribbet.lab.verdict import gauge, model
from dribbet.lab.verdict.causes import Trait
from dribbet.lab.verdict.laws import Kind
from dribbet.lab.verdict.poured import factors_of
from dribbet.records import Factor, Response, Stage, Word
from dribbet.studio.standing import how_made
from dribbet.studio.standing import panels as standing

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.lab.verdict.model import Answer
    from dribbet.records import Panel
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

SHOWN: Final = ("shown",)
"""By which a run knows what it shows."""
FILM: Final = "film"
ORDER: Final = "order"
BESIDES: Final = {
    Trait.MIX_REST: (Factor.REST,), Trait.DRYING: (), Trait.HEAT_AFTER: (Factor.HEAT_AFTER, Factor.HEAT),
    Trait.DWELL: (Factor.DWELL, Factor.TECHNIQUE),
}  # fmt: skip
"""What may have moved along though nobody asked for it, and what must not be varied for it to be beside the question."""
WORTH_SHARE: Final = 0.3  # of a figure's size, over all panels: what hands do nearly alike explains nothing
KINDS: Final = {
    Response.CRACK_LENGTH: Kind.LENGTH, Response.CRACKED: Kind.YES_NO, Response.FIRST_CRACK: Kind.TIME,
    Response.CELL_COUNT: Kind.COUNT, Response.CELL_WIDTH: Kind.AMOUNT,
    Response.SPREAD: Kind.SHARE, Response.LACING: Kind.SHARE, Response.SHIMMER: Kind.AMOUNT, Response.VIVIDNESS: Kind.AMOUNT,
    Response.UNEVENNESS: Kind.AMOUNT, Response.FAULTS: Kind.COUNT, Response.SHINE: Kind.AMOUNT,
}  # fmt: skip
LEAST_SPARE: Final = 2
"""Panels more than things estimated that must be left before something that moved along is taken into the model."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Shown:
    """What the panels of a series show."""

    panels: tuple[Panel, ...]
    """Those that were read dry and count."""
    answers: tuple[Answer, ...]
    plain: tuple[Answer, ...]
    """The same without what moved along; the very same where nothing did."""
    moved: tuple[model.Unlike, ...]
    test: model.Test
    unread: tuple[Panel, ...] = ()
    """Panels that count and were not read dry yet."""
    odd: tuple[model.Odd, ...] = ()

    def pair(self, name: str, first: str, second: str, *, plain: bool = False) -> dict[str, Answer]:
        """Answers to one pair of levels by response: first level minus second."""
        found = {}
        for a in self.plain if plain else self.answers:
            if a.factors == (name,) and {a.first, a.second} == {first, second}:
                found[a.response] = a if a.first == first else turned(a)
        return found

    def together(self) -> list[Answer]:
        """What two things do together beyond what each does alone."""
        return [a for a in self.answers if len(a.factors) == 2]


def turned(a: Answer) -> Answer:
    """The same difference, second level minus first."""
    return replace(
        a, first=a.second, second=a.first, difference=None if a.difference is None else -a.difference,
        low=None if a.high is None else -a.high, high=None if a.low is None else -a.low,
    )  # fmt: skip


def shown(desk: Desk, run: Run) -> Shown:
    """Judge a series; once until something of it, or a container, changes."""
    return run.once(SHOWN, lambda: _shown(desk, run))


def _shown(desk: Desk, run: Run) -> Shown:
    chosen = [p for p in run.in_order() if not p.spoiled and (r := run.reading(p)) is not None and r.stage is Stage.DRY]
    factors = factors_of(run.series, run.arms, [(p.recipe, p.settings) for p in chosen])
    whole = [p for p in chosen if p.sheet]
    blocks = tuple(str(p.block) for p in chosen)
    test = model.Test(
        factors=factors,
        responses=tuple(_asked(desk, run, r, chosen) for r, _ in run.series.responses),
        area_dm2=tuple(_area_dm2(run, p) for p in chosen),
        block=blocks if len(set(blocks)) > 1 else None,
        sheet=tuple(str(p.sheet) for p in chosen) if chosen and len(whole) == len(chosen) else None,
        covariates=_beside(desk, run, chosen),
    )
    moved = model.unlike(test)
    plain = model.answers(replace(test, covariates={}))
    taken: dict[str, tuple[float, ...]] = {}
    spare = len(chosen) - sum(len(set(c)) - 1 for c in factors.values()) - 1
    for one in moved:  # the strongest first; order was drawn by lot: it is told, not computed out
        if one.covariate != ORDER and one.covariate not in taken and spare - len(taken) > LEAST_SPARE:
            taken[one.covariate] = test.covariates[one.covariate]
    answers = model.answers(replace(test, covariates=taken)) if taken else plain
    judged = replace(test, covariates=taken)
    return Shown(
        panels=tuple(chosen), answers=answers, plain=plain, moved=moved, test=judged,
        unread=tuple(p for p in run.in_order() if not p.spoiled and p not in chosen), odd=model.odd(judged),
    )  # fmt: skip


def figures(told: Shown, response: Response) -> list[tuple[Panel, float]]:
    """What each panel showed of a response, as it is judged: per dm2 for counts and lengths, shares in %; those without a figure are left out."""
    asked = next((r for r in told.test.responses if r.name == str(response)), None)
    if asked is None:
        return []
    areas = told.test.area_dm2 or (1.0,) * len(told.panels)
    factor = 100.0 if asked.kind is Kind.SHARE else 1.0
    found = []
    for panel, value, area in zip(told.panels, asked.values, areas, strict=True):
        if value is not None and math.isfinite(value):
            found.append((panel, value * factor / (area if asked.kind in model.PER_AREA else 1.0)))
    return found


def words_without(told: Shown, panel: int) -> dict[tuple[str, str], Word]:
    """Words of every answer with one panel left out, by response and question."""
    return {(a.response, a.what): a.word for a in model.answers(model.without(told.test, panel))}


def _asked(desk: Desk, run: Run, response: Response, chosen: Sequence[Panel]) -> model.Asked:
    scale, kind = SCALES[response], KINDS[response]
    factor = 100.0 if kind is Kind.SHARE else 1.0
    if response is Response.FIRST_CRACK:
        values, followed = _hours(run, chosen)
        return model.Asked(name=str(response), kind=kind, values=values, followed=followed)
    told = [run.photographed(p) for p in chosen]
    values = tuple(_value(one, response, factor) for one in told)
    if scale.model is Model.YES_NO:
        return model.Asked(name=str(response), kind=kind, values=values)
    noises = tuple(_noise(desk, response, one, _area_dm2(run, p)) / factor for one, p in zip(told, chosen, strict=True))
    return model.Asked(name=str(response), kind=kind, values=values, noise_sd=noises)


def _noise(desk: Desk, response: Response, told: Sequence[Any], area_dm2: float) -> float:
    """Measuring noise of a panel's figure: photographs err by themselves and even each other out, the reader's doubt of what it sees does not."""
    return max(desk.learned.noise(response, area_dm2).sd / math.sqrt(max(len(told), 1)), _by_doubt(told, response))


def _by_doubt(told: Sequence[Any], response: Response) -> float:
    """What the reader itself says that a panel's figure may be off by, over its photographs."""
    return math.sqrt(sum(doubt_of(one, response) ** 2 for one in told) / max(len(told), 1))


class NoiseFrom(StrEnum):
    """What the noise of a response rests on."""

    READER = "the reader's figures"
    OWN = "panels photographed again"
    DOUBT = "the reader's doubt of these panels"


def noise_from(desk: Desk, run: Run, response: Response) -> tuple[NoiseFrom, gauge.Noise]:
    """What the noise of most panels of a series rests on, and what photographing its first panel again changes."""
    panels = [(run.photographed(p), _area_dm2(run, p)) for p in shown(desk, run).panels]
    doubted = sum(_by_doubt(t, response) > desk.learned.noise(response, a).sd / math.sqrt(len(t)) for t, a in panels if t)
    known = desk.learned.noise(response, panels[0][1] if panels else gauge.MEASURED_DM2)
    if doubted * 2 > len(panels):
        return NoiseFrom.DOUBT, known
    return (NoiseFrom.OWN if known.own else NoiseFrom.READER), known


def noise(told: Shown, response: Response) -> float:
    """Measuring noise of one panel with which a response was judged, in its unit (root mean square); as docs have it where none was judged."""
    asked = next((r for r in told.test.responses if r.name == str(response)), None)
    if asked is None or not asked.noise_sd:
        return SCALES[response].measuring_sd
    factor = 100.0 if KINDS[response] is Kind.SHARE else 1.0
    return math.sqrt(sum(n * n for n in asked.noise_sd) / len(asked.noise_sd)) * factor


def noise_between(told: Shown, response: Response, first: str, second: str) -> float:
    """Noise of the difference of two groups of recipes, by their letters, as `figures` are told: what photographs and reader alone make of it."""
    asked = next((r for r in told.test.responses if r.name == str(response)), None)
    if asked is None or not asked.noise_sd:
        return 0.0
    areas = told.test.area_dm2 or (1.0,) * len(told.panels)
    factor = 100.0 if asked.kind is Kind.SHARE else 1.0
    variance = 0.0
    for letters in (first, second):
        mine = [
            (n * factor / (a if asked.kind in model.PER_AREA else 1.0)) ** 2
            for p, n, a, v in zip(told.panels, asked.noise_sd, areas, asked.values, strict=True)
            if p.recipe in letters and v is not None
        ]
        variance += sum(mine) / len(mine) ** 2 if mine else 0.0
    return math.sqrt(variance)


def _hours(run: Run, chosen: Sequence[Panel]) -> tuple[tuple[float | None, ...], float]:
    """Hours to the first crack, and for how long those without one were followed.

    None for a panel that was followed as long as any cracked and had none, NaN for one that was not.
    """
    told = [run.began(p) for p in chosen]
    last = max((t.until_h for t in told if t is not None and t.until_h is not None), default=0.0)
    hours: list[float | None] = []
    for t in told:
        if t is None or (t.until_h is None and t.from_h < last):
            hours.append(math.nan)
        else:
            hours.append(None if t.until_h is None else (t.from_h + t.until_h) / 2.0)
    quiet = [t.from_h for t, h in zip(told, hours, strict=True) if t is not None and h is None]
    return tuple(hours), min(quiet, default=last)


def _value(told: Sequence[Any], response: Response, factor: float) -> float | None:
    """A panel's own figure on the face that was counted, the mean of its photographs."""
    value = mean_of(told, response)
    if value is None:
        return None
    if SCALES[response].per_area:  # told for the whole face: back to what was really counted
        value *= 1.0 - _left_out(told[0])
    return value / factor


def _left_out(result: Any) -> float:
    share = float(result.get("panel", {}).get("left_out", 0.0))
    return share if 0.0 < share < 1.0 else 0.0


def _area_dm2(run: Run, panel: Panel) -> float:
    return run.face_dm2(panel) * (1.0 - _left_out(run.counted(panel) or {}))


def _beside(desk: Desk, run: Run, chosen: Sequence[Panel]) -> dict[str, tuple[float, ...]]:
    """What may have moved along, where it is known of every panel: film, and the order in which they were poured."""
    found: dict[str, tuple[float, ...]] = {}
    if not chosen:
        return found
    films = [standing.film(desk, run, p) for p in chosen]
    if all(f.weighed for f in films) and not run.series.varies(Factor.FILM_LEFT) and not run.series.varies(Factor.POURED):
        found[FILM] = tuple(f.wet_m * 1e3 for f in films)
    made = [how_made.figures_of(desk, run, p) for p in chosen]
    for figure, by in BESIDES.items():
        if all(figure in m for m in made) and not any(run.series.varies(f) for f in by):
            told = tuple(m[figure] for m in made)
            if max(told) - min(told) > WORTH_SHARE * max(abs(v) for v in told):
                found[str(figure)] = told
    found[ORDER] = tuple(float(p.place) for p in chosen)
    return found
