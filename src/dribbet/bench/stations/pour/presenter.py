"""Pour: the steps of one pour with their clock, weights before and after, mishaps in one press. No widgets."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Final

from dribbet.bench.parts.film_gauge import GaugeView
from dribbet.lab.cup import additions, batches, composition
from dribbet.lab.panel import film, pouring
from dribbet.lab.plan.amounts import CUP_LOSS
from dribbet.notebook.store import new_id
from dribbet.records import DribbetError, Hazard, Mishap, MishapKind, Panel, PanelWeighing, PanelWeight, Prediction, Step, StepMark, Technique, order
from dribbet.studio.acts.pouring import pour_from_elsewhere
from dribbet.studio.standing import pots
from dribbet.words import cautions
from dribbet.words import pots as pot_words
from dribbet.words import pour as pour_words
from dribbet.words.units import clock_text, units_of

if TYPE_CHECKING:
    from datetime import datetime

    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

EARLY_S: Final = 3.0
NOT_MIXED: Final = "Its cups are not mixed yet. Mix them first."


@dataclass(frozen=True, slots=True)
class StepView:
    """One step on the bench line."""

    step: str
    name: str
    note: str
    state: str
    """done, now or planned."""
    planned_s: float
    begun_s: float | None
    """Seconds since the first step, where it has begun."""


@dataclass(frozen=True, slots=True)
class PourView:
    """Everything the page shows."""

    code: str = ""
    panel: Panel | None = None
    sentence: str = ""
    recipe: str = ""
    """The recipe in words."""
    empty: bool = False
    layers: tuple[tuple[str, str, float, str], ...] = ()
    """(name, grams as text, share, hex) from below."""
    layers_note: str = ""
    clock_head: str = ""
    clock: str = ""
    steps: tuple[StepView, ...] = ()
    elapsed_s: float = 0.0
    gauge: GaugeView = field(default_factory=lambda: GaugeView(()))
    need: str = ""
    """Weight that is wanted: bare, poured or nothing."""
    one_key: str = ""
    mishaps: tuple[str, ...] = ()
    placing: str = ""
    caution: str = ""
    can_take_back: bool = False
    unmixed: bool = False
    """Whether its cups were not mixed here, which bars it until the person says so."""


class PourPresenter:
    """Which panel is in hand, and what a press does to it."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self.placing: str = ""
        """Mishap that waits for its place on the panel."""

    def panel(self, run: Run) -> Panel | None:
        """Panel in hand: the chosen one, else the next in the lots that is not poured."""
        chosen = self.desk.in_hand("pour")
        found = next((p for p in run.panels if p.id == chosen), None)
        if found is not None and (run.weight(found, PanelWeight.POURED) is None):
            return found
        return next(
            (
                p
                for p in run.in_order()
                if not p.spoiled and (run.poured_at(p) is None or (self._begun(run, p) and run.weight(p, PanelWeight.POURED) is None))
            ),
            None,
        )

    def _begun(self, run: Run, panel: Panel) -> bool:
        return any(s.panel_id == panel.id for s in run.steps)

    def plan(self, run: Run, panel: Panel) -> list[tuple[Step, float]]:
        """Steps of this pour with their planned seconds."""
        return pouring.steps(run.held(panel), alcohol_share=run.arm(panel).alcohol_share)

    def view(self) -> PourView:
        run = self.desk.run()
        if run is None or run.series.seed is None or not run.panels:
            return PourView(sentence="Nothing to pour yet. Draw lots on Ask, then mix and check.", empty=True, one_key="Go to Ask")
        panel = self.panel(run)
        if panel is None:
            return PourView(sentence="Every panel of this series is poured.", empty=True, one_key="Go to Dry")
        units, now = units_of(self.desk), self.desk.now()
        arm, held, shelf = run.arm(panel), run.held(panel), {m.key: m for m in self.desk.shelf()}
        layers = tuple(
            (
                layer.material.capitalize(),
                units.mass_figure(held.poured_kg * layer.share),
                layer.share,
                shelf[layer.material].hex if layer.material in shelf else "#9A9A9A",
            )
            for layer in arm.layers
        )
        bare, poured = run.weight(panel, PanelWeight.BARE), run.weight(panel, PanelWeight.POURED)
        plan = self.plan(run, panel)
        marks = {s.step: s.at for s in run.steps if s.panel_id == panel.id}
        current = [s for s, _ in plan if s in marks]
        step = current[-1] if current else None
        first = min(marks.values()) if marks else now
        upcoming = _after([s for s, _ in plan], set(marks))
        seconds = dict(plan)
        hold = pots.held_back(self.desk, run, panel) if not marks else None
        unmixed = hold is not None and hold.fault is pots.Fault.UNMIXED
        if step is None:
            head, clock = "planned in all", clock_text(sum(s for _, s in plan))
            sentence = "Weigh the bare panel first." if bare is None else NOT_MIXED if unmixed else "Ready. Press when you begin."
        else:
            left = seconds[step] - (now - marks[step]).total_seconds()
            head = "still to go" if left >= 0 else "over the plan by"
            clock, sentence = clock_text(abs(left)), pour_words.said(arm.technique, step).do
            if step is Step.WEIGH and panel.slot:
                sentence = sentence.replace("lay it level", f"lay it level on rack place {panel.slot}")
        need = "bare" if bare is None and step is None else "poured" if step is Step.WEIGH and poured is None else ""
        if need:
            one = "Take the bare weight" if need == "bare" else "Take the weight with paint"
        elif unmixed:
            one = "Go to Mix"
        elif upcoming is None:
            one = "Next panel"
        else:
            one = pour_words.said(arm.technique, upcoming).go if step is not None else self._start_words(arm.technique, upcoming)
            if step is not None and (early := seconds[step] - (now - marks[step]).total_seconds()) > EARLY_S:
                one = f"{one.split(':')[0]} now, {early:.0f} s early".replace(" now now", " now")
        hazards = frozenset([Hazard.FLAMMABLE]) if arm.alcohol_share else frozenset()
        about = upcoming if upcoming is Step.TORCH else step
        caution = cautions.for_step(about, hazards) if about is not None else ""
        if arm.alcohol_share and Step.TORCH not in seconds:
            caution = cautions.TORCH_AFTER_ALCOHOL
        if not caution and step is None:
            caution = self._cups_say(run, panel)
        return PourView(
            code=panel.code,
            panel=panel,
            sentence=f"{panel.code} is left out: {panel.spoiled}." if panel.spoiled else sentence,
            recipe=pour_words.recipe(run.series, arm, units),
            layers=layers,
            layers_note=f"{units.mass_text(held.poured_kg)}, filled from below",
            clock_head=head,
            clock=clock,
            steps=tuple(self._step(arm.technique, s, planned, marks, step, first, held.torch_passes) for s, planned in plan),
            elapsed_s=(now - first).total_seconds() if marks else 0.0,
            gauge=self._gauge(run, panel, bare, poured),
            need=need,
            one_key=one,
            mishaps=tuple(str(m.kind) for m in run.mishaps if m.panel_id == panel.id),
            placing=self.placing,
            caution=caution,
            unmixed=unmixed,
            can_take_back=bool(run.steps or run.panel_weighings or run.mishaps),
        )

    def _start_words(self, technique: Technique, first: Step) -> str:
        """What the one key does before anything has begun."""
        go = pour_words.said(technique, first).go
        return f"Start: {go[:1].lower()}{go[1:]}"

    def _cups_say(self, run: Run, panel: Panel) -> str:
        """What the cups of this panel ask for before they are poured: rest, a stir, or a thought about a trace of another cup."""
        shelf, now = {m.key: m for m in run.shelf}, self.desk.now()
        mine = [m for m in run.mixes if panel.recipe in m.recipes and m.block in (0, panel.block) and m.done]
        flagged = batches.contaminated_panels([panel], mine, run.marks)
        if flagged:
            return f"{panel.code} may hold a trace of another cup ({next(iter(flagged.values()))})."
        resting = [(m, left) for m in mine if (left := pots.rest_left_s(self.desk, run, m, now)) > 0.0]
        if resting:
            mix, left = max(resting, key=lambda x: x[1])
            return f"Bubbles are still in {mix.colour}: {clock_text(left)} of rest to go. Pour earlier, and they rise on the panel."
        for mix in mine:
            held = composition.weighed_in(mix, run.weighings)
            total = sum(held.values())
            settles = additions.restir_needed({n: kg / total for n, kg in held.items()}, shelf) if total else ""
            if settles:
                return f"Stir {mix.colour} up again: {settles} settles."
        return ""

    def _step(
        self, technique: Technique, s: Step, planned: float, marks: dict[Step, datetime], now: Step | None, first: datetime, passes: int
    ) -> StepView:
        state = "now" if s is now else "done" if s in marks else "planned"
        note = (
            "done"
            if state == "done"
            else f"{passes} × 3 s"
            if s is Step.TORCH
            else f"{planned:.0f} s"
            if planned < 60
            else clock_text(planned) + " min"
        )
        if s is Step.WEIGH:
            note = "and level"
        begun = (marks[s] - first).total_seconds() if s in marks else None
        return StepView(str(s), pour_words.said(technique, s).name, note, state, planned, begun)

    def film_mm(self, run: Run, panel: Panel) -> float | None:
        """Measured wet film, or None where it was not weighed."""
        bare, poured = run.weight(panel, PanelWeight.BARE), run.weight(panel, PanelWeight.POURED)
        if bare is None or poured is None or poured <= bare:
            return None
        return film.wet_film_m(poured - bare, self.desk.density(run, panel), run.area_m2(panel)) * 1e3

    def _gauge(self, run: Run, panel: Panel, bare: float | None, poured: float | None) -> GaugeView:
        units, held = units_of(self.desk), run.held(panel)
        zones = tuple(zip([*(z * 1e3 for z in film.FILM_ZONES_M), film.GAUGE_TOP_M * 1e3], [str(z) for z in film.FilmZone], strict=True))
        marks = tuple((p.code, mm) for p in run.panels if p.id != panel.id and (mm := self.film_mm(run, p)) is not None)
        mine = self.film_mm(run, panel)
        foot = f"Panel before: {units.mass_text(bare)}" if bare is not None else "not weighed yet"
        if mine is None and bare is None:
            return GaugeView(zones, marks, empty="Weigh the bare panel first")
        expected = mine is None
        arm = run.arm(panel)
        value = mine if mine is not None else arm.film_m * 1e3
        stays = arm.film_m * run.area_m2(panel) * self.desk.density(run, panel)
        note = (
            f"if {units.mass_text(stays)} stay of {units.mass_text(held.poured_kg * (1 - CUP_LOSS))}"
            if expected
            else f"{units.mass_text((poured or 0) - (bare or 0))} stayed"
        )
        return GaugeView(zones, marks, panel.code.split("-")[-1], value, expected, note, foot)

    # ------------------------------------------------------------ what a press does

    def advance(self, weight_kg: float | None, source: str) -> None:
        """The one key: a weight where one is wanted, else the next step."""
        run = self.desk.need_run()
        panel = self.panel(run)
        if panel is None:
            raise DribbetError("Every panel of this series is poured.")
        view = self.view()
        now = self.desk.now()
        if view.need:
            if weight_kg is None or not weight_kg > 0.0:
                raise DribbetError("No weight yet. Put the panel on the scale, or type its weight.")
            kind = PanelWeight.BARE if view.need == "bare" else PanelWeight.POURED
            bare = run.weight(panel, PanelWeight.BARE)
            if kind is PanelWeight.POURED and bare is not None and weight_kg <= bare:
                raise DribbetError("The panel is not heavier than before the pour. Check the scale, or take back the bare weight.")
            self.desk.notebook.add(PanelWeighing(id=new_id(), panel_id=panel.id, kind=kind, mass_kg=round(weight_kg, 5), at=now))
            if kind is PanelWeight.POURED:
                self.desk.take("pour", "")
            self.desk.changed()
            return
        plan = self.plan(run, panel)
        marks = {s.step for s in run.steps if s.panel_id == panel.id}
        after = _after([s for s, _ in plan], marks)
        upcoming = next(((s, t) for s, t in plan if s is after), None)
        if upcoming is None:
            self.desk.take("pour", "")
            self.desk.changed()
            return
        hold = pots.held_back(self.desk, run, panel) if not marks else None
        if hold is not None:
            raise DribbetError(pot_words.held_back(hold, units_of(self.desk)))
        with self.desk.notebook.transaction():
            if not marks:
                self._lock_prediction(run, now)
            self.desk.notebook.add(StepMark(id=new_id(), panel_id=panel.id, step=upcoming[0], planned_s=upcoming[1], at=now))
        self.desk.take("pour", panel.id)
        self.desk.changed()

    def from_elsewhere(self) -> None:
        """Pour the panel in hand although its cups were not mixed here."""
        panel = self.panel(self.desk.need_run())
        if panel is None:
            raise DribbetError("Every panel of this series is poured.")
        pour_from_elsewhere(self.desk, panel)

    def _lock_prediction(self, run: Run, now: datetime) -> None:
        """The first pour of a series locks what was predicted."""
        from dribbet.records import SeriesState

        series = run.series
        prediction: Prediction | None = series.prediction
        if prediction is not None and prediction.locked_at is None:
            prediction = replace(prediction, locked_at=now)
        state = SeriesState.RUNNING if series.state is SeriesState.PLANNED else series.state
        if (prediction, state) != (series.prediction, series.state):
            self.desk.notebook.replace(replace(series, prediction=prediction, state=state))

    def take_back(self) -> None:
        """One press, one step back: the last weight, step or mishap of the whole pour."""
        run = self.desk.need_run()
        acts: list[StepMark | PanelWeighing | Mishap] = [*run.steps, *(w for w in run.panel_weighings if w.kind is not PanelWeight.DRY), *run.mishaps]
        if not acts:
            raise DribbetError("There is nothing to take back.")
        last = max(acts, key=order)  # of the whole pour: it may have been the weight that finished the panel before
        self.desk.notebook.replace(replace(last, taken_back=True))
        self.desk.take("pour", last.panel_id)
        self.desk.changed()

    def mishap(self, kind: MishapKind) -> None:
        """Mark a mishap; the next touch on the panel's outline says where."""
        run = self.desk.need_run()
        panel = self.panel(run)
        if panel is None:
            raise DribbetError("No panel is in hand.")
        entry = Mishap(id=new_id(), panel_id=panel.id, kind=kind, at=self.desk.now())
        self.desk.notebook.add(entry)
        self.placing = "" if kind.is_sign else entry.id  # a sign is of the whole pour, not of a place
        self.desk.changed()

    def place(self, x_share: float, y_share: float) -> None:
        """Say where the mishap is."""
        run = self.desk.need_run()
        entry = next((m for m in run.mishaps if m.id == self.placing), None)
        self.placing = ""
        if entry is not None:
            self.desk.notebook.replace(replace(entry, x_share=x_share, y_share=y_share))
        self.desk.changed()

    def choose(self, panel_id: str) -> None:
        self.desk.take("pour", panel_id)
        self.desk.changed()


def _after(plan: list[Step], done: set[Step]) -> Step | None:
    """The step that follows the last one done; one that was left behind is not gone back to."""
    last = max((i for i, step in enumerate(plan) if step in done), default=-1)
    return plan[last + 1] if last + 1 < len(plan) else None
