"""What a candidate for a cell looks like: by colour along its rim, and by what the network saw there. Order matters to the forest."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Final

import cv2
import numpy as np

from dribbet.sight.arrays import magnitude
from dribbet.sight.network import FOLD
from dribbet.sight.outlines import RIM_POINTS, Outlines, rim_points

if TYPE_CHECKING:
    import numpy.typing as npt

    from dribbet.sight.arrays import Lab, Plane
    from dribbet.sight.instances import Numbers
    from dribbet.sight.network import Maps

    Floats = npt.NDArray[np.float64]
    Ints = npt.NDArray[np.int64]
    Features = npt.NDArray[np.float32]

RIM_MM: Final = (-0.45, 0.30, 0.90)  # inside the rim, just outside, beyond
NEAR_RIM_MM: Final = (-0.3, -0.15, 0.0, 0.15, 0.3, 0.6)  # where chances are read, outwards
WITHIN: Final = (0.15, 0.4, 0.65, 0.85)  # of the way from the middle to the rim
LIKELY: Final = 0.5
NEXT_MM: Final = 0.45  # where a neighbour would begin
AT_ONCE: Final = 2000  # candidates: so many places are read from all maps together
MOST_ROWS: Final = 30_000  # OpenCV counts a picture's rows in sixteen bits
NO_BODY: Final = 3.0  # stands for the log ratio of areas where the network drew no body
BY_COLOUR: Final = 29
BY_NETWORK: Final = 39
COLUMNS: Final = BY_COLOUR + BY_NETWORK + 1
"""Those of both, and who drew the outline."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Places:
    """Places in px of the candidates' picture, each of shape (n, points); they may lie outside it."""

    x: Features
    y: Features

    def of(self, plane: npt.NDArray[Any]) -> npt.NDArray[Any]:
        """What lies there: the nearest pixel."""
        columns, rows = (np.rint(v).astype(np.intp) for v in (self.x, self.y))
        return np.asarray(plane[rows.clip(0, plane.shape[0] - 1), columns.clip(0, plane.shape[1] - 1)])

    def between(self, plane: Plane) -> Features:
        """What lies there, between the pixels."""
        read = [
            cv2.remap(plane, self.x[i : i + MOST_ROWS], self.y[i : i + MOST_ROWS], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
            for i in range(0, len(self.x), MOST_ROWS)
        ]
        return np.asarray(np.concatenate(read), np.float32)

    def shrunk(self, factor: float) -> Places:
        """The same places on a picture that has `factor` times as many pixels a millimetre."""
        return Places(
            x=(self.x + np.float32(0.5)) * np.float32(factor) - np.float32(0.5), y=(self.y + np.float32(0.5)) * np.float32(factor) - np.float32(0.5)
        )

    def __add__(self, other: Places) -> Places:
        """Both, side by side."""
        return Places(x=np.concatenate([self.x, other.x], axis=1), y=np.concatenate([self.y, other.y], axis=1))


@dataclass(frozen=True, slots=True, kw_only=True)
class Rims:
    """Candidates with points on their rims, px: asked by colour and by the maps."""

    found: Outlines
    points: Features
    """Shape (2, n, points): x and y."""
    outward: Features
    """Unit vectors from the middle through each point, shape (2, n, points)."""

    @classmethod
    def of(cls, found: Outlines) -> Rims:
        """Points on the rim of each candidate."""
        points = np.ascontiguousarray(rim_points(found.contours).transpose(2, 0, 1), dtype=np.float32)
        outward = points - found.shape[:, :2].T[:, :, None].astype(np.float32)
        outward /= np.maximum(np.hypot(*outward), 1e-6)
        return cls(found=found, points=points, outward=outward)

    def some(self, which: slice) -> Rims:
        """Those of some candidates."""
        found = Outlines(contours=self.found.contours[which], shape=self.found.shape[which], votes=self.found.votes[which])
        return Rims(found=found, points=self.points[:, which], outward=self.outward[:, which])

    def away(self, px: float) -> Places:
        """Places so far outside the rim, inside where negative."""
        x, y = self.points + self.outward * np.float32(px)
        return Places(x=x, y=y)

    def within(self, share: float) -> Places:
        """Places at this share of the way from the middle to the rim."""
        middle = self.found.shape[:, :2].T[:, :, None].astype(np.float32)
        x, y = middle + (self.points - middle) * np.float32(share)
        return Places(x=x, y=y)


def by_colour(lab: Lab, rims: Rims, modes: int, px_per_mm: float) -> Features:
    """Shape, votes, and colours along the rim of each candidate, shape (n, 29); `modes` is how many colours the panel has."""
    found = rims.found
    x, y, area, perimeter, solid, fit, elongation = found.shape.T
    diameter = np.sqrt(area * 1.2732)
    circularity = 12.566 * area / np.maximum(perimeter, 1.0) ** 2
    some = range(0, len(x), AT_ONCE)
    along = np.concatenate([_along_rims(lab, rims.some(slice(i, i + AT_ONCE)), px_per_mm) for i in some]) if len(x) else np.zeros((0, 15))
    border = np.min(np.stack([x, y, lab.shape[1] - 1 - x, lab.shape[0] - 1 - y]), axis=0) - diameter / 2
    rivals = _rivals(x, y, area, diameter)
    lines_near, lines_all = _thin_lines(lab, x, y, px_per_mm)
    size = diameter / px_per_mm
    per_dm2 = len(x) / (lab.shape[0] * lab.shape[1] / (px_per_mm * 100) ** 2)
    columns = [
        np.log(size),
        circularity,
        solid,
        fit,
        elongation,
        found.votes[:, 0],
        found.votes[:, 1],
        *along[:, :12].T,
        border / px_per_mm,
        rivals[:, 0],
        rivals[:, 1],
        np.full(len(x), np.log(per_dm2 + 1.0)),
        np.full(len(x), float(modes)),
        *along[:, 12:].T,
        lines_near,
        np.full(len(x), lines_all),
    ]
    return np.stack(columns, axis=1).astype(np.float32)


def _along_rims(lab: Lab, rims: Rims, px_per_mm: float) -> Floats:
    """Colours just within the rim of some candidates, just beyond it and further out: how they differ and how even they are, shape (n, 15)."""
    inside, outside, beyond = (rims.away(away * px_per_mm).of(lab) for away in RIM_MM)
    x, y = rims.found.shape[:, :2].T
    core = lab[y.round().astype(int).clip(0, lab.shape[0] - 1), x.round().astype(int).clip(0, lab.shape[1] - 1)]
    step, through = magnitude(inside - outside), magnitude(inside - beyond)
    mean_out, mean_far = outside.mean(axis=1), beyond.mean(axis=1)
    median_in, median_out, median_far = (np.median(places, axis=1) for places in (inside, outside, beyond))
    columns = [
        np.median(step, axis=1),
        np.percentile(step, 10, axis=1),
        np.mean(step > 6.0, axis=1),
        magnitude(inside - inside.mean(axis=1, keepdims=True)).mean(axis=1),
        magnitude(outside - mean_out[:, None]).mean(axis=1),
        magnitude(beyond - mean_far[:, None]).mean(axis=1),
        np.mean(magnitude(inside - median_in[:, None]) < 10.0, axis=1),
        np.mean(magnitude(outside - median_out[:, None]) < 10.0, axis=1),
        np.linalg.norm(mean_out - mean_far, axis=1),
        np.linalg.norm(core - median_in, axis=1),
        np.linalg.norm(core - median_out, axis=1),
        median_in[:, 0] - median_out[:, 0],
        np.linalg.norm(median_in - median_far, axis=1),
        np.median(through, axis=1),
        # A mesh of a web holds the same paint inside and beyond its rim, with a thin line between; a cell seldom does.
        np.mean((step > 6.0) & (magnitude(outside - beyond) > 6.0) & (through < 8.0), axis=1),
    ]
    return np.stack(columns, axis=1).astype(np.float64)


def colours(lab: Lab, rims: Rims, px_per_mm: float) -> Features:
    """CIELAB just within the rim of each candidate and just beyond it, medians, shape (n, 6)."""
    return np.concatenate([np.median(rims.away(away * px_per_mm).of(lab), axis=1) for away in RIM_MM[:2]], axis=1).astype(np.float32)


def by_network(maps: Maps, own: Numbers, nearby: Plane, rims: Rims, px_per_mm: float) -> Features:
    """What the network saw in and round each candidate, shape (n, 39).

    Parameters
    ----------
    maps : Maps
        As they were seen.
    own : ndarray of int
        The network's own bodies by number, at the scale of the candidates.
    nearby : ndarray
        Borders beside the strongest nearby, at the scale of the maps.
    """
    high, wide = maps.inside.shape
    cracks = np.asarray(cv2.dilate(maps.cracks, np.ones((2, 2)))[::FOLD, ::FOLD][:high, :wide])  # a hair would be lost at a coarser scale
    rows = range(0, len(rims.found.contours), AT_ONCE)
    bodies = _bodies(own, maps.inside)
    parts = [_by_network(maps, cracks, own, bodies, nearby, rims.some(slice(i, i + AT_ONCE)), px_per_mm) for i in rows]
    return np.concatenate(parts) if parts else np.zeros((0, BY_NETWORK), np.float32)


def _by_network(maps: Maps, cracks: Plane, own: Numbers, bodies: tuple[Ints, Floats], nearby: Plane, rims: Rims, px_per_mm: float) -> Features:
    factor = maps.inside.shape[1] / own.shape[1]

    def percentile(values: Features, percent: float) -> Features:
        """The value of that rank: quicker than to interpolate, and as telling."""
        rank = round((values.shape[1] - 1) * percent / 100)
        return np.asarray(np.partition(values, rank, axis=1)[:, rank])

    rings = [rims.within(share) for share in WITHIN]
    within = (rings[0] + rings[1] + rings[2] + rings[3]).shrunk(factor)
    rim = rims.away(0.0).shrunk(factor)
    inside, border, depth = (within.between(plane) for plane in (maps.inside, maps.border, maps.rim))
    ring = [np.s_[:, i * RIM_POINTS : (i + 1) * RIM_POINTS] for i in range(len(WITHIN))]
    core = border[:, : 3 * RIM_POINTS]
    columns: list[npt.NDArray[np.floating]] = [
        inside.mean(axis=1),
        percentile(inside, 10),
        inside[ring[0]].mean(axis=1),
        inside[ring[3]].mean(axis=1),
        depth[ring[0]].mean(axis=1),
        depth[ring[2]].mean(axis=1),
        rings[0].shrunk(factor).between(maps.centre).mean(axis=1),
        core.mean(axis=1),
        percentile(core, 90),
        within.between(maps.lacing).mean(axis=1),
        within.between(cracks).mean(axis=1),
        rim.between(cracks).mean(axis=1),
        within.between(maps.bare).mean(axis=1),
        rim.between(maps.lacing).mean(axis=1),
    ]
    near = [rims.away(away * px_per_mm).shrunk(factor) for away in NEAR_RIM_MM]
    profile = [(places.between(maps.inside), places.between(maps.border)) for places in near]
    for inner, edge in profile:
        columns += [inner.mean(axis=1), edge.mean(axis=1)]
    round_it, inner = rim.between(nearby), (rings[0] + rings[1] + rings[2]).shrunk(factor).between(nearby)
    of_panel = (float(maps.inside.mean()), float(maps.lacing.mean()), float((maps.cracks > LIKELY).mean()) * 100.0)
    columns += [
        (rims.away(NEXT_MM * px_per_mm).shrunk(factor).between(maps.inside) > LIKELY).mean(axis=1),
        percentile(rim.between(maps.border), 10),
        percentile(profile[0][0], 10),
        *_agreement((rings[0] + rings[2]).of(own), *bodies, rims.found.shape[:, 2]),
        *(np.full(len(rims.found.contours), value) for value in of_panel),
        round_it.mean(axis=1),
        percentile(round_it, 15),
        inner.mean(axis=1),
        percentile(inner, 85),
    ]
    return np.stack(columns, axis=1).astype(np.float32)


def _bodies(own: Numbers, inside: Plane) -> tuple[Ints, Floats]:
    """Area of each body of the network, px, and how sure it is of it; both by the bodies' numbers, and nought for what is none."""
    there = cv2.resize(inside, (own.shape[1], own.shape[0]), interpolation=cv2.INTER_NEAREST)
    places = np.flatnonzero(own)
    numbers = own.ravel()[places]
    areas = np.bincount(numbers, minlength=1)
    return areas, np.bincount(numbers, there.ravel()[places], minlength=1) / np.maximum(areas, 1)


def _agreement(under: Numbers, areas: Ints, sureness: Floats, area: Floats) -> tuple[Floats, Floats, Floats]:
    """Share of a candidate that lies on one body of the network, log ratio of their areas, and how sure that body is."""
    share, ratio, sure = np.zeros(len(under)), np.full(len(under), NO_BODY), np.zeros(len(under))
    for i, row in enumerate(under):
        count = np.bincount(row)
        count[0] = 0
        body = int(count.argmax())
        if count[body]:
            share[i], ratio[i], sure[i] = count[body] / len(row), np.log(area[i] / areas[body]), sureness[body]
    return share, ratio, sure


def _rivals(x: Floats, y: Floats, area: Floats, diameter: Floats) -> Floats:
    """How crowded each place is with rival outlines, and how much larger the next one round it is; shape (n, 2)."""
    rivals = np.zeros((len(x), 2))
    order = np.argsort(x)
    sorted_x, sorted_y, sorted_area = x[order], y[order], area[order]
    first = np.searchsorted(sorted_x, x - diameter / 2, side="left")
    last = np.searchsorted(sorted_x, x + diameter / 2, side="right")
    for i in range(len(x)):
        window = slice(first[i], last[i])
        near = (sorted_x[window] - x[i]) ** 2 + (sorted_y[window] - y[i]) ** 2 <= (diameter[i] / 2) ** 2
        ratio = sorted_area[window][near] / area[i]
        larger = ratio[(ratio > 1.15) & (ratio < 4.0)]
        rivals[i] = len(ratio), larger.max() if larger.size else 1.0
    return rivals


def _thin_lines(lab: Lab, x: Floats, y: Floats, px_per_mm: float) -> tuple[Floats, float]:
    """Share of thin lines of either polarity round each place, and on the whole panel."""
    size = max(3, round(0.9 * px_per_mm) | 1)
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size))
    lightness = np.ascontiguousarray(lab[..., 0])
    thin = np.maximum(cv2.morphologyEx(lightness, cv2.MORPH_TOPHAT, kernel), cv2.morphologyEx(lightness, cv2.MORPH_BLACKHAT, kernel)) > 8.0
    window = (max(3, round(10.0 * px_per_mm) | 1),) * 2
    share = cv2.blur(thin.astype(np.float32), window)
    rows, columns = y.round().astype(int).clip(0, lab.shape[0] - 1), x.round().astype(int).clip(0, lab.shape[1] - 1)
    return np.asarray(share[rows, columns], dtype=np.float64), float(thin.mean())
