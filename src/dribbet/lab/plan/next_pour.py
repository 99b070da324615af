"""What to pour next: for each further test, how much better the best recipe is expected to become by what it tells.

Each response is a smooth curve over what was varied, with panels scattered round it: a Gaussian process with a straight part
(Rasmussen and Williams 2006, ch. 2), its size and
shape averaged by the likelihood of the panels. Responses are put together by desirability
(Derringer and Suich 1980). A test that is not poured yet is played many times on the curves as they are known; the mean gain of the
best poured recipe after it is its worth (the knowledge gradient of Frazier, Powell and Dayanik 2008).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import Enum
from itertools import product
from typing import TYPE_CHECKING, Final

import numpy as np

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

    Floats = NDArray[np.float64]

GRID: Final = 25  # places looked at along one thing varied
BEYOND: Final = 0.35  # of the range that was tried, looked at on either side of it
PLAYS: Final = 256
EACH: Final = 2  # panels of each recipe in a proposed test
MOST_PLACES: Final = 160
ROOM: Final = 0.5  # of what was seen, on both sides: desirability still grows there, so that better than the best can be better
SEED: Final = 20
NOTHING_LEFT: Final = 0.02
"""Expected gain, of a desirability from 0 to 1, below which a test is not worth its panels."""


class Place(Enum):
    """Where a proposed recipe lies."""

    TRIED = "tried"
    BETWEEN = "between"
    BELOW = "below all that was tried"
    ABOVE = "above all that was tried"
    WITHOUT = "without it"
    TOGETHER = "levels that were tried, but not together"


@dataclass(frozen=True, slots=True, kw_only=True)
class Along:
    """One thing varied, on the axis on which it acts evenly."""

    levels: tuple[float, ...]
    named: bool = False
    """Whether its levels are names: then they are only alike or unlike."""
    others: tuple[float, ...] = ()
    """Further places on its axis that could be poured."""
    without: float | None = None
    """Its place without it, where that was not tried."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Sought:
    """One response: what each panel showed, on a scale on which panels scatter evenly, and what is wanted of it."""

    values: tuple[float, ...]
    """NaN where a panel says nothing of it."""
    more: bool
    sd: float
    """Scatter of panels poured alike, measuring included."""
    low: float | None = None
    high: float | None = None
    """Range in which it should lie, where one was asked."""
    weight: float = 1.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Worth:
    """One further test: the recipe that it adds beside the best one, and what it is worth."""

    place: Place
    at: tuple[float, ...]
    """Where it lies, on the axis of each thing varied."""
    gain: float
    """Expected gain of the best recipe's desirability, 0 to 1."""
    panels: int

    @property
    def each(self) -> float:
        """Expected gain by panel."""
        return self.gain / self.panels


@dataclass(frozen=True, slots=True, kw_only=True)
class Outlook:
    """What is known, and what would be worth pouring."""

    best: tuple[float, ...]
    """Recipe that is best as far as is known, among those that were tried."""
    desirability: float
    worths: tuple[Worth, ...]
    """Best first."""
    repeat: Worth
    """So many panels more of every recipe that was poured."""
    spans: tuple[float, ...]
    """By thing varied: how far desirability moves over its tried levels at the best of all else."""
    sure: float
    """Chance that no recipe on the axes is better than the best one by more than `NOTHING_LEFT`."""


@dataclass(frozen=True, slots=True)
class _Shape:
    """How much of a curve is free, straight and bent."""

    free: float
    straight: float
    bent: float


SHAPES: Final = (_Shape(1.0, 0.0, 0.0), _Shape(0.1, 1.0, 0.0), _Shape(0.1, 0.5, 1.0))
REACH: Final = 0.8
"""Of what is free, where what was tried runs from -1 to 1."""
LEAST_NOISE: Final = 1e-3
"""Of the spread of all panels: those that agree to the last digit, as hours between the same two looks do, are not as sure as that."""
UNLIKE: Final = 0.3  # how far two names of one thing are taken to be alike


@dataclass(frozen=True, slots=True)
class _Curve:
    """A response as it is known on a grid: mean and covariance."""

    mean: Floats
    covariance: Floats
    variance: float
    """Of one panel round the curve."""


