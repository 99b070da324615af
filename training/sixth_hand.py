"""Mark the reader on panels of a sixth hand: other mechanisms, colours and code again. Its rings found `sight/bands`, its dried mud `sight/fields`.

    python -m training.sixth_hand FOLDER [--workers 2] [--each] [--first 100]

Rings and waves of thin bands, and combed ones; cells like a tissue, parted by lace of uneven width; round ones that four swirls carried away, plain
ones, small ones; films that broke like drying mud (fields of even size that share their cracks: white or dark, in scales, by single hairs), and such
films with cells. Camera and noise of it are the fourth hand's.
"""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, Any, Final

import cv2
import numpy as np
from scipy.ndimage import distance_transform_edt
from scipy.spatial import cKDTree
from skimage.morphology import skeletonize

from dribbet.demo.painter import linear_of
from dribbet.demo.world.sheet import blank
from training.draw import HIGH_MM, WIDE_MM, K
from training.mark import main_of
from training.other_hand import SHAPE, Picture, large_enough, noise, photograph_of

if TYPE_CHECKING:
    from dribbet.demo.world.sheet import Sheet

COUNTS: Final = {"rings": 6, "waves": 6, "combed": 2, "tissue": 3, "swirled": 4, "plain": 3, "small": 3, "mud": 8, "mudcells": 4}
CUPS: Final = (
    ("#0B3C5D", "#F4F1EA", "#D9B310", "#328CC1", "#1D2731"), ("#5B1A36", "#E7B7C8", "#F7F3EE", "#2E2A2B", "#B3547A"),
    ("#0F4C3A", "#9BC1A3", "#E9E3CF", "#C8803A", "#20302B"), ("#222222", "#F5F5F5", "#8C8C8C", "#C9C9C9", "#4A4A4A"),
    ("#F6D1C1", "#F2E9E1", "#C5D8D1", "#A9B7C0", "#E8B4A0"), ("#E4572E", "#29335C", "#F3A712", "#A8C686", "#669BBC"),
    ("#3B1F5B", "#7A4FA3", "#D6C6E1", "#F0EEF4", "#19B5A5"),
)  # fmt: skip
WHITE: Final = "#EFECE4"
SHADOW: Final = "#191715"
MUDS: Final = ((9.0, 0.5, WHITE, 1.0), (14.0, 0.4, SHADOW, 0.6), (5.0, 0.25, WHITE, 1.0), (30.0, 0.18, SHADOW, 0.5))
"""Width of the fields, of the cracks (mm), what shows, and how much of the film is cracked."""
SEEN: Final = 0.5  # of a pixel that a crack covers
APART: Final = 14.0


def paint(code: str) -> Picture:
    """Linear light of one colour."""
    return np.asarray(linear_of(code), np.float32)


def places() -> tuple[Picture, Picture]:
    """Columns and rows, px."""
    rows, columns = np.mgrid[: SHAPE[0], : SHAPE[1]].astype(np.float32)
    return columns, rows


def stepped(height: Picture, cup: Any, widths: Any, rng: np.random.Generator) -> Picture:
    """Bands of a cup's paints, of such widths in mm, along a height in mm."""
    ends = np.cumsum(rng.choice(widths, 500))
    paints = np.stack([paint(c) for c in cup])[rng.integers(0, len(cup), len(ends) + 1)]
    return cv2.GaussianBlur(paints[np.searchsorted(ends, np.clip(height - height.min(), 0, ends[-1]))], (0, 0), rng.uniform(0.8, 1.3))


def banded(kind: str, cup: Any, rng: np.random.Generator) -> Picture:
    """Rings of a poured cup, waves of a film that was tilted, or bands that a comb was drawn through."""
    columns, rows = places()
    if kind == "rings":
        x, y = rng.uniform(0.3, 0.7, 2) * SHAPE[::-1]
        away = np.hypot(columns - x, rows - y) / K
        return stepped(away + 1.8 * noise(18 * K, rng) + 0.3 * noise(4 * K, rng, 3), cup, (0.4, 0.6, 0.9, 1.4, 2.5, 4), rng)
    if kind == "waves":
        swing = rng.uniform(3, 8) * np.sin(columns / K / rng.uniform(8, 20) + rng.uniform(0, 6))
        return stepped(rows / K + swing + 2 * noise(20 * K, rng) + 0.25 * noise(3 * K, rng, 3), cup, (0.3, 0.5, 0.8, 1.2, 3, 6), rng)
    comb = 5 * (np.abs(np.mod(columns / K / rng.uniform(5, 9), 2) - 1) ** 2) * 2
    return stepped(rows / K + comb + noise(20 * K, rng, 2), cup, (1.5, 2.5, 4), rng)


