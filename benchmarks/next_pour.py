"""How soon the best level is found: the proposals of `lab.plan.next_pour` against a person who halves the range.

Simulated artists: a response over one thing varied with one peak (or its best at an end), panels that scatter, and a first test of two
panels each at two levels. Then both pour the best level so far and one other, two panels each, test by test. Counted is whether the
level that each would keep comes within a twentieth of the best there is.

    python benchmarks/next_pour.py [--artists 400]
"""

from __future__ import annotations

import argparse
import math
import time
from dataclasses import dataclass

import numpy as np

from dribbet.lab.plan import next_pour

REACH = (0.0, 10.0)
NEAR = 0.05
TESTS = 6
KINDS = ("peak between", "peak outside", "best at an end", "flat")


@dataclass
class Studio:
    """What is true of one artist: where the best lies, how wide it is, how panels scatter."""

    kind: str
    first: tuple[float, float]
    peak: float
    wide: float
    sd: float
    rng: np.random.Generator

    def true(self, x: float) -> float:
        if self.kind == "flat":
            return 0.5
        if self.kind == "best at an end":
            return x / REACH[1] if self.peak > 5 else 1.0 - x / REACH[1]
        return math.exp(-0.5 * ((x - self.peak) / self.wide) ** 2)

    def panel(self, x: float) -> float:
        return self.true(x) + self.rng.normal(0.0, self.sd)

    def lost(self, x: float) -> float:
        """How far a level falls short of the best there is."""
        at = np.linspace(*REACH, 201)
        return max(self.true(float(v)) for v in at) - self.true(x)


def drawn(kind: str, seed: int) -> Studio:
    """Make an artist; the same seed gives the same one."""
    rng = np.random.default_rng(seed)
    first = (rng.uniform(1.5, 3.5), rng.uniform(6.5, 8.5)) if kind == "peak between" else (rng.uniform(2.5, 4.0), rng.uniform(5.0, 6.5))
    peak = rng.uniform(*first) if kind == "peak between" else rng.choice([rng.uniform(0.5, first[0] - 0.5), rng.uniform(first[1] + 0.5, 9.5)])
    return Studio(kind, first, float(peak), rng.uniform(1.2, 3.0), rng.uniform(0.05, 0.15), rng)


def kept(told: list[tuple[float, float]]) -> float:
    """The level with the best mean."""
    levels = sorted({x for x, _ in told})
    return max(levels, key=lambda v: float(np.mean([y for x, y in told if x == v])))


def halved(told: list[tuple[float, float]]) -> float:
    """What a person pours next who goes halfway from the best level to the better one of its neighbours."""
    levels = sorted({x for x, _ in told})
    best = kept(told)
    i = levels.index(best)
    beside = [levels[k] for k in (i - 1, i + 1) if 0 <= k < len(levels)]
    other = max(beside, key=lambda v: float(np.mean([y for x, y in told if x == v])))
    return (best + other) / 2.0


def proposed(told: list[tuple[float, float]], sd: float) -> tuple[float, float, bool]:
    """What is proposed: best level, the one beside it, and whether to stop."""
    levels = sorted({x for x, _ in told})
    along = next_pour.Along(levels=tuple(levels), others=next_pour.places(levels, *REACH))
    found = next_pour.outlook([along], [(x,) for x, _ in told], [next_pour.Sought(values=tuple(y for _, y in told), more=True, sd=sd)])
    worth = max(found.worths, key=lambda w: w.each)
    return found.best[0], worth.at[0], worth.gain < next_pour.NOTHING_LEFT


def run(kind: str, artists: int) -> dict[str, list[list[float]]]:
    """Shortfall of the level that each way would keep, after each test, artist by artist."""
    lost: dict[str, list[list[float]]] = {"halving": [], "proposed": [], "stopped": []}
    for seed in range(artists):
        for way in ("halving", "proposed"):
            studio = drawn(kind, seed)
            told = [(x, studio.panel(x)) for x in studio.first for _ in range(2)]
            mine: list[float] = []
            stopped = 0.0
            for test in range(TESTS):
                best = kept(told)
                if way == "halving":
                    other = halved(told)
                else:
                    best, other, stop = proposed(told, studio.sd)
                    if stop and not stopped:
                        stopped = test
                told += [(best, studio.panel(best)) for _ in range(2)]
                if other != best:
                    told += [(other, studio.panel(other)) for _ in range(2)]
                mine.append(studio.lost(kept(told) if way == "halving" else proposed(told, studio.sd)[0]))
            lost[way].append(mine)
            if way == "proposed":
                lost["stopped"].append([stopped or TESTS])
    return lost


def main() -> None:
    words = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    words.add_argument("--artists", type=int, default=400)
    artists = words.parse_args().artists
    began = time.perf_counter()
    print("| best level | way | " + " | ".join(f"{4 + 4 * (i + 1)} panels" for i in range(TESTS)) + " | falls short after all, mean |")
    print("|---" * (TESTS + 3) + "|")
    for kind in KINDS:
        found = run(kind, artists)
        for way in ("halving", "proposed"):
            table = np.array(found[way])
            near = (table <= NEAR).mean(axis=0)
            print(f"| {kind} | {way} | " + " | ".join(f"{v * 100:.0f} %" for v in near) + f" | {table[:, -1].mean():.3f} |")
        print(f"  stops after {np.mean(found['stopped']):.1f} tests", flush=True)
    print(f"{time.perf_counter() - began:.0f} s")


if __name__ == "__main__":
    main()
