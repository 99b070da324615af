"""What a person does at the pour: weigh, go on, do again, pass over, tell what was otherwise, mark what went wrong. One act, one transaction."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Final

from dribbet.lab.panel import pouring
from dribbet.notebook.store import new_id
from dribbet.records import (
    Advice,
    Does,
    DribbetError,
    Figure,
    How,
    Insisted,
    Levelled,
    Mishap,
    MishapKind,
    PanelWeighing,
    PanelWeight,
    Prediction,
    SeriesState,
    Step,
    StepMark,
    order,
)
from dribbet.studio.acts.zones import change
from dribbet.studio.standing import panels, pots
from dribbet.studio.standing.panels import planned_of, progress_of

if TYPE_CHECKING:
    from datetime import datetime

    from dribbet.records import Panel, Series
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

FILLING: Final = (Step.FILL, Step.LAY)
"""Steps in which layers go in one after the other."""
LEAST_KEPT_KG: Final = 5e-3  # what ran off is offered to be kept from here on: less dries on the spatula
GRAM_DIGITS: Final = 5  # of a weight in kg: hundredths of a gram


class HeldBack(DribbetError):
    """The cups of a panel bar its pour: what of them, as a fact."""

    def __init__(self, hold: pots.Hold) -> None:
        super().__init__("The cups of this panel are not ready.")
        self.hold = hold


def weigh(desk: Desk, panel: Panel, kind: PanelWeight, weight_kg: float | None) -> None:
    """Keep the weight of a panel.

    Raises
    ------
    DribbetError
        If there is none, or a panel with paint is no heavier than without.
    """
    run = desk.need_run()
    if weight_kg is None or not weight_kg > 0.0:
        raise DribbetError("No weight yet. Put the panel on the scale, or type its weight.")
    bare = run.weight(panel, PanelWeight.BARE)
    if kind in (PanelWeight.POURED, PanelWeight.DRYING) and bare is not None and weight_kg <= bare:
        raise DribbetError("The panel is not heavier than before the pour. Check the scale, or take back the bare weight.")
    desk.notebook.add(PanelWeighing(id=new_id(), panel_id=panel.id, kind=kind, mass_kg=round(weight_kg, GRAM_DIGITS), at=desk.now()))
    desk.changed()


def level(desk: Desk, panel: Panel, slope_x: float, slope_y: float) -> None:
    """How level a panel lies before it is poured, in m per m."""
    desk.notebook.add(Levelled(id=new_id(), panel_id=panel.id, at=desk.now(), slope_x=slope_x, slope_y=slope_y))
    desk.changed()


def go_on(desk: Desk, panel: Panel) -> bool:
    """Begin the next step of the plan; False where the pour is over. The first step of a series locks what was predicted."""
    run = desk.need_run()
    pour = progress_of(run, panel)
    after = pour.after
    if after is None:
        return False
    if not pour.begun and (hold := pots.held_back(desk, run, panel)) is not None:
        raise HeldBack(hold)
    with desk.notebook.transaction():
        if not pour.begun:
            _lock_prediction(desk, run, desk.now())
        desk.notebook.add(_mark(panel, after.plan, after.place, How.DONE, desk.now()))
    desk.changed()
    return True


def pass_over(desk: Desk, panel: Panel) -> None:
    """Leave out the next step of the plan, on record."""
    pour = progress_of(desk.need_run(), panel)
    after = pour.after
    if not pour.begun or after is None:
        raise DribbetError("There is no step to pass over. Begin the pour first.")
    if after.plan.step is planned_of(desk.need_run(), panel)[-1].step:
        raise DribbetError("The weighing stays: without it the film on this panel is not known. Type the weight if the scale is gone.")
    desk.notebook.add(_mark(panel, after.plan, after.place, How.SKIPPED, desk.now()))
    desk.changed()


def once_more(desk: Desk, panel: Panel) -> None:
    """Do the step in hand once more, beside the plan."""
    pour = progress_of(desk.need_run(), panel)
    step, current = pouring.again(pour), pour.current
    if step is None or current is None:
        raise DribbetError("This step is done once only. Go on with the next.")
    desk.notebook.add(_mark(panel, replace(current.plan), -1, How.ADDED, desk.now()))
    desk.changed()


def tell(desk: Desk, panel: Panel, figure: Figure) -> None:
    """How the step in hand was done: one of its figures as it happened."""
    current = progress_of(desk.need_run(), panel).current
    if current is None or current.mark is None:
        raise DribbetError("No step has begun. Press when you begin.")
    desk.notebook.replace(replace(current.mark, figures=pouring.put_in(current.mark.figures, figure)))
    desk.changed()


def layer_in(desk: Desk, panel: Panel) -> None:
    """One more layer went in, in its order; ticked while the cup is filled."""
    run = desk.need_run()
    current = progress_of(run, panel).current
    if current is None or current.plan.step not in FILLING:
        raise DribbetError("Layers are ticked while the cup is filled.")
    done = layers_in(run, panel)
    if done >= len(run.arm(panel).layers):
        raise DribbetError("All layers are in. Go on with the next step.")
    tell(desk, panel, Figure(does=Does.LAYERS, value=float(done + 1)))


def as_before(run: Run, panel: Panel) -> Panel | None:
    """The panel poured last whose cup held the same layers and was ticked whole: its layers can be ticked anew in one press."""
    begun = {s.panel_id: s.at for s in run.steps}
    mine = run.arm(panel).layers
    alike = [p for p in run.panels if p.id != panel.id and p.id in begun and run.arm(p).layers == mine and layers_in(run, p) == len(mine)]
    return max(alike, key=lambda p: begun[p.id], default=None)


def all_layers_in(desk: Desk, panel: Panel) -> None:
    """All layers went in as with the last panel that held the same; each with its planned grams."""
    run = desk.need_run()
    current = progress_of(run, panel).current
    if current is None or current.plan.step not in FILLING:
        raise DribbetError("Layers are ticked while the cup is filled.")
    if as_before(run, panel) is None:
        raise DribbetError("No cup with these layers was filled before. Tick each as it goes in.")
    tell(desk, panel, Figure(does=Does.LAYERS, value=float(len(run.arm(panel).layers))))


def ran_off(desk: Desk, run: Run) -> tuple[Panel, float] | None:
    """The panel weighed last and the kilograms that ran off it, where they are worth keeping and were not kept."""
    weighed = [w for w in run.panel_weighings if w.kind is PanelWeight.POURED]
    last = max(weighed, key=order, default=None)
    panel = next((p for p in run.panels if last is not None and p.id == last.panel_id), None)
    if panel is None or run.weight(panel, PanelWeight.RUN_OFF) is not None:
        return None
    kg = panels.film(desk, run, panel).run_off_kg
    return (panel, kg) if kg >= LEAST_KEPT_KG else None


def layers_in(run: Run, panel: Panel) -> int:
    """How many layers of a panel's cup were ticked."""
    told = [f.value for m in run.steps if m.panel_id == panel.id and m.step in FILLING for f in m.figures if f.does is Does.LAYERS]
    return int(told[-1] or 0) if told else 0


