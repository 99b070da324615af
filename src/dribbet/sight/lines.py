"""Thin lines, cut into segments and told apart: crack, lacing, or a border of bands.

A two-sided ridge is what a black-hat or a top-hat of lightness leaves, or what the network takes for a crack (of the paint's own lightness, too); its
skeleton is cut at junctions, and each segment is judged by itself and by its company: total length of its kind on the panel, extent of the
connected piece, how near its colour is to one of the poured colours, how straight it runs, how unlike its two sides are, and what the network saw
along it and round it.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.sight import trees
from dribbet.sight.arrays import told_of
from dribbet.sight.courses import BY_TURN, bends
from dribbet.sight.network import MAPS_PX_PER_MM

if TYPE_CHECKING:
    import numpy.typing as npt

    from dribbet.sight.arrays import Lab, Labels, Mask, Plane
    from dribbet.sight.network import Maps

    Floats = npt.NDArray[np.float64]
    Features = npt.NDArray[np.float32]
    Spots = npt.NDArray[np.int64]

WIDEST_MM: Final = 1.1
LEAST_STEP: Final = 5.0  # L*
SURE_STEP: Final = 9.0
LEAST_SEGMENT_MM: Final = 0.8
SURROUND_MM: Final = 1.6
SIDE_MM: Final = 0.8
FOREST: Final = "lines"
SECOND_FOREST: Final = "lines_again"
NEITHER, CRACK, LACE = 0, 1, 2
DARK, BRIGHT, SEEN = 0, 1, 2
"""Ridges sought: darker than what is beside them, brighter, or likely to be a crack whatever their lightness."""
RIDGES: Final = (DARK, BRIGHT, SEEN)
CHANCE_STEP: Final = 30.0  # L*: a chance of 1 of the network counts as a step of so much
BY_PICTURE: Final = 23
BY_NETWORK: Final = 12
COLUMNS: Final = BY_PICTURE + BY_NETWORK + BY_TURN
COMPANY: Final = COLUMNS + 7
NEAR_PX: Final = 5
ROUND_MM: Final = 2.5


@dataclass(frozen=True, slots=True, kw_only=True)
class Segments:
    """Segments of thin lines of one polarity: label image of their skeletons, label image of their bodies, features."""

    skeleton: npt.NDArray[np.integer]
    body: Mask
    core: Mask
    """Where a line has at least half the contrast of its deepest pixel nearby: its width is measured there."""
    features: Features
    component: npt.NDArray[np.int64]
    length_px: Floats


@dataclass(frozen=True, slots=True, kw_only=True)
class Scene:
    """A panel on which lines are sought, with what all kinds of ridges are asked about."""

    lab: Lab
    centres: Floats
    """Colour modes, shape (n, 3)."""
    near_cells: Mask
    film: Mask
    maps: Maps
    cracks: Plane
    """The network's chance of a crack, at the scale of `lab`."""
    across: Plane
    """How unlike the two sides of each place are, in delta E, at the scale of the maps."""
    px_per_mm: float

    @classmethod
    def of(cls, lab: Lab, centres: Floats, cell_labels: Labels, film: Mask, maps: Maps, px_per_mm: float) -> Scene:
        """Prepare a panel; `lab`, `cell_labels` and `film` are of one scale."""
        return cls(
            lab=lab,
            centres=centres,
            near_cells=cv2.dilate((cell_labels > 0).astype(np.uint8), np.ones((3, 3), np.uint8)).astype(bool),
            film=film,
            maps=maps,
            cracks=maps.breaks if maps.breaks.shape == lab.shape[:2] else _scaled(maps.breaks, lab.shape),
            across=_across(lab, px_per_mm, maps.inside.shape),
            px_per_mm=px_per_mm,
        )

    def coarse(self, rows: Spots, columns: Spots) -> tuple[Spots, Spots]:
        """The same places on the maps."""
        high, wide = self.maps.inside.shape
        return rows * high // self.lab.shape[0], columns * wide // self.lab.shape[1]


