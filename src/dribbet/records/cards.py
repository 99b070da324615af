"""The two printed cards: where their marks, patches and lines lie, in mm from the card's top left corner."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

MARKER_MM: Final = 15.0
INSET_MM: Final = 4.0
PATCH_MM: Final = 11.0
PATCH_X_MM: Final = (15.0, 29.0, 43.0, 57.0, 71.0, 85.0)
PATCH_Y_MM: Final = 30.0
PATCH_LIGHTNESS: Final = (95.0, 80.0, 65.0, 50.0, 35.0, 20.0)
START_LINE_MM: Final = 25.0


@dataclass(frozen=True, slots=True)
class CardFace:
    """A card: its size, and the first of its four marker numbers (ArUco DICT_4X4_50), clockwise from the top left."""

    width_mm: float
    height_mm: float
    first_marker: int

    @property
    def markers(self) -> dict[int, tuple[float, float]]:
        """Top left corner of each marker by its number."""
        right, bottom = self.width_mm - INSET_MM - MARKER_MM, self.height_mm - INSET_MM - MARKER_MM
        places = ((INSET_MM, INSET_MM), (right, INSET_MM), (right, bottom), (INSET_MM, bottom))
        return {self.first_marker + i: place for i, place in enumerate(places)}


PHOTO_CARD: Final = CardFace(100.0, 60.0, 10)
DRIP_CARD: Final = CardFace(150.0, 100.0, 20)


def patch_reflectance(lightness: float) -> float:
    """Share of light that a grey of CIE L* reflects (above 8; the cards hold no darker one)."""
    return ((lightness + 16.0) / 116.0) ** 3
