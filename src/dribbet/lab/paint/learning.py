"""What the notebook has taught about one paint in one medium: its thickness against water (science: learning from the notebook).

The law is log mixing by volume, ln mu = sum v_i ln mu_i. Its three figures (paint, medium, water) start from the tables of
`consistency` and are updated by conjugate normal regression with those as prior; each cup has an offset of its own (batches
differ), and each kind of reading a step of its own (a drip and a mound do not share a zero). The spread of the readings is
learned along with them, so intervals are Student t. What a figure rests on is the count of readings behind it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from statistics import median
from typing import TYPE_CHECKING, Final

import numpy as np

from dribbet.lab.paint import flow_scale
from dribbet.lab.paint.consistency import GRADE_VISCOSITY_PA_S, UNKNOWN_PA_S, VISCOSITY_PA_S, ConsistencyError
from dribbet.records import WATER, CheckKind

if TYPE_CHECKING:
    from collections.abc import Iterable, Mapping, Sequence

    import numpy.typing as npt

    from dribbet.records import Check, HouseRules

    Floats = npt.NDArray[np.float64]

# Spread of the starting figures on ln viscosity: how far a paint, a medium, or the pull of water may be from its table value.
PRIOR_SD: Final = {"paint": 0.9, "medium": 0.5, WATER: 1.0}
BATCH_SD: Final = 0.20  # cups of one recipe differ by this on ln viscosity
STEP_SD: Final = {  # of a kind of reading against the mound: a drip's volume and width are hardly known, so it tells ratios, not viscosity
    CheckKind.MOUND: 1e-6,  # the scale's zero
    CheckKind.DRIP: 2.0,
    CheckKind.FLOW_CUP: 0.7,
    CheckKind.SLUMP: 1.0,
}
NOISE_DF: Final = 6.0  # the starting spread of readings counts as much as this many readings
DRAWS: Final = 1500
KINDS: Final = (CheckKind.MOUND, CheckKind.DRIP, CheckKind.FLOW_CUP, CheckKind.SLUMP)
INTERVAL: Final = 0.90
MOST_WATER: Final = 0.6  # of the cup's own volume: beyond that nobody should go in one step


@dataclass(frozen=True, slots=True, kw_only=True)
class CupReading:
    """One consistency reading of one cup, with what was in it at that moment as volume shares that sum to one."""

    cup: str
    paint: float
    medium: float
    water: float
    others: float = 0.0
    """Share of everything else."""
    others_ln: float = 0.0
    """Its part of the sum, share times ln viscosity by the tables."""
    kind: CheckKind
    ln_pa_s: float
    sd: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Estimate:
    """A figure with its interval and what it rests on."""

    value: float
    low: float
    high: float
    readings: int
    cups: int

    @property
    def own(self) -> bool:
        """Whether any of the person's own readings is behind it."""
        return self.readings > 0


def starting_ln(name: str) -> float:
    """Table value of ln viscosity for a material, by a word in its name."""
    low = name.lower()
    return math.log(next((v for word, v in VISCOSITY_PA_S.items() if word in low), UNKNOWN_PA_S))


def reading_of(
    check: Check, cup: str, volumes_m3: Mapping[str, float], *, paint: str, medium: str, density_kg_m3: float, rules: HouseRules
) -> CupReading | None:
    """A check as something to learn from; None where it says nothing of viscosity or lies outside its method."""
    if check.kind not in KINDS:
        return None
    try:
        ln = math.log(flow_scale.viscosity_pa_s(check, density_kg_m3=density_kg_m3, rules=rules))
    except ConsistencyError:
        return None
    total = math.fsum(volumes_m3.values())
    if not total > 0.0 or not volumes_m3.get(paint, 0.0) > 0.0:
        return None
    shares = {name: v / total for name, v in volumes_m3.items()}
    others = {n: s for n, s in shares.items() if n not in (paint, medium, WATER)}
    return CupReading(
        cup=cup,
        paint=shares[paint],
        medium=shares.get(medium, 0.0),
        water=shares.get(WATER, 0.0),
        others=math.fsum(others.values()),
        others_ln=math.fsum(s * starting_ln(n) for n, s in others.items()),
        kind=check.kind,
        ln_pa_s=ln,
        sd=flow_scale.sd_ln(check),
    )


