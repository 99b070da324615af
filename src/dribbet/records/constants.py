"""What is held in a test, as numbers."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from dribbet.records.doing import Doing  # noqa: TC001 - the notebook builds records by their hints
from dribbet.records.errors import RecordError
from dribbet.records.factors import Technique
from dribbet.records.materials import WATER
from dribbet.records.require import MOST_SECONDS, require_between, require_not_negative, require_positive, require_share, require_text
from dribbet.records.ways import Way  # noqa: TC001 - as above

AS_GIVEN: Final = "as given"
TURNED_ROUND: Final = "turned round"
"""Orders of the layers that need no naming of each."""


class Outline(StrEnum):
    """Shape of a panel's face."""

    SQUARE = "rectangle"
    ROUND = "round"


class BasePlan(StrEnum):
    """What lies on the face before the pour."""

    NONE = "no base"
    MIST = "water mist"
    RIM = "rim only"
    FULL = "flood coat"
    PILLOW = "pillow"


class DropsBy(StrEnum):
    """What is done where a cup does not want a whole number of drops."""

    NEAREST = "nearest whole drop"
    GROWN = "a cup large enough for whole drops"
    DILUTED = "drops prediluted 1 in 10"


class Dosage(StrEnum):
    """How water goes into a cup: by its plan, or step by step until it looks right."""

    PLANNED = "as planned"
    BY_EYE = "by eye"


@dataclass(frozen=True, slots=True, kw_only=True)
class Swap:
    """One paint in place of another: in one layer, counted from below, or (0) throughout."""

    of: str
    to: str
    layer: int = 0

    def __post_init__(self) -> None:
        require_text(self.of, "The paint that is exchanged", 80)
        require_text(self.to, "The paint in its place", 80)
        require_between(self.layer, 0, 36, "The layer", "Count layers from below, 1 for the lowest; 0 is all of them.")


