"""What a test may change, and the settings that it is given."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from dribbet.records.errors import RecordError
from dribbet.records.require import require_text
from dribbet.records.wording import first_up

MOST_FACTORS = 5
MOST_LEVELS = 8
MOST_LEVEL = 1e7  # in SI: 14 days of rest are 1.2 million seconds


class Factor(StrEnum):
    """What a test may change; what each means, its unit and its reach stand in `lab.plan.factors`."""

    PAINT = "paint"
    OPACITY = "opacity"
    MEDIUM = "medium"
    RATIO = "ratio"
    WATER_SHARE = "water share"
    THIRD_LIQUID = "third liquid"
    GRADE = "consistency"
    WATER_SOURCE = "source of the water"
    SILICONE = "silicone"
    SILICONE_COLOUR = "colour with silicone"
    SILICONE_KIND = "kind of silicone"
    ALCOHOL = "alcohol"
    ALCOHOL_STRENGTH = "strength of alcohol"
    ANTI_CRAZE = "anti-craze additive"
    SHIMMER = "shimmer medium"
    FINISH = "finish of the paint"
    BASE = "base"
    BASE_SHEEN = "sheen of the base"
    BASE_DEPTH = "thickness of the base"
    BASE_WATER = "water in the base"
    BASE_PAINT = "base product"
    BASE_CRAZE = "additive in the base"
    ACTIVATOR = "activator"
    ACTIVATOR_MASS = "amount of activator"
    ACTIVATOR_PLACE = "place of the activator"
    SILICONE_STIR = "how the silicone is stirred in"
    TECHNIQUE = "technique"
    ORDER = "order of layers"
    LAYERS = "number of layers"
    POURED = "paint poured"
    FILM_LEFT = "film left"
    HEAT = "heat"
    HEAT_AFTER = "moment of heat"
    HEAT_DISTANCE = "distance of the flame"
    SECOND_HEAT = "second heat"
    DWELL = "rest under the cup"
    POUR_HEIGHT = "height of the pour"
    BLOW_TOOL = "way of blowing"
    BLOW_DISTANCE = "distance of the blow"
    SPIN_TURNS = "turns of the spin"
    GROW = "wait before the stretch"
    TILT_TIME = "time of tilting"
    TILT_WAY = "way of tilting"
    HEAT_ZONE = "where it is heated"
    LIFT_HEIGHT = "height of the lift"
    LIFT_WAY = "which cup is lifted first"
    POUR_PLACE = "where it is poured"
    RING_HEIGHT = "height of the rings"
    RING_WIDTH = "width of the rings"
    PULL_WAY = "way of the pull"
    SWIPE_TOOL = "tool of the swipe"
    SWIPE_WAY = "way of the swipe"
    SWIPE_PASSES = "passes of the swipe"
    BLOW_WAY = "direction of the blow"
    SPIN_SPEED = "speed of the spin"
    PRESS_TOOL = "what is pressed on"
    REST = "rest of the mix"
    AFTER = "treatment when dry"
    PANEL_SIZE = "panel size"
    ADDED = "something of my own in the cup"
    OWN = "something of my own"


class Technique(StrEnum):
    """How the paint is put down."""

    FLIP_CUP = "flip cup"
    OPEN_CUP = "open cup"
    STRAIGHT_POUR = "straight pour"
    RING_POUR = "ring pour"
    PULL_BACK = "pull-back"
    SWIPE = "swipe"
    DUTCH_POUR = "Dutch pour"
    BLOOM = "bloom"
    DIRTY_POUR = "dirty pour"
    GRADUATED = "graduated cups"
    TRANSPOSED = "transposed"


@dataclass(frozen=True, slots=True, kw_only=True)
class Level:
    """One setting of the factor: a number in SI, or a name.

    `brings` is what comes with it: the container behind a word (satin, opaque), or a ratio, water, base of its own.
    """

    value: float | None = None
    name: str = ""
    brings: tuple[tuple[Factor, Level], ...] = ()

    def __post_init__(self) -> None:
        if (self.value is None) == (self.name == ""):
            raise RecordError("A level is either a number or a name. Enter one of the two.")
        if self.value is not None and not (math.isfinite(self.value) and (self.value == 0.0 or 1e-9 <= abs(self.value) <= MOST_LEVEL)):
            raise RecordError(f"A level of {self.value:g} is no figure of this craft. Enter one between a millionth and a million.")
        require_text(self.name, "The name of a level", 200)


@dataclass(frozen=True, slots=True, kw_only=True)
class Varied:
    """One thing a test varies, with its levels; `name` where it is the person's own."""

    factor: Factor
    levels: tuple[Level, ...]
    name: str = ""
    of: str = ""
    """Colour that is exchanged, where the factor exchanges one paint for another; the container that is added, where one is."""
    layer: int = 0
    """The only layer in which it is, from below; 0 throughout."""

    def __post_init__(self) -> None:
        if not 1 <= len(self.levels) <= MOST_LEVELS:
            raise RecordError(f"{first_up(self.words)} has {len(self.levels)} levels. Choose 2 to {MOST_LEVELS} levels.")
        if len(set(self.levels)) < len(self.levels):
            raise RecordError(f"Two levels of {self.words} are the same. Choose levels that differ.")

    @property
    def words(self) -> str:
        """What it is called."""
        if self.factor is Factor.ADDED:
            return self.name or self.of or str(self.factor)
        return self.name or (f"{self.factor} for {self.of}" if self.of else str(self.factor))
