"""The model of a whole test, against values worked by hand and against statsmodels and SciPy."""

from __future__ import annotations

import math
from types import SimpleNamespace

import numpy as np
import pytest
import statsmodels.formula.api as smf
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats
from statsmodels.stats.multitest import multipletests

from dribbet.lab.verdict import exact, laws
from dribbet.lab.verdict.columns import MIDDLE, columns_of
from dribbet.lab.verdict.judge import Word
from dribbet.lab.verdict.laws import Kind, Method
from dribbet.lab.verdict.model import Asked, Test, _two_by_two, answers, odd, unlike, without


def two(first, second, kind=Kind.AMOUNT, **more) -> Test:
    values = tuple(None if v is None else float(v) for v in (*first, *second))
    return Test(factors={"A": ("1",) * len(first) + ("2",) * len(second)}, responses=(Asked(name="y", kind=kind, values=values),), **more)


def only(test: Test):
    (answer,) = answers(test)
    return answer


CROSSED = {"A": tuple("00001111"), "B": tuple("00110011")}
Y = (10.1, 9.7, 14.2, 14.9, 12.3, 12.0, 17.6, 16.8)


def test_two_recipes_that_scatter_alike_are_compared_by_students_t():
    a, b = [10.0, 12.0, 14.0], [15.0, 17.5, 19.0]
    found = only(two(a, b))
    t = stats.ttest_ind(b, a)
    assert (found.difference, found.p) == (pytest.approx(t.statistic * math.sqrt((4 + 4.0833333) / 2 * 2 / 3)), pytest.approx(t.pvalue))
    interval = t.confidence_interval(0.95)
    assert (found.low, found.high, found.level, found.way) == (pytest.approx(interval.low), pytest.approx(interval.high), 0.95, Method.ALIKE)


@pytest.mark.parametrize(
    ("factors", "both"),
    [(CROSSED, True), ({**CROSSED, "A": tuple("00112233")}, False), ({**CROSSED, "C": tuple("01010101")}, False), ({"A": CROSSED["A"]}, False)],
)
def test_two_by_two_are_two_things_at_two_levels_each(factors, both):
    contrast = SimpleNamespace(factors=("A", "B") if "B" in factors else ("A",))
    assert _two_by_two(SimpleNamespace(factors=factors), contrast) == both


def test_two_recipes_that_scatter_unlike_are_compared_by_welch():
    a, b = [10.0, 10.1, 9.9, 10.0, 10.05], [20.0, 26.0, 23.0, 29.0]
    found = only(two(a, b))
    t = stats.ttest_ind(b, a, equal_var=False)
    assert (found.p, found.way) == (pytest.approx(t.pvalue), Method.APART)
    assert (found.low, found.high) == (pytest.approx(t.confidence_interval().low), pytest.approx(t.confidence_interval().high))


def test_crossed_factors_and_their_product_are_those_of_least_squares_with_holm():
    found = {x.what: x for x in answers(Test(factors=CROSSED, responses=(Asked(name="y", kind=Kind.AMOUNT, values=Y),)))}
    frame = {"y": Y, "a": [2 * int(v) - 1 for v in CROSSED["A"]], "b": [2 * int(v) - 1 for v in CROSSED["B"]]}
    fit = smf.ols("y ~ a * b", frame).fit()
    assert found["A"].difference == pytest.approx(2 * fit.params["a"]) == pytest.approx(2.45)  # 14.675 - 12.225
    assert found["A:B"].difference == pytest.approx(2 * fit.params["a:b"])
    raw = [fit.pvalues[n] for n in ("a", "b", "a:b")]
    holm = multipletests(raw, method="holm")[1]
    assert [found[n].p for n in ("A", "B", "A:B")] == pytest.approx(list(holm))
    assert [found[n].word for n in ("A", "B", "A:B")] == [Word.REAL, Word.REAL, Word.CHANCE]
    order = sorted(("A", "B", "A:B"), key=lambda n: raw[("A", "B", "A:B").index(n)])
    assert [found[n].level for n in order] == pytest.approx([1 - 0.05 / 3, 1 - 0.05 / 2, 0.95])  # each at the step that judged it


