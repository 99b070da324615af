"""What stands beside the drip card: mounds, what wants to sink, ways to pour, and every other reading. No widgets."""

from __future__ import annotations

from typing import TYPE_CHECKING

from dribbet.bench.stations.check.view import MoundView, WayView
from dribbet.lab.cup import composition, house_rules, matching
from dribbet.lab.paint import consistency, flow_scale, history
from dribbet.lab.panel import progress
from dribbet.records import NO_HEX, CheckKind, Stream
from dribbet.records.wording import first_up
from dribbet.studio.standing import pots as flow_set
from dribbet.words import check as check_words
from dribbet.words.units import listed, units_of

if TYPE_CHECKING:
    from dribbet.records import Check, Material, Mix
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run
    from dribbet.studio.standing.sinking import Sinking


def mounds(desk: Desk, run: Run, group: str, cups: list[Mix], shelf: dict[str, Material]) -> tuple[tuple[MoundView, ...], str]:
    """How long each mound holds, and what the way of pouring wants."""
    made = []
    for m in cups:
        seconds = progress.mound_s(m, run.checks)
        made.append(MoundView(m.colour, hex_of(m.colour, shelf), seconds, "not timed" if seconds is None else f"{seconds:.1f} s"))
    rules = desk.rules
    technique = next(a for a in run.arms if a.letter == group[0]).technique
    low, high = house_rules.window(technique, rules)
    thin, thick = house_rules.seconds_of(low, high, rules)
    out = [v.name for v in made if v.seconds is not None and not low <= house_rules.grade_of(v.seconds, rules) <= high]
    words = check_words.WINDOW_OF_TECHNIQUE(technique=technique, thin=thin, thick=thick)
    if out:
        words += check_words.OUTSIDE(out=first_up(out[0]))
    return tuple(made), words


def rows(sinks: Sinking, run: Run) -> tuple[tuple[str, str, str, bool], ...]:
    """Rows of the cup from the top: name, density, colour, and whether it sinks into the one below."""
    shelf = {m.key: m for m in run.shelf}
    made = [(first_up(n), f"{d / 1000:.2f}", hex_of(n, shelf), i - 1 in sinks.joints) for i, (n, d) in enumerate(sinks.layers)]
    return tuple(reversed(made))


def ways(desk: Desk, run: Run, cups: list[Mix], shelf: dict[str, Material]) -> tuple[tuple[WayView, ...], tuple[tuple[str, str, float], ...], str]:
    """Ways of pouring with their windows, the pots among them, and which suit."""
    rules = desk.rules
    pots = []
    for m in cups:
        held = {n: kg for n, kg in composition.weighed_in(m, run.weighings).items() if kg > 0.0} or dict(m.plan)
        pa_s = history.viscosity_of(m, run.checks, composition.density_kg_m3(held, run.shelf), rules)
        if pa_s is not None:
            pots.append((m.colour, hex_of(m.colour, shelf), pa_s * flow_scale.MOUND_S_PER_PA_S))
    grades = [house_rules.grade_of(s, rules) for _, _, s in pots]
    fits = house_rules.techniques_for(grades, rules)
    found = []
    for technique in consistency.TECHNIQUE_GRADES:
        low, high = house_rules.seconds_of(*house_rules.window(technique, rules), rules)
        found.append(WayView(str(technique), low, high, technique in fits))
    found.sort(key=lambda w: not w.suits)  # what suits stands where it is seen first
    if not pots:
        return tuple(found), (), check_words.TIME_A_MOUND_FIRST
    words = check_words.SUIT(len(fits), ways=first_up(listed([str(t) for t in fits]))) if fits else ""
    return tuple(found), tuple(pots), words or check_words.NO_WAY_SUITS


def read(desk: Desk, run: Run, group: str, cups: list[Mix]) -> tuple[str, ...]:
    """Flow cups, rings, slumps, streams: one sentence a pot."""
    said = []
    for m in cups:
        mine = [c for c in run.checks if c.mix_id == m.id]
        bits = []
        cup = matching.latest(mine, CheckKind.FLOW_CUP)
        if cup is not None:
            tool = next(c.tool for c in reversed(mine) if c.kind is CheckKind.FLOW_CUP)
            bits.append(check_words.THROUGH_CUP(seconds=cup[0], cup=tool) + (f" (± {cup[1]:.1f}, {cup[2]} runs)" if cup[2] > 1 else ""))
        ring = matching.latest(mine, CheckKind.RING)
        if ring is not None:
            bits.append(check_words.RING_IN_BASE(ring_words=matching.ring_words(ring[0]), ring=ring[0]))
        slump = matching.latest(mine, CheckKind.SLUMP)
        if slump is not None:
            bits.append(f"slump {units_of(desk).length_text(slump[0] * 1e3)}")
        stream = next((c for c in reversed(mine) if c.kind is CheckKind.STREAM), None)
        if stream is not None:
            bits.append(f"stream: {list(Stream)[round(stream.value)]}")
        beside = flow_set.verdict(desk, run, group).pots.get(m.id)
        if beside is not None and beside.beside:
            bits.append(beside.beside)
        speed = _speed(mine)
        if speed is not None:
            bits.append(f"its drip still ran {units_of(desk).length_text(speed * 1e3, 2)} a second")
        if bits:
            said.append(f"{first_up(m.colour)}: {'; '.join(bits)}.")
    return tuple(said)


def _speed(checks: list[Check]) -> float | None:
    """Speed in m/s between the last two drips that were read at unlike times; None without two."""
    drips = sorted((c for c in checks if c.kind is CheckKind.DRIP and c.seconds > 0.0), key=lambda c: c.seconds)[-2:]
    if len(drips) < 2 or not drips[1].seconds > drips[0].seconds:
        return None
    return (drips[1].value - drips[0].value) / (drips[1].seconds - drips[0].seconds)


def hex_of(name: str, shelf: dict[str, Material]) -> str:
    """Colour of a pot; that of its paint where a base or an activator shares a colour's name."""
    plain = name.rpartition(",")[0] or name  # a base or an activator that shares its name with a colour
    return shelf[name].hex if name in shelf else shelf[plain].hex if plain in shelf else NO_HEX
