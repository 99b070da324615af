"""What was seen of a photograph's fitness when it came in: facts, not sentences."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from dribbet.records.errors import RecordError


class Sign(StrEnum):
    """One thing that a photograph shows of itself; the figures that come with it stand behind each."""

    SHARP = "sharp"
    """Width of the finest edges in mm."""
    PLAIN = "no fine edges"
    BLURRED = "blurred"
    """Width of the finest edges in mm."""
    EXPOSURE = "exposure"
    """EV over what the card asks for, taken out."""
    WHITE_OUT = "white-out"
    """Share of the panel."""
    BLACK = "black"
    GLARE = "glare"
    """Share of the panel; centre as shares of its width and height."""
    NO_CARD = "no card"
    TILT = "tilt"
    """Degrees."""
    STEEP = "steep"
    """Degrees."""
    COARSE = "coarse"
    """Pixels per mm."""
    CORNERS_SIZE = "corners of another size"
    """Width and height in mm that the card measures."""
    CORNERS_SHAPE = "corners of another shape"
    CORNERS_FAINT = "a faint side"
    CORNERS_NONE = "no corners"
    CORNERS_FRAME = "fills the picture"
    LEAN_UNKNOWN = "lean unknown"
    """A round panel without the card beside it."""
    CORNERS_BY_HAND = "corners by hand"
    REDUCED = "reduced"
    """So many times as many pixels either way stand in the file."""
    SEE_THROUGH = "see-through"
    NO_PROFILE = "no usable profile"


FINE: Final = frozenset({Sign.SHARP, Sign.PLAIN, Sign.EXPOSURE, Sign.TILT, Sign.CORNERS_BY_HAND, Sign.REDUCED, Sign.SEE_THROUGH, Sign.NO_PROFILE})
"""Signs that ask for nothing; all others are doubts, with something to do."""
SPOILED: Final = frozenset({Sign.BLURRED, Sign.WHITE_OUT, Sign.BLACK})
"""Signs of a photograph that is of little use as it is: better it is taken again."""
OF_CORNERS: Final = frozenset(
    {Sign.CORNERS_SIZE, Sign.CORNERS_SHAPE, Sign.CORNERS_FAINT, Sign.CORNERS_NONE, Sign.CORNERS_FRAME, Sign.LEAN_UNKNOWN, Sign.CORNERS_BY_HAND}
)
FIGURES: Final = {
    Sign.SHARP: 1, Sign.BLURRED: 1, Sign.EXPOSURE: 1, Sign.WHITE_OUT: 1, Sign.GLARE: 3, Sign.TILT: 1, Sign.STEEP: 1, Sign.COARSE: 1,
    Sign.CORNERS_SIZE: 2, Sign.REDUCED: 1,
}  # fmt: skip
"""How many figures each sign has; the others have none."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Seen:
    """One sign with its figures."""

    sign: Sign
    figures: tuple[float, ...] = ()

    def __post_init__(self) -> None:
        if len(self.figures) != FIGURES.get(self.sign, 0):
            raise RecordError(f"What was seen of a photo ({self.sign}) has {len(self.figures)} figures. Bring the photo in again.")

    @property
    def doubtful(self) -> bool:
        """Whether a person should do something about it."""
        return self.sign not in FINE
