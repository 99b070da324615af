"""What a further test is worth: it goes where the best may lie, and stops where nothing is left."""

from __future__ import annotations

import math

import numpy as np
import pytest

from dribbet.lab.plan import next_pour
from dribbet.lab.plan.axes import axis_of, handy
from dribbet.lab.plan.next_pour import Along, Place, Sought, outlook
from dribbet.records import Factor


def asked(values_at, levels, each=2, sd=0.2, more=True, seed=1, reach=(0.0, 10.0)):
    """Outlook after panels at levels of one thing varied, each with its luck."""
    rng = np.random.default_rng(seed)
    rows = [(level,) for level in levels for _ in range(each)]
    values = tuple(values_at(x) + rng.normal(0.0, sd) for (x,) in rows)
    along = Along(levels=tuple(levels), others=next_pour.places(levels, *reach))
    return outlook([along], rows, [Sought(values=values, more=more, sd=sd)])


def test_a_response_that_still_rises_at_the_last_level_asks_for_more():
    out = asked(lambda v: v, (1.0, 2.0, 3.0))
    assert out.best == (3.0,)
    assert out.worths[0].place is Place.ABOVE
    assert out.worths[0].gain > 2.0 * max(w.gain for w in out.worths if w.place is Place.BETWEEN)


def test_where_less_is_wanted_it_goes_the_other_way():
    out = asked(lambda v: v, (1.0, 2.0, 3.0), more=False)
    assert (out.best, out.worths[0].place) == ((1.0,), Place.BELOW)


def test_a_peak_between_two_levels_is_looked_for_there():
    out = asked(lambda v: -((v - 2.5) ** 2), (1.0, 2.0, 3.0, 4.0), sd=0.1)
    assert out.worths[0].place is Place.BETWEEN
    assert 2.0 < out.worths[0].at[0] < 3.0


def test_panels_poured_alike_that_agree_to_the_last_digit_are_learned_from():
    """Hours to a first crack seen between the same two looks: no scatter at all, and a matrix that had no root."""
    rows = [(0.0,)] * 4 + [(1.0,)] * 4
    along = Along(levels=(0.0, 1.0), others=())
    out = outlook([along], rows, [Sought(values=(15.0,) * 4 + (48.0,) * 4, more=True, sd=1e-6)])
    assert (out.best, out.sure) == ((1.0,), pytest.approx(1.0, abs=1e-6))


def test_round_a_peak_that_is_found_nothing_is_left_to_pour():
    out = asked(lambda v: -4.0 * (v - 2.0) ** 2, (1.0, 1.9, 2.0, 2.1, 3.0), each=4, sd=0.1)
    assert max(w.gain for w in out.worths) < next_pour.NOTHING_LEFT
    assert out.sure > 0.9


def test_worth_is_the_closed_form_where_there_is_one():
    """Two recipes known only by their prior: the gain of the better mean of two normals (Clark 1961, Operations Research 9)."""
    mean, variance, noise = np.array([0.5, 0.5]), 0.04, 0.02
    curve = next_pour._Curve(mean, np.diag([variance, 1e-12]), noise)
    rng = np.random.default_rng(3)
    after = next_pour._after(curve, [0, 0], rng.standard_normal((200_000, 2)))
    moved = math.sqrt(variance**2 / (variance + noise / 2.0))  # sd of the mean after two panels
    assert float(np.maximum(after[:, 0], after[:, 1]).mean() - 0.5) == pytest.approx(moved / math.sqrt(2.0 * math.pi), rel=0.01)


def test_the_curve_is_the_posterior_of_two_panels_worked_by_hand():
    """Panels at one place only: prior mean at their mean, so nothing moves, and the variance falls as 1 / (1 / k + n / s2)."""
    x = np.array([[0.0], [0.0]])
    curve = next_pour._learn(x, np.array([1.0, 3.0]), x[:1], 1.0, [False])
    assert curve.mean[0] == pytest.approx(2.0)
    sizes = {(size * 1.0) ** 2 * (shape.free + 1.0) for size in (0.5, 1.0, 2.0) for shape in next_pour.SHAPES}
    variances = [1.0 / (1.0 / k + 2.0) for k in sizes]
    assert min(variances) <= curve.covariance[0, 0] <= max(variances)


