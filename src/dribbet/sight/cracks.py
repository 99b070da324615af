"""Cracks: breaks of the film. Skeleton length, widths, area, number of separate ones."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any, Final

import cv2
import numpy as np

from dribbet.sight import breaks, grooves
from dribbet.sight.arrays import told_of
from dribbet.sight.bands import are_bands
from dribbet.sight.breaks import Pieces, Ridge
from dribbet.sight.lines import LACE, RIDGES, Scene
from dribbet.sight.skeletons import skeleton_length_px

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    import numpy.typing as npt

    from dribbet.sight.arrays import Lab, Labels, Mask
    from dribbet.sight.grooves import Raked
    from dribbet.sight.network import Maps

    Floats = npt.NDArray[np.float64]

CUT_MM: Final = 0.5  # along the edge, where squaring up may leave a sliver of table: the eyes have met no edge of a panel
LEAST_PANEL_MM: Final = 12.0  # less than this on a whole panel is taken as none
SURE: Final = 0.8  # chance of a piece from which it is counted by itself,
BESIDE: Final = 0.4  # and from which it is on a panel that holds a sure one: film that broke once broke elsewhere, too
DOUBT: Final = 0.4  # from here on pieces that are not counted are said,
DOUBT_BESIDE: Final = 0.25  # and from here on beside a sure one
ON_RIMS: Final = 0.6  # of a piece on outlines of cells: rings, which look broken where they are thin
LACE_REACH_MM: Final = 0.3
SETTLED: Final = 3.0  # log odds from which nothing is unsure: one line of twenty, and they do not turn together
TOGETHER: Final = 1.4  # times that length, as lines of a panel err together,
UNSEEN: Final = 0.2  # and a share of what was read: 22 of 35 held-out cracked panels are off by less than both, 30 by less than 1.8 times that


@dataclass(frozen=True, slots=True, kw_only=True)
class UnderLamps:
    """What the lamps left and right said of lines, mm."""

    deep_mm: float
    """Of the cracks: grooves. Of the rest they say nothing sure (it runs along them, or flakes flash over it)."""
    flat_mm: float
    """Of lines that look like cracks and are none: no groove is there."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Cracks:
    """Cracks of a panel: mask of the skeleton widened to its body, and figures in mm."""

    mask: Mask
    length_mm: float
    area_fraction: float
    mean_width_mm: float
    max_width_mm: float
    count: int
    lines_mm: tuple[tuple[tuple[float, float], ...], ...]
    length_sd_mm: float = 0.0
    """How far the length may be off by the reader's own doubt of each line (standard deviation): more where strands and cracks look alike."""
    doubtful: Cracks | None = None
    """Where some lines may be cracks or strands, and are not counted: the figures with them, and their outlines alone."""

    under_lamps: UnderLamps | None = None
    """Where such photographs lie surely over the first."""

    @property
    def doubtful_mm(self) -> float:
        """How much longer the cracks are with them."""
        return self.doubtful.length_mm - self.length_mm if self.doubtful is not None else 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Lacing:
    """Lacing of a panel: mask, share of the area, length in mm."""

    mask: Mask
    area_fraction: float
    length_mm: float


def find_cracks_and_lacing(
    lab: Lab, centres: Floats, cell_labels: Labels, film: Mask, maps: Maps, px_per_mm: float, face: Mask | None = None, raked: Raked | None = None
) -> tuple[Cracks, Lacing]:
    """Judge all thin lines once, and collect the two kinds that count.

    `face`: of a round panel, whose edge is its rim. `raked`: the film under the lamps left and right, where there are such photographs: what is a
    groove there is a crack whatever its colour, what is flat there is not counted, and said where it looks like one.
    """
    scene = Scene.of(lab, centres, cell_labels, film & breaks.within(film.shape, CUT_MM * px_per_mm, face), maps, px_per_mm)
    if raked is not None:
        scene = replace(scene, cracks=np.maximum(scene.cracks, grooves.hidden(raked, px_per_mm, face)))
    ridges = [Ridge.of(scene, polarity, face) for polarity in RIDGES]
    del scene
    open_ = [r.inside for r in ridges]
    if raked is not None:
        lines = [grooves.along(raked, r.segments.skeleton, len(r.odds), px_per_mm) for r in ridges]
        ridges = [replace(r, odds=np.where(asked.deep, np.maximum(r.odds, breaks.MOST_ODDS), r.odds)) for r, asked in zip(ridges, lines, strict=True)]
        open_ = [inside & ~asked.deep & ~asked.flat for inside, asked in zip(open_, lines, strict=True)]
    pieces = breaks.joined(ridges, px_per_mm)
    chance = breaks.chances(pieces, ridges, px_per_mm)
    chance[breaks.on_rims(pieces, cell_labels, px_per_mm) >= ON_RIMS] = 0.0
    if (chance >= SURE).any():
        banded = are_bands(pieces, chance >= BESIDE, lab, centres, px_per_mm)
        chance[banded] = 0.0
        there = told_of(pieces.numbers, np.concatenate([[False], banded]))  # nor are its lines unsure any more
        open_ = [o & ~np.isin(np.arange(1, len(o) + 1), r.segments.skeleton[there]) for o, r in zip(open_, ridges, strict=True)]
    deep, flat = np.zeros(len(chance), bool), np.zeros(len(chance), bool)
    if raked is not None:
        asked = grooves.along(raked, np.where(pieces.spine, pieces.numbers, 0), len(chance), px_per_mm)
        deep, flat = asked.deep, asked.flat
        chance[deep] = 1.0
    least, least_said = (BESIDE, DOUBT_BESIDE) if ((chance >= SURE) & ~flat).any() else (SURE, DOUBT)
    counted = (chance >= least) & ~flat
    cracks = _measured(pieces, counted, px_per_mm)
    said = _measured(pieces, counted | (chance >= np.where(flat, SURE, least_said)), px_per_mm)  # of what only might be one the lamps are believed
    if said.length_mm > cracks.length_mm:  # said, and not counted until a person has looked
        cracks = replace(cracks, doubtful=replace(said, lines_mm=polylines(said.mask & ~cracks.mask, px_per_mm)))
    if raked is not None:
        told = UnderLamps(
            deep_mm=_spine_mm(pieces, deep & counted, px_per_mm) if cracks.count else 0.0,
            flat_mm=_spine_mm(pieces, flat & (chance >= SURE), px_per_mm) if cracks.doubtful is not None else 0.0,
        )
        cracks = replace(cracks, under_lamps=told)
    unsure = sum(turned(r.segments.length_px[o], r.odds[o]) for r, o in zip(ridges, open_, strict=True)) / px_per_mm
    return replace(cracks, length_sd_mm=math.hypot(TOGETHER * unsure, UNSEEN * cracks.length_mm)), _lacing(ridges, cell_labels, px_per_mm)


