"""How honest is the judge? Made-up tests whose truth is known: how often a word is wrong, and how often a true effect is found.

    python benchmarks/judge_honesty.py [TESTS] [PART OF A SITUATION'S NAME]

For each situation: the share of tests in which any answer about nothing is called real (family-wise; at most 5 % is promised), and the share
in which the true effect is called real.
"""

from __future__ import annotations

import sys
import time
from typing import TYPE_CHECKING, Any

import numpy as np

from dribbet.lab.verdict.judge import Word
from dribbet.lab.verdict.laws import Kind
from dribbet.lab.verdict.model import Asked, Test, answers

if TYPE_CHECKING:
    from collections.abc import Callable

Rng = np.random.Generator


def counts(rng: Rng, mean: Any, excess: float) -> tuple[float, ...]:
    mean = np.asarray(mean, float)
    return tuple(rng.poisson(mean * rng.gamma(1 / excess, excess, mean.shape) if excess else mean).astype(float))


def lengths(rng: Rng, mean: Any, without: float) -> tuple[float, ...]:
    mean = np.asarray(mean, float)
    return tuple(np.where(rng.random(mean.shape) < without, 0.0, rng.gamma(2.0, mean / 2.0)))


def levels(*names_and_counts: tuple[str, int]) -> tuple[str, ...]:
    return tuple(n for n, c in names_and_counts for _ in range(c))


def three_nothing(rng: Rng) -> Test:
    """Two recipes, three panels each, three responses, nothing true."""
    return Test(
        factors={"A": levels(("1", 3), ("2", 3))},
        responses=(
            Asked(name="width", kind=Kind.AMOUNT, values=tuple(rng.normal(4, 0.6, 6))),
            Asked(name="cells", kind=Kind.COUNT, values=counts(rng, np.full(6, 40), 0.1)),
            Asked(name="cracks", kind=Kind.LENGTH, values=lengths(rng, np.full(6, 200), 0.4)),
        ),
    )


def unlike(ratio: float, n: int) -> Callable[[Rng], Test]:
    """Three recipes, the third scatters otherwise; nothing true."""

    def make(rng: Rng) -> Test:
        values = np.concatenate([rng.normal(5, 1, n), rng.normal(5, 1, n), rng.normal(5, ratio, n)])
        return Test(factors={"A": levels(("1", n), ("2", n), ("3", n))}, responses=(Asked(name="w", kind=Kind.AMOUNT, values=tuple(values)),))

    return make


def crossed(effect: float, repeats: int = 2) -> Callable[[Rng], Test]:
    """Two factors crossed; B does much, A does `effect` standard deviations, together nothing more."""

    def make(rng: Rng) -> Test:
        a = np.repeat([0, 0, 1, 1], repeats)
        b = np.repeat([0, 1, 0, 1], repeats)
        y = 10 + effect * a + 6 * b + rng.normal(0, 1, len(a))
        return Test(factors={"A": tuple(map(str, a)), "B": tuple(map(str, b))}, responses=(Asked(name="w", kind=Kind.AMOUNT, values=tuple(y)),))

    return make


def areas(excess: float, n: int = 3) -> Callable[[Rng], Test]:
    """The second recipe on panels twice as large; cells per dm2 alike."""

    def make(rng: Rng) -> Test:
        area = np.repeat([3.0, 6.0], n)
        return Test(
            factors={"A": levels(("1", n), ("2", n))}, area_dm2=tuple(area),
            responses=(Asked(name="cells", kind=Kind.COUNT, values=counts(rng, 15 * area, excess)),),
        )  # fmt: skip

    return make


def cells(ratio: float, excess: float, n: int = 3, mean: float = 40.0) -> Callable[[Rng], Test]:
    def make(rng: Rng) -> Test:
        return Test(
            factors={"A": levels(("1", n), ("2", n))},
            responses=(Asked(name="cells", kind=Kind.COUNT, values=counts(rng, np.repeat([mean, mean * ratio], n), excess)),),
        )

    return make


def film(told: bool) -> Callable[[Rng], Test]:
    """Film decides, and differs between the recipes; the recipe itself does nothing."""

    def make(rng: Rng) -> Test:
        moved = np.concatenate([rng.normal(1.6, 0.15, 4), rng.normal(1.8, 0.15, 4)])
        y = 4 * moved + rng.normal(0, 0.4, 8)
        covariates = {"film": tuple(moved)} if told else {}
        return Test(factors={"A": levels(("1", 4), ("2", 4))}, covariates=covariates, responses=(Asked(name="w", kind=Kind.AMOUNT, values=tuple(y)),))

    return make


