"""What the whole notebook has taught: lines of paints in their mediums, scatter of panels poured alike, what panels showed of a container."""

from __future__ import annotations

from itertools import pairwise
from statistics import fmean
from typing import TYPE_CHECKING, Any, Final

from dribbet.lab.paint import experience, history, neat
from dribbet.lab.paint.learning import Line, PastMix, own_figures
from dribbet.lab.panel import cracking, pace, pouring, progress, risk
from dribbet.lab.plan import day_plan
from dribbet.lab.plan.power import Scatter, scatter_of
from dribbet.lab.plan.responses import doubt_of, value_of
from dribbet.lab.verdict import gauge
from dribbet.records import Check, GaugingKind, Mix, Response, Series, SeriesState, Stage, StepMark, Weighing

if TYPE_CHECKING:
    from collections.abc import Mapping

    from dribbet.lab.paint.experience import PanelSeen
    from dribbet.lab.paint.history import Told
    from dribbet.lab.panel.drying import DryStage
    from dribbet.lab.panel.pace import PourPace
    from dribbet.lab.panel.risk import Risk
    from dribbet.lab.plan.day_plan import Pace
    from dribbet.records import HouseRules, Material, Panel
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

from dribbet.studio.standing import panels

M2_IN_DM2: Final = 100.0
LEAST_READINGS: Final = 3  # of a paint in its medium, before anything is planned or forecast from them


