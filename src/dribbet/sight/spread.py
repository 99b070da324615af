"""Where the pour covers the panel, against bare ground or base coat.

Two ask, and both must agree. By colour, bare base hangs on the panel's corners, is even and smooth once the light has been fitted, and hardly occurs
inside the pour; a band of paint that happens to touch a corner does none of the three. By what the network sees, it has the ground's texture and the
paint's lip along its edge, whatever its colour. Where they disagree nobody can tell from the photograph: that is said, not decided.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.sight.arrays import magnitude

if TYPE_CHECKING:
    import numpy.typing as npt

    from dribbet.sight.arrays import Lab, Mask, Plane

SEED_MM: Final = (1.0, 4.0)  # the patch at a corner that is asked, from and to
COARSE_PX_PER_MM: Final = 2.0
EVEN: Final = 2.6  # scatter (delta E) of the seed patch above which a corner is no even base
EVEN_INSIDE: Final = 1.7  # mean departure (delta E) inside the base once the light is fitted; paint that has flowed has more
REACH: Final = 9.0  # delta E from the fitted base that still is base
REACHES: Final = (REACH, 6.0, 4.0)  # one after the other: a base coat may lie nearer to one of the paints than the widest, and is then as even
LEAST_MM2: Final = 6.0
SOLID: Final = 0.6  # share of its convex hull that a lone bare corner fills at least
ONE_POUR: Final = 0.85  # share of the covered area in its largest piece: a pour is one puddle with a few splashes
INSIDE: Final = 0.05  # share of the pour that may have the base's colour inside it
ALIKE: Final = 0.30  # base colour elsewhere on the panel, as a share of the base, above which it is one of the paints
SAME_BASE: Final = 8.0  # delta E below which two corners show the same base
MOST_BASE: Final = 0.88  # one colour on more of the panel than this is a plain film, not a bare panel
PAINT: Final = 0.03  # chance of base along the rim, by the network, up to which what colour takes for base at a corner is paint
BASE: Final = 0.15  # and from which on it is base; even sky of a picture that is no panel has 0.14
MORE_PAINT: Final = 0.06
MORE: Final = 0.15  # both for further fields of a base that is known, which may lie anywhere
SEEN: Final = 0.5  # chance at which the network finds base by itself,
SEEN_BASE: Final = 0.55  # the chance along the rim from which on that needs no agreement of colour,
HINT: Final = 0.2  # and up to which what has the same colour is paint
BESIDE_MM: Final = 1.2  # colours of both sides of a border are means over so much to either side of it
LEAST_SEEN: Final = 0.05  # of such a window lies on that side
STEP: Final = 6.0  # delta E across a border, below which there is none
RUNS_ON: Final = 0.16  # of a border without a step, from which on the region is no base for certain,
CERTAIN: Final = 0.7  # unless the network gives it this chance along its rim
LEAST_SEEN_MM2: Final = 25.0
EDGE_MM: Final = 1.5
RIM_MM: Final = 4.0
CRUMB_MM: Final = 1.5
NOISY: Final = 2.5  # times the scatter of what was seen still is base, but no further than
FURTHEST: Final = 14.0  # delta E
LEAST_DOUBT: Final = 0.02  # of the panel: less is mostly a corner of paint, and not worth a question
CORNER_NAMES: Final = ("top-left", "top-right", "bottom-right", "bottom-left")


@dataclass(frozen=True, slots=True, kw_only=True)
class Spread:
    """The covered mask and the corners that are bare."""

    covered: Mask
    fraction: float
    bare_corners: tuple[str, ...]
    doubtful: Mask
    """Counted as covered, and may be base."""


def find_spread(lab: Lab, seen: Plane, px_per_mm: float) -> Spread:
    """Covered share of a rectified panel.

    Parameters
    ----------
    lab : ndarray, shape (rows, columns, 3)
        CIELAB of the rectified panel.
    seen : ndarray
        The network's chance of bare base on the same face, at any scale.
    """
    shrink = COARSE_PX_PER_MM / px_per_mm
    small = cv2.resize(lab, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA) if shrink < 1.0 else lab
    small = np.asarray(cv2.bilateralFilter(np.ascontiguousarray(small), 5, 8.0, 1.5), dtype=np.float32)
    k = px_per_mm * min(shrink, 1.0)
    chance = np.asarray(cv2.resize(seen, (small.shape[1], small.shape[0]), interpolation=cv2.INTER_AREA), np.float32)
    found, doubtful = _agreed(small, chance, k)
    bare = _union([base.region for base in found], small.shape)
    if bare.mean() > MOST_BASE:
        # Nearly everything is one colour: it is the film. What differs and hangs on a corner may be the base.
        found = [base for base in found if base.region.mean() <= 0.5]
        bare = _union([base.region for base in found], small.shape)
    doubtful &= ~bare
    if doubtful.mean() < LEAST_DOUBT:
        doubtful[:] = False
    covered = ~_refine(lab, found, bare, px_per_mm) if bare.any() else np.ones(lab.shape[:2], bool)
    unsure = cv2.resize(doubtful.astype(np.uint8), (lab.shape[1], lab.shape[0]), interpolation=cv2.INTER_NEAREST).astype(bool)
    corners = tuple(name for corner, name in enumerate(CORNER_NAMES) if bare[_seed(small.shape, corner, k)].mean() > 0.5)
    return Spread(covered=covered, fraction=float(covered.mean()), bare_corners=corners, doubtful=unsure & covered)


def _union(regions: list[Mask], shape: tuple[int, ...]) -> Mask:
    every = np.zeros(shape[:2], bool)
    for region in regions:
        every |= region
    return every


@dataclass(frozen=True, slots=True)
class _Base:
    """A region that may be base, its colour under the fitted light, and how far from it still is base (delta E)."""

    region: Mask
    fitted: Plane
    reach: float


def _agreed(small: Lab, chance: Plane, k: float) -> tuple[list[_Base], Mask]:
    """Base on which colour and network agree; and where they do not."""
    found, unsure = _at_corners(small, chance, k)
    doubtful = np.zeros(small.shape[:2], bool)
    known = _union([base.region for base in found], small.shape)
    seen: list[_Base] = []
    for base, says in _seen_bases(small, chance, known, k):
        if says >= (SEEN_BASE if base.reach >= REACH else CERTAIN):
            seen.append(base)
        elif not known.any():  # a panel has one base: where it is known, another colour is hardly one
            doubtful |= base.region
    for base, says in _more_of(small, chance, found + seen, k):
        if says >= MORE:
            seen.append(base)
        elif says >= MORE_PAINT:
            doubtful |= base.region
    for base in seen:
        if _runs_on(base, small, chance, k):
            doubtful |= base.region
        else:
            found.append(base)
    bare = _union([base.region for base in found], small.shape)
    # A field in which base was found by a narrower reach, or by the network, was base and paint in one: what is left of it is paint.
    return found, doubtful | _union([region for region in unsure if not (region & bare).any()], small.shape)


def _at_corners(small: Lab, chance: Plane, k: float) -> tuple[list[_Base], list[Mask]]:
    """Base that hangs on corners, by ever narrower reaches of its colour where wider ones take in paint; and fields that may be some."""
    found: list[_Base] = []
    unsure: dict[int, Mask] = {}
    for reach in REACHES:
        known = _union([base.region for base in found], small.shape)
        for group in _groups(small, k, reach):
            told = {corner: base for corner, base in _base_of(small, group, k, reach).items() if not (base.region & known).any()}
            says = _along_rim(_union([base.region for base in told.values()], small.shape), chance, k)
            for corner, base in told.items():
                if says >= BASE and not _runs_on(base, small, chance, k):
                    found.append(base)
                    unsure.pop(corner, None)
                elif says >= PAINT:
                    unsure.setdefault(corner, base.region)
    return found, list(unsure.values())


def _runs_on(base: _Base, small: Lab, chance: Plane, k: float) -> bool:
    """Whether paint of a region's own colour runs on beyond its border, and the network is not certain of base all the same.

    Base ends at the pour's edge, where the colour changes, all along it. A border through one colour was drawn by a threshold, not by a pour.
    """
    whole = _closed(base.region, k)
    win = 2 * round(BESIDE_MM * k) + 1
    colours, weights = [], []
    for side in (cv2.erode(whole, np.ones((3, 3), np.uint8)), 1 - cv2.dilate(whole, np.ones((3, 3), np.uint8))):
        weight = cv2.blur(side.astype(np.float32), (win, win))
        colours.append(cv2.blur(small * side[..., None].astype(np.float32), (win, win)) / np.maximum(weight, 1e-6)[..., None])
        weights.append(weight)
    border = (whole > 0) & (cv2.erode(whole, np.ones((3, 3), np.uint8)) == 0)
    edge = max(1, round(EDGE_MM * k))
    border[:edge] = border[-edge:] = border[:, :edge] = border[:, -edge:] = False
    border &= (weights[0] > LEAST_SEEN) & (weights[1] > LEAST_SEEN)
    if not border.any():
        return False
    alike = float((magnitude(colours[0] - colours[1])[border] < min(1.0, base.reach / REACH) * STEP).mean())
    return alike > RUNS_ON and _along_rim(base.region, chance, k) < CERTAIN


def _closed(region: Mask, k: float) -> npt.NDArray[np.uint8]:
    """A region without the gaps of dust and hairs, which are no border."""
    size = 2 * round(CRUMB_MM * k / 2) + 1
    return np.asarray(cv2.morphologyEx(region.astype(np.uint8), cv2.MORPH_CLOSE, np.ones((size, size), np.uint8)), np.uint8)


def _more_of(small: Lab, chance: Plane, found: list[_Base], k: float) -> list[tuple[_Base, float]]:
    """Further regions at the panel's edge that have the colour of a base that was found, with the chance along their rim."""
    told: list[tuple[_Base, float]] = []
    known = _union([base.region for base in found], small.shape)
    for base in found:
        reach = min(base.reach, REACH)
        near = ((magnitude(small - base.fitted) < reach) & ~known).astype(np.uint8)
        _, labels, stats, _ = cv2.connectedComponentsWithStats(cv2.morphologyEx(near, cv2.MORPH_OPEN, np.ones((2, 2), np.uint8)), connectivity=4)
        for number in _at_edge(labels, k):
            if stats[number, cv2.CC_STAT_AREA] >= LEAST_MM2 * k * k:
                region = labels == number
                told.append((_Base(region, base.fitted, reach), _along_rim(region, chance, k)))
                known |= region
    return told


