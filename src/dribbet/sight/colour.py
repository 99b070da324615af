"""Colour of a panel: balanced CIELAB, its own colour modes, chroma, muddiness, CIEDE2000."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.sight.card import linear_from_srgb

if TYPE_CHECKING:
    import numpy.typing as npt

    from dribbet.sight.arrays import Lab, Mask, Plane, Rgb

    Floats = npt.NDArray[np.float64]

MOST_MODES: Final = 7
MODE_APART: Final = 9.0  # delta E below which two modes are one paint
MUDDY_CHROMA: Final = 12.0
MUDDY_LIGHTNESS: Final = (25.0, 75.0)
VIVID_CHROMA: Final = 25.0  # mud is only called where the poured colours were vivid
_ENCODED: Final = np.array([12.92 * x if x <= 0.0031308 else 1.055 * x ** (1 / 2.4) - 0.055 for x in np.linspace(0.0, 1.0, 4097)], np.float32)


def balanced(rgb: Rgb, gain: tuple[float, float, float]) -> Plane:
    """Photograph divided by the card's gains, as sRGB 0..1 floats; light beyond white stays white."""
    planes = []
    for channel, g in enumerate(gain):
        table = linear_from_srgb(np.arange(256, dtype=np.uint8)) / np.float32(g)
        encoded = _ENCODED[np.clip(table * 4096.0 + 0.5, 0, 4096).astype(np.int32)]
        planes.append(encoded[rgb[..., channel]])
    return np.ascontiguousarray(np.stack(planes, axis=-1))


def lab_of(srgb: Plane) -> Lab:
    """CIELAB of sRGB 0..1 floats."""
    return np.asarray(cv2.cvtColor(np.ascontiguousarray(srgb, dtype=np.float32), cv2.COLOR_RGB2Lab), dtype=np.float32)


def modes(lab: Lab, inside: Mask | None = None) -> tuple[Floats, Floats]:
    """The panel's own colours: centres (n, 3) and shares (n,), largest first, from a fixed sample of its pixels."""
    step = max(1, int(np.sqrt(lab.shape[0] * lab.shape[1] / 40_000)))
    sample = lab[::step, ::step].reshape(-1, 3)
    if inside is not None:
        kept = sample[inside[::step, ::step].ravel()]
        sample = kept if len(kept) > 50 else sample
    sample = np.ascontiguousarray(sample, dtype=np.float32)
    cv2.setRNGSeed(7)
    criteria = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 30, 0.3)
    count = min(MOST_MODES, len(np.unique(np.round(sample), axis=0)))
    _, labels, centres = cv2.kmeans(sample, count, None, criteria, 2, cv2.KMEANS_PP_CENTERS)
    centres = np.asarray(centres, dtype=np.float64)
    shares = np.bincount(labels.ravel(), minlength=count) / labels.size
    while len(centres) > 1:
        apart = np.linalg.norm(centres[:, None] - centres[None], axis=2) + np.eye(len(centres)) * 1e3
        i, j = np.unravel_index(int(apart.argmin()), apart.shape)
        if apart[i, j] >= MODE_APART:
            break
        weight = shares[[i, j]]
        centres[i] = (centres[[i, j]] * weight[:, None]).sum(axis=0) / weight.sum()
        shares[i] += shares[j]
        centres, shares = np.delete(centres, j, axis=0), np.delete(shares, j)
    order = np.argsort(shares)[::-1]
    return centres[order], shares[order]


def hex_of(lab: npt.ArrayLike) -> str:
    """Hex colour of one CIELAB triple."""
    pixel = np.asarray(lab, np.float32).reshape(1, 1, 3)
    rgb = np.clip(cv2.cvtColor(pixel, cv2.COLOR_Lab2RGB)[0, 0], 0.0, 1.0)
    return "#" + "".join(f"{round(float(v) * 255):02X}" for v in rgb)


def mean_chroma(lab: Lab, film: Mask) -> float:
    """Mean C* over the film."""
    return float(np.hypot(lab[..., 1][film], lab[..., 2][film]).mean()) if film.any() else 0.0


def muddy_fraction(lab: Lab, film: Mask, centres: Floats) -> float:
    """Share of mid-lightness, low-chroma film that is none of the panel's own greys, where its colours are vivid."""
    pixels = np.stack([lab[..., c][film][::7] for c in range(3)], axis=1)
    chroma = np.hypot(centres[:, 1], centres[:, 2])
    if not len(pixels) or chroma.max() < VIVID_CHROMA:
        return 0.0
    low, high = MUDDY_LIGHTNESS
    grey = (np.hypot(pixels[:, 1], pixels[:, 2]) < MUDDY_CHROMA) & (pixels[:, 0] > low) & (pixels[:, 0] < high)
    for centre in centres[chroma < MUDDY_CHROMA]:
        grey &= np.linalg.norm(pixels - centre, axis=1) > MODE_APART
    return float(grey.mean())


def ciede2000(first: npt.ArrayLike, second: npt.ArrayLike) -> Floats:
    """Colour difference CIEDE2000 with unit weights.

    Parameters
    ----------
    first, second : array_like, shape (..., 3)
        CIELAB.

    Returns
    -------
    ndarray, shape (...)
        Delta E 2000, after Sharma, Wu and Dalal (2005), whose 34 pairs it is tested on.
    """
    from skimage.color import deltaE_ciede2000  # a well-kept implementation

    return np.asarray(deltaE_ciede2000(np.asarray(first, float), np.asarray(second, float)), dtype=np.float64)
