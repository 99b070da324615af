"""Made-up records that many tests start from."""

from __future__ import annotations

from datetime import UTC, datetime
from itertools import count
from typing import TYPE_CHECKING, Any

from dribbet.records import Constants, Factor, Layer, Level, Response, Series, Varied, Wanted

if TYPE_CHECKING:
    from collections.abc import Callable

NOON = datetime(2026, 11, 19, 12, 0, tzinfo=UTC)
WATER = (Level(value=0.10), Level(value=0.16), Level(value=0.22))
CUP = (Layer(material="foam", share=0.5), Layer(material="teal", share=0.3), Layer(material="slate", share=0.2))


def ids(stem: str = "i") -> Callable[[], str]:
    """Identifiers i1, i2, ..."""
    numbers = count(1)
    return lambda: f"{stem}{next(numbers)}"


def series(**changed: Any) -> Series:
    """Three water shares on two panels each, unless changed; `factor` and `levels`, `crossed` and `crossed_levels` make `varied`."""
    first = Varied(factor=changed.pop("factor", Factor.WATER_SHARE), levels=changed.pop("levels", WATER))
    second = changed.pop("crossed", None)
    more = (Varied(factor=second, levels=changed.pop("crossed_levels")),) if second else ()
    plain: dict[str, Any] = {
        "id": "s1",
        "code": "T1",
        "name": "Thrift 01",
        "varied": (first, *more),
        "repeats": 2,
        "responses": ((Response.CRACK_LENGTH, Wanted.LESS), (Response.CELL_COUNT, Wanted.MORE)),
        "constants": Constants(),
        "layers": CUP,
        "created_at": NOON,
    }
    return Series(**(plain | changed))
