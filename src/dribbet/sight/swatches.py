"""Colours of a photograph given to the paints of a cup: which share of the view each of them has."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

import numpy as np

from dribbet.sight.colour import ciede2000, lab_of

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    import numpy.typing as npt

FOREIGN: Final = 22.0
"""CIEDE2000 beyond which a colour on the panel is none of the paints: a blend, or the base."""
TOLD_APART: Final = 8.0
"""CIEDE2000 up to which two swatches are one colour on a photograph: lamps, drying and thin films move a paint by about as much."""


def labs(hexes: Sequence[str]) -> npt.NDArray[np.float64]:
    """CIELAB of hex colours, shape (n, 3)."""
    srgb = np.array([[[int(h[i : i + 2], 16) / 255.0 for i in (1, 3, 5)] for h in hexes]], np.float32)
    return np.asarray(lab_of(srgb)[0], np.float64)


def shares_by_swatch(measured: Sequence[tuple[str, float]], paints: Mapping[str, str]) -> dict[str, float]:
    """Share of the view of each paint, from (hex, share) of a photograph; what is none of them is left out, the rest sums to one.

    Each measured colour goes to the paint whose swatch is nearest (CIEDE2000), if it lies within `FOREIGN`.
    """
    made = given(measured, paints)
    total = sum(made.values())
    return {n: v / total for n, v in made.items()} if total else {}


def given(measured: Sequence[tuple[str, float]], paints: Mapping[str, str]) -> dict[str, float]:
    """The same as it was measured: what is none of the paints is missing from the sum."""
    if not measured or not paints:
        return {}
    names, swatches = list(paints), labs(list(paints.values()))
    made = dict.fromkeys(names, 0.0)
    for lab, (_, share) in zip(labs([h for h, _ in measured]), measured, strict=True):
        far = ciede2000(np.broadcast_to(lab, swatches.shape), swatches)
        if float(far.min()) <= FOREIGN:
            made[names[int(np.argmin(far))]] += share
    return made


def alike(paints: Mapping[str, str]) -> list[list[str]]:
    """Paints in groups whose swatches a photograph cannot tell apart (CIEDE2000 up to `TOLD_APART`, from one to the next)."""
    groups: list[list[str]] = []
    lab = dict(zip(paints, labs(list(paints.values())), strict=True)) if paints else {}
    for name in paints:
        near = [g for g in groups if any(float(ciede2000(lab[name][None], lab[other][None])[0]) <= TOLD_APART for other in g)]
        groups = [g for g in groups if g not in near] + [[*(n for g in near for n in g), name]]
    return groups
