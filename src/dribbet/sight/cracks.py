"""Cracks: breaks of the film. Skeleton length, widths, area, number of separate ones."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.sight.lines import CRACK, LACE, NEITHER, RIDGES, SEEN, Scene, Segments, classify, find_segments
from dribbet.sight.skeletons import skeleton_length_px

if TYPE_CHECKING:
    import numpy.typing as npt

    from dribbet.sight.arrays import Lab, Labels, Mask
    from dribbet.sight.network import Maps

    Floats = npt.NDArray[np.float64]

LEAST_CRACK_MM: Final = 5.0  # a joined piece shorter than this is not called a crack
LEAST_PANEL_MM: Final = 12.0  # less than this on a whole panel is taken as none
SURE_ODDS: Final = 1.6  # mean log odds of all crack lines on a panel: of 80 held-out panels without a crack 1 reaches it, of 50 cracked ones 25
DOUBT_ODDS: Final = 0.9  # from here on lines that are not counted are said
JOIN_MM: Final = 1.2
SAME_LINE_MM: Final = 0.6
BESIDE_MM: Final = 1.1  # a bright ridge so near to dark cracks is the paint between them, a dark one beside light cracks their shadow
LEAST_PIECE_MM: Final = 1.5  # what the network adds to a known crack; less is its ragged end
LACE_REACH_MM: Final = 0.3
EDGE_MM: Final = 0.8
SETTLED: Final = 3.0  # log odds from which nothing is unsure: one line of twenty, and they do not turn together
TOGETHER: Final = 1.4  # times that length is what two thirds of the lengths of 26 held-out cracked panels were off by at most (docs/measuring.md)
ALONG: Final = 0.4  # of a line lies further in than that, or it is the edge's


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
    """Lines that may be cracks or strands, where none is counted."""

    @property
    def doubtful_mm(self) -> float:
        """How long they are."""
        return self.doubtful.length_mm if self.doubtful is not None else 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Lacing:
    """Lacing of a panel: mask, share of the area, length in mm."""

    mask: Mask
    area_fraction: float
    length_mm: float


def find_cracks_and_lacing(
    lab: Lab, centres: Floats, cell_labels: Labels, film: Mask, maps: Maps, px_per_mm: float, face: Mask | None = None
) -> tuple[Cracks, Lacing]:
    """Judge all thin lines once, and collect the two kinds that count; `face`: of a round panel, whose edge is its rim."""
    scene = Scene.of(lab, centres, cell_labels, film, maps, px_per_mm)
    shape = lab.shape[:2]
    crack, lace = np.zeros(shape, bool), np.zeros(shape, bool)
    lace_body = np.zeros(shape, bool)
    cores = np.zeros(shape, bool)
    length = evidence = unsure = 0.0
    shown: list[tuple[float, int, Mask, Mask]] = []
    for polarity in RIDGES:
        segments = find_segments(scene, polarity)
        kinds, odds = classify(segments)
        inside = ~_along_the_edge(segments, px_per_mm, face)
        kinds[~inside & (kinds == CRACK)] = NEITHER
        unsure += turned(segments.length_px[inside], odds[inside]) / px_per_mm
        this_length = float(segments.length_px[kinds == CRACK].sum())
        length += this_length
        evidence += float((segments.length_px * odds)[kinds == CRACK].sum())
        this_crack = _of_kind(segments, kinds, CRACK)
        # Only beside cracks of this ridge: what lies between two dark cracks is a bright ridge, and no part of them.
        reach = SAME_LINE_MM if polarity == SEEN else JOIN_MM
        shown.append((this_length, polarity, this_crack, segments.core & _near(this_crack, reach * px_per_mm)))
        this_lace = _of_kind(segments, kinds, LACE)
        lace |= this_lace
        lace_body |= _near(this_lace, LACE_REACH_MM * px_per_mm) & segments.body
    for _, polarity, this_crack, core in sorted(shown, key=lambda s: (s[1] == SEEN, -s[0])):
        if crack.any():
            reach = SAME_LINE_MM if polarity == SEEN else BESIDE_MM
            this_crack = _apart(this_crack, crack, reach * px_per_mm, LEAST_PIECE_MM * px_per_mm)
            core &= _near(this_crack, SAME_LINE_MM * px_per_mm)
        crack |= this_crack
        cores |= core
    cracks = _cracks(crack, cores, px_per_mm)
    if evidence < SURE_ODDS * length:  # a few doubtful lines on a panel are borders that look like cracks; many are said, and not counted
        said = cracks if cracks.length_mm > 0.0 and evidence > DOUBT_ODDS * length else None
        cracks = replace(_no_cracks(crack.shape), doubtful=said)
    cracks = replace(cracks, length_sd_mm=TOGETHER * unsure)
    lacing = Lacing(
        mask=lace_body & (cell_labels == 0),
        area_fraction=float((lace_body & (cell_labels == 0)).mean()),
        length_mm=skeleton_length_px(lace) / px_per_mm,
    )
    return cracks, lacing


def turned(length: Floats, odds: Floats) -> float:
    """Length that lies on the wrong side by its own odds: of each line the chance that it is what it was not taken for.

    Lines of a panel err together (one palette, one light), so that it adds up and does not even out.
    """
    unsettled = np.abs(odds) < SETTLED
    return float((length[unsettled] / (1.0 + np.exp(np.abs(odds[unsettled])))).sum())


def _no_cracks(shape: tuple[int, ...]) -> Cracks:
    nothing = np.zeros(shape, bool)
    return Cracks(mask=nothing, length_mm=0.0, area_fraction=0.0, mean_width_mm=0.0, max_width_mm=0.0, count=0, lines_mm=())


def _near(lines: Mask, reach_px: float) -> Mask:
    size = round(reach_px) * 2 + 1
    return np.asarray(cv2.dilate(lines.astype(np.uint8), np.ones((size, size), np.uint8)), dtype=bool)


def _apart(lines: Mask, known: Mask, reach_px: float, least_px: float) -> Mask:
    """Lines that another ridge has not shown already: one crack, drawn twice a pixel apart, would count its length twice."""
    left = (lines & ~_near(known, reach_px)).astype(np.uint8)
    _, pieces, stats, _ = cv2.connectedComponentsWithStats(left, connectivity=8)
    keep = stats[:, cv2.CC_STAT_AREA] >= least_px
    keep[0] = False
    return np.asarray(keep[pieces], dtype=bool)


def _along_the_edge(segments: Segments, k: float, face: Mask | None = None) -> npt.NDArray[np.bool_]:
    """Which segments run along the panel's edge: a sliver of table, or the side of the canvas, that squaring up left in view."""
    reach = round(EDGE_MM * k)
    n = len(segments.length_px)
    inside = segments.skeleton[reach:-reach, reach:-reach]
    if face is not None:
        inside = segments.skeleton[cv2.erode(face.astype(np.uint8), np.ones((2 * reach + 1, 2 * reach + 1), np.uint8)) > 0]
    within, every = (np.bincount(labels.ravel(), minlength=n + 1)[1:] for labels in (inside, segments.skeleton))
    return np.asarray(within <= ALONG * every, dtype=bool)


