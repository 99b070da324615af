"""A question, the recipes that answer it, and the panels they are poured on."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum
from typing import TYPE_CHECKING, Final

from dribbet.records.errors import RecordError
from dribbet.records.factors import MOST_FACTORS, MOST_LEVELS, Factor, Level, Varied
from dribbet.records.plans import BETWEEN, Equal, Insisted, Judging, Layout, Response, Wanted
from dribbet.records.require import MOST_MONEY, require_between, require_not_negative, require_share, require_text
from dribbet.records.verdicts import Closing, Concluded  # noqa: TC001 - the notebook builds records by their hints

if TYPE_CHECKING:
    from datetime import datetime

    from dribbet.records.constants import Constants

PANEL_M: Final = (0.02, 3.0)
"""Shortest and longest side of a panel that can be measured."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Prediction:
    """What the person expects, so that it can fail."""

    response: Response
    more_or_less: Wanted
    size: float = 0.0
    locked_at: datetime | None = None

    def __post_init__(self) -> None:
        require_not_negative(self.size, "The difference you expect", "Enter a figure above zero, or leave it empty.", 1e6)


@dataclass(frozen=True, slots=True, kw_only=True)
class Layer:
    """A colour's share of the cup, in pouring order from below."""

    material: str
    share: float

    def __post_init__(self) -> None:
        require_share(self.share, f"Cup share of {self.material}")


class SeriesState(StrEnum):
    """Where a series stands as a whole."""

    PLANNED = "planned"
    RUNNING = "running"
    DECIDED = "decided"


@dataclass(frozen=True, slots=True, kw_only=True)
class Series:
    """One question and all that is fixed about answering it."""

    id: str
    code: str
    name: str
    varied: tuple[Varied, ...]
    repeats: int
    responses: tuple[tuple[Response, Wanted], ...]
    constants: Constants
    layers: tuple[Layer, ...]
    layout: Layout = field(default_factory=Layout)
    equal: Equal = Equal.RECIPE
    prices: tuple[tuple[str, float], ...] = ()
    """Price per kilogram of each material when equal cost was chosen."""
    protocol: tuple[Judging, ...] = ()
    """When each response is judged; empty for every look."""
    goal_id: str | None = None
    insisted: tuple[Insisted, ...] = ()
    prediction: Prediction | None = None
    seed: int | None = None
    state: SeriesState = SeriesState.PLANNED
    verdict: str = ""
    """What it said, in the words of an older version; newer ones keep facts."""
    concluded: tuple[Concluded, ...] = ()
    """What it said when it was closed."""
    earlier: tuple[Closing, ...] = ()
    """What it said each time it was closed before and opened again."""
    opened_at: datetime | None = None
    """When the recipes of a blind test were opened; None before, and for every other test."""
    created_at: datetime
    note: str = ""

    def __post_init__(self) -> None:
        require_text(self.code, "The code of a series", 12)
        require_text(self.name, "The name of a series", 80)
        for name, price in self.prices:
            require_not_negative(price, f"Price of {name}", "Enter what a kilogram costs, or 0.", MOST_MONEY)
        if not 1 <= len(self.varied) <= MOST_FACTORS:
            raise RecordError(f"The test varies {len(self.varied)} things. Choose one to {MOST_FACTORS}.")
        known = [v.words for v in self.varied]
        if len(set(known)) < len(known):
            raise RecordError("The test varies the same thing twice. Choose another.")
        if not 1 <= self.repeats <= 12:
            raise RecordError(f"{self.repeats} repeats were asked. Choose 1 to 12 repeats of each recipe.")
        if not self.responses:
            raise RecordError("Nothing is measured. Choose at least one response.")
        for c in self.concluded:
            if not 0 <= c.which < len(self.varied) or not all(0 <= v < len(self.varied[c.which].levels) for v in (c.first, c.second)):
                raise RecordError(f"{self.code} was closed with levels that it does not vary. Close it again on Decide.")

    @property
    def factor(self) -> Factor:
        """What is varied first."""
        return self.varied[0].factor

    @property
    def levels(self) -> tuple[Level, ...]:
        """Levels of what is varied first."""
        return self.varied[0].levels

    def varies(self, factor: Factor) -> bool:
        """Whether the test varies this."""
        return any(v.factor is factor for v in self.varied)


@dataclass(frozen=True, slots=True, kw_only=True)
class Panel:
    """One poured piece: series K3, recipe b, repeat 2 is K3-b2.

    Pieces poured side by side share a `sheet`; `region` is then the piece's part of it (left, top, right, bottom as
    shares of its width and height).
    """

    id: str
    series_id: str
    code: str
    recipe: str
    repeat: int
    place: int
    settings: tuple[int, ...]
    """Level number of each thing varied; `BETWEEN` for halfway."""
    block: int = 1
    slot: int = 0
    """Place on the drying rack, from 1; 0 where none was drawn."""
    sheet: int = 0
    region: tuple[float, ...] = ()
    spoiled: str = ""
    """Why it is left out of every verdict; empty where it counts."""
    width_m: float = 0.0
    height_m: float = 0.0
    """Of the whole panel, as a person measured it; 0: as planned."""

    def __post_init__(self) -> None:
        require_text(self.code, "The code of a panel", 20)
        require_text(self.spoiled, "The reason", 200)
        if not self.recipe.isalpha() or len(self.recipe) > 2:
            raise RecordError(f"{self.code} is of the recipe {self.recipe[:12]!r}. Recipes are letters.")
        if not self.settings or any(not BETWEEN <= s < MOST_LEVELS for s in self.settings):
            raise RecordError(f"{self.code} has no settings that can be. Draw lots again on Ask.")
        for value, what in ((self.repeat, "repeat"), (self.place, "place"), (self.block, "block"), (self.slot, "slot"), (self.sheet, "sheet")):
            require_between(value, 0, 100_000, f"The {what} of {self.code}", "Draw lots again on Ask.")
        if self.region and len(self.region) != 4:
            raise RecordError(f"The region of {self.code} has {len(self.region)} sides. It has four: left, top, right, bottom.")
        for share in self.region:
            require_share(share, f"The region of {self.code}")
        if self.width_m or self.height_m:
            for metres, side in ((self.width_m, "width"), (self.height_m, "height")):
                require_between(metres, *PANEL_M, f"The {side} of {self.code}", "Measure the panel again, in millimetres.")

    @property
    def level(self) -> int:
        """Level number of what is varied first."""
        return self.settings[0]
