"""Simulated artists: people with a paint, a medium and a water of their own, who mix cups and learn by `lab.paint.learning`.

Each artist's figures are drawn around the starting ones, batches differ, the hand reads with noise, and the thinning curve
bends away from the law that the program fits. Each mixes cups of one colour to grade 3: asks for the water of a fresh cup,
pours a part of it, reads three mounds, and corrects until it fits. They serve the tests and the benchmark of learning.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

import numpy as np

from dribbet.lab.paint import flow_scale
from dribbet.lab.paint.consistency import GRADE_VISCOSITY_PA_S, VISCOSITY_PA_S
from dribbet.lab.paint.learning import BATCH_SD, CupReading, Line
from dribbet.records import CheckKind

PAINT_ML: Final = 30.0
MEDIUM_ML: Final = 60.0
WANTED: Final = GRADE_VISCOSITY_PA_S[3]
CLOSE: Final = math.log(1.95)  # +-25 % of a drip's run


@dataclass
class Artist:
    """What is true of one person's paint, and how they read."""

    paint: float
    medium: float
    water: float
    bend: float
    hand: float
    rng: np.random.Generator

    @classmethod
    def drawn(cls, seed: int) -> Artist:
        """Make one at random; the same seed gives the same artist."""
        rng = np.random.default_rng(seed)
        return cls(
            paint=math.log(VISCOSITY_PA_S["paint"]) + rng.normal(0, 0.8),
            medium=math.log(VISCOSITY_PA_S["conditioner"]) + rng.normal(0, 0.4),
            water=math.log(VISCOSITY_PA_S["water"]) + rng.normal(0, 0.8),
            bend=rng.normal(0, 0.6),
            hand=rng.uniform(0.08, 0.25),
            rng=rng,
        )

    def ln(self, paint: float, medium: float, water: float, batch: float) -> float:
        """True ln viscosity of a cup; `bend` is what the law does not know."""
        whole = paint + medium + water
        share = water / whole
        return (paint * self.paint + medium * self.medium + water * self.water) / whole + self.bend * share * (0.3 - share) + batch

    def needs(self, paint: float, medium: float, batch: float) -> float:
        """Water that truly takes a cup to the wanted viscosity (0 where none is needed), by bisection."""
        low, high = 0.0, 5.0 * (paint + medium)
        if self.ln(paint, medium, 0.0, batch) <= math.log(WANTED):
            return 0.0
        for _ in range(60):
            middle = (low + high) / 2
            low, high = (middle, high) if self.ln(paint, medium, middle, batch) > math.log(WANTED) else (low, middle)
        return (low + high) / 2

    def read(self, true_ln: float) -> tuple[float, float]:
        """Mean of three mounds as ln viscosity, and its spread as the program takes it."""
        seconds = math.exp(true_ln) * flow_scale.MOUND_S_PER_PA_S
        shown = [max(seconds * math.exp(self.rng.normal(0, self.hand)) + self.rng.normal(0, 0.15), 0.1) for _ in range(3)]
        mean = sum(shown) / 3
        spread = math.hypot(flow_scale.SD_LN[CheckKind.MOUND], flow_scale.REACTION_S / max(mean, 0.3)) / math.sqrt(3)
        return math.log(mean / flow_scale.MOUND_S_PER_PA_S), spread


@dataclass(frozen=True, slots=True, kw_only=True)
class CupTold:
    """What was said of one cup, against the truth. Water in mL for a cup of 90 mL before it."""

    cups_before: int
    off: float
    width: float
    inside: bool
    """Whether the interval of the first guess holds the truth."""
    steps: int
    corrections: int
    corrections_inside: int


def practise(seed: int, cups: int = 9) -> list[CupTold]:
    """Let one artist mix cups, and compare each first guess with the truth."""
    artist = Artist.drawn(seed)
    seen: list[CupReading] = []
    told = []
    for number in range(cups):
        batch = artist.rng.normal(0, BATCH_SD)
        need = artist.needs(PAINT_ML, MEDIUM_ML, batch)
        dry = {"paint": PAINT_ML, "medium": MEDIUM_ML, "water": 0.0}
        guess = Line("conditioner", seen).water_to_add_m3(dry, math.log(WANTED))
        cup, steps, pairs = f"c{number}", 0, []
        water = guess.low + 0.6 * (guess.value - guess.low)
        for _ in range(8):
            ln, spread = artist.read(artist.ln(PAINT_ML, MEDIUM_ML, water, batch))
            whole = PAINT_ML + MEDIUM_ML + water
            shares = {"paint": PAINT_ML / whole, "medium": MEDIUM_ML / whole, "water": water / whole}
            seen.append(CupReading(cup=cup, kind=CheckKind.MOUND, ln_pa_s=ln, sd=spread, **shares))
            if ln - math.log(WANTED) <= CLOSE / 2:
                break
            now = Line("conditioner", seen).water_to_add_m3(dry | {"water": water}, math.log(WANTED), cup=cup)
            pairs.append(now.low - 1e-9 <= max(need - water, 0.0) <= now.high + 1e-9)
            water += now.value
            steps += 1
        told.append(
            CupTold(
                cups_before=number,
                off=abs(guess.value - need),
                width=guess.high - guess.low,
                inside=guess.low - 1e-9 <= need <= guess.high + 1e-9,
                steps=steps,
                corrections=len(pairs),
                corrections_inside=sum(pairs),
            )
        )
    return told
