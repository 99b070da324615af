"""A drawn panel as it looked while it was wet: cells still smaller, colours deeper, nothing cracked."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

if TYPE_CHECKING:
    from dribbet.demo.painter import Drawn

WET_CELLS: Final = 0.93  # width of cells while they still grow, over their width when dry
WET_GAMMA: Final = 1.15  # of linear light: wet acrylic is deeper in colour


def wet(dry: Drawn) -> Drawn:
    """The panel before it dried; it must have been drawn without cracks. Each cell is drawn smaller about its middle, its surroundings close in."""
    inside = (dry.cells > 0).astype(np.uint8)
    linear = dry.linear.copy()
    _, owner = cv2.distanceTransformWithLabels(inside, cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL)
    beside = np.flatnonzero(inside.ravel() == 0)
    nearest = np.zeros(int(owner.max()) + 1, np.intp)
    nearest[owner.ravel()[beside]] = beside
    linear[inside > 0] = linear.reshape(-1, 3)[nearest[owner[inside > 0]]]
    cells = np.zeros_like(dry.cells)
    for number in range(1, int(dry.cells.max()) + 1):
        mine = (dry.cells == number).astype(np.uint8)
        if not mine.any():
            continue
        left, top, width, height = cv2.boundingRect(mine)
        window = np.s_[top : top + height, left : left + width]
        middle = (width / 2 - 0.5, height / 2 - 0.5)
        smaller = np.array([[WET_CELLS, 0, middle[0] * (1 - WET_CELLS)], [0, WET_CELLS, middle[1] * (1 - WET_CELLS)]])
        cover = cv2.warpAffine(mine[window].astype(np.float32), smaller, (width, height))[..., None]
        drawn = cv2.warpAffine(dry.linear[window], smaller, (width, height), borderMode=cv2.BORDER_REPLICATE)
        linear[window] = linear[window] * (1 - cover) + drawn * cover
        cells[window][cover[..., 0] > 0.5] = number
    return replace(dry, linear=np.asarray(linear**WET_GAMMA, np.float32), cells=cells)
