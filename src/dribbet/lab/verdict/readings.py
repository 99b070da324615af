"""Which readings still hold: those whose photographs do."""

from __future__ import annotations

from typing import TYPE_CHECKING

from dribbet.records import Lamp, order

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence

    from dribbet.records import Photo, Reading


def that_hold(readings: Sequence[Reading], photos: Sequence[Photo]) -> tuple[Reading, ...]:
    """Readings whose photographs were neither left out nor replaced since.

    A reading rests on its photograph with the diffuse lamp; where it says a shimmer, on those with the lamp left and right too, and where it says a
    shine on that with the mirrored edge.
    """
    alive = {p.id: p for p in photos if not p.left_out}
    return tuple(r for r in readings if r.photo_id in alive and _lamps_hold(r, alive.values(), alive[r.photo_id].take))


def _lamps_hold(reading: Reading, photos: Iterable[Photo], take: int) -> bool:
    mine = [p for p in photos if p.panel_id == reading.panel_id and p.stage is reading.stage and p.take == take]
    wanted = [*((Lamp.LEFT, Lamp.RIGHT) if reading.result.get("shimmer") else ()), *((Lamp.EDGE,) if reading.result.get("shine") else ())]
    return all(any(p.lamp is lamp and order(p) <= order(reading) for p in mine) for lamp in wanted)