def _lacing(ridges: Sequence[Ridge], cell_labels: Labels, k: float) -> Lacing:
    line, body = np.zeros(cell_labels.shape, bool), np.zeros(cell_labels.shape, bool)
    for ridge in ridges:
        this = ridge.drawn(LACE)
        line |= this
        body |= breaks.near(this, LACE_REACH_MM * k) & ridge.segments.body
    body &= cell_labels == 0
    return Lacing(mask=body, area_fraction=float(body.mean()), length_mm=skeleton_length_px(line) / k)


def missed_mm(told: Mapping[str, Any]) -> float:
    """How much crack there may be where none was found, by the doubt of a reading's `cracks`; nought where so little would be called none, too."""
    off = float(told.get("length_sd", 0.0))
    return off if off >= LEAST_PANEL_MM and not told["count"] else 0.0


def turned(length: Floats, odds: Floats) -> float:
    """Length that lies on the wrong side by its own odds: of each line the chance that it is what it was not taken for.

    Lines of a panel err together (one palette, one light), so that it adds up and does not even out.
    """
    unsettled = np.abs(odds) < SETTLED
    return float((length[unsettled] / (1.0 + np.exp(np.abs(odds[unsettled])))).sum())


def _no_cracks(shape: tuple[int, ...]) -> Cracks:
    nothing = np.zeros(shape, bool)
    return Cracks(mask=nothing, length_mm=0.0, area_fraction=0.0, mean_width_mm=0.0, max_width_mm=0.0, count=0, lines_mm=())


def _measured(pieces: Pieces, kept: npt.NDArray[np.bool_], k: float) -> Cracks:
    """Figures of some pieces; none where they are too short together."""
    there = told_of(pieces.numbers, np.concatenate([[False], kept]))
    body, spine = pieces.body & there, pieces.spine & there
    total = skeleton_length_px(spine) / k
    if total < LEAST_PANEL_MM:
        return _no_cracks(body.shape)
    widths = (cv2.distanceTransform(body.astype(np.uint8), cv2.DIST_L2, 5)[spine] * 2.0 - 1.0) / k
    return Cracks(
        mask=body,
        length_mm=total,
        area_fraction=float(body.mean()),
        mean_width_mm=float(widths.mean()),
        max_width_mm=float(np.percentile(widths, 99)),
        count=int(kept.sum()),
        lines_mm=polylines(body, k),
    )


def _spine_mm(pieces: Pieces, kept: npt.NDArray[np.bool_], k: float) -> float:
    """Length of some pieces, mm."""
    return skeleton_length_px(pieces.spine & told_of(pieces.numbers, np.concatenate([[False], kept]))) / k


def polylines(body: Mask, k: float) -> tuple[tuple[tuple[float, float], ...], ...]:
    """Outlines of the crack bodies in mm, for drawing over the photo."""
    contours, _ = cv2.findContours(body.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    lines = []
    for contour in contours:
        thin = cv2.approxPolyDP(contour, 1.0, True)[:, 0]
        if len(thin) > 2:
            lines.append(tuple((round((p[0] + 0.5) / k, 2), round((p[1] + 0.5) / k, 2)) for p in thin.tolist()))
    return tuple(lines)
