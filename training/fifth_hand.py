"""Mark the reader on panels of a fifth hand: once more other mechanisms, from other code, that teach nothing and that no bound was chosen by.

    python -m training.fifth_hand FOLDER [--workers 2] [--each] [--first 100]

Cells that touch and share walls (fields of a power diagram), large ones with droplets in them, drops that a swipe drew out to comets, cells cut by
the panel's edge, pastel ones, cells among strands of lacing, two populations of one film; cracks by halving fields again and again (wide or fine,
showing canvas, shadow, or another hue of the same lightness; across cells as well); nothing at all on nets of strands, outlined bands, brush marks.
Noise and camera are the fourth hand's.
"""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, Any, Final

import cv2
import numpy as np

from dribbet.demo.world.sheet import blank
from training.draw import HIGH_MM, WIDE_MM, K
from training.mark import main_of
from training.other_hand import SHAPE, THERE, Picture, large_enough, linear_of_lab, noise, photograph_of

if TYPE_CHECKING:
    from dribbet.demo.world.sheet import Sheet

COUNTS: Final = {
    "walls": 5, "droplets": 4, "comets": 5, "edges": 4, "pastel": 4, "among": 5, "both": 4,
    "halved": 8, "crossed": 4, "net": 5, "outlined": 4, "brushed": 3,
}  # fmt: skip
APART: Final = 22.0
SUPER: Final = 2.6  # a lens between a disc and a square


def colours(rng: np.random.Generator, n: int = 6) -> Any:
    """Colours in CIELAB of a studio that buys by families: some lightnesses of two or three hues, one of them without any chroma."""
    while True:
        hues = rng.uniform(0, 2 * np.pi, 3)
        chroma = np.array([rng.uniform(25, 70), rng.uniform(15, 50), rng.uniform(0, 4)])
        family = rng.integers(0, 3, n)
        light = rng.uniform(12, 96, n)
        c = chroma[family] * np.clip(1.3 - np.abs(light - 55) / 60, 0.15, 1)
        labs = np.stack([light, c * np.cos(hues[family]), c * np.sin(hues[family])], axis=1)
        if (np.linalg.norm(labs[:, None] - labs[None], axis=2) + np.eye(n) * 99).min() > APART:
            return labs


def grid() -> tuple[Picture, Picture]:
    """Columns and rows, px."""
    rows, columns = np.mgrid[: SHAPE[0], : SHAPE[1]].astype(np.float32)
    return columns, rows


def poured(labs: Any, rng: np.random.Generator) -> Picture:
    """Rings of a poured cup that ran: distances from a bent middle, in bands of uneven width, carried by two turns."""
    columns, rows = grid()
    x, y = rng.uniform(0.2, 0.8, 2) * SHAPE[::-1]
    for _ in range(3):
        cx, cy, reach = *(rng.uniform(0, 1, 2) * SHAPE[::-1]), rng.uniform(12, 40) * K
        dx, dy = columns - cx, rows - cy
        turn = rng.normal(0, 1.4) * np.exp(-(dx**2 + dy**2) / (2 * reach**2))
        columns, rows = cx + dx * np.cos(turn) - dy * np.sin(turn), cy + dx * np.sin(turn) + dy * np.cos(turn)
    far = np.hypot(columns - x, rows - y) / K + 1.5 * noise(18 * K, rng, 3)
    edges = np.cumsum(rng.gamma(1.6, rng.uniform(2, 7), 60))
    which = rng.integers(0, len(labs), 61)
    paint = np.stack([linear_of_lab(c) for c in labs])
    return cv2.GaussianBlur(paint[which[np.searchsorted(edges, np.abs(far))]], (0, 0), rng.uniform(0.5, 1.6))


def laid(picture: Picture, colour: Any, share: Picture) -> Picture:
    """Colour over a picture."""
    return np.asarray(picture + (np.asarray(colour, np.float32) - picture) * np.asarray(share, np.float32)[..., None], np.float32)


