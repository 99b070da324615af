"""Lengths of one-pixel skeletons."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Final

import numpy as np

if TYPE_CHECKING:
    import numpy.typing as npt

    from dribbet.sight.arrays import Mask

    Link = tuple[Any, Mask]

# Unbiased weights of straight and diagonal links of a digitised line (Dorst and Smeulders 1987, Computer Vision, Graphics
# and Image Processing 40).
STRAIGHT: Final = 0.948
DIAGONAL: Final = 1.343


def skeleton_length_px(skeleton: Mask) -> float:
    """Length of a skeleton; a diagonal link counts only where its two pixels are not joined at right angles too."""
    straight, diagonal = (sum(int(there.sum()) for _, there in links) for links in _links(skeleton))
    return float(STRAIGHT * straight + DIAGONAL * diagonal)


def skeleton_lengths_px(skeleton: Mask, numbers: npt.NDArray[np.int32], count: int) -> npt.NDArray[np.float64]:
    """Length of each numbered part of a skeleton, shape (count,); `numbers` from 1, the same for pixels that touch."""
    told = np.zeros(count + 1)
    for weight, links in zip((STRAIGHT, DIAGONAL), _links(skeleton), strict=True):
        told += weight * sum((np.bincount(numbers[at][there], minlength=count + 1) for at, there in links), np.zeros(count + 1))
    return told[1:]


def _links(s: Mask) -> tuple[tuple[Link, Link], tuple[Link, Link]]:
    """Where two pixels are joined at right angles, and where only across a corner: the window of one of them, and a mask of it."""
    right, down, below, left = np.s_[:, 1:], np.s_[1:], np.s_[1:, 1:], np.s_[1:, :-1]
    straight = (right, s[:, 1:] & s[:, :-1]), (down, s[1:] & s[:-1])
    falling = s[1:, 1:] & s[:-1, :-1] & ~s[1:, :-1] & ~s[:-1, 1:]
    rising = s[1:, :-1] & s[:-1, 1:] & ~s[1:, 1:] & ~s[:-1, :-1]
    return straight, ((below, falling), (left, rising))
