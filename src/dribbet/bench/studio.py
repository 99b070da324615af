"""What the window works with: the open notebook, the clock, devices, units, and the series in hand. No widgets."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from datetime import tzinfo
from functools import cached_property
from typing import TYPE_CHECKING, Literal, TypeVar

from dribbet.bench.units import Units
from dribbet.lab.cup import composition, matching
from dribbet.lab.paint import history
from dribbet.lab.paint.learning import Line, PastMix, own_figures
from dribbet.lab.panel import progress
from dribbet.lab.panel.drying import LATE_LOOKS_H
from dribbet.lab.panel.progress import DueLook, Station
from dribbet.lab.plan import pieces
from dribbet.lab.plan.design import Arm, arms
from dribbet.lab.plan.power import Scatter, scatter_of
from dribbet.lab.plan.responses import SCALES, value_of
from dribbet.lab.verdict.readings import that_hold
from dribbet.notebook.mapping import Unreadable, built
from dribbet.records import (
    TAKEN_OUT,
    Bottle,
    BottleWeighing,
    Check,
    Constants,
    DribbetError,
    Gauging,
    Goal,
    HouseRules,
    Lamp,
    Look,
    Material,
    Mishap,
    Mix,
    MixMark,
    Panel,
    PanelWeighing,
    PanelWeight,
    Photo,
    Reading,
    Response,
    Series,
    SeriesState,
    Stage,
    StepMark,
    Weighing,
)

if TYPE_CHECKING:
    from collections.abc import Callable
    from datetime import datetime

    from dribbet.devices import Camera, Scale
    from dribbet.lab.paint.experience import Seen
    from dribbet.lab.paint.history import Told
    from dribbet.notebook import Notebook

T = TypeVar("T")

RULES = "house_rules"
LEAST_READINGS = 3  # of a paint in its medium, before anything is planned or forecast from them
BESIDE_RUNS = (Bottle, BottleWeighing, Gauging, Goal)
"""Records that no run holds."""
LATE = frozenset(name for name, _ in LATE_LOOKS_H)
"""Looks that stay due after a panel was judged dry."""


@dataclass(frozen=True)
class Run:
    """All records of one series."""

    series: Series
    panels: tuple[Panel, ...]
    mixes: tuple[Mix, ...]
    weighings: tuple[Weighing, ...]
    checks: tuple[Check, ...]
    """Those that still hold: an addition makes what was read of a cup before it the past."""
    steps: tuple[StepMark, ...]
    panel_weighings: tuple[PanelWeighing, ...]
    mishaps: tuple[Mishap, ...]
    looks: tuple[Look, ...]
    photos: tuple[Photo, ...]
    readings: tuple[Reading, ...]
    """Those whose photographs still hold."""
    marks: tuple[MixMark, ...] = ()
    """What else happened to its cups, beside weighing."""
    shelf: tuple[Material, ...] = ()

    @cached_property
    def arms(self) -> tuple[Arm, ...]:
        """Recipes as they were planned."""
        return arms(self.series)

    @cached_property
    def actual_arms(self) -> tuple[Arm, ...]:
        """Recipes as they were really weighed in; the plan where nothing was weighed yet."""
        return tuple(composition.actual_arm(self.series, a, self.mixes, self.weighings, self.shelf) for a in self.arms)

    def arm(self, panel: Panel) -> Arm:
        """Recipe of a panel, as it was weighed in."""
        return next(a for a in self.actual_arms if a.letter == panel.recipe)

    def held(self, panel: Panel) -> Constants:
        """What is held for a panel, with its recipe's levels in place."""
        return self._planned[panel.recipe].held

    @cached_property
    def _planned(self) -> dict[str, Arm]:
        return {a.letter: a for a in self.arms}

    def area_m2(self, panel: Panel) -> float:
        """Face that a panel's paint lies on."""
        return pieces.area_m2(self._planned[panel.recipe], panel)

    def sheet_mm(self, panel: Panel) -> tuple[float, float]:
        """Size of the whole panel, as it is photographed."""
        return pieces.whole_mm(self._planned[panel.recipe])

    def size_mm(self, panel: Panel) -> tuple[float, float]:
        """Size of what is measured: the panel, or its region without the strips."""
        return pieces.measured_mm(self.series, self._planned[panel.recipe], panel)

    def box(self, panel: Panel) -> tuple[float, float, float, float]:
        """Part of the panel that is measured, as shares."""
        return pieces.measured_box(self.series, self._planned[panel.recipe], panel)

    def together(self, panel: Panel) -> list[Panel]:
        """Pieces that share this panel, with itself."""
        return [p for p in self.panels if p.id == panel.id or (panel.sheet and p.sheet == panel.sheet)]

    def cup(self, panel: Panel) -> dict[str, float]:
        """Mass fractions of what is in a panel's cup."""
        return self._cups[panel.recipe]

    @cached_property
    def _cups(self) -> dict[str, dict[str, float]]:
        return {a.letter: composition.of_cup(self.series, a, self.mixes, self.weighings, self.shelf) for a in self.arms}

    @cached_property
    def _asked(self) -> dict[tuple[object, ...], object]:
        """Answers that pages ask for many times while they show one moment."""
        return {}

    def once(self, key: tuple[object, ...], compute: Callable[[], T]) -> T:
        """Answer of a computation over these records, made once."""
        if key not in self._asked:
            if len(self._asked) > 400:  # moments pass
                self._asked.clear()
            self._asked[key] = compute()
        return self._asked[key]  # type: ignore[return-value]

    def in_order(self) -> list[Panel]:
        """Panels in pouring order."""
        return sorted(self.panels, key=lambda p: p.place)

    def poured_at(self, panel: Panel) -> datetime | None:
        return progress.poured_at(panel, self.panel_weighings, self.steps)

    def station(self, panel: Panel, now: datetime) -> Station:
        def compute() -> Station:
            return progress.station_of(
                self.series,
                panel,
                mixes=self.mixes,
                checks=self.checks,
                weighings=self.panel_weighings,
                steps=self.steps,
                photos=self.photos,
                readings=self.readings,
                now=now,
            )

        return self.once(("station", panel.id, now), compute)

    def weight(self, panel: Panel, kind: PanelWeight) -> float | None:
        """Latest weight of a panel in kg."""
        mine = [w for w in self.panel_weighings if w.panel_id == panel.id and w.kind is kind and not w.taken_back]
        return mine[-1].mass_kg if mine else None

    def due_looks(self, now: datetime) -> list[DueLook]:
        """Next check-in of every panel that dries, soonest first."""
        return self.once(("dues", now), lambda: self._due_looks(now))

    def _due_looks(self, now: datetime) -> list[DueLook]:
        found = []
        for panel in self.panels:
            poured = self.poured_at(panel)
            if poured is not None and not panel.spoiled:
                look = progress.next_look(panel, poured, self.looks, now, progress.looks_of(self.series))
                if look is not None and (self.station(panel, now) in (Station.DRY, Station.SHOOT) or look.name in LATE):
                    found.append(look)
        return sorted(found, key=lambda d: d.due)

    def reading(self, panel: Panel) -> Reading | None:
        """Newest reading of a panel, dry before others."""
        mine = [r for r in self.readings if r.panel_id == panel.id]
        dry = [r for r in mine if r.stage is Stage.DRY]
        return (dry or mine)[-1] if mine else None

    def photo(self, panel: Panel, lamp: Lamp = Lamp.DIFFUSE, stage: Stage | None = None) -> Photo | None:
        """Newest photo of a panel with a lamp."""
        mine = [p for p in self.photos if p.panel_id == panel.id and p.lamp is lamp and not p.left_out and (stage is None or p.stage is stage)]
        return mine[-1] if mine else None

    def values(self, response: Response, letters: str | None = None) -> dict[str, list[float]]:
        """Response by recipe over panels that are not spoiled."""
        found: dict[str, list[float]] = {}
        for panel in self.panels:
            if panel.spoiled or (letters is not None and panel.recipe not in letters):
                continue
            reading = self.reading(panel)
            value = value_of(reading.result, response) if reading and reading.stage is Stage.DRY else None
            if value is not None:
                found.setdefault(panel.recipe, []).append(value)
        return found