def _scaled(plane: Plane, shape: tuple[int, ...]) -> Plane:
    return np.asarray(cv2.resize(plane, (shape[1], shape[0]), interpolation=cv2.INTER_LINEAR), np.float32)


def _hat(lightness: Plane, k: float, polarity: int) -> Plane:
    size = max(5, round(WIDEST_MM * k) | 1)
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size))
    kind = cv2.MORPH_BLACKHAT if polarity == DARK else cv2.MORPH_TOPHAT
    smooth = cv2.GaussianBlur(lightness, (0, 0), 0.7)
    return np.asarray(cv2.morphologyEx(smooth, kind, kernel), dtype=np.float32)


def _ridges(scene: Scene, polarity: int) -> tuple[Plane, Mask]:
    k = scene.px_per_mm
    hat = scene.cracks * np.float32(CHANCE_STEP) if polarity == SEEN else _hat(np.ascontiguousarray(scene.lab[..., 0]), k, polarity)
    weak = (hat > LEAST_STEP).astype(np.uint8)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(weak, connectivity=8)
    strong = np.zeros(count, bool)
    strong[np.unique(labels[hat > SURE_STEP])] = True
    strong &= np.hypot(stats[:, cv2.CC_STAT_WIDTH], stats[:, cv2.CC_STAT_HEIGHT]) > 1.5 * k
    strong[0] = False
    return hat, told_of(labels, strong)


