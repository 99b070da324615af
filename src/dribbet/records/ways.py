"""Ways to pour, as data: the steps of each technique in their order, and which figure of what is held each takes its time from.

No page and no presenter knows a technique by name: a step is there because it stands here, and because what it needs is held.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Final

from dribbet.records.doing import Does, Figure, Step
from dribbet.records.errors import RecordError
from dribbet.records.factors import Technique
from dribbet.records.require import require_between, require_text

if TYPE_CHECKING:
    from datetime import datetime

MOST_STEPS: Final = 16


@dataclass(frozen=True, slots=True, kw_only=True)
class WayStep:
    """One step of a way to pour."""

    step: Step
    seconds: float = 0.0
    """What it takes where nothing else says so; starting figures of the craft, in s."""
    held: str = ""
    """Constant that gives its time, or how often it is done."""
    each_s: float = 1.0
    """Seconds for each unit of that constant: 1 for a time, 3 for a pass of the flame."""
    needs: str = ""
    """Constant without which there is no such step (0, or one of `NONE`)."""
    heat: bool = False
    """Whether it belongs to heating, which alcohol in the mix bars."""
    figures: tuple[Figure, ...] = ()
    """What else of it is planned; starting figures of the craft where nobody set their own."""
    asked: tuple[Does, ...] = ()
    """Which of them are asked for when it was done."""

    def __post_init__(self) -> None:
        require_between(self.seconds, 0.0, 86_400.0, f"The time of {self.step}", "Enter seconds, up to a day.")
        if len({f.does for f in self.figures}) < len(self.figures):
            raise RecordError(f"A figure of {self.step} is planned twice. Keep one of them.")


@dataclass(frozen=True, slots=True, kw_only=True)
class Way:
    """A person's own way to pour: copied from one that ships, then changed. Changing it again makes another; what a test was planned with stays."""

    id: str
    name: str
    of: Technique
    """Which shipped way it was copied from; what is usual of that one (consistency, film) holds until own figures are there."""
    steps: tuple[WayStep, ...]
    made_at: datetime
    replaced: bool = False
    """Whether a later one of the same name stands in its place."""

    def __post_init__(self) -> None:
        require_text(self.name, "The name of a way to pour", 40)
        if not self.name.strip() or self.name in tuple(Technique):
            raise RecordError("A way of your own needs a name of its own, such as slow flip.")
        if not self.steps or self.steps[-1].step is not Step.WEIGH:
            raise RecordError(f"{self.name} does not end with the weighing. Every way ends by weighing the panel, or the film is not known.")
        if len(self.steps) > MOST_STEPS:
            raise RecordError(f"{self.name} has {len(self.steps)} steps. At most {MOST_STEPS} can be seen at the bench.")


NONE: Final = ("", "none", "no base")
"""Words by which a constant says that there is nothing of it."""


def _n(does: Does, value: float) -> Figure:
    return Figure(does=does, value=value)


def _w(does: Does, word: str) -> Figure:
    return Figure(does=does, word=word)


