"""What happens at the bench, as it happened: weighings, checks, pours, looks."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING

from dribbet.records.checks import require_not_negative
from dribbet.records.errors import RecordError

if TYPE_CHECKING:
    from datetime import datetime


@dataclass(frozen=True, slots=True, kw_only=True)
class Mix:
    """One colour for one or more recipes; the plan for a cup that is weighed in."""

    id: str
    series_id: str
    colour: str
    recipes: str
    place: int
    plan: tuple[tuple[str, float], ...]
    """Ingredient and planned kilograms, in the order of mixing."""
    block: int = 0
    """Block it is mixed for; 0 where one batch serves all."""
    drops: int = 0
    drop_material: str = ""
    covered_at: datetime | None = None
    kept_over: bool = False
    done: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Weighing:
    """One addition to a cup, as the scale or the person gave it."""

    id: str
    mix_id: str
    ingredient: str
    mass_kg: float
    at: datetime
    source: str = "typed"
    taken_back: bool = False

    def __post_init__(self) -> None:
        require_not_negative(self.mass_kg, f"Weight of {self.ingredient}", "A weight added to a cup is zero or more.")


class CheckKind(StrEnum):
    """How consistency was read."""

    MOUND = "mound"
    DRIP = "drip"


@dataclass(frozen=True, slots=True, kw_only=True)
class Check:
    """A consistency reading of one mix: seconds a mound holds, or metres a drip ran."""

    id: str
    mix_id: str
    kind: CheckKind
    value: float
    at: datetime
    source: str = "typed"
    taken_back: bool = False

    def __post_init__(self) -> None:
        require_not_negative(self.value, "The reading", "Read it again: it is zero or more.")


class Step(StrEnum):
    """The steps of a pour."""

    FILL = "fill"
    REST = "rest"
    LIFT = "lift"
    TORCH = "torch"
    TILT = "tilt"
    WEIGH = "weigh"


@dataclass(frozen=True, slots=True, kw_only=True)
class StepMark:
    """The moment a step of a pour began."""

    id: str
    panel_id: str
    step: Step
    planned_s: float
    at: datetime
    taken_back: bool = False


class PanelWeight(StrEnum):
    """When a panel was weighed."""

    BARE = "bare"
    POURED = "poured"
    DRY = "dry"


@dataclass(frozen=True, slots=True, kw_only=True)
class PanelWeighing:
    """A panel on the scale."""

    id: str
    panel_id: str
    kind: PanelWeight
    mass_kg: float
    at: datetime
    taken_back: bool = False

    def __post_init__(self) -> None:
        if not self.mass_kg > 0.0:
            raise RecordError(f"The panel weighs {self.mass_kg * 1000:g} g. Put it on the scale, or type its weight.")


class MishapKind(StrEnum):
    """What may go wrong while pouring or drying, one press each."""

    SMUDGED = "smudged"
    OVER_TORCHED = "over-torched"
    RAN_OFF = "ran off a corner"
    DUST = "dust or hair"
    CUP_SLIPPED = "cup slipped"


@dataclass(frozen=True, slots=True, kw_only=True)
class Mishap:
    """A mishap, and where on the panel (fractions of width and height) once it was pointed at."""

    id: str
    panel_id: str
    kind: MishapKind
    at: datetime
    x_share: float | None = None
    y_share: float | None = None
    taken_back: bool = False


class Feel(StrEnum):
    """How a corner feels."""

    MARKS = "it marks"
    TACKY = "tacky"
    FIRM = "firm"
    HARD = "hard"


@dataclass(frozen=True, slots=True, kw_only=True)
class Look:
    """A drying check-in."""

    id: str
    panel_id: str
    due: str
    at: datetime
    feel: Feel | None = None
    cracked: bool | None = None
    taken_back: bool = False