def test_a_factor_that_matters_does_not_hide_the_other():
    """Merged over B, A would drown in what B does; side by side it is plain."""
    values = tuple(10 + 2.0 * (a == "1") + 20.0 * (b == "1") + e for a, b, e in zip(*CROSSED.values(), (0.3, -0.3) * 4, strict=True))
    found = {x.what: x.word for x in answers(Test(factors=CROSSED, responses=(Asked(name="y", kind=Kind.AMOUNT, values=values),)))}
    assert found["A"] is Word.REAL
    assert stats.ttest_ind([v for v, a in zip(values, CROSSED["A"], strict=True) if a == "0"], values[4:]).pvalue > 0.5


def test_three_levels_give_every_pair_in_order():
    test = Test(factors={"A": tuple("112233")}, responses=(Asked(name="y", kind=Kind.AMOUNT, values=(1.0, 1.2, 2.0, 2.2, 5.0, 5.2)),))
    assert [(x.what, x.first, x.second) for x in answers(test)] == [("A 1 - 2", "1", "2"), ("A 1 - 3", "1", "3"), ("A 2 - 3", "2", "3")]
    assert [x.difference for x in answers(test)] == pytest.approx([-1.0, -4.0, -3.0])


def test_counts_are_poisson_and_what_goes_beyond_it():
    """Scatter below Poisson's: variance 22 / 3 + 65.33 / 3, and 4 / 0.9^2 degrees of freedom."""
    found = only(two([20, 24, 22], [60, 66, 70], Kind.COUNT))
    error = math.sqrt((22 + 196 / 3) / 3)
    assert found.difference == pytest.approx(196 / 3 - 22)
    assert found.p == pytest.approx(2 * stats.t.sf((196 / 3 - 22) / error, 4 / 0.9**2))
    wild = only(two([5, 40, 21], [30, 90, 76], Kind.COUNT))
    assert (wild.word, found.word) == (Word.CHANCE, Word.REAL)
    y = np.array([5, 40, 21, 30, 90, 76], float)
    f = laws.fit(columns_of({"A": tuple("111222")}), y)
    s = laws.counted(f, np.ones(6), np.full(6, 1 / 6))
    mu = np.repeat([22.0, 196 / 3], 3)
    theta = s.found[0] / mu[0] ** 2
    assert float((f.left**2 / (mu + theta * mu**2)).sum()) == pytest.approx(4.0)  # Pearson's sum is its degrees of freedom


def test_counts_and_lengths_are_judged_per_area():
    found = only(two([30, 32, 28], [61, 59, 60], Kind.COUNT, area_dm2=(2.0,) * 3 + (4.0,) * 3))
    assert (found.difference, found.word) == (pytest.approx(0.0, abs=1e-9), Word.CHANCE)
    assert only(two([30, 32, 28], [61, 59, 60], Kind.COUNT)).word is Word.REAL
    assert only(two([100.0, 110.0], [240.0, 250.0], Kind.LENGTH, area_dm2=(1.0, 1.0, 2.0, 2.0))).difference == pytest.approx(122.5 - 105.0)


def test_shares_near_everything_scatter_little():
    s = laws.alike(laws.fit(columns_of({"A": tuple("1122")}), np.array([0.5, 0.6, 0.94, 0.96])), np.array([0.2475] * 2 + [0.0475] * 2), Method.SHARES)
    assert s.found[0] / s.found[2] == pytest.approx(0.2475 / 0.0475)
    assert only(two([0.5, 0.6, 0.55], [0.94, 0.96, 0.95], Kind.SHARE)).way in (Method.SHARES, Method.APART)


def test_yes_and_no_of_one_factor_is_fishers_exact_test():
    found = only(two([1, 1, 1, 1, 1, 0], [0, 0, 0, 0, 0, 0], Kind.YES_NO))
    assert found.p == pytest.approx(stats.fisher_exact([[5, 1], [0, 6]])[1])
    assert (found.word, found.difference) == (Word.REAL, pytest.approx(-5 / 6))


