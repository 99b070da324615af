"""Zones of a panel that count for nothing, or its rim and its middle apart: what was read there is taken out of every figure that can be taken apart.

Cells go by their middle, cracks and a mirrored edge by their pieces, areas by what is left of the panel; spread, lacing, chroma and shimmer by the
patches that a reading keeps (`patches`). Readings of before have none: those four stay as they are in them.
"""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Final, Protocol

import numpy as np

from dribbet.records import Where
from dribbet.sight import patches, shine_figures
from dribbet.sight.cell_figures import cell_figures
from dribbet.sight.corrected import touching_cells
from dribbet.sight.round_face import Disc

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    import numpy.typing as npt

    from dribbet.records import Mishap

    Plane = npt.NDArray[Any] | np.floating[Any]

RIM_SHARE: Final = 0.15  # of the shorter side: where paint runs over the edge, thins out and dries first
GRID: Final = 400  # points along the longer side, by which the area of overlapping zones is counted


@dataclass(frozen=True, slots=True)
class Zone:
    """A disc on the panel in mm."""

    x_mm: float
    y_mm: float
    radius_mm: float

    def holds(self, x_mm: float, y_mm: float) -> bool:
        """Whether a point lies in it."""
        return bool(self.covers(np.float64(x_mm), np.float64(y_mm)))

    def covers(self, x_mm: Plane, y_mm: Plane) -> Plane:
        """Which of many points lie in it; shapes as NumPy broadcasts them."""
        return np.asarray(np.hypot(x_mm - self.x_mm, y_mm - self.y_mm) <= self.radius_mm)


@dataclass(frozen=True, slots=True)
class Band:
    """The rim of a panel, `rim_mm` wide along all its sides."""

    width_mm: float
    height_mm: float
    rim_mm: float

    def holds(self, x_mm: float, y_mm: float) -> bool:
        """Whether a point lies in it."""
        return bool(self.covers(np.float64(x_mm), np.float64(y_mm)))

    def covers(self, x_mm: Plane, y_mm: Plane) -> Plane:
        """Which of many points lie in it; shapes as NumPy broadcasts them."""
        inner = (np.abs(x_mm - self.width_mm / 2) <= self.width_mm / 2 - self.rim_mm) & (
            np.abs(y_mm - self.height_mm / 2) <= self.height_mm / 2 - self.rim_mm
        )
        return np.asarray(~inner)


class PanelPart(Protocol):
    """A part of a panel, in mm."""

    def holds(self, x_mm: float, y_mm: float) -> bool:
        """Whether a point lies in it."""

    def covers(self, x_mm: Plane, y_mm: Plane) -> Plane:
        """Which of many points lie in it; shapes as NumPy broadcasts them."""


@dataclass(frozen=True, slots=True)
class Outside:
    """All but a part of a panel: what lies beyond a round rim, or elsewhere than where a person points."""

    of: PanelPart

    def holds(self, x_mm: float, y_mm: float) -> bool:
        """Whether a point lies in it."""
        return not self.of.holds(x_mm, y_mm)

    def covers(self, x_mm: Plane, y_mm: Plane) -> Plane:
        """Which of many points lie in it; shapes as NumPy broadcasts them."""
        return np.asarray(~np.asarray(self.of.covers(x_mm, y_mm)))


def rim_mm(width_mm: float, height_mm: float) -> float:
    """How wide a panel's rim is."""
    return RIM_SHARE * min(width_mm, height_mm)


def part_of(result: Mapping[str, Any], part: Where, zones: Sequence[Zone] = (), here: Zone | None = None) -> dict[str, Any]:
    """A reading's figures of its middle, its rim, the place `here`, or the whole, with these zones left out of it."""
    if part is Where.WHOLE or (part is Where.HERE and here is None):
        return without(result, zones)
    if here is not None and part is Where.HERE:
        return without(result, [*zones, Outside(here)])
    width, height = (float(result["panel"][k]) for k in ("width_mm", "height_mm"))
    disc, wide = Disc.of_result(result["panel"]), rim_mm(width, height)
    rim: PanelPart = Band(width, height, wide) if disc is None else Outside(disc.smaller(wide))
    return without(result, [*zones, Outside(rim) if part is Where.RIM else rim])


