"""Steps of one pour: those of its way to pour that what is held of its recipe asks for, and how far it has come."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Final

from dribbet.records import WAYS, Does, Figure, How, Step, order
from dribbet.records.ways import NONE

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.records import Constants, StepMark, WayStep

AEROSOLS: Final = ("aerosol", "duster", "spray")
"""Words in a tool's name by which it is one: its gas burns, and nothing is heated after it."""
AS_GOOD: Final = 0.02  # shares nearer than this are one judgement
PASS_S: Final = 3.0  # one pass of a flame over a panel, with the way back
AGAIN: Final = (Step.TORCH, Step.TILT, Step.BLOW, Step.SPIN, Step.SWIPE, Step.ACTIVATE, Step.WAIT, Step.GROW)
"""Steps that are done once more where the eye asks for it."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Planned:
    """One step as this recipe has it."""

    step: Step
    seconds: float
    figures: tuple[Figure, ...] = ()
    asked: tuple[Does, ...] = ()

    def figure(self, does: Does) -> Figure | None:
        """One of its figures; None where nothing is planned of it."""
        return next((f for f in self.figures if f.does is does), None)


@dataclass(frozen=True, slots=True, kw_only=True)
class PourStage:
    """One step of a pour that runs: planned, done or both."""

    plan: Planned
    place: int
    """Which of the plan it is; -1 where it was added."""
    mark: StepMark | None = None

    @property
    def skipped(self) -> bool:
        """Whether it was passed over."""
        return self.mark is not None and self.mark.how is How.SKIPPED


@dataclass(frozen=True, slots=True, kw_only=True)
class Progress:
    """A pour, step by step: what was planned and what happened, in the order in which it did."""

    stages: tuple[PourStage, ...]

    @property
    def current(self) -> PourStage | None:
        """What is being done: the last step begun."""
        done = [s for s in self.stages if s.mark is not None and not s.skipped]
        return max(done, key=lambda s: order(s.mark), default=None)

    @property
    def after(self) -> PourStage | None:
        """What follows: the first step of the plan behind all that was begun or passed over."""
        last = max((s.place for s in self.stages if s.mark is not None), default=-1)
        return next((s for s in self.stages if s.mark is None and s.place > last), None)

    @property
    def begun(self) -> bool:
        """Whether anything was done."""
        return any(s.mark is not None for s in self.stages)


def planned(held: Constants, *, alcohol_share: float = 0.0) -> tuple[Planned, ...]:
    """Steps in their order with all their figures.

    A step whose constant is nought or none is left out: no base, no activator, no flame. With alcohol in the mix, or an aerosol in
    hand, nothing is heated.
    What is held of a step (`doing`) stands in place of what its way says.
    """
    own = next((w.steps for w in held.ways if w.name == held.way), None) if held.way else None
    steps = own if own is not None else WAYS[held.technique]
    made = [(w, _one(w, held)) for w in steps if _wanted(w, held)]
    no_flame = bool(alcohol_share) or any(aerosol(one) for _, one in made)
    return tuple(one for w, one in made if not (w.heat and no_flame))


def aerosol(step: Planned) -> bool:
    """Whether a step is done with a can whose gas may burn."""
    tool = step.figure(Does.TOOL)
    return tool is not None and any(word in tool.word.lower() for word in AEROSOLS)


def steps(held: Constants, *, alcohol_share: float = 0.0) -> list[tuple[Step, float]]:
    """Steps in their order, each with its planned seconds.

    >>> from dribbet.records import Constants, Technique
    >>> [(str(s), t) for s, t in steps(Constants(technique=Technique.STRAIGHT_POUR, torch_passes=0))]
    [('fill', 40.0), ('pour', 20.0), ('tilt', 90.0), ('weigh', 20.0)]
    """
    return [(one.step, one.seconds) for one in planned(held, alcohol_share=alcohol_share)]


def progress(plan: Sequence[Planned], marks: Sequence[StepMark]) -> Progress:
    """How far a pour has come; marks of older records, which do not say their place, go to the first step of their kind."""
    places: dict[int, StepMark] = {}
    added: list[StepMark] = []
    for mark in sorted((m for m in marks if not m.taken_back), key=order):
        place = mark.place
        if place < 0 and mark.how is not How.ADDED:
            place = next((i for i, p in enumerate(plan) if p.step is mark.step and i not in places), -1)
        if 0 <= place < len(plan) and plan[place].step is mark.step:
            places[place] = mark
        else:
            added.append(mark)
    stages = [PourStage(plan=p, place=i, mark=places.get(i)) for i, p in enumerate(plan)]
    for mark in added:  # beside the plan: shown where it happened
        at = max((i + 1 for i, s in enumerate(stages) if s.mark is not None and order(s.mark) < order(mark)), default=0)
        plan_of = Planned(step=mark.step, seconds=mark.planned_s, asked=(Does.GOOD, Does.BEST))
        stages.insert(at, PourStage(plan=plan_of, place=-1, mark=mark))
    if added and stages[-1].plan.step is Step.WEIGH:  # how it came out is worth knowing where more was done than planned
        stages[-1] = replace(stages[-1], plan=replace(stages[-1].plan, asked=(*stages[-1].plan.asked, Does.GOOD)))
    return Progress(stages=tuple(stages))


def again(pour: Progress) -> Step | None:
    """The step that can be done once more now; None where the one in hand is done once only."""
    step = pour.current.plan.step if pour.current else None
    return step if step in AGAIN else None


@dataclass(frozen=True, slots=True, kw_only=True)
class Rescues:
    """How further actions turned out: panels that pleased more at the end than before them, as much, or less."""

    better: int = 0
    same: int = 0
    worse: int = 0

    @property
    def all(self) -> int:
        """Panels of which both is known."""
        return self.better + self.same + self.worse


def rescues(pours: Sequence[Sequence[StepMark]]) -> Rescues:
    """What became of panels to which more was done than planned, by how much of them pleased before the first of it and at the end."""
    made = [0, 0, 0]
    for marks in pours:
        told = [(m, f.value) for m in sorted(marks, key=order) for f in m.figures if f.does is Does.GOOD and f.value is not None]
        before = next((v for m, v in told if m.how is How.ADDED), None)
        after = next((v for m, v in reversed(told) if m.step is Step.WEIGH), None)
        if before is not None and after is not None:
            made[0 if after > before + AS_GOOD else 2 if after < before - AS_GOOD else 1] += 1
    return Rescues(better=made[0], same=made[1], worse=made[2])


def heat_after_s(pour: Progress) -> float | None:
    """Seconds from when the paint lay on the panel to the first flame, as it happened; None without a flame."""
    done = sorted((s.mark for s in pour.stages if s.mark is not None and not s.skipped), key=order)
    first = next((i for i, m in enumerate(done) if m.step is Step.TORCH), None)
    if first is None:
        return None
    before = [m for m in done[:first] if m.step is not Step.WAIT]
    lay = next((m for m in done[:first] if m.step is Step.WAIT), before[-1] if before else done[first])
    return (done[first].at - lay.at).total_seconds()


def _wanted(one: WayStep, held: Constants) -> bool:
    if not one.needs:
        return True
    value = getattr(held, one.needs)
    return value not in NONE if isinstance(value, str) else bool(value)


def _one(way: WayStep, held: Constants) -> Planned:
    seconds = float(getattr(held, way.held)) * way.each_s if way.held else way.seconds
    figures = {f.does: f for f in way.figures}
    if way.step is Step.TORCH:
        figures[Does.PASSES] = Figure(does=Does.PASSES, value=float(getattr(held, way.held or "torch_passes")))
    if way.step is Step.ACTIVATE and held.activator_kg:
        figures[Does.GRAMS] = Figure(does=Does.GRAMS, value=held.activator_kg)
    for doing in held.doing:
        if doing.step is way.step:
            figures[doing.figure.does] = doing.figure
    timed = figures.pop(Does.SECONDS, None)
    if timed is not None and timed.value is not None:
        seconds = timed.value
    turns, speed = figures.get(Does.TURNS), figures.get(Does.SPEED)
    if turns is not None and speed is not None and turns.value and speed.value:
        seconds = turns.value / speed.value
    if way.step is Step.TORCH and (passes := figures[Does.PASSES].value) is not None and timed is None:
        seconds = passes * PASS_S
    return Planned(step=way.step, seconds=seconds, figures=tuple(figures.values()), asked=way.asked)


def told(plan: Planned, figures: Sequence[Figure]) -> tuple[tuple[Figure, Figure | None], ...]:
    """Each figure that was told of a step as it happened, with what was planned of it."""
    return tuple((f, plan.figure(f.does)) for f in figures)


def put_in(figures: tuple[Figure, ...], one: Figure) -> tuple[Figure, ...]:
    """Figures with one of them in place of an earlier one of its kind."""
    return (*(f for f in figures if f.does is not one.does), one)


def without_step(way: tuple[WayStep, ...], at: int) -> tuple[WayStep, ...]:
    """Steps of a way without one of them."""
    return (*way[:at], *way[at + 1 :])


def moved_step(way: tuple[WayStep, ...], at: int, by: int) -> tuple[WayStep, ...]:
    """Steps of a way with one of them earlier or later; the weighing stays the last."""
    to = min(max(at + by, 0), len(way) - 2)
    rest = without_step(way, at)
    return (*rest[:to], way[at], *rest[to:]) if at < len(way) - 1 else way


def set_figure(way: tuple[WayStep, ...], at: int, figure: Figure) -> tuple[WayStep, ...]:
    """Steps of a way with one figure of one step set; a time stands in place of what is held."""
    step = way[at]
    if figure.does is Does.SECONDS and figure.value is not None:
        changed = replace(step, seconds=figure.value, held="")
    else:
        changed = replace(step, figures=put_in(step.figures, figure))
    return (*way[:at], changed, *way[at + 1 :])