def sheets(within: bool, effect: float = 0.0) -> Callable[[Rng], Test]:
    """Pieces on sheets that differ: recipes side by side on each, or one recipe a sheet."""

    def make(rng: Rng) -> Test:
        sheet = np.repeat(np.arange(6), 2)
        a = np.tile([0, 1], 6) if within else (sheet % 2)
        y = 10 + rng.normal(0, 2, 6)[sheet] + effect * a + rng.normal(0, 0.5, 12)
        return Test(factors={"A": tuple(map(str, a))}, sheet=tuple(map(str, sheet)), responses=(Asked(name="w", kind=Kind.AMOUNT, values=tuple(y)),))

    return make


def days(effect: float) -> Callable[[Rng], Test]:
    """Two days that differ, both recipes on each."""

    def make(rng: Rng) -> Test:
        day = np.repeat([0, 1], 6)
        a = np.tile([0, 1], 6)
        y = 10 + 4 * day + effect * a + rng.normal(0, 1, 12)
        return Test(factors={"A": tuple(map(str, a))}, block=tuple(map(str, day)), responses=(Asked(name="w", kind=Kind.AMOUNT, values=tuple(y)),))

    return make


def cracked(p: float, q: float, n: int) -> Callable[[Rng], Test]:
    def make(rng: Rng) -> Test:
        yes = np.concatenate([rng.random(n) < p, rng.random(n) < q]).astype(float)
        return Test(factors={"A": levels(("1", n), ("2", n))}, responses=(Asked(name="cracked", kind=Kind.YES_NO, values=tuple(yes)),))

    return make


def first_crack(ratio: float, n: int) -> Callable[[Rng], Test]:
    def make(rng: Rng) -> Test:
        hours = np.concatenate([rng.exponential(40, n), rng.exponential(40 * ratio, n)])
        return Test(
            factors={"A": levels(("1", n), ("2", n))},
            responses=(Asked(name="hours", kind=Kind.TIME, values=tuple(None if h > 96 else float(h) for h in hours)),),
        )

    return make


def spread(p: float, q: float, n: int = 3) -> Callable[[Rng], Test]:
    def make(rng: Rng) -> Test:
        mean = np.repeat([p, q], n)
        return Test(
            factors={"A": levels(("1", n), ("2", n))},
            responses=(Asked(name="spread", kind=Kind.SHARE, values=tuple(rng.beta(mean * 40, (1 - mean) * 40))),),
        )

    return make


def cracks(ratio: float, n: int, without: float = 0.4) -> Callable[[Rng], Test]:
    def make(rng: Rng) -> Test:
        return Test(
            factors={"A": levels(("1", n), ("2", n))},
            responses=(Asked(name="cracks", kind=Kind.LENGTH, values=lengths(rng, np.repeat([200.0, 200.0 * ratio], n), without)),),
        )

    return make


def pair(ratio: float, n: int) -> Callable[[Rng], Test]:
    def make(rng: Rng) -> Test:
        values = (*rng.normal(5, 1, n), *rng.normal(5, ratio, n))
        return Test(factors={"A": levels(("1", n), ("2", n))}, responses=(Asked(name="w", kind=Kind.AMOUNT, values=values),))

    return make


def noisy(shift: float, n: int, *, pouring: float, harder: float = 1.0) -> Callable[[Rng], Test]:
    """Two recipes photographed with a known noise of 1 (the second of `harder`), poured with a scatter of its own beside it."""

    def make(rng: Rng) -> Test:
        noise = (1.0,) * n + (harder,) * n
        values = np.array([5.0] * n + [5.0 + shift] * n) + rng.normal(0, pouring, 2 * n) + rng.normal(0, 1, 2 * n) * noise
        asked = Asked(name="w", kind=Kind.AMOUNT, values=tuple(values), noise_sd=noise)
        return Test(factors={"A": levels(("1", n), ("2", n))}, responses=(asked,))

    return make