def find_segments(scene: Scene, polarity: int) -> Segments:
    """Thin-line segments of one kind of ridge with 35 features each."""
    from skimage.morphology import skeletonize

    lab, centres, k = scene.lab, scene.centres, scene.px_per_mm
    hat, body = _ridges(scene, polarity)
    body &= scene.film
    core = body & (hat >= 0.5 * cv2.dilate(hat, np.ones((5, 5), np.uint8)))
    skeleton = np.asarray(skeletonize(body), dtype=np.uint8)
    around = cv2.filter2D(skeleton, -1, np.ones((3, 3), np.uint8), borderType=cv2.BORDER_CONSTANT)
    junction = (skeleton > 0) & (around > 3)
    pieces = ((skeleton > 0) & ~cv2.dilate(junction.astype(np.uint8), np.ones((3, 3), np.uint8)).astype(bool)).astype(np.uint8)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(pieces, connectivity=8)
    kept = np.flatnonzero(stats[:, cv2.CC_STAT_AREA] >= LEAST_SEGMENT_MM * k)
    kept = kept[kept > 0]
    table = np.zeros(count, np.int32)
    table[kept] = np.arange(1, kept.size + 1)
    n = kept.size
    labels = told_of(labels, table.astype(np.uint16) if n < 2**16 else table)  # three kinds of ridges are kept at once
    if n == 0:
        nothing = np.zeros((0, COLUMNS), np.float32)
        return Segments(skeleton=labels, body=body, core=core, features=nothing, component=np.zeros(0, np.int64), length_px=np.zeros(0))
    rows, columns = np.nonzero(labels)
    which = labels[rows, columns] - 1
    length = np.bincount(which, minlength=n).astype(float)

    def mean(values: npt.NDArray[np.floating]) -> Floats:
        return np.asarray(np.bincount(which, values, minlength=n) / length)

    width = cv2.distanceTransform(body.astype(np.uint8), cv2.DIST_L2, 3)[rows, columns] * 2.0 / k
    colour = lab[rows, columns]
    line = np.stack([mean(colour[:, c]) for c in range(3)], axis=1)
    line_sd = np.sqrt(mean(((colour - line[which]) ** 2).sum(axis=1)))
    strength = mean(hat[rows, columns])
    del hat
    window = (round(SURROUND_MM * k) | 1,) * 2
    off = (~cv2.dilate(body.astype(np.uint8), np.ones((3, 3), np.uint8)).astype(bool)).astype(np.float32)
    weight = np.maximum(cv2.blur(off, window), 1e-3)[rows, columns]
    surround, square = (np.empty((len(rows), 3), np.float32) for _ in range(2))
    for c in range(3):
        plane = lab[..., c] * off
        surround[:, c] = cv2.blur(plane, window)[rows, columns] / weight
        plane *= lab[..., c]
        square[:, c] = cv2.blur(plane, window)[rows, columns] / weight
    beside_sd = np.sqrt(np.clip(square - surround**2, 0, None).sum(axis=1))
    del off, plane
    step = np.linalg.norm(colour - surround, axis=1)
    surround_mean = np.stack([mean(surround[:, c]) for c in range(3)], axis=1)
    along = np.sqrt(mean(((surround - surround_mean[which]) ** 2).sum(axis=1)))
    to_mode = np.linalg.norm(line[:, None] - centres[None], axis=2).min(axis=1) if len(centres) else np.full(n, 99.0)
    box = np.hypot(stats[kept, cv2.CC_STAT_WIDTH], stats[kept, cv2.CC_STAT_HEIGHT])
    straight = box / length
    _, piece_of, piece_stats, _ = cv2.connectedComponentsWithStats(body.astype(np.uint8), connectivity=8)
    component = np.zeros(n, np.int64)
    component[which] = piece_of[rows, columns]
    extent = np.hypot(piece_stats[:, cv2.CC_STAT_WIDTH], piece_stats[:, cv2.CC_STAT_HEIGHT])[component] / k
    piece_length = np.bincount(component, length, minlength=len(piece_stats))[component] / k
    piece_area = piece_stats[component, cv2.CC_STAT_AREA] / k**2
    dm2 = lab.shape[0] * lab.shape[1] / (k * 100) ** 2
    total = length.sum() / k / dm2
    neutral = np.hypot(line[:, 1], line[:, 2])
    # How much of all lines of this polarity have this segment's colour.
    tone = np.array([float(length[np.linalg.norm(line - own, axis=1) < 9.0].sum()) for own in line]) / length.sum()
    columns_ = [
        length / k,
        mean(width),
        strength,
        line[:, 0],
        neutral,
        line_sd,
        mean(step),
        mean(beside_sd),
        along,
        to_mode,
        straight,
        extent,
        np.log(piece_length),
        piece_length / np.maximum(extent, 0.5),
        piece_area / np.maximum(piece_length, 0.1),
        mean(scene.near_cells[rows, columns].astype(float)),
        np.full(n, np.log(total + 1.0)),
        tone,
        np.full(n, float(polarity)),
        line[:, 1],
        line[:, 2],
        surround_mean[:, 0],
        mean(scene.across[scene.coarse(rows, columns)]),
        *_by_network(scene, (rows, columns), which.astype(np.int64), component),
        *bends(labels, k).T,
    ]
    return Segments(
        skeleton=labels, body=body, core=core, features=np.stack(columns_, axis=1).astype(np.float32), component=component, length_px=length
    )


def _by_network(scene: Scene, spots: tuple[Spots, Spots], which: Spots, component: Spots) -> list[Floats]:
    """What the network saw along each segment, round it, on the piece it hangs on and on the panel: twelve columns."""
    n = len(component)
    length = np.bincount(which, minlength=n).astype(float)

    def mean(values: Plane) -> Floats:
        return np.asarray(np.bincount(which, values, minlength=n) / length)

    maps, coarse = scene.maps, scene.coarse(*spots)
    near = cv2.dilate(scene.cracks, np.ones((NEAR_PX, NEAR_PX), np.uint8))[spots]

    def round_it(plane: Plane, px_per_mm: float, at: tuple[Spots, Spots]) -> Floats:
        window = (round(ROUND_MM * px_per_mm) | 1,) * 2
        return mean(cv2.blur(plane, window)[at])

    cracked = mean(near)
    pieces = int(component.max()) + 1
    of_piece = np.bincount(component, cracked * length, minlength=pieces) / np.maximum(np.bincount(component, length, minlength=pieces), 1.0)
    return [
        cracked,
        mean((near > 0.5).astype(np.float32)),
        *(mean(plane[coarse]) for plane in (maps.lacing, maps.border, maps.inside, maps.bare)),
        round_it(scene.cracks, scene.px_per_mm, spots),
        of_piece[component],
        np.full(n, float((maps.breaks > 0.5).mean()) * 100.0),
        np.full(n, float((maps.lacing > 0.5).mean()) * 100.0),
        round_it(maps.lacing, MAPS_PX_PER_MM, coarse),
        round_it(maps.inside, MAPS_PX_PER_MM, coarse),
    ]


