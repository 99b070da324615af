"""Figures that follow from the pieces of a mirrored edge, told in one place: at the reading, and without a zone."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING, Any, Final

import numpy as np

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping, Sequence

NEAR_MM: Final = 2.0
"""To each side of the edge's middle: what comes within it is its step."""
LEAST_PIECES: Final = 4
LEAST_CONTRAST: Final = 0.01
"""Of a white card: less is no edge."""
OF_DEVIATIONS: Final = 1.4826  # standard deviation of a Gaussian over its median deviation
OF_MEDIAN: Final = 1.2533  # standard error of a median over that of a mean


class Gloss(StrEnum):
    """How glossy a film is, by the width of a mirrored edge; its value is the word of the trade."""

    GLOSS = "gloss"
    SEMI = "semi-gloss"
    SATIN = "satin"
    MATTE = "matte"


GRADES_MM: Final = ((3.0, Gloss.GLOSS), (8.0, Gloss.SEMI), (30.0, Gloss.SATIN))
"""Widths up to which a film is of a grade, board and camera half a metre away: facets that turn by 0.34, 0.9 and 3.4 degrees."""


@dataclass(frozen=True, slots=True, kw_only=True)
class EdgePiece:
    """A few millimetres of the mirrored edge: where its middle lies, mm from the panel's left and upper side."""

    x_mm: float
    y_mm: float
    contrast: float
    """Light that is mirrored, as a share of what a perfect white sends."""
    width_mm: float
    """Standard deviation of the smeared edge."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Shine:
    """What the mirrored edge tells."""

    step: float
    """Of the light that is mirrored, what comes within `NEAR_MM` of the edge's middle, as a share of what a perfect white sends. The more, the
    glossier."""
    contrast: float
    """All of the light that is mirrored, as such a share."""
    width_mm: float | None
    """Standard deviation of the smeared edge; None where no edge is seen."""
    sd: float
    """Of the step, by how its pieces differ."""
    grade: Gloss
    pieces: tuple[EdgePiece, ...] = ()


NONE_SEEN: Final = Shine(step=0.0, contrast=0.0, width_mm=None, sd=0.0, grade=Gloss.MATTE)


def shine_of(pieces: Sequence[EdgePiece]) -> Shine | None:
    """Medians over pieces of the edge; None where they are too few, or mirror too little, to be one.

    The step of an edge of contrast h that is smeared by a Gaussian of w: h erf(`NEAR_MM` / (w sqrt 2)).
    """
    if len(pieces) < LEAST_PIECES:
        return None
    contrast, width = (float(np.median(part)) for part in ([p.contrast for p in pieces], [p.width_mm for p in pieces]))
    if contrast < LEAST_CONTRAST:
        return None
    steps = np.array([p.contrast * math.erf(NEAR_MM / (p.width_mm * math.sqrt(2.0))) for p in pieces])
    step = float(np.median(steps))
    sd = OF_MEDIAN * OF_DEVIATIONS * float(np.median(np.abs(steps - step))) / math.sqrt(len(steps))
    grade = next((g for most, g in GRADES_MM if width <= most), Gloss.MATTE)
    return Shine(step=step, contrast=contrast, width_mm=width, sd=sd, grade=grade, pieces=tuple(pieces))


def as_told(shine: Shine) -> dict[str, Any]:
    """A shine as a reading holds it; each piece as x, y, contrast, width."""
    return {
        "step": round(shine.step, 4),
        "step_sd": round(shine.sd, 4),
        "contrast": round(shine.contrast, 4),
        "width_mm": None if shine.width_mm is None else round(shine.width_mm, 2),
        "grade": str(shine.grade),
        "pieces": [[round(p.x_mm, 1), round(p.y_mm, 1), round(p.contrast, 4), round(p.width_mm, 3)] for p in shine.pieces],
    }


def without(told: Mapping[str, Any], out: Callable[[float, float], bool]) -> dict[str, Any] | None:
    """A shine without its pieces at places that are left out; None where too few are left.

    A matte film, and one that was read before pieces were kept, stay as they are.
    """
    pieces = [EdgePiece(x_mm=x, y_mm=y, contrast=c, width_mm=w) for x, y, c, w in told.get("pieces", ())]
    kept = [p for p in pieces if not out(p.x_mm, p.y_mm)]
    if len(kept) == len(pieces):
        return dict(told)
    left = shine_of(kept)
    return None if left is None else as_told(left)