def _along_rim(region: Mask, chance: Plane, k: float) -> float:
    """Mean chance of base along a region's border with the paint, where the network has both in view; nought for a region without one."""
    whole = _closed(region, k)
    if whole.all() or not whole.any():
        return 0.0
    rim = (whole > 0) & (cv2.distanceTransform(whole, cv2.DIST_L2, 3) < RIM_MM * k)
    return float(chance[rim].mean())


def _seen_bases(small: Lab, chance: Plane, known: Mask, k: float) -> list[tuple[_Base, float]]:
    """Regions at the panel's edge, beyond what is known, of a colour in which the network sees base, with the chance along their rim."""
    beyond = ~cv2.dilate(known.astype(np.uint8), np.ones((5, 5), np.uint8)).astype(bool)
    sees = cv2.morphologyEx(((chance > SEEN) & beyond).astype(np.uint8), cv2.MORPH_OPEN, np.ones((3, 3), np.uint8))
    _, pieces, stats, _ = cv2.connectedComponentsWithStats(sees, connectivity=4)
    least = LEAST_SEEN_MM2 * k * k
    groups: list[tuple[Plane, Mask]] = []
    for number in np.flatnonzero(stats[1:, cv2.CC_STAT_AREA] >= least) + 1:
        piece = pieces == number
        middle = np.median(small[piece], axis=0)
        home = next((i for i, (m, _) in enumerate(groups) if float(np.linalg.norm(m - middle)) < SAME_BASE), None)
        if home is None:
            groups.append((middle, piece))
        else:
            groups[home] = (groups[home][0], groups[home][1] | piece)
    told: list[tuple[_Base, float]] = []
    for middle, core in groups:
        fitted = _plane_fit(small, core) if core.sum() > 60 * k * k else np.broadcast_to(middle, small.shape).astype(np.float32)
        away = np.minimum(magnitude(small - fitted), magnitude(small - middle))
        scatter = NOISY * float(np.median(away[core]))
        widest = float(np.clip(scatter, REACH, FURTHEST))
        tried = [_of_colour(away, fitted, reach, chance, known, k) for reach in (widest, *REACHES[1:]) if reach >= min(scatter, widest)]
        surest = [max((says for _, says in some), default=0.0) for some in tried]
        sure = [i for i, says in enumerate(surest) if says >= (CERTAIN if i else SEEN_BASE)]  # what is more like a paint needs more
        told += tried[sure[0] if sure else int(np.argmax(surest))]
    return told


