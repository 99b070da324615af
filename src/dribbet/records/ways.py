"""Ways to pour, as data: the steps of each technique in their order, and which figure of what is held each takes its time from.

No page and no presenter knows a technique by name: a step is there because it stands here, and because what it needs is held.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from dribbet.records.factors import Technique
from dribbet.records.pours import Step


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


NONE: Final = ("", "none", "no base")
"""Words by which a constant says that there is nothing of it."""

BASE: Final = WayStep(step=Step.BASE, seconds=60.0, needs="base_plan")
FILL: Final = WayStep(step=Step.FILL, seconds=40.0)
REST: Final = WayStep(step=Step.REST, held="dwell_s", needs="dwell_s")
ACTIVATE: Final = WayStep(step=Step.ACTIVATE, seconds=10.0, needs="activator_kg")
HEAT: Final = (
    WayStep(step=Step.WAIT, held="heat_after_s", needs="torch_passes", heat=True),
    WayStep(step=Step.TORCH, held="torch_passes", each_s=3.0, needs="torch_passes", heat=True),
)
"""The moment of the first heat counts from when the paint lies on the panel."""
TILT: Final = WayStep(step=Step.TILT, held="tilt_s", needs="tilt_s")
END: Final = (TILT, WayStep(step=Step.WEIGH, seconds=20.0))

WAYS: Final[dict[Technique, tuple[WayStep, ...]]] = {
    Technique.FLIP_CUP: (BASE, FILL, REST, WayStep(step=Step.LIFT, seconds=20.0), ACTIVATE, *HEAT, *END),
    Technique.OPEN_CUP: (BASE, WayStep(step=Step.STAND, seconds=10.0), FILL, REST, WayStep(step=Step.LIFT, seconds=20.0), ACTIVATE, *HEAT, *END),
    Technique.STRAIGHT_POUR: (BASE, FILL, WayStep(step=Step.POUR, seconds=20.0), ACTIVATE, *HEAT, *END),
    Technique.RING_POUR: (BASE, FILL, WayStep(step=Step.RING, seconds=40.0), ACTIVATE, *HEAT, *END),
    Technique.PULL_BACK: (BASE, FILL, WayStep(step=Step.POUR, seconds=20.0), WayStep(step=Step.PULL, seconds=20.0), ACTIVATE, *HEAT, *END),
    Technique.SWIPE: (BASE, WayStep(step=Step.LAY, seconds=40.0), ACTIVATE, WayStep(step=Step.SWIPE, seconds=15.0), *HEAT, *END),
    Technique.DUTCH_POUR: (BASE, FILL, WayStep(step=Step.POUR, seconds=20.0), WayStep(step=Step.BLOW, seconds=30.0), ACTIVATE, *HEAT, *END),
    Technique.BLOOM: (
        BASE, WayStep(step=Step.LAY, seconds=40.0), ACTIVATE, WayStep(step=Step.BLOW, seconds=15.0), *HEAT, WayStep(step=Step.SPIN, seconds=15.0),
        *END,
    ),
}  # fmt: skip