class Learned:
    """Answers over all series, each computed once until something happens that it rests on."""

    def __init__(self, desk: Desk) -> None:
        self._desk = desk
        self._scatters: dict[Response, Scatter | None] = {}
        self._seen: list[PanelSeen] | None = None
        self._lines: dict[tuple[str, str], tuple[tuple[Told, ...], Line]] = {}
        """What was learned, with the cups it was learned from: it holds until one of them changes."""
        self._all: list[Told] | None = None
        self._told: dict[str, tuple[object, Told]] = {}
        self._told_by: tuple[object, object] | None = None
        self._fresh = 0
        self._risk: Risk | None = None
        self._paces: dict[DryStage, PourPace] | None = None
        self._rescues: pouring.Rescues | None = None
        self._doubts: dict[Response, float] = {}
        self._work_paces: tuple[int, tuple[Pace, ...]] | None = None
        self._photographed: list[tuple[tuple[Mapping[str, Any], ...], float]] | None = None
        self._neat_of: tuple[object, ...] = ()
        self._neat_told: list[Told] = []

    def risk(self) -> Risk:
        """How likely a film cracks, by the craft's weights as this notebook's own panels have moved them."""
        if self._risk is None:
            self._risk = risk.fit([case for s in self._desk.all_series() for case in _cracking(self._desk, self._desk.load(s.id))])
        return self._risk

    def paces(self) -> dict[DryStage, PourPace]:
        """How quickly films dry here, by stage, from the check-ins of all panels."""
        if self._paces is None:
            told = [one for s in self._desk.all_series() for one in _dried(self._desk, self._desk.load(s.id))]
            self._paces = {stage: pace.learn([t for t in told if t.window.stage is stage]) for stage in pace.LEARNED}
        return self._paces

    def work_paces(self) -> tuple[Pace, ...]:
        """How long mixing, pouring and cleaning take here, by the times of what was weighed and poured."""
        book = self._desk.notebook
        weighings, steps = book.all(Weighing), book.all(StepMark)
        logged = len(weighings) + len(steps)
        if self._work_paces is None or self._work_paces[0] != logged:
            self._work_paces = logged, day_plan.paces(book.all(Mix), weighings, steps)
        return self._work_paces[1]

    def rescues(self) -> pouring.Rescues:
        """How the person's further actions turned out, over all series."""
        if self._rescues is None:
            runs = [self._desk.load(s.id) for s in self._desk.all_series()]
            self._rescues = pouring.rescues([[m for m in run.steps if m.panel_id == p.id] for run in runs for p in run.panels])
        return self._rescues

    def something_happened(self) -> None:
        """Forget what rests on all series; what rests on single cups stays as long as they do."""
        self._risk = self._rescues = self._paces = self._photographed = None
        self._scatters.clear()
        self._doubts.clear()
        self._all = self._seen = None

    def scatter(self, response: Response) -> Scatter | None:
        """Scatter of panels poured alike over the whole notebook, and what it rests on; None before any repeats."""
        if response not in self._scatters:
            self._scatters[response] = self._scatter(response)
        return self._scatters[response]

    def noise(self, response: Response, area_dm2: float) -> gauge.Noise:
        """What photographing a panel of this face again changes, by the person's own panels that were and by the reader's figures."""
        return gauge.noise_of(response, self._repeated(response), area_dm2)

    def doubt(self, response: Response) -> float:
        """What the reader says that a figure of a panel here may be off by (root mean square over all dry readings); nought where it says nothing."""
        if response not in self._doubts:
            told = [
                doubt_of(one, response)
                for run in (self._desk.load(s.id) for s in self._desk.all_series())
                for p in run.panels
                for one in run.photographed(p)[:1]
            ]
            self._doubts[response] = fmean(d * d for d in told) ** 0.5 if told else 0.0
        return self._doubts[response]

    def _repeated(self, response: Response) -> list[gauge.Repeated]:
        if self._photographed is None:
            self._photographed = [
                (told, run.area_m2(p) * M2_IN_DM2)
                for run in (self._desk.load(s.id) for s in self._desk.all_series())
                if run.read_again
                for p in run.panels
                if len(told := run.photographs(p)) > 1
            ]
        known = [(tuple(v for r in told if (v := value_of(r, response)) is not None), area) for told, area in self._photographed]
        return [gauge.Repeated(values, area) for values, area in known if len(values) > 1]

    def _scatter(self, response: Response) -> Scatter | None:
        groups: list[list[float]] = []
        names: list[str] = []
        areas: list[float] = []
        for series in self._desk.all_series():
            if series.state is SeriesState.PLANNED:
                continue
            run = self._desk.load(series.id)
            values = [v for v in run.values(response).values() if len(v) > 1]
            if values:
                groups += values
                names.append(series.name)
                areas += [run.area_m2(p) * M2_IN_DM2 for p in run.panels]
        return scatter_of(groups, names, self.noise(response, fmean(areas)).sd) if groups else None

    # ------------------------------------------------------------ paints

    def line(self, paint: str, medium: str) -> Line:
        """What the notebook has taught of a paint in a medium."""
        mine = tuple(told for told in self._tellers_all() if told.line in ((paint, medium), (paint, neat.NEAT)))
        known = self._lines.get((paint, medium))
        if known is None or len(known[0]) != len(mine) or any(a is not b for a, b in zip(known[0], mine, strict=True)):
            known = self._lines[paint, medium] = mine, Line(medium, [r for told in mine for r in told.readings])
        return known[1]

    def own_figures(self, series: Series) -> tuple[tuple[str, float], ...]:
        """Viscosities by the person's own checks, for a plan with this series' colours."""
        lines = {key: self.line(*key) for key in dict.fromkeys(told.line for told in self._tellers_all())}
        return own_figures(lines, [layer.material for layer in series.layers], LEAST_READINGS)

    def past_mixes(self) -> list[PastMix]:
        """Every cup that was weighed and checked."""
        return [told.past for told in self._tellers_all() if told.past is not None]

    def learn_some(self, most: int = 6) -> bool:
        """Read a few cups of the past, between two moments of the window; False once all are known."""
        self._tellers(most)
        return self._fresh >= most

    def _tellers_all(self) -> list[Told]:
        """What every cup has to tell; a cup is read anew only where something happened to it."""
        if self._all is None:
            self._all = self._tellers()
        return self._all

    def _tellers(self, most: int | None = None) -> list[Told]:
        book, rules = self._desk.notebook, self._desk.rules
        ledgers, checks = history.by_mix(book.all(Weighing)), history.by_mix(book.all(Check))
        shelf = tuple(self._desk.shelf())
        if self._told_by != (shelf, rules):
            self._told_by = (shelf, rules)
            self._told.clear()
        found, fresh = [], 0
        for mix in book.all(Mix):
            mine = checks.get(mix.id)
            if not mine:
                continue
            ledger = ledgers.get(mix.id, [])
            key = (mix, tuple(w.id for w in ledger), tuple(c.id for c in mine))
            known = self._told.get(mix.id)
            if known is None or known[0] != key:
                if most is not None and fresh >= most:
                    continue
                known = self._told[mix.id] = (key, history.told_by(mix, ledger, mine, shelf, rules))
                fresh += 1
            found.append(known[1])
        self._fresh = fresh
        return found + self._neat(shelf, rules)

    def _neat(self, shelf: tuple[Material, ...], rules: HouseRules) -> list[Told]:
        """What drips of neat paint tell; read anew only where one came."""
        drips = tuple(g for g in self._desk.gaugings() if g.kind is GaugingKind.DRIP)
        if self._neat_of != (drips, shelf, rules):
            self._neat_of, self._neat_told = (drips, shelf, rules), neat.told_by(drips, shelf, rules)
        return self._neat_told

    # ------------------------------------------------------------ panels

    def panels_seen(self) -> list[PanelSeen]:
        """All panels that were measured dry, each with its cup."""
        if self._seen is None:
            found = []
            for series in self._desk.all_series():
                run = self._desk.load(series.id)
                for panel in run.panels:
                    reading = run.reading(panel)
                    if reading is None or panel.spoiled or reading.stage is not Stage.DRY:
                        continue
                    values = {r: v for r in experience.TOLD if (v := value_of(run.counted(panel) or reading.result, r)) is not None}
                    found.append(_seen(run, panel, values))
            self._seen = found
        return self._seen