def test_yes_and_no_over_strata_is_the_convolution_of_their_laws():
    """Two strata with 3 against 3 and 3 yes each: the sum has the law (1, 18, 99, 164, 99, 18, 1) / 400."""
    p, least = exact.stratified([(3, 3, 0, 3), (2, 3, 1, 3)])
    assert p == pytest.approx((1 + 18 + 18 + 1) / 400)
    assert least == pytest.approx(2 / 400)


def test_lengths_with_many_zeros_are_shuffled_exactly():
    found = only(two([0.0] * 4, [120.0, 80.0, 150.0, 95.0], Kind.LENGTH))
    assert (found.p, found.way, found.word) == (pytest.approx(2 / 70), Method.SHUFFLED, Word.REAL)
    assert found.low > 0.0


def test_too_few_to_shuffle_are_judged_by_their_own_scatter():
    found = only(two([0.0, 0.0, 12.0], [160.0, 175.0, 168.0], Kind.LENGTH))
    assert (found.way, found.word) == (Method.APART, Word.REAL)
    assert found.p == pytest.approx(stats.ttest_ind([0.0, 0.0, 12.0], [160.0, 175.0, 168.0], equal_var=False).pvalue)


def test_times_count_those_that_have_not_cracked():
    found = only(two([10, 12, 20, 30, 31], [None] * 5, Kind.TIME))
    assert (found.p, found.word) == (pytest.approx(2 / 252), Word.REAL)
    assert found.difference == pytest.approx(31 - 20.6)  # mean hours until the last hour seen
    assert only(two([10, 12, 20], [None] * 3, Kind.TIME)).word is Word.TOO_FEW  # 2 of 20 arrangements: 0.1 at best


def test_pieces_side_by_side_on_sheets_are_compared_in_pairs():
    a, b = [10.0, 14.0, 8.0, 12.5], [11.2, 15.1, 9.4, 13.4]
    found = only(two(a, b, sheet=tuple("12341234")))
    t = stats.ttest_rel(b, a)
    assert (found.p, found.difference) == (pytest.approx(t.pvalue), pytest.approx(1.15))


def test_sheets_of_one_recipe_each_say_one_thing_each():
    y = (10.0, 10.4, 13.0, 13.2, 12.0, 12.2, 15.0, 15.4)
    found = only(Test(factors={"A": tuple("11112222")}, sheet=tuple("11223344"), responses=(Asked(name="y", kind=Kind.AMOUNT, values=y),)))
    assert found.p == pytest.approx(stats.ttest_ind([10.2, 13.1], [12.1, 15.2]).pvalue)


def test_days_are_taken_out():
    y = (10.0, 12.15, 10.2, 11.9, 20.1, 22.15, 20.2, 21.9)
    test = Test(factors={"A": tuple("12121212")}, responses=(Asked(name="y", kind=Kind.AMOUNT, values=y),))
    with_days = only(Test(factors=test.factors, responses=test.responses, block=tuple("11112222")))
    fit = smf.ols("y ~ a + C(d)", {"y": y, "a": [0, 1] * 4, "d": [1] * 4 + [2] * 4}).fit()
    assert with_days.p == pytest.approx(fit.pvalues["a"])
    assert (with_days.word, only(test).word) == (Word.REAL, Word.CHANCE)


def test_what_moved_along_is_counted_in_and_told():
    film = (1.5, 1.6, 1.7, 1.9, 1.8, 2.0, 2.1, 1.7)
    y = tuple(4.0 * f + e for f, e in zip(film, (0.1, -0.1, 0.05, 0.0, -0.05, 0.1, -0.1, 0.0), strict=True))
    test = Test(factors={"A": tuple("11112222")}, covariates={"film": film}, responses=(Asked(name="y", kind=Kind.AMOUNT, values=y),))
    fit = smf.ols("y ~ a + f", {"y": y, "a": [0] * 4 + [1] * 4, "f": film}).fit()
    assert (only(test).p, only(test).difference) == (pytest.approx(fit.pvalues["a"]), pytest.approx(fit.params["a"]))
    (told,) = unlike(test)
    assert (told.covariate, told.factor) == ("film", "A")
    assert told.r == pytest.approx(abs(np.corrcoef(film, [0] * 4 + [1] * 4)[0, 1]))


