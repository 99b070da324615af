"""Spread, lacing, colour and shimmer by patches of a few millimetres, kept with a reading: so that a zone can be left out of them later.

Each patch holds what its part of the panel adds to a figure, as one byte; figures without a zone are the whole panel's, times what the patches say
with and without it, so that rounding cancels.
"""

from __future__ import annotations

import base64
import math
from typing import TYPE_CHECKING, Any, Final

import cv2
import numpy as np

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    import numpy.typing as npt

    from dribbet.sight.measure import Measured
    from dribbet.sight.zones import PanelPart

    Floats = npt.NDArray[np.float64]

PATCH_MM: Final = 2.5
FINE: Final = 8  # points of a patch along each side, by which a zone covers part of it
LEAST_FACE: Final = 1e-3  # of a patch
CHROMA_STEP: Final = 0.6  # C* of one byte
SHIMMER_STEP: Final = 1.5 / 255.0
NAMES: Final = ("covered", "lacing", "chroma", "shimmer")


def of_measured(m: Measured) -> dict[str, Any]:
    """Patches of a panel that was measured."""
    wide, high = max(round(m.width_mm / PATCH_MM), 1), max(round(m.height_mm / PATCH_MM), 1)

    def mean(plane: Any) -> Floats:
        return np.asarray(cv2.resize(np.asarray(plane, np.float32), (wide, high), interpolation=cv2.INTER_AREA), np.float64)

    covered = mean(m.spread.covered)
    chroma = mean(np.hypot(m.lab[..., 1], m.lab[..., 2]) * m.spread.covered) / np.maximum(covered, 1e-6)
    made = {
        "covered": covered * 255.0,
        "lacing": np.sqrt(mean(m.lacing.mask)) * 255.0,  # mostly little: fine steps where there is little
        "chroma": chroma / CHROMA_STEP,
    }
    if m.shimmer is not None and m.shimmer.energy is not None:
        made["shimmer"] = np.sqrt(mean(m.shimmer.energy * m.spread.covered) / np.maximum(covered, 1e-6)) / SHIMMER_STEP
    return {"wide": wide, "high": high, **{n: _packed(v) for n, v in made.items()}}


def _plane(patches: Mapping[str, Any], name: str) -> Floats | None:
    """One plane as numbers; None where it is not there or makes no sense."""
    try:
        data = np.frombuffer(base64.b64decode(patches[name], validate=True), np.uint8)
        return data.reshape(int(patches["high"]), int(patches["wide"])).astype(np.float64)
    except (KeyError, ValueError, TypeError):
        return None


def left(patches: Mapping[str, Any], zones: Sequence[PanelPart], width_mm: float, height_mm: float) -> Floats:
    """Share of each patch that lies outside all zones."""
    wide, high = int(patches["wide"]), int(patches["high"])
    x = (np.arange(wide * FINE) + 0.5) / (wide * FINE) * width_mm
    y = (np.arange(high * FINE) + 0.5) / (high * FINE) * height_mm
    out = np.zeros((high * FINE, wide * FINE), bool)
    for zone in zones:
        out |= zone.covers(x[None], y[:, None])
    return np.asarray(1.0 - out.reshape(high, FINE, wide, FINE).mean(axis=(1, 3)), np.float64)


def uncovered(patches: Mapping[str, Any], outlines_mm: Sequence[Sequence[Sequence[float]]], width_mm: float, height_mm: float) -> dict[str, Any]:
    """Patches of which what lies inside the outlines is not covered."""
    covered = _plane(patches, "covered")
    if covered is None:
        return dict(patches)
    high, wide = covered.shape
    fine = np.zeros((high * FINE, wide * FINE), np.uint8)
    scale = np.array([wide * FINE / width_mm, high * FINE / height_mm])
    cv2.fillPoly(fine, [np.round(np.array(line) * scale - 0.5).astype(np.int32) for line in outlines_mm if len(line) > 2], 1)
    bare = fine.reshape(high, FINE, wide, FINE).mean(axis=(1, 3)) * 255.0
    return {**patches, "covered": _packed(np.maximum(covered - bare, 0.0))}


def _packed(plane: Floats) -> str:
    """One byte each, as text."""
    return base64.b64encode(np.round(np.clip(plane, 0, 255)).astype(np.uint8).tobytes()).decode("ascii")


def without(result: Mapping[str, Any], patches: Mapping[str, Any], keep: Floats, face: Floats) -> dict[str, Any]:
    """Groups of a result that follow from the patches, with only so much of each patch kept; `face`: how much of each there was."""
    covered = _plane(patches, "covered")
    if covered is None or covered.shape != keep.shape or keep.sum() <= 0.0:
        return {}
    made: dict[str, Any] = {}
    some = np.maximum(face, LEAST_FACE)
    share = np.minimum(covered / 255.0 / some, 1.0)
    every = np.ones_like(keep)
    panel = result["panel"]
    left_mm2 = float(panel["width_mm"]) * float(panel["height_mm"]) * float(keep.mean())
    fraction = min(result["spread"]["fraction"] * _ratio(share, every, keep, face), 1.0)
    made["spread"] = {**result["spread"], "fraction": round(fraction, 5), "area_mm2": round(fraction * left_mm2, 1)}
    lacing = _plane(patches, "lacing")
    if lacing is not None:
        scale = _ratio((lacing / 255.0) ** 2 / some, every, keep, face)
        made["lacing"] = {
            **result["lacing"],
            "area_fraction": round(min(result["lacing"]["area_fraction"] * scale, 1.0), 5),
            "length_mm": round(result["lacing"]["length_mm"] * scale * float(keep.mean() / face.mean()), 1),
        }
    chroma = _plane(patches, "chroma")
    if chroma is not None:
        made["colour"] = {**result["colour"], "mean_chroma": round(result["colour"]["mean_chroma"] * _ratio(chroma, share, keep, face), 2)}
    shimmer = _plane(patches, "shimmer")
    if shimmer is not None and isinstance(result.get("shimmer"), dict):
        made["shimmer"] = {**result["shimmer"], "index": round(result["shimmer"]["index"] * math.sqrt(_ratio(shimmer**2, share, keep, face)), 4)}
    return made


def _ratio(plane: Floats, weight: Floats, keep: Floats, face: Floats) -> float:
    """Weighted mean of what is kept over that of the whole face."""
    whole, rest = (float((plane * weight * part).sum() / max((weight * part).sum(), 1e-9)) for part in (face, keep))
    return rest / whole if whole > 0.0 else 1.0
