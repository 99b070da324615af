"""Cells: what opens in a film and shows another one, ring and all. Scattered, grown against each other, strung along a flow, in families.

Truth as ../shared/panels says: fill and ring are the cell, what is nested in it belongs to it, touching cells part where they meet.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any, Final

import cv2
import numpy as np
from skimage.measure import label as components

from dribbet.demo.noise import Image, layered_noise, value_noise
from dribbet.demo.world.films import film
from dribbet.demo.world.flow import carried, moved
from dribbet.demo.world.sheet import Numbers, Sheet, apart, between, chance

if TYPE_CHECKING:
    from collections.abc import Callable

LEAST_MM: Final = 1.0  # equivalent diameter: what is smaller is a pinhole
MOST: Final = 1500
SEEN: Final = 4.5  # ΔE: what an eye tells apart at a glance
SEEN_SHARE: Final = 0.6  # of the rim


@dataclass(kw_only=True)
class Seeds:
    """Where cells open: places and radii in px, how stretched each is and which way."""

    x: list[float] = field(default_factory=list)
    y: list[float] = field(default_factory=list)
    radius: list[float] = field(default_factory=list)
    aspect: list[float] = field(default_factory=list)
    angle: list[float] = field(default_factory=list)

    def add(self, x: float, y: float, radius: float, aspect: float, angle: float) -> None:
        """One more."""
        for to, value in zip((self.x, self.y, self.radius, self.aspect, self.angle), (x, y, radius, aspect, angle), strict=True):
            to.append(value)


def _sizes(count: int, k: float, rng: np.random.Generator) -> Any:
    middle, wide = between(rng, 0.9, 7.0), rng.uniform(0.15, 0.75)
    return np.sort(np.exp(rng.normal(np.log(middle / 2), wide, count)).clip(0.3, 13.0) * k)[::-1]


def scattered(sheet: Sheet) -> Seeds:
    """Cells here and there or in clumps, from a few to a crowd; at times only where a patch or a colour lets them."""
    rng, k, shape = sheet.rng, sheet.k, sheet.shape
    area = shape[0] * shape[1] / (100 * k) ** 2
    radii = _sizes(min(MOST, rng.poisson(between(rng, 8, 600) * area) + 1), k, rng)
    patch = layered_noise(shape, 25 * k, rng, 2) > rng.uniform(-2.5, 0.8) if chance(rng, 0.5) else None
    aspect, angle, clump = (1.0 if chance(rng, 0.5) else between(rng, 1.0, 3.5)), rng.random() * np.pi, rng.uniform(0, 0.8)
    seeds = Seeds()
    for radius in radii:
        for _ in range(8):
            if seeds.x and chance(rng, clump):
                near, turn = rng.integers(len(seeds.x)), rng.random() * 6.3
                away = (seeds.radius[near] + radius) * rng.uniform(0.9, 1.4)
                x, y = seeds.x[near] + np.cos(turn) * away, seeds.y[near] + np.sin(turn) * away
            else:
                x, y = rng.random() * shape[1], rng.random() * shape[0]
            if not (0 <= x < shape[1] and 0 <= y < shape[0]) or (patch is not None and not patch[int(y), int(x)]):
                continue
            gaps = np.hypot(np.array(seeds.x) - x, np.array(seeds.y) - y) - np.array(seeds.radius) * 0.9
            if not len(gaps) or gaps.min() > radius * rng.uniform(0.2, 1.0):
                seeds.add(x, y, float(radius), max(1.0, aspect + rng.normal(0, 0.15)), angle + rng.normal(0, 0.3))
                break
    return seeds


def strung(sheet: Sheet) -> Seeds:
    """Chains along lines of a flow, sizes falling along them, each with a gap or none to the next."""
    rng, k, shape = sheet.rng, sheet.k, sheet.shape
    seeds = Seeds()
    bend = value_noise(shape, 25 * k, rng)
    for _ in range(int(rng.integers(3, 25))):
        x, y, heading = rng.random() * shape[1], rng.random() * shape[0], rng.random() * 6.3
        radius, fall = between(rng, 0.6, 4.0) * k, rng.uniform(0.8, 1.0)
        gap = rng.uniform(0.85, 1.8)
        for _ in range(int(rng.integers(3, 25))):
            if not (0 <= x < shape[1] and 0 <= y < shape[0]) or radius < 0.3 * k:
                break
            seeds.add(x, y, radius, 1.0 + abs(rng.normal(0, 0.2)), heading)
            heading += float(bend[int(y), int(x)]) * 0.3 + rng.normal(0, 0.15)
            step = radius * (1 + fall) * gap
            x, y, radius = x + np.cos(heading) * step, y + np.sin(heading) * step, radius * fall * rng.uniform(0.85, 1.15)
    return seeds


def families(sheet: Sheet) -> Seeds:
    """Large cells with small satellites round them."""
    rng, k, shape = sheet.rng, sheet.k, sheet.shape
    seeds = Seeds()
    for _ in range(int(rng.integers(2, 14))):
        x, y, radius = rng.random() * shape[1], rng.random() * shape[0], between(rng, 2.5, 11) * k
        seeds.add(x, y, radius, 1.0 + abs(rng.normal(0, 0.25)), rng.random() * np.pi)
        for _ in range(int(rng.integers(0, 18))):
            turn, small = rng.random() * 6.3, between(rng, 0.4, 2.0) * k
            away = radius * rng.uniform(1.0, 1.3) + small * rng.uniform(0.8, 2)
            seeds.add(x + np.cos(turn) * away, y + np.sin(turn) * away, small, 1.0 + abs(rng.normal(0, 0.1)), turn)
    return seeds


def packed(sheet: Sheet) -> Seeds:
    """A crowd that has grown until it met everywhere: rounded polygons, foam."""
    rng, k, shape = sheet.rng, sheet.k, sheet.shape
    mesh = between(rng, 2.0, 12.0) * k
    seeds = Seeds()
    patch = layered_noise(shape, 30 * k, rng, 2) > rng.uniform(-2.5, 0.6)
    aspect, angle = (1.0 if chance(rng, 0.6) else between(rng, 1.0, 2.5)), rng.random() * np.pi
    for y in np.arange(0, shape[0], mesh):
        for x in np.arange(0, shape[1], mesh):
            at = x + rng.normal(0, 0.33) * mesh, y + rng.normal(0, 0.33) * mesh
            if 0 <= at[0] < shape[1] and 0 <= at[1] < shape[0] and patch[int(at[1]), int(at[0])] and chance(rng, 0.92) and len(seeds.x) < MOST:
                seeds.add(*at, mesh * rng.uniform(0.35, 0.95), aspect, angle)
    return seeds


def grown(sheet: Sheet, seeds: Seeds) -> tuple[Numbers, Image]:
    """Each seed's region, numbered from 1, and how far out each pixel lies in it (0 middle, 1 rim)."""
    rng, k, shape = sheet.rng, sheet.k, sheet.shape
    numbers, nearest = np.zeros(shape, np.int32), np.full(shape, 9.0, np.float32)
    smooth = chance(rng, 0.5)  # surface tension rounds most of what opens
    wobble, fine = rng.uniform(0.0, 0.05 if smooth else 0.12), 0.0 if smooth else rng.uniform(0.0, 0.10)
    ragged = layered_noise(shape, between(rng, 0.8, 4) * k, rng, 2) * np.float32(fine)
    additive = chance(rng, 0.5)  # straight walls where they meet, as equal pressures make; else the larger one bulges
    power = 2.0 if chance(rng, 0.7) else rng.uniform(1.6, 4.0)
    for i, (x, y, radius, aspect, angle) in enumerate(zip(seeds.x, seeds.y, seeds.radius, seeds.aspect, seeds.angle, strict=True)):
        reach = int(radius * np.sqrt(aspect) * 1.5) + 2
        top, left = max(0, int(y) - reach), max(0, int(x) - reach)
        window = np.s_[top : max(0, int(y) + reach), left : max(0, int(x) + reach)]
        near = nearest[window]
        if not near.size:
            continue
        rows, columns = np.mgrid[top : top + near.shape[0], left : left + near.shape[1]].astype(np.float32)
        dx, dy = columns - x, rows - y
        u = (dx * np.cos(angle) + dy * np.sin(angle)) / np.sqrt(aspect)
        v = (-dx * np.sin(angle) + dy * np.cos(angle)) * np.sqrt(aspect)
        turn = np.arctan2(v, u)
        edge = 1.0 + ragged[window]
        for m in (2, 3, 4, 5):
            edge = edge + rng.normal(0, wobble / m * 1.5) * np.cos(m * turn + rng.random() * 6.3)
        away = (np.abs(u) ** power + np.abs(v) ** power) ** (1 / power) / edge
        share = np.asarray(away / radius, np.float32)
        rank = np.asarray((away - radius) / (4 * k) + 1.0, np.float32) if additive else share
        mine = (share < 1.0) & (rank < near)
        numbers[window][mine] = i + 1
        near[mine] = rank[mine]
    return numbers, nearest