def test_panels_in_the_middle_lend_their_scatter_and_count_in_no_level():
    factors = {"A": (*"0011", MIDDLE, MIDDLE), "B": (*"0101", MIDDLE, MIDDLE)}
    found = {x.what: x for x in answers(Test(factors=factors, responses=(Asked(name="y", kind=Kind.AMOUNT, values=(1.0, 2.0, 4.0, 5.2, 9.0, 9.3)),)))}
    assert found["A"].difference == pytest.approx(4.6 - 1.5)
    assert "A:B" not in found  # two degrees of freedom are left, none for a product
    assert found["A"].word is Word.REAL


def test_measuring_noise_is_never_beaten():
    close = two([10.0, 10.001, 10.002], [10.1, 10.101, 10.102])
    noisy = Test(factors=close.factors, responses=(Asked(name="y", kind=Kind.AMOUNT, values=close.responses[0].values, measuring_sd=0.5),))
    assert (only(close).word, only(noisy).word) == (Word.REAL, Word.CHANCE)
    assert only(noisy).high - only(noisy).difference >= 1.96 * 0.5 * math.sqrt(2 / 3)


def test_one_panel_each_is_too_few_and_equal_panels_are_chance():
    assert only(two([1.0], [9.0])).word is Word.TOO_FEW
    assert only(two([5.0, 5.0], [5.0, 5.0])).word is Word.CHANCE
    assert only(two([0, 0], [0, 0], Kind.COUNT)).word is Word.CHANCE
    assert only(two([0, 0, 0], [0, 0, 0], Kind.YES_NO)).word is Word.CHANCE


def test_panels_without_a_figure_are_left_out_of_it():
    assert only(two([1.0, None, 1.2, 1.1], [2.0, 2.2, None, 2.1])).difference == pytest.approx(1.0)
    assert answers(two([None, None], [1.0, 2.0])) == ()


def test_factors_that_move_together_are_not_told_apart():
    test = Test(factors={"A": tuple("1122"), "B": tuple("1122")}, responses=(Asked(name="y", kind=Kind.AMOUNT, values=(1.0, 1.1, 3.0, 3.1)),))
    assert {(x.what, x.word, x.way) for x in answers(test)} == {("A", Word.TOO_FEW, Method.TIED), ("B", Word.TOO_FEW, Method.TIED)}


def test_asking_more_makes_each_answer_dearer():
    weak = two([10.0, 12.0, 11.0], [13.0, 15.0, 14.0]).responses[0]
    nothing = [Asked(name=f"n{i}", kind=Kind.AMOUNT, values=(1.0, 2.0, 3.0, 1.5, 2.5, 2.0)) for i in range(4)]
    alone = only(Test(factors={"A": tuple("111222")}, responses=(weak,)))
    among = answers(Test(factors={"A": tuple("111222")}, responses=(weak, *nothing)))[0]
    assert (alone.word, among.word) == (Word.REAL, Word.CHANCE)
    assert among.p == pytest.approx(min(1.0, 5 * alone.p))
    assert among.level == pytest.approx(1 - 0.05 / 5)


def test_one_in_twenty_to_the_last_bit_is_not_below_it():
    """Crossed, three panels each; none of six cracked against one and three of three: exactly 1 in 20, and the last bit says a little more."""
    factors = {"A": tuple("111111222222"), "B": tuple("111222111222")}
    values = tuple(map(float, "000000001111"))
    told = answers(Test(factors=factors, responses=(Asked(name="y", kind=Kind.YES_NO, values=values),)))
    one = next(a for a in told if a.what == "A")
    assert one.p is None or one.p == pytest.approx(0.05)
    assert one.word is not Word.REAL


