"""Do the judge's intervals hold the truth, and does it cry wolf, in every plan that Ask offers? Made-up series of known truth.

    python benchmarks/judge_coverage.py [TESTS]

For each plan and kind of response: the share of series in which anything is called real where nothing is true, and of all intervals that were
given where the first factor does something the share that holds the true difference (their own levels are 95 % or more).
"""

from __future__ import annotations

import sys
import time
from itertools import product
from typing import Any

import numpy as np

from dribbet.lab.verdict.judge import Word
from dribbet.lab.verdict.laws import Kind
from dribbet.lab.verdict.model import Answer, Asked, Test, answers

AREA_DM2 = 3.0
PLANS: dict[str, tuple[list[tuple[int, ...]], int, int]] = {  # recipes by their levels, panels of each, days
    "2 recipes, 3 each": ([(0,), (1,)], 3, 1),
    "3 recipes, 2 each": ([(0,), (1,), (2,)], 2, 1),
    "4 recipes, 2 each": ([(0,), (1,), (2,), (3,)], 2, 1),
    "2 x 2, 2 each": (list(product((0, 1), repeat=2)), 2, 1),
    "2 x 2 x 2, 1 each": (list(product((0, 1), repeat=3)), 1, 1),
    "2 x 2 x 2, 2 each": (list(product((0, 1), repeat=3)), 2, 1),
    "half of 2 x 2 x 2, 2 each": ([r for r in product((0, 1), repeat=3) if sum(r) % 2 == 0], 2, 1),
    "2 recipes, 2 each on 2 days": ([(0,), (1,)], 4, 2),
}
KINDS = {Kind.AMOUNT: (5.0, 1.2), Kind.COUNT: (40.0, 25.0), Kind.LENGTH: (200.0, 150.0), Kind.SHARE: (0.7, 0.15)}
"""Mean where nothing is done, and what the last level of the first factor adds; counts and lengths on a whole panel."""


def values(rng: np.random.Generator, kind: Kind, means: Any) -> tuple[float, ...]:
    """Panels with their luck."""
    means = np.asarray(means, float)
    if kind is Kind.AMOUNT:
        made = rng.normal(means, 0.6)
    elif kind is Kind.COUNT:
        made = rng.poisson(means * rng.gamma(20.0, 0.05, means.shape)).astype(float)
    elif kind is Kind.LENGTH:
        made = rng.gamma(6.0, means / 6.0)
    else:
        made = rng.beta(means * 60.0, (1.0 - means) * 60.0)
    return tuple(float(v) for v in made)


def series(rng: np.random.Generator, plan: str, kind: Kind, share: float) -> tuple[Test, np.ndarray]:
    """One series, and what each level of the first factor truly shows (per dm2 for counts and lengths)."""
    recipes, each, days = PLANS[plan]
    mean, adds = KINDS[kind]
    last = max(r[0] for r in recipes)
    truth = np.array([mean + share * adds * i / last for i in range(last + 1)])
    panels = [r for r in recipes for _ in range(each)]
    block = tuple(str(i % days) for _ in recipes for i in range(each))
    shift = rng.normal(0.0, 0.1, days) if days > 1 else np.zeros(1)
    means = [truth[r[0]] * (1.0 + shift[int(b)]) if kind is not Kind.SHARE else truth[r[0]] for r, b in zip(panels, block, strict=True)]
    per = AREA_DM2 if kind in (Kind.COUNT, Kind.LENGTH) else 1.0
    factors = {"ABC"[i]: tuple(str(r[i]) for r in panels) for i in range(len(recipes[0]))}
    asked = Asked(name="y", kind=kind, values=values(rng, kind, means))
    return Test(factors=factors, responses=(asked,), area_dm2=(AREA_DM2,) * len(panels), block=block if days > 1 else None), truth / per


def true_of(a: Answer, truth: np.ndarray) -> float:
    """True difference of an answer: what the first factor does; nothing of all else."""
    return float(truth[int(a.first)] - truth[int(a.second)]) if a.factors == ("A",) else 0.0


def main() -> None:
    tests = int(sys.argv[1]) if len(sys.argv) > 1 else 2000
    print("| plan | kind | real where nothing is | intervals that hold the truth | of which of the first factor |")
    print("|---|---|---|---|---|")
    for plan, kind in product(PLANS, KINDS):
        rng = np.random.default_rng(7)
        wrong = held = given = held_first = first = 0
        for _ in range(tests):
            wrong += any(a.word is Word.REAL for a in answers(series(rng, plan, kind, 0.0)[0]))
            test, truth = series(rng, plan, kind, 1.0)
            for a in answers(test):
                if a.low is None or a.high is None or not np.isfinite(a.low + a.high):
                    continue
                holds = a.low <= true_of(a, truth) <= a.high
                given, held = given + 1, held + holds
                if a.factors == ("A",):
                    first, held_first = first + 1, held_first + holds
        print(f"| {plan} | {kind.value} | {wrong / tests:.1%} | {held / max(given, 1):.1%} | {held_first / max(first, 1):.1%} |", flush=True)


if __name__ == "__main__":
    began = time.perf_counter()
    main()
    print(f"\n{time.perf_counter() - began:.0f} s")
