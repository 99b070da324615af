"""The film that stays on the panel (science: film left on the panel)."""

from __future__ import annotations

import math
from enum import StrEnum
from typing import Final

from dribbet.lab.paint.consistency import GRAVITY_M_S2
from dribbet.records import DribbetError

FILM_ZONES_M: Final = (0.9e-3, 1.9e-3, 2.5e-3)  # thin | safe | risky | cracks: starting borders, to be learned
GAUGE_TOP_M: Final = 3.0e-3


class FilmZone(StrEnum):
    """What a wet film is likely to do."""

    THIN = "thin"
    SAFE = "safe"
    RISKY = "risky"
    CRACKS = "cracks"


def wet_film_m(left_kg: float, density_kg_m3: float, area_m2: float) -> float:
    """Mean wet film: m_left / (rho A)."""
    if not left_kg > 0.0:
        raise DribbetError("The panel is not heavier than before the pour. Weigh the bare panel first, then again after tilting.")
    return left_kg / (density_kg_m3 * area_m2)


def dry_film_m(wet_m: float, volume_solids: float) -> float:
    """Dry film: wet film times volume solids."""
    return wet_m * volume_solids


def zone(wet_m: float) -> FilmZone:
    """Which zone of the gauge a wet film falls into."""
    thin, safe, risky = FILM_ZONES_M
    if wet_m < thin:
        return FilmZone.THIN
    if wet_m < safe:
        return FilmZone.SAFE
    return FilmZone.RISKY if wet_m < risky else FilmZone.CRACKS


def creep_m_s(film_m: float, tilt_rad: float, viscosity_pa_s: float, density_kg_m3: float) -> float:
    """Drift speed of the film's mean on a panel that is not level: rho g sin(theta) h^2 / (3 mu)."""
    return density_kg_m3 * GRAVITY_M_S2 * math.sin(tilt_rad) * film_m**2 / (3.0 * viscosity_pa_s)
