"""Fields between cracks: closed regions of one colour whose rim is drawn by cracks are no cells."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.sight import cells as sight
from dribbet.sight.arrays import told_of

if TYPE_CHECKING:
    from dribbet.sight.arrays import Mask, Plane
    from dribbet.sight.cells import Cell, Cells

ON_CRACKS_MM: Final = 0.2  # from a crack's body: a rim so near to it is the crack's
BY_CRACKS: Final = 3.0
"""So much fall the log odds of a cell whose whole rim is a crack's, by logistic regression on 1,872 that were found on 191 cracked panels
(docs/decisions/0033)."""
EDGE_PX: Final = 3  # from the panel's edge, which is no rim
SURELY: Final = 1e-9


def without_fields(found: Cells, cracks: Mask, px_per_mm: float) -> Cells:
    """Cells of a panel whose cracks are known: each is less likely by as much of its rim as lies on them, and what is too unlikely then is none.

    A crack that crosses a cell, or meets its rim at a point, says nothing against it: cracks run where the film is weak, seldom round what opened.
    """
    if not found.items or not cracks.any():
        return found
    away_mm = cv2.distanceTransform((~cracks).astype(np.uint8), cv2.DIST_L2, 5) / np.float32(px_per_mm)
    shares = [share_on(c, away_mm, px_per_mm) for c in found.items]
    odds = [math.log(c.sureness / max(1.0 - c.sureness, SURELY)) - BY_CRACKS * share for c, share in zip(found.items, shares, strict=True)]
    chances = [c.sureness if not share else 1.0 / (1.0 + math.exp(-o)) for c, share, o in zip(found.items, shares, odds, strict=True)]
    kept = np.array([not share or o >= sight.ACCEPT for share, o in zip(shares, odds, strict=True)])
    items = [replace(c, sureness=p) for c, p, stays in zip(found.items, chances, kept, strict=True) if stays]
    passed_over = [*found.passed_over, *(p for p, stays in zip(chances, kept, strict=True) if not stays)]
    table = np.zeros(len(kept) + 1, np.uint16)
    table[1:][kept] = np.arange(1, len(items) + 1)
    return sight.told(items, told_of(found.labels, table), found.pinholes, passed_over, px_per_mm)


def share_on(cell: Cell, away_mm: Plane, px_per_mm: float) -> float:
    """Share of a cell's rim, without what lies at the panel's edge, that is a crack's; `away_mm`: how far each place lies from cracks."""
    rows, columns = away_mm.shape
    x, y = (np.array(cell.outline_mm) * px_per_mm).astype(np.int64).T
    inner = (x >= EDGE_PX) & (x < columns - EDGE_PX) & (y >= EDGE_PX) & (y < rows - EDGE_PX)
    return float((away_mm[y[inner], x[inner]] <= ON_CRACKS_MM).mean()) if inner.any() else 0.0
