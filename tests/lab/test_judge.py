from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from dribbet.lab.verdict import judge
from dribbet.lab.verdict.judge import Word


@pytest.mark.parametrize(("sd", "each", "df", "shown"), [(14.0, 4, 6, 33.0), (14.0, 6, 12, 25.0)])
def test_smallest_difference_of_the_design_guide(sd, each, df, shown):
    assert judge.smallest_difference(sd, each, df) == pytest.approx(shown, abs=1.0)


def test_power_of_the_smallest_difference_is_about_four_in_five():
    """The formula is the usual normal approximation by quantiles of t; simulated with a t test on 4 against 4."""
    rng = np.random.default_rng(5)
    delta = judge.smallest_difference(1.0, 4, 6)
    a, b = rng.normal(0.0, 1.0, (6000, 4)), rng.normal(delta, 1.0, (6000, 4))
    seen = float(np.mean(stats.ttest_ind(a, b, axis=1).pvalue < 0.05))
    assert seen == pytest.approx(0.80, abs=0.04)


def test_pooled_scatter_weighs_by_degrees_of_freedom():
    sd, df = judge.pooled_sd([[1.0, 3.0], [10.0, 10.0, 13.0], [7.0]])
    assert df == 3
    assert sd == pytest.approx(np.sqrt((2.0 + 6.0) / 3))
    assert judge.pooled_sd([[1.0], [2.0]]) is None


def test_holm_adjusts_as_in_the_textbook():
    assert judge.holm([0.01, 0.04, 0.03, None]) == [pytest.approx(0.03), pytest.approx(0.06), pytest.approx(0.06), None]


@given(st.lists(st.none() | st.floats(0.0, 1.0), max_size=8))
def test_holm_never_lowers_a_p_value_nor_changes_their_order(p_values):
    found = judge.holm(p_values)
    pairs = [(p, q) for p, q in zip(p_values, found, strict=True) if p is not None]
    assert all(p <= q <= 1.0 for p, q in pairs)
    assert [q for _, q in sorted(pairs)] == sorted(q for _, q in pairs)


def test_one_panel_is_too_few_to_say():
    found = judge.compare([10.0], [50.0, 52.0])
    assert found.word is Word.TOO_FEW
    assert found.low is found.high is found.p is None


def test_two_settings_alone_are_compared_by_welch():
    a, b = [10.0, 12.0, 11.0], [20.0, 26.0, 23.0]
    found = judge.compare(a, b)
    welch = stats.ttest_ind(a, b, equal_var=False)
    assert found.p == pytest.approx(welch.pvalue)
    interval = welch.confidence_interval(0.95)
    assert (found.low, found.high) == (pytest.approx(interval.low), pytest.approx(interval.high))
    assert found.method == "Welch's t"
    assert found.word is Word.REAL


def test_other_settings_lend_their_scatter():
    alone = judge.compare([10.0, 12.0], [16.0, 18.0])
    lent = judge.compare([10.0, 12.0], [16.0, 18.0], others=[[30.0, 32.0], [40.0, 42.0]])
    assert lent.high - lent.low < alone.high - alone.low
    assert "all repeats" in lent.method


def test_difference_inside_the_measuring_noise_is_never_real():
    found = judge.compare([10.0, 10.001, 10.002], [10.1, 10.101, 10.102], measuring_sd=0.5)
    assert found.p < 0.001
    assert abs(found.difference) < found.band
    assert found.word is Word.CHANCE


def test_more_questions_widen_the_interval():
    one, four = (judge.compare([10.0, 12.0, 11.0], [14.0, 15.0, 17.0], questions=n) for n in (1, 4))
    assert four.low < one.low < one.high < four.high


def test_judged_together_a_lone_weak_difference_is_no_longer_real():
    weak = judge.compare([10.0, 12.0, 11.0], [13.0, 14.2, 15.4])
    nothing = [judge.compare([1.0, 2.0, 3.0], [1.5, 2.5, 2.0]) for _ in range(4)]
    assert weak.word is Word.REAL
    assert judge.judge_all([weak, *nothing])[0].word is Word.CHANCE


def test_counts_are_compared_as_rates_and_zero_counts_give_no_error():
    found = judge.compare([20, 24, 22], [60, 66, 70], count=True)
    assert found.word is Word.REAL
    assert found.low < found.difference < found.high < 0
    assert judge.compare([0, 0], [0, 0], count=True).word is Word.CHANCE


def test_false_alarms_of_counts_stay_near_one_in_twenty():
    """Poisson counts and overdispersed ones (negative binomial, variance three times the mean), no difference."""
    rng = np.random.default_rng(8)
    for draw in (lambda: rng.poisson(25, 3), lambda: rng.negative_binomial(12.5, 1 / 3, 3)):
        alarms = np.mean([judge.compare(draw().tolist(), draw().tolist(), count=True).word is Word.REAL for _ in range(1500)])
        assert alarms < 0.085


def test_lengths_with_many_zeros_are_judged_by_permutation():
    found = judge.compare([0.0, 0.0, 0.0, 0.0], [120.0, 80.0, 150.0, 95.0])
    assert found.method == "permutation of panels"
    assert found.p == pytest.approx(2 / 70)  # exact: 2 of the 70 arrangements are as extreme
    assert found.word is Word.REAL


def test_too_few_panels_for_a_permutation_are_judged_by_their_means():
    found = judge.compare([0.0, 0.0, 12.0], [160.0, 175.0, 168.0])
    assert found.method == "Welch's t"
    assert found.word is Word.REAL


def test_equal_panels_are_chance_and_give_no_error():
    assert judge.compare([5.0, 5.0], [5.0, 5.0]).word is Word.CHANCE


def test_next_level_lies_between_the_two_best_and_nearer_to_the_better():
    level = judge.bracket([0.10, 0.16, 0.22], [-1.0, 3.0, 2.0])
    assert 0.16 < level < 0.19
    assert judge.bracket([0.1], [1.0]) is None


@given(st.lists(st.tuples(st.floats(0.0, 10.0), st.floats(-50.0, 50.0)), min_size=2, max_size=5))
def test_next_level_never_leaves_what_was_tried(settings):
    values, liked = zip(*settings, strict=True)
    assert min(values) - 1e-9 <= judge.bracket(values, liked) <= max(values) + 1e-9
