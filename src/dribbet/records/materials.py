"""What stands on the shelf: paints, mediums, thinners, additives."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from dribbet.records.checks import require_not_negative, require_positive, require_share


class Kind(StrEnum):
    """What a material is used as."""

    PAINT = "paint"
    MEDIUM = "medium"
    THINNER = "thinner"
    ADDITIVE = "additive"
    BASE = "base"
    SHIMMER = "shimmer"


class Opacity(StrEnum):
    """Hiding class, often printed on the container."""

    OPAQUE = "opaque"
    SEMI = "semi-opaque"
    TRANSPARENT = "transparent"


class Hazard(StrEnum):
    """What a material asks care for; the words stand in `lab.cautions`."""

    FLAMMABLE = "flammable"
    DUST = "dust"
    SLIPPERY = "slippery"
    FUMES = "fumes"


@dataclass(frozen=True, slots=True, kw_only=True)
class Material:
    """One container on the shelf, with the figures that sums are made from."""

    id: str
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

    def __post_init__(self) -> None:
        require_positive(self.density_kg_m3, f"Density of {self.name}", "Weigh a filled 10 mL syringe and enter grams per millilitre.")
        require_share(self.volume_solids, f"Volume solids of {self.name}")
        require_share(self.alcohol_share, f"Alcohol share of {self.name}")
        require_not_negative(self.stock_kg, f"Stock of {self.name}", "Weigh the container and enter what is left.")
        require_not_negative(self.price_per_kg, f"Price of {self.name}", "Enter what a kilogram costs, or 0.")
