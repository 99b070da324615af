"""Several tests together, against the figures that statsmodels gives for the same."""

from __future__ import annotations

import numpy as np
import pytest
from statsmodels.stats.meta_analysis import combine_effects

from dribbet.lab.verdict.pooled import Pooled, Shown, Strength, pool, strength

Z = 1.959963984540054


def a_test(middle: float, sd: float = 1.0, *, real: bool = False) -> Shown:
    return Shown(difference=middle, low=middle - Z * sd, high=middle + Z * sd, real=real)


@pytest.mark.parametrize(
    "effects",
    [
        [(10.0, 2.0), (14.0, 3.0), (3.0, 2.5)],
        [(0.10, 0.02), (0.16, 0.02), (0.13, 0.02)],
        [(1.0, 1.0), (9.0, 1.5)],
        [(5.0, 0.5), (-4.0, 0.7), (2.0, 0.6), (8.0, 1.0)],
    ],
)
def test_mean_spread_and_interval_are_those_of_paule_mandel_with_hartung_and_knapp(effects):
    mine = pool([a_test(m, sd) for m, sd in effects])
    found = combine_effects(np.array([m for m, _ in effects]), np.array([sd**2 for _, sd in effects]), method_re="pm", use_t=True)
    assert mine.difference == pytest.approx(found.mean_effect_re, rel=1e-4)
    assert mine.between**2 == pytest.approx(found.tau2, rel=1e-3)
    low, high = found.conf_int()[3]  # random effects, Hartung and Knapp
    assert (mine.low, mine.high) == pytest.approx((low, high), rel=1e-3)
    assert mine.unlike_p == pytest.approx(found.test_homogeneity().pvalue, rel=1e-4)


def test_tests_that_agree_have_no_spread_between_them_and_a_plain_interval():
    mine = pool([a_test(4.0, 1.0), a_test(4.4, 1.0), a_test(3.6, 1.0)])
    assert (mine.between, mine.difference) == (0.0, pytest.approx(4.0))
    assert mine.high - mine.difference == pytest.approx(4.302653 / 3.0**0.5, rel=1e-4)  # t of 2 df, never narrower than luck has it


def test_one_test_stands_for_itself():
    assert pool([a_test(4.0, 1.0)]) == Pooled(difference=4.0, low=4.0 - Z, high=4.0 + Z, between=0.0, unlike_p=1.0, tests=1)
    with pytest.raises(ValueError, match="no test"):
        pool([])


def test_interval_of_another_level_is_brought_to_one_standard_error():
    assert Shown(difference=0.0, low=-2.575829, high=2.575829, real=False, level=0.99).sd == pytest.approx(1.0, rel=1e-5)


@pytest.mark.parametrize(
    ("tests", "stands"),
    [
        ([], Strength.OPEN),
        ([a_test(5.0, real=True)], Strength.ONE),
        ([a_test(0.5)], Strength.NOTHING),
        ([a_test(5.0, real=True), a_test(4.0, real=True)], Strength.STANDS),
        ([a_test(5.0, real=True), a_test(-5.0, real=True)], Strength.AGAINST),
        ([a_test(5.0, real=True), a_test(-2.0)], Strength.AGAINST),  # not both real, and yet they disagree by more than luck
        ([a_test(5.0, real=True), a_test(4.0, 4.0)], Strength.ONE),
        ([a_test(2.0), a_test(2.1), a_test(1.9), a_test(2.0)], Strength.STANDS),  # none alone, all together
        ([a_test(0.5), a_test(-0.4)], Strength.NOTHING),
        ([a_test(0.20, 0.02), a_test(0.19, 0.02)], Strength.STANDS),  # 0.02 to 0.37: small and yet above nought
        ([a_test(-0.20, 0.02), a_test(-0.19, 0.02)], Strength.STANDS),
    ],
)
def test_a_claim_stands_on_its_tests(tests, stands):
    assert strength(tests) is stands
