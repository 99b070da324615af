"""Do the pots of one pour flow alike, and what one thing mends each that does not (domain: consistency checks; science: matching).

Pots are compared by one kind of reading, the first in the person's order that every pot has. Everything is put as the run of
a drip: a drip's own run, else mu^(-1/3), for by Huppert the run is proportional to that; so a band of 25 % is the same band
whatever was read. A role with an offset runs so much farther on purpose. Amounts come from `lab.paint.learning`.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from enum import StrEnum
from statistics import median
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup import house_rules
from dribbet.lab.cup.recipe import WATER_KG_M3
from dribbet.lab.paint import flow_scale
from dribbet.lab.paint.consistency import GEL_PA_S, ConsistencyError, Match
from dribbet.records import WATER, Check, CheckKind, HouseRules, Role, Stream, Weighing, order

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from dribbet.lab.paint.learning import Estimate, Line

FLOWING: Final = (CheckKind.DRIP, CheckKind.FLOW_CUP, CheckKind.MOUND, CheckKind.SLUMP)
MEAN_OF: Final = 3  # repeats of a reading that are averaged
RING_SLIGHT, RING_CLEAR = 0.15, 0.4
WIDE: Final = 1.6  # an interval whose upper end is this much above the middle: go in steps
FIRST_STEP: Final = 0.6
ANEW_FROM: Final = 0.5  # of the cup: who would add more than that to thicken it starts anew
LEAST_RUN: Final = 1e-4  # of a drip, so that a set that does not run at all is too thick, not a division by nothing
ASIDE: Final = (Role.BASE, Role.ACTIVATOR)
"""Not compared with the colours unless the person gave them an offset: a pillow is thick, an activator thin, by intention."""


class RingSeen(StrEnum):
    """How a ring in the base reads; its value is what one calls it."""

    NONE = "no ring"
    SLIGHT = "a slight ring"
    CLEAR = "a clear ring"
    WIDE = "a wide ring"


class Outvoted(StrEnum):
    """Which of two checks that contradict each other wins, and why; its value is kept with the reading."""

    NO_THINNER = "ring: no thinner"
    """The pot is good; by its ring it may not become thinner."""
    BY_RING = "ring before reading"
    """The reading asks for thinner, the ring for none, and the ring stands earlier in the person's order."""
    BY_READING = "reading before ring"
    """The same, and the reading stands earlier."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Pot:
    """One pot of the set, with what was read of it since its last addition."""

    mix_id: str
    name: str
    role: Role
    checks: tuple[Check, ...]
    density_kg_m3: float
    volumes_m3: Mapping[str, float]
    """Volumes of `paint`, `medium`, `water` and `others` in it now."""
    others_ln_m3: float = 0.0
    line: Line
    thinner: str = WATER
    thinner_strength: float = 1.0
    """Share of the thinner that thins: 1 for water, less for a house mix such as 9 water : 1 conditioner."""
    gel: str = ""
    """A gel on the shelf that thickens; nothing where there is none."""
    gel_kg_m3: float = WATER_KG_M3


@dataclass(frozen=True, slots=True, kw_only=True)
class PotVerdict:
    """How a pot stands and the one thing to do."""

    match: Match | None = None
    """None where it has no reading of the kind that is compared."""
    value: float | None = None
    """Its reading: run in m, seconds, or diameter in m."""
    add: str = ""
    """`paint`, or a thinner."""
    amount_kg: float = 0.0
    low_kg: float = 0.0
    high_kg: float = 0.0
    first_kg: float = 0.0
    """What to add first where the whole amount is not sure."""
    rests_on: Estimate | None = None
    outvoted: Outvoted | None = None
    ring: float | None = None
    """Width of its ring in the base, as a share of the drop's radius."""
    seen: Stream | None = None
    """What its stream did last."""
    kept: bool = False
    kept_because: str = ""
    """The person's own words."""
    anew: bool = False
    """Whether thickening it would take more than half of what it holds: starting anew is less."""
    beside: tuple[Role, float] | None = None
    """Of a base or an activator: its role, and how many times as far as the colours it runs."""

    @property
    def lumpy(self) -> bool:
        """Whether lumps were seen in its stream: it is not mixed through."""
        return self.seen is Stream.LUMPS