def _of_kind(segments: Segments, kinds: npt.NDArray[np.int64], kind: int) -> Mask:
    table = np.concatenate([[False], kinds == kind])
    return np.asarray(table[segments.skeleton], dtype=bool)


def _cracks(crack: Mask, cores: Mask, k: float) -> Cracks:
    """Join pieces across junctions, drop what is too short, measure."""
    from skimage.morphology import skeletonize

    reach = round(JOIN_MM * k / 2) * 2 + 1
    joined = cv2.dilate(crack.astype(np.uint8), cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (reach, reach)))
    body = (joined.astype(bool) & cores) | crack
    _, pieces = cv2.connectedComponents(joined, connectivity=8)
    length = np.bincount(pieces[crack], minlength=int(pieces.max()) + 1) / k
    keep = length >= LEAST_CRACK_MM
    keep[0] = False
    body &= keep[pieces]
    if not keep.any():
        body[:] = False
    skeleton = np.asarray(skeletonize(body), dtype=bool) if body.any() else np.zeros_like(body)
    total = skeleton_length_px(skeleton) / k
    if total < LEAST_PANEL_MM:
        return _no_cracks(body.shape)
    widths = (cv2.distanceTransform(body.astype(np.uint8), cv2.DIST_L2, 5)[skeleton] * 2.0 - 1.0) / k
    return Cracks(
        mask=body,
        length_mm=total,
        area_fraction=float(body.mean()),
        mean_width_mm=float(widths.mean()),
        max_width_mm=float(np.percentile(widths, 99)),
        count=int(keep.sum()),
        lines_mm=polylines(body, k),
    )


def polylines(body: Mask, k: float) -> tuple[tuple[tuple[float, float], ...], ...]:
    """Outlines of the crack bodies in mm, for drawing over the photo."""
    contours, _ = cv2.findContours(body.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    lines = []
    for contour in contours:
        thin = cv2.approxPolyDP(contour, 1.0, True)[:, 0]
        if len(thin) > 2:
            lines.append(tuple((round((p[0] + 0.5) / k, 2), round((p[1] + 0.5) / k, 2)) for p in thin.tolist()))
    return tuple(lines)
