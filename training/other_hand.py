"""Mark the reader on panels of a fourth hand: other mechanisms than the worlds' and the painter's, from other code, that teach nothing.

    python -m training.other_hand FOLDER [--workers 2] [--each]

Spots of a reaction that diffuses, soft stars packed at random (plain, ringed, nested, blended; drawn out by the flow), webs with round holes,
folded petals, marbling, cracks along the borders of random fields that taper and end (white, dark, of another hue; nets, craze, single hairs),
hairs, weave under glare, islands of paint on a bare base.
"""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, Any, Final

import cv2
import numpy as np
from scipy.ndimage import label
from scipy.spatial import cKDTree

from dribbet.demo.world.lamps import srgb_of
from dribbet.demo.world.sheet import blank
from training.draw import HIGH_MM, WIDE_MM, K
from training.mark import main_of

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.demo.world.sheet import Sheet

SHAPE: Final = (round(HIGH_MM * K), round(WIDE_MM * K))
APART: Final = 18.0  # delta E between colours of one palette, and between a cell and what it opens onto
STYLES: Final = ("plain", "ringed", "nested", "blended", "crowded")
CRACKS: Final = (("net", 92.0), ("net", 16.0), ("craze", 92.0), ("hair", 92.0), ("hair", 16.0), ("net", 60.0), ("craze", 16.0))
COUNTS: Final = {"spots": 2, "stars": 5, "drawnout": 3, "web": 4, "petals": 2, "marbled": 3, "broken": 7, "calm": 2, "haired": 5, "islands": 3}
LEAST_MM: Final = 1.0
SEEN: Final = 0.15  # of a pixel that a crack covers: less cannot be seen
THERE: Final = 0.6  # as much as counts as cracked by `training.mark`

Picture = Any


def noise(cell_px: float, rng: np.random.Generator, octaves: int = 4) -> Picture:
    """Cubic noise of unit scatter, each octave half as wide and half as strong."""
    told, size, weight = np.zeros(SHAPE, np.float32), cell_px, 1.0
    for _ in range(octaves):
        grid = rng.standard_normal((int(SHAPE[0] / size) + 4, int(SHAPE[1] / size) + 4)).astype(np.float32)
        told += weight * cv2.resize(grid, None, fx=size, fy=size, interpolation=cv2.INTER_CUBIC)[: SHAPE[0], : SHAPE[1]]
        weight, size = weight / 2, max(2.0, size / 2)
    return told / told.std()


def linear_of_lab(lab: Any) -> Any:
    """Linear light of one colour."""
    rgb = np.clip(cv2.cvtColor(np.array(lab, np.float32).reshape(1, 1, 3), cv2.COLOR_Lab2LRGB)[0, 0], 0, 1)
    return np.asarray(rgb, np.float32)


def palette(rng: np.random.Generator, n: int = 5) -> Any:
    """Colours in CIELAB, `APART` from each other: whites, darks, and any hue."""
    while True:
        kinds = rng.random(n)
        hue, chroma = rng.uniform(0, 2 * np.pi, n), rng.uniform(15, 65, n)
        pale, dark = kinds < 0.2, (kinds >= 0.2) & (kinds < 0.35)
        lightness = np.where(pale, rng.uniform(88, 96, n), np.where(dark, rng.uniform(14, 28, n), rng.uniform(30, 80, n)))
        chroma = np.where(pale | dark, rng.uniform(0, 5, n), chroma)
        labs = np.stack([lightness, chroma * np.cos(hue), chroma * np.sin(hue)], axis=1)
        if (np.linalg.norm(labs[:, None] - labs[None], axis=2) + np.eye(n) * 99).min() > APART:
            return labs


def layered(labs: Any, field: Picture, rng: np.random.Generator) -> Picture:
    """Bands of colour between levels of a field."""
    cuts = np.quantile(field, np.sort(rng.uniform(0, 1, rng.integers(6, 14))))
    steps = rng.integers(1, len(labs), len(cuts) + 1)
    colours = np.stack([linear_of_lab(c) for c in labs])[np.cumsum(steps) % len(labs)]
    return cv2.GaussianBlur(colours[np.searchsorted(cuts, field)], (0, 0), rng.uniform(0.5, 1.5))


