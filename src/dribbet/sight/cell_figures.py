"""Figures that follow from the cells of a panel, counted in one place: at the reading, without a cell, without a zone."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np

if TYPE_CHECKING:
    from collections.abc import Sequence


def cell_figures(diameters_mm: Sequence[float], circularities: Sequence[float], area_mm2: float) -> dict[str, Any]:
    """Count, count per dm², median and 10 and 90 % widths in mm, mean circularity; all nought where there is no cell."""
    d10, middle, d90 = (float(q) for q in np.percentile(diameters_mm, [10, 50, 90])) if diameters_mm else (0.0, 0.0, 0.0)
    return {
        "count": len(diameters_mm),
        "per_dm2": round(len(diameters_mm) / area_mm2 * 1e4, 2) if area_mm2 else 0.0,
        "median_diameter_mm": round(middle, 3),
        "d10_mm": round(d10, 3),
        "d90_mm": round(d90, 3),
        "mean_circularity": round(float(np.mean(circularities)), 3) if circularities else 0.0,
    }
