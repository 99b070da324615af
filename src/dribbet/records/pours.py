"""A pour as it happened: steps, weights of the panel, mishaps."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING, Final

from dribbet.records.errors import RecordError
from dribbet.records.order import Happened
from dribbet.records.require import (
    MOST_KG,
    MOST_SECONDS,
    require_not_negative,
    require_share,
)

if TYPE_CHECKING:
    from datetime import datetime


class Step(StrEnum):
    """The steps of a pour."""

    BASE = "base"
    STAND = "stand"
    FILL = "fill"
    REST = "rest"
    LIFT = "lift"
    POUR = "pour"
    RING = "ring"
    LAY = "lay"
    PULL = "pull"
    SWIPE = "swipe"
    BLOW = "blow"
    ACTIVATE = "activate"
    WAIT = "wait"
    TORCH = "torch"
    SPIN = "spin"
    TILT = "tilt"
    WEIGH = "weigh"


@dataclass(frozen=True, slots=True, kw_only=True)
class StepMark(Happened):
    """The moment a step of a pour began."""

    id: str
    panel_id: str
    step: Step
    planned_s: float
    at: datetime
    taken_back: bool = False

    def __post_init__(self) -> None:
        require_not_negative(self.planned_s, "The time of a step", "Plan it as zero seconds or more.", MOST_SECONDS)


class PanelWeight(StrEnum):
    """When a panel was weighed."""

    BARE = "bare"
    POURED = "poured"
    DRY = "dry"


@dataclass(frozen=True, slots=True, kw_only=True)
class PanelWeighing(Happened):
    """A panel on the scale."""

    id: str
    panel_id: str
    kind: PanelWeight
    mass_kg: float
    at: datetime
    taken_back: bool = False

    def __post_init__(self) -> None:
        if not 0.0 < self.mass_kg <= MOST_KG:
            raise RecordError(f"The panel weighs {self.mass_kg * 1000:g} g. Put it on the scale, or type its weight.")


class MishapKind(StrEnum):
    """What may go wrong while pouring or drying, one press each."""

    SMUDGED = "smudged"
    OVER_TORCHED = "over-torched"
    RAN_OFF = "ran off a corner"
    DUST = "dust or hair"
    CUP_SLIPPED = "cup slipped"
    GLOBS = "globs on top"
    RUNS_FAST = "runs fast"
    STAYS_PUT = "stays put"
    SINKS = "sinks at once"
    SPLITS = "splits"

    @property
    def is_sign(self) -> bool:
        """Whether it is a sign of too thick or too thin, not damage: the panel counts in full."""
        return self in SIGNS


SIGNS: Final = (MishapKind.GLOBS, MishapKind.RUNS_FAST, MishapKind.STAYS_PUT, MishapKind.SINKS, MishapKind.SPLITS)
MISHAPS: Final = tuple(k for k in MishapKind if k not in SIGNS)


@dataclass(frozen=True, slots=True, kw_only=True)
class Mishap(Happened):
    """A mishap, and where on the panel (fractions of width and height) once it was pointed at."""

    id: str
    panel_id: str
    kind: MishapKind
    at: datetime
    x_share: float | None = None
    y_share: float | None = None
    taken_back: bool = False

    def __post_init__(self) -> None:
        for share in (self.x_share, self.y_share):
            if share is not None:
                require_share(share, f"The place of {self.kind}")