def marbled(labs: Any, rng: np.random.Generator, cell_mm: float = 26.0, warp_mm: float = 9.0) -> Picture:
    """Noise that was carried by other noise."""
    rows, columns = np.mgrid[: SHAPE[0], : SHAPE[1]].astype(np.float32)
    a, b = (noise(cell_mm * K, rng) * np.float32(warp_mm * K) for _ in range(2))
    field = noise(cell_mm * K * rng.uniform(0.5, 1.2), rng, 3)
    return layered(labs, cv2.remap(field, columns + a, rows + b, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT), rng)


def packed(rng: np.random.Generator, low: float, high: float, scatter: float, share: float, gap: float) -> list[tuple[float, float, float]]:
    """Middles and radii in mm of discs that do not overlap."""
    discs: list[tuple[float, float, float]] = []
    covered, middle = 0.0, np.sqrt(low * high)
    for _ in range(6000):
        r = float(np.clip(middle * np.exp(rng.normal(0, scatter)), low, high)) / 2
        x, y = rng.uniform([-r / 2, -r / 2], [WIDE_MM + r / 2, HIGH_MM + r / 2])
        if all(np.hypot(x - a, y - b) > r + c + gap for a, b, c in discs):
            discs.append((x, y, r))
            covered += np.pi * r * r
        if covered > share * WIDE_MM * HIGH_MM:
            break
    return discs


def opened(picture: Picture, labs: Any, style: str, discs: Any, rng: np.random.Generator, places: tuple[Picture, Picture] | None = None) -> Any:
    """Soft stars of another colour than what they open onto; the picture, and their numbers. `places`: where each pixel was before the flow."""
    rows, columns = np.mgrid[: SHAPE[0], : SHAPE[1]].astype(np.float32)
    columns, rows = places or (columns, rows)
    told, numbers = picture.copy(), np.zeros(SHAPE, np.int32)
    for number, (x, y, r) in enumerate(discs, 1):
        phase, swing = rng.uniform(0, 2 * np.pi, 4), rng.normal(0, [0.07, 0.05, 0.03, 0.02])
        dx, dy = columns - x * K, rows - y * K
        near = np.argwhere(dx**2 + dy**2 < (1.5 * r * K) ** 2)
        if not len(near):
            continue
        window = np.s_[near[:, 0].min() : near[:, 0].max() + 1, near[:, 1].min() : near[:, 1].max() + 1]
        turn = np.arctan2(dy[window], dx[window])
        reach = 1 + sum(swing[i] * np.cos((i + 2) * turn + phase[i]) for i in range(4))
        deep = r * K * reach - np.hypot(dx[window], dy[window])
        if (deep > 0).sum() < 20:
            continue
        under = told[window]
        seen = cv2.cvtColor(under[deep > 0].mean(axis=0).reshape(1, 1, 3), cv2.COLOR_LRGB2Lab)[0, 0]
        fit = [i for i in rng.permutation(len(labs)) if np.linalg.norm(labs[i] - seen) > APART]
        if not fit:
            continue
        soft = rng.uniform(0.5, 1.1)
        fill = np.broadcast_to(linear_of_lab(labs[fit[0]]), under.shape)
        other = linear_of_lab(labs[fit[-1]])
        if style == "blended" or rng.random() < 0.25:
            fill = fill + (other - fill) * (np.clip(noise(max(5.0, r * K), rng, 2)[: under.shape[0], : under.shape[1]] - 0.5, 0, 1) * 0.7)[..., None]
        if style == "ringed":
            fill = fill + (other - fill) * np.clip((r * K * rng.uniform(0.08, 0.22) - deep) / soft + 0.5, 0, 1)[..., None]
        if style == "nested" and r > 1.5:
            fill = fill + (other - fill) * np.clip((deep - r * K * rng.uniform(0.35, 0.55)) / soft + 0.5, 0, 1)[..., None]
        told[window] = under + (fill - under) * np.clip(deep / soft + 0.5, 0, 1)[..., None]
        numbers[window][deep > 0] = number
    return told, numbers


