"""Draws a dried panel from a description, with the exact truth of what was drawn.

Paint lies in warped bands; cells are deformed ellipses of fill and ring that part at their bisector where they touch;
lacing is the zero line of a noise field inside patches; cracks are branching walks with tapering width; bare base hangs on
corners or all round. All of it on the panel's own grid, in linear light.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, Final

import cv2
import numpy as np

from dribbet.demo.noise import Image, layered_noise, value_noise, warp, warp_labels
from dribbet.demo.relief import scattered, surface

SURFACE_LUCK: Final = 77

Mask = np.ndarray[Any, np.dtype[np.bool_]]
Labels = np.ndarray[Any, np.dtype[np.uint16]]


@dataclass(frozen=True, kw_only=True)
class Pour:
    """What a panel shall look like. Lengths in mm, counts per square decimetre."""

    width_mm: float
    height_mm: float
    palette: tuple[str, ...]
    shares: tuple[float, ...]
    seed: int
    band_mm: float = 22.0
    swirl: float = 1.0
    streak: float = 1.0
    streak_angle: float = 0.3
    rim_lines: float = 0.4
    cells_per_dm2: float = 20.0
    cell_mm: float = 4.0
    cell_spread: float = 0.5
    cell_aspect: float = 1.15
    ring_share: float = 0.6
    clumping: float = 0.3
    pinholes_per_dm2: float = 4.0
    lacing: float = 0.0
    lacing_strands: bool = False
    """Lacing as tapering strands in fans and bundles rather than as one web."""
    crack_mm: float = 0.0
    crack_net: bool = False
    """Cracks as a net of closed meshes rather than as branching walks."""
    bare_corners: int = 0
    bare_mm: float = 25.0
    bare_round: float = 0.0
    base: str = "#D9D5C8"
    mica: float = 0.0
    slope: float = 0.0
    """Root mean square slope of the waves of its surface."""
    pits: int = 0
    bumps: int = 0
    rough_deg: float = 1.5
    """Slopes of the grain of its surface, root mean square: a gloss film has 0.2, a matte one 8."""
    px_per_mm: float = 8.0


@dataclass(frozen=True, kw_only=True)
class Drawn:
    """A drawn panel in linear RGB 0..1 and what is true of it."""

    linear: Image
    cells: Labels
    cracks: Mask
    spread: Mask
    lacing: Mask
    mica: Image
    px_per_mm: float
    crack_mm: float = 0.0
    lines: list[np.ndarray[Any, Any]] = field(default_factory=list)
    height_mm: Image | None = None
    """Of its surface, where it is not flat."""
    rough_deg: float = 1.5


def linear_of(hex_colour: str) -> np.ndarray[Any, np.dtype[np.float32]]:
    """Linear RGB of a hex colour."""
    srgb = np.array([int(hex_colour[i : i + 2], 16) for i in (1, 3, 5)], np.float32) / 255.0
    return np.where(srgb <= 0.04045, srgb / 12.92, ((srgb + 0.055) / 1.055) ** 2.4).astype(np.float32)


def draw_panel(pour: Pour) -> Drawn:
    """Draw one panel."""
    rng = np.random.default_rng(pour.seed)
    k = pour.px_per_mm
    shape = (round(pour.height_mm * k), round(pour.width_mm * k))
    colours = np.stack([linear_of(h) for h in pour.palette])
    index, edge = _bands(pour, shape, rng)
    linear = colours[index]
    if pour.rim_lines > 0.0:
        strength = np.clip(pour.rim_lines * np.exp(-((np.minimum(edge, 1e3) / (0.35 * k)) ** 2)), 0, 1)[..., None]
        linear = linear * (1 - strength) + colours[rng.integers(len(colours))] * strength
    mica_colour = rng.integers(len(colours)) if pour.mica else -1
    mica = ((index == mica_colour) | (value_noise(shape, 30 * k, rng) > 0.6)).astype(np.float32) * np.float32(pour.mica)
    spread = _spread(pour, shape, rng)
    lacing = np.zeros(shape, bool)
    if pour.lacing > 0.0:
        lacing, glow = (_strands if pour.lacing_strands else _lacing)(pour, shape, rng)
        linear = linear * (1 - glow[..., None]) + colours[int(np.argmax(colours.sum(1)))] * glow[..., None]
    cells = np.zeros(shape, np.uint16)
    linear = _draw_cells(pour, linear, cells, spread, colours, rng)
    tone = 1.0 + 0.03 * layered_noise(shape, 9 * k, rng, 3)[..., None]
    linear = linear * tone
    base = linear_of(pour.base) * (1.0 + 0.008 * layered_noise(shape, 3 * k, rng, 2)[..., None])
    soft = cv2.GaussianBlur(spread.astype(np.float32), (0, 0), 0.10 * k)[..., None]
    linear = linear * soft + base * (1 - soft)
    cells[~spread] = 0
    lacing &= spread & (cells == 0)
    mica *= spread
    cracks, length, lines = (_net if pour.crack_net else _cracks)(pour, shape, spread, rng)
    if cracks.any():
        depth = cv2.GaussianBlur(cracks.astype(np.float32), (0, 0), 0.05 * k)[..., None]
        ground = linear_of(pour.base) * 0.25 if rng.random() < 0.4 else np.array([0.012, 0.011, 0.010], np.float32)
        linear = linear * (1 - depth) + ground * depth
    return Drawn(
        linear=np.clip(linear, 0, 1).astype(np.float32),
        cells=_compact(cells, pour.px_per_mm),
        cracks=cracks,
        spread=spread,
        lacing=lacing,
        mica=mica,
        px_per_mm=k,
        crack_mm=length,
        lines=lines,
        height_mm=_surface(pour, shape) if pour.slope or pour.pits or pour.bumps else None,
        rough_deg=pour.rough_deg,
    )


def _surface(pour: Pour, shape: tuple[int, int]) -> Image:
    """Heights of its surface, drawn by luck of their own: what lies on it stays as it is drawn without."""
    rng = np.random.default_rng([pour.seed, SURFACE_LUCK])
    return surface(
        shape, pour.px_per_mm, rng, faults=scattered(pour.width_mm, pour.height_mm, rng, pits=pour.pits, bumps=pour.bumps), slope=pour.slope
    )


def _bands(pour: Pour, shape: tuple[int, int], rng: np.random.Generator) -> tuple[Any, Image]:
    """Palette index of each pixel, and its distance to the nearest band edge in px."""
    k = pour.px_per_mm
    angle = pour.streak_angle
    field_ = layered_noise(shape, pour.band_mm * k * 1.6, rng, 2, pour.streak)
    for scale in (2.6, 1.3):
        size = pour.band_mm * k * scale
        reach = pour.swirl * size * 0.33
        field_ = warp(field_, value_noise(shape, size, rng) * reach * np.cos(angle), value_noise(shape, size, rng) * reach)
    rows, columns = np.mgrid[0 : shape[0], 0 : shape[1]].astype(np.float32)
    ramp = (columns * np.sin(angle) + rows * np.cos(angle)) / (pour.band_mm * k * 3.0)
    turns = 1.3 + rng.random()
    phase = (field_ * 0.36 * turns + ramp * 0.3) % 1.0
    order = np.sort(phase, axis=None)[:: max(1, phase.size // 4096)]
    edges = np.interp(np.cumsum(np.asarray(pour.shares) / sum(pour.shares))[:-1], np.linspace(0, 1, order.size), order)
    index = np.searchsorted(edges, phase).clip(0, len(pour.palette) - 1)
    borders = cv2.morphologyEx(index.astype(np.uint8), cv2.MORPH_GRADIENT, np.ones((3, 3), np.uint8)) == 0
    distance = cv2.distanceTransform(borders.astype(np.uint8), cv2.DIST_L2, 3)
    return index, distance


def _spread(pour: Pour, shape: tuple[int, int], rng: np.random.Generator) -> Mask:
    k = pour.px_per_mm
    spread = np.ones(shape, bool)
    rough = layered_noise(shape, 14 * k, rng, 4) * 2.2 * k
    rows, columns = np.mgrid[0 : shape[0], 0 : shape[1]].astype(np.float32)
    if pour.bare_round > 0.0:
        inset = pour.bare_round * min(shape)
        edge = np.minimum(np.minimum(rows, shape[0] - rows), np.minimum(columns, shape[1] - columns))
        spread &= edge > inset * (0.6 + 0.5 * layered_noise(shape, 35 * k, rng, 2)) + rough * 1.5
        count, labels, stats, _ = cv2.connectedComponentsWithStats(spread.astype(np.uint8))
        small = [i for i in range(1, count) if stats[i, cv2.CC_STAT_AREA] < 3 * k * k]
        spread &= ~np.isin(labels, small)
    corners = [(0, 0), (0, shape[1]), (shape[0], shape[1]), (shape[0], 0)]
    for i in rng.permutation(4)[: pour.bare_corners]:
        y, x = corners[i]
        reach = pour.bare_mm * k * (0.6 + 0.8 * rng.random())
        power = 1.2 + 1.4 * rng.random()
        away = (np.abs(rows - y) ** power + np.abs(columns - x) ** power) ** (1 / power)
        spread &= away > reach + rough
    return spread


def _lacing(pour: Pour, shape: tuple[int, int], rng: np.random.Generator) -> tuple[Mask, Image]:
    k = pour.px_per_mm
    web = np.full(shape, 9e9, np.float32)
    for _ in range(2):
        noise = layered_noise(shape, (3.5 + 3 * rng.random()) * k, rng, 2)
        noise = warp(noise, value_noise(shape, 12 * k, rng) * 3 * k, value_noise(shape, 12 * k, rng) * 3 * k)
        grad = np.hypot(cv2.Sobel(noise, cv2.CV_32F, 1, 0, ksize=3), cv2.Sobel(noise, cv2.CV_32F, 0, 1, ksize=3)) / 8
        web = np.minimum(web, np.abs(noise) / np.maximum(grad, 1e-4))
    patch = layered_noise(shape, 40 * k, rng, 2)
    where = patch > np.quantile(patch, 1 - pour.lacing)
    broken = layered_noise(shape, 5 * k, rng, 2) > -0.4
    half = (0.18 + 0.14 * value_noise(shape, 8 * k, rng).clip(-1, 1)) * k
    glow = np.clip((half - web) / (0.15 * k) + 0.5, 0, 1) * (where & broken)
    return glow > 0.5, glow.astype(np.float32)


def _strands(pour: Pour, shape: tuple[int, int], rng: np.random.Generator) -> tuple[Mask, Image]:
    k = pour.px_per_mm
    glow = np.zeros(shape, np.uint8)
    patches = max(1, round(pour.lacing * shape[0] * shape[1] / (22 * k) ** 2))
    for _ in range(patches):
        middle = np.array([rng.random() * shape[1], rng.random() * shape[0]])
        bundle, spin, reach = rng.random() * 6.3, rng.normal(0, 0.02), rng.uniform(5, 16) * k
        for _ in range(int(rng.integers(15, 70))):
            at = middle + rng.normal(0, reach * 0.6, 2)
            heading = bundle + rng.normal(0, 0.5) if rng.random() < 0.7 else rng.random() * 6.3
            steps, wide = int(rng.integers(6, 40)), rng.uniform(0.12, 0.55) * k
            for i in range(steps):
                heading += spin + rng.normal(0, 0.1)
                nxt = at + np.array([np.cos(heading), np.sin(heading)]) * 0.5 * k
                taper = min(1.0, 3.0 * (i + 1) / steps, 3.0 * (steps - i) / steps)
                ends = [tuple(round(v * 16) for v in p) for p in (at, nxt)]
                cv2.line(glow, ends[0], ends[1], 255, max(1, round(wide * taper)), cv2.LINE_AA, 4)
                at = nxt
    share = glow.astype(np.float32) / 255.0
    return share > 0.5, share


def _net(pour: Pour, shape: tuple[int, int], spread: Mask, rng: np.random.Generator) -> tuple[Mask, float, list[Any]]:
    """Meshes of a bent Voronoi pattern inside patches, some of their sides left out; length from the skeleton."""
    from skimage.morphology import skeletonize

    k = pour.px_per_mm
    mesh = rng.uniform(4, 12) * k
    seeds = np.ones(shape, np.uint8)
    count = max(8, round(shape[0] * shape[1] / mesh**2))
    seeds[rng.integers(0, shape[0], count), rng.integers(0, shape[1], count)] = 0
    _, labels = cv2.distanceTransformWithLabels(seeds, cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL)
    bend = [value_noise(shape, mesh, rng) * mesh * np.float32(0.15) for _ in range(2)]
    bent = warp_labels(labels.astype(np.float32), *bend)
    number = bent.astype(np.int64)
    sides = np.zeros(shape, bool)
    for axis in (0, 1):
        other = np.roll(number, 1, axis)
        low, high = np.minimum(number, other), np.maximum(number, other)
        kept = ((low * 7919 + high * 104729 + pour.seed) % 100) < rng.integers(55, 95)
        sides |= (number != other) & kept
    sides[:2] = sides[-2:] = False
    sides[:, :2] = sides[:, -2:] = False
    patch = layered_noise(shape, 30 * k, rng, 2)
    line = np.asarray(skeletonize(cv2.dilate((sides & spread).astype(np.uint8), np.ones((2, 2), np.uint8)) > 0), bool)
    total = float(line.sum()) / k * 1.1
    wanted = min(1.0, pour.crack_mm / max(total, 1.0))
    line &= patch > np.quantile(patch, 1.0 - wanted)
    wide = max(1, round(rng.uniform(0.12, 0.45) * k))
    body = cv2.dilate(line.astype(np.uint8), cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (wide, wide))).astype(bool) & spread
    return body, float(line.sum()) / k * 1.1, []


def _draw_cells(pour: Pour, linear: Image, cells: Labels, spread: Mask, colours: Image, rng: np.random.Generator) -> Image:
    k = pour.px_per_mm
    area_dm2 = pour.width_mm * pour.height_mm / 1e4
    count = rng.poisson(pour.cells_per_dm2 * area_dm2)
    radii = np.exp(rng.normal(np.log(pour.cell_mm / 2), pour.cell_spread, count)).clip(0.5, 14) * k
    nearest = np.ones(cells.shape, np.float32) * 9
    centres: list[tuple[float, float]] = []
    linear = linear.copy()
    number = 0
    for radius in np.sort(radii)[::-1]:
        for _ in range(12):
            if centres and rng.random() < pour.clumping:
                near = centres[rng.integers(len(centres))]
                turn = rng.random() * 2 * np.pi
                y, x = near[0] + np.sin(turn) * radius * 2.1, near[1] + np.cos(turn) * radius * 2.1
            else:
                y, x = rng.random() * cells.shape[0], rng.random() * cells.shape[1]
            if not (0 <= y < cells.shape[0] and 0 <= x < cells.shape[1] and spread[int(y), int(x)]):
                continue
            if cells[int(y), int(x)] == 0 and nearest[int(y), int(x)] > 1.4:
                break
        else:
            continue
        centres.append((y, x))
        number += 1
        _one_cell(pour, linear, cells, nearest, colours, rng, y, x, float(radius), number)
    for _ in range(rng.poisson(pour.pinholes_per_dm2 * area_dm2)):
        y, x = rng.random() * cells.shape[0], rng.random() * cells.shape[1]
        colour = colours[rng.integers(len(colours))]
        centre = (round(x * 16), round(y * 16))
        cv2.circle(linear, centre, round((0.12 + 0.28 * rng.random()) * k * 16), colour.tolist(), -1, cv2.LINE_AA, 4)
    return linear


def _one_cell(
    pour: Pour, linear: Image, cells: Labels, nearest: Image, colours: Image, rng: Any, y: float, x: float, radius: float, number: int
) -> None:
    reach = int(radius * 2.2) + 2
    top, left = max(0, int(y) - reach), max(0, int(x) - reach)
    window = np.s_[top : int(y) + reach, left : int(x) + reach]
    local = nearest[window]
    rows, columns = np.mgrid[top : top + local.shape[0], left : left + local.shape[1]].astype(np.float32)
    dy, dx = rows - y, columns - x
    angle = pour.streak_angle + rng.normal(0, 0.4)
    aspect = max(1.0, rng.normal(pour.cell_aspect, 0.12))
    u, v = dx * np.cos(angle) + dy * np.sin(angle), -dx * np.sin(angle) + dy * np.cos(angle)
    u, v = u / np.sqrt(aspect), v * np.sqrt(aspect)
    turn = np.arctan2(v, u)
    edge = 1.0 + sum(rng.normal(0, 0.07 / m) * np.cos(m * turn + rng.random() * 6.3) for m in (2, 3, 4))
    inside = np.hypot(u, v) / (radius * edge)
    mine = (inside < 1.0) & (inside < local)
    around = linear[window][(inside > 1.0) & (inside < 1.5)]
    outside = np.median(around, axis=0) if len(around) else colours[0]
    far = [c for c in colours if np.abs(c - outside).sum() > 0.08] or list(colours)
    fill = far[rng.integers(len(far))] * np.float32(rng.uniform(0.9, 1.1))
    ringed = rng.random() < pour.ring_share
    thick = rng.uniform(0.08, 0.3) if ringed else 0.0
    if ringed and rng.random() < 0.5:
        fill, ring = outside * np.float32(rng.uniform(0.85, 1.15)), fill
    else:
        ring = colours[rng.integers(len(colours))]
    if ringed and np.abs(ring - outside).sum() < 0.08:
        ring = far[rng.integers(len(far))]
    paint = np.where((inside < 1.0 - thick)[..., None], fill, ring)
    if radius > 2.0 * pour.px_per_mm and rng.random() < 0.3:  # a nested dot belongs to the outer cell
        shifted = np.hypot(u - rng.normal(0, 0.15) * radius, v - rng.normal(0, 0.15) * radius) / radius
        paint = np.where((shifted < rng.uniform(0.2, 0.5))[..., None], colours[rng.integers(len(colours))], paint)
    soft = np.clip((1.0 - inside) * radius / 1.2 + 0.5, 0, 1)[..., None] * mine[..., None]
    linear[window] = linear[window] * (1 - soft) + paint * soft
    cells[window][mine] = number
    local[:] = np.minimum(local, inside)


def _cracks(pour: Pour, shape: tuple[int, int], spread: Mask, rng: np.random.Generator) -> tuple[Mask, float, list[Any]]:
    k = pour.px_per_mm
    mask = np.zeros(shape, np.uint8)
    lines: list[Any] = []
    left = pour.crack_mm
    while left > 2.0:
        for _ in range(30):
            start = np.array([rng.random() * shape[1], rng.random() * shape[0]])
            if spread[int(start[1]), int(start[0])]:
                break
        left -= _crack(mask, lines, start, rng.random() * 6.3, min(left, rng.uniform(12, 60)), rng.uniform(0.15, 0.5), k, spread, rng)
    length = sum(float(np.linalg.norm(np.diff(line, axis=0), axis=1).sum()) / k for line in lines)
    return mask.astype(bool), length, lines


def _crack(mask: Any, lines: list[Any], start: Any, heading: float, length: float, width: float, k: float, spread: Mask, rng: Any) -> float:
    step = 0.8
    points, drawn = [start], 0.0
    while drawn < length:
        heading += rng.normal(0, 0.22)
        nxt = points[-1] + np.array([np.cos(heading), np.sin(heading)]) * step * k
        row, column = int(nxt[1]), int(nxt[0])
        if not (2 <= row < mask.shape[0] - 2 and 2 <= column < mask.shape[1] - 2 and spread[row, column]):
            break
        points.append(nxt)
        drawn += step
        if length - drawn > 8 and rng.random() < 0.03:
            turn = heading + rng.choice([-1, 1]) * rng.uniform(0.6, 1.3)
            drawn += _crack(mask, lines, nxt, turn, (length - drawn) * rng.uniform(0.3, 0.6), width * 0.7, k, spread, rng)
    if len(points) < 4:
        return max(drawn, 1.0)
    count = len(points) - 1
    for i in range(count):
        taper = min(1.0, 5.0 * (i + 1) / count, 5.0 * (count - i) / count)
        ends = [tuple(round(v * 16) for v in p) for p in points[i : i + 2]]
        cv2.line(mask, ends[0], ends[1], 1, max(1, round(width * taper * k)), cv2.LINE_8, 4)
    lines.append(np.array(points))
    return drawn


def _compact(cells: Labels, px_per_mm: float) -> Labels:
    """Renumber, and drop what is under 1 mm equivalent diameter after being cut by neighbours."""
    areas = np.bincount(cells.ravel())
    keep = np.flatnonzero((areas >= np.pi / 4 * px_per_mm**2) & (np.arange(areas.size) > 0))
    table = np.zeros(areas.size, np.uint16)
    table[keep] = np.arange(1, keep.size + 1)
    return table[cells]
