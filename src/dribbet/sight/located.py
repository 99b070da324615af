"""Where a panel lies in its photograph: by given corners, by what is seen, or by the picture's own edges."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.sight import geometry
from dribbet.sight.arrays import SightError
from dribbet.sight.card import Card, find_card
from dribbet.sight.corners import Found, find_corners
from dribbet.sight.round_corners import find_round
from dribbet.sight.whole_picture import as_cropped, as_scanned

if TYPE_CHECKING:
    from dribbet.sight.arrays import Points, Rgb

OF_PICTURE: Final = (0.25, 0.8)  # a panel on a table covers so much of its photograph: a doubtful one that does is taken as found


def locate(
    rgb: Rgb, width_mm: float, height_mm: float, corners_px: Points | None, *, is_round: bool = False, px_per_mm: float = 0.0
) -> tuple[Points, str, Card | None, Found | None]:
    """Corners of the panel (of the rectangle round it), where they came from, the card, and what was found where they were not given."""
    card = find_card(rgb)
    if corners_px is not None:
        geometry.check_corners(corners_px, rgb.shape[1], rgb.shape[0])
        return corners_px, "given", card, None
    found = as_scanned(rgb, width_mm, height_mm, px_per_mm) if card is None else None
    if found is None:
        found = _looked_for(rgb, width_mm, height_mm, card, is_round=is_round)
    return found.corners_px, "found", card, found


def _looked_for(rgb: Rgb, width_mm: float, height_mm: float, card: Card | None, *, is_round: bool) -> Found:
    """Corners by what is seen; of a picture that may be cropped to the panel its own, where nothing surer is."""
    try:
        found = (find_round if is_round else find_corners)(rgb, width_mm, height_mm, card)
    except SightError:
        cropped = as_cropped(rgb, width_mm, height_mm) if card is None else None
        if cropped is None:
            raise
        return cropped
    high, wide = rgb.shape[:2]
    share = cv2.contourArea(found.corners_px.astype(np.float32)) / (wide * high)
    if found.sure or card is not None or OF_PICTURE[0] < share < OF_PICTURE[1]:
        return found
    return as_cropped(rgb, width_mm, height_mm) or found