LAST_WORD_H: Final = 40.0
"""Hours after the pour from which a panel without a crack is taken as one that did not crack: most do by then, late ones stay a caution."""


def _cracking(desk: Desk, run: Run) -> list[tuple[risk.Causes, bool]]:
    """Panels of a series whose film was weighed and that were looked at long enough."""
    found = []
    for panel in run.panels:
        poured = run.poured_at(panel)
        if panel.spoiled or poured is None:
            continue
        film = panels.film(desk, run, panel)
        began = cracking.began(poured, [k for k in run.looks if k.panel_id == panel.id])
        if film.weighed and began is not None and (began.until_h is not None or began.from_h >= LAST_WORD_H):
            found.append((panels.causes(desk, run, panel), began.until_h is not None))
    return found


def _dried(desk: Desk, run: Run) -> list[pace.PaceSeen]:
    """What the check-ins of a series' panels say of their drying."""
    found = []
    for panel in run.panels:
        poured = run.poured_at(panel)
        if panel.spoiled or poured is None:
            continue
        looks = [k for k in run.looks if k.panel_id == panel.id]
        if any(k.feel is not None for k in looks):
            found += [s for w in panels.physics(desk, run, panel) if w.stage in pace.LEARNED and (s := pace.seen(w, poured, looks)) is not None]
    return found


def _seen(run: Run, panel: Panel, values: dict[Response, float]) -> PanelSeen:
    sheen = {m.key: m.sheen for m in run.shelf}
    layers = [sheen.get(layer.material) for layer in run.arm(panel).layers]
    known = all(layers)
    mounds = [s for m in run.mixes if panel.recipe in m.recipes and (s := progress.mound_s(m, run.checks)) is not None]
    return experience.PanelSeen(
        cup=run.cup(panel),
        values=values,
        unlike_sheen=any(a is not b for a, b in pairwise(layers)) if known else None,
        signs=frozenset(m.kind for m in run.mishaps if m.panel_id == panel.id and m.kind.is_sign),
        mound_s=fmean(mounds) if mounds else None,
    )
