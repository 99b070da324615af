"""From photographs in files to a panel's figures: what a window, a command or a helper of theirs asks for in one call.

What reads is imported where it reads: a window that has its helper read need not hold it.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from pathlib import Path

    from dribbet.records import Report


@dataclass(frozen=True, slots=True, kw_only=True)
class ToRead:
    """One panel on its photographs."""

    main: Path
    left: Path | None = None
    right: Path | None = None
    """The same pose with the lamp moved; used where both are there and of the main photograph's size."""
    size_mm: tuple[float, float]
    width_px: int = 0
    """Width in which `corners_px` are given; 0: as the file is loaded."""
    corners_px: tuple[tuple[float, float], ...] = ()
    """Clockwise from the panel's top left; none: they are looked for."""
    sheet_mm: tuple[float, float] | None = None
    piece: tuple[float, float, float, float] | None = None
    """Of a piece of a sheet: the sheet's size, whose corners are given, and the piece's box as shares of it."""


def read(report: Report, order: ToRead) -> dict[str, Any]:
    """Figures of a panel, with the outlines of what was found, in the photograph's own pixels and the panel's millimetres.

    Raises
    ------
    SightError
        If a file is no photograph, or the panel cannot be found on it.
    """
    import numpy as np

    from dribbet.sight import measure as sight
    from dribbet.sight.geometry import part_of
    from dribbet.sight.load import load

    main = load(order.main).rgb
    left, right = (load(path).rgb if path is not None else None for path in (order.left, order.right))
    both = left is not None and right is not None and left.shape == main.shape == right.shape
    wider = order.width_px / main.shape[1] if order.width_px else 1.0  # photos of before were kept with the size of the file, however large
    corners = np.array(order.corners_px) / wider if order.corners_px else None
    if order.piece is not None and order.sheet_mm is not None:  # measured as a panel of its own, cut out along the borders' strips
        if corners is None:
            corners, _, _, _ = sight.locate(main, *order.sheet_mm, None)
        corners = part_of(corners, order.piece)
    photos = sight.Lamps(main=main, left=left if both else None, right=right if both else None)
    found = sight.measure(photos, *order.size_mm, corners_px=corners, report=report)
    return sight.as_json(found, shrink=wider) | {"outlines": sight.outlines(found)}