SITUATIONS: dict[str, tuple[Callable[[Rng], Test], str]] = {
    "three responses, 3 against 3, nothing true": (three_nothing, ""),
    "two recipes, one scatters 3 times, 3 each": (pair(3.0, 3), ""),
    "two recipes, one scatters 10 times, 3 each": (pair(10.0, 3), ""),
    "third recipe scatters 0.2 times, 3 each": (unlike(0.2, 3), ""),
    "third recipe scatters 0.3 times, 2 each": (unlike(0.3, 2), ""),
    "third recipe scatters 5 times, 3 each": (unlike(5.0, 3), ""),
    "third recipe scatters alike, 3 each": (unlike(1.0, 3), ""),
    "crossed 2 x 2, 2 each, A does nothing": (crossed(0.0), ""),
    "crossed 2 x 2, 2 each, A does 2 sd": (crossed(2.0), "A"),
    "crossed 2 x 2, 3 each, A does 2 sd": (crossed(2.0, 3), "A"),
    "twice the area, cells alike per dm2": (areas(0.1), ""),
    "twice the area, cells alike, Poisson": (areas(0.0), ""),
    "cells 40, alike, beyond Poisson by 0.1": (cells(1.0, 0.1), ""),
    "cells 40, alike, beyond Poisson by 0.3": (cells(1.0, 0.3), ""),
    "cells 5, alike, Poisson": (cells(1.0, 0.0, mean=5), ""),
    "cells 40 against 80, beyond by 0.05": (cells(2.0, 0.05), "A"),
    "film moved with the recipe, not told": (film(False), ""),
    "film moved with the recipe, told": (film(True), ""),
    "sheets, recipes side by side, nothing": (sheets(True), ""),
    "sheets, recipes side by side, 1.5 sd": (sheets(True, 0.75), "A"),
    "sheets, one recipe a sheet, nothing": (sheets(False), ""),
    "two days, nothing": (days(0.0), ""),
    "two days, 2 sd": (days(2.0), "A"),
    "cracked or not, 6 each, half and half": (cracked(0.5, 0.5, 6), ""),
    "cracked or not, 6 each, 5 % against 90 %": (cracked(0.05, 0.9, 6), "A"),
    "first crack, 6 each, alike": (first_crack(1.0, 6), ""),
    "first crack, 6 each, 8 times later": (first_crack(8.0, 6), "A"),
    "spread 60 %, alike": (spread(0.6, 0.6), ""),
    "spread 95 %, alike": (spread(0.95, 0.95), ""),
    "spread 60 against 90 %": (spread(0.6, 0.9), "A"),
    "crack lengths, 3 each, alike, 40 % without": (cracks(1.0, 3), ""),
    "crack lengths, 5 each, alike, 40 % without": (cracks(1.0, 5), ""),
    "crack lengths, 5 each, alike, all cracked": (cracks(1.0, 5, 0.0), ""),
    "crack lengths, 5 each, 5 times, all cracked": (cracks(5.0, 5, 0.0), "A"),
    "noise alone, 3 each, nothing": (noisy(0.0, 3, pouring=0.0), ""),
    "pouring as the noise, 3 each, nothing": (noisy(0.0, 3, pouring=1.0), ""),
    "pouring twice the noise, 3 each, nothing": (noisy(0.0, 3, pouring=2.0), ""),
    "pouring twice the noise, 2 each, nothing": (noisy(0.0, 2, pouring=2.0), ""),
    "pouring four times the noise, 2 each, nothing": (noisy(0.0, 2, pouring=4.0), ""),
    "one recipe 3 times harder to read, 3 each": (noisy(0.0, 3, pouring=0.5, harder=3.0), ""),
    "noise alone, 3 each, 3 sd": (noisy(3.0, 3, pouring=0.0), "A"),
    "noise alone, 2 each, 3 sd": (noisy(3.0, 2, pouring=0.0), "A"),
}


def main() -> None:
    tests = int(sys.argv[1]) if len(sys.argv) > 1 else 1000
    print(f"{'situation':46} wrong  found  ms a test")
    wanted = sys.argv[2] if len(sys.argv) > 2 else ""
    for name, (make, true) in SITUATIONS.items():
        if wanted not in name:
            continue
        rng = np.random.default_rng(5)
        wrong = found = 0
        begun = time.process_time()
        for _ in range(tests):
            said = answers(make(rng))
            assert all((a.word is Word.REAL) == (a.low is not None and a.high is not None and not a.low <= 0.0 <= a.high) for a in said), said
            ignore = ("A", "B") if true or name.startswith("crossed") else ()
            wrong += any(a.word is Word.REAL and a.what not in ((true, "B") if ignore else ()) for a in said)
            found += any(a.word is Word.REAL and a.what == true for a in said)
        spent = (time.process_time() - begun) / tests * 1e3
        print(f"{name:46} {wrong / tests:5.1%}  {found / tests if true else float('nan'):5.1%}  {spent:5.2f}", flush=True)


if __name__ == "__main__":
    main()