def borders(count: int, rng: np.random.Generator) -> Picture:
    """How much nearer the nearest of some random middles is than the next, px: nought along the borders of their fields."""
    rows, columns = np.mgrid[: SHAPE[0], : SHAPE[1]]
    bent = np.stack([columns + 11 * noise(95, rng, 3), rows + 11 * noise(95, rng, 3)], axis=-1).reshape(-1, 2)
    away = cKDTree(rng.uniform([0, 0], [SHAPE[1], SHAPE[0]], (count, 2))).query(bent, k=2)[0]
    return np.asarray((away[:, 1] - away[:, 0]).reshape(SHAPE), np.float32)


def broken(kind: str, rng: np.random.Generator) -> Picture:
    """Share of each pixel that is cracked: along borders, where the film gave way most, tapering to nothing."""
    count, cell, cut, steep, most = {"net": (30, 140, 0.1, 1.8, 4.0), "craze": (350, 200, 0.4, 0.9, 1.6), "hair": (22, 120, 1.2, 1.3, 2.0)}[kind]
    field, weak = borders(count, rng), noise(cell, rng, 3)
    wide = np.clip((weak - cut) * steep, 0, most)
    return np.asarray(np.clip((wide - field * 0.5) * 1.2 + 0.3, 0, 1) * (weak > cut), np.float32)


def web(labs: Any, rng: np.random.Generator, i: int) -> Picture:
    """Strands of one colour between round holes."""
    count, least, radius = ((160, 0, 7), (58, 3, 10), (320, 0, 5), (115, 0, 9))[i % 4]
    wide = np.clip(6 + 5 * noise(160, rng, 2), least, 20)
    hole = cv2.morphologyEx(
        (borders(count, rng) > wide).astype(np.uint8), cv2.MORPH_OPEN, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * radius + 1,) * 2)
    )
    strand = 1 - cv2.GaussianBlur(np.maximum(hole, wide <= 2).astype(np.float32), (0, 0), 1.1)[..., None]
    under = marbled(labs[:4], rng, 50, 8)
    return under + (linear_of_lab(labs[4]) - under) * strand


def petals(labs: Any, rng: np.random.Generator) -> Picture:
    """Bands folded round several middles."""
    rows, columns = np.mgrid[: SHAPE[0], : SHAPE[1]].astype(np.float32)
    field, best, bend = np.zeros(SHAPE, np.float32), np.full(SHAPE, np.inf, np.float32), noise(240, rng, 3)
    for _ in range(4):
        x, y = rng.uniform(0, SHAPE[1]), rng.uniform(0, SHAPE[0])
        away = np.hypot(columns - x, rows - y)
        folds = np.abs(np.sin(np.arctan2(rows - y, columns - x) * rng.integers(7, 16) / 2 + bend * 0.2)) * 96 + away * 0.6 + bend * 11
        field, best = np.where(away < best, folds, field), np.minimum(away, best)
    return layered(labs, field % 128, rng)


