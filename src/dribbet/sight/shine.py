"""Shine: how sharply a film mirrors the straight edge of something bright (domain: shine by the reflection of a lamp's edge).

The photograph with the edge holds what the diffuse one holds, lit a little otherwise, and on one side of the edge's mirror image as much more light
as the film mirrors. How much more (contrast), and over how many millimetres it comes (width), are the film's: a rough film smears the edge.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

import cv2
import numpy as np
from scipy.optimize import least_squares
from scipy.special import ndtr

from dribbet.sight.shine_figures import NONE_SEEN, EdgePiece, Shine, shine_of

if TYPE_CHECKING:
    import numpy.typing as npt

    from dribbet.sight.arrays import Mask, Plane

    Floats = npt.NDArray[np.float64]

COARSE_PX_PER_MM: Final = 0.5
FINE_PX_PER_MM: Final = 4.0
TURNS_DEG: Final = np.arange(0.0, 360.0, 15.0)
OFFSETS_MM: Final = 8.0
WIDTHS_MM: Final = (2.0, 8.0, 30.0, 90.0)
"""Standard deviations of the smeared edge that are tried first."""
STRIP_MM: Final = 6.0
"""The edge is looked at piece by piece: waves of the surface bend its image, and would make a long piece look blurred."""
MOST_PLACES: Final = 600  # of a piece that are fitted: more tell nothing more
LEAST_WON: Final = 0.25
"""Of what one light over the whole panel leaves unexplained, the edge must explain so much."""
LEAST_FILM: Final = 0.3
BURNT: Final = 250


def find_shine(edge: Plane, main: Plane, film: Mask, px_per_mm: float) -> Shine:
    """Shine of a film; `NONE_SEEN` where no edge is mirrored in it.

    Parameters
    ----------
    edge, main : ndarray, shape (rows, columns)
        Luminance (linear, a white card 1) of the rectified panel with the edge mirrored in it, and without.
    film : ndarray of bool, shape (rows, columns)
        Where there is paint.

    Notes
    -----
    edge = (g0 + g1 x + g2 y) main + h Phi(s / w), with s the distance from a straight line. Line, side and width that leave least unexplained are
    sought on a coarse picture, refined, and then each piece of `STRIP_MM` along the line is fitted by itself; medians of the pieces are told.
    """
    k = min(COARSE_PX_PER_MM, px_per_mm)
    small = [_shrunk(p, k / px_per_mm) for p in (edge, main, film.astype(np.float32))]
    coarse = _Fit(small[0], small[1], small[2] > 0.95, k)
    if not coarse.told:
        return NONE_SEEN
    won, turn, offset, wide = max(
        (coarse.won(np.radians(turn), offset, wide), np.radians(turn), offset, wide)
        for turn in TURNS_DEG
        for wide in WIDTHS_MM
        for offset in np.arange(-coarse.reach_mm, coarse.reach_mm + 0.1, OFFSETS_MM)
    )
    if won < LEAST_WON:
        return NONE_SEEN
    start = (turn, offset, np.log(wide))
    found = least_squares(lambda v: coarse.left(v[0], v[1], np.exp(np.clip(v[2], -2.0, 6.0))), start, x_scale=(0.02, 1.0, 0.2), max_nfev=60)
    turn, offset, wide = found.x[0], found.x[1], float(np.exp(np.clip(found.x[2], -2.0, 6.0)))
    light, _ = coarse.fitted(turn, offset, wide)
    return _pieces(edge, main, film, px_per_mm, light, turn, offset, wide)


class _Fit:
    """The edge in a coarse picture; mm from its middle."""

    def __init__(self, edge: Plane, main: Plane, there: Mask, k: float) -> None:
        rows, columns = edge.shape
        y, x = np.mgrid[0:rows, 0:columns]
        self.told = bool(there.mean() >= LEAST_FILM)
        self.x, self.y = ((x[there] + 0.5 - columns / 2) / k).astype(float), ((y[there] + 0.5 - rows / 2) / k).astype(float)
        self.edge, m = edge[there].astype(float), main[there].astype(float)
        self.reach_mm = float(np.hypot(rows, columns) / k / 2.0)
        self.basis = np.stack([m, m * self.x / self.reach_mm, m * self.y / self.reach_mm], axis=1)
        self.unit, _ = np.linalg.qr(self.basis) if self.told else (self.basis, None)
        self.rest = self._without(self.edge)
        self.whole = float(self.rest @ self.rest) + 1e-12

    def _without(self, v: Floats) -> Floats:
        return np.asarray(v - self.unit @ (self.unit.T @ v), np.float64)

    def step(self, turn: float, offset: float, wide: float) -> Floats:
        """The edge as it would be, 0 on its dark side and 1 on the lit one."""
        return np.asarray(ndtr((self.x * np.cos(turn) + self.y * np.sin(turn) - offset) / wide), np.float64)

    def won(self, turn: float, offset: float, wide: float) -> float:
        """Share of what one light leaves unexplained that this edge explains; nought where it would take light away."""
        step = self._without(self.step(turn, offset, wide))
        size, likeness = float(step @ step), float(step @ self.rest)
        return likeness**2 / size / self.whole if size > 1e-9 * len(step) and likeness > 0.0 else 0.0

    def left(self, turn: float, offset: float, wide: float) -> Floats:
        """What this edge leaves unexplained."""
        step = self._without(self.step(turn, offset, wide))
        size = float(step @ step)
        return self.rest - step * (float(step @ self.rest) / size if size > 0.0 else 0.0)

    def fitted(self, turn: float, offset: float, wide: float) -> tuple[Floats, float]:
        """Light of the photograph against the diffuse one (three figures, mm from the middle), and the contrast."""
        design = np.column_stack([self.basis, self.step(turn, offset, wide)])
        weights, *_ = np.linalg.lstsq(design, self.edge, rcond=None)
        return np.asarray([weights[0], weights[1] / self.reach_mm, weights[2] / self.reach_mm]), float(weights[3])


def _pieces(edge: Plane, main: Plane, film: Mask, px_per_mm: float, light: Floats, turn: float, offset: float, wide: float) -> Shine:
    """The edge piece by piece."""
    k = min(FINE_PX_PER_MM, px_per_mm)
    over, under, there = (_shrunk(p, k / px_per_mm) for p in (edge, main, film.astype(np.float32)))
    rows, columns = over.shape
    y, x = np.mgrid[0:rows, 0:columns]
    x_mm, y_mm = (x + 0.5 - columns / 2) / k, (y + 0.5 - rows / 2) / k
    across = x_mm * np.cos(turn) + y_mm * np.sin(turn) - offset
    along = y_mm * np.cos(turn) - x_mm * np.sin(turn)
    mirrored = over - under * (light[0] + light[1] * x_mm + light[2] * y_mm)
    near = (there > 0.95) & (np.abs(across) < max(4.0 * wide, 10.0))
    which = np.floor(along / STRIP_MM).astype(int)
    told: list[EdgePiece] = []
    for i in np.unique(which[near]):
        mine = near & (which == i)
        if np.ptp(along[mine]) < STRIP_MM / 2.0:  # the panel's rim cuts this piece off
            continue
        s, v = across[mine], mirrored[mine].astype(float)
        thin = max(1, len(s) // MOST_PLACES)
        s, v = s[::thin], v[::thin]
        if len(s) < 40 or s.min() > -wide or s.max() < wide:
            continue
        fit = _edge_in(s, v, wide)
        if fit is not None:
            contrast, width, at = fit
            far, down = at + offset, float(along[mine].mean())
            x_there, y_there = far * np.cos(turn) - down * np.sin(turn), far * np.sin(turn) + down * np.cos(turn)
            told.append(EdgePiece(x_mm=float(x_there + columns / k / 2), y_mm=float(y_there + rows / k / 2), contrast=contrast, width_mm=width))
    return shine_of(told) or NONE_SEEN


def _edge_in(s: Floats, v: Floats, wide: float) -> tuple[float, float, float] | None:
    """Contrast and width of the edge in one piece, and how far its middle lies off the line; None where nothing fits."""

    def left(p: Floats) -> Floats:
        return np.asarray(p[0] + p[1] * ndtr((s - p[2]) / np.exp(np.clip(p[3], -3.0, 5.5))) - v, np.float64)

    low, high = np.quantile(v, (0.1, 0.9))
    try:
        found = least_squares(
            left, (low, max(high - low, 1e-3), 0.0, np.log(wide)), loss="soft_l1", f_scale=max(0.05 * (high - low), 1e-3), max_nfev=80,
            x_scale=(0.05, 0.05, 1.0, 0.3),
        )  # fmt: skip
    except ValueError:
        return None
    _, contrast, at, log_wide = found.x
    if contrast <= 0.0 or not s.min() < at < s.max():
        return None
    return float(contrast), float(np.exp(np.clip(log_wide, -3.0, 5.5))), float(at)


def _shrunk(plane: Plane, by: float) -> Plane:
    if by >= 1.0:
        return np.asarray(plane, np.float32)
    size = (max(round(plane.shape[1] * by), 1), max(round(plane.shape[0] * by), 1))
    return np.asarray(cv2.resize(np.asarray(plane, np.float32), size, interpolation=cv2.INTER_AREA), np.float32)