def outlook(along: Sequence[Along], rows: Sequence[Sequence[float]], sought: Sequence[Sought], *, repeats: int = 1, seed: int = SEED) -> Outlook:
    """What further tests are worth.

    Parameters
    ----------
    along : sequence of Along
        Things varied.
    rows : sequence of (n_factors,) floats
        Each panel's places on the axes.
    sought : sequence of Sought
        Responses with one value a panel.
    repeats : int
        Panels more of every recipe, of which `Outlook.repeat` tells the worth.

    Raises
    ------
    ValueError
        If there is no panel or no response.
    """
    if not rows or not sought:
        raise ValueError("There is no panel to learn from.")
    x = np.asarray(rows, np.float64)
    grid, places = _grid(along, x)
    scale = _Scaler(along)
    curves = [_learn(scale(x), np.asarray(s.values, np.float64), scale(grid), s.sd, [a.named for a in along]) for s in sought]
    seen = [_seen(s) for s in sought]
    means = np.stack([c.mean for c in curves])
    now = _desirability(means[:, None, :], sought, seen)[0]
    tried = np.array([p is Place.TRIED for p in places])
    best = int(np.flatnonzero(tried)[np.argmax(now[tried])])
    rng = np.random.default_rng(seed)
    poured_rows = [int(i) for i in np.flatnonzero(tried)] * repeats
    normals = rng.standard_normal((len(sought), PLAYS, max(2 * EACH, len(poured_rows))))
    worths = []
    for i, place in enumerate(places):
        rows_of = [i] * EACH if i == best else [best] * EACH + [i] * EACH
        after = np.stack([_after(c, rows_of, normals[k]) for k, c in enumerate(curves)])  # responses x plays x places
        poured = tried.copy()
        poured[i] = True  # only what was poured can be kept: a curve's promise elsewhere is none yet
        gain = float(np.mean(_desirability(after, sought, seen)[:, poured].max(axis=1)) - now[best])
        worths.append(Worth(place=place, at=tuple(float(v) for v in grid[i]), gain=max(gain, 0.0), panels=len(rows_of)))
    after = np.stack([_after(c, poured_rows, normals[k]) for k, c in enumerate(curves)])
    again = float(np.mean(_desirability(after, sought, seen)[:, tried].max(axis=1)) - now[best])
    spans = []
    for i, a in enumerate(along):
        line = [k for k in range(len(grid)) if tried[k] and all(j == i or grid[k, j] == grid[best, j] for j in range(len(along)))]
        spans.append(float(np.ptp(now[line])) if len(line) > 1 and len(a.levels) > 1 else 0.0)
    return Outlook(
        repeat=Worth(place=Place.TRIED, at=tuple(float(v) for v in grid[best]), gain=max(again, 0.0), panels=len(poured_rows)),
        spans=tuple(spans), best=tuple(float(v) for v in grid[best]), desirability=float(now[best]),
        worths=tuple(sorted(worths, key=lambda w: -w.gain)), sure=_sure(curves, sought, seen, best, rng),
    )  # fmt: skip


def _grid(along: Sequence[Along], x: Floats) -> tuple[Floats, list[Place]]:
    """Recipes to look at: all that were tried, and along each thing varied further ones beside every tried recipe."""
    cells = list(dict.fromkeys(tuple(float(v) for v in row) for row in x))
    kept: dict[tuple[float, ...], Place] = dict.fromkeys(cells, Place.TRIED)
    for cell in list(product(*[a.levels for a in along]))[:MOST_PLACES]:
        kept.setdefault(tuple(float(v) for v in cell), Place.TOGETHER)
    for i, a in enumerate(along):
        low, high = min(a.levels), max(a.levels)
        for other in (*a.others, *(() if a.without is None else (a.without,))):
            place = Place.WITHOUT if other == a.without else Place.BELOW if other < low else Place.ABOVE if other > high else Place.BETWEEN
            for cell in cells:
                kept.setdefault((*cell[:i], float(other), *cell[i + 1 :]), place)
    chosen = list(kept)[:MOST_PLACES]
    return np.array(chosen, np.float64), [kept[c] for c in chosen]


class _Scaler:
    """Places on the axes, so that what was tried runs from -1 to 1; names stay as they are."""

    def __init__(self, along: Sequence[Along]) -> None:
        self.middle = np.array([0.0 if a.named else (max(a.levels) + min(a.levels)) / 2.0 for a in along])
        self.half = np.array([1.0 if a.named else max((max(a.levels) - min(a.levels)) / 2.0, 1e-9) for a in along])

    def __call__(self, x: Floats) -> Floats:
        scaled: Floats = (x - self.middle) / self.half
        return scaled


def _kernel(a: Floats, b: Floats, named: Sequence[bool], shape: _Shape) -> Floats:
    """Covariance of a curve of size 1 between two sets of recipes."""
    smooth = np.full((len(a), len(b)), shape.free)
    line = np.zeros((len(a), len(b)))
    for i, name in enumerate(named):
        if name:
            smooth *= np.where(np.abs(a[:, i, None] - b[None, :, i]) > 1e-9, UNLIKE, 1.0)
            line += np.where(np.abs(a[:, i, None] - b[None, :, i]) > 1e-9, UNLIKE, 1.0)
        else:
            smooth *= np.exp(-0.5 * ((a[:, i, None] - b[None, :, i]) / REACH) ** 2)
            line += shape.straight * a[:, i, None] * b[None, :, i] + shape.bent * np.outer(a[:, i] ** 2, b[:, i] ** 2)
    return smooth + line + 1.0


