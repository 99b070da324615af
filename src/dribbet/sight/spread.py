"""Where the pour covers the panel, against bare ground or base coat.

Bare base hangs on the panel's corners, is even and smooth once the light has been fitted, and its colour hardly occurs
inside the pour; a band of paint that happens to touch a corner does none of the three.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

if TYPE_CHECKING:
    from dribbet.sight.arrays import Lab, Mask, Plane

SEED_MM: Final = (1.0, 4.0)  # the patch at a corner that is asked, from and to
COARSE_PX_PER_MM: Final = 2.0
EVEN: Final = 2.6  # scatter (delta E) of the seed patch above which a corner is no even base
EVEN_INSIDE: Final = 1.7  # mean departure (delta E) inside the base once the light is fitted; paint that has flowed has more
REACH: Final = 9.0  # delta E from the fitted base that still is base
LEAST_MM2: Final = 6.0
SOLID: Final = 0.6  # share of its convex hull that a lone bare corner fills at least
ONE_POUR: Final = 0.85  # share of the covered area in its largest piece: a pour is one puddle with a few splashes
INSIDE: Final = 0.05  # share of the pour that may have the base's colour inside it
ALIKE: Final = 0.30  # base colour elsewhere on the panel, as a share of the base, above which it is one of the paints
SAME_BASE: Final = 8.0  # delta E below which two corners show the same base
MOST_BASE: Final = 0.88  # one colour on more of the panel than this is a plain film, not a bare panel
CORNER_NAMES: Final = ("top-left", "top-right", "bottom-right", "bottom-left")


@dataclass(frozen=True, slots=True, kw_only=True)
class Spread:
    """The covered mask and the corners that are bare."""

    covered: Mask
    fraction: float
    bare_corners: tuple[str, ...]


def find_spread(lab: Lab, px_per_mm: float) -> Spread:
    """Covered share of a rectified panel.

    Parameters
    ----------
    lab : ndarray, shape (rows, columns, 3)
        CIELAB of the rectified panel.
    """
    shrink = COARSE_PX_PER_MM / px_per_mm
    small = cv2.resize(lab, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA) if shrink < 1.0 else lab
    small = np.asarray(cv2.bilateralFilter(np.ascontiguousarray(small), 5, 8.0, 1.5), dtype=np.float32)
    k = px_per_mm * min(shrink, 1.0)
    found: list[tuple[int, Mask, Plane]] = []
    for group in _groups(small, k):
        found.extend(_base_of(small, group, k))
    covered = np.ones(lab.shape[:2], bool)
    if not found:
        return Spread(covered=covered, fraction=1.0, bare_corners=())
    bare = np.zeros(small.shape[:2], bool)
    for _, region, _ in found:
        bare |= region
    if bare.mean() > MOST_BASE:
        # Nearly everything is one colour: it is the film. What differs and hangs on a corner may be the base.
        kept = [f for f in found if f[1].mean() <= 0.5]
        bare = np.zeros_like(bare)
        for _, region, _ in kept:
            bare |= region
        found = kept
    if not bare.any():
        return Spread(covered=covered, fraction=1.0, bare_corners=())
    fine = _refine(lab, found, bare, px_per_mm)
    covered = ~fine
    corners = tuple(CORNER_NAMES[c] for c, _, _ in found)
    return Spread(covered=covered, fraction=float(covered.mean()), bare_corners=corners)


def _corner(shape: tuple[int, ...], corner: int, low: int, high: int) -> tuple[slice, slice]:
    rows = slice(low, high) if corner in (0, 1) else slice(shape[0] - high, shape[0] - low)
    columns = slice(low, high) if corner in (0, 3) else slice(shape[1] - high, shape[1] - low)
    return rows, columns


def _plane_fit(small: Lab, where: Mask) -> Plane:
    """Light over the base: a plane per channel fitted to the pixels of `where`, evaluated everywhere."""
    rows, columns = np.nonzero(where)
    keep = slice(None, None, max(1, len(rows) // 4000))
    rows, columns = rows[keep], columns[keep]
    design = np.c_[np.ones(len(rows)), rows / small.shape[0], columns / small.shape[1]]
    weight, *_ = np.linalg.lstsq(design, small[rows, columns].astype(np.float64), rcond=None)
    y, x = np.mgrid[0 : small.shape[0], 0 : small.shape[1]]
    return np.asarray(weight[0] + (y / small.shape[0])[..., None] * weight[1] + (x / small.shape[1])[..., None] * weight[2], dtype=np.float32)


def _groups(small: Lab, k: float) -> list[list[tuple[int, Plane]]]:
    """Corners whose patch is even, in groups of one colour: (corner, colour)."""
    groups: list[list[tuple[int, Plane]]] = []
    for corner in range(4):
        patch = small[_seed(small.shape, corner, k)].reshape(-1, 3)
        middle = np.median(patch, axis=0).astype(np.float32)
        if float(np.median(np.linalg.norm(patch - middle, axis=1))) > EVEN:
            continue
        home = next((g for g in groups if min(float(np.linalg.norm(m - middle)) for _, m in g) < SAME_BASE), None)
        if home is None:
            groups.append([(corner, middle)])
        else:
            home.append((corner, middle))
    return groups


def _seed(shape: tuple[int, ...], corner: int, k: float) -> tuple[slice, slice]:
    return _corner(shape, corner, round(SEED_MM[0] * k), max(round(SEED_MM[1] * k), 2))


def _base_of(small: Lab, group: list[tuple[int, Plane]], k: float) -> list[tuple[int, Mask, Plane]]:
    """Base on the corners of one colour: (corner, region, colour under the fitted light); empty where it is paint."""
    middle = np.mean([m for _, m in group], axis=0)
    fitted: Plane = np.broadcast_to(middle, small.shape).astype(np.float32)
    regions: dict[int, Mask] = {}
    every = np.zeros(small.shape[:2], bool)
    for reach in (REACH * 0.8, REACH):
        near = (np.linalg.norm(small - fitted, axis=2) < reach).astype(np.uint8)
        near = cv2.morphologyEx(near, cv2.MORPH_OPEN, np.ones((2, 2), np.uint8))
        _, labels = cv2.connectedComponents(near, connectivity=4)
        regions = {}
        for corner, _ in group:
            rows, columns = _seed(small.shape, corner, k)
            at = labels[(rows.start + rows.stop) // 2, (columns.start + columns.stop) // 2]
            region = labels == at
            if at > 0 and region.sum() >= LEAST_MM2 * k * k:
                regions[corner] = region
        if not regions:
            return []
        every = np.any(np.stack(list(regions.values())), axis=0)
        if every.sum() > 60 * k * k:
            core = cv2.erode(every.astype(np.uint8), np.ones((5, 5), np.uint8)).astype(bool)  # its rim is mixed with paint
            fitted = _plane_fit(small, core if core.sum() > 40 * k * k else every)
    # Base that reaches the panel's edge between corners belongs to the same ground.
    # Far from the corner the fitted light is a guess, so the plain colour counts there as well.
    near = (np.minimum(np.linalg.norm(small - fitted, axis=2), np.linalg.norm(small - middle, axis=2)) < REACH).astype(np.uint8)
    _, labels = cv2.connectedComponents(near, connectivity=4)
    rim = np.concatenate([labels[1], labels[-2], labels[:, 1], labels[:, -2]])
    at_edge = np.isin(labels, np.unique(rim[rim > 0]))
    halo = cv2.dilate(every.astype(np.uint8), np.ones((3, 3), np.uint8)).astype(bool)
    # Opened: threads of lacing in the base's colour are no second home of it.
    solid = cv2.morphologyEx(near, cv2.MORPH_OPEN, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (4, 4))).astype(bool)
    elsewhere = solid & ~halo
    if elsewhere.sum() > ALIKE * every.sum():
        if len(regions) < 2 or (elsewhere & ~at_edge).sum() > ALIKE * every.sum():
            return []
    if len(regions) >= 2:
        first = next(iter(regions))
        regions[first] = regions[first] | at_edge
    # Even inside: paint that has flowed carries marbling, base coat does not.
    core = cv2.erode(every.astype(np.uint8), np.ones((5, 5), np.uint8)).astype(bool)
    if len(regions) == 1 and _solidity(every) < SOLID:
        return []
    base = np.any(np.stack(list(regions.values())), axis=0)
    if _largest_share(~cv2.dilate(base.astype(np.uint8), np.ones((3, 3), np.uint8)).astype(bool)) < ONE_POUR:
        return []
    if (solid & ~halo & ~at_edge).sum() > INSIDE * (~base).sum():
        return []
    if core.sum() > 40 and float(np.linalg.norm(small - fitted, axis=2)[core].mean()) > EVEN_INSIDE:
        return []
    return [(corner, region, fitted) for corner, region in regions.items()]


def _largest_share(region: Mask) -> float:
    """Share of a region that its largest piece holds."""
    _, _, stats, _ = cv2.connectedComponentsWithStats(region.astype(np.uint8), connectivity=4)
    areas = stats[1:, cv2.CC_STAT_AREA]
    return float(areas.max() / areas.sum()) if areas.size else 0.0


def _solidity(region: Mask) -> float:
    """Share of its convex hull that a region fills: a bare corner is all of a piece, a band of paint winds away from it."""
    rows, columns = np.nonzero(region)
    hull = cv2.convexHull(np.stack([columns, rows], axis=1).astype(np.int32))
    return float(region.sum() / max(cv2.contourArea(hull), 1.0))


def _refine(lab: Lab, found: list[tuple[int, Mask, Plane]], bare: Mask, px_per_mm: float) -> Mask:
    """Bare mask at full scale: within a band round the coarse edge each pixel goes to base or paint by colour."""
    size = (lab.shape[1], lab.shape[0])
    rough = cv2.resize(bare.astype(np.uint8), size, interpolation=cv2.INTER_NEAREST)
    fitted = cv2.resize(np.mean([f[2] for f in found], axis=0), size, interpolation=cv2.INTER_LINEAR) if len(found) == 1 else None
    reach = max(3, round(1.6 * px_per_mm) | 1)
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (reach, reach))
    sure, maybe = cv2.erode(rough, kernel), cv2.dilate(rough, kernel)
    smooth = cv2.GaussianBlur(lab, (0, 0), 0.08 * px_per_mm)
    near = np.full(lab.shape[:2], np.inf, np.float32)
    for _, _, plane in found:
        target = fitted if fitted is not None else cv2.resize(plane, size, interpolation=cv2.INTER_LINEAR)
        near = np.minimum(near, np.linalg.norm(smooth - target, axis=2))
    base = sure.astype(bool) | (maybe.astype(bool) & (near < REACH))
    # Keep what is connected to the sure base; islands of paint in it are spread, not holes.
    _, labels = cv2.connectedComponents(base.astype(np.uint8), connectivity=4)
    touching = np.unique(labels[sure.astype(bool)])
    return np.isin(labels, touching[touching > 0])