def parted(numbers: Numbers, k: float, least_mm: float = LEAST_MM) -> tuple[Numbers, Numbers]:
    """Cells renumbered with one whole piece each, and what is too small or cut off (numbered too): those are no cells."""
    pieces = components(numbers, background=0, connectivity=1).astype(np.int32)
    areas = np.bincount(pieces.ravel())
    areas[0] = 0
    owner = np.zeros(len(areas), np.int64)
    owner[pieces.ravel()] = numbers.ravel()
    largest: dict[int, int] = {}
    for piece in np.argsort(areas):
        largest[int(owner[piece])] = int(piece)
    keep = np.zeros(len(areas), bool)
    keep[list(largest.values())] = True
    keep &= areas >= np.pi / 4 * (least_mm * k) ** 2
    keep[0] = False
    table = np.zeros(len(areas), np.int32)
    table[keep] = np.arange(1, int(keep.sum()) + 1)
    rest = np.where(keep[pieces], 0, pieces).astype(np.int32)
    return table[pieces], rest


def edge_distance(numbers: Numbers) -> Image:
    """Distance in px of each pixel of a cell to the nearest pixel that is not of the same cell; the panel's own edge is no rim."""
    alike = np.ones(numbers.shape, np.uint8)
    alike[:, 1:][numbers[:, 1:] != numbers[:, :-1]] = 0
    alike[:, :-1][numbers[:, 1:] != numbers[:, :-1]] = 0
    alike[1:][numbers[1:] != numbers[:-1]] = 0
    alike[:-1][numbers[1:] != numbers[:-1]] = 0
    away = cv2.distanceTransform(alike, cv2.DIST_L2, 5) + 0.5
    return np.asarray(np.where(numbers > 0, away, 0.0), np.float32)