def _learn(x: Floats, y: Floats, grid: Floats, sd: float, named: Sequence[bool]) -> _Curve:
    """The curve given the panels; its size, reach and straightness are averaged over a few by how well they explain them."""
    known = np.isfinite(y)
    x, y = x[known], y[known]
    if not len(y):
        return _Curve(np.zeros(len(grid)), np.eye(len(grid)), max(sd, 1e-9) ** 2)
    centre = float(y.mean())
    spread = max(float(y.std()), sd, 1e-9)
    noise = max(sd, LEAST_NOISE * spread) ** 2
    found = []
    for size, shape in product((0.5 * spread, spread, 2.0 * spread), SHAPES):
        k = size**2 * _kernel(x, x, named, shape) + noise * np.eye(len(y))
        factor = np.linalg.cholesky(k)
        half = np.linalg.solve(factor, y - centre)
        likely = -0.5 * float(half @ half) - float(np.log(np.diag(factor)).sum())
        found.append((likely, size, shape))
    top = max(f[0] for f in found)
    weights = np.array([math.exp(f[0] - top) for f in found])
    weights /= weights.sum()
    mean, second = np.zeros(len(grid)), np.zeros((len(grid), len(grid)))
    for weight, (_, size, shape) in zip(weights, found, strict=True):
        if weight < 1e-3:
            continue
        k = size**2 * _kernel(x, x, named, shape) + noise * np.eye(len(y))
        across = size**2 * _kernel(grid, x, named, shape)
        gain = np.linalg.solve(k, across.T).T
        m = centre + gain @ (y - centre)
        c = size**2 * _kernel(grid, grid, named, shape) - gain @ across.T
        mean += weight * m
        second += weight * (c + np.outer(m, m))
    total = float(weights[weights >= 1e-3].sum())
    mean, second = mean / total, second / total
    return _Curve(mean, second - np.outer(mean, mean), noise)


def _after(curve: _Curve, rows: Sequence[int], normals: Floats) -> Floats:
    """Means of the curve after panels of these recipes, one play a row."""
    own = curve.covariance[np.ix_(rows, rows)] + curve.variance * np.eye(len(rows))
    across = curve.covariance[:, rows]
    factor = np.linalg.cholesky(own + 1e-12 * np.eye(len(rows)))
    # the surprise of a play is factor @ z; the mean moves by across @ own^-1 @ surprise = across @ factor^-T @ z
    moves = np.linalg.solve(factor, across.T).T
    shifted: Floats = curve.mean[None, :] + normals[:, : len(rows)] @ moves.T
    return shifted


def _seen(s: Sought) -> tuple[float, float]:
    known = [v for v in s.values if math.isfinite(v)] or [0.0]
    low, high = min(known), max(known)
    wide = max(high - low, 2.0 * s.sd, 1e-9)
    middle = (low + high) / 2.0
    return middle - wide * (0.5 + ROOM), middle + wide * (0.5 + ROOM)


def _desirability(means: Floats, sought: Sequence[Sought], seen: Sequence[tuple[float, float]]) -> Floats:
    """Weighted geometric mean of desirabilities; responses x plays x places in, plays x places out."""
    total = np.zeros(means.shape[1:])
    weight = sum(s.weight for s in sought) or 1.0
    for k, (s, (low, high)) in enumerate(zip(sought, seen, strict=True)):
        if s.low is None and s.high is None:
            share = (means[k] - low) / (high - low)
            d = share if s.more else 1.0 - share
        else:
            reach = s.high - s.low if s.low is not None and s.high is not None and s.high > s.low else high - low
            under = 0.0 if s.low is None else np.maximum(s.low - means[k], 0.0)
            over = 0.0 if s.high is None else np.maximum(means[k] - s.high, 0.0)
            d = 1.0 - (under + over) / reach
        total += s.weight / weight * np.log(np.clip(d, 1e-3, 1.0))
    out: Floats = np.exp(total)
    return out


def _sure(curves: Sequence[_Curve], sought: Sequence[Sought], seen: Sequence[tuple[float, float]], best: int, rng: np.random.Generator) -> float:
    """Chance that nothing beats the best recipe by more than is worth a test, by whole curves drawn as they are known."""
    drawn = []
    for c in curves:
        values, vectors = np.linalg.eigh(c.covariance)
        root = (vectors * np.sqrt(np.clip(values, 0.0, None))) @ vectors.T  # the symmetric one: a vector's sign is each machine's own
        drawn.append(c.mean[None, :] + rng.standard_normal((PLAYS, len(values))) @ root.T)
    d = _desirability(np.stack(drawn), sought, seen)
    return float(np.mean(d.max(axis=1) - d[:, best] <= NOTHING_LEFT))


def places(levels: Sequence[float], least: float, most: float) -> tuple[float, ...]:
    """Evenly spaced places within what was tried and beyond it on both sides, inside what is possible.

    >>> [round(v, 3) for v in places((0.0, 1.0), 0.0, 10.0)[:3]]
    [0.0, 0.004, 0.075]
    """
    low, high = min(levels), max(levels)
    span = max(high - low, 1e-9)
    even = np.linspace(low - BEYOND * span, high + BEYOND * span, GRID)
    return tuple(float(v) for v in dict.fromkeys(np.clip(even, least, most)))