def poured(cup: Any, rng: np.random.Generator) -> Picture:
    """Paints that ran into each other: heights of noise that other noise carried, with soft steps."""
    columns, rows = places()
    a, b = (noise(25 * K, rng, 3) * np.float32(5 * K) for _ in range(2))
    height = noise(30 * K, rng)
    height = cv2.remap(height, columns + a, rows + b, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT)
    at = (height - height.min()) / np.ptp(height) * 2 * len(cup)
    paints = np.stack([paint(c) for c in cup])
    low, share = at.astype(int), np.clip((at % 1 - 0.5) / rng.uniform(0.1, 0.6) + 0.5, 0, 1)[..., None]
    return paints[low % len(cup)] * (1 - share) + paints[(low + 1) % len(cup)] * share


def swirled(rng: np.random.Generator) -> tuple[Picture, Picture]:
    """Where each place was before four swirls."""
    columns, rows = places()
    for _ in range(4):
        x, y = rng.uniform(0, 1, 2) * SHAPE[::-1]
        turn = np.exp(-((columns - x) ** 2 + (rows - y) ** 2) / (2 * (rng.uniform(18, 35) * K) ** 2)) * rng.choice([-1, 1]) * rng.uniform(0.5, 1.1)
        dx, dy = columns - x, rows - y
        columns, rows = x + dx * np.cos(turn) - dy * np.sin(turn), y + dx * np.sin(turn) + dy * np.cos(turn)
    return columns, rows


def discs(picture: Picture, cup: Any, rng: np.random.Generator, radii: tuple[float, float], share: float, where: Any, *, rings: bool) -> Any:
    """Round cells of radii between two (mm), the largest first, plain, ringed or fading inwards; the picture and their numbers."""
    told, numbers, there = picture.copy(), np.zeros(SHAPE, np.int32), []
    columns, rows = where
    for r in sorted(radii[0] * (radii[1] / radii[0]) ** rng.random(1500), reverse=True):
        if sum(np.pi * c**2 for *_, c in there) > share * WIDE_MM * HIGH_MM:
            break
        for x, y in rng.uniform((0, 0), (WIDE_MM, HIGH_MM), (30, 2)):
            if all(np.hypot(x - a, y - b) > r + c + 0.3 for a, b, c in there):
                there.append((x, y, r))
                break
    for number, (x, y, r) in enumerate(there, 1):
        dx, dy = columns / K - x, rows / K - y
        near = np.nonzero(np.hypot(dx, dy) < 1.3 * r)
        turn = np.arctan2(dy[near], dx[near])
        away = np.hypot(dx[near], dy[near]) / (1 + 0.06 * np.sin(3 * turn + number) + 0.04 * np.sin(5 * turn + 2 * number))
        own, other = (paint(cup[i]) for i in rng.integers(0, len(cup), 2))
        style = int(rng.integers(3)) if rings else 0
        within = {0: 0 * away, 1: np.clip((away - 0.75 * r) * K / 3 + 0.5, 0, 1), 2: 0.7 * np.clip(away / r, 0, 1) ** 2}[style][:, None]
        colour = own * (1 - within) + other * within
        if len(away) and delta(told[near].mean(axis=0), colour[-1]) < APART:
            colour = colour * 0.35 + 0.02
        over = np.clip((r - away) * K / 2 + 0.5, 0, 1)[:, None]
        told[near] = told[near] * (1 - over) + colour * over
        inside = away <= r
        numbers[near[0][inside], near[1][inside]] = number
    return told, numbers


def delta(a: Any, b: Any) -> float:
    """Delta E (1976) of two colours in linear light."""
    labs = [cv2.cvtColor(np.asarray(c, np.float32).reshape(1, 1, 3).clip(0, 1), cv2.COLOR_LRGB2Lab) for c in (a, b)]
    return float(np.linalg.norm(labs[0] - labs[1]))


def fields(size_mm: float, rng: np.random.Generator, *, evened: int, bend_mm: float, cell_mm: float, norm: int = 2) -> Any:
    """Number of the field in which each place lies, and of the next one, shape (rows, columns, 2)."""
    count = max(4, int(WIDE_MM * HIGH_MM / size_mm**2))
    middles = rng.uniform((0, 0), SHAPE[::-1], (count, 2))
    for _ in range(evened):  # each middle goes where the middle of its field is (Lloyd)
        some = rng.uniform((0, 0), SHAPE[::-1], (40_000, 2))
        own = cKDTree(middles).query(some)[1]
        middles = np.stack([some[own == i].mean(axis=0) if (own == i).any() else middles[i] for i in range(count)])
    columns, rows = places()
    bent = np.stack([columns + bend_mm * K * noise(cell_mm * K, rng), rows + bend_mm * K * noise(cell_mm * K, rng)], axis=-1)
    return cKDTree(middles).query(bent.reshape(-1, 2), 2, p=norm)[1].reshape(*SHAPE, 2)


