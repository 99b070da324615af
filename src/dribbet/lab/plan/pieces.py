"""A poured piece: a whole panel, or its region of one, in millimetres (domain: several treatments on one panel)."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

import numpy as np

from dribbet.lab.plan import amounts, layouts
from dribbet.records import Outline

if TYPE_CHECKING:
    from dribbet.lab.plan.arm import Arm
    from dribbet.records import Panel, Series

GRID: Final = 400


def whole_mm(arm: Arm) -> tuple[float, float]:
    """Width and height of the panel that a recipe is poured on."""
    return arm.held.panel_width_m * 1e3, arm.held.panel_height_m * 1e3


def area_m2(arm: Arm, panel: Panel) -> float:
    """Face that the piece's paint lies on: its region with the strips along the borders."""
    face = amounts.face_m2(arm.held)
    if not panel.region:
        return face
    left, top, right, bottom = panel.region
    return face * (right - left) * (bottom - top)


def measured_box(series: Series, arm: Arm, panel: Panel) -> tuple[float, float, float, float]:
    """Part of the panel that is measured for this piece, as shares: all of it, or its region without the strips."""
    if not panel.region:
        return 0.0, 0.0, 1.0, 1.0
    return layouts.inner(panel.region, arm.held.panel_width_m, arm.held.panel_height_m, series.layout.strip_m)


def measured_dm2(series: Series, arm: Arm, panel: Panel) -> float:
    """Area of what is measured for this piece; of a round panel only what lies within its rim (counted on a grid of 400 x 400 for a region)."""
    left, top, right, bottom = measured_box(series, arm, panel)
    width, height = whole_mm(arm)
    box = (right - left) * width * (bottom - top) * height / 1e4
    if arm.held.outline is not Outline.ROUND:
        return box
    if not panel.region:
        return amounts.face_m2(arm.held) * 1e2
    x, y = (a + (np.arange(GRID) + 0.5) / GRID * (b - a) for a, b in ((left, right), (top, bottom)))
    return box * float(np.mean(np.hypot(2.0 * x[None] - 1.0, 2.0 * y[:, None] - 1.0) <= 1.0))


def measured_mm(series: Series, arm: Arm, panel: Panel) -> tuple[float, float]:
    """Width and height of what is measured for this piece."""
    left, top, right, bottom = measured_box(series, arm, panel)
    width, height = whole_mm(arm)
    return (right - left) * width, (bottom - top) * height
