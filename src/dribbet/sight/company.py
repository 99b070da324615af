"""What the second look at candidates for cells asks: how each stands among those that were chosen at first.

Cells of a panel are of a kind: what looks like the sure ones near it, in width and colour, is more likely one, and what lies on a surer candidate
less. Order matters to the forest.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

import numpy as np
from scipy.spatial import cKDTree

from dribbet.sight import looks
from dribbet.sight.arrays import magnitude
from dribbet.sight.outlines import filled

if TYPE_CHECKING:
    import numpy.typing as npt

    from dribbet.sight.arrays import Labels, Mask
    from dribbet.sight.outlines import Outlines

    Floats = npt.NDArray[np.float64]
    Features = npt.NDArray[np.float32]

CHOSEN: Final = -1.0  # log odds of the first look
OVERLAP: Final = 0.25  # of the smaller one
LEAST_MM: Final = 1.0
ON_FILM: Final = 0.9  # of a cell lies on paint
NEAREST: Final = 7
COLUMNS: Final = 18
NOBODY: Final = -5.0  # stands for log odds where there is none,
NO_RATIO: Final = 3.0  # for a log ratio of areas,
FAR: Final = 8.0  # for the log of a distance,
UNLIKE: Final = 200.0  # and for a difference in colour, delta E


def choose(found: Outlines, odds: Floats, film: Mask, px_per_mm: float) -> tuple[Labels, npt.NDArray[np.intp]]:
    """Candidates that overlap no surer one, as numbers from 1 in a picture like `film`, and which they are."""
    labels = np.zeros(film.shape, np.uint16)
    areas = [0]
    chosen: list[int] = []
    least = np.pi / 4 * (LEAST_MM * px_per_mm) ** 2
    for i in np.argsort(-odds, kind="stable"):
        if odds[i] < CHOSEN or len(areas) > np.iinfo(np.uint16).max:
            break
        window, inside = filled(found.contours[i])
        pixels = int(np.count_nonzero(inside))
        taken = labels[window][inside]
        if pixels < least or np.count_nonzero(taken) > OVERLAP * pixels or film[window][inside].mean() < ON_FILM:
            continue
        if any(n > OVERLAP * areas[j] for j, n in enumerate(np.bincount(taken)) if j and n):
            continue
        labels[window][inside & (labels[window] == 0)] = len(areas)
        areas.append(pixels)
        chosen.append(int(i))
    return labels, np.array(chosen, np.intp)


def company(found: Outlines, colours: Features, odds: Floats, film: Mask, px_per_mm: float) -> Features:
    """How each candidate stands among those chosen at first, shape (n, 18).

    Parameters
    ----------
    colours : ndarray, shape (n, 6)
        CIELAB within the rim of each candidate and beyond it, medians.
    odds : ndarray, shape (n,)
        Log odds of the first look.
    film : ndarray of bool
        Where there is paint, at the scale of the candidates.
    """
    labels, chosen = choose(found, odds, film, px_per_mm)
    area = found.shape[:, 2]
    width = np.sqrt(area * 4 / np.pi) / px_per_mm
    main, beneath = _beneath(found, labels, chosen)
    of_main = np.concatenate([[NOBODY], odds[chosen]])[main]
    ratio = np.where(main > 0, np.log(area / np.concatenate([[1.0], area[chosen]])[main]), NO_RATIO)
    chance = 1.0 / (1.0 + np.exp(-odds[chosen]))
    dm2 = labels.size / (px_per_mm * 100.0) ** 2
    of_panel = (
        np.log(len(chosen) / dm2 + 1.0),
        float(chance.mean()) if len(chosen) else 0.0,
        float((labels > 0).mean()),
        float(np.log(np.median(width[chosen]))) if len(chosen) else 0.0,
    )
    columns = [
        odds, np.isin(np.arange(len(odds)), chosen), *beneath[:3], of_main, ratio, beneath[3],
        *_nearest(found, colours, odds, width, main, chosen, px_per_mm), *(np.full(len(odds), v) for v in of_panel),
    ]  # fmt: skip
    return np.stack(columns, axis=1).astype(np.float32)


def _beneath(found: Outlines, labels: Labels, chosen: npt.NDArray[np.intp]) -> tuple[npt.NDArray[np.intp], list[Floats]]:
    """On which chosen one each candidate lies most (0: none); how much of it lies on chosen ones, on others than itself, on how many, on that one."""
    rims = looks.Rims.of(found)
    parts = [rims.within(share) for share in looks.WITHIN]
    under = (parts[0] + parts[1] + parts[2] + parts[3]).of(labels)
    own = np.zeros(len(under), labels.dtype)
    own[chosen] = np.arange(1, len(chosen) + 1)
    sorted_ = np.sort(under, axis=1)
    first = np.concatenate([np.ones((len(under), 1), bool), np.diff(sorted_, axis=1) > 0], axis=1)
    main, most = np.zeros(len(under), np.intp), np.zeros(len(under))
    for i, row in enumerate(under):
        count = np.bincount(row)
        count[0] = 0
        best = int(count.argmax())
        if count[best]:
            main[i], most[i] = best, count[best] / len(row)
    others = (under > 0) & (under != own[:, None])
    return main, [(under > 0).mean(axis=1), others.mean(axis=1), first.sum(axis=1).astype(np.float64), most]


def _nearest(
    found: Outlines, colours: Features, odds: Floats, width: Floats, main: npt.NDArray[np.intp], chosen: npt.NDArray[np.intp], px_per_mm: float
) -> list[Floats]:
    """Of the nearest chosen ones, without that on which a candidate lies: their odds and widths, how far the next is, how like in colour."""
    n = len(odds)
    if len(chosen) < 2:
        return [np.full(n, NOBODY), np.zeros(n), np.full(n, FAR), *(np.full(n, UNLIKE) for _ in range(3))]
    middle = found.shape[:, :2]
    away, which = cKDTree(middle[chosen]).query(middle, k=min(NEAREST, len(chosen)))
    itself = (which + 1) == main[:, None]
    weight = np.where(itself, 0.0, 1.0)
    total = np.maximum(weight.sum(axis=1), 1e-6)

    def mean(values: Floats) -> Floats:
        return np.asarray((values * weight).sum(axis=1) / total, np.float64)

    those = colours[chosen][which]
    within, beyond = (magnitude(those[..., part] - colours[:, None, part]) for part in (np.s_[:3], np.s_[3:]))
    next_ = np.where(itself, 1e6, away).min(axis=1) / px_per_mm / width
    return [
        mean(odds[chosen][which]), mean(np.log(width[chosen][which])) - np.log(width), np.log(next_ + 0.01),
        np.where(itself, UNLIKE, within).min(axis=1), np.where(itself, UNLIKE, beyond).min(axis=1), mean(within),
    ]  # fmt: skip
