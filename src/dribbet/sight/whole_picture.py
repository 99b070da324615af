"""A picture that is the panel and nothing else: a scan whose resolution says so, or a photograph cropped to the panel."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

import numpy as np

from dribbet.records import Seen, Sign
from dribbet.sight.corners import Found, rim_scatter

if TYPE_CHECKING:
    from dribbet.sight.arrays import Points, Rgb

SAME_SIZE: Final = 0.02  # of a side: a scanner's feed and a hand that crops are off by less
MANY_COLOURED: Final = 8.0  # scatter (delta E) of the picture's rim round a smooth table: no table looks like that


def corners_of(rgb: Rgb) -> Points:
    """The picture's own corners, clockwise from the top left; pixel middles are whole numbers."""
    high, wide = rgb.shape[:2]
    return np.array([[0.0, 0.0], [wide, 0.0], [wide, high], [0.0, high]]) - 0.5


def as_scanned(rgb: Rgb, width_mm: float, height_mm: float, px_per_mm: float) -> Found | None:
    """The picture where its file says a resolution at which it is exactly as large as the panel; None otherwise."""
    high, wide = rgb.shape[:2]
    if px_per_mm <= 0.0 or not _fits(wide / px_per_mm, high / px_per_mm, width_mm, height_mm):
        return None
    return Found(corners_px=corners_of(rgb), sure=True, doubt="")


def as_cropped(rgb: Rgb, width_mm: float, height_mm: float) -> Found | None:
    """The picture where it has the panel's shape and no table is seen round it; a person is asked all the same."""
    high, wide = rgb.shape[:2]
    scale = np.sqrt(wide * high / (width_mm * height_mm))
    if not _fits(wide / scale, high / scale, width_mm, height_mm) or rim_scatter(rgb) < MANY_COLOURED:
        return None
    doubt = "No table is seen round the panel: it is taken to fill the picture. Drag the corners if it does not."
    return Found(corners_px=corners_of(rgb), sure=False, doubt=doubt, seen=Seen(sign=Sign.CORNERS_FRAME))


def _fits(wide_mm: float, high_mm: float, width_mm: float, height_mm: float) -> bool:
    return abs(wide_mm / width_mm - 1.0) <= SAME_SIZE and abs(high_mm / height_mm - 1.0) <= SAME_SIZE