def deepest(numbers: Numbers, away: Image) -> Image:
    """Largest distance in each cell, by number."""
    most = np.zeros(int(numbers.max()) + 1, np.float32)
    np.maximum.at(most, numbers.ravel(), away.ravel())
    return most


def _contrasting(sheet: Sheet, outside: Any, count: int) -> Any:
    """For each cell a colour of the pour that parts from what lies round it."""
    rng, colours = sheet.rng, np.vstack([sheet.colours, sheet.base[None]]) if chance(sheet.rng, 0.5) else sheet.colours
    gap = np.abs(np.sqrt(colours)[None] - np.sqrt(outside)[:, None]).sum(2)
    least = 0.12 if chance(rng, 0.25) else 0.35  # mostly what rises is plainly another colour
    weight = np.where(gap > least, rng.random(gap.shape) + (rng.random(len(colours)) * 1.5)[None], -9 + gap)
    return colours[np.argmax(weight, axis=1)][:count]


def paint(sheet: Sheet, numbers: Numbers, *, walled: bool = False) -> None:
    """Give each cell its fill and ring: a plain colour, the film below, a gradient, rings in rings, droplets, or only a rim.

    `walled`: what stands in a crowd without gaps has a ring of one colour each, or nobody could tell one from the next.
    """
    rng, k = sheet.rng, sheet.k
    count = int(numbers.max())
    if not count:
        return
    away = edge_distance(numbers)
    most = deepest(numbers, away)
    # what lies round: sampled just outside by a mean over the window of each
    soft = cv2.blur(sheet.linear, (int(3 * k) | 1,) * 2)
    rows, columns = np.nonzero(numbers)
    number = numbers[rows, columns]
    sums = np.stack([np.bincount(number, weights=soft[rows, columns, c], minlength=count + 1) for c in range(3)], axis=1)
    outside = (sums / np.maximum(np.bincount(number, minlength=count + 1), 1)[:, None])[1:].astype(np.float32)
    tone = rng.uniform(0.85, 1.15, (count, 1)).astype(np.float32)
    fill, ring = _contrasting(sheet, outside, count) * tone, _contrasting(sheet, outside, count)
    if chance(rng, 0.5):  # one kind of fill for all, as one paint rises
        fill[:] = fill[rng.integers(count)]
    if chance(rng, 0.6):
        ring[:] = ring[rng.integers(count)]
    ringed = rng.random(count) < rng.uniform(0, 1.2)
    thick = np.where(ringed, rng.uniform(0.06, 0.45, count), 0.0) * most[1:]
    if walled:
        ringed[:], ring[:] = True, ring[rng.integers(count)]
        thick = np.maximum(rng.uniform(0.03, 0.2) * most[1:], 0.12 * k)
    elif chance(rng, 0.5):
        thick = np.minimum(thick, between(rng, 0.1, 0.8) * k)
    through = (rng.random(count) < (rng.uniform(0, 1) if chance(rng, 0.25) else 0.0)) & (thick > 0.12 * k)  # a ring with the same film within
    inside = _by_number(fill)[numbers].astype(np.float32)
    if chance(rng, 0.22):  # another film shows, not a colour
        below = film(sheet.shape, k, sheet.colours, rng)
        shown = _by_number((rng.random(count) < 0.8).astype(np.float32))[numbers][..., None]
        inside = inside * (1 - shown) + below * shown
    if chance(rng, 0.4):  # paler or darker towards the middle
        deep = (away / np.maximum(most[numbers], 1e-3))[..., None]
        inside = inside * (1.0 + np.float32(rng.uniform(-0.5, 0.6)) * deep)
    if chance(rng, 0.3):
        _nested(sheet, inside, away, most, numbers, _by_number(_contrasting(sheet, fill, count)))
    faint = rng.uniform(0.5, 1.0, count).astype(np.float32) if chance(rng, 0.2) else np.ones(count, np.float32)
    share = _by_number(faint * (~through))[numbers].astype(np.float32)
    edge = between(rng, 0.03, 0.22) * k
    body = np.clip(away / (2 * edge), 0, 1) if edge > 0.5 else (numbers > 0).astype(np.float32)
    sheet.linear += (inside - sheet.linear) * (share * body)[..., None]
    rim = (
        np.clip((_by_number(thick.astype(np.float32))[numbers] - away) / max(edge, 0.5) + 0.5, 0, 1)
        * (numbers > 0)
        * _by_number(ringed.astype(np.float32))[numbers]
    )
    sheet.linear += (_by_number(ring.astype(np.float32))[numbers] - sheet.linear) * (rim * body)[..., None].astype(np.float32)