@settings(max_examples=60, deadline=None)
@given(st.sampled_from(list(Kind)), st.integers(2, 5), st.randoms(use_true_random=False))
def test_a_word_and_its_interval_never_contradict_each_other(kind, each, chance):
    def value() -> float:
        return {Kind.COUNT: float(chance.randint(0, 30)), Kind.SHARE: chance.random(), Kind.YES_NO: float(chance.randint(0, 1))}.get(
            kind, chance.choice((0.0, chance.uniform(0, 90)))
        )

    levels = [a + b for a in "12" for b in "12" for _ in range(each)]
    factors = {"A": tuple(v[0] for v in levels), "B": tuple(v[1] for v in levels)}
    for a in answers(Test(factors=factors, responses=(Asked(name="y", kind=kind, values=tuple(value() for _ in levels)),))):
        if a.word is Word.TOO_FEW:
            assert a.low is a.high is a.p is None
        else:
            assert (a.word is Word.REAL) == (a.p < 0.05)
            if a.difference is not None:  # times that tie may be real without a figure
                assert (a.word is Word.REAL) == (not a.low <= 0.0 <= a.high)
                assert a.low <= a.difference <= a.high


def test_a_panel_that_lies_apart_is_named_by_its_externally_studentised_residual():
    y = (10.0, 10.2, 9.9, 10.1, 12.0, 12.1, 11.9, 15.0)
    test = Test(factors={"A": tuple("11112222")}, responses=(Asked(name="y", kind=Kind.AMOUNT, values=y),))
    (one,) = odd(test)
    fit = smf.ols("y ~ a", {"y": y, "a": [0] * 4 + [1] * 4}).fit()
    t = fit.get_influence().resid_studentized_external[7]
    assert (one.panel, one.response) == (7, "y")
    assert one.p == pytest.approx(8 * 2 * stats.t.sf(abs(t), 5))
    assert odd(without(test, 7)) == ()
    assert len(without(test, 7).responses[0].values) == 7


def test_panels_apart_are_found_within_the_design_and_not_for_yes_and_no():
    factors = {"A": tuple("11112222"), "B": tuple("12121212")}
    y = tuple(
        5.0 * (a == "2") + 9.0 * (b == "2") + e for a, b, e in zip(*factors.values(), (0.1, -0.1, 0.0, 0.1, -0.1, 0.0, 0.1, -0.05), strict=True)
    )
    assert odd(Test(factors=factors, responses=(Asked(name="y", kind=Kind.AMOUNT, values=y),))) == ()
    yes = (0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 0.0)
    assert odd(Test(factors={"A": tuple("11112222")}, responses=(Asked(name="c", kind=Kind.YES_NO, values=yes),))) == ()


def test_a_time_that_nobody_knows_is_left_out_and_one_not_yet_come_is_not():
    known = two([10, 12, 20, 30, 31], [None] * 5, Kind.TIME)
    with_gap = two([10, 12, 20, 30, 31, math.nan], [None] * 5, Kind.TIME)
    assert (only(with_gap).p, only(with_gap).difference) == (only(known).p, only(known).difference)


def test_sheets_of_one_panel_each_are_panels_and_yes_and_no_is_judged_on_them():
    """One panel a sheet: nothing stands side by side, and the sheets are compared; six cracked against none is no chance."""
    yes = [1.0] * 6 + [0.0] * 6
    test = Test(factors={"A": tuple("111111222222")}, sheet=tuple("abcdefghijkl"), responses=(Asked(name="c", kind=Kind.YES_NO, values=tuple(yes)),))
    assert only(test).difference == pytest.approx(-1.0)
    assert only(test).word is not Word.CHANCE


