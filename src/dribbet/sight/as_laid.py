"""Whether a result was measured with its panel's size and its corners on the photograph as they are known now."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Final

import numpy as np

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

WHOLE: Final = (0.0, 0.0, 1.0, 1.0)
SAME_MM: Final = 0.05  # of a side
SAME_SHARE: Final = 2e-4  # of the panel's diagonal: corners are kept to a hundredth of a pixel, and a large photograph is read smaller


def measured_as(
    panel: Mapping[str, Any], size_mm: tuple[float, float], corners_px: Sequence[tuple[float, float]], box: tuple[float, float, float, float]
) -> bool:
    """Whether what a result says of its panel is of this size, and of these corners.

    Parameters
    ----------
    panel : mapping
        The group `panel` of a result.
    size_mm : tuple of float
        Width and height of what is measured, as it is known now.
    corners_px : sequence of (x, y)
        Of the whole panel on its photograph, clockwise from its top left; where they are not four, nobody knows them.
    box : tuple of float
        Part of the panel that is measured, as shares: left, top, right, bottom.
    """
    if any(abs(float(panel[side]) - mm) > SAME_MM for side, mm in zip(("width_mm", "height_mm"), size_mm, strict=True)):
        return False
    if len(corners_px) != 4:
        return True
    now, then = np.array(corners_px, np.float64), np.array(panel["corners_px"], np.float64)
    if tuple(box) != WHOLE:
        from dribbet.sight.geometry import part_of  # brings what reads pictures: only where a panel has pieces

        now = part_of(now, box)
    return bool(np.abs(now - then).max() <= SAME_SHARE * np.hypot(*(now[2] - now[0])))
