"""Pictures of two stacks that turn over, computed in a process of its own."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np

from dribbet.lab.cup.overturning import Stack

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.lab.cup.overturning import Wet
    from dribbet.records import Report


@dataclass(frozen=True)
class TurnFrame:
    """One moment of one stack: the view from above (rows, columns, 3) uint8, and the upper faces along its middle (N, columns) in m."""

    seconds: float
    above: Any
    section: Any


def turned(
    report: Report,
    cups: Sequence[tuple[Sequence[Wet], Sequence[str]]],
    ground: str,
    shape: tuple[int, int],
    width_m: float,
    seconds: float,
    count: int,
) -> list[list[TurnFrame]]:
    """Frames of each cup, begun from the same unevenness."""
    stacks = [Stack(list(wet), shape=shape, width_m=width_m, seed=7) for wet, _ in cups]
    colours = [np.array([_rgb(h) for h in hexes]) for _, hexes in cups]
    made: list[list[TurnFrame]] = [[] for _ in cups]
    for i in range(count + 1):
        for stack, shade, frames in zip(stacks, colours, made, strict=True):
            if i:
                stack.run(seconds / count)
            seen = stack.seen()
            picture = np.tensordot(np.moveaxis(seen, 0, -1), shade, axes=1) + (1.0 - seen.sum(axis=0))[..., None] * _rgb(ground)
            frames.append(TurnFrame(stack.time_s, np.clip(picture, 0, 255).astype(np.uint8), stack.section().astype(np.float32)))
        report(i, count)
    return made


def _rgb(colour: str) -> Any:
    return np.array([int(colour[i : i + 2], 16) for i in (1, 3, 5)], float)
