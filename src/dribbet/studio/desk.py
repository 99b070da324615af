"""The desk of the studio: open notebook, clock, devices, series in hand, and who listens."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from dataclasses import asdict, replace
from datetime import tzinfo
from typing import TYPE_CHECKING, Final, Literal

from dribbet.lab.cup import composition, matching
from dribbet.lab.panel.waking import Waking
from dribbet.lab.verdict.readings import that_hold
from dribbet.notebook.mapping import Unreadable, built
from dribbet.records import (
    TAKEN_OUT,
    Bottle,
    BottleWeighing,
    Check,
    Climate,
    DribbetError,
    Gauging,
    GaugingKind,
    Goal,
    HouseRules,
    Levelled,
    Look,
    Material,
    Mishap,
    Mix,
    MixMark,
    Panel,
    PanelWeighing,
    Photo,
    Pick,
    Reading,
    Score,
    Series,
    StepMark,
    Still,
    Survey,
    Treated,
    UnitChoice,
    Way,
    Weighing,
)
from dribbet.studio.learned import Learned
from dribbet.studio.run import Run

if TYPE_CHECKING:
    from collections.abc import Callable
    from datetime import datetime

    from dribbet.devices import Camera, Scale
    from dribbet.notebook import Notebook

RULES: Final = "house_rules"
BESIDE_RUNS: Final = (Bottle, BottleWeighing, Gauging, Goal, Still, Survey, Way)
"""Records that no run holds."""


class Desk:
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
        self.units = UnitChoice.of(notebook.setting("units", {}))
        self.hand: dict[str, str] = {}
        """Panel or mix in hand by series and station, so that pages keep their place."""
        self._runs: dict[str, Run] = {}
        self.revision = 0
        """Counts changes, so that what was computed can be known to hold still."""
        self._rules: HouseRules | None = None
        self._climate: list[Climate] | None = None
        self._listeners: list[Callable[[], None]] = []
        self.learned = Learned(self)
        self._others = notebook.others_wrote()
        known = notebook.all(Series)
        last = notebook.setting("last_series", "")
        self.series_id: str | None = next((s.id for s in known if s.id == last), known[-1].id if known else None)

    # ------------------------------------------------------------ what is so

    def now(self) -> datetime:
        """What the clock shows."""
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
        """Every series, oldest first."""
        return self.notebook.all(Series)

    def shelf(self) -> list[Material]:
        """Every container."""
        return self.notebook.all(Material)

    def run(self) -> Run | None:
        """Series in hand with all its records; read once until something changes."""
        return self.load(self.series_id) if self.series_id is not None else None

    def need_run(self) -> Run:
        """Series in hand with all its records; refuses where there is none."""
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
        every = of_panels(Photo)
        readings, takes = that_hold(of_panels(Reading), every), {p.id for p in every if p.take}
        run = Run(
            series=series,
            panels=tuple(panels),
            mixes=tuple(mixes),
            weighings=weighings,
            checks=matching.current(checks, added),
            steps=tuple(s for s in of_panels(StepMark) if not s.taken_back),
            panel_weighings=tuple(w for w in of_panels(PanelWeighing) if not w.taken_back),
            treated=tuple(c for c in of_panels(Treated) if not c.taken_back),
            picks=tuple(p for p in of_panels(Pick) if not p.taken_back),
            scores=tuple(s for s in of_panels(Score) if not s.taken_back),
            levelled=tuple(m for m in of_panels(Levelled) if not m.taken_back),
            mishaps=tuple(m for m in of_panels(Mishap) if not m.taken_back),
            looks=tuple(look for look in of_panels(Look) if not look.taken_back),
            photos=tuple(p for p in every if not p.take),
            readings=tuple(r for r in readings if r.photo_id not in takes),
            again=tuple(p for p in every if p.take and not p.left_out),
            read_again=tuple(r for r in readings if r.photo_id in takes),
            marks=tuple(m for m in book.among(MixMark, "mix_id", mix_ids) if not m.taken_back),
            shelf=tuple(self.shelf()),
            waking=self.waking(),
        )
        by_id = {p.id: p for p in every}
        laid = [tuple(r for r in some if run.holds(r, by_id[r.photo_id])) for some in (run.readings, run.read_again)]
        return run if laid == [run.readings, run.read_again] else replace(run, readings=laid[0], read_again=laid[1])

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
        """Keep the person's own limits, windows and offsets."""
        self.notebook.put_setting(RULES, rules)
        self._rules = rules
        self._runs.clear()  # when looks are due follows from them
        self.changed()

    def waking(self) -> Waking:
        """Hours of the wall's clock in which the person looks."""
        return Waking(from_h=self.rules.awake_from_h, until_h=self.rules.awake_until_h, local=self.local, at_wall=self.at_wall)

    def gaugings(self) -> list[Gauging]:
        """Measurements of containers that count."""
        return [g for g in self.notebook.all(Gauging) if not g.taken_back]

    def climate(self) -> list[Climate]:
        """Every reading of the drying room's air that counts, by its time; read once until one comes."""
        if self._climate is None:
            self._climate = sorted((c for c in self.notebook.all(Climate) if not c.taken_back), key=lambda c: c.at)
        return self._climate

    def climate_between(self, begins: datetime, ends: datetime) -> list[Climate]:
        """Readings of the air between two moments: a sensor writes thirty-five thousand in a year."""
        known = self.climate()
        return known[bisect_left(known, begins, key=lambda c: c.at) : bisect_right(known, ends, key=lambda c: c.at)]

    def density(self, run: Run, panel: Panel) -> float:
        """Density of a panel's cup."""
        return run.once(("density", panel.recipe, panel.block), lambda: composition.density_kg_m3(run.cup(panel), self.shelf()))

    # ------------------------------------------------------------ what happens

    def listen(self, heard: Callable[[], None]) -> None:
        """Be told of every change."""
        self._listeners.append(heard)

    def changed(self) -> None:
        """Forget what was read, and tell everyone."""
        self.revision += 1
        self._forget_what(self.notebook.news())
        for heard in self._listeners:
            heard()

    def _forget_what(self, news: list[object] | None) -> None:
        """Drop the runs that new records touch; all of them where a container, the noise or (its panel too) a photograph changed."""
        if news is not None:
            if any(isinstance(record, Gauging) and record.kind is GaugingKind.DRIP for record in news):
                self.learned.something_happened()  # a drip of neat paint teaches of it
            news = [record for record in news if type(record) not in BESIDE_RUNS]
            if not news:
                return
        self.learned.something_happened()
        if news is None or any(isinstance(record, Climate) for record in news):
            self._climate = None
        if news is None or any(isinstance(record, (Climate, Material, Photo)) or self._of_again(record) for record in news):
            self._runs.clear()
            return
        for record in news:
            self._runs.pop(self._series_of(record), None)

    def _of_again(self, record: object) -> bool:
        """Whether it was read from a panel photographed again: what photographing alone changes is every series' noise."""
        return isinstance(record, Reading) and self.notebook.get(Photo, record.photo_id).take > 0

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
        self.learned = Learned(self)
        self._rules = self._climate = None

    def follow(self) -> bool:
        """Where this window only reads: read anew what another has written since, and tell everyone; False where nothing was."""
        others = self.notebook.others_wrote()
        if others == self._others:
            return False
        self._others = others
        self.read_anew()
        for heard in self._listeners:
            heard()
        return True

    def forget(self, series_id: str) -> None:
        """Read a series anew at the next asking: more of it is being written before anyone is told."""
        self._runs.pop(series_id, None)

    def choose_series(self, series_id: str | None) -> None:
        """Take a series in hand."""
        self.series_id = series_id
        if series_id is not None and not self.notebook.read_only:
            self.notebook.put_setting("last_series", series_id)
        self.changed()

    def set_units(self, units: UnitChoice) -> None:
        """Keep which systems the person reads in."""
        self.notebook.put_setting("units", asdict(units))
        self.units = units
        self.changed()

    def in_hand(self, station: str) -> str:
        """Panel or cup in hand at a station; empty where none is."""
        return self.hand.get(f"{self.series_id}/{station}", "")

    def take(self, station: str, item: str) -> None:
        """Take a panel or cup in hand at a station."""
        self.hand[f"{self.series_id}/{station}"] = item
