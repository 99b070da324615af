"""Evaluates a small boosted forest from plain arrays (importing a learning library costs over a second).

The forests were grown by `training/grow.py` on panels drawn by our own renderers; no photograph of the public set was used. Each file holds,
per tree, arrays of node feature, threshold, left, right and leaf value.
"""

from __future__ import annotations

from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING, Final

import numpy as np

if TYPE_CHECKING:
    import numpy.typing as npt

    Floats = npt.NDArray[np.float64]

HERE: Final = Path(__file__).parent


@cache
def _forest(name: str) -> dict[str, npt.NDArray[np.float64]]:
    with np.load(HERE / f"{name}.npz") as file:
        return {key: file[key] for key in file.files}


def scores(name: str, features: npt.NDArray[np.float32]) -> Floats:
    """Raw scores, shape (rows, classes): sums of leaves over the trees of each class plus its baseline.

    Parameters
    ----------
    features : ndarray, shape (rows, columns)
        In the order in which the forest was grown.
    """
    forest = _forest(name)
    feature, threshold = forest["feature"].astype(np.int64), forest["threshold"]
    left, right, value = forest["left"].astype(np.int64), forest["right"].astype(np.int64), forest["value"]
    roots, classes = forest["root"].astype(np.int64), forest["tree_class"].astype(np.int64)
    rows = len(features)
    total = np.tile(forest["baseline"], (rows, 1))
    every = np.arange(rows)
    for root, which in zip(roots, classes, strict=True):
        node = np.full(rows, root)
        for _ in range(int(forest["depth"])):
            inner = left[node] >= 0
            if not inner.any():
                break
            goes_left = features[every, feature[node]] <= threshold[node]
            node = np.where(inner, np.where(goes_left, left[node], right[node]), node)
        total[:, which] += value[node]
    return total
