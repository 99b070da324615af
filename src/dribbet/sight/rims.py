"""Where cells end: each outline's rim is drawn anew by a small network that sees it unrolled.

A threshold's outline lies at the foot or the top of a colour step, and often on the wrong one: a cell is its fill and its ring, and the step between
both is the steeper one. The network sees some fifths of the width to either side of an outline, in the panel's colours and in what the reader's
eyes said there, and says of each place whether it lies in the cell. How it was grown stands in training/.
"""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Any, Final

import cv2
import numpy as np

from dribbet.sight.network import MAPS_PX_PER_MM
from dribbet.sight.polygons import folded, without_thin_parts
from dribbet.sight.unrolled import ACROSS, POINTS, STEPS, Unrolled, curved, pictures

if TYPE_CHECKING:
    from collections.abc import Sequence

    import numpy.typing as npt

    from dribbet.sight.arrays import Lab
    from dribbet.sight.network import Maps

    Floats = npt.NDArray[np.float32]

WEIGHTS: Final = Path(__file__).parent / "rims.onnx"
WRAPPED: Final = 6  # points that are shown a second time at both ends, since a rim is closed
AT_EITHER_END: Final = 8  # rows from whose median colours are told
ALIKE: Final = 20.0  # delta E that counts as one
BESIDE: Final = 0.5  # weight of what the points to either side say
AT_ONCE: Final = 256


def shown(seen: Floats, reach: Floats) -> Floats:
    """What the network gets of unrolled rims, shape (n, 14, ACROSS, POINTS + 2 WRAPPED).

    Colour as the difference from what is well within and from what is well beyond, lightness, the maps, how far out each row lies and how far the
    picture reaches.

    Parameters
    ----------
    seen : ndarray, shape (n, CHANNELS, ACROSS, POINTS)
        As `unrolled.pictures` gives it.
    reach : ndarray, shape (n,)
        In mm.
    """
    lab = seen[:, :3]
    within, beyond = (
        np.median(part.reshape(len(seen), 3, -1), axis=2)[:, :, None, None] for part in (lab[:, :, :AT_EITHER_END], lab[:, :, -AT_EITHER_END:])
    )
    like = (len(seen), 1, ACROSS, POINTS)
    out, far = np.broadcast_to(STEPS[None, None, :, None], like), np.broadcast_to(np.log(reach)[:, None, None, None], like)
    told = [(lab - within) / ALIKE, (lab - beyond) / ALIKE, lab[:, :1] / 50.0 - 1.0, seen[:, 3:] * 2.0 - 1.0, out, far]
    plain = np.concatenate(told, axis=1)
    return np.concatenate([plain[..., -WRAPPED:], plain, plain[..., :WRAPPED]], axis=3).astype(np.float32)


def ends(logits: Floats) -> Floats:
    """Where each point's cell ends, as share of the reach outwards: shape (n, POINTS), from log odds of shape (n, ACROSS, POINTS) of being within.

    Of all ends that a point may have, each is as likely as all rows before it are within and all behind it are not, with half of what the points to
    either side say; their mean is taken, and of that the median of three points beside each other.
    """
    within, beyond = -np.logaddexp(0.0, -logits), -np.logaddexp(0.0, logits)
    none = np.zeros_like(logits[:, :1])
    before = np.concatenate([none, np.cumsum(within, axis=1)], axis=1)
    passed = np.concatenate([none, np.cumsum(beyond, axis=1)], axis=1)
    likely = before + passed[:, -1:] - passed
    likely = likely + BESIDE * (np.roll(likely, 1, axis=2) + np.roll(likely, -1, axis=2))
    chance = np.exp(likely - likely.max(axis=1, keepdims=True))
    at = np.arange(ACROSS + 1, dtype=np.float32) * np.float32(2.0 / ACROSS) - np.float32(1.0)
    each = np.asarray((chance * at[None, :, None]).sum(axis=1) / chance.sum(axis=1), np.float32)
    return np.median(np.stack([np.roll(each, 1, axis=1), each, np.roll(each, -1, axis=1)]), axis=0)  # one that ends far from both is a spike


def drawn_anew(contours: Sequence[npt.NDArray[Any]], px_per_mm: float, lab: Lab, lab_px_per_mm: float, maps: Maps) -> list[Floats]:
    """Outlines of candidates with their rims where the cells end: each of shape (m, 2), in mm of the panel, within its face.

    Where a candidate bends inwards, the ways outwards from its points cross, and what is drawn may fold over itself. Such a one loses its folds and
    spikes, and is drawn once more from what is left; what folds even then only loses them.

    Parameters
    ----------
    contours : sequence of ndarray, shape (m, 1, 2)
        Closed outlines in px, at `px_per_mm`.
    lab : ndarray, shape (rows, columns, 3)
        CIELAB of the panel at `lab_px_per_mm`.
    maps : Maps
        What the reader's eyes said of it.
    """
    made = _drawn(contours, px_per_mm, lab, lab_px_per_mm, maps)
    bent = [i for i, outline in enumerate(made) if folded(outline)]
    smooth = [without_thin_parts(made[i], lab_px_per_mm, lab.shape[:2]) for i in bent]
    begun = [(outline * lab_px_per_mm - 0.5).astype(np.float32)[:, None] for outline in smooth]
    for i, outline in zip(bent, _drawn(begun, lab_px_per_mm, lab, lab_px_per_mm, maps), strict=True):
        made[i] = without_thin_parts(outline, lab_px_per_mm, lab.shape[:2]) if folded(outline) else outline
    return made


def _drawn(contours: Sequence[npt.NDArray[Any]], px_per_mm: float, lab: Lab, lab_px_per_mm: float, maps: Maps) -> list[Floats]:
    """What the network draws of each, folds and all."""
    if not contours:
        return []
    net: Any = cv2.dnn.readNetFromONNX(np.frombuffer(WEIGHTS.read_bytes(), np.uint8))
    face = np.array([lab.shape[1], lab.shape[0]], np.float32) / np.float32(lab_px_per_mm)
    made: list[Floats] = []
    for begin in range(0, len(contours), AT_ONCE):
        rims = Unrolled.of(contours[begin : begin + AT_ONCE], px_per_mm)
        net.setInput(shown(pictures(lab, lab_px_per_mm, maps, MAPS_PX_PER_MM, rims), rims.reach))
        logits = net.forward()[:, 0, :, WRAPPED:-WRAPPED]
        made.extend(np.clip(curved(rims.at(ends(logits))), 0.0, face))
    return made
