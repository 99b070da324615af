"""What stands on the shelf: paints, mediums, thinners, additives."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING, Final

from dribbet.records.errors import RecordError
from dribbet.records.order import Happened
from dribbet.records.require import (
    MOST_KG,
    MOST_MONEY,
    MOST_SECONDS,
    require_between,
    require_hex,
    require_not_negative,
    require_positive,
    require_share,
    require_text,
)

if TYPE_CHECKING:
    from datetime import datetime


WATER: Final = "water"
ALCOHOL: Final = "alcohol"
"""Keys under which water and alcohol stand in every notebook, whatever their containers are called."""


NO_HEX: Final = "#9A9A9A"
"""Colour of what nobody has said the colour of."""
WATER_HEX: Final = "#FFFFFF"
"""Of water, where it is drawn as a colour."""


class Kind(StrEnum):
    """What a material is used as."""

    PAINT = "paint"
    MEDIUM = "medium"
    THINNER = "thinner"
    ADDITIVE = "additive"
    BASE = "base"
    SHIMMER = "shimmer"
    HOUSE_MIX = "house mix"


class Opacity(StrEnum):
    """Hiding class, often printed on the container."""

    OPAQUE = "opaque"
    SEMI = "semi-opaque"
    TRANSPARENT = "transparent"


class Hazard(StrEnum):
    """What a material asks care for; the words stand in `words.cautions`."""

    FLAMMABLE = "flammable"
    DUST = "dust"
    SLIPPERY = "slippery"
    FUMES = "fumes"


class Grade(StrEnum):
    """How much pigment a paint is said to carry."""

    UNKNOWN = ""
    CRAFT = "craft"
    STUDENT = "student"
    ARTIST = "artist"
    HOUSE = "house paint"


class Form(StrEnum):
    """How a material comes."""

    UNKNOWN = ""
    TUBE = "tube"
    FLOW = "flow"
    READY = "ready-mixed"
    POWDER = "powder"
    GEL = "gel"


class Sheen(StrEnum):
    """How a material shines when dry."""

    UNKNOWN = ""
    MATTE = "matte"
    SATIN = "satin"
    GLOSS = "gloss"


class Levelling(StrEnum):
    """How well a medium draws out its marks."""

    UNKNOWN = ""
    WELL = "well"
    FAIRLY = "fairly"
    POORLY = "poorly"


@dataclass(frozen=True, slots=True, kw_only=True)
class Pack:
    """A size that a material is sold in."""

    content_kg: float
    price: float
    delivery: float = 0.0

    def __post_init__(self) -> None:
        require_positive(self.content_kg, "Content of a pack", "Enter the grams in it.", MOST_KG)
        require_not_negative(self.price, "Price of a pack", "Enter what it costs, or 0.", MOST_MONEY)
        require_not_negative(self.delivery, "Delivery", "Enter what bringing it costs, or 0.", MOST_MONEY)


@dataclass(frozen=True, slots=True, kw_only=True)
class Material:
    """One container on the shelf, with the figures that sums are made from.

    `key` is what recipes, ledgers and bottles know it by: the name it was first given. It never changes; the name may.
    """

    id: str
    key: str = ""
    name: str
    kind: Kind
    hex: str
    density_kg_m3: float
    volume_solids: float
    opacity: Opacity = Opacity.OPAQUE
    drop_kg: float = 0.0
    alcohol_share: float = 0.0
    wash_off: bool = False
    bakeable: bool = False
    hazards: tuple[Hazard, ...] = ()
    lot: str = ""
    stock_kg: float = 0.0
    full_kg: float = 0.0
    price_per_kg: float = 0.0
    packs: tuple[Pack, ...] = ()
    grade: Grade = Grade.UNKNOWN
    form: Form = Form.UNKNOWN
    sheen: Sheen = Sheen.UNKNOWN
    smallest_share: float = 0.0
    """Smallest share of a wet mix at which a shimmer agent shows; 0 where it is not known."""
    made_of: tuple[tuple[str, float], ...] = ()
    """What a house mix was weighed together from, in kilograms; empty for a material that was bought."""
    made_at: datetime | None = None
    opened_at: datetime | None = None
    lot_since: datetime | None = None
    """When this lot came; what was measured before does not hold for it."""
    strained_at: datetime | None = None
    levels: Levelling = Levelling.UNKNOWN
    neutral_ph: bool | None = None
    """Whether its label says so; None where it is not said. Glues that are not may age worse."""
    variant: str = ""
    """National or other variant of the same name."""
    note: str = ""

    @property
    def is_powder(self) -> bool:
        """Whether it must be wetted before anything else goes in."""
        return self.form is Form.POWDER

    def __post_init__(self) -> None:
        if not self.name.strip():
            raise RecordError("A container needs a name. Type one.")
        if not self.key:
            object.__setattr__(self, "key", self.name)  # while it is being made: nobody has seen it yet
        require_text(self.key, "What recipes know a container by", 80)
        require_text(self.name, "A name", 80)
        require_hex(self.hex, self.name)
        weigh = "Weigh a filled 10 mL syringe and enter grams per millilitre, 0.1 to 25."
        require_between(self.density_kg_m3, 100.0, 25_000.0, f"Density of {self.name}, in kg/m³,", weigh)
        require_share(self.volume_solids, f"Volume solids of {self.name}")
        require_share(self.alcohol_share, f"Alcohol share of {self.name}")
        require_not_negative(self.stock_kg, f"Stock of {self.name}", "Weigh the container and enter what is left.", MOST_KG)
        require_not_negative(self.full_kg, f"Content of a full {self.name}", "Enter the grams in a full one, or 0.", MOST_KG)
        require_not_negative(self.drop_kg, f"A drop of {self.name}", "Weigh twenty drops together.", 0.01)
        require_not_negative(self.price_per_kg, f"Price of {self.name}", "Enter what a kilogram costs, or 0.", MOST_MONEY)
        require_share(self.smallest_share, f"Smallest useful share of {self.name}")
        for name, kg in self.made_of:
            require_positive(kg, f"{name} in {self.name}", "Enter the grams that went into the house mix.", MOST_KG)
            if name == self.key:
                raise RecordError(f"{self.name} cannot be made of itself. Name what it was mixed from.")


class GaugingKind(StrEnum):
    """What was measured of a container."""

    DENSITY = "density"
    BODY = "body"
    DRIP = "drip"
    DROP = "drop"
    TEASPOON = "teaspoon"
    SQUIRT = "squirt"
    PEA = "pea"


@dataclass(frozen=True, slots=True, kw_only=True)
class Gauging(Happened):
    """One guided measurement of a material: what was read, and what it gives.

    `value` is kg/m3 for density, the slump diameter in m for body, the run in m of a drip of neat paint,
    kilograms for one drop, spoon, squirt or pea.
    """

    id: str
    material_id: str
    kind: GaugingKind
    value: float
    readings: tuple[float, ...]
    """What was read: weights in kg, or diameters in m."""
    at: datetime
    count: int = 1
    """How many drops, spoons or squirts were weighed together."""
    sample_kg: float = 0.0
    """Mass of the sample of a slump disc."""
    seconds: float = 0.0
    """When a slump disc or a drip was read."""
    lot: str = ""
    taken_back: bool = False

    def __post_init__(self) -> None:
        require_positive(self.value, f"The {self.kind}", "Measure it again.", 25_000.0)
        for reading in self.readings:
            require_positive(reading, f"A reading of the {self.kind}", "Measure it again.", 25_000.0)
        require_between(self.count, 1, 10_000, f"The number weighed for the {self.kind}", "Enter how many were weighed together, 1 to 10 000.")
        require_not_negative(self.sample_kg, "The sample", "Enter its grams, or 0.", MOST_KG)
        require_not_negative(self.seconds, "The time of the reading", "Enter the seconds, or 0.", MOST_SECONDS)
