"""Grooves under raking lamps: what breaks a film is deep, whatever its colour, and what lies in it or on it is flat.

Of a groove one wall faces the lamp at the left, the other the lamp at the right: across it the log ratio of the two photographs falls and rises by as
much as its walls are steep. A strand, a hair that dried in, a border of bands shows nothing of that; a raised line shows it the other way round. The
lamps stand left and right, so a line that runs along them tells nothing.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np
from scipy.ndimage import map_coordinates

from dribbet.sight.arrays import told_of
from dribbet.sight.breaks import within
from dribbet.sight.relief import EDGES_MM

if TYPE_CHECKING:
    from collections.abc import Iterator

    import numpy.typing as npt

    from dribbet.sight.arrays import Mask, Plane

    Floats = npt.NDArray[np.float64]
    Flags = npt.NDArray[np.bool_]

WALLS_MM: Final = (0.15, 0.25, 0.4, 0.6, 0.85)  # from the middle of a line to where its walls are asked: what shows most is its half width
ACROSS_MM: Final = 0.3  # over so much the direction of a line is taken
ALIAS_PX: Final = 1.2  # a skeleton is softened over so much, or its steps would be its direction
SPAN: Final = 4.0  # standard deviations that a Gaussian of the image library reaches
BAND_ROWS: Final = 256
ALIKE_MM: Final = 0.3  # along a line: places nearer to each other tell the same
LEAST_DEPTH: Final = 0.15  # of the log ratio between the walls, half: a slope of some 0.035, softened by the photograph
LEAST_TOLD_MM: Final = 1.0  # of a line across the lamps, or nothing is known of it
OVER_NOISE: Final = 4.0  # standard errors
BESIDE_MM: Final = (-4.0, -3.0, -2.2, 2.2, 3.0, 4.0)  # from a line
OVER_BESIDE: Final = 3.0
BEYOND_MM: Final = 0.25
"""Farther than twice its half width a groove is over, however soft its walls; a valley between waves goes on falling."""
OVER_ROUND: Final = 3.0
"""Of what rises round a line, root mean square: a chain of flakes that happens to look like a wall stands out by less."""
THIN_MM: Final = 2.2
NEVER_LAID_MM: Final = 0.1  # so far photographs may lie apart where nothing but what is asked about tells how they lie
LEAST_THIN: Final = 0.06  # of the log of the luminance
LAID_MM: Final = 6.0
LAID_SD_MM: Final = 0.03
UNLIKE_MM: Final = 1.0
LITTLE: Final = 1e-4  # mean square of a steepness, log a pixel: where there is no edge, nothing says how photographs lie
FLAT: Final = 0.08
"""A line that is surely less deep is flat: of lines that look like cracks none of the true ones and 41 % of the others (docs/decisions/0032)."""
SOFT_MM: Final = 0.06
ALONG_MM: Final = 0.8  # of the length of a line that is asked at once
TURNED_DEG: Final = (-66.0, -44.0, -22.0, 0.0, 22.0, 44.0, 66.0)
OUT_OF_ROUND: Final = 2.0  # as `OVER_ROUND`, of one place: its line is asked again
RAISED: Final = 1.25
LEAST_CHANCE: Final = 0.2
ONE_MM: Final = 0.8
ROUND_MM: Final = 5.0
EVEN_MM: Final = 0.15
EDGE_MM: Final = 1.5
HIDDEN_DEPTH: Final = 0.2  # from so much on a groove counts as seen, where colour shows nothing


@dataclass(frozen=True, slots=True, kw_only=True)
class Raked:
    """A film under the lamps left and right, laid over each other: natural logs, shape (rows, columns)."""

    ratio: Plane
    """Of the luminance with the lamp left over that with the lamp right, without the lamps' own fall."""
    light: Plane
    """Of the luminance under both: its colours' edges."""
    apart_mm: Plane
    """How far the two may still lie apart."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Grooves:
    """How deep lines are under the lamps, each of shape (lines,)."""

    depth: Floats
    """Half the log ratio between the walls of a groove; below nought of a raised line."""
    most: Floats
    """The same at the most: photographs that do not lie exactly over each other hide a groove as often as they show one of a flat line."""
    sd: Floats
    """Standard error of it."""
    beside: Floats
    """How deep the same line would be laid beside itself (median of its sizes): flakes and waves are as deep everywhere."""
    round_it: Floats
    """How much the light rises and falls by itself, root mean square, where lines lie: what was found by its light alone has to stand out of that."""
    told_mm: Floats
    """Length that lies across the lamps: the sum of the squared cosines of its normals, mm."""

    @property
    def deep(self) -> Flags:
        """Which are grooves for sure."""
        over = np.maximum.reduce([OVER_NOISE * self.sd, OVER_BESIDE * self.beside, OVER_ROUND * self.round_it])
        return np.asarray((self.told_mm >= LEAST_TOLD_MM) & (self.depth >= np.maximum(LEAST_DEPTH, over)))

    @property
    def flat(self) -> Flags:
        """Which are none for sure."""
        return np.asarray((self.told_mm >= LEAST_TOLD_MM) & (self.most + 2.0 * np.maximum(self.sd, self.beside) <= FLAT))


def laid_closer(ratio: Plane, light: Plane, film: Mask, px_per_mm: float) -> Raked:
    """Without what is left of a shift between the two photographs, place by place.

    Two photographs that lie beside each other by d differ by d times the steepness of the light: that is fitted round each place (`LAID_MM`), to
    broad edges alone, because thin lines are what is to be asked about. Least squares with a prior (ridge): photographs that were laid over each
    other lie within `LAID_SD_MM`, and what flakes and weave make of the ratio, alike over `UNLIKE_MM`, is noise that may look like a shift.
    """
    k = px_per_mm
    size = round(THIN_MM * k) | 1
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size))
    thin = (cv2.morphologyEx(light, kind, kernel) > LEAST_THIN for kind in (cv2.MORPH_TOPHAT, cv2.MORPH_BLACKHAT))
    broad = film & ~(cv2.dilate(np.logical_or(*thin).astype(np.uint8), np.ones((3, 3), np.uint8)) > 0)
    gx, gy = (cv2.Sobel(light, cv2.CV_32F, *order, scale=1.0 / 8.0) for order in ((1, 0), (0, 1)))
    small = tuple(max(1, round(n / (LAID_MM * k / 4.0))) for n in light.shape[::-1])

    def round_it(a: Plane, b: Plane) -> Plane:
        product = a * b
        product *= broad
        return np.asarray(cv2.GaussianBlur(cv2.resize(product, small, interpolation=cv2.INTER_AREA), (0, 0), 4.0), np.float32)

    def everywhere(plane: npt.NDArray[np.floating]) -> Plane:
        return np.asarray(cv2.resize(plane, light.shape[::-1], interpolation=cv2.INTER_LINEAR), np.float32)

    places = 4.0 * math.pi * LAID_MM**2 / UNLIKE_MM**2
    little = np.float32(LITTLE) + round_it(ratio, ratio) / np.float32(places * (LAID_SD_MM * k) ** 2)
    xx, yy, xy = round_it(gx, gx) + little, round_it(gy, gy) + little, round_it(gx, gy)
    xr, yr = round_it(gx, ratio), round_it(gy, ratio)
    whole = xx * yy - xy * xy
    gx *= everywhere((yy * xr - xy * yr) / whole)
    gy *= everywhere((xx * yr - xy * xr) / whole)
    closer = ratio - gx
    closer -= gy
    apart = np.float32(EDGES_MM) + np.float32(NEVER_LAID_MM - EDGES_MM) * little / xx
    return Raked(ratio=closer, light=light, apart_mm=everywhere(apart))


def along(raked: Raked, numbers: npt.NDArray[np.integer], count: int, px_per_mm: float) -> Grooves:
    """How deep lines are.

    Parameters
    ----------
    numbers : ndarray of int, shape (rows, columns)
        Number of the line (from 1) whose skeleton lies there, 0 elsewhere.
    count : int
        How many lines there are.
    """
    k = px_per_mm
    rows, columns = np.nonzero(numbers)
    which = numbers[rows, columns].astype(np.int64) - 1
    nx, ny = _normals(numbers > 0, rows, columns, k)

    def there(plane: Plane, away_px: float) -> Floats:
        return np.asarray(map_coordinates(plane, [rows + away_px * ny, columns + away_px * nx], np.float64, order=1, mode="nearest"))

    weight = np.bincount(which, nx**2, minlength=count)
    told = np.maximum(weight, 1e-9)
    freedom = np.maximum(weight / (ALIKE_MM * k), 1.0)
    apart = raked.apart_mm[rows, columns]
    asked = []
    for wall, usual in zip((mm * k for mm in WALLS_MM), _usual(raked.ratio, k), strict=True):
        between = (there(raked.ratio, wall) - there(raked.ratio, -wall)) / 2.0
        steep = [there(raked.light, side * wall + 0.5) - there(raked.light, side * wall - 0.5) for side in (1.0, -1.0)]
        by_edges = apart * k * np.abs(steep[0] - steep[1]) / 2.0  # so much shows of a flat dark line where photographs lie beside each other
        over = 2.0 * wall + BEYOND_MM * k
        beyond = (there(raked.ratio, over) - there(raked.ratio, -over)) / 2.0
        raw = np.bincount(which, between * nx, minlength=count) / told
        falling = np.maximum(np.bincount(which, beyond * nx, minlength=count) / told, 0.0)
        left = between - raw[which] * nx
        sd = np.sqrt(np.bincount(which, left**2 * nx**2, minlength=count) / told / freedom)
        edges = np.bincount(which, by_edges * nx, minlength=count) / told
        others = [
            np.abs(np.bincount(which, (there(raked.ratio, away * k + wall) - there(raked.ratio, away * k - wall)) / 2.0 * nx, minlength=count)) / told
            for away in BESIDE_MM
        ]
        around = np.sqrt(np.bincount(which, usual[rows, columns] * nx**2, minlength=count) / told)
        depth = np.sign(raw) * np.maximum(np.abs(raw) - edges, 0.0) - falling
        asked.append((raw + 0.5 * edges - falling, sd, np.median(others, axis=0), around, depth))
    most, sd, beside, around, depth = np.array(asked).transpose(1, 0, 2)
    best = depth.argmax(axis=0), np.arange(count)
    return Grooves(depth=depth[best], most=most.max(axis=0), sd=sd[best], beside=beside[best], round_it=around[best], told_mm=weight / k)


def _between(ratio: Plane, wall_px: int) -> Plane:
    """Half of what the log ratio differs across each place, from wall to wall; nought where it has none."""
    told = np.zeros_like(ratio)
    np.subtract(ratio[:, 2 * wall_px :], ratio[:, : -2 * wall_px], out=told[:, wall_px:-wall_px])
    told /= np.float32(2.0)
    return told


def _usual(ratio: Plane, k: float) -> Iterator[Plane]:
    """Mean square of what rises round each place, for each wall: flakes and waves rise as often as they fall, grooves hardly do."""
    size = (round(ROUND_MM * k) | 1,) * 2
    for mm in WALLS_MM:
        rise = _between(ratio, max(1, round(mm * k)))
        np.minimum(rise, np.float32(0.0), out=rise)
        rise *= rise
        mean = cv2.blur(rise, size)
        del rise
        np.maximum(mean, np.float32(0.0), out=mean)
        mean *= np.float32(2.0)
        yield mean


def _normals(skeleton: Mask, rows: npt.NDArray[np.intp], columns: npt.NDArray[np.intp], k: float) -> tuple[Floats, Floats]:
    """Unit normals of lines, pointing to the right, by the structure tensor of their skeleton; places row by row, as `np.nonzero` has them."""
    margin = math.ceil(SPAN * (ACROSS_MM * k + ALIAS_PX)) + 2
    turns = []
    for top in range(0, len(skeleton), BAND_ROWS):  # of a panel of 300 mm all of it would take 90 MB at once
        first, last = np.searchsorted(rows, (top, top + BAND_ROWS))
        above = max(0, top - margin)
        there = (rows[first:last] - above, columns[first:last])
        turns.append(_turns(skeleton[above : top + BAND_ROWS + margin], there, k))
    turn = np.concatenate(turns)
    return np.cos(turn), np.sin(turn)


def _turns(skeleton: Mask, there: tuple[npt.NDArray[np.intp], npt.NDArray[np.intp]], k: float) -> Floats:
    """Angle of the normal at some places, radians."""
    soft = cv2.GaussianBlur(skeleton.astype(np.float32), (0, 0), ALIAS_PX)
    gx, gy = cv2.Sobel(soft, cv2.CV_32F, 1, 0, ksize=3), cv2.Sobel(soft, cv2.CV_32F, 0, 1, ksize=3)
    xx, xy, yy = (cv2.GaussianBlur(p, (0, 0), ACROSS_MM * k)[there].astype(np.float64) for p in (gx * gx, gx * gy, gy * gy))
    return np.asarray(0.5 * np.arctan2(2.0 * xy, xx - yy), np.float64)


def hidden(raked: Raked, px_per_mm: float, face: Mask | None = None) -> Plane:
    """Where a groove shows, as a chance 0..1, whether or not colour shows it; nothing of what runs along the lamps.

    Half of what the log ratio differs from wall to wall, evened along lines of `ALONG_MM` whichever way they run (`TURNED_DEG` from upright).
    `face`: of a round panel, round which the photographs show table.
    """
    return _confirmed(_deep(raked.ratio, px_per_mm, face), raked, px_per_mm)


def _deep(ratio: Plane, k: float, face: Mask | None) -> Plane:
    """Where a groove may show, as a chance."""
    soft = np.asarray(cv2.GaussianBlur(ratio, (0, 0), SOFT_MM * k), np.float32)
    deep, risen = np.zeros_like(soft), np.zeros_like(soft)
    for mm, usual in zip(WALLS_MM, _usual(soft, k), strict=True):
        between, over = _between(soft, max(1, round(mm * k))), _between(soft, max(1, round((2.0 * mm + BEYOND_MM) * k)))
        np.sqrt(usual, out=usual)
        flat = np.abs(between) <= OUT_OF_ROUND * usual
        rise = np.minimum(over, np.float32(0.0))
        rise -= between
        np.maximum(over, np.float32(0.0), out=over)
        between -= over
        for told, known in ((between, deep), (rise, risen)):
            told[flat] = 0.0
            np.maximum(known, told, out=known)
        del between, over, rise, told, known  # each plane of a panel of 300 mm takes 17 MB
    del soft, usual
    deep, risen = _along_lines(deep, k), _along_lines(risen, k)
    near = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (round(ONE_MM * k) | 1,) * 2)
    beside = cv2.dilate(risen, near)  # beside a raised line it looks half as deep as that is high, and the other way round
    deep = np.where(deep > RAISED * beside, deep, np.float32(0.0))
    deep = cv2.morphologyEx(deep, cv2.MORPH_CLOSE, near)  # between the walls of a wide one it is deep as well
    deep = cv2.GaussianBlur(deep, (0, 0), EVEN_MM * k)
    inner = np.where(within(deep.shape, EDGE_MM * k, face), deep, np.float32(0.0))  # at the edge each photograph shows a little table, too
    return np.asarray(np.clip(inner / np.float32(2.0 * HIDDEN_DEPTH), 0.0, 1.0), np.float32)


def _confirmed(chance: Plane, raked: Raked, k: float) -> Plane:
    """Of what might be grooves those that are, asked along their own lines: the rest is not to make a line look like a crack."""
    from skimage.morphology import skeletonize  # half a second to import: only where something is read

    count, numbers = cv2.connectedComponents((chance >= LEAST_CHANCE).astype(np.uint8))
    asked = along(raked, np.where(skeletonize(numbers > 0), numbers, 0), count - 1, k)
    return np.where(told_of(numbers, np.concatenate([[False], asked.deep])), chance, np.float32(0.0))


def _along_lines(plane: Plane, k: float) -> Plane:
    """Means along short lines, of those that run every way the greatest."""
    half = math.ceil(ALONG_MM * k)
    y, x = np.mgrid[-half : half + 1, -half : half + 1].astype(np.float32)
    best = np.full_like(plane, -np.inf)
    for turn in np.radians(TURNED_DEG):
        off, on = x * np.cos(turn) + y * np.sin(turn), y * np.cos(turn) - x * np.sin(turn)
        kernel = np.exp(-(off**2) / (2.0 * (SOFT_MM * k) ** 2) - on**2 / (2.0 * (ALONG_MM * k / 2.0) ** 2))
        np.maximum(best, cv2.filter2D(plane, -1, np.asarray(kernel / kernel.sum(), np.float32), borderType=cv2.BORDER_REFLECT), out=best)
    return best