def test_two_strata_that_differ_are_told_by_what_could_have_come_out():
    """Four against four in each, all yes on one side of the first and on the other side of the second: 1 way of all that keep the sums.

    Given 4 yes in either stratum and 4 among the first levels, a yes in the first stratum's first has chances C(4,a)^4 / 1810, a from 0 to 4.
    """
    p, least = exact.unlike_strata((4, 4, 0, 4), (0, 4, 4, 4))
    chances = np.array([math.comb(4, a) ** 4 for a in range(5)], float)
    assert chances.sum() == 1810.0
    assert p == pytest.approx(2 / 1810)
    assert least == pytest.approx(2 / 1810)
    factors = {"A": tuple("1111222211112222"), "B": tuple("1111111122222222")}
    yes = (1.0,) * 4 + (0.0,) * 4 + (0.0,) * 4 + (1.0,) * 4
    found = {a.what: a.word for a in answers(Test(factors=factors, responses=(Asked(name="c", kind=Kind.YES_NO, values=yes),)))}
    assert found == {"A": Word.CHANCE, "B": Word.CHANCE, "A:B": Word.REAL}


def test_shuffled_lengths_are_not_surer_than_the_photographs():
    plain = two([0.0] * 5, [3.0, 4.0, 3.5, 4.5, 3.0], Kind.LENGTH)
    noisy = Test(factors=plain.factors, responses=(Asked(name="y", kind=Kind.LENGTH, values=plain.responses[0].values, measuring_sd=8.0),))
    assert (only(plain).word, only(noisy).word) == (Word.REAL, Word.CHANCE)
    assert only(noisy).low < 0.0 < only(noisy).high


def test_too_few_to_shuffle_keep_the_measuring_noise_too():
    plain = two([0.0, 0.0, 1.0], [6.0, 6.5, 7.0], Kind.LENGTH)
    noisy = Test(factors=plain.factors, responses=(Asked(name="y", kind=Kind.LENGTH, values=plain.responses[0].values, measuring_sd=8.0),))
    assert (only(plain).word, only(noisy).word) == (Word.REAL, Word.CHANCE)


def test_times_that_tie_may_be_real_without_a_figure():
    found = only(two([12.0] * 6, [None] * 6, Kind.TIME))
    assert (found.word, found.difference, found.low) == (Word.REAL, None, None)
    followed = Asked(name="y", kind=Kind.TIME, values=(12.0,) * 6 + (None,) * 6, followed=48.0)
    told = only(Test(factors={"A": tuple("111111222222")}, responses=(followed,)))
    assert (told.difference, told.word) == (pytest.approx(36.0), Word.REAL)


def test_where_the_others_do_not_scatter_at_all_a_panel_is_apart_by_what_measuring_adds_and_never_by_rounding():
    def one(values, noise, kind=Kind.AMOUNT, letters="11122"):
        return odd(Test(factors={"A": tuple(letters)}, responses=(Asked(name="s", kind=kind, values=values, noise_sd=noise),)))

    same = (0.0, 100.0, 100.0, 100.0, 100.0)
    assert one(same, (0.0,) * 5) == ()  # nothing known of how sure a figure is: what is left of the scatter is rounding
    (apart,) = one(same, (2.0, 0.5, 0.5, 0.5, 0.5))
    # residual -200/3 with 2/3 of its own figure left, the four others' variance 0.25, two degrees of freedom
    assert (apart.panel, apart.p) == (0, pytest.approx(5 * 2 * stats.t.sf(200 / 3 / np.sqrt(0.25 * 2 / 3), 2)))
    assert one(same, (60.0,) * 5) == ()
    # no crack on three recipes, some on both panels of the fourth: neither lies apart by 3 mm where 4 mm are measuring
    cracks = (8.4, 4.6, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0)
    assert one(cracks, (4.0,) * 8, Kind.LENGTH, "11223344") == ()
    both = one(cracks, (0.02,) * 8, Kind.LENGTH, "11223344")
    assert [o.panel for o in both] == [1, 0]
    step = (np.sqrt(8.4) - np.sqrt(4.6)) / 2.0  # on the root, with a half of each panel's own figure left
    noise = (0.02**2 / (4 * 8.4) + 6 * 0.02**2 / (4 * 0.02)) / 7
    assert both[0].p == pytest.approx(8 * 2 * stats.t.sf(step / np.sqrt(noise / 2.0), 3))
