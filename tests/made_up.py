"""Made-up records that many tests start from."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from itertools import count
from typing import TYPE_CHECKING, Any

from dribbet.records import (
    Check,
    CheckKind,
    Constants,
    Factor,
    Gauging,
    GaugingKind,
    Kind,
    Layer,
    Level,
    MarkKind,
    Material,
    Mix,
    MixMark,
    Response,
    Series,
    Varied,
    Wanted,
    Weighing,
)

if TYPE_CHECKING:
    from collections.abc import Callable

NOON = datetime(2026, 11, 19, 12, 0, tzinfo=UTC)
WATER = (Level(value=0.10), Level(value=0.16), Level(value=0.22))
CUP = (Layer(material="foam", share=0.5), Layer(material="teal", share=0.3), Layer(material="slate", share=0.2))


def ids(stem: str = "i") -> Callable[[], str]:
    """Identifiers i1, i2, ..."""
    numbers = count(1)
    return lambda: f"{stem}{next(numbers)}"


def numbers(*values: float) -> tuple[Level, ...]:
    """Levels of a factor that is a number."""
    return tuple(Level(value=v) for v in values)


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


def material(name: str, **changed: Any) -> Material:
    """A paint, unless changed; its id is its name."""
    plain: dict[str, Any] = {"kind": Kind.PAINT, "hex": "#336699", "density_kg_m3": 1200.0, "volume_solids": 0.4, "stock_kg": 0.5, "full_kg": 0.5}
    return Material(id=name, name=name, **(plain | changed))


def gauging(of: str, kind: str, value: float, **changed: Any) -> Gauging:
    """A measurement of a material at noon."""
    return Gauging(
        **({"id": f"{of}-{kind}", "material_id": of, "kind": GaugingKind(kind), "value": value, "readings": (value,), "at": NOON} | changed)
    )


def mix(name: str = "teal", **changed: Any) -> Mix:
    """A cup of 23 g paint, 46 g conditioner, 13 g water for recipe a."""
    plan = ((name, 0.023), ("conditioner", 0.046), ("water", 0.013))
    return Mix(**({"id": f"m-{name}", "series_id": "s1", "colour": name, "recipes": "a", "place": 1, "plan": plan} | changed))


def weighing(of: Mix, ingredient: str, kg: float, minute: float = 0.0, **changed: Any) -> Weighing:
    """An addition some minutes after noon."""
    when = NOON + timedelta(minutes=minute)
    return Weighing(**({"id": f"{of.id}-{ingredient}-{minute}", "mix_id": of.id, "ingredient": ingredient, "mass_kg": kg, "at": when} | changed))


def check(of: Mix, kind: str, value: float, minute: float = 30.0, **changed: Any) -> Check:
    """A reading some minutes after noon."""
    when = NOON + timedelta(minutes=minute)
    return Check(**({"id": f"{of.id}-{kind}-{minute}-{value}", "mix_id": of.id, "kind": CheckKind(kind), "value": value, "at": when} | changed))


def mark(of: Mix, kind: str, minute: float, note: str = "") -> MixMark:
    """A moment of a cup some minutes after noon."""
    return MixMark(id=f"{of.id}-{kind}-{minute}", mix_id=of.id, kind=MarkKind(kind), at=NOON + timedelta(minutes=minute), note=note)


def result(cells: int = 2, *, diameter_mm: float = 4.0, crack_mm: float = 0.0, **groups: Any) -> dict[str, Any]:
    """What the reader might have found: so many round cells in a row, and a crack; whole groups may be replaced."""
    item = {"area_mm2": 12.57, "diameter_mm": diameter_mm, "circularity": 0.9, "elongation": 1.1}
    plain: dict[str, Any] = {
        "schema": "dribbet-measure/1",
        "panel": {"width_mm": 200.0, "height_mm": 150.0, "px_per_mm": 6.0, "corners_px": [[0.0, 0.0], [1200.0, 0.0], [1200.0, 900.0], [0.0, 900.0]]},
        "light": {"card_found": True, "exposure_ev": 0.0, "white_balance": [1.0, 1.0, 1.0], "sharpness": 0.3, "warnings": []},
        "cells": {
            "count": cells, "per_dm2": round(cells / 3.0, 2), "area_fraction": round(cells * 12.57 / 30_000.0, 5), "median_diameter_mm": diameter_mm,
            "d10_mm": diameter_mm, "d90_mm": diameter_mm, "mean_circularity": 0.9, "touching_fraction": 0.0,
            "items": [{"x_mm": 10.0 + 8.0 * i, "y_mm": 20.0, **item} for i in range(cells)],
        },
        "pinholes": {"count": 0},
        "lacing": {"area_fraction": 0.0, "length_mm": 0.0},
        "cracks": {"length_mm": crack_mm, "area_fraction": 0.0, "mean_width_mm": 0.3, "max_width_mm": 0.5, "count": int(crack_mm > 0.0)},
        "spread": {"fraction": 1.0, "area_mm2": 30_000.0, "bare_corners": []},
        "shimmer": None,
        "colour": {"mean_chroma": 30.0, "muddy_fraction": 0.1, "shares": [{"hex": "#336699", "share": 1.0}]},
    }  # fmt: skip
    return plain | groups
