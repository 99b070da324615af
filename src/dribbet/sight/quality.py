"""Is a photograph fit to be measured? Sharpness, clipping, glare, tilt; each as a sentence."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.records import Seen, Sign

if TYPE_CHECKING:
    from dribbet.sight.arrays import Points, Rgb

BLURRED_MM: Final = 0.65  # finest edges wider than this lose thin cracks
BLURRED_PX: Final = 5.5  # a sharp lens and its sensor leave edges of up to so many pixels
CLIPPED_SHARE: Final = 0.02
DARK_SHARE: Final = 0.6
GLARE_SHARE: Final = 0.004
MOST_GLARE: Final = 0.12  # of the panel; more than that is over-exposure, not one lamp's reflection
COARSE_PX_PER_MM: Final = 4.0
STEEP_DEG: Final = 20.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Quality:
    """Figures of a photograph's fitness; `warnings` are sentences that say what to do."""

    edge_mm: float
    clipped_share: float
    glare_share: float
    glare_at: tuple[float, float] | None
    """Centre of the glare as shares of the panel's width and height."""
    tilt_deg: float
    px_per_mm: float
    warnings: tuple[str, ...]
    signs: tuple[Seen, ...]
    """The same as facts, with what is fine."""


def finest_edge_px(grey: np.ndarray[tuple[int, ...], np.dtype[np.uint8]]) -> float:
    """Width of the sharpest edges: local range over steepest slope, of the strongest edges."""
    small = cv2.GaussianBlur(grey, (0, 0), 0.6).astype(np.float32)
    slope = np.hypot(cv2.Sobel(small, cv2.CV_32F, 1, 0), cv2.Sobel(small, cv2.CV_32F, 0, 1)) / 8.0
    kernel = np.ones((9, 9), np.uint8)
    reach = cv2.dilate(small, kernel) - cv2.erode(small, kernel)
    strong = reach > max(25.0, float(np.percentile(reach, 90)) * 0.7)
    if strong.sum() < 200:
        return float("nan")
    return float(np.percentile(reach[strong] / np.maximum(slope[strong], 0.5), 8))


def assess(flat: Rgb, corners_px: Points, width_mm: float, height_mm: float, px_per_mm: float, photo_px_per_mm: float) -> Quality:
    """Assess a rectified panel and the pose it was photographed in."""
    grey = cv2.cvtColor(flat, cv2.COLOR_RGB2GRAY)
    step = max(1, grey.size // 2_000_000)
    edge_px = finest_edge_px(np.ascontiguousarray(grey[:: max(1, int(np.sqrt(step)))]))
    edge_mm = edge_px / px_per_mm if np.isfinite(edge_px) else float("nan")
    clipped = np.logical_and.reduce([flat[..., c] >= 252 for c in range(3)])  # a third of the time of `np.all` along the last axis
    dark = float(np.mean(grey < 6))
    # Glare is a compact blotch of clipped light with a soft skirt, not a white paint with crisp borders.
    skirt = cv2.GaussianBlur(clipped.astype(np.float32), (0, 0), 2.0 * px_per_mm) > 0.5 if clipped.any() else clipped
    glare = float(np.mean(skirt & clipped))
    where = None
    if glare > GLARE_SHARE:
        rows, columns = np.nonzero(skirt & clipped)
        where = (float(columns.mean() / flat.shape[1]), float(rows.mean() / flat.shape[0]))
    sides = np.linalg.norm(np.roll(corners_px, -1, axis=0) - corners_px, axis=1)
    lean = max(abs(np.log(sides[0] / sides[2])), abs(np.log(sides[1] / sides[3])))
    tilt = float(np.degrees(np.arctan(lean * 2.0)))
    warnings, signs = [], []
    sharp = (edge_mm,) if np.isfinite(edge_mm) else ()
    if sharp and edge_mm > max(BLURRED_MM, BLURRED_PX / photo_px_per_mm):
        signs.append(Seen(sign=Sign.BLURRED, figures=sharp))
        warnings.append(f"Blurred: the finest lines are {edge_mm:.1f} mm wide. Steady the camera and focus again.")
    else:
        signs.append(Seen(sign=Sign.SHARP if sharp else Sign.PLAIN, figures=sharp))
    blotch = GLARE_SHARE < glare < MOST_GLARE
    if clipped.mean() > CLIPPED_SHARE and not blotch:
        signs.append(Seen(sign=Sign.WHITE_OUT, figures=(float(clipped.mean()),)))
        warnings.append(f"{clipped.mean() * 100:.0f}\u202f% of the panel is white-out. Use less light or a shorter exposure.")
    elif glare > GLARE_SHARE:
        signs.append(Seen(sign=Sign.GLARE, figures=(glare, *(where or (0.5, 0.5)))))
        warnings.append(f"Glare on {glare * 100:.0f}\u202f% of the panel. Move the lamp aside; cells under it cannot be read.")
    if dark > DARK_SHARE:
        signs.append(Seen(sign=Sign.BLACK))
        warnings.append("Most of the panel is black in this photo. Use more light or a longer exposure.")
    if photo_px_per_mm < COARSE_PX_PER_MM:
        signs.append(Seen(sign=Sign.COARSE, figures=(photo_px_per_mm,)))
        warnings.append(f"Only {photo_px_per_mm:.1f} pixels per mm: thin cracks vanish. Go closer.")
    signs.append(Seen(sign=Sign.STEEP if tilt > STEEP_DEG else Sign.TILT, figures=(tilt,)))
    if tilt > STEEP_DEG:
        warnings.append(f"The camera leans by about {tilt:.0f}°. Hold it straight above the panel.")
    return Quality(
        edge_mm=edge_mm,
        clipped_share=float(clipped.mean()),
        glare_share=glare,
        glare_at=where,
        tilt_deg=tilt,
        px_per_mm=photo_px_per_mm,
        warnings=tuple(warnings),
        signs=tuple(signs),
    )