class Studio:
    """The session. Presenters read and write through it; pages listen to `changed`."""

    def __init__(
        self,
        notebook: Notebook,
        clock: Callable[[], datetime],
        *,
        scale: Scale | None = None,
        camera: Camera | None = None,
        here: tzinfo | Literal["system", "clock"] = "clock",
    ) -> None:
        self.notebook = notebook
        self.clock = clock
        self._here = here
        self.scale = scale
        self.camera = camera
        self.units = Units.of(notebook.setting("units", {}))
        self.hand: dict[str, str] = {}
        """Panel or mix in hand by series and station, so that pages keep their place."""
        self._runs: dict[str, Run] = {}
        self._scatters: dict[Response, Scatter | None] = {}
        self.revision = 0
        """Counts changes, so that what was computed can be known to hold still."""
        self.seen: tuple[int, list[Seen]] | None = None
        """Measured panels, and the revision at which they were read."""
        self._rules: HouseRules | None = None
        self._lines: dict[tuple[str, str], tuple[tuple[Told, ...], Line]] = {}
        """What was learned, with the cups it was learned from: it holds until one of them changes."""
        self._past: list[Told] | None = None
        self._told: dict[str, tuple[object, Told]] = {}
        self._told_by: tuple[object, object] | None = None
        self._fresh = 0
        self._listeners: list[Callable[[], None]] = []
        known = notebook.all(Series)
        last = notebook.setting("last_series", "")
        self.series_id: str | None = next((s.id for s in known if s.id == last), known[-1].id if known else None)

    # ------------------------------------------------------------ what is so

    def now(self) -> datetime:
        return self.clock()

    def local(self, moment: datetime) -> datetime:
        """A moment as the clock on the wall shows it then: summer time follows the moment, not today."""
        return moment.astimezone(self._zone)

    def at_wall(self, naive: datetime) -> datetime:
        """The moment at which the clock on the wall shows this."""
        return naive.astimezone() if self._zone is None else naive.replace(tzinfo=self._zone)

    @property
    def _zone(self) -> tzinfo | None:
        if isinstance(self._here, tzinfo):
            return self._here
        return None if self._here == "system" else self.clock().tzinfo

    def all_series(self) -> list[Series]:
        return self.notebook.all(Series)

    def shelf(self) -> list[Material]:
        return self.notebook.all(Material)

    def run(self) -> Run | None:
        """Series in hand with all its records; read once until something changes."""
        return self.load(self.series_id) if self.series_id is not None else None

    def need_run(self) -> Run:
        run = self.run()
        if run is None:
            raise DribbetError("No question yet. Start one on Ask.")
        return run

    def load(self, series_id: str) -> Run:
        """Read all records of a series; once until something changes."""
        if series_id not in self._runs:
            self._runs[series_id] = self._load(series_id)
        return self._runs[series_id]

    def _load(self, series_id: str) -> Run:
        book = self.notebook
        series = book.get(Series, series_id)
        panels = book.all(Panel, series_id=series_id)
        mixes = sorted(book.all(Mix, series_id=series_id), key=lambda m: m.place)
        ids, mix_ids = [p.id for p in panels], [m.id for m in mixes]

        def of_panels(kind: type) -> tuple:  # type: ignore[type-arg]
            return tuple(book.among(kind, "panel_id", ids))

        weighings = tuple(w for w in book.among(Weighing, "mix_id", mix_ids) if not w.taken_back)
        added = {w.mix_id: w for w in weighings if w.ingredient != TAKEN_OUT}  # the last one of each cup: they come in order
        checks = tuple(c for c in book.among(Check, "mix_id", mix_ids) if not c.taken_back)
        photos = of_panels(Photo)
        return Run(
            series=series,
            panels=tuple(panels),
            mixes=tuple(mixes),
            weighings=weighings,
            checks=matching.current(checks, added),
            steps=tuple(s for s in of_panels(StepMark) if not s.taken_back),
            panel_weighings=tuple(w for w in of_panels(PanelWeighing) if not w.taken_back),
            mishaps=tuple(m for m in of_panels(Mishap) if not m.taken_back),
            looks=tuple(look for look in of_panels(Look) if not look.taken_back),
            photos=photos,
            readings=that_hold(of_panels(Reading), photos),
            marks=tuple(m for m in book.among(MixMark, "mix_id", mix_ids) if not m.taken_back),
            shelf=tuple(self.shelf()),
        )

    def scatter(self, response: Response) -> Scatter | None:
        """Scatter of panels poured alike over the whole notebook, and what it rests on; None before any repeats."""
        if response not in self._scatters:
            self._scatters[response] = self._scatter(response)
        return self._scatters[response]

    def _scatter(self, response: Response) -> Scatter | None:
        groups: list[list[float]] = []
        names: list[str] = []
        for series in self.all_series():
            if series.state is SeriesState.PLANNED:
                continue
            values = [v for v in self.load(series.id).values(response).values() if len(v) > 1]
            if values:
                groups += values
                names.append(series.name)
        return scatter_of(groups, names, SCALES[response].measuring_sd)

    # ------------------------------------------------------------ the person's own

    @property
    def rules(self) -> HouseRules:
        """What the person set for their bench."""
        if self._rules is None:
            stored = self.notebook.setting(RULES, {})
            try:
                self._rules = built(HouseRules, stored) if stored else HouseRules()
            except (Unreadable, DribbetError) as error:  # the usual ones hold until the person sets their own again
                self._rules = HouseRules()
                self.notebook.unreadable["setting", RULES] = str(error)
        return self._rules

    def set_rules(self, rules: HouseRules) -> None:
        self.notebook.put_setting(RULES, rules)
        self._rules = rules
        self.changed()

    def gaugings(self) -> list[Gauging]:
        """Measurements of containers that count."""
        return [g for g in self.notebook.all(Gauging) if not g.taken_back]

    def line(self, paint: str, medium: str) -> Line:
        """What the notebook has taught of a paint in a medium."""
        mine = tuple(told for told in self._all_told() if told.line == (paint, medium))
        known = self._lines.get((paint, medium))
        if known is None or len(known[0]) != len(mine) or any(a is not b for a, b in zip(known[0], mine, strict=True)):
            known = self._lines[paint, medium] = mine, Line(medium, [r for told in mine for r in told.readings])
        return known[1]

    def own_figures(self, series: Series) -> tuple[tuple[str, float], ...]:
        """Viscosities by the person's own checks, for a plan with this series' colours."""
        lines = {key: self.line(*key) for key in dict.fromkeys(told.line for told in self._all_told())}
        return own_figures(lines, [layer.material for layer in series.layers], LEAST_READINGS)

    def past_mixes(self) -> list[PastMix]:
        """Every cup that was weighed and checked."""
        return [told.past for told in self._all_told() if told.past is not None]

    def _all_told(self) -> list[Told]:
        """What every cup has to tell; a cup is read anew only where something happened to it."""
        if self._past is None:
            self._past = [told for _, told in self._tellers()]
        return self._past

    def _tellers(self, most: int | None = None) -> list[tuple[str, Told]]:
        book = self.notebook
        ledgers, checks = history.by_mix(book.all(Weighing)), history.by_mix(book.all(Check))
        shelf = tuple(self.shelf())
        if self._told_by != (shelf, self.rules):
            self._told_by = (shelf, self.rules)
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
                known = self._told[mix.id] = (key, history.told_by(mix, ledger, mine, shelf, self.rules))
                fresh += 1
            found.append((mix.id, known[1]))
        self._fresh = fresh
        return found

    def learn_some(self, most: int = 6) -> bool:
        """Read a few cups of the past, between two moments of the window; False once all are known."""
        self._tellers(most)
        return self._fresh >= most

    def density(self, run: Run, panel: Panel) -> float:
        """Density of a panel's cup."""
        return composition.density_kg_m3(run.cup(panel), self.shelf())

    # ------------------------------------------------------------ what happens

    def listen(self, heard: Callable[[], None]) -> None:
        self._listeners.append(heard)

    def changed(self) -> None:
        """Forget what was read, and tell everyone."""
        self.revision += 1
        self._forget_what(self.notebook.news())
        for heard in self._listeners:
            heard()

    def _forget_what(self, news: list[object] | None) -> None:
        """Drop the runs that new records touch; all of them where a container or (its panel too) a photograph changed."""
        if news is not None:
            news = [record for record in news if type(record) not in BESIDE_RUNS]
            if not news:
                return
        self._scatters.clear()
        self._past = None
        if news is None or any(isinstance(record, (Material, Photo)) for record in news):
            self._runs.clear()
            return
        for record in news:
            self._runs.pop(self._series_of(record), None)

    def _series_of(self, record: object) -> str:
        if isinstance(record, Series):
            return record.id
        if isinstance(record, (Panel, Mix)):
            return record.series_id
        panel = getattr(record, "panel_id", None)
        if panel is not None:
            return self.notebook.get(Panel, panel).series_id
        return self.notebook.get(Mix, record.mix_id).series_id  # type: ignore[attr-defined]

    def read_anew(self) -> None:
        """Forget everything that was read or computed; what is asked for next comes from what is stored."""
        self.notebook.forget()
        self.revision += 1
        self._runs.clear()
        self._scatters.clear()
        self._told.clear()
        self._lines.clear()
        self._past = self._rules = self._told_by = self.seen = None

    def forget(self, series_id: str) -> None:
        """Read a series anew at the next asking: more of it is being written before anyone is told."""
        self._runs.pop(series_id, None)

    def choose_series(self, series_id: str | None) -> None:
        self.series_id = series_id
        if series_id is not None and not self.notebook.read_only:
            self.notebook.put_setting("last_series", series_id)
        self.changed()

    def set_units(self, units: Units) -> None:
        self.notebook.put_setting("units", asdict(units))
        self.units = units
        self.changed()

    def in_hand(self, station: str) -> str:
        return self.hand.get(f"{self.series_id}/{station}", "")

    def take(self, station: str, item: str) -> None:
        self.hand[f"{self.series_id}/{station}"] = item
