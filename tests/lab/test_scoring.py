"""Scores of panels: the order in which they come, repeatability, judges put on one level, what goes with what."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import stats

from dribbet.lab.verdict import scoring
from dribbet.lab.verdict.scoring import Given

PANELS = [f"p{i}" for i in range(8)]


def given(*told: tuple[str, int | None]) -> list[Given]:
    return [Given(panel=p, points=v) for p, v in told]


@pytest.mark.parametrize("seed", range(5))
def test_all_panels_come_for_one_thing_before_the_next_and_two_come_again(seed):
    order = scoring.order_of(PANELS, ["cells", "cracks", None], seed)
    assert [c for c, _ in order] == ["cells"] * 10 + ["cracks"] * 10 + [None] * 10
    for i in range(3):
        turn = [p for _, p in order[10 * i : 10 * i + 10]]
        assert sorted(turn[:8]) == PANELS
        assert turn[8:] == turn[:2]
    assert order[:10] != [("cells", p) for _, p in order[10:20]]
    assert order == scoring.order_of(PANELS, ["cells", "cracks", None], seed)


def test_lots_differ_between_seeds_and_a_lone_panel_does_not_come_again():
    assert len({scoring.order_of(PANELS, [None], s) for s in range(6)}) == 6
    assert scoring.order_of(["x"], [None], 1) == ((None, "x"),)
    assert len(scoring.order_of(["x", "y"], [None], 1)) == 3
    assert scoring.order_of([], [None], 1) == ()


def test_what_is_scored_again_counts_for_repeatability_alone():
    told = given(("a", 2), ("b", 5), ("c", None), ("a", 3), ("b", 3), ("c", 4))
    assert scoring.firsts(told) == {"a": 2, "b": 5, "c": None}
    assert scoring.repeats(told) == (1, 2)  # one point off is the same, two are not; what could not be told says nothing
    assert scoring.repeats(given(("a", 2), ("b", 5))) == (0, 0)


def test_judges_who_score_high_and_low_are_put_on_one_level():
    """Means 1.5 and 4.5; of all four 3: the first is raised by 1.5, the second lowered by as much."""
    assert scoring.averaged([{"a": 1, "b": 2}, {"a": 4, "b": 5}]) == {"a": 2.5, "b": 3.5}
    assert scoring.averaged([{"a": 1, "b": 2}]) == {"a": 1.0, "b": 2.0}
    assert scoring.averaged([{"a": 1, "b": 3}, {"a": None, "b": None}]) == {"a": 1.0, "b": 3.0}
    only = scoring.averaged([{"a": 2, "b": 4}, {"b": 5}])  # all: 11 / 3; levels 2/3 up and 4/3 down
    assert only == pytest.approx({"a": 2 + 2 / 3, "b": ((4 + 2 / 3) + (5 - 4 / 3)) / 2})
    assert scoring.averaged([]) == {}


def test_rank_correlation_is_spearmans_with_ties():
    rng = np.random.default_rng(2)
    for _ in range(20):
        x, y = rng.integers(1, 6, 9).astype(float), rng.normal(0, 1, 9)
        expected = float(stats.spearmanr(x, y).statistic)
        assert scoring.goes_with(dict(zip("abcdefghi", x, strict=True)), dict(zip("abcdefghi", y, strict=True))) == pytest.approx(expected, abs=1e-9)


def test_rank_correlation_needs_five_panels_that_differ():
    four = {p: float(i) for i, p in enumerate("abcd")}
    assert scoring.goes_with(four, four) is None
    five = {p: float(i) for i, p in enumerate("abcde")}
    assert scoring.goes_with(five, five) == 1.0
    assert scoring.goes_with(five, {p: -v for p, v in five.items()}) == -1.0
    assert scoring.goes_with(five, dict.fromkeys("abcde", 3.0)) is None
    assert scoring.goes_with(five, four) is None
