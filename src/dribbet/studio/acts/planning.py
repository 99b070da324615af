"""Planning as it is kept: changes that can be taken back, lots, new series. The changes themselves are made in `acts.asking`."""

from __future__ import annotations

import secrets
from dataclasses import replace
from typing import TYPE_CHECKING, Final

from dribbet.lab.paint import measures
from dribbet.lab.panel import progress
from dribbet.lab.panel.drying import hours_of
from dribbet.lab.plan import confounding, control, design, planning, sizes, stops, templates
from dribbet.notebook.store import new_id
from dribbet.records import (
    WATER,
    Aim,
    Constants,
    DribbetError,
    Factor,
    Goal,
    Judging,
    Kind,
    Level,
    Material,
    Response,
    Series,
    SeriesState,
    Varied,
    Wanted,
    Weighing,
)
from dribbet.records.wording import first_up
from dribbet.studio.history import History
from dribbet.studio.standing.margin import first_separable

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.studio.desk import Desk

NAMES: Final = ("Kelp", "Dulse", "Bladderwrack", "Haar", "Squall", "Thrift", "Eelgrass", "Sleet")
MOST_WEIGHT: Final = 3


class PlanStopped(DribbetError):
    """Lots are not drawn: what stops the plan is said by `words`."""

    def __init__(self, found: Sequence[stops.Stop]) -> None:
        super().__init__("The plan cannot be poured as it stands.")
        self.found = tuple(found)