def edges(numbers: Any) -> Any:
    """Where the number changes."""
    grey = numbers.astype(np.float32)
    return cv2.dilate(grey, np.ones((2, 2))) != cv2.erode(grey, np.ones((2, 2)))


def tissue(picture: Picture, cup: Any, rng: np.random.Generator) -> Any:
    """Four of five fields of a tissue in two paints, with lace between them; the picture and their numbers."""
    own = fields(rng.uniform(3.5, 6), rng, evened=1, bend_mm=0.8, cell_mm=4)[..., 0]
    away = distance_transform_edt(~edges(own)) - (0.35 + 0.5 * np.clip(noise(15 * K, rng, 2) * 0.5 + 0.5, 0, 1.2)) * K
    open_ = (rng.random(own.max() + 1) < 0.8)[own]
    inside = (away > 0) & open_
    lace = cv2.dilate(inside.astype(np.uint8), np.ones((17, 17), np.uint8)) > 0
    told = np.where(lace[..., None], 0.2 * picture + 0.8 * paint(cup[-1]), picture)
    fill = np.stack([paint(c) for c in cup])[rng.integers(0, 2, own.max() + 1)][own] * np.clip(1 + 0.15 * noise(3 * K, rng, 3), 0.6, 1.4)[..., None]
    over = (np.clip(away / 2 + 0.5, 0, 1) * open_)[..., None]
    return told * (1 - over) + fill * over, np.where(inside, own + 1, 0)


def mud(picture: Picture, rng: np.random.Generator, i: int) -> tuple[Picture, Picture]:
    """A film that broke like drying mud: the picture, and where it is cracked."""
    size, wide, shows, share = MUDS[i % len(MUDS)]
    both = fields(size, rng, evened=2, bend_mm=0.35, cell_mm=2.5, norm=1 if size == 5.0 else 2)
    shared = both.min(axis=-1) * 100_003 + both.max(axis=-1)
    weak = noise(40 * K, rng, 2)
    broken = edges(both[..., 0]) & (shared * 2_654_435_761 % 1000 < 900) & (weak > np.quantile(weak, 1 - share))
    half = np.clip(wide / 2 * (1 + 0.5 * noise(12 * K, rng, 3)), 0.08, 3) * K
    over = np.clip(half - distance_transform_edt(~skeletonize(broken)) + 0.5, 0, 1)
    beneath = paint(shows) * np.clip(1 + 0.1 * noise(K, rng, 2), 0, 2)[..., None]
    return picture * (1 - over[..., None]) + beneath * over[..., None], (over > SEEN).astype(np.float32)


def drawn(kind: str, i: int) -> Sheet:
    """One panel and its truth."""
    rng = np.random.default_rng([sorted(COUNTS).index(kind), i, 37])
    cup = CUPS[(3 * sorted(COUNTS).index(kind) + 2 * i) % len(CUPS)]
    paints = np.stack([paint(c) for c in cup])
    sheet = blank(WIDE_MM, HIGH_MM, K, paints, paints[0], rng)
    picture = banded(kind, cup, rng) if kind in ("rings", "waves", "combed") else poured(cup, rng)
    if kind == "tissue":
        picture, sheet.cells = tissue(picture, cup, rng)
    elif kind in ("swirled", "plain", "small", "mudcells"):
        radii, share = {"plain": ((1.5, 9.0), 0.3), "small": ((0.5, 1.8), 0.12), "swirled": ((0.6, 5.0), 0.3), "mudcells": ((0.6, 5.0), 0.2)}[kind]
        where = swirled(rng) if kind == "swirled" else places()
        picture, sheet.cells = discs(picture, cup, rng, radii, share, where, rings=kind in ("swirled", "mudcells"))
    if kind in ("mud", "mudcells"):
        picture, sheet.cracks = mud(picture, rng, i)
    sheet.linear, sheet.cells = np.clip(picture, 0, 1).astype(np.float32), large_enough(sheet.cells)
    return sheet


photographed = partial(photograph_of, drawn, COUNTS, 41)

if __name__ == "__main__":
    main_of(__doc__, photographed, COUNTS)