@dataclass(frozen=True, slots=True, kw_only=True)
class SetVerdict:
    """How the set stands."""

    kind: CheckKind | None
    """The kind of reading compared."""
    pots: dict[str, PotVerdict]
    middle: float | None = None
    """Of the reading compared, as it would be for a plain colour."""
    band: tuple[float, float] | None = None
    unread: tuple[str, ...] = ()
    """Names of pots without that reading."""

    @property
    def matched(self) -> bool:
        """Whether every pot is read, and good (without lumps) or kept."""
        return self.kind is not None and not self.unread and all(p.kept or (p.match is Match.GOOD and not p.lumpy) for p in self.pots.values())


def latest(checks: Sequence[Check], kind: CheckKind) -> tuple[float, float, int] | None:
    """Mean of the last readings of a kind (one drip, else up to three), their spread and number; None without any."""
    mine = sorted((c for c in checks if c.kind is kind and not c.taken_back), key=order)
    if not mine:
        return None
    values = [c.value for c in mine[-(1 if kind is CheckKind.DRIP else MEAN_OF) :]]
    mean, sd = flow_scale.mean_of(values)
    return mean, sd, len(values)


def current(checks: Sequence[Check], added: Mapping[str, Weighing]) -> tuple[Check, ...]:
    """Checks that still hold: any addition to a cup (`added` is its last) makes what was read before it the past."""
    return tuple(c for c in checks if c.mix_id not in added or order(c) >= order(added[c.mix_id]))


def reading(pot: Pot, kind: CheckKind, rules: HouseRules) -> tuple[float, float] | None:
    """The pot's reading and the run it stands for, in m or in units of mu^(-1/3)."""
    found = latest(pot.checks, kind)
    if found is None:
        return None
    value = found[0]
    last = next(c for c in reversed(pot.checks) if c.kind is kind)
    if kind is CheckKind.DRIP:  # a run grows as the cube root of its time, so one read later is put back to the usual moment
        return value, value * (rules.drip_seconds / (last.seconds or rules.drip_seconds)) ** (1.0 / 3.0)
    try:
        pa_s = flow_scale.viscosity_pa_s(replace(last, value=value), density_kg_m3=pot.density_kg_m3, rules=rules)
    except ConsistencyError:
        return None
    return value, float(pa_s ** (-1.0 / 3.0))


def compared_by(pots: Sequence[Pot], rules: HouseRules) -> CheckKind | None:
    """Kind of reading to compare by: the first in the person's order that all have, else the one that most have."""
    order = [k for k in rules.check_order if k in FLOWING]
    counts = {k: sum(reading(p, k, rules) is not None for p in pots) for k in order}
    whole = next((k for k in order if counts[k] == len(pots)), None)
    return whole or max((k for k in order if counts[k]), key=lambda k: counts[k], default=None)


def ring_of(ring: float) -> RingSeen:
    """How a ring in the base reads, by its width as a share of the drop's radius."""
    return RingSeen.NONE if ring == 0.0 else RingSeen.SLIGHT if ring < RING_SLIGHT else RingSeen.CLEAR if ring < RING_CLEAR else RingSeen.WIDE


def judge(pots: Sequence[Pot], rules: HouseRules) -> SetVerdict:
    """Verdict on every pot of a set, by one kind of reading.

    Notes
    -----
    A ring as wide as the person's limit says that the colour is already thinner than the base. Where that and the compared
    reading disagree, the one that stands earlier in the person's order wins, and the reason says so.
    """
    kind = compared_by(pots, rules)
    if kind is None:
        return SetVerdict(kind=None, pots={p.mix_id: _plain(p) for p in pots}, unread=tuple(p.name for p in pots))
    read = {p.mix_id: r for p in pots if (r := reading(p, kind, rules)) is not None}
    runs = {p.mix_id: read[p.mix_id][1] / house_rules.offset(p.role, rules) for p in pots if p.mix_id in read}
    aside = {p.mix_id for p in pots if p.role in ASIDE and not any(o.role is p.role for o in rules.offsets)}
    compared = [run for mix_id, run in runs.items() if mix_id not in aside]
    middle = max(median(compared or runs.values()), LEAST_RUN)
    verdicts = {}
    for pot in pots:
        if pot.mix_id in aside and pot.mix_id in read:
            apart = runs[pot.mix_id] / middle
            beside = (pot.role, apart) if compared else None
            verdicts[pot.mix_id] = replace(_plain(pot), match=Match.GOOD, value=read[pot.mix_id][0], beside=beside)
            continue
        if pot.mix_id not in read or len(read) < 2:
            found = _plain(pot)
            verdicts[pot.mix_id] = replace(found, value=read[pot.mix_id][0]) if pot.mix_id in read else found
            continue
        verdicts[pot.mix_id] = _verdict(pot, kind, read[pot.mix_id], runs[pot.mix_id] / middle, rules)
    plain = _as_read(kind, middle)
    ends = sorted(_as_read(kind, middle * f) for f in (1.0 - rules.match_within, 1.0 + rules.match_within))
    unread = tuple(p.name for p in pots if p.mix_id not in read)
    return SetVerdict(kind=kind, pots=verdicts, middle=plain, band=(ends[0], ends[1]), unread=unread)


