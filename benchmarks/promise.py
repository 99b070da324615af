"""Does a plan keep what Ask promises of it? The promised difference, played through the very judge.

    python benchmarks/promise.py [TESTS]

For each plan and kind of response: the smallest difference that Ask says the plan shows four times in five (all that is asked beside it counted),
and the share of made-up tests with that difference in which it is called real. Five points off are allowed. Two more responses are
asked, about nothing.
"""

from __future__ import annotations

import itertools
import sys

from dribbet.lab.plan.power import Model, Scatter, can_show
from dribbet.lab.verdict import rehearse
from dribbet.lab.verdict.laws import Kind
from dribbet.lab.verdict.model import Test
from dribbet.lab.verdict.rehearse import Played
from dribbet.records import silent

PLAYED = {
    Kind.AMOUNT: (Model.MEAN, Played(name="width", kind=Kind.AMOUNT, mean=5.0, sd=0.6)),
    Kind.LENGTH: (Model.LENGTH, Played(name="cracks", kind=Kind.LENGTH, mean=400.0, sd=90.0, dispersion=90.0**2 / 400.0)),
    Kind.COUNT: (Model.COUNT, Played(name="cells", kind=Kind.COUNT, mean=120.0, sd=18.0, dispersion=18.0**2 / 120.0)),
}
CROSSED = {"A": ("1", "1", "2", "2"), "B": ("1", "2", "1", "2")}
PLANS = {
    "2 recipes": ({"A": ("1", "2")}, (3, 4, 6)),
    "3 recipes": ({"A": ("1", "2", "3")}, (2, 3, 4)),
    "4 recipes": ({"A": ("1", "2", "3", "4")}, (2, 3)),
    "2 x 2": (CROSSED, (2, 3, 5)),
}
PRODUCTS = {"2 x 2": 1}


def main() -> None:
    rehearse.TESTS = int(sys.argv[1]) if len(sys.argv) > 1 else 1000  # type: ignore[misc]
    print(f"{'plan':10} {'repeats':>7} {'kind':7} {'promised':>9} {'real in':>8}")
    for plan, (factors, repeats) in PLANS.items():
        recipes, levels = len(factors["A"]), len(set(factors["A"]))
        for n, (kind, (model, played)) in itertools.product(repeats, PLAYED.items()):
            pairs = levels * (levels - 1) // 2 * len(factors) + PRODUCTS.get(plan, 0)
            known = Scatter(sd=played.sd, df=10, mean=played.mean, dispersion=played.dispersion, panels=12, sources=())
            promised = can_show(model, known, n * recipes // levels, recipes * (n - 1), questions=3 * pairs, repeats=n)
            if promised is None:
                print(f"{plan:10} {n:7} {kind.value:7} nothing is promised", flush=True)
                continue
            responses = (played, *(p for k, (_, p) in PLAYED.items() if k is not kind))
            test = Test(factors={f: tuple(v for v in c for _ in range(n)) for f, c in factors.items()}, responses=())
            last = sorted(set(factors["A"]))[-1]
            found = rehearse.rehearse(silent, test, responses, {last: promised}, "A", ("1", last)).found
            print(f"{plan:10} {n:7} {kind.value:7} {promised:9.3g} {found:8.1%}", flush=True)


if __name__ == "__main__":
    main()
