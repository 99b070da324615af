"""Finds a round panel on the table: an ellipse through the outermost steps all round, and the corners of the rectangle that it lies in.

An ellipse alone does not tell how a camera leaned: many leanings show the same one. With the photo card in view the card's plane tells, and the rim
is laid out there; without it the panel is taken as seen from straight above or far away (an affine picture of a circle), and the reading says so.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.records import Seen, Sign
from dribbet.sight.arrays import SightError
from dribbet.sight.corners import DOUBT_SIZE, DOUBT_SUPPORT, Found, foreign, hull_of, near_pieces, pieces, steps_along
from dribbet.sight.geometry import apply, check_corners

if TYPE_CHECKING:
    import numpy.typing as npt

    from dribbet.sight.arrays import Points, Rgb
    from dribbet.sight.card import Card

RAYS: Final = 240
SEARCH_SHARE: Final = 0.05  # of the half width, to either side of the coarse rim
TRIES: Final = 300
CLOSE_PX: Final = 1.5
ON_IT_PX: Final = 2.0
OUTER: Final = 0.002  # reward a pixel for being far out: among rims with much support the outer one is the panel's
HARMONICS: Final = 5  # a small change of an ellipse: wider, moved, longer: 1, cos t, sin t, cos 2t, sin 2t
MOST_FLAT: Final = 1.06
"""Long over short axis of a circle without the card from which on the camera leaned by more than 19 degrees, and the figures lean with it."""


def find_round(rgb: Rgb, width_mm: float, height_mm: float, card: Card | None) -> Found:
    """Corners of the rectangle round a disc (or ellipse) of known width and height.

    Raises
    ------
    SightError
        If nothing on the table looks like a panel.
    """
    mask, shrink = foreign(rgb, card)
    labels, stats, best = pieces(mask)
    hull = (hull_of(np.isin(labels, near_pieces(labels, stats, best))) + 0.5) / shrink - 0.5
    if len(hull) < HARMONICS:
        raise SightError("No panel stands out from the table. Drag the four corners onto the square round it.")
    middle, axes, turn = cv2.fitEllipse(hull.astype(np.float32))
    coarse = np.array([*middle, axes[0] / 2, axes[1] / 2, np.radians(turn)])
    rim, support = _moved(rgb, coarse, 2.0 * float(np.mean(axes)) / (width_mm + height_mm))
    if card is not None:
        flat = np.asarray(np.linalg.inv(card.matrix), np.float64)
        corners, sides = _square(apply(flat, rim), apply(flat, _axes(rim)), width_mm, height_mm)
        corners = apply(card.matrix, corners)
    else:
        corners, sides = _square(rim, _axes(rim), width_mm, height_mm)
    check_corners(corners, rgb.shape[1], rgb.shape[0])
    seen, doubt = _doubt(sides, width_mm, height_mm, support, known=card is not None)
    return Found(corners_px=corners, sure=seen is None, doubt=doubt, seen=seen)


def _on(ellipse: Points, turn: Points) -> tuple[Points, Points]:
    """Points of an ellipse (middle, half axes, angle), and their outward normals."""
    x, y, a, b, angle = ellipse
    spin = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
    points = np.stack([a * np.cos(turn), b * np.sin(turn)], axis=1) @ spin.T + [x, y]
    normal = np.stack([b * np.cos(turn), a * np.sin(turn)], axis=1) @ spin.T
    return points, normal / np.linalg.norm(normal, axis=1, keepdims=True)


def _moved(rgb: Rgb, coarse: Points, px_per_mm: float) -> tuple[Points, float]:
    """Points of the rim where most rays, by weight, have a step on one small change of the coarse ellipse; share of rays that have one near it."""
    turn = np.linspace(0.0, 2.0 * np.pi, RAYS, endpoint=False)
    places, outward = _on(coarse, turn)
    reach = max(10.0, SEARCH_SHARE * float(coarse[2:4].mean()))
    found = steps_along(rgb, places, outward, reach, px_per_mm)
    rows = np.array([row for row, _, _ in found], np.int64)
    if len(np.unique(rows)) < RAYS // 6:
        return places, 0.0
    offsets, weight = (np.array([f[i] for f in found]) for i in (1, 2))
    terms = np.stack([np.ones(RAYS), np.cos(turn), np.sin(turn), np.cos(2 * turn), np.sin(2 * turn)], axis=1)
    design = terms[rows]
    heaviest = np.zeros(RAYS)
    np.maximum.at(heaviest, rows, weight)
    rng = np.random.default_rng(5)
    best, change = -np.inf, np.zeros(HARMONICS)
    for _ in range(TRIES):
        picked = rng.choice(len(rows), HARMONICS, replace=False)
        if abs(np.linalg.det(design[picked])) < 0.1:  # five rays of one side tell nothing of the other
            continue
        tried = np.linalg.solve(design[picked], offsets[picked])
        if np.abs(terms @ tried).max() > reach:  # runs off where no ray has looked
            continue
        close = np.abs(offsets - design @ tried) < CLOSE_PX
        on_it = np.zeros(RAYS)
        np.maximum.at(on_it, rows[close], weight[close])
        score = float(on_it.sum() / heaviest.sum()) + OUTER * float(tried[0])
        if score > best:
            best, change = score, tried
    near = np.abs(offsets - design @ change) < ON_IT_PX
    if near.sum() >= 2 * HARMONICS:
        change, *_ = np.linalg.lstsq(design[near], offsets[near], rcond=None)
    support = len(np.unique(rows[near])) / RAYS
    return places + outward * (terms @ change)[:, None], support


def _axes(rim: Points) -> Points:
    """Two points of the photograph beside each other, from the middle of the rim: which way is level."""
    middle = rim.mean(axis=0)
    return np.array([middle, middle + [float(np.ptp(rim[:, 0])) / 4, 0.0]])


def _square(rim: Points, level: Points, width_mm: float, height_mm: float) -> tuple[Points, npt.NDArray[np.float64]]:
    """Corners of the rectangle round a rim, clockwise from the top left, and its width and height, in the plane that the rim lies in.

    A circle has no top: its square stands level in the photograph. An ellipse of unlike sides stands along its own axes.
    """
    ellipse = cv2.fitEllipseDirect(rim.astype(np.float32))
    (x, y), (first, second), turn = ellipse
    angle = np.radians(turn)
    spin = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
    shape = spin @ np.diag([first / 2, second / 2]) @ spin.T  # takes the unit circle to the rim, without a turn
    along = (level[1] - level[0]) / np.linalg.norm(level[1] - level[0])
    if abs(np.log(width_mm / height_mm)) < 0.01:
        right = np.linalg.solve(shape, along)
        right /= np.linalg.norm(right)
    else:
        long_axis = spin[:, int(second > first)]
        right = long_axis if width_mm > height_mm else np.array([-long_axis[1], long_axis[0]])
        right = right if right @ along >= 0.0 else -right
    down = np.array([-right[1], right[0]])
    unit = np.array([-right - down, right - down, right + down, down - right])
    sides = np.array([2.0 * np.linalg.norm(shape @ right), 2.0 * np.linalg.norm(shape @ down)])
    return unit @ shape.T + [x, y], sides


def _doubt(sides: Points, width_mm: float, height_mm: float, support: float, *, known: bool) -> tuple[Seen | None, str]:
    """What is doubtful of a rim, as a fact and as a sentence; `known`: sides are in mm by the card."""
    wide, high = (float(s) for s in sides)
    if known and max(abs(wide / width_mm - 1.0), abs(high / height_mm - 1.0)) > DOUBT_SIZE:
        return (
            Seen(sign=Sign.CORNERS_SIZE, figures=(wide, high)),
            f"The card says the panel is {wide:.0f} × {high:.0f} mm. Check its size or drag the corners.",
        )
    if not known and abs(np.log(wide / high * height_mm / width_mm)) > np.log(MOST_FLAT):
        return Seen(sign=Sign.CORNERS_SHAPE), "The shape found does not match the panel's size. Check the size or drag the corners."
    if support < DOUBT_SUPPORT:
        return Seen(sign=Sign.CORNERS_FAINT), "One side of the panel hardly stands out from the table. Check the corners."
    if not known:
        return (
            Seen(sign=Sign.LEAN_UNKNOWN),
            "Without the card nobody can see how the camera leans over a round panel: widths may be off by some percent. Lay the card beside it.",
        )
    return None, ""
