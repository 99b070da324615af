"""What is said of a photograph's fitness."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from dribbet.records import Sign
from dribbet.words.tongue import t
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
            return "Sharp", t("Yes. Finest edges are {at:.1f} mm.", at=at[0])
        case Sign.PLAIN:
            return "Sharp", t("No fine edges to tell by.")
        case Sign.BLURRED:
            return "Not sharp", t("The finest lines are {at:.1f} mm wide. Steady the camera and focus again.", at=at[0])
        case Sign.EXPOSURE if abs(at[0]) < RIGHT_EV:
            return "Exposure", t("Right, by the card.")
        case Sign.EXPOSURE:
            return "Exposure", (
                t("Card is {figure:.1f} EV over; taken out.", figure=abs(at[0]))
                if at[0] > 0
                else t("Card is {figure:.1f} EV under; taken out.", figure=abs(at[0]))
            )
        case Sign.WHITE_OUT:
            return "Exposure", t("{share} of the panel is white-out. Use less light or a shorter exposure.", share=percent(at[0]))
        case Sign.BLACK:
            return "Exposure", t("Most of the panel is black in this photo. Use more light or a longer exposure.")
        case Sign.GLARE:
            return "Glare", t("On {share} of the panel. Move the lamp aside; cells under it cannot be read.", share=percent(at[0]))
        case Sign.NO_CARD:
            return t("No card"), t("Colours are as the camera saw them. Lay the card beside the panel and take it again.")
        case Sign.TILT:
            return "Tilt", t("{at:.0f}°. The photo will be squared up.", at=at[0])
        case Sign.STEEP:
            return "Tilt", t("The camera leans by about {at:.0f}°. Hold it straight above the panel.", at=at[0])
        case Sign.COARSE:
            return "Coarse", t("Only {at:.1f} pixels per mm: thin cracks vanish. Go closer.", at=at[0])
        case _:
            return _of_corners_or_file(seen)


def _of_corners_or_file(seen: Seen) -> tuple[str, str]:
    at = seen.figures
    match seen.sign:
        case Sign.CORNERS_SIZE:
            return "Corners", t("The card says the panel is {at:.0f} × {at2:.0f} mm. Check its size or drag the corners.", at=at[0], at2=at[1])
        case Sign.CORNERS_SHAPE:
            return "Corners", t("The shape found does not match the panel's size. Check the size or drag the corners.")
        case Sign.CORNERS_FAINT:
            return "Corners", t("One side of the panel hardly stands out from the table. Check the corners.")
        case Sign.CORNERS_NONE:
            return "Corners", t("No panel stands out here. Drag the four corners onto the panel.")
        case Sign.LEAN_UNKNOWN:
            said = t(
                "Without the card nobody can see how the camera leans over a round panel: widths may be off by some percent. Lay the card beside it."
            )
            return "Lean", said
        case Sign.CORNERS_FRAME:
            return "Corners", t("No table is seen round the panel: it is taken to fill the picture. Drag the corners if it does not.")
        case Sign.CORNERS_BY_HAND:
            return "Corners", t("Moved by hand.")
        case Sign.REDUCED:
            part = "half" if at[0] == 2 else f"1/{at[0]:.0f}"
            return "File", t("The picture is very large and was read at {part} of its width.", part=part)
        case Sign.SEE_THROUGH:
            return "File", t("Parts of the picture are see-through; they are taken as white.")
        case _:
            return "File", t("Its colour profile cannot be used, so its colours are taken as sRGB.")