def _by_number(values: Any) -> Any:
    """Values of all cells with one before them for what is none, so that numbers look them up."""
    return np.concatenate([np.zeros((1, *values.shape[1:]), values.dtype), values])


def _nested(sheet: Sheet, inside: Image, away: Image, most: Image, numbers: Numbers, second: Any) -> None:
    """Rings in rings, or droplets within a large cell: they belong to it."""
    rng, k = sheet.rng, sheet.k
    some = np.concatenate([[False], rng.random(len(most) - 1) < rng.uniform(0.2, 1)]) & (most > 0.8 * k)
    if chance(rng, 0.5):
        deep = away / np.maximum(most[numbers], 1e-3)
        low, high = rng.uniform(0.25, 0.6), rng.uniform(0.65, 1.1)
        band = (deep > low) & (deep < high) & some[numbers]
        inside[band] = second[numbers][band]
        return
    dots = layered_noise(sheet.shape, between(rng, 0.6, 2.0) * k, rng, 2) > rng.uniform(0.9, 1.7)
    dots &= some[numbers] & (away > 0.4 * k)
    inside[dots] = second[numbers][dots]


def _seen(cells: Numbers, far: Image, k: float) -> Numbers:
    """Cells of which most of the rim parts from what was there: the others are no cells to anybody who looks."""
    near = round(0.4 * k) | 1
    hit = cv2.dilate((far > SEEN).astype(np.uint8), cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (near, near)))
    edge = (cells > 0) & (edge_distance(cells) < 2.0)
    count = int(cells.max()) + 1
    share = np.bincount(cells[edge], weights=hit[edge], minlength=count) / np.maximum(np.bincount(cells[edge], minlength=count), 1)
    keep = share > SEEN_SHARE
    keep[0] = False
    table = np.zeros(count, np.int32)
    table[keep] = np.arange(1, int(keep.sum()) + 1)
    return table[cells]


