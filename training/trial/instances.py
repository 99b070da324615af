"""From what the network saw to single cells: bodies, parted where they touch, each with the outline along its own step of colour.

A cell's core is where the network sees a cell and no border; every other place of a body goes to the core that is nearest, so that touching cells
part at their bisector. A body without a core (small ones are all border) is a cell of its own.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from training.trial.network import MAPS_PX_PER_MM

if TYPE_CHECKING:
    import numpy.typing as npt

    from dribbet.sight.arrays import Mask
    from training.trial.network import Maps

    Numbers = npt.NDArray[np.int32]

FINE: Final = 2  # bodies are drawn so much finer than the maps: a cell of a millimetre is four pixels wide in those
INSIDE: Final = 0.5
CORE_BORDER: Final = 0.5
LEAST_CORE_MM2: Final = 0.12
SURE: Final = 0.6  # mean chance of a cell's pixels


def labels_of(maps: Maps) -> tuple[Numbers, float]:
    """Cells numbered from 1 on a grid of its own, and that grid's px/mm; unsure and small ones are still among them."""
    k = MAPS_PX_PER_MM * FINE
    size = (maps.inside.shape[1] * FINE, maps.inside.shape[0] * FINE)
    inside, border = (cv2.resize(p, size, interpolation=cv2.INTER_LINEAR) for p in (maps.inside, maps.border))
    body = inside > INSIDE
    core = body & (border < CORE_BORDER)
    _, cores, stats, _ = cv2.connectedComponentsWithStats(core.astype(np.uint8), connectivity=4)
    large = stats[:, cv2.CC_STAT_AREA] >= LEAST_CORE_MM2 * k * k
    large[0] = False
    cores = np.where(large[cores], cores, 0).astype(np.int32)
    labels = _nearest(cores, body)
    _, bodies = cv2.connectedComponents(body.astype(np.uint8), connectivity=4)
    seeded = np.zeros(int(bodies.max()) + 1, bool)
    seeded[np.unique(bodies[cores > 0])] = True
    alone = body & ~seeded[bodies]
    labels = np.where(alone, bodies + int(labels.max()), np.where(seeded[bodies], labels, 0)).astype(np.int32)
    return _in_a_row(labels), k


def _nearest(cores: Numbers, body: Mask) -> Numbers:
    """Each place of a body by the number of its nearest core."""
    if not cores.any():
        return np.zeros(cores.shape, np.int32)
    _, owner = cv2.distanceTransformWithLabels((cores == 0).astype(np.uint8), cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL)
    table = np.zeros(int(owner.max()) + 1, np.int32)
    table[owner[cores > 0]] = cores[cores > 0]
    return np.where(body, table[owner], 0).astype(np.int32)


def _in_a_row(labels: Numbers) -> Numbers:
    numbers, inverse = np.unique(labels, return_inverse=True)
    if numbers[0] != 0:
        return (inverse.reshape(labels.shape) + 1).astype(np.int32)
    return np.asarray(inverse.reshape(labels.shape), np.int32)


def means(labels: Numbers, plane: npt.NDArray[np.float32]) -> npt.NDArray[np.float64]:
    """Mean of a plane over each label, by number from 0."""
    flat = labels.ravel()
    count = np.maximum(np.bincount(flat), 1)
    return np.asarray(np.bincount(flat, weights=plane.ravel()) / count, np.float64)
