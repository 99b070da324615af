"""Finds the panel on the table: what is foreign to the table's colour, as four sides, each moved to its outermost strong step."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.records import Seen, Sign
from dribbet.records.cards import PHOTO_CARD
from dribbet.sight.arrays import SightError, magnitude
from dribbet.sight.geometry import apply, check_corners, photo_scale

if TYPE_CHECKING:
    import numpy.typing as npt

    from dribbet.sight.arrays import Lab, Mask, Plane, Points, Rgb
    from dribbet.sight.card import Card

COARSE_PX: Final = 900
LINE_PX: Final = 5
PIECE_REACH: Final = 0.2  # of the largest piece's width: what is nearer may belong to it
PIECE_SHARE: Final = 0.01
SHAPE_BETTER: Final = 0.5
RIM_SHARE: Final = 0.025
LEAST_SHARE: Final = 0.02  # of the photo that a panel covers
SEARCH_SHARE: Final = 0.035  # of the side, to either side of the coarse one
SAMPLES: Final = 120
STEP_PX: Final = 0.5  # between places of a profile
BEYOND_MM: Final = (0.6, 1.6)  # panel and table are compared so far to either side of a step: wider than a mat's line, narrower than its meshes
LEAST_APART: Final = 5.0  # delta E
MOST_STEPS: Final = 4  # of one profile, the outermost
PAIRS: Final = 240  # of steps that a line is laid through
PLAIN_APART: Final = 25.0  # from here on a step speaks for itself, and weighs no more
APART_SHARE: Final = 0.4  # of the most unlike step along a profile: a shadow's fading beside a mat's line is less
SEARCH_NEAR: Final = 0.012  # where the card and the stated size say a side should be
SAME_SIZE: Final = 0.02  # relative departure of a found side from the stated one that a lens and a table explain
DOUBT_SIZE: Final = 0.045
DOUBT_ASPECT: Final = 0.06  # relative departure of the found shape from the stated size, without a card
DOUBT_SUPPORT: Final = 0.45


@dataclass(frozen=True, slots=True, kw_only=True)
class Found:
    """Corners clockwise from the panel's top left, and how far they may be trusted."""

    corners_px: Points
    sure: bool
    doubt: str
    seen: Seen | None = None
    """The doubt as a fact."""


def _table_model(lab: Lab) -> tuple[Lab, float]:
    """Smooth table colour fitted to the photo's rim, and the scatter round it."""
    rows, columns = lab.shape[:2]
    rim = np.zeros((rows, columns), bool)
    edge = max(4, int(RIM_SHARE * max(rows, columns)))
    rim[:edge] = rim[-edge:] = rim[:, :edge] = rim[:, -edge:] = True
    y, x = np.mgrid[0:rows, 0:columns]
    y, x = y / rows - 0.5, x / columns - 0.5
    design = np.stack([np.ones_like(x), x, y, x * x, y * y, x * y], axis=-1)
    places, colours = design[rim], lab[rim]
    keep = np.ones(len(places), bool)
    weight, scatter = np.zeros((design.shape[-1], 3)), 5.0
    for _ in range(4):
        weight, *_ = np.linalg.lstsq(places[keep], colours[keep].astype(np.float64), rcond=None)
        away = np.linalg.norm(colours - (places @ weight).astype(np.float32), axis=1)
        scatter = float(np.median(away[keep])) + 1e-3
        keep = away < 3.5 * scatter + 2.0
    return np.asarray(design @ weight, dtype=np.float32), scatter


def rim_scatter(rgb: Rgb) -> float:
    """How many-coloured the outermost strip of a picture is, round the smooth table that fits it best (median delta E)."""
    shrink = min(1.0, COARSE_PX / max(rgb.shape[:2]))
    small = cv2.resize(rgb, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA)
    lab = cv2.cvtColor(cv2.medianBlur(small, LINE_PX).astype(np.float32) / 255.0, cv2.COLOR_RGB2Lab)
    return _table_model(np.asarray(lab, np.float32))[1]