def spots(labs: Any, rng: np.random.Generator, i: int) -> Any:
    """Spots of two substances that react and diffuse (Gray and Scott, at feed 0.0367 and kill 0.0649), ringed every other time."""
    scale = (2.5, 4.0)[i % 2]
    high, wide = round(HIGH_MM * scale), round(WIDE_MM * scale)
    v = cv2.resize((rng.random((high // 8 + 1, wide // 8 + 1)) < 0.12).astype(np.float32), (wide, high), interpolation=cv2.INTER_NEAREST) * 0.5
    u = 1 - v
    for _ in range(5000):
        spread_u, spread_v = (cv2.Laplacian(s, cv2.CV_32F, borderType=cv2.BORDER_REFLECT) for s in (u, v))
        both = u * v * v
        u, v = u + 0.16 * spread_u - both + 0.0367 * (1 - u), v + 0.08 * spread_v + both - 0.1016 * v
    v = cv2.resize(v, SHAPE[::-1], interpolation=cv2.INTER_CUBIC)
    steep = np.hypot(cv2.Sobel(v, cv2.CV_32F, 1, 0, scale=1 / 8), cv2.Sobel(v, cv2.CV_32F, 0, 1, scale=1 / 8))
    deep = (v - 0.2) / np.maximum(1e-4, steep)
    told = marbled(labs[:3], rng, 40, 6)
    told = told + (linear_of_lab(labs[3]) - told) * np.clip(deep + 0.5, 0, 1)[..., None]
    if i % 2:
        told = told + (linear_of_lab(labs[4]) - told) * (np.clip(3.5 - np.abs(deep), 0, 1) * (v > 0.19))[..., None]
    return told, label(v > 0.2)[0]


def haired(picture: Picture, rng: np.random.Generator, count: int) -> Picture:
    """Hairs: smooth, of one width, dark or pale."""
    laid = np.zeros(SHAPE, np.float32)
    for _ in range(count):
        heading, bend, at, path = rng.uniform(0, 6.28), rng.normal(0, 0.06), rng.uniform([0, 0], SHAPE[::-1]), []
        for _ in range(40 * int(rng.integers(1, 4))):
            bend += rng.normal(0, 0.012)
            heading += bend
            at = at + np.array([np.cos(heading), np.sin(heading)]) * 2.4
            path.append(at)
        cv2.polylines(laid, [np.int32(np.array(path) * 8)], False, 1.0, 1, cv2.LINE_AA, 3)
    share = (cv2.GaussianBlur(laid, (0, 0), 0.6) * np.float32(0.8))[..., None]
    return picture + (linear_of_lab([rng.choice([20, 85]), 0, 3]) - picture) * share


def woven(picture: Picture, rng: np.random.Generator) -> Picture:
    """Canvas that shows under glare."""
    rows, columns = np.mgrid[: SHAPE[0], : SHAPE[1]]
    pitch = rng.uniform(5, 7.5)
    weave = np.sin(columns * 2 * np.pi / pitch) * np.sin(rows * 2 * np.pi / pitch)
    return picture + (np.clip(noise(400, rng, 2), 0, 2) * (0.05 + 0.05 * weave))[..., None].astype(np.float32)


def drawn(kind: str, i: int) -> Sheet:
    """One panel and its truth."""
    rng = np.random.default_rng([sorted(COUNTS).index(kind), i, 19])
    labs = palette(rng)
    colours = np.stack([linear_of_lab(c) for c in labs])
    sheet = blank(WIDE_MM, HIGH_MM, K, colours, colours[0], rng)
    picture = np.broadcast_to(linear_of_lab(labs[0]), (*SHAPE, 3)).copy() if kind == "calm" else marbled(labs, rng)
    if kind == "spots":
        picture, sheet.cells = spots(labs, rng, i)
    elif kind == "stars":
        sizes = ((1.2, 9, 0.55, 0.45, 0.25), (1.2, 6, 0.5, 0.5, 0.15), (1.5, 14, 0.7, 0.4, 0.4), (1.1, 4, 0.4, 0.35, 0.3), (2, 12, 0.6, 0.5, 0.05))
        picture, sheet.cells = opened(picture, labs, STYLES[i % 5], packed(rng, *sizes[i % 5]), rng)
    elif kind == "drawnout":
        rows, columns = np.mgrid[: SHAPE[0], : SHAPE[1]].astype(np.float32)
        a, b = noise(400, rng, 2) * 20, noise(400, rng, 2) * 20
        places = ((columns - SHAPE[1] / 2) / (2.2, 1.6, 3.0)[i % 3] + SHAPE[1] / 2 + a + 0.25 * (rows - SHAPE[0] / 2), rows + b)
        picture, sheet.cells = opened(picture, labs, STYLES[i % 2], packed(rng, 1.8, 8, 0.5, 0.4, 0.3), rng, places)
    elif kind == "islands":
        there = noise(360, rng, 3) > -0.4
        picture, cells = opened(picture, labs[1:], "ringed", packed(rng, 1.5, 8, 0.5, 0.3, 0.3), rng)
        picture = picture + (linear_of_lab(labs[0]) - picture) * (1 - cv2.GaussianBlur(there.astype(np.float32), (0, 0), 0.8))[..., None]
        sheet.cells, sheet.bare = np.where(there, cells, 0), ~there
    elif kind == "web":
        picture = web(labs, rng, i)
    elif kind == "petals":
        picture = petals(labs, rng)
    elif kind == "broken":
        shape, lightness = CRACKS[i % len(CRACKS)]
        sheet.cracks = broken(shape, rng)
        beneath = linear_of_lab([lightness, 35.0 if lightness == 60.0 else 1.0, 20.0 if lightness == 60.0 else 3.0])
        picture = marbled(labs[rng.permutation(5)[:3]], rng, 40, 8)
        picture = picture + (beneath - picture) * sheet.cracks[..., None]
        sheet.cracks = np.where(sheet.cracks > SEEN, np.maximum(sheet.cracks, THERE), 0.0)  # tips are cracks as well
    elif kind == "haired":
        picture = haired(marbled(labs[:3], rng, 45, 10), rng, int(rng.integers(6, 18)))
    if kind == "calm" or (kind == "marbled" and i % 3 == 1):
        picture = woven(picture, rng)
    if kind == "calm":
        picture = haired(picture, rng, 5)
    sheet.linear, sheet.cells = picture, large_enough(sheet.cells)
    return sheet


def large_enough(cells: Any) -> Any:
    """The largest part of each cell, where it is a millimetre wide; numbered anew."""
    told, count = np.zeros(SHAPE, np.int32), 0
    for number in np.unique(cells[cells > 0]):
        parts, n = label(cells == number)
        sizes = np.bincount(parts.ravel(), minlength=n + 1)[1:]
        if 2 * np.sqrt(sizes.max() / np.pi) / K >= LEAST_MM:
            count += 1
            told[parts == 1 + sizes.argmax()] = count
    return told


def photograph_of(drawn: Callable[[str, int], Sheet], counts: dict[str, int], seed: int, kind: str, i: int) -> tuple[Any, Sheet]:
    """A photograph of one panel that a hand has `drawn`, and its truth; `seed`: of that hand's light and noise."""
    sheet = drawn(kind, i)
    return taken(sheet.linear, np.random.default_rng([i, sorted(counts).index(kind), seed])), sheet


def taken(linear: Picture, rng: np.random.Generator) -> Any:
    """A photograph, uint8, by a plain camera in good light."""
    light = 1 + 0.1 * np.clip(noise(1000, rng, 1), -2, 2)[..., None]
    picture = np.clip(linear * light * np.exp(rng.normal(0, 0.03, 3)) * 2 ** rng.normal(-0.1, 0.12), 0, 1).astype(np.float32)
    picture = cv2.GaussianBlur(picture, (0, 0), rng.uniform(0.4, 0.8))
    picture += rng.standard_normal(picture.shape).astype(np.float32) * np.float32(0.006) * np.sqrt(np.clip(picture, 0.02, 1))
    coded = cv2.imencode(".jpg", (srgb_of(picture)[..., ::-1] * 255 + 0.5).astype(np.uint8), [cv2.IMWRITE_JPEG_QUALITY, 90])[1]
    return np.ascontiguousarray(np.asarray(cv2.imdecode(coded, cv2.IMREAD_COLOR))[..., ::-1])


photographed = partial(photograph_of, drawn, COUNTS, 23)

if __name__ == "__main__":
    main_of(__doc__, photographed, COUNTS)
