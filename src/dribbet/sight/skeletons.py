"""Lengths of one-pixel skeletons."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

if TYPE_CHECKING:
    from dribbet.sight.arrays import Mask

# Unbiased weights of straight and diagonal links of a digitised line (Dorst and Smeulders 1987, Computer Vision, Graphics
# and Image Processing 40).
STRAIGHT: Final = 0.948
DIAGONAL: Final = 1.343


def skeleton_length_px(skeleton: Mask) -> float:
    """Length of a skeleton; a diagonal link counts only where its two pixels are not joined at right angles too."""
    s = skeleton
    straight = (s[:, 1:] & s[:, :-1]).sum() + (s[1:] & s[:-1]).sum()
    falling = (s[1:, 1:] & s[:-1, :-1] & ~s[1:, :-1] & ~s[:-1, 1:]).sum()
    rising = (s[1:, :-1] & s[:-1, 1:] & ~s[1:, 1:] & ~s[:-1, :-1]).sum()
    return float(STRAIGHT * straight + DIAGONAL * (falling + rising))