def pinholes(sheet: Sheet, per_dm2: float) -> None:
    """Dots under a millimetre: seen, and no cells."""
    rng, k, shape = sheet.rng, sheet.k, sheet.shape
    for _ in range(rng.poisson(per_dm2 * shape[0] * shape[1] / (100 * k) ** 2)):
        x, y = rng.integers(shape[1] * 16), rng.integers(shape[0] * 16)
        colour = sheet.colours[rng.integers(len(sheet.colours))]
        cv2.circle(sheet.linear, (int(x), int(y)), int(between(rng, 0.08, 0.38) * k * 16), [float(c) for c in colour], -1, cv2.LINE_AA, 4)


SCATTERS: Final[tuple[tuple[Callable[[Sheet], Seeds], float], ...]] = ((scattered, 0.55), (strung, 0.12), (families, 0.15), (packed, 0.18))


def open_cells(sheet: Sheet, kinds: tuple[tuple[Callable[[Sheet], Seeds], float], ...] = SCATTERS) -> None:
    """Open one population of cells in a sheet: seeds, growth, at times a flow that draws them out, fill and rim."""
    rng, k = sheet.rng, sheet.k
    how = kinds[int(rng.choice(len(kinds), p=np.array([s for _, s in kinds]) / sum(s for _, s in kinds)))][0]
    numbers, _ = grown(sheet, how(sheet))
    if chance(rng, 0.4):
        shift = carried(sheet.shape, k, rng, reach_mm=between(rng, 1.5, 18), eddy_mm=between(rng, 8, 40), tilt=rng.uniform(0, 3))
        numbers = np.asarray(moved(numbers.astype(np.float32), shift, exact=True)).astype(np.int32)
    crowd = how is packed
    if chance(rng, 0.5 if crowd else 0.25):  # walls of the film between cells stay
        crowd, wall = False, between(rng, 0.12, 0.5) * k
        numbers = np.where(edge_distance(numbers) > wall, numbers, 0).astype(np.int32)
    numbers[sheet.bare | (sheet.cells > 0)] = 0  # what opens later opens between those that stand: covered ones would teach what nobody sees
    cells, rest = parted(numbers, k)
    both = np.where(rest > 0, rest + cells.max(), cells).astype(np.int32)
    before = sheet.linear.copy()
    paint(sheet, both, walled=crowd)
    cells = _seen(cells, apart(before, sheet.linear), k)
    sheet.cells = np.where(cells > 0, cells + sheet.cells.max(), sheet.cells).astype(np.int32)