def test_two_responses_that_pull_apart_meet_between():
    rows = [(v,) for v in (0.0, 1.0, 2.0, 3.0, 4.0) for _ in range(2)]
    cells = Sought(values=tuple(v for (v,) in rows), more=True, sd=0.2)
    cracks = Sought(values=tuple(v * v / 4.0 for (v,) in rows), more=False, sd=0.2)
    out = outlook([Along(levels=(0.0, 1.0, 2.0, 3.0, 4.0))], rows, [cells, cracks])
    assert out.best in ((2.0,), (1.0,))
    alone = outlook([Along(levels=(0.0, 1.0, 2.0, 3.0, 4.0))], rows, [cells])
    assert alone.best == (4.0,)


def test_a_range_that_was_asked_counts_in_place_of_more_and_less():
    rows = [(v,) for v in (0.0, 1.0, 2.0, 3.0) for _ in range(2)]
    sought = Sought(values=tuple(10.0 * v for (v,) in rows), more=True, sd=1.0, low=8.0, high=12.0)
    assert outlook([Along(levels=(0.0, 1.0, 2.0, 3.0))], rows, [sought]).best == (1.0,)


def test_of_names_only_tried_ones_are_weighed_up():
    rows = [(v,) for v in (0.0, 1.0) for _ in range(3)]
    out = outlook([Along(levels=(0.0, 1.0), named=True)], rows, [Sought(values=(1.0, 1.1, 0.9, 3.0, 3.1, 2.9), more=True, sd=0.1)])
    assert out.best == (1.0,)
    assert {w.place for w in out.worths} == {Place.TRIED}
    assert max(w.gain for w in out.worths) < 0.01


def test_span_is_how_far_the_desirability_moves_along_each_thing():
    rows = [(a, b) for a in (0.0, 1.0) for b in (0.0, 1.0) for _ in range(2)]
    out = outlook([Along(levels=(0.0, 1.0)), Along(levels=(0.0, 1.0))], rows, [Sought(values=tuple(10.0 * b for _, b in rows), more=True, sd=0.3)])
    assert out.spans[1] > 0.4
    assert out.spans[0] < 0.05


def test_a_level_without_it_that_was_not_tried_has_a_place_of_its_own():
    rows = [(v,) for v in (2.0, 4.0) for _ in range(2)]
    along = Along(levels=(2.0, 4.0), others=(3.0,), without=0.0)
    out = outlook([along], rows, [Sought(values=(1.0, 1.2, 2.0, 2.2), more=False, sd=0.1)])
    assert out.worths[0].place is Place.WITHOUT


def test_nothing_to_learn_from_is_refused():
    with pytest.raises(ValueError, match="no panel"):
        outlook([Along(levels=(0.0,))], [], [])


def test_the_same_question_has_the_same_answer():
    assert asked(lambda v: v, (1.0, 2.0, 3.0)) == asked(lambda v: v, (1.0, 2.0, 3.0))


@pytest.mark.parametrize(
    ("factor", "low", "high", "middle"),
    [
        (Factor.RATIO, 1.0, 3.0, 1.667),  # half and a quarter of paint: three eighths
        (Factor.WATER_SHARE, 0.10, 0.20, 0.15),
        (Factor.SILICONE, 0.0, 8.0, 2.0),  # ln 1 and ln 9
        (Factor.DWELL, 0.0, 120.0, 26.06),  # 10 s * (sqrt(13) - 1)
    ],
)
def test_the_middle_lies_on_the_axis_on_which_a_factor_acts(factor, low, high, middle):
    axis = axis_of(factor)
    assert axis.back((axis.to(low) + axis.to(high)) / 2.0) == pytest.approx(middle, rel=1e-3)


@pytest.mark.parametrize(
    ("factor", "level", "said"),
    [
        (Factor.HEAT, 2.4, 2.0),
        (Factor.ALCOHOL, 0.004, 0.0),
        (Factor.RATIO, 2.618, 2.6),
        (Factor.FILM_LEFT, 0.001533, 0.0015),
        (Factor.POURED, 0.0689, 0.07),
    ],
)
def test_levels_are_such_as_a_hand_can_make(factor, level, said):
    assert handy(factor, level) == said


