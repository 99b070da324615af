"""From photographs in files to a panel's figures: what a window, a command or a helper of theirs asks for in one call.

What reads is imported where it reads: a window that has its helper read need not hold it.
"""

from __future__ import annotations

import tempfile
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any, Final

from dribbet.records import Seen, Sign
from dribbet.sight.arrays import SightError

if TYPE_CHECKING:
    from datetime import datetime

    from dribbet.records import Report
    from dribbet.sight.round_face import Disc


@dataclass(frozen=True, slots=True, kw_only=True)
class ToRead:
    """One panel on its photographs."""

    main: Path
    left: Path | None = None
    right: Path | None = None
    """The same pose with the lamp moved; used where both are there and of the main photograph's size."""
    edge: Path | None = None
    """The same pose with the edge of a lit board mirrored in the panel; used where it is of that size."""
    size_mm: tuple[float, float]
    width_px: int = 0
    """Width in which `corners_px` are given; 0: as the file is loaded."""
    corners_px: tuple[tuple[float, float], ...] = ()
    """Clockwise from the panel's top left; none: they are looked for."""
    sheet_mm: tuple[float, float] | None = None
    piece: tuple[float, float, float, float] | None = None
    """Of a piece of a sheet: the sheet's size, whose corners are given, and the piece's box as shares of it."""
    disc: Disc | None = None
    """The face of a round panel, within `size_mm`."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Looks:
    """What a photograph that comes in shows of itself."""

    width_px: int
    height_px: int
    taken_at: datetime | None
    corners_px: tuple[tuple[float, float], ...]
    """Clockwise from the panel's top left; set in from the picture's edges where none were found."""
    seen: tuple[Seen, ...]


NO_PANEL_INSET: Final = 0.15
"""Share of a side by which corners that nobody found are set in, for a person to drag."""
ENOUGH_PX_PER_MM: Final = 6.0
"""To tell sharpness and glare by."""


def look_at(report: Report, file: Path | bytes, suffix: str, size_mm: tuple[float, float], *, is_round: bool = False) -> Looks:
    """Upright size, corners and fitness of a photograph in a file, or of a file's bytes.

    Raises
    ------
    SightError
        If it is no photograph.
    """
    from dribbet.sight import geometry, quality
    from dribbet.sight.load import load
    from dribbet.sight.measure import locate
    from dribbet.sight.round_face import Disc

    report(0, 3)
    if isinstance(file, bytes):
        with tempfile.NamedTemporaryFile(suffix=suffix) as kept:
            kept.write(file)
            kept.flush()
            loaded = load(Path(kept.name))
    else:
        loaded = load(file)
    report(1, 3)
    h, w = loaded.rgb.shape[:2]
    seen = list(loaded.signs)
    try:
        found, _, card, how = locate(loaded.rgb, *size_mm, None, is_round=is_round, px_per_mm=loaded.px_per_mm)
    except SightError:
        near, far = NO_PANEL_INSET, 1 - NO_PANEL_INSET
        corners = tuple((float(x * w), float(y * h)) for x, y in ((near, near), (far, near), (far, far), (near, far)))
        seen.append(Seen(sign=Sign.CORNERS_NONE))
        return Looks(width_px=w, height_px=h, taken_at=loaded.taken_at, corners_px=corners, seen=tuple(seen))
    report(2, 3)
    k = min(ENOUGH_PX_PER_MM, geometry.working_scale(*size_mm))
    flat = geometry.rectify(loaded.rgb, found, *size_mm, k)
    if is_round:
        flat = Disc.within(*size_mm).mirrored(flat, k)
    fit = quality.assess(flat, found, *size_mm, k, geometry.photo_scale(found, *size_mm))
    light = {Sign.WHITE_OUT, Sign.BLACK}
    for sign in fit.signs:
        if sign.sign in (Sign.TILT, Sign.STEEP):
            if card is None:
                seen.append(Seen(sign=Sign.NO_CARD))
            elif not light & {s.sign for s in seen}:
                seen.append(Seen(sign=Sign.EXPOSURE, figures=(card.exposure_ev,)))
        seen.append(sign)
    if how is not None and how.seen is not None:
        seen.append(how.seen)
    report(3, 3)
    corners = tuple((round(float(x), 2), round(float(y), 2)) for x, y in found)
    return Looks(width_px=w, height_px=h, taken_at=loaded.taken_at, corners_px=corners, seen=tuple(seen))


def read(report: Report, order: ToRead) -> dict[str, Any]:
    """Figures of a panel, with the outlines of what was found, in the photograph's own pixels and the panel's millimetres.

    Raises
    ------
    SightError
        If a file is no photograph, or the panel cannot be found on it.
    """
    import numpy as np

    from dribbet.sight import measure as sight
    from dribbet.sight import patches
    from dribbet.sight.geometry import part_of
    from dribbet.sight.lamps import on_file
    from dribbet.sight.load import load

    loaded = load(order.main)
    main = loaded.rgb
    wider = order.width_px / main.shape[1] if order.width_px else 1.0  # photos of before were kept with the size of the file, however large
    corners = np.array(order.corners_px) / wider if order.corners_px else None
    if order.piece is not None and order.sheet_mm is not None:  # measured as a panel of its own, cut out along the borders' strips
        if corners is None:
            corners, _, _, _ = sight.locate(main, *order.sheet_mm, None, is_round=order.disc is not None, px_per_mm=loaded.px_per_mm)
        corners = part_of(corners, order.piece)
    photos = sight.Lamps(
        main=main,
        left=on_file(order.left, main),
        right=on_file(order.right, main),
        edge=on_file(order.edge, main),
        px_per_mm=loaded.px_per_mm,
    )
    found = sight.measure(photos, *order.size_mm, corners_px=corners, disc=order.disc, report=report)
    return sight.as_json(found, shrink=wider) | {"outlines": sight.outlines(found), "patches": patches.of_measured(found)}
