"""Lines taken for cracks, joined into pieces, and each piece judged as a whole.

A line by itself is judged by what is along it and beside it (`lines.py`). What a border of bands, a hair or a strand cannot imitate is a whole piece:
how sure its lines are of each other, whether several kinds of ridge agree on it, and what else the panel holds.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.sight import lines, trees
from dribbet.sight.arrays import told_of
from dribbet.sight.lines import CRACK, LACE, NEITHER, RIDGES, SEEN
from dribbet.sight.skeletons import skeleton_lengths_px

if TYPE_CHECKING:
    from collections.abc import Sequence

    import numpy.typing as npt

    from dribbet.sight.arrays import Labels, Mask
    from dribbet.sight.lines import Scene, Segments

    Floats = npt.NDArray[np.float64]
    Flags = npt.NDArray[np.bool_]

FOREST: Final = "pieces"
JOIN_MM: Final = 1.2
LEAST_CRACK_MM: Final = 3.0  # a joined piece shorter than this is not called a crack
SAME_LINE_MM: Final = 0.6
BESIDE_MM: Final = 1.1  # a bright ridge so near to dark cracks is the paint between them, a dark one beside light cracks their shadow
LEAST_PIECE_MM: Final = 1.5  # what another ridge adds to a known crack; less is its ragged end
EDGE_MM: Final = 0.8
ALONG: Final = 0.4  # of a line lies further in than that, or it is the edge's
RIM_MM: Final = 0.35  # to either side of a cell's outline
MOST_ODDS: Final = 4.0  # of a line: one that is very sure is no more of a piece than one that is sure
BY_LINES: Final = 9
BY_SHAPE: Final = 6
BY_PANEL: Final = 7
COLUMNS: Final = BY_LINES + lines.COLUMNS + BY_SHAPE + BY_PANEL


@dataclass(frozen=True, slots=True, kw_only=True)
class Ridge:
    """All lines of one kind of ridge, as they were judged one by one."""

    polarity: int
    segments: Segments
    first: Floats
    """Scores of the first look, shape (n, 3)."""
    odds: Floats
    """Log odds of a crack by the second look, shape (n,)."""
    inside: Flags
    """Not along the panel's edge."""

    @classmethod
    def of(cls, scene: Scene, polarity: int, face: Mask | None = None) -> Ridge:
        """Find and judge lines; `face`: of a round panel, whose edge is its rim."""
        segments = lines.find_segments(scene, polarity)
        first, odds = lines.judged(segments)
        return cls(polarity=polarity, segments=segments, first=first, odds=odds, inside=~along_the_edge(segments, scene.px_per_mm, face))

    @property
    def cracked(self) -> Flags:
        """Lines that are taken for cracks."""
        return (self.odds > 0.0) & self.inside

    @property
    def kinds(self) -> npt.NDArray[np.int64]:
        """NEITHER, CRACK or LACE of each line: the second look decides on cracks alone."""
        other = np.where(self.first[:, LACE] > self.first[:, NEITHER], LACE, NEITHER) if len(self.first) else np.zeros(0, np.int64)
        return np.where(self.odds > 0.0, np.where(self.inside, CRACK, NEITHER), other)

    def drawn(self, kind: int) -> Mask:
        """Skeletons of one kind."""
        return np.asarray(told_of(self.segments.skeleton, np.concatenate([[False], self.kinds == kind])), dtype=bool)


@dataclass(frozen=True, slots=True, kw_only=True)
class Pieces:
    """Lines taken for cracks, joined over gaps of `JOIN_MM`; numbered from 1."""

    numbers: npt.NDArray[np.int32]
    """Of each place within reach of a piece that is long enough, 0 elsewhere."""
    body: Mask
    spine: Mask
    length_mm: Floats
    """Of each piece's spine, shape (n,)."""


