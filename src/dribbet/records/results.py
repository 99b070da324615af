"""What the result of a reading must hold to be one: the keys of `dribbet-measure/1`, each with the range it can have."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Mapping
from enum import StrEnum
from typing import Any, Final

from dribbet.records.errors import RecordError

Test = Callable[[object], bool]
_HEX: Final = re.compile(r"#[0-9A-Fa-f]{6}\Z")
MOST_ITEMS: Final = 200_000


def _figure(low: float, high: float) -> Test:
    return lambda v: isinstance(v, (int, float)) and not isinstance(v, bool) and math.isfinite(v) and low <= v <= high


def _count(v: object) -> bool:
    return isinstance(v, int) and not isinstance(v, bool) and 0 <= v <= MOST_ITEMS


def _list_of(test: Test, least: int = 0, most: int = MOST_ITEMS) -> Test:
    return lambda v: isinstance(v, list) and least <= len(v) <= most and all(test(i) for i in v)


def _with(**keys: Test) -> Test:
    return lambda v: isinstance(v, dict) and all(name in v and test(v[name]) for name, test in keys.items())


_text: Test = lambda v: isinstance(v, str) and len(v) <= 2000  # noqa: E731
_share = _figure(0.0, 1.0)
_mm = _figure(0.0, 1e6)
_point = _list_of(_figure(-1e6, 1e6), 2, 2)
_lines = _list_of(_list_of(_point))
_place = _figure(-1e4, 1e5)
_cell = _with(x_mm=_place, y_mm=_place, area_mm2=_mm, diameter_mm=_mm, circularity=_figure(0.0, 2.0), elongation=_figure(0.0, 1e4))


class FaultKind(StrEnum):
    """What a fault of the surface is."""

    PIT = "pit"
    BUMP = "bump"


RESULT: Final[dict[str, dict[str, Test]]] = {
    "panel": {"width_mm": _figure(1.0, 1e5), "height_mm": _figure(1.0, 1e5), "px_per_mm": _figure(0.01, 1e3), "corners_px": _list_of(_point, 4, 4)},
    "light": {"card_found": lambda v: isinstance(v, bool), "exposure_ev": _figure(-20.0, 20.0), "warnings": _list_of(_text)},
    "cells": {
        "count": _count, "per_dm2": _figure(0.0, 1e6), "area_fraction": _share, "median_diameter_mm": _mm, "d10_mm": _mm, "d90_mm": _mm,
        "mean_circularity": _figure(0.0, 2.0), "touching_fraction": _share, "items": _list_of(_cell),
    },
    "pinholes": {"count": _count},
    "lacing": {"area_fraction": _share, "length_mm": _figure(0.0, 1e7)},
    "cracks": {"length_mm": _figure(0.0, 1e7), "area_fraction": _share, "mean_width_mm": _mm, "max_width_mm": _mm, "count": _count},
    "spread": {"fraction": _share, "area_mm2": _figure(0.0, 1e8), "bare_corners": _list_of(_text, 0, 4)},
    "colour": {
        "mean_chroma": _figure(0.0, 400.0), "muddy_fraction": _share,
        "shares": _list_of(_with(hex=lambda v: isinstance(v, str) and bool(_HEX.match(v)), share=_share)),
    },
}  # fmt: skip
"""Group, key, and what its value must pass; other keys may stand beside them."""
SHIMMER: Final[dict[str, Test]] = {"index": _figure(0.0, 1e3), "glints_per_cm2": _figure(0.0, 1e6)}
SURFACE: Final[dict[str, Test]] = {
    "slope": _figure(0.0, 10.0),
    "count": _count,
    "faults": _list_of(_with(kind=lambda v: v in list(FaultKind), x_mm=_place, y_mm=_place, width_mm=_mm, slope=_figure(0.0, 10.0))),
}
GLOSSES: Final = ("gloss", "semi-gloss", "satin", "matte")
SHINE: Final[dict[str, Test]] = {
    "step": _figure(0.0, 10.0), "contrast": _figure(0.0, 10.0), "width_mm": lambda v: v is None or _mm(v), "grade": lambda v: v in GLOSSES,
}  # fmt: skip
_piece = _list_of(_figure(-1e4, 1e5), 4, 4)
SHINE_PIECES: Final = _list_of(lambda v: _piece(v) and v[3] > 0.0)  # type: ignore[index]
"""Where each lies, contrast and width: they may be missing."""
OUTLINES: Final[dict[str, Test]] = {"cells": _lines, "cracks": _lines, "edge": _lines, "unsure": _lines, "lines": _lines}


def faults_of(result: Mapping[str, Any]) -> list[dict[str, Any]]:
    """Pits and bumps that a result lists; none where no raking lamps were read."""
    found: list[dict[str, Any]] = (result.get("surface") or {}).get("faults", [])
    return found


def check_result(result: Any) -> None:
    """Refuse what is no result of the reader.

    Raises
    ------
    RecordError
        Naming the first figure that is missing or cannot be.
    """
    if not isinstance(result, dict):
        raise RecordError("A reading holds no figures. Read its panel again.")
    groups = dict(RESULT)
    if result.get("shimmer") is not None:
        groups["shimmer"] = SHIMMER
    if result.get("surface") is not None:
        groups["surface"] = SURFACE
    if result.get("shine") is not None:
        groups["shine"] = SHINE
    for group, keys in groups.items():
        held = result.get(group)
        for key, test in keys.items():
            if not isinstance(held, dict) or key not in held or not test(held[key]):
                raise RecordError(f"A reading says nothing that can be of {group} {key}. Read its panel again.")
    if result["cells"]["count"] != len(result["cells"]["items"]):
        raise RecordError("A reading counts other cells than it lists. Read its panel again.")
    if not SHINE_PIECES((result.get("shine") or {}).get("pieces", [])):
        raise RecordError("The pieces of a mirrored edge in a reading cannot be. Read its panel again.")
    surface = result.get("surface")
    if surface is not None and not _figure(0.0, 10.0)(surface.get("slope_sd", 0.0)):
        raise RecordError("A reading says nothing that can be of surface slope_sd. Read its panel again.")
    if surface is not None and surface["count"] != len(surface["faults"]):
        raise RecordError("A reading counts other faults than it lists. Read its panel again.")
    outlines = result.get("outlines", {})
    if not isinstance(outlines, dict) or any(name in outlines and not test(outlines[name]) for name, test in OUTLINES.items()):
        raise RecordError("The outlines of a reading cannot be drawn. Read its panel again.")