def _of_colour(away: Plane, fitted: Plane, reach: float, chance: Plane, known: Mask, k: float) -> list[tuple[_Base, float]]:
    """Regions at the panel's edge within so much (delta E) of a base's colour, of which the network has a hint, with the chance along their rim."""
    near = cv2.morphologyEx(((away < reach) & ~known).astype(np.uint8), cv2.MORPH_OPEN, np.ones((2, 2), np.uint8))
    _, labels, stats, _ = cv2.connectedComponentsWithStats(near, connectivity=4)
    told: list[tuple[_Base, float]] = []
    for n in _at_edge(labels, k):
        if stats[n, cv2.CC_STAT_AREA] >= LEAST_SEEN_MM2 * k * k:
            region = labels == n
            if (says := _along_rim(region, chance, k)) >= HINT:
                told.append((_Base(region, fitted, reach), says))
    return told


def _at_edge(labels: npt.NDArray[np.int32], k: float) -> list[int]:
    """Numbers of the pieces that reach the panel's edge."""
    edge = max(1, round(EDGE_MM * k))
    rim = np.concatenate([labels[:edge].ravel(), labels[-edge:].ravel(), labels[:, :edge].ravel(), labels[:, -edge:].ravel()])
    return [int(n) for n in np.unique(rim) if n > 0]


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