def test_how_alike_two_recipes_are_taken_to_be():
    """Free 1: 1 + exp(-d^2 / (2 * 0.8^2)); straight 0.5 and bent 1: 0.1 of it + 1 + 0.5 a b + a^2 b^2. Names: 0.3 where unlike."""
    a, b = np.array([[0.5]]), np.array([[-0.3]])
    near = math.exp(-0.5 * (0.8 / 0.8) ** 2)
    free, straight, bent = next_pour.SHAPES
    assert next_pour._kernel(a, b, [False], free)[0, 0] == pytest.approx(1.0 + near)
    assert next_pour._kernel(a, b, [False], straight)[0, 0] == pytest.approx(1.0 + 0.1 * near - 0.15)
    assert next_pour._kernel(a, b, [False], bent)[0, 0] == pytest.approx(1.0 + 0.1 * near - 0.075 + 0.25 * 0.09)
    assert next_pour._kernel(a, a + 0.4, [False], free)[0, 0] == pytest.approx(1.0 + math.exp(-0.5 * 0.25))
    assert next_pour._kernel(np.array([[0.0]]), np.array([[1.0]]), [True], free)[0, 0] == pytest.approx(1.0 + 0.3 + 0.3)
    assert next_pour._kernel(np.array([[1.0]]), np.array([[1.0]]), [True], free)[0, 0] == pytest.approx(3.0)


def test_desirability_grows_beyond_what_was_seen_and_never_reaches_nought():
    """Seen 10 to 20: half a width of room on both sides, so 0 to... from 5 to 25."""
    s = Sought(values=(10.0, 20.0), more=True, sd=1.0)
    assert next_pour._seen(s) == (5.0, 25.0)
    d = next_pour._desirability(np.array([[[10.0, 20.0, 25.0, 30.0, 0.0]]]), [s], [(5.0, 25.0)])[0]
    assert d.tolist() == pytest.approx([0.25, 0.75, 1.0, 1.0, 1e-3])
    less = next_pour._desirability(np.array([[[10.0]]]), [Sought(values=(10.0, 20.0), more=False, sd=1.0)], [(5.0, 25.0)])[0]
    assert less.tolist() == pytest.approx([0.75])
    quiet = Sought(values=(10.0, 10.5), more=True, sd=1.0)  # what was seen is luck: twice the scatter is taken as its width
    assert next_pour._seen(quiet) == pytest.approx((8.25, 12.25))


def test_desirability_is_the_weighted_geometric_mean():
    two = [Sought(values=(0.0,), more=True, sd=1.0, weight=3.0), Sought(values=(0.0,), more=True, sd=1.0, weight=1.0)]
    d = next_pour._desirability(np.array([[[0.5]], [[0.25]]]), two, [(0.0, 1.0), (0.0, 1.0)])[0]
    assert d[0] == pytest.approx(0.5**0.75 * 0.25**0.25)


def test_outside_a_range_it_falls_by_the_width_of_the_range():
    s = Sought(values=(0.0, 50.0), more=True, sd=1.0, low=20.0, high=30.0)
    d = next_pour._desirability(np.array([[[25.0, 15.0, 33.0, 45.0]]]), [s], [(0.0, 50.0)])[0]
    assert d.tolist() == pytest.approx([1.0, 0.5, 0.7, 1e-3])
    least = Sought(values=(0.0, 50.0), more=True, sd=1.0, low=20.0)
    assert next_pour._desirability(np.array([[[10.0, 60.0]]]), [least], [(0.0, 50.0)])[0].tolist() == pytest.approx([0.8, 1.0])


def test_places_reach_a_third_beyond_what_was_tried_and_stay_in_reach():
    even = next_pour.places((2.0, 4.0), 0.0, 10.0)
    assert (len(even), even[0], even[-1]) == (25, pytest.approx(1.3), pytest.approx(4.7))
    assert next_pour.places((2.0, 4.0), 1.9, 4.1)[0] == 1.9
    assert next_pour.places((2.0, 4.0), 1.9, 4.1)[-1] == 4.1


def test_what_a_test_costs_in_panels():
    out = asked(lambda v: v, (1.0, 2.0, 3.0))
    assert {w.panels for w in out.worths if w.place is not Place.TRIED} == {4}
    assert {w.panels for w in out.worths if w.at == out.best} == {2}
    assert out.repeat.panels == 3
    assert out.worths[0].each == pytest.approx(out.worths[0].gain / 4.0)


@pytest.mark.parametrize(
    ("factor", "level", "said"), [(Factor.HEAT_DISTANCE, 0.024, 0.02), (Factor.RATIO, 1.25, 1.2), (Factor.FILM_LEFT, 0.0172, 0.017)]
)
def test_small_levels_keep_two_figures_and_shares_two_places(factor, level, said):
    assert handy(factor, level) == said


def test_axes_hold_at_their_ends():
    drops = axis_of(Factor.SILICONE)
    assert (drops.to(-1.0), drops.back(-0.5)) == (0.0, 0.0)
    assert axis_of(Factor.RATIO).back(axis_of(Factor.RATIO).to(19.0)) == pytest.approx(19.0)
    assert axis_of(Factor.FILM_LEFT).to(0.002) == 0.002