class Line:
    """Posterior of one paint in one medium. Answers come with intervals and counts."""

    def __init__(self, medium: str, readings: Sequence[CupReading] = ()) -> None:
        self.readings = len(readings)
        self._cups = {c: i for i, c in enumerate(dict.fromkeys(r.cup for r in readings))}
        self.cups = len(self._cups)
        start = np.array([math.log(VISCOSITY_PA_S["paint"]), starting_ln(medium), math.log(VISCOSITY_PA_S[WATER])])
        fixed = 3 + len(KINDS)
        size = fixed + self.cups
        prior_sd = np.concatenate(
            [
                [PRIOR_SD["paint"], PRIOR_SD["medium"], PRIOR_SD[WATER]],
                [STEP_SD[k] for k in KINDS],
                np.full(self.cups, BATCH_SD),
            ]
        )
        mean = np.zeros(size)
        mean[:3] = start
        precision = np.diag(1.0 / prior_sd**2)
        rhs = precision @ mean
        rows = np.zeros((self.readings, size))
        y = np.zeros(self.readings)
        weight = np.ones(self.readings)
        for i, r in enumerate(readings):
            rows[i, :3] = r.paint, r.medium, r.water
            rows[i, 3 + KINDS.index(r.kind)] = 1.0
            rows[i, fixed + self._cups[r.cup]] = 1.0
            y[i] = r.ln_pa_s - r.others_ln
            weight[i] = 1.0 / r.sd**2
        after = precision + rows.T @ (weight[:, None] * rows)
        self._mean = np.linalg.solve(after, rhs + rows.T @ (weight * y))
        misfit = float(weight @ y**2 + mean @ precision @ mean - self._mean @ after @ self._mean)
        self._df = NOISE_DF + self.readings
        self._scale2 = max((NOISE_DF + max(misfit, 0.0)) / self._df, 1e-6)
        self._cov = np.linalg.inv(after) * self._scale2
        self._fixed = fixed

    # ------------------------------------------------------------ draws

    @cached_property
    def _draws(self) -> Floats:
        """Draws of all figures; seeded, so that answers do not flicker from one look to the next."""
        size = len(self._mean)
        rng = np.random.default_rng(20261125)
        normal = rng.standard_normal((DRAWS, size))
        chi = rng.chisquare(self._df, DRAWS) / self._df
        root = np.linalg.cholesky(self._cov + 1e-14 * np.eye(size))
        return np.asarray(self._mean + (normal @ root.T) / np.sqrt(chi)[:, None], dtype=np.float64)

    def _answer(self, values: Floats) -> Estimate:
        tail = (1.0 - INTERVAL) / 2.0
        low, middle, high = np.quantile(values, [tail, 0.5, 1.0 - tail])
        return Estimate(value=float(middle), low=float(low), high=float(high), readings=self.readings, cups=self.cups)

    def _offset(self, drawn: Floats, cup: str, kind: CheckKind) -> Floats:
        """Offset of a cup on the scale of a kind of reading; a cup without readings has a fresh one."""
        step = drawn[:, 3 + KINDS.index(kind)]
        if cup in self._cups:
            return np.asarray(step + drawn[:, self._fixed + self._cups[cup]])
        fresh = np.random.default_rng(7).standard_normal(len(drawn)) * BATCH_SD * math.sqrt(self._scale2)
        return np.asarray(step + fresh)

    # ------------------------------------------------------------ answers

    def ln_viscosity(self, shares: Mapping[str, float], *, cup: str = "", kind: CheckKind = CheckKind.MOUND, others_ln: float = 0.0) -> Estimate:
        """Ln viscosity of a mix with these volume shares of `paint`, `medium` and `water`."""
        d = self._draws
        value = shares.get("paint", 0.0) * d[:, 0] + shares.get("medium", 0.0) * d[:, 1] + shares.get(WATER, 0.0) * d[:, 2]
        return self._answer(value + others_ln + self._offset(d, cup, kind))

    def water_to_add_m3(
        self, volumes_m3: Mapping[str, float], wanted_ln: float, *, cup: str = "", kind: CheckKind = CheckKind.MOUND, others_ln_m3: float = 0.0
    ) -> Estimate:
        """Water that takes a cup to a viscosity on the scale of a kind of reading; 0 where it is thin enough.

        Parameters
        ----------
        volumes_m3 : mapping
            Volumes of `paint`, `medium`, `water`, `others` now.
        wanted_ln : float
            Ln viscosity to reach.
        others_ln_m3 : float
            Sum of volume times ln viscosity of everything else.

        Notes
        -----
        From (T + w ln mu_w) / (V + w) + b = l: w = (T - (l - b) V) / ((l - b) - ln mu_w).
        """
        d = self._draws
        whole, sum_ln = self._sum(d, volumes_m3, others_ln_m3)
        level = wanted_ln - self._offset(d, cup, kind)
        room = np.maximum(level - d[:, 2], 0.3)  # water always thins
        water = (sum_ln - level * whole) / room
        return self._answer(np.clip(water, 0.0, MOST_WATER * whole))

    def to_thin_m3(self, volumes_m3: Mapping[str, float], by_ln: float, *, sd: float, others_ln_m3: float = 0.0) -> Estimate:
        """Water that lowers ln viscosity by so much from where a cup was read to stand, whatever that is on any scale.

        `sd` is what the two readings that are compared leave unsure; what the line knows of the slope does the rest. From
        (V l + w ln mu_w) / (V + w) = l - d: w = d V / (l - d - ln mu_w), with l the line's own value for the cup.
        """
        level, whole, fall = self._anchored(volumes_m3, by_ln, sd, others_ln_m3)
        return self._answer(np.clip(fall * whole / np.maximum(level - fall - self._draws[:, 2], 0.5), 0.0, MOST_WATER * whole))

    def to_thicken_m3(self, volumes_m3: Mapping[str, float], by_ln: float, *, sd: float, others_ln_m3: float = 0.0) -> Estimate:
        """Paint that raises ln viscosity by so much; the same law, solved for paint. Thickening takes far more than thinning."""
        level, whole, rise = self._anchored(volumes_m3, by_ln, sd, others_ln_m3)
        return self._answer(np.clip(rise * whole / np.maximum(self._draws[:, 0] - level - rise, 0.3), 0.0, 2.0 * whole))

    def to_stiffen_m3(self, volumes_m3: Mapping[str, float], by_ln: float, gel_ln: float, *, sd: float, others_ln_m3: float = 0.0) -> Estimate:
        """Gel of a known ln viscosity that raises the mix by so much; log mixing solved for it: V = V0 r / (gel - mix - r)."""
        level, whole, rise = self._anchored(volumes_m3, by_ln, sd, others_ln_m3)
        return self._answer(np.clip(rise * whole / np.maximum(gel_ln - level - rise, 0.3), 0.0, 2.0 * whole))

    def _anchored(self, volumes_m3: Mapping[str, float], by_ln: float, sd: float, others_ln_m3: float) -> tuple[Floats, float, Floats]:
        whole, sum_ln = self._sum(self._draws, volumes_m3, others_ln_m3)
        blur = np.random.default_rng(11).standard_normal(DRAWS) * sd
        return sum_ln / whole, whole, np.asarray(by_ln + blur)

    def _sum(self, d: Floats, volumes_m3: Mapping[str, float], others_ln_m3: float) -> tuple[float, Floats]:
        whole = math.fsum(volumes_m3.values())
        sum_ln = sum(volumes_m3.get(n, 0.0) * d[:, i] for i, n in enumerate(("paint", "medium", WATER))) + others_ln_m3
        return whole, np.asarray(sum_ln, dtype=np.float64)

    def water_share_for(self, wanted_pa_s: float, *, medium_to_paint: float) -> Estimate:
        """Volume share of water with which paint and medium, at a fixed ratio by volume, reach a viscosity; 0 where they are thin enough.

        A fresh cup's own scatter is in the interval.
        """
        d = self._draws
        level = math.log(wanted_pa_s) - self._offset(d, "", CheckKind.MOUND)
        dry = (d[:, 0] + medium_to_paint * d[:, 1]) / (1.0 + medium_to_paint)
        room = np.maximum(dry - d[:, 2], 0.3)
        return self._answer(np.clip((dry - level) / room, 0.0, 0.9))

    def water_per_grade_m3(self, grade_from: int, *, whole_m3: float, medium_to_paint: float) -> Estimate:
        """Water that takes a whole volume of mix from the middle of a grade to the middle of the next thinner one."""
        d = self._draws
        start, end = (math.log(GRADE_VISCOSITY_PA_S[g]) for g in (grade_from, grade_from - 1))
        offset = self._offset(d, "", CheckKind.MOUND)
        room = np.maximum(end - offset - d[:, 2], 0.3)
        return self._answer(whole_m3 * (start - end) / room)

    @property
    def figures_pa_s(self) -> tuple[float, float, float]:
        """Middle of paint, medium and water, for plans that need one figure each."""
        paint, medium, water = np.exp(self._mean[:3])
        return float(paint), float(medium), float(water)

    def thinnest_pa_s(self, *, medium_share: float = 1.0) -> float:
        """Viscosity of the medium alone: no mix gets thinner than that without a thinner."""
        return float(np.exp(self._mean[1] * medium_share + self._mean[0] * (1.0 - medium_share)))


