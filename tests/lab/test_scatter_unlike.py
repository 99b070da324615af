"""When recipes stand for themselves, and what that costs: Bartlett's test against SciPy's, the judge's own power against made-up tests."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import stats

from dribbet.lab.plan import power
from dribbet.lab.plan.power import Model
from dribbet.lab.verdict import laws
from dribbet.lab.verdict.columns import columns_of
from dribbet.lab.verdict.judge import Word
from dribbet.lab.verdict.laws import Kind
from dribbet.lab.verdict.model import Asked, Test, answers
from tests.lab.test_power import scatter


@pytest.mark.parametrize("sizes", [(3, 3), (2, 2, 2), (4, 3, 6)])
def test_bartletts_test_is_scipys(sizes):
    rng = np.random.default_rng(3)
    groups = [rng.normal(0, s, n) for s, n in zip((1.0, 2.5, 0.7), sizes, strict=False)]
    v, each = np.array([g.var(ddof=1) for g in groups]), np.array([len(g) - 1 for g in groups], float)
    assert float(laws.bartlett_p(v, each)) == pytest.approx(stats.bartlett(*groups).pvalue, abs=1e-9)
    assert laws.bartlett_p(np.stack([v, v * 4]), each) == pytest.approx([stats.bartlett(*groups).pvalue] * 2, abs=1e-9)  # of all alike, as one


def test_three_panels_stand_for_themselves_at_half_a_doubt_and_two_at_a_quarter():
    assert laws.doubt_from(2.0) == 0.5
    assert laws.doubt_from(1.0) == 0.25
    law = {0: 1.0, 1: 1.0}
    ratio = float(stats.f.isf(0.2, 2, 2))  # two-sided P 0.4: between the two edges
    assert laws.unlike({0: (1.0, 2), 1: (ratio, 2)}, law)
    ratio = float(stats.f.isf(0.2, 1, 1))
    assert not laws.unlike({0: (1.0, 1), 1: (ratio, 1)}, law)


@pytest.mark.parametrize(("sds", "most"), [((1.0, 1.0, 5.0), 0.06), ((1.0, 1.0, 0.2), 0.065), ((1.0, 5.0), 0.065)])
def test_a_recipe_that_scatters_otherwise_makes_nothing_real(sds, most):
    """Three panels each; at most 5 % and two standard errors of 1,500 tests (0.061), at the five-fold pair 6 by the exact sum."""
    rng, wrong = np.random.default_rng(9), 0
    for _ in range(1500):
        values = tuple(float(v) for s in sds for v in rng.normal(5.0, s, 3))
        asked = Asked(name="w", kind=Kind.AMOUNT, values=values)
        wrong += any(
            a.word is Word.REAL for a in answers(Test(factors={"A": tuple(str(i) for i in range(len(sds)) for _ in range(3))}, responses=(asked,)))
        )
    assert wrong / 1500 <= most


def test_promise_of_a_crossed_plan_is_kept():
    """2 x 2, three panels each, one response of three: the difference that nine questions leave four chances in five is found so often."""
    promised = power.can_show(Model.MEAN, scatter(), 6, 8, questions=9, repeats=3)
    assert promised == pytest.approx(3.32 * scatter().sd, rel=0.01)
    rng, found = np.random.default_rng(2), 0
    a, b = np.repeat([0, 0, 1, 1], 3), np.repeat([0, 1, 0, 1], 3)
    for _ in range(400):
        values = [rng.normal(promised * a, scatter().sd), rng.normal(0, 1, 12), rng.normal(0, 1, 12)]
        asked = tuple(Asked(name=f"y{i}", kind=Kind.AMOUNT, values=tuple(map(float, v))) for i, v in enumerate(values))
        said = answers(Test(factors={"A": tuple(map(str, a)), "B": tuple(map(str, b))}, responses=asked))
        found += any(x.word is Word.REAL and x.response == "y0" and x.what == "A" for x in said)
    assert found / 400 == pytest.approx(0.80, abs=0.06)


def test_days_that_differ_are_no_scatter_of_a_recipe():
    """Each day 10 apart, panels of a day 1 apart: residuals of a half, 8 panels and 3 coefficients: 1.0 over 4 (1 - 3 / 8) = 0.4, not 34."""
    y = np.array([10.0, 11, 20, 21, 12, 13, 22, 23])
    factors, day = {"A": tuple("11112222")}, tuple("11221122")
    own = laws.own_scatter(laws.fit(columns_of(factors, blocks=[day]), y))
    assert {c: pytest.approx(v) for c, v in own.items()} == {0: (0.4, 2.5), 1: (0.4, 2.5)}
    assert laws.own_scatter(laws.fit(columns_of(factors), y))[0] == pytest.approx((np.var(y[:4], ddof=1), 3.0))
    moved = laws.own_scatter(laws.fit(columns_of(factors, covariates={"film": (1.0, 1, 2, 2, 1, 1, 2, 2)}), y))
    assert moved[0] == pytest.approx((0.4, 2.5))
    few = columns_of({"A": tuple("1122")}, blocks=[tuple("1212")])  # half a degree of freedom each
    assert laws.own_scatter(laws.fit(few, np.array([1.0, 2.0, 3.0, 4.5]))) is None


def test_effect_over_two_days_is_found_though_the_days_differ():
    """2 sd, six panels each on two days four apart: noncentral t with 9 degrees of freedom finds 0.87; days taken for scatter left 0.70."""
    rng, found = np.random.default_rng(4), 0
    day, a = np.repeat([0, 1], 6), np.tile([0, 1], 6)
    for _ in range(400):
        asked = Asked(name="w", kind=Kind.AMOUNT, values=tuple(map(float, 10 + 4 * day + 2.0 * a + rng.normal(0, 1, 12))))
        (said,) = answers(Test(factors={"A": tuple(map(str, a))}, block=tuple(map(str, day)), responses=(asked,)))
        found += said.word is Word.REAL
    assert found / 400 == pytest.approx(0.85, abs=0.05)
