"""The one pipeline from photographs to a panel's figures: card, corners, rectify, colour, network, spread, cells, lines, shimmer."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Final

import cv2
import numpy as np

from dribbet.records import Report, silent
from dribbet.sight import colour, geometry, quality, shine_figures
from dribbet.sight.arrangement import arrangement
from dribbet.sight.arrays import SightError
from dribbet.sight.breaks import near
from dribbet.sight.card import Card, luminance
from dribbet.sight.cell_figures import cell_figures
from dribbet.sight.cells import Cell, Cells, find_cells
from dribbet.sight.cracks import Cracks, Lacing, UnderLamps, find_cracks_and_lacing
from dribbet.sight.lamps import Lamps as Lamps
from dribbet.sight.lamps import Over, Pose, laid_mirrored, laid_under_lamps
from dribbet.sight.located import locate as locate
from dribbet.sight.mended import across
from dribbet.sight.network import see
from dribbet.sight.shimmer import Shimmer, find_shimmer, raked
from dribbet.sight.shine import BURNT, find_shine
from dribbet.sight.spread import Spread, find_spread
from dribbet.sight.whole_picture import as_scanned

if TYPE_CHECKING:
    from dribbet.sight.arrays import Lab, Labels, Mask, Plane, Points, Rgb
    from dribbet.sight.relief import Relief
    from dribbet.sight.round_face import Disc
    from dribbet.sight.shine_figures import Shine

SCHEMA = "dribbet-measure/1"
STEPS = 9
BESIDE_CRACKS_MM: Final = 0.7


@dataclass(frozen=True, slots=True, kw_only=True)
class Measured:
    """All that was found on one panel."""

    width_mm: float
    height_mm: float
    px_per_mm: float
    corners_px: Points
    corner_source: str
    card: Card | None
    quality: quality.Quality
    warnings: tuple[str, ...]
    flat: Rgb
    disc: Disc | None
    """The face of a round panel; None: the whole rectangle."""
    face_share: float
    """Of the rectangle."""
    lab: Lab
    spread: Spread
    cells: Cells
    cracks: Cracks
    lacing: Lacing
    shimmer: Shimmer | None
    shine: Shine | None
    mean_chroma: float
    muddy_fraction: float
    shares: tuple[tuple[str, float], ...]


def measure(
    photos: Lamps, width_mm: float, height_mm: float, *, corners_px: Points | None = None, disc: Disc | None = None, report: Report = silent
) -> Measured:
    """Measure one panel.

    Parameters
    ----------
    photos : Lamps
        The main photograph is measured; left and right add shimmer, edge adds shine. They must show the same pose.
    width_mm, height_mm : float
        Size of the panel, as it lies in the photograph.
    corners_px : ndarray, shape (4, 2), optional
        Clockwise from the panel's top left; found where not given.
    disc : Disc, optional
        The face of a round panel within that size; what lies beyond its rim is no panel.
    report : callable
        Told of each step; may raise `Cancelled`.

    Raises
    ------
    SightError
        If the panel cannot be found, or sizes and corners make no sense.
    """
    if not (np.isfinite(width_mm) and np.isfinite(height_mm) and 20.0 <= min(width_mm, height_mm) and max(width_mm, height_mm) <= 3000.0):
        raise SightError(f"A panel of {width_mm:g} × {height_mm:g} mm cannot be measured. Give its size in millimetres, such as 200x150.")
    report(0, STEPS)
    corners, source, card, found = locate(photos.main, width_mm, height_mm, corners_px, is_round=disc is not None, px_per_mm=photos.px_per_mm)
    k = geometry.working_scale(width_mm, height_mm)
    report(1, STEPS)
    flat = plain = geometry.rectify(photos.main, corners, width_mm, height_mm, k)
    pose = Pose(rgb=plain, corners_px=corners, size_mm=(width_mm, height_mm), px_per_mm=k, is_round=disc is not None)
    lamps, unfit = laid_under_lamps(photos, pose)
    edge, unlit = laid_mirrored(photos, pose)
    if disc is not None:
        flat = disc.mirrored(plain, k)
    scale = geometry.photo_scale(corners, width_mm, height_mm)
    fitness = quality.assess(flat, corners, width_mm, height_mm, k, scale)
    report(2, STEPS)
    gain = card.gain if card is not None else (1.0, 1.0, 1.0)
    even = colour.balanced(flat, gain)
    report(3, STEPS)
    maps = see(even, k, report=lambda done, total: report(3, STEPS))
    lab = colour.lab_of(even)
    del even  # of a panel of 300 mm 70 MB, and the largest arrays are still to come
    report(4, STEPS)
    spread = find_spread(lab, maps.bare, k) if disc is None else _round_spread(lab, maps.bare, disc, k)
    face = None if disc is None else disc.mask(lab.shape, k)
    centres, _ = colour.modes(lab, spread.covered)
    report(5, STEPS)
    cells = find_cells(lab, centres, k, spread.covered, maps, face=face, report=lambda done, total: report(5, STEPS))
    report(6, STEPS)
    sure = lamps is not None and lamps[0].sure and lamps[1].sure
    under_lamps = raked(lamps[0].rgb, lamps[1].rgb, spread.covered, k) if lamps is not None and sure else None
    cracks, lacing = find_cracks_and_lacing(lab, centres, cells.labels, spread.covered, maps, k, face, under_lamps)
    report(7, STEPS)
    shimmer = shine = None
    if lamps is not None:
        whole = spread.covered & ~near(cracks.mask, BESIDE_CRACKS_MM * k) if cracks.count else spread.covered  # walls of a crack flash as flakes do
        shimmer = find_shimmer(lamps[0].rgb, lamps[1].rgb, whole, k)
    if edge is not None:
        shine = _shine(edge, plain, gain, spread.covered, k)
        if shine.width_mm is None:
            unlit = "No edge is mirrored in this panel: it is matte, or the lit board was not where the camera sees it."
    report(8, STEPS)
    if cracks.count:
        del lab, maps, lamps, under_lamps, edge  # another look takes as much memory as the first
        cells = across(cells, flat, gain, centres, spread.covered, cracks.mask, k, face=face, report=lambda done, total: report(8, STEPS))
        lab = colour.lab_of(colour.balanced(flat, gain))
    film = spread.covered
    kept, shares = colour.modes(lab, film)
    warnings = [*fitness.warnings]
    if found is not None and found.doubt:
        warnings.append(found.doubt)
    if card is None and as_scanned(photos.main, width_mm, height_mm, photos.px_per_mm) is not None:
        warnings.append("This is a scan, without a photo card: colours are as the scanner saw them. Compare them with other scans only.")
    elif card is None:
        warnings.append("The photo card is not in view, so colours are as the camera saw them. Lay it beside the panel next time.")
    elif card.patch_error > 6.0:
        warnings.append("The card's greys do not fit one light. Check for a shadow or coloured light on it.")
    warnings += [said for said in (unfit, unlit) if said]
    result = Measured(
        width_mm=width_mm,
        height_mm=height_mm,
        px_per_mm=k,
        corners_px=corners,
        corner_source=source,
        card=card,
        quality=fitness,
        warnings=tuple(warnings),
        flat=flat,
        disc=disc,
        face_share=1.0 if face is None else float(face.mean()),
        lab=lab,
        spread=spread,
        cells=cells,
        cracks=cracks,
        lacing=lacing,
        shimmer=shimmer,
        shine=shine,
        mean_chroma=colour.mean_chroma(lab, film),
        muddy_fraction=colour.muddy_fraction(lab, film, kept),
        shares=tuple((colour.hex_of(c), float(s)) for c, s in zip(kept, shares, strict=True)),
    )
    report(STEPS, STEPS)
    return result


def _shine(edge: Over, plain: Rgb, gain: tuple[float, float, float], film: Mask, k: float) -> Shine:
    """Shine by the photograph with the mirrored edge; `gain`: of the main one."""
    there = film & (edge.rgb.max(axis=2) < BURNT) & (plain.max(axis=2) < BURNT)
    return find_shine(luminance(edge.rgb, edge.gain), luminance(plain, gain), there, k)


def _round_spread(lab: Lab, bare: Plane, disc: Disc, k: float) -> Spread:
    """Spread on a round face: base that reaches its rim is carried out to where the sides of a square are asked."""
    whole = find_spread(disc.carried_out(lab, k), disc.carried_out(bare, bare.shape[1] / lab.shape[1] * k), k)
    face = disc.mask(lab.shape, k)
    return Spread(covered=whole.covered & face, fraction=float(whole.covered[face].mean()), bare_corners=(), doubtful=whole.doubtful & face)


def as_json(m: Measured, *, shrink: float = 1.0) -> dict[str, Any]:
    """The result as `dribbet measure` writes it: `dribbet-measure/1`; corners in pixels of a file that was read `shrink` times smaller."""
    area = m.width_mm * m.height_mm * m.face_share
    card = m.card
    counted = cell_figures([c.diameter_mm for c in m.cells.items], [c.circularity for c in m.cells.items], area)
    return {
        "schema": SCHEMA,
        "panel": {
            "width_mm": m.width_mm,
            "height_mm": m.height_mm,
            "px_per_mm": round(m.px_per_mm, 4),
            "corners_px": [[round(float(x) * shrink, 2), round(float(y) * shrink, 2)] for x, y in m.corners_px],
            "corner_source": m.corner_source,
            **({"disc_mm": m.disc.told, "face_share": round(m.face_share, 5)} if m.disc is not None else {}),
        },
        "light": {
            "card_found": card is not None,
            "exposure_ev": round(card.exposure_ev, 3) if card else 0.0,
            "white_balance": [round(v, 4) for v in card.white_balance] if card else [1.0, 1.0, 1.0],
            "sharpness": None if np.isnan(m.quality.edge_mm) else round(m.quality.edge_mm, 3),
            "warnings": list(m.warnings),
        },
        "cells": {
            "count": counted["count"],
            "count_sd": round(m.cells.count_sd, 1),
            "per_dm2": counted["per_dm2"],
            "area_fraction": round(float((m.cells.labels > 0).mean()) / m.face_share, 5),
            "median_diameter_mm": counted["median_diameter_mm"],
            "d10_mm": counted["d10_mm"],
            "d90_mm": counted["d90_mm"],
            "mean_circularity": counted["mean_circularity"],
            "touching_fraction": round(m.cells.touching_fraction, 3),
            "items": [_cell(c) for c in m.cells.items],
        },
        "arrangement": arrangement([c.outline_mm for c in m.cells.items]),
        "pinholes": {"count": m.cells.pinholes},
        "lacing": {"area_fraction": round(m.lacing.area_fraction / m.face_share, 5), "length_mm": round(m.lacing.length_mm, 1)},
        "cracks": {
            **_cracks(m.cracks, m.face_share),
            "length_sd": round(m.cracks.length_sd_mm, 1),
            "doubtful_mm": round(m.cracks.doubtful_mm, 1),
            **({"doubtful": _cracks(m.cracks.doubtful, m.face_share)} if m.cracks.doubtful is not None else {}),
            **({"under_lamps": _under_lamps(m.cracks.under_lamps)} if m.cracks.under_lamps is not None else {}),
        },
        "spread": {
            "fraction": round(m.spread.fraction, 5),
            "area_mm2": round(m.spread.fraction * area, 1),
            "bare_corners": list(m.spread.bare_corners),
            "doubtful": round(float(m.spread.doubtful.mean()) / m.face_share, 5),
        },
        "shimmer": None if m.shimmer is None else {"index": round(m.shimmer.index, 4), "glints_per_cm2": round(m.shimmer.glints_per_cm2, 3)},
        "surface": None if m.shimmer is None else _surface(m.shimmer.relief),
        **({"shine": shine_figures.as_told(m.shine)} if m.shine is not None else {}),
        "colour": {
            "mean_chroma": round(m.mean_chroma, 2),
            "muddy_fraction": round(m.muddy_fraction, 4),
            "shares": [{"hex": h, "share": round(s, 4)} for h, s in m.shares],
        },
    }


def outlines(m: Measured) -> dict[str, Any]:
    """Outlines in mm for drawing over the photo: kept with a reading, not part of the JSON that scripts get."""
    k = m.px_per_mm

    def round_about(region: Mask) -> list[list[list[float]]]:
        edges, _ = cv2.findContours(region.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
        return [[[round((p[0] + 0.5) / k, 2), round((p[1] + 0.5) / k, 2)] for p in cv2.approxPolyDP(e, 2.0, True)[:, 0].tolist()] for e in edges]

    return {
        "cells": [[list(p) for p in c.outline_mm] for c in m.cells.items],
        "cracks": [[list(p) for p in line] for line in m.cracks.lines_mm],
        **({"lines": [[list(p) for p in line] for line in m.cracks.doubtful.lines_mm]} if m.cracks.doubtful is not None else {}),
        "edge": round_about(~m.spread.covered if m.disc is None else ~m.spread.covered & m.disc.mask(m.lab.shape, k)),
        "unsure": round_about(m.spread.doubtful),
    }


def masks(m: Measured) -> dict[str, Labels | Mask]:
    """Masks on the rectified panel by file name: labels for cells, true/false for the rest."""
    return {"cells": m.cells.labels, "cracks": m.cracks.mask, "spread": m.spread.covered, "lacing": m.lacing.mask}


def _cracks(c: Cracks, face_share: float) -> dict[str, float]:
    return {
        "length_mm": round(c.length_mm, 1),
        "area_fraction": round(c.area_fraction / face_share, 6),
        "mean_width_mm": round(c.mean_width_mm, 3),
        "max_width_mm": round(c.max_width_mm, 3),
        "count": c.count,
    }


def _under_lamps(told: UnderLamps) -> dict[str, float]:
    return {"deep_mm": round(told.deep_mm, 1), "flat_mm": round(told.flat_mm, 1)}


def _surface(relief: Relief) -> dict[str, Any]:
    faults = [
        {"kind": str(f.kind), "x_mm": round(f.x_mm, 2), "y_mm": round(f.y_mm, 2), "width_mm": round(f.width_mm, 2), "slope": round(f.slope, 4)}
        for f in relief.faults
    ]
    return {"slope": round(relief.slope, 5), "slope_sd": round(relief.slope_sd, 5), "count": len(faults), "faults": faults}


def _cell(c: Cell) -> dict[str, float]:
    return {
        "x_mm": round(c.x_mm, 2),
        "y_mm": round(c.y_mm, 2),
        "area_mm2": round(c.area_mm2, 3),
        "diameter_mm": round(c.diameter_mm, 3),
        "circularity": round(c.circularity, 3),
        "elongation": round(c.elongation, 3),
        "sureness": round(c.sureness, 2),
    }