def foreign(rgb: Rgb, card: Card | None) -> tuple[Mask, float]:
    """What is not of the table's colour, the card left out, on a small copy of a photograph; and how many times smaller that is."""
    shrink = min(1.0, COARSE_PX / max(rgb.shape[:2]))
    small = cv2.resize(rgb, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA)
    small = cv2.medianBlur(small, LINE_PX)  # a mat's printed lines are neither table nor panel
    lab = cv2.GaussianBlur(cv2.cvtColor(small.astype(np.float32) / 255.0, cv2.COLOR_RGB2Lab), (0, 0), 1.2)
    table, scatter = _table_model(lab)
    weight = np.array([0.7, 1.0, 1.0], np.float32)  # shadows move lightness, not hue
    away = magnitude((lab - table) * weight)
    mask = away > max(6.0, 4.5 * scatter)
    if card is not None:
        w, h = PHOTO_CARD.width_mm, PHOTO_CARD.height_mm
        outline = apply(card.matrix, np.array([[-2.5, -2.5], [w + 2.5, -2.5], [w + 2.5, h + 2.5], [-2.5, h + 2.5]]))
        blank = np.zeros(mask.shape, np.uint8)
        cv2.fillConvexPoly(blank, np.round(outline * shrink).astype(np.int32), 1)
        mask &= ~blank.astype(bool)
    return mask, shrink


def pieces(mask: Mask) -> tuple[npt.NDArray[np.int32], npt.NDArray[np.int32], int]:
    """Closed pieces of what is foreign to the table, their measures, and the number of the largest.

    Raises
    ------
    SightError
        If none is as large as a panel.
    """
    closed = cv2.morphologyEx(mask.astype(np.uint8), cv2.MORPH_CLOSE, np.ones((9, 9), np.uint8))
    closed = cv2.morphologyEx(closed, cv2.MORPH_OPEN, np.ones((7, 7), np.uint8))
    count, labels, stats, _ = cv2.connectedComponentsWithStats(closed)
    if count < 2:
        raise SightError("No panel stands out from the table. Mark its four corners by hand, or use a table of another colour.")
    best = 1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA]))
    if stats[best, cv2.CC_STAT_AREA] < LEAST_SHARE * mask.size:
        raise SightError("No panel stands out from the table. Mark its four corners by hand, or go closer.")
    return np.asarray(labels, np.int32), np.asarray(stats, np.int32), best


def near_pieces(labels: npt.NDArray[np.int32], stats: npt.NDArray[np.int32], best: int) -> list[int]:
    """Pieces of one panel that its base coat, or paint of the table's colour, may part from each other: the largest and what lies near."""
    away = cv2.distanceTransform((labels != best).astype(np.uint8), cv2.DIST_L2, 3)
    near = np.unique(labels[away < PIECE_REACH * np.sqrt(stats[best, cv2.CC_STAT_AREA])])
    return [int(n) for n in near if n and stats[n, cv2.CC_STAT_AREA] >= PIECE_SHARE * stats[best, cv2.CC_STAT_AREA]]


def _coarse(mask: Mask, aspect: float) -> Points:
    """Four sides round the panel on a mask of what is foreign to the table: its largest piece, or all that is near."""
    labels, stats, best = pieces(mask)
    sides = _four_sides(hull_of(labels == best))
    near = near_pieces(labels, stats, best)
    if len(near) < 2:
        return sides
    together = _four_sides(hull_of(np.isin(labels, near)))
    return together if _off_shape(together, aspect) < SHAPE_BETTER * _off_shape(sides, aspect) else sides


def hull_of(region: Mask) -> Points:
    """Convex hull of a mask, px, shape (n, 2)."""
    points = cv2.findNonZero(region.astype(np.uint8))
    return np.asarray(cv2.convexHull(points)[:, 0], np.float64)


def _off_shape(corners: Points, aspect: float) -> float:
    """How far the sides' ratio is from the stated one, either way up: absolute log ratio."""
    a, b, c, d = np.linalg.norm(np.roll(corners, -1, axis=0) - corners, axis=1)
    seen = float(np.log((a + c) / (b + d)))
    return min(abs(seen - math.log(aspect)), abs(seen + math.log(aspect)))