def joined(ridges: Sequence[Ridge], k: float) -> Pieces:
    """Join the lines of all ridges into pieces; `k` in px/mm."""
    from skimage.morphology import skeletonize

    shape = ridges[0].segments.skeleton.shape
    crack, cores = np.zeros(shape, bool), np.zeros(shape, bool)
    # Beside cracks of one ridge only its own body counts: what lies between two dark cracks is a bright ridge, and no part of them.
    for ridge in sorted(ridges, key=lambda r: (r.polarity == SEEN, -float(r.segments.length_px[r.cracked].sum()))):
        reach = SAME_LINE_MM if ridge.polarity == SEEN else JOIN_MM
        this = ridge.drawn(CRACK)
        core = ridge.segments.core & near(this, reach * k)
        if crack.any():
            this = _apart(this, crack, (SAME_LINE_MM if ridge.polarity == SEEN else BESIDE_MM) * k, LEAST_PIECE_MM * k)
            core &= near(this, SAME_LINE_MM * k)
        crack |= this
        cores |= core
    size = round(JOIN_MM * k / 2) * 2 + 1
    wide = cv2.dilate(crack.astype(np.uint8), cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size)))
    body = (wide.astype(bool) & cores) | crack
    count, numbers = cv2.connectedComponents(wide, connectivity=8)
    long_enough = np.bincount(numbers[crack], minlength=count) / k >= LEAST_CRACK_MM
    long_enough[0] = False
    table = np.zeros(count, np.int32)
    table[long_enough] = np.arange(1, int(long_enough.sum()) + 1)
    numbers = told_of(numbers, table)
    body &= numbers > 0
    spine = np.asarray(skeletonize(body), dtype=bool) if body.any() else np.zeros(shape, bool)
    return Pieces(numbers=numbers, body=body, spine=spine, length_mm=skeleton_lengths_px(spine, numbers, int(long_enough.sum())) / k)


def described(pieces: Pieces, ridges: Sequence[Ridge], k: float) -> npt.NDArray[np.float32]:
    """What each piece is made of, shape (pieces, `COLUMNS`)."""
    n = len(pieces.length_mm)
    if n == 0:
        return np.zeros((0, COLUMNS), np.float32)
    own, features, first, odds, long_mm, polarity = _lines_of(pieces, ridges, k)

    def mean(values: Floats, these: Flags | None = None) -> Floats:
        weight = long_mm if these is None else long_mm * these
        return np.asarray(np.bincount(own, values * weight, minlength=n) / np.maximum(np.bincount(own, weight, minlength=n), 1e-6))

    most = np.full(n, -9.0)
    np.maximum.at(most, own, odds)
    surest = np.zeros(n)
    np.maximum.at(surest, own, features[:, lines.BY_PICTURE] * long_mm)
    by_ridge = [mean(odds, polarity == p) for p in RIDGES]
    by_lines = [mean(odds), most, *by_ridge, mean((polarity == SEEN).astype(float)), mean((polarity == lines.DARK).astype(float))]
    by_lines += [mean(first[:, CRACK] - first[:, NEITHER]), mean(first[:, CRACK] - first[:, LACE])]
    along = [mean(features[:, c]) for c in range(features.shape[1])]
    colour = features[:, [3, 19, 20]]
    usual = np.stack([mean(colour[:, c]) for c in range(3)], axis=1)
    uneven = np.sqrt(mean(((colour - usual[own]) ** 2).sum(axis=1)))
    boxes = _boxes(pieces, n) / k
    by_shape = [pieces.length_mm, uneven, pieces.length_mm / np.maximum(boxes, 0.5), boxes, np.bincount(own, minlength=n).astype(float), surest]
    evidence = np.bincount(own, long_mm * np.clip(odds, 0.0, MOST_ODDS), minlength=n)
    share = pieces.length_mm / pieces.length_mm.sum()
    every = sum(float(r.segments.length_px.sum()) for r in ridges) / k
    by_panel = [
        np.log(pieces.length_mm.sum()),
        float(share @ by_lines[0]),
        float(by_lines[0].max()),
        float(n),
        np.log(every + 1.0),
        float(share @ along[lines.BY_PICTURE]),
        float(evidence.sum()),
    ]
    return np.stack([*by_lines, *along, *by_shape, *(np.full(n, v) for v in by_panel)], axis=1).astype(np.float32)