@dataclass(frozen=True, slots=True, kw_only=True)
class PastMix:
    """A cup of the past as it was when it was last checked."""

    paint: str
    medium: str
    medium_to_paint: float
    water_share: float
    grade: int


@dataclass(frozen=True, slots=True, kw_only=True)
class StartRatio:
    """What past cups of a paint held when they stood at a grade: median, least and most, how many."""

    medium_to_paint: float
    water_share: float
    water_low: float
    water_high: float
    cases: int


def start_ratio(past: Iterable[PastMix], paint: str, medium: str, wanted_grade: int) -> StartRatio | None:
    """Median of the person's own cups of a paint in a medium at a grade; None where there is none."""
    mine = [p for p in past if (p.paint, p.medium, p.grade) == (paint, medium, wanted_grade)]
    if not mine:
        return None
    waters = [p.water_share for p in mine]
    return StartRatio(
        medium_to_paint=median(p.medium_to_paint for p in mine),
        water_share=median(waters),
        water_low=min(waters),
        water_high=max(waters),
        cases=len(mine),
    )


def own_figures(lines: Mapping[tuple[str, str], Line], colours: Sequence[str], least: int) -> tuple[tuple[str, float], ...]:
    """Viscosity of `paint`, of each medium, and of water for a plan with these colours; what rests on fewer readings is left out.

    A plan speaks of paint, not of one colour: the geometric mean over its colours (water, too, over all lines).
    """
    known = {key: line for key, line in lines.items() if line.readings >= least}
    paints = [math.log(line.figures_pa_s[0]) for (colour, _), line in known.items() if colour in colours]
    if not paints:
        return ()
    mediums: dict[str, list[float]] = {}
    for (_, medium), line in known.items():
        if medium:
            mediums.setdefault(medium, []).append(math.log(line.figures_pa_s[1]))
    waters = [math.log(line.figures_pa_s[2]) for line in known.values()]
    means = {"paint": paints, **mediums, WATER: waters}
    return tuple((name, round(math.exp(math.fsum(logs) / len(logs)), 6)) for name, logs in means.items())