def _four_sides(hull: Points) -> Points:
    """Four-sided figure of least area round a hull, by taking its polygon down to four sides one by one."""
    polygon = cv2.approxPolyDP(hull.astype(np.float32), 0.004 * cv2.arcLength(hull.astype(np.float32), True), True)[:, 0].astype(np.float64)
    if len(polygon) < 4:
        polygon = cv2.boxPoints(cv2.minAreaRect(hull.astype(np.float32))).astype(np.float64)
    while len(polygon) > 4:
        best: tuple[float, int, Points] | None = None
        n = len(polygon)
        for i in range(n):  # drop side i by lengthening its neighbours until they meet
            a, b, c, d = (polygon[(i + j) % n] for j in (-1, 0, 1, 2))
            u, v = b - a, d - c
            cross = u[0] * v[1] - u[1] * v[0]
            if abs(cross) < 1e-9:
                continue
            t = ((c - a)[0] * v[1] - (c - a)[1] * v[0]) / cross
            meet = a + t * u
            if t < 1.0:
                continue
            added = abs((c - b)[0] * (meet - b)[1] - (c - b)[1] * (meet - b)[0]) / 2
            if best is None or added < best[0]:
                best = (added, i, meet)
        if best is None:
            polygon = cv2.boxPoints(cv2.minAreaRect(hull.astype(np.float32))).astype(np.float64)
            break
        _, i, meet = best
        polygon[i] = meet
        polygon = np.delete(polygon, (i + 1) % n, axis=0)
    return np.asarray(polygon, dtype=np.float64)


def _clockwise_from_top_left(corners: Points) -> Points:
    centre = corners.mean(axis=0)
    turn = np.arctan2(corners[:, 1] - centre[1], corners[:, 0] - centre[0])
    ordered = corners[np.argsort(turn)]
    first = int(np.argmin(ordered.sum(axis=1)))
    return np.roll(ordered, -first, axis=0)


def _apart(lab: Lab, near_px: int, far_px: int) -> Plane:
    """How unlike what is further out is to what is further in, along profiles (rows) that run outwards: little at a mat's printed line."""
    width = far_px - near_px
    soft = cv2.blur(lab, (width, 1), borderType=cv2.BORDER_REPLICATE)
    middle = (near_px + far_px) // 2
    index = np.arange(lab.shape[1])
    inner, outer = soft[:, (index - middle).clip(0)], soft[:, (index + middle).clip(max=lab.shape[1] - 1)]
    return np.asarray(magnitude(inner - outer), np.float32)