class Planning:
    """Plans of one desk, with what can be taken back of each."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self._histories: dict[str, History] = {}

    # ------------------------------------------------------------ changes

    def open_plan(self) -> Series:
        """Series in hand while its plan may change."""
        s = self.desk.need_run().series
        if s.seed is not None:
            raise DribbetError("Lots are drawn, so the question stands. Take the lots back to change it, or start a new series.")
        return s

    def keep(self, before: Series, after: Series) -> None:
        """Keep a change of the plan, so that it can be taken back; refused where a recipe could not be mixed at all."""
        design.arms(after)
        if design.paired(after) and not any(s.why is stops.Why.PIECES for s in stops.stops(after)):
            design.panels(after, lambda: "")
        if after == before:
            return
        self.history(before).changed(before)
        self.desk.notebook.replace(self.with_own_figures(after))
        self.desk.changed()

    def with_own_figures(self, s: Series) -> Series:
        """The plan with what the person's own checks and weighings say of flow and drops; kept in it, so that it stays what it was."""
        if s.seed is not None:
            return s
        silicone = next((m for m in self.desk.shelf() if m.key == s.constants.silicone), None)
        drop_kg = measures.one("drop", silicone, self.desk.gaugings()).kg if silicone is not None else planning.DROP_KG
        return replace(s, constants=replace(s.constants, own_pa_s=self.desk.learned.own_figures(s), drop_kg=drop_kg))

    def history(self, s: Series) -> History:
        """What can be taken back of a plan."""
        return self._histories.setdefault(s.id, History())

    def undo(self) -> None:
        """Take the last change of the plan back."""
        self._step(back=True)

    def redo(self) -> None:
        """Do again what was taken back."""
        self._step(back=False)

    def _step(self, *, back: bool) -> None:
        s = self.desk.need_run().series
        if s.seed is not None:
            raise DribbetError("Lots are drawn, so the plan stands. Take the lots back first.")
        history = self.history(s)
        then = history.back(s) if back else history.forth(s)
        if then is None:
            raise DribbetError("There is nothing to take back." if back else "Nothing was taken back.")
        self.desk.notebook.replace(then)
        self.desk.changed()

    def separate(self) -> None:
        """Add the fewest panels that separate what is mixed up."""
        s = self.open_plan()
        found = first_separable(confounding.confounds(s, design.arms(s)))
        if found is None:
            raise DribbetError("Nothing is mixed up that a few more panels would separate.")
        self.keep(s, replace(s, layout=replace(s.layout, extras=(*s.layout.extras, *found.extras))))

    def leave_extras_out(self) -> None:
        """Take the added recipes out of the plan."""
        s = self.open_plan()
        self.keep(s, replace(s, layout=replace(s.layout, extras=())))

    def add_control(self) -> None:
        """Add a recipe without what is tested."""
        s = self.open_plan()
        if not control.missing(s):
            raise DribbetError("Every effect has a recipe to stand against.")
        self.keep(s, control.with_control(s))

    def insist(self) -> None:
        """Go without a control, on record."""
        s = self.open_plan()
        if not any(not m.insisted for m in control.missing(s)):
            raise DribbetError("There is nothing to insist on.")
        self.keep(s, control.insist(s, self.desk.now()))

    def take_size(self, digit: int) -> bool:
        """Take one of the three sizes; False where there is none."""
        s = self.desk.need_run().series
        if s.seed is not None:
            return False
        found = sizes.offers(s, self.desk.learned.scatter(s.responses[0][0]))
        if not 1 <= digit <= len(found):
            return False
        self.keep(s, found[digit - 1].series)
        return True

    # ------------------------------------------------------------ looks and goal

    def toggle_time(self, response: Response, time: str, named: Sequence[str]) -> None:
        """Judge a response at a time, or no longer."""
        run = self.desk.need_run()
        s = run.series
        if s.state is not SeriesState.PLANNED and run.looks:
            raise DribbetError("Looks were made already, so their times stand.")
        now = {j.response: set(j.times) for j in s.protocol}
        usual = set(progress.looks_of(s) if not self.desk.rules.looks else (*self.desk.rules.looks, "dry"))
        table = {r: now.get(r, usual if not s.protocol else {"dry"}) for r, _ in s.responses}
        table[response] ^= {time}
        if not table[response]:
            raise DribbetError(f"{first_up(str(response))} would never be judged. Leave it one look, or do not ask it.")
        protocol = tuple(Judging(response=r, times=tuple(n for n in named if n in times)) for r, times in table.items())
        self.keep(s, replace(s, protocol=protocol))

    def goals(self) -> list[Goal]:
        """Goals that can be chosen."""
        return self.desk.notebook.all(Goal)

    def choose_goal(self, goal_id: str | None) -> None:
        """Aim at a goal, or at none."""
        self.desk.notebook.replace(replace(self.desk.need_run().series, goal_id=goal_id))
        self.desk.changed()

    def new_goal(self) -> Goal:
        """Make a goal of what is asked, and aim at it."""
        s = self.desk.need_run().series
        aims = tuple(Aim(response=r, weight=1.0) for r, _ in s.responses)
        goal = Goal(id=new_id(), name=f"Goal {len(self.goals()) + 1}: {s.responses[0][0]} {s.responses[0][1]}", aims=aims)
        with self.desk.notebook.transaction():
            self.desk.notebook.add(goal)
            self.desk.notebook.replace(replace(s, goal_id=goal.id))
        self.desk.changed()
        return goal

    def aim(self, response: Response, low: float | None, high: float | None) -> None:
        """Range that a response should lie in."""
        goal = self._own_goal()
        aims = tuple(replace(a, low=low, high=high) if a.response is response else a for a in goal.aims)
        self.desk.notebook.replace(replace(goal, aims=aims))
        self.desk.changed()

    def weigh(self, response: Response) -> None:
        """Let a response count more in the goal: 0, 1, 2, 3 and round again."""
        goal = self._own_goal()
        aims = tuple(replace(a, weight=float((round(a.weight) + 1) % (MOST_WEIGHT + 1))) if a.response is response else a for a in goal.aims)
        self.desk.notebook.replace(replace(goal, aims=aims))
        self.desk.changed()

    def _own_goal(self) -> Goal:
        s = self.desk.need_run().series
        goal = next((g for g in self.goals() if g.id == s.goal_id), None) or self.new_goal()
        missing = [r for r, _ in s.responses if r not in {a.response for a in goal.aims}]
        return replace(goal, aims=(*goal.aims, *(Aim(response=r, weight=1.0) for r in missing)))

    # ------------------------------------------------------------ lots

    def draw_lots(self) -> None:
        """Fix the design: seed, panels with codes and places, cups to mix.

        Raises
        ------
        PlanStopped
            If a recipe cannot be mixed, a cup is too small for its drops, or more pieces than fit share a panel.
        DribbetError
            If lots are drawn already, or an effect has nothing to stand against.
        """
        run = self.desk.need_run()
        if run.series.seed is not None:
            raise DribbetError("Lots are drawn already.")
        lacking = [m for m in control.missing(run.series) if not m.insisted]
        if lacking:
            raise DribbetError(
                f"No recipe goes without {lacking[0].words}, so its effect would have nothing to stand against. "
                f"C adds one, poured in the same sitting; I goes without, on record."
            )
        found = stops.stops(run.series)
        if found:
            raise PlanStopped(found)
        series = replace(run.series, seed=secrets.randbelow(2**31))
        own = self.desk.rules.looks
        if own and not series.protocol:  # what holds at the drawing of lots holds for this test, whatever is set later
            times = tuple(sorted({*own, "dry"}, key=hours_of))
            series = replace(series, protocol=tuple(Judging(response=r, times=times) for r, _ in series.responses))
        with self.desk.notebook.transaction():
            self.desk.notebook.replace(series)
            cups = planning.mixes(series, new_id)
            density = {m.key: m.density_kg_m3 for m in self.desk.shelf()}
            cups += planning.side_mixes(series, new_id, len(cups) + 1, lambda name: density.get(name, planning.BASE_KG_M3))
            self.desk.notebook.add(*design.panels(series, new_id), *cups)
        self.desk.changed()

    def take_back_lots(self) -> None:
        """Undo the draw while nothing was weighed or poured."""
        run = self.desk.need_run()
        if run.series.seed is None:
            raise DribbetError("There is nothing to take back.")
        if run.weighings or run.steps or run.panel_weighings or run.photos or run.checks or run.looks:
            raise DribbetError("Work on these lots has begun, so they stand. Start a new series to ask something else.")
        if any(w.mix_id in {m.id for m in run.mixes} for w in self.desk.notebook.all(Weighing)):
            raise DribbetError("Weighings of these lots are in the ledger, so they stand. Start a new series to ask something else.")
        with self.desk.notebook.transaction():
            self.desk.notebook.remove_plan(run.series.id)
            self.desk.notebook.replace(replace(run.series, seed=None))
        self.desk.changed()

    # ------------------------------------------------------------ new series

    def new_series(self) -> None:
        """Start a series like the last one, with a fresh name and code."""
        known = self.desk.all_series()
        last = known[-1] if known else None
        if last is None and not planning.paints(self.desk.shelf()):
            self.desk.notebook.add(*_plain_shelf())
        paints = planning.paints(self.desk.shelf())
        name, code = self._fresh_name([s.name for s in known], {s.code for s in known})
        layers = last.layers if last else design.default_layers(tuple(m.key for m in paints[:4]))
        medium = next((m.key for m in self.desk.shelf() if m.kind is Kind.MEDIUM), "conditioner")
        held = last.constants if last else Constants(medium=medium)
        series = Series(
            id=new_id(),
            code=code,
            name=name,
            varied=(Varied(factor=Factor.WATER_SHARE, levels=tuple(Level(value=v) for v in (0.10, 0.16, 0.22))),),
            repeats=2,
            responses=((Response.CRACK_LENGTH, Wanted.LESS), (Response.CELL_COUNT, Wanted.MORE), (Response.SPREAD, Wanted.MORE)),
            constants=replace(held, silicone_drops_per_100g=0.0),
            layers=layers,
            created_at=self.desk.now(),
        )
        self.desk.notebook.add(self.with_own_figures(series))
        self.desk.choose_series(series.id)

    def take_template(self, key: str) -> None:
        """Fill this series with a kind of test and the last materials."""
        s = self.open_plan()
        template = next(t for t in templates.TEMPLATES if t.key == key)
        poured = [old for old in self.desk.all_series() if old.seed is not None and old.id != s.id]
        last = max(poured, key=lambda old: old.created_at, default=s)  # what was poured last, not what an earlier template left
        self.keep(s, templates.filled(template, replace(s, constants=last.constants, layers=last.layers), self.desk.shelf()))

    def repeat_with(self, series_id: str, letter: str, changed: Varied) -> None:
        """Start a new series like an earlier recipe, with one thing at two levels: as it was, and another."""
        old = self.desk.load(series_id)
        arm = next((a for a in old.arms if a.letter == letter), None)
        made = templates.one_change(old.series, arm.settings if arm and arm.extra is None else None, changed)
        self.start(replace(made, repeats=max(made.repeats, 2)), f"{old.series.code}-{letter}" if letter else old.series.code)

    def mend(self) -> tuple[templates.Mend, ...]:
        """Start the follow-up of this series with what was not equal made so; returns what was mended."""
        series = self.desk.need_run().series
        made, found = templates.mended(series)
        self.start(made, series.code)
        return found

    def start(self, like: Series, after: str) -> None:
        """Start a new series like another; `after` is the code of the series or recipe that it comes from, and is kept as its note."""
        known = self.desk.all_series()
        name, code = self._fresh_name([s.name for s in known], {s.code for s in known}, like.name)
        fresh = replace(
            like, id=new_id(), name=name, code=code, seed=None, state=SeriesState.PLANNED, verdict="", concluded=(), earlier=(), opened_at=None,
            prediction=None, insisted=(),
            created_at=self.desk.now(), note=after,
        )  # fmt: skip
        design.arms(fresh)
        self.desk.notebook.add(fresh)
        self.desk.choose_series(fresh.id)

    def _fresh_name(self, names: list[str], codes: set[str], like: str = "") -> tuple[str, str]:
        last = like or (names[-1] if names else NAMES[0])
        stem = last.rsplit(" ", 1)[0] if last.rsplit(" ", 1)[-1].isdigit() else last
        number = 1
        while f"{stem} {number:02d}" in names or f"{stem[0].upper()}{number}" in codes:
            number += 1
        return f"{stem} {number:02d}", f"{stem[0].upper()}{number}"


def _plain_shelf() -> list[Material]:
    """Names to begin with in a new notebook; how much there is of each, and what it costs, nobody has said yet."""
    paints = (("white", "#F2F0EA", 1350.0), ("blue", "#1F4E79", 1090.0), ("red", "#9C2F3C", 1100.0), ("black", "#1F1F1F", 1080.0))
    others = (
        ("conditioner", Kind.MEDIUM, "#E3DFD3", 1025.0, 0.15), ("glue", Kind.MEDIUM, "#EFECE2", 1080.0, 0.47),
        (WATER, Kind.THINNER, "#FFFFFF", 998.0, 0.0),
    )  # fmt: skip
    return [
        *(Material(id=new_id(), name=n, kind=Kind.PAINT, hex=h, density_kg_m3=d, volume_solids=0.4) for n, h, d in paints),
        *(Material(id=new_id(), name=n, kind=k, hex=h, density_kg_m3=d, volume_solids=s) for n, k, h, d, s in others),
    ]
