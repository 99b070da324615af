"""Check: how a recipe's pots stand beside their drip card: mounds, ways to pour that suit them, other readings, and the one correction in hand."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup import composition, house_rules, matching
from dribbet.lab.paint import consistency, flow_scale, history
from dribbet.lab.panel import progress
from dribbet.records import WATER, CheckKind, Factor, Stream
from dribbet.studio.standing import cups as cup_standing
from dribbet.studio.standing import pots

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.lab.cup.matching import PotVerdict
    from dribbet.lab.paint.learning import Estimate
    from dribbet.records import Check, Mix, Role, Technique
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

KINDS: Final = (CheckKind.DRIP, CheckKind.MOUND, CheckKind.FLOW_CUP, CheckKind.RING, CheckKind.SLUMP, CheckKind.STREAM)
"""Tests of a pot, in the order in which they are offered."""
WHOLE_AT_ONCE: Final = 0.99
"""Share of an amount from which a first step is the whole."""


# ---------------------------------------------------------------- mounds, ways to pour


@dataclass(frozen=True, slots=True, kw_only=True)
class MoundsHeld:
    """How long each pot's mound holds, and what the way to pour wants. Seconds."""

    technique: Technique
    wants_s: tuple[float, float]
    pots: tuple[tuple[str, float | None], ...]
    """Colour, and the mean of its last three; None where it was not timed."""
    outside: tuple[str, ...]


def technique_of(run: Run, group: str) -> Technique:
    """How a recipe is poured."""
    return next(a for a in run.arms if a.letter == group[0]).technique