def _as_read(kind: CheckKind, run: float) -> float:
    """A run put as the kind of reading again (mounds and drips; others stay viscosities)."""
    if kind is CheckKind.DRIP:
        return run
    pa_s = float(run**-3.0)
    return pa_s * flow_scale.MOUND_S_PER_PA_S if kind is CheckKind.MOUND else pa_s


def _plain(pot: Pot) -> PotVerdict:
    ring = latest(pot.checks, CheckKind.RING)
    kept = _kept(pot)
    return PotVerdict(
        ring=ring[0] if ring else None,
        seen=_seen(pot),
        kept=kept is not None,
        kept_because=kept.note if kept is not None else "",
    )


def _kept(pot: Pot) -> Check | None:
    return next((c for c in reversed(pot.checks) if c.kind is CheckKind.KEPT and not c.taken_back), None)


def _seen(pot: Pot) -> Stream | None:
    """What its stream did last."""
    last = next((c for c in reversed(pot.checks) if c.kind is CheckKind.STREAM and not c.taken_back), None)
    return list(Stream)[round(last.value)] if last is not None and 0 <= last.value < len(Stream) else None


def _verdict(pot: Pot, kind: CheckKind, read: tuple[float, float], apart: float, rules: HouseRules) -> PotVerdict:
    """One pot, `apart` times the set's run."""
    base = replace(_plain(pot), value=read[0])
    cloudy = base.ring is not None and base.ring >= rules.ring_limit
    ring_first = rules.check_order.index(CheckKind.RING) < rules.check_order.index(kind)
    if abs(apart - 1.0) <= rules.match_within:
        return replace(base, match=Match.GOOD, outvoted=Outvoted.NO_THINNER if cloudy else None)
    by = 3.0 * abs(math.log(max(apart, 0.05)))  # run^-3 is proportional to viscosity
    sd = flow_scale.sd_ln(next(c for c in reversed(pot.checks) if c.kind is kind)) * math.sqrt(
        1.0 / (latest(pot.checks, kind) or (0, 0, 1))[2] + 0.25
    )
    if apart < 1.0:
        if cloudy and ring_first and not base.kept:
            return replace(base, match=Match.GOOD, outvoted=Outvoted.BY_RING)
        estimate = pot.line.to_thin_m3(pot.volumes_m3, by, sd=sd, others_ln_m3=pot.others_ln_m3)
        base = replace(base, outvoted=Outvoted.BY_READING if cloudy else None)
        return _with_amount(base, Match.TOO_THICK, pot.thinner, estimate, WATER_KG_M3 / pot.thinner_strength)
    estimate = pot.line.to_thicken_m3(pot.volumes_m3, by, sd=sd, others_ln_m3=pot.others_ln_m3)
    add, density = "paint", pot.density_kg_m3
    if pot.gel:
        stiff = pot.line.to_stiffen_m3(pot.volumes_m3, by, math.log(GEL_PA_S), sd=sd, others_ln_m3=pot.others_ln_m3)
        if stiff.value < estimate.value:
            estimate, add, density = stiff, pot.gel, pot.gel_kg_m3
    if estimate.value > ANEW_FROM * math.fsum(pot.volumes_m3.values()):
        return replace(base, match=Match.TOO_THIN, anew=True, rests_on=estimate)
    return _with_amount(base, Match.TOO_THIN, add, estimate, density)


def _with_amount(base: PotVerdict, match: Match, add: str, estimate: Estimate, density: float) -> PotVerdict:
    amount, low, high = (v * density for v in (estimate.value, estimate.low, estimate.high))
    first = max(low, amount * FIRST_STEP) if high > WIDE * amount and add != "paint" else amount
    return replace(base, match=match, add=add, amount_kg=amount, low_kg=low, high_kg=high, first_kg=first, rests_on=estimate)
