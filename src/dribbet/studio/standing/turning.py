"""Cups of a test as stacks of wet layers, to see before the pour what order, density and thickness do."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup import composition, overturning
from dribbet.lab.paint import history
from dribbet.lab.panel import landing
from dribbet.lab.plan.arm import mix_fractions
from dribbet.records import NO_HEX
from dribbet.sight.swatches import shares_by_swatch
from dribbet.studio.standing import panels

if TYPE_CHECKING:
    from dribbet.lab.plan.arm import Arm
    from dribbet.records import Panel
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

SHOWN_S: Final = (60.0, 3600.0)
"""What is shown at least and at most: until then a skin has begun to hold it."""
GROWTHS: Final = 6.0
"""So many times threefold a wave has grown when the show ends: enough for a dent of a fiftieth to break through."""
FRAMES: Final = 30
GRID: Final = (96, 160)
WIDTH_M: Final = 0.06


@dataclass(frozen=True, slots=True, kw_only=True)
class Cup:
    """One cup as it will lie: colours from the panel upwards."""

    letter: str
    turned_round: bool
    up: tuple[landing.Lying, ...]
    wet: tuple[overturning.Wet, ...]
    hexes: tuple[str, ...]
    film_m: float
    rate_per_s: float
    wave_m: float


def densities_of(desk: Desk, arm: Arm) -> dict[str, float]:
    """Density of each colour's mix, from what is in it."""
    shelf = desk.shelf()
    return {colour: composition.density_kg_m3(mix_fractions(arm, colour), shelf) for colour in arm.colours}


def viscosities_of(desk: Desk, run: Run, arm: Arm) -> dict[str, float]:
    """Viscosity of each colour as its own pot was read, else as the recipe's estimate has it."""
    made = dict.fromkeys(arm.colours, arm.viscosity_pa_s)
    densities = densities_of(desk, arm)
    for mix in run.mixes:
        if arm.letter in mix.recipes and mix.colour in made:
            read = history.viscosity_of(mix, run.checks, densities[mix.colour], desk.rules)
            if read is not None:
                made[mix.colour] = read
    return made


def lies(desk: Desk, arm: Arm) -> tuple[landing.Lying, ...]:
    """Where the colours of a recipe come to lie, and what sinks."""
    return landing.lying(arm.layers, arm.technique, densities_of(desk, arm))


def cup(desk: Desk, run: Run, arm: Arm, *, turned_round: bool = False) -> Cup:
    """A recipe's cup, as filled or the other way round.

    Each colour has the density of its mix, and flows as its own pot was read, else as the recipe's estimate has it.
    """
    shelf = {m.key: m for m in desk.shelf()}
    layers = tuple(reversed(arm.layers)) if turned_round else arm.layers
    densities = densities_of(desk, arm)
    up = landing.lying(layers, arm.technique, densities)
    wet = tuple(landing.stack(up, arm.film_m, densities, viscosities_of(desk, run, arm)))
    rate, wave = overturning.Stack(wet, shape=(1, 8)).growth()
    names = landing.names(up)
    return Cup(
        letter=arm.letter, turned_round=turned_round, up=up, wet=wet, hexes=tuple(shelf[n].hex if n in shelf else NO_HEX for n in names),
        film_m=arm.film_m, rate_per_s=rate, wave_m=wave,
    )  # fmt: skip


def seconds(*shown: Cup) -> float:
    """How long to show cups: until the quicker one has turned over."""
    rate = max(c.rate_per_s for c in shown)
    return min(max(GROWTHS / rate if rate > 0.0 else SHOWN_S[1], SHOWN_S[0]), SHOWN_S[1])


@dataclass(frozen=True, slots=True, kw_only=True)
class Forecast:
    """What is needed to score where colours were expected against where they were read."""

    up: tuple[landing.Lying, ...]
    wet: tuple[overturning.Wet, ...]
    measured: tuple[tuple[str, float], ...]
    """Share of the view of each paint, by the photograph."""


def forecast(desk: Desk, run: Run, panel: Panel) -> Forecast | None:
    """A panel's forecast, to be computed in a job; None where it was not read, or none of its colours was."""
    reading, arm = run.reading(panel), run.arm(panel)
    if reading is None:
        return None
    shelf = {m.key: m for m in desk.shelf()}
    paints = {n: shelf[n].hex for n in arm.colours if n in shelf}
    told = [(s["hex"], float(s["share"])) for s in reading.result.get("colour", {}).get("shares", [])]
    measured = shares_by_swatch(told, paints) if paints and told else {}
    densities = densities_of(desk, arm)
    up = landing.lying(arm.layers, arm.technique, densities)
    if not measured:
        return None
    wet = tuple(landing.stack(up, panels.film(desk, run, panel).wet_m, densities, viscosities_of(desk, run, arm)))
    return Forecast(up=up, wet=wet, measured=tuple(measured.items()))


def cups(desk: Desk, run: Run, letter: str) -> tuple[Cup, ...]:
    """What a recipe can be held against: itself the other way round, then every other recipe of the test that differs."""
    mine = next(a for a in run.arms if a.letter == letter)
    made = [cup(desk, run, mine, turned_round=True)]
    here = cup(desk, run, mine)
    for other in run.arms:
        if other.letter != letter and (there := cup(desk, run, other)) != replace(here, letter=other.letter):
            made.append(there)
    return tuple(made)
