"""A question, the recipes that answer it, and the panels they are poured on."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING

from dribbet.records.checks import require_not_negative, require_positive, require_share
from dribbet.records.errors import RecordError

if TYPE_CHECKING:
    from datetime import datetime


class Factor(StrEnum):
    """What a test may change."""

    MEDIUM = "medium"
    RATIO = "ratio"
    WATER_SHARE = "water share"
    SILICONE = "silicone"
    ALCOHOL = "alcohol"
    FILM_LEFT = "film left"
    TECHNIQUE = "technique"


class Technique(StrEnum):
    """How the paint is put down."""

    FLIP_CUP = "flip cup"
    OPEN_CUP = "open cup"
    STRAIGHT_POUR = "straight pour"
    RING_POUR = "ring pour"
    SWIPE = "swipe"


class Response(StrEnum):
    """What is read off a dried panel."""

    CRACK_LENGTH = "crack length"
    CELL_COUNT = "cell count"
    CELL_WIDTH = "cell width"
    SPREAD = "spread"
    LACING = "lacing"
    SHIMMER = "shimmer"
    VIVIDNESS = "vividness"


class Wanted(StrEnum):
    """Which way a response is liked."""

    MORE = "more"
    LESS = "less"


@dataclass(frozen=True, slots=True, kw_only=True)
class Level:
    """One setting of the factor: a number in SI, or a name."""

    value: float | None = None
    name: str = ""

    def __post_init__(self) -> None:
        if (self.value is None) == (self.name == ""):
            raise RecordError("A level is either a number or a name. Enter one of the two.")


@dataclass(frozen=True, slots=True, kw_only=True)
class Prediction:
    """What the person expects, so that it can fail."""

    response: Response
    more_or_less: Wanted
    size: float = 0.0
    locked_at: datetime | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Constants:
    """What is held, as numbers."""

    panel_width_m: float = 0.2
    panel_height_m: float = 0.15
    support: str = "birch ply"
    poured_kg: float = 0.068
    technique: Technique = Technique.FLIP_CUP
    medium: str = "conditioner"
    medium_parts: float = 2.0
    water_share: float = 0.16
    alcohol_share: float = 0.0
    silicone_drops_per_100g: float = 0.0
    silicone_colours: tuple[str, ...] = ()
    film_m: float = 1.7e-3
    dwell_s: float = 60.0
    torch_passes: int = 2
    tilt_s: float = 90.0
    room_c: float = 21.0
    room_rh: float = 0.5
    air_m_s: float = 0.1

    def __post_init__(self) -> None:
        require_positive(self.panel_width_m, "Panel width", "Enter the width of the panel in millimetres, such as 200.")
        require_positive(self.panel_height_m, "Panel height", "Enter the height of the panel in millimetres, such as 150.")
        require_positive(self.poured_kg, "Paint per panel", "Enter the grams poured on one panel.")
        require_positive(self.film_m, "Film", "Enter the wet film that should stay, in millimetres.")
        require_not_negative(self.medium_parts, "Medium", "Enter the parts of medium to one part of paint.")
        require_share(self.water_share, "Water share")
        require_share(self.alcohol_share, "Alcohol share")
        if self.water_share + self.alcohol_share >= 1.0:
            raise RecordError("Water and alcohol together leave no room for paint. Lower one of them.")
        require_not_negative(self.silicone_drops_per_100g, "Silicone", "Enter the drops for 100 g of mix, or 0.")


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
    factor: Factor
    levels: tuple[Level, ...]
    repeats: int
    responses: tuple[tuple[Response, Wanted], ...]
    constants: Constants
    layers: tuple[Layer, ...]
    prediction: Prediction | None = None
    crossed: Factor | None = None
    crossed_levels: tuple[Level, ...] = ()
    seed: int | None = None
    state: SeriesState = SeriesState.PLANNED
    verdict: str = ""
    created_at: datetime
    note: str = ""

    def __post_init__(self) -> None:
        if not 1 <= len(self.levels) <= 8:
            raise RecordError(f"The factor has {len(self.levels)} levels. Choose 2 to 4 levels.")
        if not 1 <= self.repeats <= 12:
            raise RecordError(f"{self.repeats} repeats were asked. Choose 1 to 6 repeats of each recipe.")


@dataclass(frozen=True, slots=True, kw_only=True)
class Panel:
    """One poured piece: series K3, recipe b, repeat 2 is K3-b2."""

    id: str
    series_id: str
    code: str
    recipe: str
    repeat: int
    place: int
    level: int
    crossed_level: int = 0
    spoiled: str = ""
