"""What happens at the bench, as it happened: weighings, checks, pours, looks."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING, Final

from dribbet.records.checks import (
    MOST_KG,
    MOST_LENGTH_M,
    MOST_SECONDS,
    require_between,
    require_hex,
    require_not_negative,
    require_share,
    require_text,
)
from dribbet.records.errors import RecordError
from dribbet.records.order import Happened
from dribbet.records.photos import Stage

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

    def __post_init__(self) -> None:
        require_text(self.colour, "The name of a mix", 80)
        for name, kg in self.plan:
            require_not_negative(kg, f"{name} in {self.colour}", "Plan it as zero grams or more.", MOST_KG)
        if not self.recipes.isalpha():
            raise RecordError(f"{self.colour} is mixed for {self.recipes[:12]!r}. Name its recipes by their letters.")
        require_between(self.drops, 0, 10_000, f"Drops in {self.colour}", "Enter whole drops, 0 to 10 000.")
        require_between(self.block, 0, 12, f"The block of {self.colour}", "Blocks are numbered 1 to 12; 0 is all of them.")


TAKEN_OUT: Final = "taken out"
"""Ingredient of a `Weighing` that stands for well-mixed paint taken out of the cup: every component goes down alike."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Weighing(Happened):
    """One addition to a cup, as the scale or the person gave it."""

    id: str
    mix_id: str
    ingredient: str
    mass_kg: float
    at: datetime
    source: str = "typed"
    taken_back: bool = False

    def __post_init__(self) -> None:
        require_not_negative(self.mass_kg, f"Weight of {self.ingredient}", "A weight added to a cup is zero or more, up to 1000 kg.", MOST_KG)


class CheckKind(StrEnum):
    """How consistency was read."""

    MOUND = "mound"
    DRIP = "drip"
    FLOW_CUP = "flow cup"
    RING = "ring"
    SLUMP = "slump"
    STREAM = "stream"
    KEPT = "kept"


class Stream(StrEnum):
    """What the stream from the stick does, thin to thick; lumps are no thickness."""

    WATER = "drops like water"
    THREAD = "thin even thread"
    MOUND = "thread with a small mound"
    ROPE = "rope that heaps up"
    FOLDS = "folds and ribbons"
    LUMPS = "lumpy thread"


@dataclass(frozen=True, slots=True, kw_only=True)
class Check(Happened):
    """A consistency reading of one mix.

    `value` is seconds for mound and flow cup, metres for a drip's run and a slump's diameter, ring width over drop radius for
    a ring, the place among `Stream` for a stream; 0 for a decision to keep the pot as it is (`note` says why).
    """

    id: str
    mix_id: str
    kind: CheckKind
    value: float
    at: datetime
    source: str = "typed"
    tool: str = ""
    """Which flow cup."""
    seconds: float = 0.0
    """When a drip, ring or slump was read after it was set."""
    celsius: float | None = None
    note: str = ""
    taken_back: bool = False

    def __post_init__(self) -> None:
        most = MOST_LENGTH_M if self.kind in (CheckKind.DRIP, CheckKind.SLUMP) else 86_400.0
        require_not_negative(self.value, "The reading", "Read it again: it is zero or more, and no pour takes a day.", most)
        require_not_negative(self.seconds, "The time of the reading", "Enter the seconds after the drop was set, at most a day.", 86_400.0)
        if self.celsius is not None:
            require_between(self.celsius, -30.0, 90.0, "The temperature", "Enter what the room or the paint has, -30 to 90 °C.")
        if self.kind is CheckKind.STREAM:
            require_between(self.value, 0, len(Stream) - 1, "The look of the stream", "Choose one of those drawn.")


class MarkKind(StrEnum):
    """What else happens to a cup at the bench."""

    WETTED = "powder wetted"
    STIRRED = "stirred"
    STRAINED = "strained"
    RIM = "rim wiped"
    LUMPS = "lumps seen"
    COVERED = "covered"
    UNCOVERED = "uncovered"
    ACCEPTED = "accepted as it is"
    CONTAMINATED = "contaminated"
    STORED = "stored"
    WATER = "water from"


@dataclass(frozen=True, slots=True, kw_only=True)
class MixMark(Happened):
    """A moment in the life of a cup."""

    id: str
    mix_id: str
    kind: MarkKind
    at: datetime
    note: str = ""
    taken_back: bool = False


class BottleKind(StrEnum):
    """What a bottle keeps."""

    MIX = "mix"
    LEFTOVER = "leftover"


@dataclass(frozen=True, slots=True, kw_only=True)
class Bottle:
    """A mix, or a leftover, put by with a label."""

    id: str
    code: str
    name: str
    kind: BottleKind
    contents: tuple[tuple[str, float], ...]
    """Raw components and their mass fractions when it was stored; they sum to one."""
    stored_at: datetime
    stored_kg: float
    """With the bottle, as the scale showed it when it was capped."""
    empty_kg: float = 0.0
    """The bottle alone; 0 where it was not weighed."""
    hex: str = "#9A9A9A"
    silicone: bool = False
    activator: bool = False
    series_id: str | None = None
    mix_id: str | None = None
    grade: float = 0.0
    """Consistency grade at storing; 0 where it was not checked."""
    note: str = ""
    finished: bool = False

    def __post_init__(self) -> None:
        for kg in (self.stored_kg, self.empty_kg, self.stored_kg - self.empty_kg):
            require_not_negative(kg, f"What is in {self.code}", "Weigh the full bottle, and the empty one before it.", MOST_KG)
        for name, share in self.contents:
            require_share(share, f"{name} in {self.code}")
        require_between(self.grade, 0.0, 5.0, f"The grade of {self.code}", "Grades go from 1 to 5; 0 is not checked.")
        require_hex(self.hex, self.code)
        require_text(self.code, "The code of a bottle", 12)
        require_text(self.name, "The name of a bottle", 80)


@dataclass(frozen=True, slots=True, kw_only=True)
class BottleWeighing(Happened):
    """A stored bottle on the scale again, with the water that was given back."""

    id: str
    bottle_id: str
    mass_kg: float
    at: datetime
    water_added_kg: float = 0.0
    taken_out_kg: float = 0.0
    taken_back: bool = False

    def __post_init__(self) -> None:
        require_not_negative(self.mass_kg, "The bottle", "Put it on the scale, or type its weight.", MOST_KG)
        require_not_negative(self.water_added_kg, "Water given back", "Enter the grams, or 0.", MOST_KG)
        require_not_negative(self.taken_out_kg, "What was taken out", "Enter the grams, or 0.", MOST_KG)


class Step(StrEnum):
    """The steps of a pour."""

    FILL = "fill"
    REST = "rest"
    LIFT = "lift"
    TORCH = "torch"
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


class Feel(StrEnum):
    """How a corner feels."""

    MARKS = "it marks"
    TACKY = "tacky"
    FIRM = "firm"
    HARD = "hard"


@dataclass(frozen=True, slots=True, kw_only=True)
class Look(Happened):
    """A drying check-in."""

    id: str
    panel_id: str
    due: str
    at: datetime
    feel: Feel | None = None
    cracked: bool | None = None
    taken_back: bool = False

    def __post_init__(self) -> None:
        if self.due not in tuple(Stage):
            raise RecordError(f"{self.due[:20]!r} is no look. There are {', '.join(Stage)}.")