def other_than(picture: Picture, mask: Any, labs: Any, rng: np.random.Generator, apart: float = APART) -> Any:
    """A colour unlike what lies there, or none."""
    below = cv2.cvtColor(picture[mask].mean(axis=0).reshape(1, 1, 3).astype(np.float32), cv2.COLOR_LRGB2Lab)[0, 0]
    fit = [i for i in rng.permutation(len(labs)) if np.linalg.norm(labs[i] - below) > apart]
    return linear_of_lab(labs[fit[0]]) if fit else None


def walls(picture: Picture, labs: Any, rng: np.random.Generator) -> tuple[Picture, Any]:
    """Fields of a power diagram, rounded, between walls of one paint; where a patch of noise is high."""
    columns, rows = grid()
    mean = rng.uniform(3.0, 8.0) * K
    count = int(SHAPE[0] * SHAPE[1] / mean**2)
    spots, power = rng.uniform([0, 0], SHAPE[::-1], (count, 2)), rng.normal(0, 0.45 * mean, count) * mean * 0.4
    best, second, owner = (np.full(SHAPE, np.inf, np.float32) for _ in range(3))
    for i, ((x, y), p) in enumerate(zip(spots, power, strict=True)):
        r = int(3.2 * mean)
        window = np.s_[max(0, int(y) - r) : int(y) + r, max(0, int(x) - r) : int(x) + r]
        far = (columns[window] - x) ** 2 + (rows[window] - y) ** 2 - p
        nearer = far < best[window]
        second[window] = np.where(nearer, best[window], np.minimum(second[window], far))
        owner[window] = np.where(nearer, i, owner[window])
        best[window] = np.where(nearer, far, best[window])
    away = (second - best) / (2 * mean)  # about px from the border
    body = cv2.GaussianBlur((away > rng.uniform(0.05, 0.1) * mean).astype(np.float32), (0, 0), 0.09 * mean) > 0.5
    patch = noise(26 * K, rng, 2) > rng.uniform(-1.5, 0.2)
    numbers = np.zeros(SHAPE, np.int32)
    whole = [i for i in range(count) if (m := (owner == i) & body).any() and patch[m].mean() > 0.95 and 0.02 * mean**2 < m.sum() < 2.5 * mean**2]
    near = cv2.dilate(np.isin(owner, whole).astype(np.uint8), np.ones((3, 3), np.uint8))
    told = laid(picture, linear_of_lab(labs[0]), cv2.GaussianBlur(near.astype(np.float32), (0, 0), 1.0))
    for n, i in enumerate(whole, 1):
        m = (owner == i) & body
        fill = linear_of_lab(labs[rng.integers(1, len(labs))])
        deep = cv2.distanceTransform(m.astype(np.uint8), cv2.DIST_L2, 5)
        shade = 1 + rng.uniform(-0.25, 0.25) * deep / max(deep.max(), 1)
        told = laid(told, fill, np.clip(deep / rng.uniform(0.8, 2.0), 0, 1)) if n % 2 else np.where(m[..., None], fill * shade[..., None], told)
        numbers[m] = n
    return cv2.GaussianBlur(np.asarray(told, np.float32), (0, 0), 0.6), numbers


def lens(x: float, y: float, wide: float, high: float, turn: float, rng: np.random.Generator) -> Picture:
    """How deep each pixel lies in a lens of `SUPER`'s shape with a soft wave, in px; far below nought outside."""
    reach = int(2 * max(wide, high)) + 4
    top, left = max(0, int(y) - reach), max(0, int(x) - reach)
    rows, columns = np.mgrid[top : min(SHAPE[0], int(y) + reach), left : min(SHAPE[1], int(x) + reach)].astype(np.float32)
    told = np.full(SHAPE, -99.0, np.float32)
    u, v = (columns - x) * np.cos(turn) + (rows - y) * np.sin(turn), (rows - y) * np.cos(turn) - (columns - x) * np.sin(turn)
    about = np.arctan2(v / high, u / wide)
    wave = 1 + sum(rng.normal(0, 0.05 / n) * np.cos(n * about + rng.uniform(0, 6.28)) for n in (2, 3, 5))
    deep = (wave - (np.abs(u / wide) ** SUPER + np.abs(v / high) ** SUPER) ** (1 / SUPER)) * min(wide, high)
    told[top : top + len(rows), left : left + rows.shape[1]] = deep
    return told


