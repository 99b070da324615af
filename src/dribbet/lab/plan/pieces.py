"""A poured piece: a whole panel, or its region of one, in millimetres (domain: several treatments on one panel)."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Final

import numpy as np

from dribbet.lab.plan import amounts, layouts
from dribbet.records import Outline

if TYPE_CHECKING:
    from dribbet.lab.plan.arm import Arm
    from dribbet.records import Constants, Panel, Series

GRID: Final = 400


def held_by(arm: Arm, panel: Panel) -> Constants:
    """What a recipe holds, with the size that a person measured this panel to have where they did."""
    if not panel.width_m:
        return arm.held
    return replace(arm.held, panel_width_m=panel.width_m, panel_height_m=panel.height_m)


def whole_mm(arm: Arm, panel: Panel) -> tuple[float, float]:
    """Width and height of a whole panel: as measured, else as its recipe plans it."""
    held = held_by(arm, panel)
    return held.panel_width_m * 1e3, held.panel_height_m * 1e3


def area_m2(arm: Arm, panel: Panel) -> float:
    """Face that the piece's paint lies on: its region with the strips along the borders."""
    face = amounts.face_m2(held_by(arm, panel))
    if not panel.region:
        return face
    left, top, right, bottom = panel.region
    return face * (right - left) * (bottom - top)


def measured_box(series: Series, arm: Arm, panel: Panel) -> tuple[float, float, float, float]:
    """Part of the panel that is measured for this piece, as shares: all of it, or its region without the strips."""
    if not panel.region:
        return 0.0, 0.0, 1.0, 1.0
    width, height = whole_mm(arm, panel)
    return layouts.inner(panel.region, width / 1e3, height / 1e3, series.layout.strip_m)


def measured_dm2(series: Series, arm: Arm, panel: Panel) -> float:
    """Area of what is measured for this piece; of a round panel only what lies within its rim (counted on a grid of 400 x 400 for a region)."""
    left, top, right, bottom = measured_box(series, arm, panel)
    width, height = whole_mm(arm, panel)
    box = (right - left) * width * (bottom - top) * height / 1e4
    if arm.held.outline is not Outline.ROUND:
        return box
    if not panel.region:
        return amounts.face_m2(held_by(arm, panel)) * 1e2
    x, y = (a + (np.arange(GRID) + 0.5) / GRID * (b - a) for a, b in ((left, right), (top, bottom)))
    return box * float(np.mean(np.hypot(2.0 * x[None] - 1.0, 2.0 * y[:, None] - 1.0) <= 1.0))


def measured_mm(series: Series, arm: Arm, panel: Panel) -> tuple[float, float]:
    """Width and height of what is measured for this piece."""
    left, top, right, bottom = measured_box(series, arm, panel)
    width, height = whole_mm(arm, panel)
    return (right - left) * width, (bottom - top) * height
