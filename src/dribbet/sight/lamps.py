"""Photographs of one pose under several lamps: each laid exactly over the main one, so that what is unlike between them is light."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np

from dribbet.sight import geometry, registration
from dribbet.sight.arrays import Rgb, SightError
from dribbet.sight.card import find_card
from dribbet.sight.load import load
from dribbet.sight.located import locate

if TYPE_CHECKING:
    from pathlib import Path

    from dribbet.sight.arrays import Points

Loader = Callable[[], Rgb | None]
"""Loads a photograph when it is needed (12 megapixels are 36 MB of memory); None where it cannot be used."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Lamps:
    """Photographs of one pose: one, or three with the lamp moved; all but the main one may be given by what loads them when they are laid over it."""

    main: Rgb
    left: Rgb | Loader | None = None
    right: Rgb | Loader | None = None
    edge: Rgb | Loader | None = None
    """With the edge of a lit board mirrored in the panel."""
    px_per_mm: float = 0.0
    """By what the main file states; 0: it states nothing."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Pose:
    """The main photograph, rectified, and how it was."""

    rgb: Rgb
    corners_px: Points
    size_mm: tuple[float, float]
    px_per_mm: float
    is_round: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Over:
    """A photograph that lies over the main one, and whether it surely does to a fraction of a thin line."""

    rgb: Rgb
    sure: bool
    gain: tuple[float, float, float] = (1.0, 1.0, 1.0)


def on_file(path: Path | None, main: Rgb, unlike: str = "") -> Loader | None:
    """What loads a photograph of the main one's pose from a file. One of another size is not used, or refused where there are words for that.

    Raises
    ------
    SightError
        When it is loaded: if it is no photograph, or of another size and `unlike` says what to do about it.
    """
    if path is None:
        return None

    def loaded() -> Rgb | None:
        rgb = load(path).rgb
        if rgb.shape == main.shape:
            return rgb
        if unlike:
            raise SightError(unlike)
        return None

    return loaded


def _loaded(photo: Rgb | Loader | None) -> Rgb | None:
    return photo() if callable(photo) else photo


def laid_under_lamps(photos: Lamps, pose: Pose) -> tuple[tuple[Over, Over] | None, str]:
    """The photographs with the lamps left and right, laid over the main one; or none, and why where there are such photographs."""
    if photos.left is None or photos.right is None:
        return None, ""
    photo, other = _loaded(photos.left), _loaded(photos.right)
    if photo is None or other is None:
        return None, ""
    if np.array_equal(photo, other):
        return None, "The photographs with the lamps left and right are one and the same: shimmer and surface are not read. Take one with each lamp."
    left, right = _laid(photo, pose), _laid(other, pose)
    if left is None or right is None:
        return (
            None,
            "The photographs with the lamps left and right do not fit the first: shimmer and surface are not read. Take all three of one panel.",
        )
    return (left, right), ""


def laid_mirrored(photos: Lamps, pose: Pose) -> tuple[Over | None, str]:
    """The photograph with the mirrored edge, laid over the main one; or none, and why where there is such a photograph."""
    photo = _loaded(photos.edge)
    if photo is None:
        return None, ""
    card = find_card(photo)
    if card is None:
        return None, "The photo card is not in view where the edge is mirrored, so shine is not read. Lay it beside the panel, lit as the panel is."
    over = _laid(photo, pose, mirrored=True)
    if over is None:
        return None, "The photograph with the mirrored edge does not fit the first: shine is not read. Take both of one panel."
    return replace(over, gain=card.gain), ""


def _laid(photo: Rgb, pose: Pose, *, mirrored: bool = False) -> Over | None:
    """A photograph under another lamp, rectified so that it lies exactly over the main one; None where it shows something else.

    A nudged phone is followed from the main photograph's corners; of one that was held by hand the panel is looked for anew.
    """
    k, corners = pose.px_per_mm, pose.corners_px
    over = geometry.rectify(photo, corners, *pose.size_mm, k)
    laid = registration.laid_over(over, pose.rgb, k, mirrored=mirrored)
    if laid.lost:
        try:
            corners = locate(photo, *pose.size_mm, None, is_round=pose.is_round)[0]
        except SightError:
            return None
        over = geometry.rectify(photo, corners, *pose.size_mm, k)
        laid = registration.laid_over(over, pose.rgb, k, mirrored=mirrored)
    if laid.lost:
        return None
    if laid.shift_mm > 0.0:
        over = geometry.rectify(photo, registration.corners_of(laid, corners, *pose.size_mm, k), *pose.size_mm, k)
    return Over(rgb=over, sure=laid.sure)