def steps_along(rgb: Rgb, places: Points, outward: Points, reach_px: float, px_per_mm: float) -> list[tuple[int, float, float]]:
    """Colour steps from panel to table along profiles that run outwards, the outermost few of each: profile, offset outwards in px, weight.

    Parameters
    ----------
    places, outward : ndarray, shape (n, 2)
        Middle of each profile, and its direction (unit vectors); neighbours are averaged.
    reach_px : float
        How far a profile runs to either side.
    """
    near_px, far_px = (max(round(mm * px_per_mm / STEP_PX), n) for n, mm in enumerate(BEYOND_MM, 2))
    offsets = np.arange(-reach_px, reach_px + STEP_PX, STEP_PX)
    grid = places[:, None, :] + offsets[None, :, None] * outward[:, None, :]
    sampled = cv2.remap(rgb, grid[..., 0].astype(np.float32), grid[..., 1].astype(np.float32), cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    lab = cv2.cvtColor(sampled.astype(np.float32) / 255.0, cv2.COLOR_RGB2Lab)
    lab = cv2.blur(lab, (1, 3))  # averaged along the side
    half = 3
    step = np.zeros(lab.shape[:2], np.float32)
    inner = cv2.blur(lab, (half, 1), anchor=(half - 1, 0))
    outer = cv2.blur(lab, (half, 1), anchor=(0, 0))
    step[:, :-1] = magnitude(inner[:, :-1] - outer[:, 1:])
    apart = _apart(lab, near_px, far_px)
    found = []
    for row, profile in enumerate(step):
        strong = max(7.0, 0.35 * float(profile.max()))
        peaks = np.flatnonzero((profile[1:-1] >= profile[:-2]) & (profile[1:-1] > profile[2:]) & (profile[1:-1] > strong)) + 1
        unlike = apart[row, peaks]
        peaks = peaks[unlike > max(LEAST_APART, APART_SHARE * float(unlike.max(initial=0.0)))]
        for p in peaks[-MOST_STEPS:].tolist():
            d = profile[p - 1] - 2 * profile[p] + profile[p + 1]
            shift = 0.5 * float(profile[p - 1] - profile[p + 1]) / float(d) if d < 0 else 0.0
            found.append((row, float(offsets[p] + 0.25 + 0.5 * shift), min(float(apart[row, p]), PLAIN_APART)))
    return found


def _move_sides(rgb: Rgb, corners: Points, px_per_mm: float, search: float = SEARCH_SHARE) -> tuple[Points, float]:
    """Move each side to its outermost strong colour step, at full scale; returns corners and the least support."""
    lines = []
    support = []
    for i in range(4):
        a, b = corners[i], corners[(i + 1) % 4]
        along = (b - a) / np.linalg.norm(b - a)
        outward = np.array([along[1], -along[0]])
        length = float(np.linalg.norm(b - a))
        reach = max(10.0, search * length)
        places = a + np.linspace(0.04, 0.96, SAMPLES)[:, None] * (b - a)
        found = steps_along(rgb, places, np.broadcast_to(outward, places.shape), reach, px_per_mm)
        rows_found = np.array([row for row, _, _ in found], np.int64)
        known = len(np.unique(rows_found))
        if known < 12:
            lines.append((a, along))
            support.append(0.0)
            continue
        t = np.array([np.linspace(0.04, 0.96, SAMPLES)[r] for r, _, _ in found]) * length
        o = np.array([v for _, v, _ in found])
        slope, start, share = _robust_line(t, o, np.array([w for _, _, w in found]), rows_found)
        lines.append((a + outward * start, (along + outward * slope) / np.hypot(1.0, slope)))
        support.append(share * known / SAMPLES)
    moved = []
    for i in range(4):
        p, u = lines[i - 1]
        q, v = lines[i]
        cross = u[0] * v[1] - u[1] * v[0]
        t = ((q - p)[0] * v[1] - (q - p)[1] * v[0]) / cross
        moved.append(p + t * u)
    return np.array(moved), min(support)


def _robust_line(t: Points, o: Points, weight: Points, rows: npt.NDArray[np.int64]) -> tuple[float, float, float]:
    """Line o = start + slope t on which most rows, by weight, have a step; share of rows that have one within 2 px of it.

    Parameters
    ----------
    t, o, weight : ndarray, shape (n,)
        Place along the side, offset outwards (px) and weight of each step.
    rows : ndarray of int, shape (n,)
        The profile that each step lies on: one may have several, and counts once.
    """
    rng = np.random.default_rng(5)
    best = (0.0, float(np.median(o)), -1.0)
    heaviest = np.zeros(SAMPLES)
    np.maximum.at(heaviest, rows, weight)
    for i, j in rng.integers(0, len(t), (PAIRS, 2)):
        if abs(t[i] - t[j]) < 0.2 * (t.max() - t.min()):
            continue
        slope = (o[j] - o[i]) / (t[j] - t[i])
        if abs(slope) > 0.08:
            continue
        start = o[i] - slope * t[i]
        close = np.abs(o - start - slope * t) < 1.5
        on_it = np.zeros(SAMPLES)
        np.maximum.at(on_it, rows[close], weight[close])
        # Among lines with much support the outer one is the panel's side: reward being far out a little.
        score = float(on_it.sum() / heaviest.sum()) + 0.002 * float(start + slope * t.mean())
        if score > best[2]:
            best = (float(slope), float(start), score)
    near = np.abs(o - best[1] - best[0] * t) < 2.0
    share = len(np.unique(rows[near])) / len(np.unique(rows))
    if near.sum() >= 8:
        slope, start = np.polyfit(t[near], o[near], 1)
        return float(slope), float(start), share
    return best[0], best[1], share


def find_corners(rgb: Rgb, width_mm: float, height_mm: float, card: Card | None) -> Found:
    """Corners of a panel of known size.

    Raises
    ------
    SightError
        If nothing on the table looks like a panel.
    """
    mask, shrink = foreign(rgb, card)
    coarse = (_coarse(mask, width_mm / height_mm) + 0.5) / shrink - 0.5
    corners = _clockwise_from_top_left(coarse)
    px_per_mm = photo_scale(_turn_to_size(corners, width_mm, height_mm), width_mm, height_mm)
    moved, support = _move_sides(rgb, corners, px_per_mm)
    if not np.all(np.isfinite(moved)) or np.abs(moved - corners).max() > 0.08 * max(rgb.shape[:2]):
        moved, support = corners, 0.0
    moved = _turn_to_size(moved, width_mm, height_mm)
    if card is not None and _off_size(_sides_mm(moved, card), width_mm, height_mm) > SAME_SIZE:
        moved, support = _sides_that_fit(rgb, moved, support, card, width_mm, height_mm, px_per_mm)
    check_corners(moved, rgb.shape[1], rgb.shape[0])
    doubt, seen = "", None
    if card is not None:
        sides = _sides_mm(moved, card)
        if _off_size(sides, width_mm, height_mm) > DOUBT_SIZE:
            seen = Seen(sign=Sign.CORNERS_SIZE, figures=(float(sides[[0, 2]].mean()), float(sides[[1, 3]].mean())))
            doubt = f"The card says the panel is {sides[[0, 2]].mean():.0f} × {sides[[1, 3]].mean():.0f} mm. Check its size or drag the corners."
    else:
        sides = np.linalg.norm(np.roll(moved, -1, axis=0) - moved, axis=1)
        off = abs(np.log((sides[0] + sides[2]) / (sides[1] + sides[3]) * height_mm / width_mm))
        if off > 2 * DOUBT_ASPECT:
            seen = Seen(sign=Sign.CORNERS_SHAPE)
            doubt = "The shape found does not match the panel's size. Check the size or drag the corners."
    if not doubt and support < DOUBT_SUPPORT:
        seen = Seen(sign=Sign.CORNERS_FAINT)
        doubt = "One side of the panel hardly stands out from the table. Check the corners."
    return Found(corners_px=moved, sure=not doubt, doubt=doubt, seen=seen)


def _sides_mm(corners: Points, card: Card) -> Points:
    """Lengths of the four sides in the card's plane."""
    flat = apply(np.asarray(np.linalg.inv(card.matrix), dtype=np.float64), corners)
    return np.asarray(np.linalg.norm(np.roll(flat, -1, axis=0) - flat, axis=1), dtype=np.float64)


def _off_size(sides_mm: Points, width_mm: float, height_mm: float) -> float:
    return float(np.abs(sides_mm / np.array([width_mm, height_mm, width_mm, height_mm]) - 1.0).max())


def _sides_that_fit(
    rgb: Rgb, corners: Points, support: float, card: Card, width_mm: float, height_mm: float, px_per_mm: float
) -> tuple[Points, float]:
    """Corners again where the card contradicts the stated size: a shadow's rim may have passed for a side.

    Each pair of opposite sides that stands too far apart or too close has one of the two moved to the stated
    distance and searched for nearby; what fits the size best and really shows a step there is taken.
    """
    flat = apply(np.asarray(np.linalg.inv(card.matrix), dtype=np.float64), corners)
    sides = _sides_mm(corners, card)
    wanted = np.array([width_mm, height_mm, width_mm, height_mm])
    choices: list[list[int | None]] = []
    for first in (0, 1):  # sides `first` and `first + 2` lie parallel; the sides between them give their distance
        excess = (sides - wanted)[[first + 1, (first + 3) % 4]]
        if np.abs(excess / wanted[first + 1]).max() <= SAME_SIZE:
            choices.append([None])
            continue
        choices.append([first, first + 2])
    best = (_off_size(sides, width_mm, height_mm), corners, support)
    for picked in itertools.product(*choices):
        tried = flat.copy()
        for side in picked:
            if side is None:
                continue
            for corner, other in ((side, side - 1), ((side + 1) % 4, (side + 2) % 4)):
                along = flat[corner] - flat[other]
                tried[corner] = flat[other] + along / np.linalg.norm(along) * wanted[(side + 1) % 4]
        found, held = _move_sides(rgb, apply(card.matrix, tried), px_per_mm, SEARCH_NEAR)
        off = _off_size(_sides_mm(found, card), width_mm, height_mm)
        if np.all(np.isfinite(found)) and held >= DOUBT_SUPPORT and off < 0.5 * best[0]:
            best = (off, found, held)
    return best[1], best[2]


def _turn_to_size(corners: Points, width_mm: float, height_mm: float) -> Points:
    """Turn the corner order by a quarter where the stated size fits much better that way."""
    sides = np.linalg.norm(np.roll(corners, -1, axis=0) - corners, axis=1)
    seen = np.log((sides[0] + sides[2]) / (sides[1] + sides[3]))
    wanted = np.log(width_mm / height_mm)
    if abs(seen - wanted) > abs(seen + wanted) + 0.15:
        return np.roll(corners, -1, axis=0)
    return corners