def mishap(desk: Desk, panel: Panel, kind: MishapKind, note: str = "") -> Mishap:
    """Something went wrong, or shows how the paint runs; said in one press."""
    entry = Mishap(id=new_id(), panel_id=panel.id, kind=kind, at=desk.now(), note=" ".join(note.split())[:200])
    desk.notebook.add(entry)
    desk.changed()
    return entry


def place(desk: Desk, entry: Mishap, x_share: float, y_share: float, reach_share: float | None = None) -> None:
    """Where it is, and how far it reaches where that was drawn; its zone is left out of every reading until it is counted again."""
    placed = replace(entry, x_share=x_share, y_share=y_share, zone_out=True)
    change(desk, placed if reach_share is None else replace(placed, reach_share=reach_share))


def note(desk: Desk, entry: Mishap, words: str) -> None:
    """What was used instead, and how much."""
    words = " ".join(words.split())[:200]
    if not words:
        raise DribbetError("Say which product was used instead, and how much: house paint B, 20 g.")
    change(desk, replace(entry, note=words))


def take_back(desk: Desk) -> str:
    """Take back the last act of the whole pour: a weight, a step or a mishap; returns the panel it was of."""
    run = desk.need_run()
    pours = (PanelWeight.BARE, PanelWeight.POURED)
    acts: list[StepMark | PanelWeighing | Mishap | Levelled] = [
        *run.steps,
        *(w for w in run.panel_weighings if w.kind in pours),
        *run.mishaps,
        *run.levelled,
    ]
    if not acts:
        raise DribbetError("There is nothing to take back.")
    last = max(acts, key=order)  # of the whole pour: it may have been the weight that finished the panel before
    desk.notebook.replace(replace(last, taken_back=True))
    desk.changed()
    return last.panel_id


def pour_from_elsewhere(desk: Desk, panel: Panel) -> None:
    """Pour a panel although its cups were not mixed here; said once, and kept beside the verdict.

    Raises
    ------
    DribbetError
        If its cups were mixed: then there is nothing to go against.
    """
    run = desk.need_run()
    hold = pots.held_back(desk, run, panel)
    if hold is None or hold.fault is not pots.PotFault.UNMIXED:
        raise DribbetError(f"The cups of {panel.code} were mixed here. Pour it from them.")
    said = Insisted(against=Advice.UNMIXED, of=panel.code, at=desk.now())
    desk.notebook.replace(replace(run.series, insisted=(*run.series.insisted, said)))
    desk.changed()


def _mark(panel: Panel, plan: pouring.Planned, place_: int, how: How, at: datetime) -> StepMark:
    return StepMark(id=new_id(), panel_id=panel.id, step=plan.step, planned_s=plan.seconds, at=at, place=place_, how=how)


def _lock_prediction(desk: Desk, run: Run, now: datetime) -> None:
    series: Series = run.series
    prediction: Prediction | None = series.prediction
    if prediction is not None and prediction.locked_at is None:
        prediction = replace(prediction, locked_at=now)
    state = SeriesState.RUNNING if series.state is SeriesState.PLANNED else series.state
    if (prediction, state) != (series.prediction, series.state):
        desk.notebook.replace(replace(series, prediction=prediction, state=state))
