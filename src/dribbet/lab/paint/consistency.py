"""Consistency: flow cups, drips, mounds, and one instruction for each outlier (science: consistency)."""

from __future__ import annotations

from enum import StrEnum
from typing import TYPE_CHECKING, Final

import numpy as np

from dribbet.records import ALCOHOL, WATER, DribbetError, Technique

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    import numpy.typing as npt

    Floats = npt.NDArray[np.float64]

GRAVITY_M_S2: Final = 9.80665


class ConsistencyError(DribbetError):
    """A reading outside what its method covers."""


class FlowCup(StrEnum):
    """A cup with a standard orifice."""

    ISO_3MM = "ISO 2431, 3 mm"
    ISO_4MM = "ISO 2431, 4 mm"
    ISO_5MM = "ISO 2431, 5 mm"
    ISO_6MM = "ISO 2431, 6 mm"
    FORD_3 = "Ford no. 3"
    FORD_4 = "Ford no. 4"
    ZAHN_2 = "Zahn no. 2"
    ZAHN_3 = "Zahn no. 3"
    ZAHN_4 = "Zahn no. 4"


ISO_2431: Final = {  # nu = a t - b / t; a in mm2/s2, b in mm2
    FlowCup.ISO_3MM: (0.443, 200.0),
    FlowCup.ISO_4MM: (1.37, 200.0),
    FlowCup.ISO_5MM: (3.28, 220.0),
    FlowCup.ISO_6MM: (6.90, 570.0),
}
LINEAR_CUPS: Final = {  # nu = a (t - t0); Ford: ASTM D1200, Zahn: ASTM D4212
    FlowCup.FORD_3: (2.31, 6.58),
    FlowCup.FORD_4: (3.85, 4.49),
    FlowCup.ZAHN_2: (3.5, 14.0),
    FlowCup.ZAHN_3: (11.7, 7.5),
    FlowCup.ZAHN_4: (14.8, 5.0),
}
CUP_RANGE_S: Final = {  # seconds that the standards cover
    **dict.fromkeys(ISO_2431, (30.0, 100.0)),
    FlowCup.FORD_3: (20.0, 100.0),
    FlowCup.FORD_4: (20.0, 100.0),
    FlowCup.ZAHN_2: (20.0, 80.0),
    FlowCup.ZAHN_3: (20.0, 80.0),
    FlowCup.ZAHN_4: (20.0, 80.0),
}


def kinematic_viscosity_m2_s(drain_time_s: npt.ArrayLike, cup: FlowCup) -> Floats:
    r"""Kinematic viscosity of a mix from its drain time.

    Parameters
    ----------
    drain_time_s : array_like, shape (...)
        From opening the cup to the first break of the stream, within `CUP_RANGE_S`.
    cup : FlowCup
        The orifice.

    Returns
    -------
    ndarray of float64, shape (...)
        Kinematic viscosity in m2/s.

    Raises
    ------
    ConsistencyError
        If a time lies outside the range of the standard, or is NaN.

    Notes
    -----
    ISO 2431: :math:`\nu = a t - b / t`. Ford (ASTM D1200) and Zahn (ASTM D4212): :math:`\nu = a (t - t_0)`.
    For Newtonian liquids: a guide for paint.
    """
    t = np.asarray(drain_time_s, dtype=np.float64)
    low, high = CUP_RANGE_S[cup]
    if not np.all((t >= low) & (t <= high)):
        raise ConsistencyError(
            f"Drain time is {t} s; {cup} covers {low:g} to {high:g} s. Take a wider cup for a longer time, a narrower one for a shorter."
        )
    if cup in ISO_2431:
        a, b = ISO_2431[cup]
        return (a * t - b / t) * 1e-6
    a, t0 = LINEAR_CUPS[cup]
    return np.asarray(a * (t - t0) * 1e-6, dtype=np.float64)


