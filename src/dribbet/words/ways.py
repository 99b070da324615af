"""Ways to pour as lines to read and to type: each step with its figures."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.panel import pouring
from dribbet.records import Does, DribbetError, Figure, Step, WayStep
from dribbet.records.wording import first_up
from dribbet.words.pour import figure_text, said, typed_figure
from dribbet.words.tongue import t
from dribbet.words.units import clock_text

if TYPE_CHECKING:
    from dribbet.records import Technique, Way
    from dribbet.words.units import Units

HELD: Final = {
    "dwell_s": t("as the rest under the cup is held"),
    "heat_after_s": t("as the moment of heat is held"),
    "torch_passes": t("as many passes as are held"),
    "second_passes": t("as many passes as are held"),
    "tilt_s": t("as the time of tilting is held"),
    "grow_s": t("as the wait before the stretch is held"),
}
"""Times that a test holds, so that its plan can vary them."""


def name(of: Technique, step: WayStep) -> str:
    """Name of a step."""
    return said(of, step.step).name


def line(step: WayStep, units: Units) -> str:
    """A step's figures in one line."""
    time = HELD.get(step.held) if step.held else clock_text(step.seconds) + " min" if step.seconds >= 60 else f"{step.seconds:g} s"
    figures = [figure_text(f, units) for f in step.figures]
    asks = [t("asks for {what}", what=str(d)) for d in step.asked]
    return ", ".join([x for x in (time, *figures, *asks) if x])


def ask(step: WayStep, units: Units) -> str:
    """What can be typed for a step."""
    there = [f"{f.does} {_typed(f, units)}" for f in step.figures]
    return ", ".join([f"seconds {step.seconds:g}", *there] if not step.held else there or ["seconds 30"])


def _typed(f: Figure, units: Units) -> str:
    if f.value is None:
        return f.word
    if f.does in (Does.HEIGHT, Does.DISTANCE):
        return f"{f.value * 1e3:g}" if units.length == "mm" else f"{f.value * 1e3 / 25.4:.2g}"
    return units.mass_figure(f.value) if f.does is Does.GRAMS else f"{f.value * (60.0 if f.does is Does.SPEED else 1.0):g}"


def typed(steps: tuple[WayStep, ...], at: int, text: str, units: Units) -> tuple[WayStep, ...]:
    """Steps with the figures of one of them as they were typed: 'distance 120, tool straw'.

    Raises
    ------
    DribbetError
        If a figure is none that a step can have.
    """
    kinds = sorted(Does, key=lambda d: -len(d.value))
    for piece in (p.strip() for p in text.replace(";", ",").split(",") if p.strip()):
        does = next((d for d in kinds if piece.lower().startswith(d.value)), None)
        if does is None:
            raise DribbetError(t("“{piece}” says nothing of a step. Begin with one of {kinds}.", piece=piece[:30], kinds=", ".join(Does)))
        steps = pouring.set_figure(steps, at, typed_figure(does, piece[len(does.value) :].strip(" :="), units))
    return steps


def added(steps: tuple[WayStep, ...], at: int, text: str) -> tuple[WayStep, ...]:
    """Steps with one more after another, by its name."""
    word = text.strip().lower()
    step = next((s for s in Step if word in (s.value, said_name(s).lower())), None)
    if step is None or step is Step.WEIGH:
        known = ", ".join(s.value for s in Step if s is not Step.WEIGH)
        raise DribbetError(t("“{text}” is no step. There are {known}.", text=text[:30], known=known))
    at = min(at, len(steps) - 2)
    return (*steps[: at + 1], WayStep(step=step, seconds=USUAL_S), *steps[at + 1 :])


USUAL_S: Final = 20.0
"""Time of a step that was just added."""


def said_name(step: Step) -> str:
    """Name of a step, whatever the way."""
    from dribbet.words.pour import STEPS

    return STEPS[step].name


def kept_note(way: Way) -> str:
    """What changing a way does not do."""
    return t("{name} was made from {of}. Tests that use it keep it as it was when they were planned.", name=first_up(way.name), of=way.of)