def company(segments: Segments, odds: Floats) -> Features:
    """Features of a second look, shape (n, 42): those of the first, and whether a segment is like the cracks found and near one.

    Parameters
    ----------
    odds : ndarray, shape (n, 3)
        Raw scores of the first look.
    """
    f, length = segments.features, segments.length_px
    share = np.exp(odds - odds.max(axis=1, keepdims=True))
    share /= share.sum(axis=1, keepdims=True)
    crack = share[:, CRACK]
    weight = length * crack**2
    total = float(weight.sum())
    colour = f[:, [3, 19, 20]].astype(np.float64)
    mean = (colour * weight[:, None]).sum(axis=0) / max(total, 1e-6)
    in_piece = np.bincount(segments.component, length * crack, minlength=int(segments.component.max()) + 1)
    of_piece = np.bincount(segments.component, length, minlength=len(in_piece))
    sure = told_of(segments.skeleton, np.concatenate([[False], crack > 0.5]))
    away = cv2.distanceTransform((~sure).astype(np.uint8), cv2.DIST_L2, 3) if sure.any() else np.full(sure.shape, 1e4, np.float32)
    rows, columns = np.nonzero(segments.skeleton)
    which = segments.skeleton[rows, columns] - 1
    nearest = np.full(len(f), np.inf)
    np.minimum.at(nearest, which, away[rows, columns])
    n = len(f)
    columns_ = [
        share[:, CRACK],
        np.linalg.norm(colour - mean, axis=1),
        np.full(n, np.log(total + 1.0)),
        (in_piece / np.maximum(of_piece, 1.0))[segments.component],
        np.log(np.maximum(of_piece, 1.0))[segments.component],
        np.minimum(nearest, 300.0),
        np.full(n, mean[0]),
    ]
    return np.concatenate([f, np.stack(columns_, axis=1).astype(np.float32)], axis=1)


def _across(lab: Lab, px_per_mm: float, shape: tuple[int, ...]) -> Plane:
    """How unlike the two sides of each place are, in delta E, on a grid of `shape`: a crack has the same paint on both, a thin band seldom."""
    k = px_per_mm * shape[1] / lab.shape[1]
    coarse = np.asarray(cv2.resize(lab, (shape[1], shape[0]), interpolation=cv2.INTER_AREA), np.float32)
    soft = cv2.GaussianBlur(coarse, (0, 0), SIDE_MM * k)
    steps = [cv2.Sobel(soft, cv2.CV_32F, *order, ksize=3) / 8.0 for order in ((1, 0), (0, 1))]
    return np.asarray(np.sqrt(sum((s**2).sum(axis=2) for s in steps)) * (2.0 * SIDE_MM * k), dtype=np.float32)


def judged(segments: Segments) -> tuple[Floats, Floats]:
    """Raw scores of the first look, shape (n, 3), and the log odds of a crack by the second, which decides on cracks alone."""
    f = segments.features
    if not len(f):
        return np.zeros((0, 3)), np.zeros(0)
    first = trees.scores(FOREST, f)
    return first, trees.scores(SECOND_FOREST, company(segments, first))[:, 0]