def _lines_of(
    pieces: Pieces, ridges: Sequence[Ridge], k: float
) -> tuple[npt.NDArray[np.int64], Floats, Floats, Floats, Floats, npt.NDArray[np.int64]]:
    """Of each line taken for a crack that lies in a piece: the piece from 0, features, both looks, length in mm, kind of ridge."""
    parts = []
    for ridge in ridges:
        rows, columns = np.nonzero(ridge.segments.skeleton)
        of_line = np.zeros(len(ridge.odds), np.int32)
        np.maximum.at(of_line, ridge.segments.skeleton[rows, columns] - 1, pieces.numbers[rows, columns])
        these = ridge.cracked & (of_line > 0)
        parts.append((
            of_line[these].astype(np.int64) - 1,
            ridge.segments.features[these].astype(np.float64).reshape(-1, lines.COLUMNS),
            ridge.first[these].reshape(-1, 3),
            ridge.odds[these],
            ridge.segments.length_px[these] / k,
            np.full(int(these.sum()), ridge.polarity),
        ))  # fmt: skip
    own, features, first, odds, long_mm, polarity = (np.concatenate(p) for p in zip(*parts, strict=True))
    return own, features, first, odds, long_mm, polarity


def _boxes(pieces: Pieces, n: int) -> Floats:
    """Diagonal of what encloses each piece's spine, px."""
    rows, columns = np.nonzero(pieces.spine)
    number = pieces.numbers[rows, columns] - 1
    spans = []
    for at in (rows, columns):
        low, high = np.full(n, np.inf), np.full(n, -np.inf)
        np.minimum.at(low, number, at)
        np.maximum.at(high, number, at)
        spans.append(np.maximum(high - low, 0.0))
    return np.asarray(np.hypot(*spans), np.float64)


def chances(pieces: Pieces, ridges: Sequence[Ridge], k: float) -> Floats:
    """How likely each piece is a crack, 0..1, shape (pieces,)."""
    told = described(pieces, ridges, k)
    if not len(told):
        return np.zeros(0)
    return np.asarray(1.0 / (1.0 + np.exp(-np.clip(trees.scores(FOREST, told)[:, 0], -30.0, 30.0))))


def near(mask: Mask, reach_px: float) -> Mask:
    """Places within reach of a mask."""
    size = round(reach_px) * 2 + 1
    return np.asarray(cv2.dilate(mask.astype(np.uint8), np.ones((size, size), np.uint8)), dtype=bool)


def _apart(this: Mask, known: Mask, reach_px: float, least_px: float) -> Mask:
    """Lines that another ridge has not shown already: one crack, drawn twice a pixel apart, would count its length twice."""
    left = (this & ~near(known, reach_px)).astype(np.uint8)
    _, numbers, stats, _ = cv2.connectedComponentsWithStats(left, connectivity=8)
    keep = stats[:, cv2.CC_STAT_AREA] >= least_px
    keep[0] = False
    return np.asarray(told_of(numbers, keep), dtype=bool)


def within(shape: tuple[int, ...], reach_px: float, face: Mask | None = None) -> Mask:
    """Places further from the panel's edge than that; `face`: of a round panel, whose edge is its rim."""
    reach = round(reach_px)
    inner = np.zeros(shape, bool)
    inner[reach : shape[0] - reach, reach : shape[1] - reach] = True
    if face is not None:
        inner &= cv2.erode(face.astype(np.uint8), np.ones((2 * reach + 1, 2 * reach + 1), np.uint8)) > 0
    return inner


def along_the_edge(segments: Segments, k: float, face: Mask | None = None) -> Flags:
    """Which segments run along the panel's edge: a sliver of table, or the side of the canvas, that squaring up left in view."""
    n = len(segments.length_px)
    spots = np.nonzero(segments.skeleton)
    of_line = segments.skeleton[spots] - 1
    inner = within(segments.skeleton.shape, EDGE_MM * k, face)[spots]
    far, every = (np.bincount(lines_, minlength=n) for lines_ in (of_line[inner], of_line))
    return np.asarray(far <= ALONG * every, dtype=bool)


def on_rims(pieces: Pieces, cell_labels: Labels, k: float) -> Floats:
    """Share of each piece's spine that lies on outlines of cells, shape (pieces,)."""
    grey = np.ascontiguousarray(cell_labels, dtype=np.uint16)
    size = np.ones((2 * round(RIM_MM * k) + 1,) * 2, np.uint8)
    rims = cv2.dilate(grey, size) > cv2.erode(grey, size)
    n = len(pieces.length_mm)
    there = pieces.numbers[pieces.spine] - 1
    return np.asarray(np.bincount(there, rims[pieces.spine], minlength=n) / np.maximum(np.bincount(there, minlength=n), 1), np.float64)