def mounds(desk: Desk, run: Run, group: str) -> MoundsHeld:
    """How long each mound holds."""
    rules, technique = desk.rules, technique_of(run, group)
    low, high = house_rules.window(technique, rules)
    timed = tuple((m.colour, progress.mound_s(m, run.checks)) for m in pots.cups(run, group))
    return MoundsHeld(
        technique=technique,
        wants_s=house_rules.seconds_of(low, high, rules),
        pots=timed,
        outside=tuple(name for name, s in timed if s is not None and not low <= house_rules.grade_of(s, rules) <= high),
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class WayFit:
    """A way to pour, the mound seconds that it wants, and whether the pots suit it."""

    technique: Technique
    wants_s: tuple[float, float]
    suits: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class WaysToPour:
    """Ways to pour, those that suit first, and the pots among them by the mound that their thickness stands for."""

    ways: tuple[WayFit, ...]
    pots: tuple[tuple[str, float], ...]

    @property
    def fits(self) -> tuple[Technique, ...]:
        """Those that suit."""
        return tuple(w.technique for w in self.ways if w.suits)


def ways_to_pour(desk: Desk, run: Run, group: str) -> WaysToPour:
    """Which ways to pour suit the pots."""
    rules = desk.rules
    read = []
    for m in pots.cups(run, group):
        held = {n: kg for n, kg in composition.weighed_in(m, run.weighings).items() if kg > 0.0} or dict(m.plan)
        pa_s = history.viscosity_of(m, run.checks, composition.density_kg_m3(held, run.shelf), rules)
        if pa_s is not None:
            read.append((m.colour, pa_s * flow_scale.MOUND_S_PER_PA_S))
    fits = house_rules.techniques_for([house_rules.grade_of(s, rules) for _, s in read], rules)
    found = [
        WayFit(technique=way, wants_s=house_rules.seconds_of(*house_rules.window(way, rules), rules), suits=way in fits)
        for way in consistency.TECHNIQUE_GRADES
    ]
    return WaysToPour(ways=tuple(sorted(found, key=lambda w: not w.suits)), pots=tuple(read))


# ---------------------------------------------------------------- other readings


@dataclass(frozen=True, slots=True, kw_only=True)
class Through:
    """Seconds through a flow cup: mean, spread and number of runs."""

    cup: str
    seconds: float
    sd_s: float
    runs: int


@dataclass(frozen=True, slots=True, kw_only=True)
class OtherReadings:
    """What else was read of a pot."""

    colour: str
    through: Through | None = None
    ring: float | None = None
    """Its width as a share of the drop's radius."""
    slump_m: float | None = None
    stream: Stream | None = None
    beside: tuple[Role, float] | None = None
    """Of a base or an activator: how many times as far as the colours it runs."""
    drip_m_s: float | None = None
    """How fast its drip still ran between two readings of it."""

    @property
    def any(self) -> bool:
        """Whether anything was read."""
        return any(v is not None for v in (self.through, self.ring, self.slump_m, self.stream, self.beside, self.drip_m_s))


def others(desk: Desk, run: Run, group: str) -> tuple[OtherReadings, ...]:
    """Flow cups, rings, slumps, streams of each pot that has any."""
    found = pots.verdict(desk, run, group)
    told = (_others(m.colour, [c for c in run.checks if c.mix_id == m.id], found.pots.get(m.id)) for m in pots.cups(run, group))
    return tuple(one for one in told if one.any)


def _others(colour: str, mine: list[Check], stands: PotVerdict | None) -> OtherReadings:
    cup = matching.latest(mine, CheckKind.FLOW_CUP)
    ring, slump = (matching.latest(mine, kind) for kind in (CheckKind.RING, CheckKind.SLUMP))
    stream = next((c for c in reversed(mine) if c.kind is CheckKind.STREAM), None)
    tool = next((c.tool for c in reversed(mine) if c.kind is CheckKind.FLOW_CUP), "")
    return OtherReadings(
        colour=colour,
        through=Through(cup=tool, seconds=cup[0], sd_s=cup[1], runs=cup[2]) if cup is not None else None,
        ring=ring[0] if ring is not None else None,
        slump_m=slump[0] if slump is not None else None,
        stream=list(Stream)[round(stream.value)] if stream is not None else None,
        beside=stands.beside if stands is not None else None,
        drip_m_s=_speed(mine),
    )


def _speed(checks: list[Check]) -> float | None:
    """Speed in m/s between the last two drips that were read at unlike times; None without two."""
    drips = sorted((c for c in checks if c.kind is CheckKind.DRIP and c.seconds > 0.0), key=lambda c: c.seconds)[-2:]
    if len(drips) < 2 or not drips[1].seconds > drips[0].seconds:
        return None
    return (drips[1].value - drips[0].value) / (drips[1].seconds - drips[0].seconds)


# ---------------------------------------------------------------- what is due, what mends


def due(run: Run, cups: Sequence[Mix], kind: CheckKind, in_hand: Mix | None) -> Mix | None:
    """Pot that the next reading is for: the one in hand, else the one with the fewest of this test; None where every pot has its drip."""
    if in_hand is not None:
        return in_hand
    counts = {m.id: sum(c.mix_id == m.id and c.kind is kind for c in run.checks) for m in cups}
    if kind is CheckKind.DRIP and cups and all(counts.values()):
        return None
    return min(cups, key=lambda m: counts[m.id], default=None)


def having(run: Run, cups: Sequence[Mix], kind: CheckKind) -> int:
    """How many of these pots have a reading of a kind."""
    return sum(any(c.kind is kind and c.mix_id == m.id for c in run.checks) for m in cups)


@dataclass(frozen=True, slots=True, kw_only=True)
class Correction:
    """The one thing that mends the pot in hand. Amounts in kg."""

    colour: str
    add: str
    """What is added, by its key."""
    low_kg: float
    high_kg: float
    first_kg: float
    in_steps: bool
    """Whether the whole is not sure, so that less goes in first."""
    rests_on: Estimate | None
    room_kg: float | None = None
    """What the cup still holds, where that is less than the amount."""
    powder: bool = False
    """Whether it is a powder, that must be wetted first."""
    water: tuple[float, float] | None = None
    """Share of water before and after, where water is what is tested."""
    recipes: tuple[str, ...] = ()


def correction(desk: Desk, run: Run, group: str, mix: Mix) -> Correction | None:
    """What mends a pot; None where it needs nothing, or nothing that can be added mends it."""
    v = pots.verdict(desk, run, group).pots[mix.id]
    if v.anew or not pots.is_out(v) or not v.add:
        return None
    held = cup_standing.held(run, mix)
    total = sum(held.values())
    room = cup_standing.capacity_kg(desk, mix) - total
    paint = next((m for m in run.shelf if m.key == mix.colour), None)
    water = None
    if v.add == WATER and total > 0.0 and run.series.varies(Factor.WATER_SHARE):
        inside = held.get(WATER, 0.0)
        water = inside / total, (inside + v.first_kg) / (total + v.first_kg)
    return Correction(
        colour=mix.colour,
        add=mix.colour if v.add == "paint" else v.add,
        low_kg=v.low_kg,
        high_kg=v.high_kg,
        first_kg=v.first_kg,
        in_steps=v.first_kg < v.amount_kg * WHOLE_AT_ONCE,
        rests_on=v.rests_on,
        room_kg=room if total and v.amount_kg > room > 0.0 else None,
        powder=v.add == "paint" and paint is not None and paint.is_powder,
        water=water,
        recipes=tuple(mix.recipes),
    )