def zones_of(mishaps: Sequence[Mishap], width_mm: float, height_mm: float) -> tuple[Zone, ...]:
    """Zones that are left out, from the mishaps of one panel."""
    return tuple(
        Zone(m.x_share * width_mm, m.y_share * height_mm, m.reach_share * width_mm)
        for m in mishaps
        if m.zone_out and not m.taken_back and m.x_share is not None and m.y_share is not None
    )


def share_out(zones: Sequence[PanelPart], width_mm: float, height_mm: float) -> float:
    """Share of a panel's face that its zones cover, overlaps counted once."""
    if not zones:
        return 0.0
    step = max(width_mm, height_mm) / GRID
    x, y = np.meshgrid(np.arange(step / 2, width_mm, step), np.arange(step / 2, height_mm, step))
    out = np.zeros(x.shape, bool)
    for zone in zones:
        out |= zone.covers(x, y)
    return float(out.mean())


def without(result: Mapping[str, Any], zones: Sequence[PanelPart]) -> dict[str, Any]:
    """A reading with what lies in the zones taken out: cells, pieces of cracks, and the area they are counted on."""
    if not zones:
        return dict(result)
    panel = result["panel"]
    width, height = float(panel["width_mm"]), float(panel["height_mm"])
    disc = Disc.of_result(panel)
    beyond = [Outside(disc)] if disc is not None else []
    zones = [*zones, *beyond]
    left = 1.0 - share_out(zones, width, height)
    area = width * height * left

    def out(x: float, y: float) -> bool:
        return any(z.holds(x, y) for z in zones)

    made = dict(result)
    made["panel"] = {**panel, "left_out": round(max(1.0 - left / float(panel.get("face_share", 1.0)), 0.0), 5)}
    made.pop("arrangement", None)  # of the whole
    if isinstance(result.get("shine"), dict):
        made["shine"] = shine_figures.without(result["shine"], out)
    cells = result.get("cells")
    if isinstance(cells, dict):
        kept = [i for i, c in enumerate(cells["items"]) if not out(c["x_mm"], c["y_mm"])]
        items = [cells["items"][i] for i in kept]
        lines = result.get("outlines", {}).get("cells", [])
        touching = cells.get("touching_fraction", 0.0)
        if len(lines) == len(cells["items"]) and len(items) < len(lines):
            touching = round(len(touching_cells([lines[i] for i in kept])) / len(items), 3) if items else 0.0
        made["cells"] = {
            **cells,
            **cell_figures([c["diameter_mm"] for c in items], [c["circularity"] for c in items], area),
            "items": items,
            "area_fraction": round(min(sum(c["area_mm2"] for c in items) / area, 1.0), 5) if area else 0.0,
            "touching_fraction": touching,
        }
    surface = result.get("surface")
    if isinstance(surface, dict):
        faults = [f for f in surface["faults"] if not out(f["x_mm"], f["y_mm"])]
        made["surface"] = {**surface, "count": len(faults), "faults": faults}
    cracks, lines = result.get("cracks"), result.get("outlines", {}).get("cracks", [])
    if isinstance(cracks, dict) and lines:
        kept, total = [], 0.0
        whole = sum(_long(line) for line in lines)
        for line in lines:
            inside = [not out((a[0] + b[0]) / 2, (a[1] + b[1]) / 2) for a, b in itertools.pairwise(line)]
            total += sum(math.dist(a, b) for (a, b), there in zip(itertools.pairwise(line), inside, strict=True) if there)
            if any(inside):
                kept.append(line)
        share = total / whole if whole else 1.0
        made["cracks"] = {
            **cracks,
            "length_mm": round(cracks["length_mm"] * share, 1),
            "length_sd": round(cracks.get("length_sd", 0.0) * share, 1),
            "count": min(cracks["count"], len(kept)) if share < 1.0 else cracks["count"],
        }
    held = result.get("patches")
    if isinstance(held, dict):
        keep = patches.left(held, zones, width, height)
        made |= patches.without(result, held, keep, patches.left(held, beyond, width, height))
    return made


def _long(line: Sequence[Sequence[float]]) -> float:
    return sum(math.dist(a, b) for a, b in itertools.pairwise(line))
