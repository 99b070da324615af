"""A poured piece: a whole panel, or its region of one, in millimetres (domain: several treatments on one panel)."""

from __future__ import annotations

from typing import TYPE_CHECKING

from dribbet.lab.plan import amounts, layouts

if TYPE_CHECKING:
    from dribbet.lab.plan.arm import Arm
    from dribbet.records import Panel, Series


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


def measured_mm(series: Series, arm: Arm, panel: Panel) -> tuple[float, float]:
    """Width and height of what is measured for this piece."""
    left, top, right, bottom = measured_box(series, arm, panel)
    width, height = whole_mm(arm)
    return (right - left) * width, (bottom - top) * height
