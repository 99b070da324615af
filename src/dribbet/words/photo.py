"""What is said of a photograph's fitness."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from dribbet.records import Sign
from dribbet.words.units import percent

if TYPE_CHECKING:
    from dribbet.records import Seen

RIGHT_EV = 0.05
"""An exposure this near to the card's is right."""


@dataclass(frozen=True, slots=True)
class Fitness:
    """One verdict on the photo: a word and a sentence."""

    head: str
    words: str
    fine: bool


def fitness(seen: Seen) -> Fitness:
    """A sign in words."""
    head, words = _said(seen)
    return Fitness(head, words, not seen.doubtful)


def _said(seen: Seen) -> tuple[str, str]:
    at = seen.figures
    match seen.sign:
        case Sign.SHARP:
            return "Sharp", f"Yes. Finest edges are {at[0]:.1f} mm."
        case Sign.PLAIN:
            return "Sharp", "No fine edges to tell by."
        case Sign.BLURRED:
            return "Sharp", f"The finest lines are {at[0]:.1f} mm wide. Steady the camera and focus again."
        case Sign.EXPOSURE if abs(at[0]) < RIGHT_EV:
            return "Exposure", "Right, by the card."
        case Sign.EXPOSURE:
            return "Exposure", f"Card is {abs(at[0]):.1f} EV {'over' if at[0] > 0 else 'under'}; taken out."
        case Sign.WHITE_OUT:
            return "Exposure", f"{percent(at[0])} of the panel is white-out. Use less light or a shorter exposure."
        case Sign.BLACK:
            return "Exposure", "Most of the panel is black in this photo. Use more light or a longer exposure."
        case Sign.GLARE:
            return "Glare", f"On {percent(at[0])} of the panel. Move the lamp aside; cells under it cannot be read."
        case Sign.NO_CARD:
            return "No card", "Colours are as the camera saw them. Lay the card beside the panel and take it again."
        case Sign.TILT:
            return "Tilt", f"{at[0]:.0f}°. The photo will be squared up."
        case Sign.STEEP:
            return "Tilt", f"The camera leans by about {at[0]:.0f}°. Hold it straight above the panel."
        case Sign.COARSE:
            return "Coarse", f"Only {at[0]:.1f} pixels per mm: thin cracks vanish. Go closer."
        case _:
            return _of_corners_or_file(seen)


def _of_corners_or_file(seen: Seen) -> tuple[str, str]:
    at = seen.figures
    match seen.sign:
        case Sign.CORNERS_SIZE:
            return "Corners", f"The card says the panel is {at[0]:.0f} × {at[1]:.0f} mm. Check its size or drag the corners."
        case Sign.CORNERS_SHAPE:
            return "Corners", "The shape found does not match the panel's size. Check the size or drag the corners."
        case Sign.CORNERS_FAINT:
            return "Corners", "One side of the panel hardly stands out from the table. Check the corners."
        case Sign.CORNERS_NONE:
            return "Corners", "No panel stands out here. Drag the four corners onto the panel."
        case Sign.CORNERS_BY_HAND:
            return "Corners", "Moved by hand."
        case Sign.REDUCED:
            part = "half" if at[0] == 2 else f"1/{at[0]:.0f}"
            return "File", f"The picture is very large and was read at {part} of its width."
        case Sign.SEE_THROUGH:
            return "File", "Parts of the picture are see-through; they are taken as white."
        case _:
            return "File", "Its colour profile cannot be used, so its colours are taken as sRGB."