BASE: Final = WayStep(step=Step.BASE, seconds=60.0, needs="base_plan", asked=(Does.GRAMS,))
FILL: Final = WayStep(step=Step.FILL, seconds=40.0)
REST: Final = WayStep(step=Step.REST, held="dwell_s", needs="dwell_s")
ACTIVATE: Final = WayStep(step=Step.ACTIVATE, seconds=10.0, needs="activator_kg", figures=(_w(Does.ZONE, "middle"),), asked=(Does.GRAMS,))
HEAT: Final = (
    WayStep(step=Step.WAIT, held="heat_after_s", needs="torch_passes", heat=True),
    WayStep(
        step=Step.TORCH, held="torch_passes", each_s=3.0, needs="torch_passes", heat=True,
        figures=(_n(Does.DISTANCE, 0.15), _w(Does.ZONE, "whole face")), asked=(Does.PASSES,),
    ),
)  # fmt: skip
"""The moment of the first heat counts from when the paint lies on the panel."""
LIFT: Final = WayStep(step=Step.LIFT, seconds=20.0, figures=(_n(Does.HEIGHT, 0.05),))
POUR: Final = WayStep(step=Step.POUR, seconds=20.0, figures=(_n(Does.HEIGHT, 0.05), _w(Does.ZONE, "middle")))
BLOW: Final = WayStep(
    step=Step.BLOW,
    seconds=30.0,
    figures=(_w(Does.TOOL, "cool hair dryer"), _n(Does.DISTANCE, 0.15), _w(Does.DIRECTION, "outwards")),
    asked=(Does.SECONDS,),
)
SPIN: Final = WayStep(step=Step.SPIN, seconds=15.0, figures=(_n(Does.SPEED, 1.0),), asked=(Does.TURNS,))
TILT: Final = WayStep(step=Step.TILT, held="tilt_s", needs="tilt_s", figures=(_w(Does.DIRECTION, "corner by corner"),))
WEIGH: Final = WayStep(step=Step.WEIGH, seconds=20.0)
GROW: Final = (
    WayStep(step=Step.GROW, held="grow_s", needs="grow_s"),
    WayStep(
        step=Step.TORCH, held="second_passes", each_s=3.0, needs="second_passes", heat=True, figures=(_n(Does.DISTANCE, 0.15),), asked=(Does.PASSES,)
    ),
)
"""Cells grow, and are heated once more where that is held, before anything is stretched."""
END: Final = (TILT, WEIGH)

WAYS: Final[dict[Technique, tuple[WayStep, ...]]] = {
    Technique.FLIP_CUP: (BASE, FILL, REST, LIFT, ACTIVATE, *HEAT, *GROW, *END),
    Technique.OPEN_CUP: (BASE, WayStep(step=Step.STAND, seconds=10.0), FILL, REST, LIFT, ACTIVATE, *HEAT, *GROW, *END),
    Technique.STRAIGHT_POUR: (BASE, FILL, POUR, ACTIVATE, *HEAT, *GROW, *END),
    Technique.RING_POUR: (
        BASE, FILL, WayStep(step=Step.RING, seconds=40.0, figures=(_n(Does.HEIGHT, 0.04), _n(Does.DISTANCE, 0.02))), ACTIVATE, *HEAT, *GROW, *END,
    ),
    Technique.PULL_BACK: (
        BASE, FILL, REST, WayStep(step=Step.PULL, seconds=20.0, figures=(_w(Does.DIRECTION, "along"),)), ACTIVATE, *HEAT, *GROW, *END,
    ),
    Technique.SWIPE: (
        BASE, WayStep(step=Step.LAY, seconds=40.0), ACTIVATE,
        WayStep(step=Step.SWIPE, seconds=15.0, figures=(_w(Does.TOOL, "wet card"), _w(Does.DIRECTION, "across"), _n(Does.PASSES, 1.0)),
                asked=(Does.PASSES,)),
        *HEAT, *GROW, *END,
    ),
    Technique.DUTCH_POUR: (BASE, FILL, POUR, BLOW, ACTIVATE, *HEAT, *GROW, *END),
    Technique.BLOOM: (BASE, WayStep(step=Step.LAY, seconds=40.0), ACTIVATE, replace(BLOW, seconds=15.0), *HEAT, *GROW, SPIN, *END),
    Technique.DIRTY_POUR: (BASE, FILL, replace(POUR, figures=(_n(Does.HEIGHT, 0.10), _w(Does.ZONE, "middle"))), ACTIVATE, *HEAT, *GROW, *END),
    Technique.GRADUATED: (
        BASE, FILL, REST, WayStep(step=Step.LIFT, seconds=40.0, figures=(_n(Does.HEIGHT, 0.05), _w(Does.DIRECTION, "smallest first"))), ACTIVATE,
        *HEAT, *GROW, *END,
    ),
    Technique.TRANSPOSED: (
        BASE, FILL, POUR, WayStep(step=Step.PRESS, seconds=20.0, figures=(_w(Does.TOOL, "second panel"),)), ACTIVATE, *HEAT, *GROW, *END,
    ),
}  # fmt: skip
