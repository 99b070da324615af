"""How a test is laid out: which recipes, what is equal between them, when they are judged, what is liked."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING, Final

from dribbet.records.errors import RecordError
from dribbet.records.require import require_between, require_not_negative

if TYPE_CHECKING:
    from datetime import datetime

    from dribbet.records.factors import Factor, Level

BETWEEN = -1
"""In a recipe's settings: halfway between the lowest and the highest level."""


class Response(StrEnum):
    """What is read off a dried panel."""

    CRACK_LENGTH = "crack length"
    CRACKED = "any crack"
    FIRST_CRACK = "time to the first crack"
    CELL_COUNT = "cell count"
    CELL_WIDTH = "cell width"
    SPREAD = "spread"
    LACING = "lacing"
    SHIMMER = "shimmer"
    VIVIDNESS = "vividness"
    UNEVENNESS = "unevenness"
    FAULTS = "surface faults"
    SHINE = "shine"


RAKED: Final = (Response.SHIMMER, Response.UNEVENNESS, Response.FAULTS)
"""What wants photographs with the lamp left and right."""


class Wanted(StrEnum):
    """Which way a response is liked."""

    MORE = "more"
    LESS = "less"


class Equal(StrEnum):
    """What is made equal between recipes; the other three are computed and said."""

    RECIPE = "equal recipe"
    FLOW = "equal flow"
    PAINT = "equal paint share"
    COST = "equal cost"
    OWN = "recipe by recipe"


class Design(StrEnum):
    """Which of all possible recipes are poured."""

    EVERY = "every combination"
    FRACTION = "a chosen part of them"
    PAIRED = "side by side on one panel"


class BlockBy(StrEnum):
    """What panels of one block share."""

    DAY = "day"
    BATCH = "batch"


@dataclass(frozen=True, slots=True, kw_only=True)
class Extra:
    """A recipe poured besides the design, to separate two things that move together.

    `settings` are level numbers (`BETWEEN` for halfway); `instead` are levels that replace what would follow from them.
    """

    settings: tuple[int, ...]
    instead: tuple[tuple[Factor, Level], ...] = ()
    why: str = ""
    panels: int = 1

    def __post_init__(self) -> None:
        require_between(self.panels, 1, 12, "The number of added panels", "Add 1 to 12 of one recipe.")


@dataclass(frozen=True, slots=True, kw_only=True)
class Layout:
    """Which recipes are poured, in which blocks, and what shares a panel."""

    design: Design = Design.EVERY
    halvings: int = 1
    """Of a chosen part: 1 for a half, 2 for a quarter."""
    centre_points: int = 0
    blocks: int = 1
    block_by: BlockBy = BlockBy.DAY
    strip_m: float = 0.010
    """Width left out along each border between regions of one panel."""
    blind: bool = False
    """Letters are drawn by lot too, so that a code does not tell the recipe."""
    extras: tuple[Extra, ...] = ()

    def __post_init__(self) -> None:
        require_not_negative(self.strip_m, "Strip along the borders", "Enter its width in millimetres, 0 to 200.", 0.2)
        if not (1 <= self.halvings <= 3 and 0 <= self.centre_points <= 6 and 1 <= self.blocks <= 12):
            raise RecordError("Choose a half, a quarter or an eighth, up to 6 centre panels, and up to 12 blocks.")


@dataclass(frozen=True, slots=True, kw_only=True)
class Judging:
    """When one response is judged; the times are the names of looks."""

    response: Response
    times: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Aim:
    """How much a response counts in a goal, and the range it should lie in (in the unit of `lab.plan.responses`)."""

    response: Response
    weight: float
    low: float | None = None
    high: float | None = None

    def __post_init__(self) -> None:
        require_not_negative(self.weight, f"Weight of {self.response}", "Enter 0 to 10.", 10.0)
        for end in (self.low, self.high):
            if end is not None:
                require_between(end, -1e9, 1e9, f"The range of {self.response}", "Enter figures, or leave an end open.")
        if self.low is not None and self.high is not None and self.low > self.high:
            raise RecordError(f"The range of {self.response} ends before it begins: {self.low:g} to {self.high:g}. Swap the two.")


@dataclass(frozen=True, slots=True, kw_only=True)
class Goal:
    """What good means, apart from what is measured, so that it can be exchanged afterwards."""

    id: str
    name: str
    aims: tuple[Aim, ...]

    def __post_init__(self) -> None:
        if not self.name.strip():
            raise RecordError("A goal needs a name, such as many round cells.")
        if not any(a.weight > 0.0 for a in self.aims):
            raise RecordError("A goal needs at least one response that counts. Give one a weight above 0.")


class Advice(StrEnum):
    """What a person may choose to go against."""

    CONTROL = "no control"
    UNMIXED = "cups that were not mixed"


@dataclass(frozen=True, slots=True, kw_only=True)
class Insisted:
    """An advice the person chose to go against, kept on record."""

    against: Advice
    of: str
    """What it is about: for a control, the addition that every recipe has; for cups, the panel's code."""
    at: datetime
