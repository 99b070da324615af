"""Drying windows and crack risk (science: drying)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from dribbet.records import OWN_TIME, DribbetError

PRESSURE_HPA: Final = 1013.25
DIFFUSIVITY_M2_S: Final = (3e-12, 2e-11)  # water through the closed film: slow, quick
WET_DIFFUSIVITY_M2_S: Final = 3e-11
CURED_DAYS: Final = (21.0, 30.0)
DAY_S: Final = 86400.0
HOUR_S: Final = 3600.0
LOOKS_H: Final = (("wet", 0.5), ("12 h", 11.0), ("24 h", 21.0), ("48 h", 48.0), ("dry", 96.0))
"""Check-ins that matter: name, hours after the pour."""
LATE_LOOKS_H: Final = (("7 d", 168.0), ("cured", 576.0))
"""Later ones, made only where a test asks for them: 24 days stand between the 21 and 30 of `CURED_DAYS`."""
TIMES_H: Final = (*LOOKS_H, *LATE_LOOKS_H)


def hours_of(name: str) -> float:
    """Hours after the pour at which a look is due, by its name: one of `TIMES_H`, or an hour of the person's own such as '10 h' or '3 d'.

    >>> hours_of("24 h"), hours_of("18 h"), hours_of("3 d")
    (21.0, 18.0, 72.0)

    Raises
    ------
    DribbetError
        If it names no time.
    """
    known = dict(TIMES_H).get(name)
    if known is not None:
        return known
    told = OWN_TIME.match(name)
    if told is None:
        raise DribbetError(f"{name[:20]!r} is no time for a look. Type hours or days after the pour, such as 10 h or 3 d.")
    return float(told.group(1)) * (24.0 if told.group(2) == "d" else 1.0)


LATE_AFTER: Final = 0.35  # a look is overdue when this share of its hour count has passed beyond it


def saturation_pressure_hpa(celsius: float) -> float:
    """Saturation vapour pressure over water: 6.112 exp(17.62 T / (243.12 + T)) (Magnus, WMO guide)."""
    return 6.112 * math.exp(17.62 * celsius / (243.12 + celsius))


def evaporation_kg_m2_s(celsius: float, relative_humidity: float, air_m_s: float) -> float:
    """Evaporation from a wet surface: (25 + 19 v)(x_s - x) kg/(m2 h), here per second."""
    saturated = saturation_pressure_hpa(celsius)
    vapour = saturated * relative_humidity
    x_s = 0.622 * saturated / (PRESSURE_HPA - saturated)
    x = 0.622 * vapour / (PRESSURE_HPA - vapour)
    return (25.0 + 19.0 * air_m_s) * (x_s - x) / HOUR_S


def diffusion_time_s(film_m: float, diffusivity_m2_s: float) -> float:
    """Time of the second stage: H^2 / (pi^2 D / 4) ln(8 / (pi^2 0.05))."""
    return film_m**2 / (math.pi**2 * diffusivity_m2_s / 4.0) * math.log(8.0 / (math.pi**2 * 0.05))


def skin_number(film_m: float, evaporation_m_s: float) -> float:
    """Pe = H E / D_w; above about 1 the surface closes before the inside has dried."""
    return film_m * evaporation_m_s / WET_DIFFUSIVITY_M2_S


class DryStage(StrEnum):
    """How far a film has dried."""

    WET = "wet"
    SKIN = "skin"
    TOUCH = "touch-dry"
    THROUGH = "through-dry"
    CURED = "cured"


@dataclass(frozen=True, slots=True, kw_only=True)
class DryingWindow:
    """Earliest and latest seconds after the pour at which a stage begins."""

    stage: DryStage
    earliest_s: float
    latest_s: float


def windows(wet_film_m: float, volume_solids: float, celsius: float, relative_humidity: float, air_m_s: float) -> tuple[DryingWindow, ...]:
    """When each stage begins, as a window and never as one time.

    Stage 1 ends when about half of the film's water has gone at the evaporation rate; it is given from 40 to 80 %.
    Touch-dry and through-dry follow from diffusion through the mean of wet and dry film, with the quick and the slow
    diffusivity; touch-dry is taken as the first third of it.
    """
    rate = max(evaporation_kg_m2_s(celsius, min(relative_humidity, 0.97), air_m_s), 1e-7)
    water_kg_m2 = wet_film_m * (1.0 - volume_solids) * 998.0
    half = water_kg_m2 / rate
    mean_film = wet_film_m * (1.0 + volume_solids) / 2.0
    slow, quick = (diffusion_time_s(mean_film, d) for d in DIFFUSIVITY_M2_S)
    skin = (0.4 * half, 0.8 * half)
    touch = (skin[0] + quick / 3.0, skin[1] + slow / 6.0)
    through = (skin[0] + quick, skin[1] + slow * 0.6)
    cured = tuple(max(days * DAY_S, t) for days, t in zip(CURED_DAYS, through, strict=True))
    return (
        DryingWindow(stage=DryStage.SKIN, earliest_s=skin[0], latest_s=skin[1]),
        DryingWindow(stage=DryStage.TOUCH, earliest_s=touch[0], latest_s=touch[1]),
        DryingWindow(stage=DryStage.THROUGH, earliest_s=through[0], latest_s=through[1]),
        DryingWindow(stage=DryStage.CURED, earliest_s=cured[0], latest_s=cured[1]),
    )


# Logistic weights per unit of each cause; starting values that put a 1.7 mm film at 21 degrees C, 50 % RH and 16 % water
# near one in ten and a 2.2 mm film with 24 % water in a dry warm room near one in two. Refitted from own panels later.
RISK_WEIGHTS: Final = {
    "intercept": -2.2,
    "wet film, mm above 1.7": 1.6,
    "water share, 10 % above 16 %": 1.1,
    "skin number above 1": 0.25,
    "silicone, drops per 100 g": 0.15,
    "anti-craze share, 10 %": -1.2,
}


def crack_risk(
    *, wet_film_m: float, water_share: float, evaporation_kg_m2_s: float, silicone_drops: float = 0.0, anti_craze_share: float = 0.0
) -> float:
    """Probability that a panel cracks, by the published starting weights in `RISK_WEIGHTS`."""
    pe = skin_number(wet_film_m, evaporation_kg_m2_s / 998.0)
    z = (
        RISK_WEIGHTS["intercept"]
        + RISK_WEIGHTS["wet film, mm above 1.7"] * (wet_film_m * 1e3 - 1.7)
        + RISK_WEIGHTS["water share, 10 % above 16 %"] * (water_share - 0.16) / 0.10
        + RISK_WEIGHTS["skin number above 1"] * (pe - 1.0)
        + RISK_WEIGHTS["silicone, drops per 100 g"] * silicone_drops
        + RISK_WEIGHTS["anti-craze share, 10 %"] * anti_craze_share / 0.10
    )
    return 1.0 / (1.0 + math.exp(-z))
