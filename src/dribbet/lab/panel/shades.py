"""Colours of a photograph given to the paints of a cup: which share of the view each of them has."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Final

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

FOREIGN: Final = 28.0
"""ΔE beyond which a colour on the panel is none of the paints: a blend, or the base."""


def lab(hex_colour: str) -> tuple[float, float, float]:
    """CIELAB (D65, 2°) of an sRGB hex colour, by IEC 61966-2-1 and CIE 15.

    >>> [round(v, 1) for v in lab("#FF0000")]
    [53.2, 80.1, 67.2]
    """
    coded = [int(hex_colour[i : i + 2], 16) / 255.0 for i in (1, 3, 5)]
    r, g, b = (c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in coded)
    x = (0.4124564 * r + 0.3575761 * g + 0.1804375 * b) / 0.95047
    y = 0.2126729 * r + 0.7151522 * g + 0.0721750 * b
    z = (0.0193339 * r + 0.1191920 * g + 0.9503041 * b) / 1.08883
    fx, fy, fz = (v ** (1 / 3) if v > 216 / 24389 else (24389 / 27 * v + 16) / 116 for v in (x, y, z))
    return 116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)


def shares_of(measured: Sequence[tuple[str, float]], paints: Mapping[str, str]) -> dict[str, float]:
    """Share of the view of each paint, from (hex, share) of a photograph; what is none of them is left out, the rest sums to one.

    Each measured colour goes to the paint whose swatch is nearest (CIE76), if it lies within `FOREIGN`.
    """
    known = {name: lab(shade) for name, shade in paints.items()}
    made = dict.fromkeys(paints, 0.0)
    for shade, share in measured:
        here = lab(shade)
        name, far = min(((n, math.dist(here, there)) for n, there in known.items()), key=lambda x: x[1])
        if far <= FOREIGN:
            made[name] += share
    total = sum(made.values())
    return {n: v / total for n, v in made.items()} if total else {}