def lenses(picture: Picture, labs: Any, rng: np.random.Generator, kind: str) -> tuple[Picture, Any]:
    """Cells, one after another, where there is room."""
    numbers, told = np.zeros(SHAPE, np.int32), picture
    low, high, count = {"droplets": (9, 22, 14), "edges": (3, 16, 40), "pastel": (2, 11, 60), "among": (1.6, 9, 70), "both": (1.1, 14, 120)}[kind]
    number = 0
    for _ in range(8 * count):
        wide = (
            float(np.exp(rng.uniform(np.log(low), np.log(high)))) if kind != "both" else float(rng.choice([rng.uniform(1.1, 2), rng.uniform(6, 14)]))
        )
        x, y = rng.uniform(0, 1, 2) * SHAPE[::-1]
        if kind == "edges":
            x, y = [(x, rng.choice([0, SHAPE[0]])), (rng.choice([0, SHAPE[1]]), y)][rng.integers(2)]
            x, y = x + rng.normal(0, wide * K / 4), y + rng.normal(0, wide * K / 4)
        deep = lens(x, y, wide * K / 2, wide * K / 2 / rng.uniform(1, 1.5), rng.uniform(0, np.pi), rng)
        body = deep > 0
        if body.sum() < 0.8 * K * K or numbers[cv2.dilate(body.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0].any():
            continue
        if kind == "pastel":
            below = cv2.cvtColor(told[body].mean(axis=0).reshape(1, 1, 3).astype(np.float32), cv2.COLOR_LRGB2Lab)[0, 0]
            step = rng.normal(0, 1, 3) * (1, 0.6, 0.6)
            fill: Any = linear_of_lab(below + step / np.linalg.norm(step) * rng.uniform(8, 15))
        else:
            fill = other_than(told, body, labs, rng)
        if fill is None:
            continue
        number += 1
        told = laid(told, fill, np.clip(deep / rng.uniform(0.7, 2.5) + 0.5, 0, 1))
        if rng.random() < 0.4 and (rim := other_than(told, body, labs, rng)) is not None and kind != "pastel":
            told = laid(told, rim, np.clip(1.5 - np.abs(deep - 1.5) / rng.uniform(1.0, 2.5), 0, 1))
        if kind == "droplets":
            for _ in range(int(rng.integers(2, 12))):
                i = rng.integers(body.sum())
                at = np.argwhere(body)[i]
                drop = lens(float(at[1]), float(at[0]), *(rng.uniform(0.25, 0.45, 2) * K), 0.0, rng)
                told = laid(told, linear_of_lab(labs[rng.integers(len(labs))]), np.clip(drop / 0.8 + 0.5, 0, 1) * body)
        numbers[body] = number
        if number >= count:
            break
    return told, numbers


def comets(picture: Picture, labs: Any, rng: np.random.Generator) -> tuple[Picture, Any]:
    """Drops that a swipe drew out: round at the head, thinning and fading to the tail; all one way, more or less."""
    columns, rows = grid()
    way, numbers, told, number = rng.uniform(0, 2 * np.pi), np.zeros(SHAPE, np.int32), picture, 0
    for _ in range(400):
        r, long_ = rng.uniform(0.8, 3.2) * K, rng.uniform(1.5, 3.5)
        x, y = rng.uniform(0, 1, 2) * SHAPE[::-1]
        a = way + rng.normal(0, 0.1)
        u, v = ((columns - x) * np.cos(a) + (rows - y) * np.sin(a)) / r, ((rows - y) * np.cos(a) - (columns - x) * np.sin(a)) / r
        half = np.where(u < 0, np.sqrt(np.clip(1 - u**2, 0, 1)), np.clip(1 - u / (2 * long_ - 1), 0, 1) ** 0.7)
        deep = (half - np.abs(v)) * r
        body = (deep > 0) & (u > -1)
        if not body.any() or numbers[cv2.dilate(body.astype(np.uint8), np.ones((7, 7), np.uint8)) > 0].any():
            continue
        fill = other_than(told, body, labs, rng)
        if fill is None:
            continue
        number += 1
        told = laid(told, fill, np.clip(deep / 1.2 + 0.5, 0, 1) * (u > -1.2) * np.clip(1 - 0.6 * u / (2 * long_ - 1), 0.4, 1))
        numbers[body] = number
    return told, numbers


def strands(rng: np.random.Generator, pitch_mm: float, thin_mm: float, broken: float) -> Picture:
    """Share of a net of strands: crests of noise, as wide as another noise lets them be, torn where a third is low."""
    fields = [noise(pitch_mm * K, rng, 2) for _ in range(2)]
    share = np.zeros(SHAPE, np.float32)
    for field in fields:
        steep = np.hypot(cv2.Sobel(field, cv2.CV_32F, 1, 0, scale=1 / 8), cv2.Sobel(field, cv2.CV_32F, 0, 1, scale=1 / 8))
        away = np.abs(field) / np.maximum(steep, 0.2 / (pitch_mm * K))
        share = np.maximum(share, np.clip(thin_mm * K / 2 * (1 + 0.4 * noise(9 * K, rng, 2)) - away + 0.5, 0, 1))
    return np.asarray(share * (noise(6 * K, rng, 2) > broken), np.float32)


def halved(rng: np.random.Generator, least_mm: float, wide_mm: float, kept: float) -> Picture:
    """Share of each pixel that is cracked: fields halved across their longer way, again and again, each crack thinner than the one before."""
    fine = 2
    share = np.zeros((SHAPE[0] * fine, SHAPE[1] * fine), np.uint8)
    owner, todo, numbers = np.ones(SHAPE, np.int32), [(1, 0)], 1
    columns, rows = grid()
    held = noise(30 * K, rng, 2)
    ragged = noise(rng.uniform(1.5, 5) * K, rng, 2) * np.float32(rng.uniform(0.04, 0.25) * K)
    while todo:
        field, age = todo.pop()
        mask = owner == field
        y, x = rows[mask], columns[mask]
        if len(x) < (least_mm * K) ** 2 or numbers > 500:
            continue
        spread = np.cov(np.stack([x, y]))
        across = np.linalg.eigh(spread)[1][:, 0]  # along the shorter way: the crack runs there
        turn = rng.normal(0, 0.25)
        across = np.array([across[0] * np.cos(turn) - across[1] * np.sin(turn), across[0] * np.sin(turn) + across[1] * np.cos(turn)])
        middle = np.array([x.mean(), y.mean()]) + rng.normal(0, 0.12, 2) * np.sqrt(np.diag(spread))
        side = np.array([-across[1], across[0]])
        sway = rng.normal(0, 1, 5)
        along = (columns - middle[0]) * across[0] + (rows - middle[1]) * across[1]
        reach = max(float(np.abs(along[mask]).max()), 1.0)
        bend = sum(sway[n] * np.cos(np.pi * (n + 1) * along / reach * 0.7 + n) for n in range(5)) * 0.04 * reach
        bend = bend + ragged * rng.choice((-1, 1))
        off = (columns - middle[0]) * side[0] + (rows - middle[1]) * side[1] - bend
        numbers += 1
        owner[mask & (off > 0)] = numbers
        todo += [(field, age + 1), (numbers, age + 1)]
        if age and rng.random() < kept and held[mask].mean() > -0.3:
            wide = wide_mm * 0.75**age * rng.uniform(0.6, 1.3)
            taper = np.clip((1 - np.abs(along) / reach) * 4, 0.25, 1) if rng.random() < 0.6 else 1.0
            line = np.clip(wide * K / 2 * taper - np.abs(off) + 0.5, 0, 1) * np.clip(wide * K * taper, 0, 1) * mask
            share = np.maximum(share, cv2.resize(np.asarray(line * 255, np.float32), share.shape[::-1]).astype(np.uint8))
    return cv2.resize(share, SHAPE[::-1], interpolation=cv2.INTER_AREA).astype(np.float32) / 255.0


def cracked(sheet: Sheet, picture: Picture, labs: Any, i: int, rng: np.random.Generator) -> Picture:
    """A picture whose film is cracked, and the truth of it on the sheet."""
    least, wide, kept = ((22, 0.8, 0.9), (12, 0.35, 0.8), (8, 0.5, 0.5), (30, 1.6, 0.9))[i % 4]
    share = halved(rng, least, wide, kept)
    if i % 3 == 0:
        beneath: Any = linear_of_lab([rng.uniform(86, 95), 1, rng.uniform(2, 8)])
    elif i % 3 == 1:
        beneath = linear_of_lab([rng.uniform(6, 18), 0, 2])
    else:  # of the film's own lightness, without its hue
        light = cv2.cvtColor(picture.mean(axis=(0, 1)).reshape(1, 1, 3), cv2.COLOR_LRGB2Lab)[0, 0, 0]
        beneath = linear_of_lab([light, 0, 1])
    told = laid(picture, beneath, share * rng.uniform(0.8, 1.0))
    pair = [cv2.cvtColor(np.clip(cv2.GaussianBlur(p, (0, 0), 0.8), 0, 1), cv2.COLOR_LRGB2Lab) for p in (picture, told)]
    there = (share > 0.25) & (cv2.GaussianBlur(np.linalg.norm(pair[0] - pair[1], axis=2), (0, 0), 2.0) > 2.0)
    sheet.cracks = np.where(there, np.maximum(share, THERE), 0.0).astype(np.float32)
    return told


def drawn(kind: str, i: int) -> Sheet:
    """One panel and its truth."""
    rng = np.random.default_rng([sorted(COUNTS).index(kind), i, 29])
    labs = colours(rng)
    paint = np.stack([linear_of_lab(c) for c in labs])
    sheet = blank(WIDE_MM, HIGH_MM, K, paint, paint[0], rng)
    picture = poured(labs[rng.permutation(6)[: rng.integers(2, 5)]], rng)
    if kind == "walls":
        picture, sheet.cells = walls(picture, labs, rng)
    elif kind == "comets":
        picture, sheet.cells = comets(picture, labs, rng)
    elif kind in ("droplets", "edges", "pastel", "among", "both"):
        picture, sheet.cells = lenses(picture, labs, rng, kind)
    if kind in ("net", "among"):
        torn = rng.uniform(-1.5, 0.3)
        net = strands(rng, rng.uniform(6, 16), rng.uniform(0.25, 0.9), torn) * (sheet.cells == 0 if i % 2 else 1.0)
        sheet.lacing, picture = net, laid(picture, linear_of_lab(labs[0]), net)
    if kind == "outlined":
        lab = cv2.cvtColor(picture, cv2.COLOR_LRGB2Lab)
        border = cv2.morphologyEx(lab[..., 0], cv2.MORPH_GRADIENT, np.ones((3, 3), np.uint8)) > 6
        picture = laid(picture, linear_of_lab(labs[0]), cv2.GaussianBlur(border.astype(np.float32), (0, 0), rng.uniform(0.6, 1.2)).clip(0, 1))
    if kind == "brushed":
        marks = cv2.GaussianBlur(rng.standard_normal(SHAPE).astype(np.float32), (0, 0), sigmaX=60, sigmaY=0.9)
        picture = np.clip(paint[0] * (1 + 0.12 * marks / marks.std())[..., None], 0, 1).astype(np.float32)
    if kind in ("halved", "crossed"):
        if kind == "crossed":
            picture, sheet.cells = lenses(picture, labs, rng, "among")
        picture = cracked(sheet, picture, labs, i, rng)
    sheet.linear, sheet.cells = np.clip(picture, 0, 1), large_enough(sheet.cells)
    return sheet


photographed = partial(photograph_of, drawn, COUNTS, 31)

if __name__ == "__main__":
    main_of(__doc__, photographed, COUNTS)