@dataclass(frozen=True, slots=True, kw_only=True)
class Constants:
    """What is held, as numbers; a recipe of a test holds all of it but its own levels."""

    panel_width_m: float = 0.2
    panel_height_m: float = 0.15
    outline: Outline = Outline.SQUARE
    side_m: float = 0.0
    """Depth of the sides that are to be covered; 0 where they stay bare."""
    support: str = "birch ply"
    poured_kg: float = 0.068
    technique: Technique = Technique.FLIP_CUP
    way: str = ""
    """Name of the person's own way to pour; empty where it is the shipped one."""
    ways: tuple[Way, ...] = ()
    """Own ways that this test may use, as they were when it was planned."""
    doing: tuple[Doing, ...] = ()
    """Figures of steps that are held otherwise than their way says."""
    medium: str = "conditioner"
    medium_parts: float = 2.0
    colour_parts: tuple[tuple[str, float], ...] = ()
    """Colours with parts of medium of their own."""
    water_share: float = 0.16
    third_liquid: str = WATER
    grade: float = 0.0
    """Consistency grade to thin to, 1 to 5; 0 where the water share stands as it is."""
    alcohol_share: float = 0.0
    alcohol_strength: float = 0.91
    anti_craze_share: float = 0.0
    anti_craze: str = "anti-craze additive"
    added: tuple[tuple[str, float], ...] = ()
    """What else goes into every colour: container, and its share of the mix."""
    shimmer_parts: float = 0.0
    shimmer_medium: str = "iridescent medium"
    silicone: str = "belt silicone"
    silicone_drops_per_100g: float = 0.0
    silicone_colours: tuple[str, ...] = ()
    drop_kg: float = 2.9e-5
    """One drop of the silicone as it was weighed when this was planned: 0.03 mL from a fine nozzle before anyone weighed it."""
    drops_by: DropsBy = DropsBy.NEAREST
    swaps: tuple[Swap, ...] = ()
    rounds: int = 1
    """How often the layers of the cup are repeated."""
    water_source: str = ""
    thinned: Dosage = Dosage.PLANNED
    finish: str = "as bought"
    base_plan: BasePlan = BasePlan.NONE
    base: str = "house paint"
    base_sheen: str = "as bought"
    base_m: float = 1.5e-3
    base_water_share: float = 0.0
    base_craze_share: float = 0.0
    activator: str = "none"
    activator_kg: float = 0.0
    order: str = AS_GIVEN
    film_m: float = 1.7e-3
    dwell_s: float = 60.0
    torch_passes: int = 2
    heat_after_s: float = 20.0
    grow_s: float = 0.0
    """Wait for cells to grow before the paint is stretched."""
    second_passes: int = 0
    """Passes of a second heat, after that wait."""
    rest_s: float = 3600.0
    tilt_s: float = 90.0
    after: str = "nothing"
    own: str = ""
    cup_loss: float = 0.10
    reserve: float = 0.05
    room_c: float = 21.0
    room_rh: float = 0.5
    air_m_s: float = 0.1
    own_pa_s: tuple[tuple[str, float], ...] = ()
    """Viscosity of paint, mediums and water by the person's own checks when this was planned; empty where the tables stand."""

    @property
    def beside_share(self) -> float:
        """Share of the mix that is neither paint, medium nor thinner, but for shimmer medium."""
        return self.anti_craze_share + sum(share for _, share in self.added)

    def __post_init__(self) -> None:
        for value, low, high, what, remedy in (
            (self.panel_width_m, 0.01, 5.0, "Panel width, in metres,", "Enter the width of the panel in millimetres, such as 200."),
            (self.panel_height_m, 0.01, 5.0, "Panel height, in metres,", "Enter the height of the panel in millimetres, such as 150."),
            (self.side_m, 0.0, 0.2, "Depth of the sides, in metres,", "Enter how deep the sides are, 0 to 200 mm."),
            (self.poured_kg, 1e-4, 50.0, "Paint per panel, in kilograms,", "Enter the grams poured on one panel, 0.1 g to 50 kg."),
            (self.film_m, 1e-6, 0.05, "Film, in metres,", "Enter the wet film that should stay, up to 50 mm."),
            (self.base_m, 0.0, 0.05, "Base, in metres,", "Enter how thick the base lies, up to 50 mm."),
            (self.medium_parts, 0.0, 1e4, "Medium", "Enter the parts of medium to one part of paint, 0 to 10 000."),
            (self.shimmer_parts, 0.0, 1e4, "Shimmer medium", "Enter the parts of shimmer medium to one part of paint, 0 to 10 000."),
            (self.grade, 0.0, 5.0, "The consistency grade", "Grades go from 1 to 5; 0 leaves the water as it is."),
            (self.drop_kg, 1e-7, 0.01, "A drop, in kilograms,", "Weigh twenty drops together on Shelf."),
            (self.rounds, 1, 12, "The number of rounds", "Repeat the layers 1 to 12 times."),
            (self.activator_kg, 0.0, 50.0, "Activator, in kilograms,", "Enter its grams for one panel, or 0."),
            (self.dwell_s, 0.0, 86_400.0, "The rest under the cup", "Enter seconds, up to a day."),
            (self.torch_passes, 0, 100, "Passes of the torch", "Enter 0 to 100."),
            (self.heat_after_s, 0.0, 86_400.0, "The moment of heat", "Enter seconds after the pour, up to a day."),
            (self.grow_s, 0.0, 86_400.0, "The wait before the stretch", "Enter seconds, up to a day."),
            (self.second_passes, 0, 100, "Passes of the second heat", "Enter 0 to 100."),
            (self.rest_s, 0.0, MOST_SECONDS, "The rest of the mix", "Enter hours, up to 400 days."),
            (self.tilt_s, 0.0, 86_400.0, "The time of tilting", "Enter seconds, up to a day."),
            (self.room_c, -30.0, 60.0, "The room", "Enter its temperature, -30 to 60 °C."),
            (self.room_rh, 0.0, 1.0, "The damp of the room", "Enter its relative humidity, 0 to 100 %."),
            (self.air_m_s, 0.0, 50.0, "The draught", "Enter metres per second, 0 to 50."),
        ):
            require_between(value, low, high, what, remedy)
        for share, words in (
            (self.water_share, "Water share"),
            (self.alcohol_share, "Alcohol share"),
            (self.alcohol_strength, "Strength of the alcohol"),
            (self.anti_craze_share, "Anti-craze additive"),
            (self.base_water_share, "Water in the base"),
            (self.base_craze_share, "Additive in the base"),
            (self.cup_loss, "What stays in the cup"),
            (self.reserve, "Reserve"),
        ):
            require_share(share, words)
        for name, share in self.added:
            require_share(share, f"Share of {name}")
        for name, parts in self.colour_parts:
            require_between(parts, 0.0, 1e4, f"Medium to {name}", "Enter the parts of medium to one part of paint, 0 to 10 000.")
        if self.way and self.way not in [w.name for w in self.ways]:
            raise RecordError(f"There is no way to pour called {self.way}. Make it on Shelf first.")
        if self.base_water_share + self.base_craze_share >= 1.0:
            raise RecordError("Water and additive together leave no room for the base. Lower one of them.")
        for name, viscosity in self.own_pa_s:
            require_positive(viscosity, f"Viscosity of {name}", "Check a cup that holds it again.")
        if self.water_share + self.alcohol_share >= 1.0:
            raise RecordError("Water and alcohol together leave no room for paint. Lower one of them.")
        require_not_negative(self.silicone_drops_per_100g, "Silicone", "Enter the drops for 100 g of mix, 0 to 1000.", 1000.0)