def drip_viscosity_m2_s(run_m: float, *, volume_m3: float, width_m: float, time_s: float) -> float:
    """Kinematic viscosity from the run of a drip of known volume: 9 A0^2 g t / (4 x^3) (Huppert 1982)."""
    area_per_width = volume_m3 / width_m
    return 9.0 * area_per_width**2 * GRAVITY_M_S2 * time_s / (4.0 * run_m**3)


def puddle_yield_stress_pa(volume_m3: float, radius_m: float, density_kg_m3: float) -> float:
    """Yield stress of a puddle at rest: 225 rho g V^2 / (128 pi^2 R^5) (Roussel and Coussot 2005)."""
    return float(225.0 * density_kg_m3 * GRAVITY_M_S2 * volume_m3**2 / (128.0 * np.pi**2 * radius_m**5))


# ---------------------------------------------------------------- grades

GRADE_LIMITS_S: Final = (0.05, 1.0, 3.0, 6.0)  # upper ends of grades 1 to 4, seconds a mound holds
GRADE_VISCOSITY_PA_S: Final = {1: 0.10, 2: 0.30, 3: 0.80, 4: 2.0, 5: 5.0}
"""Middle of each grade, as viscosity: starting values for the first thinning, each about two and a half times the one before."""
TECHNIQUE_GRADES: Final = {  # windows that practitioners name first; they differ, so these are editable defaults
    Technique.FLIP_CUP: (3, 3),
    Technique.OPEN_CUP: (3, 3),
    Technique.STRAIGHT_POUR: (2, 3),
    Technique.RING_POUR: (4, 4),
    Technique.SWIPE: (2, 3),
    Technique.PULL_BACK: (3, 3),
    Technique.DUTCH_POUR: (1, 2),
    Technique.BLOOM: (1, 2),
    Technique.DIRTY_POUR: (3, 3),
    Technique.GRADUATED: (3, 3),
    Technique.TRANSPOSED: (2, 3),
}


def grade(mound_s: float, limits_s: Sequence[float] = GRADE_LIMITS_S) -> int:
    """Consistency grade 1 (very thin) to 5 (too thick) from the seconds a mound holds."""
    return int(np.searchsorted(limits_s, mound_s, side="left")) + 1


# ---------------------------------------------------------------- thinning

# Starting viscosities in Pa s for log mixing; replaced by the paint's own readings. Sources: orders of magnitude of
# soft-bodied acrylic at low shear (paint), product sheets of latex conditioners and glues, tables for the liquids.
VISCOSITY_PA_S: Final = {"paint": 12.0, "conditioner": 1.2, "glue": 4.0, "varnish": 0.8, "binder": 1.5, WATER: 1.0e-3, ALCOHOL: 2.4e-3}
UNKNOWN_PA_S: Final = 2.0
GEL_PA_S: Final = 150.0  # a gel that keeps its peaks, at the low shear of a pour: an order of magnitude
SILICONE_THICKENS_PER_DROP: Final = 0.03  # relative rise of viscosity per drop in 100 g; to be learned


def log_mixed_viscosity_pa_s(volume_shares: Mapping[str, float], own_pa_s: Mapping[str, float] | None = None) -> float:
    """Viscosity of a mix by ln mu = sum v_i ln mu_i: a material's own figure, else `VISCOSITY_PA_S` by a word in its name."""
    total, own = sum(volume_shares.values()), own_pa_s or {}
    log_mu = 0.0
    for name, share in volume_shares.items():
        mu = own[name] if name in own else next((v for word, v in VISCOSITY_PA_S.items() if word in name.lower()), UNKNOWN_PA_S)
        log_mu += share / total * float(np.log(mu))
    return float(np.exp(log_mu))


# ---------------------------------------------------------------- matching


class Match(StrEnum):
    """How a colour stands among the set."""

    GOOD = "good"
    TOO_THICK = "too thick"
    TOO_THIN = "too thin"
