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
REACH: Final = 9.0  # delta E from the fitted base that still is base
LEAST_MM2: Final = 6.0
ALIKE: Final = 0.10  # base colour inside the pour, as a share of the pour, above which it may be a paint
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
    for corner in range(4):
        base = _base_at(small, corner, k)
        if base is not None:
            found.append((corner, *base))
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


def _base_at(small: Lab, corner: int, k: float) -> tuple[Mask, Plane] | None:
    seed = _corner(small.shape, corner, round(SEED_MM[0] * k), max(round(SEED_MM[1] * k), 2))
    patch = small[seed].reshape(-1, 3)
    middle = np.median(patch, axis=0)
    scatter = float(np.median(np.linalg.norm(patch - middle, axis=1)))
    if scatter > EVEN:
        return None
    fitted: Plane = np.broadcast_to(middle, small.shape).astype(np.float32)
    region = np.zeros(small.shape[:2], bool)
    inner = (seed[0].start + seed[0].stop) // 2, (seed[1].start + seed[1].stop) // 2
    for reach in (REACH * 0.8, REACH):
        near = (np.linalg.norm(small - fitted, axis=2) < reach).astype(np.uint8)
        near = cv2.morphologyEx(near, cv2.MORPH_OPEN, np.ones((2, 2), np.uint8))
        _, labels = cv2.connectedComponents(near, connectivity=4)
        if labels[inner] == 0:
            return None
        region = labels == labels[inner]
        if region.sum() > 60 * k * k:
            fitted = _plane_fit(small, region)
    if region.sum() < LEAST_MM2 * k * k:
        return None
    same = np.linalg.norm(small - fitted, axis=2) < REACH
    outside = same & ~cv2.dilate(region.astype(np.uint8), np.ones((3, 3), np.uint8)).astype(bool)
    pour = ~region
    alike = outside.sum() / max(pour.sum(), 1)
    if alike > ALIKE and region.mean() < 0.5:
        return None
    # Even inside: paint that has flowed carries marbling, base coat does not.
    core = cv2.erode(region.astype(np.uint8), np.ones((5, 5), np.uint8)).astype(bool)
    if core.sum() > 40 and float(np.linalg.norm(small - fitted, axis=2)[core].mean()) > 0.45 * REACH:
        return None
    return region, fitted


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
