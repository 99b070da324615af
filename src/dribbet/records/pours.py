"""A pour as it happened: steps, weights of the panel, mishaps."""

from __future__ import annotations

import base64
from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING, Final

from dribbet.records.doing import Figure, Step  # noqa: TC001 - the notebook builds records by their hints
from dribbet.records.errors import RecordError
from dribbet.records.order import Happened
from dribbet.records.require import (
    MOST_KG,
    MOST_SECONDS,
    require_between,
    require_not_negative,
    require_share,
    require_text,
)

if TYPE_CHECKING:
    from datetime import datetime


class How(StrEnum):
    """How a step came to stand in the record of a pour."""

    DONE = "done"
    SKIPPED = "skipped"
    ADDED = "added"
    """Done beside the plan: a second heat, another tilt."""


@dataclass(frozen=True, slots=True, kw_only=True)
class StepMark(Happened):
    """The moment a step of a pour began."""

    id: str
    panel_id: str
    step: Step
    planned_s: float
    at: datetime
    place: int = -1
    """Which step of the plan it is, from 0; -1 where it is none of it, or where older records do not say."""
    how: How = How.DONE
    figures: tuple[Figure, ...] = ()
    """What was done otherwise than planned, or was asked for."""
    taken_back: bool = False

    def __post_init__(self) -> None:
        require_between(self.place, -1, 200, "The place of a step", "Press the step again.")
        require_not_negative(self.planned_s, "The time of a step", "Plan it as zero seconds or more.", MOST_SECONDS)


MOST_STILL_BYTES: Final = 120_000


@dataclass(frozen=True, slots=True, kw_only=True)
class Still(Happened):
    """A small picture of the bench as a step began; a note to look back at, never measured."""

    id: str
    panel_id: str
    step_id: str
    """The step's mark."""
    at: datetime
    jpeg: str
    """JPEG, in base64."""
    taken_back: bool = False

    def __post_init__(self) -> None:
        try:
            data = base64.b64decode(self.jpeg, validate=True)
        except ValueError:
            raise RecordError("The still of a step is no picture. Leave it out.") from None
        if not data.startswith(b"\xff\xd8") or len(data) > MOST_STILL_BYTES:
            raise RecordError("The still of a step is no small JPEG. Leave it out.")


class PanelWeight(StrEnum):
    """When a panel was weighed."""

    BARE = "bare"
    POURED = "poured"
    DRYING = "drying"
    """While it dries: what is lost is water."""
    DRY = "dry"
    RUN_OFF = "run-off"
    """What ran off or stayed in the cup, as it went into the leftover pot."""


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


@dataclass(frozen=True, slots=True, kw_only=True)
class Levelled(Happened):
    """How level a panel lies, in its two directions, before it is poured."""

    id: str
    panel_id: str
    at: datetime
    slope_x: float
    """Rise towards its right, m per m."""
    slope_y: float
    """Rise towards its far side, m per m."""
    taken_back: bool = False

    def __post_init__(self) -> None:
        for slope in (self.slope_x, self.slope_y):
            require_between(slope, -0.2, 0.2, "The slope of a panel", "Enter millimetres in a metre, such as 2, -1.")


class MishapKind(StrEnum):
    """What may go wrong while pouring or drying, one press each."""

    SMUDGED = "smudged"
    OVER_TORCHED = "over-torched"
    RAN_OFF = "ran off a corner"
    DUST = "dust or hair"
    CUP_SLIPPED = "cup slipped"
    SPILL = "spill"
    CRUMB = "crumb"
    INSECT = "insect"
    WATER = "water dropped on"
    RETOUCHED = "retouched"
    SUBSTITUTED = "another product used"
    GLOBS = "globs on top"
    RUNS_FAST = "runs fast"
    STAYS_PUT = "stays put"
    SINKS = "sinks at once"
    SPLITS = "splits"

    @property
    def is_sign(self) -> bool:
        """Whether it is a sign of too thick or too thin, not damage: the panel counts in full."""
        return self in SIGNS

    @property
    def has_place(self) -> bool:
        """Whether it lies somewhere on the panel; what was put in its cup does not."""
        return self not in (*SIGNS, MishapKind.SUBSTITUTED)


SIGNS: Final = (MishapKind.GLOBS, MishapKind.RUNS_FAST, MishapKind.STAYS_PUT, MishapKind.SINKS, MishapKind.SPLITS)
MISHAPS: Final = tuple(k for k in MishapKind if k not in SIGNS)
ZONE_SHARE: Final = 0.10  # of the panel's width: how far round its place a mishap is taken to reach, until it is drawn otherwise


@dataclass(frozen=True, slots=True, kw_only=True)
class Mishap(Happened):
    """A mishap, and where on the panel (fractions of width and height) once it was pointed at."""

    id: str
    panel_id: str
    kind: MishapKind
    at: datetime
    x_share: float | None = None
    y_share: float | None = None
    reach_share: float = ZONE_SHARE
    """Radius of its zone, as a share of the panel's width."""
    zone_out: bool = False
    """Whether its zone is left out of every reading."""
    note: str = ""
    """What was used instead, and how much."""
    taken_back: bool = False

    def __post_init__(self) -> None:
        for share in (self.x_share, self.y_share):
            if share is not None:
                require_share(share, f"The place of {self.kind}")
        require_between(self.reach_share, 0.005, 1.0, f"The reach of {self.kind}", "Draw a zone on the panel.")
        require_text(self.note, "The note to a mishap", 200)
        if self.zone_out and self.x_share is None:
            raise RecordError(f"Where is it? Touch the panel's outline where {self.kind} is, then leave that zone out.")