def _groups(small: Lab, k: float, reach: float) -> list[list[tuple[int, Plane]]]:
    """Corners whose patch is even, in groups of one colour: (corner, colour). By a narrower reach they must be more even and more alike."""
    groups: list[list[tuple[int, Plane]]] = []
    for corner in range(4):
        patch = small[_seed(small.shape, corner, k)].reshape(-1, 3)
        middle = np.median(patch, axis=0).astype(np.float32)
        if float(np.median(np.linalg.norm(patch - middle, axis=1))) > EVEN * reach / REACH:
            continue
        home = next((g for g in groups if min(float(np.linalg.norm(m - middle)) for _, m in g) < SAME_BASE * reach / REACH), None)
        if home is None:
            groups.append([(corner, middle)])
        else:
            home.append((corner, middle))
    return groups


def _seed(shape: tuple[int, ...], corner: int, k: float) -> tuple[slice, slice]:
    return _corner(shape, corner, round(SEED_MM[0] * k), max(round(SEED_MM[1] * k), 2))


def _base_of(small: Lab, group: list[tuple[int, Plane]], k: float, reach: float) -> dict[int, _Base]:
    """Base on the corners of one colour, by corner; empty where it is paint."""
    middle = np.mean([m for _, m in group], axis=0)
    fitted: Plane = np.broadcast_to(middle, small.shape).astype(np.float32)
    regions: dict[int, Mask] = {}
    every = np.zeros(small.shape[:2], bool)
    for short in (reach * 0.8, reach):
        near = (magnitude(small - fitted) < short).astype(np.uint8)
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
            return {}
        every = np.any(np.stack(list(regions.values())), axis=0)
        if every.sum() > 60 * k * k:
            core = cv2.erode(every.astype(np.uint8), np.ones((5, 5), np.uint8)).astype(bool)  # its rim is mixed with paint
            fitted = _plane_fit(small, core if core.sum() > 40 * k * k else every)
    # Base that reaches the panel's edge between corners belongs to the same ground.
    # Far from the corner the fitted light is a guess, so the plain colour counts there as well.
    near = (np.minimum(magnitude(small - fitted), magnitude(small - middle)) < reach).astype(np.uint8)
    _, labels = cv2.connectedComponents(near, connectivity=4)
    rim = np.concatenate([labels[1], labels[-2], labels[:, 1], labels[:, -2]])
    at_edge = np.isin(labels, np.unique(rim[rim > 0]))
    halo = cv2.dilate(every.astype(np.uint8), np.ones((3, 3), np.uint8)).astype(bool)
    # Opened: threads of lacing in the base's colour are no second home of it.
    solid = cv2.morphologyEx(near, cv2.MORPH_OPEN, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (4, 4))).astype(bool)
    elsewhere = solid & ~halo
    if elsewhere.sum() > ALIKE * every.sum():
        if len(regions) < 2 or (elsewhere & ~at_edge).sum() > ALIKE * every.sum():
            return {}
    if len(regions) >= 2:
        first = next(iter(regions))
        regions[first] = regions[first] | at_edge
    # Even inside: paint that has flowed carries marbling, base coat does not.
    core = cv2.erode(every.astype(np.uint8), np.ones((5, 5), np.uint8)).astype(bool)
    if len(regions) == 1 and _solidity(every) < SOLID:
        return {}
    base = np.any(np.stack(list(regions.values())), axis=0)
    if _largest_share(~cv2.dilate(base.astype(np.uint8), np.ones((3, 3), np.uint8)).astype(bool)) < ONE_POUR:
        return {}
    if (solid & ~halo & ~at_edge).sum() > INSIDE * (~base).sum():
        return {}
    if core.sum() > 40 and float(magnitude(small - fitted)[core].mean()) > EVEN_INSIDE * reach / REACH:
        return {}
    return {corner: _Base(region, fitted, reach) for corner, region in regions.items()}


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


def _refine(lab: Lab, found: list[_Base], bare: Mask, px_per_mm: float) -> Mask:
    """Bare mask at full scale: within a band round the coarse edge each pixel goes to base or paint by colour."""
    size = (lab.shape[1], lab.shape[0])
    rough = cv2.resize(bare.astype(np.uint8), size, interpolation=cv2.INTER_NEAREST)
    reach = max(3, round(1.6 * px_per_mm) | 1)
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (reach, reach))
    sure, maybe = cv2.erode(rough, kernel), cv2.dilate(rough, kernel)
    smooth = cv2.GaussianBlur(lab, (0, 0), 0.08 * px_per_mm)
    near = np.zeros(lab.shape[:2], bool)
    for base in found:
        near |= magnitude(smooth - cv2.resize(base.fitted, size, interpolation=cv2.INTER_LINEAR)) < min(base.reach, REACH)
    ground = sure.astype(bool) | (maybe.astype(bool) & near)
    # Keep what is connected to the sure base; islands of paint in it are spread, not holes.
    _, labels = cv2.connectedComponents(ground.astype(np.uint8), connectivity=4)
    touching = np.unique(labels[sure.astype(bool)])
    return np.isin(labels, touching[touching > 0])
