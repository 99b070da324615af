"""Cracks and lacing: breaks of the film, and threads of another colour in it, as the network tells them apart."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.sight.cracks import JOIN_MM, Cracks, Lacing, polylines
from dribbet.sight.skeletons import skeleton_length_px

if TYPE_CHECKING:
    from dribbet.sight.arrays import Labels, Mask, Plane
    from training.trial.network import Maps

LIKELY: Final = 0.35  # chance of a crack's pixels
SURE: Final = 0.65  # chance that some of a piece must reach
SURE_MM: Final = 2.0  # so much of a piece must be sure
LEAST_CRACK_MM: Final = 4.0  # a joined piece shorter than this is not called a crack
LEAST_PANEL_MM: Final = 8.0  # less than this on a whole panel is taken as none
LACE: Final = 0.5


def find_cracks_and_lacing(maps: Maps, cell_labels: Labels, film: Mask, px_per_mm: float) -> tuple[Cracks, Lacing]:
    """Cracks and lacing of a panel at `px_per_mm`, the scale of `cell_labels` and `film`."""
    size = (film.shape[1], film.shape[0])
    chance = np.asarray(cv2.resize(maps.cracks, size, interpolation=cv2.INTER_AREA), np.float32)
    chance[~film] = 0.0
    lacing = (cv2.resize(maps.lacing, size, interpolation=cv2.INTER_LINEAR) > LACE) & film & (cell_labels == 0)
    return _cracks(chance, px_per_mm), _lacing(np.asarray(lacing, bool), px_per_mm)


def _lacing(body: Mask, k: float) -> Lacing:
    from skimage.morphology import skeletonize

    length = skeleton_length_px(np.asarray(skeletonize(body), bool)) / k if body.any() else 0.0
    return Lacing(mask=body, area_fraction=float(body.mean()), length_mm=length)


def _cracks(chance: Plane, k: float) -> Cracks:
    """Keep what is sure somewhere, join pieces across gaps, drop what is too short, measure."""
    from skimage.morphology import skeletonize

    body = chance > LIKELY
    nothing = Cracks(
        mask=np.zeros(chance.shape, bool), length_mm=0.0, area_fraction=0.0, mean_width_mm=0.0, max_width_mm=0.0, count=0, lines_mm=()
    )  # fmt: skip
    if not body.any():
        return nothing
    reach = round(JOIN_MM * k / 2) * 2 + 1
    joined = cv2.dilate(body.astype(np.uint8), cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (reach, reach)))
    count, pieces = cv2.connectedComponents(joined, connectivity=8)
    spine = np.asarray(skeletonize(body), bool)
    length = np.bincount(pieces[spine], minlength=count) / k
    sure = np.bincount(pieces[spine & (chance > SURE)], minlength=count) / k
    keep = (length >= LEAST_CRACK_MM) & (sure >= SURE_MM)
    keep[0] = False
    body &= keep[pieces]
    spine &= keep[pieces]
    total = skeleton_length_px(spine) / k
    if total < LEAST_PANEL_MM:
        return nothing
    widths = (cv2.distanceTransform(body.astype(np.uint8), cv2.DIST_L2, 5)[spine] * 2.0 - 1.0) / k
    return Cracks(
        mask=body,
        length_mm=total,
        area_fraction=float(body.mean()),
        mean_width_mm=float(widths.mean()),
        max_width_mm=float(np.percentile(widths, 99)),
        count=int(keep.sum()),
        lines_mm=polylines(body, k),
    )
