"""Evaluates a small boosted forest from plain arrays (importing a learning library costs over a second).

The forests were grown by `training/grow.py` on panels drawn by our own renderers; no photograph of the public set was used. Each file holds,
per tree, arrays of node feature, threshold, left, right and leaf value.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING, Final

import numpy as np

if TYPE_CHECKING:
    import numpy.typing as npt

    Floats = npt.NDArray[np.float64]
    Whole = npt.NDArray[np.int64]

HERE: Final = Path(__file__).parent


@dataclass(frozen=True, slots=True, kw_only=True)
class Forest:
    """Nodes of all trees of a forest, one after another; a leaf leads to itself."""

    feature: Whole
    threshold: Floats
    after: Whole
    """Where to go on: at 2n from node n where the feature is greater than the threshold, at 2n + 1 where it is not."""
    value: Floats
    roots: Whole
    classes: Whole
    baseline: Floats
    depth: int


@cache
def _forest(name: str) -> Forest:
    with np.load(HERE / f"{name}.npz") as file:
        left, right = (file[side].astype(np.int64) for side in ("left", "right"))
        here = np.arange(len(left))
        return Forest(
            feature=file["feature"].astype(np.int64),
            threshold=file["threshold"],
            after=np.stack([np.where(left >= 0, right, here), np.where(left >= 0, left, here)], axis=1).ravel(),
            value=file["value"],
            roots=file["root"].astype(np.int64),
            classes=file["tree_class"].astype(np.int64),
            baseline=file["baseline"],
            depth=int(file["depth"]),
        )


def scores(name: str, features: npt.NDArray[np.float32]) -> Floats:
    """Raw scores, shape (rows, classes): sums of leaves over the trees of each class plus its baseline.

    Parameters
    ----------
    features : ndarray, shape (rows, columns)
        In the order in which the forest was grown.
    """
    forest = _forest(name)
    rows, columns = features.shape
    total = np.tile(forest.baseline, (rows, 1))
    flat, begins = np.ascontiguousarray(features).ravel(), np.arange(rows) * columns
    for root, which in zip(forest.roots, forest.classes, strict=True):
        node = np.full(rows, root)
        for _ in range(forest.depth):
            further = forest.after[2 * node + (flat[begins + forest.feature[node]] <= forest.threshold[node])]
            if np.array_equal(further, node):
                break
            node = further
        total[:, which] += forest.value[node]
    return total
