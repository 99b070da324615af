"""Blind picks: strengths against other ways to compute them, words against hand-worked chances."""

from __future__ import annotations

import math
from itertools import product

import numpy as np
import pytest
from scipy.optimize import minimize

from dribbet.lab.verdict import preference
from dribbet.lab.verdict.preference import PairSeen, any_p, between, circles, pairs_of, repeated, sign_p, strengths
from dribbet.records import Word


def picks(*told: tuple[str, str, int, int, int]) -> list[PairSeen]:
    """(first, second, times first was picked, times second, times neither)."""
    made = []
    for a, b, wins, losses, ties in told:
        made += (
            [PairSeen(left=a, right=b, liked=1)] * wins + [PairSeen(left=b, right=a, liked=1)] * losses + [PairSeen(left=a, right=b, liked=0)] * ties
        )
    return made


def test_two_recipes_have_the_odds_of_their_picks_with_half_a_pick_added():
    first, second = strengths(picks(("a", "b", 9, 3, 0)))
    assert first.share == pytest.approx(9.5 / 13.0)
    assert second.share == pytest.approx(3.5 / 13.0)
    half = 1.959964 * math.sqrt(1.0 / 9.5 + 1.0 / 3.5)  # standard error of the log odds
    odds = math.log(9.5 / 3.5)
    assert first.low == pytest.approx(1.0 / (1.0 + math.exp(-(odds - half))), abs=1e-4)
    assert first.high == pytest.approx(1.0 / (1.0 + math.exp(-(odds + half))), abs=1e-4)


def test_strengths_with_ties_are_the_maximum_of_davidsons_likelihood():
    told = (("a", "b", 7, 3, 2), ("b", "c", 6, 4, 1), ("a", "c", 8, 1, 3))

    def against(x: np.ndarray) -> float:
        s, nu = dict(zip("abc", (*x[:2], -x[0] - x[1]), strict=True)), math.exp(x[2])
        total = 0.0
        for a, b, wins, losses, ties in told:
            pa, pb = math.exp(s[a]), math.exp(s[b])
            whole = pa + pb + nu * math.sqrt(pa * pb)
            total -= (wins + 0.5) * math.log(pa / whole) + (losses + 0.5) * math.log(pb / whole)
            total -= (ties + 0.5) * math.log(nu * math.sqrt(pa * pb) / whole)
        return total

    best = minimize(against, np.zeros(3), method="BFGS").x
    whole = dict(zip("abc", (*best[:2], -best[0] - best[1]), strict=True))
    for s in strengths(picks(*told)):
        others = [v for r, v in whole.items() if r != s.recipe]
        middle = whole[s.recipe] - sum(others) / 2.0
        assert s.share == pytest.approx(1.0 / (1.0 + math.exp(-middle)), abs=1e-4)
        along = np.array([{"a": (1.5, 0.0), "b": (0.0, 1.5), "c": (-1.5, -1.5)}[s.recipe]]).ravel()  # against the mean of the others
        sd = math.sqrt(along @ np.linalg.inv(_curvature(against, best))[:2, :2] @ along)
        assert s.low == pytest.approx(1.0 / (1.0 + math.exp(-(middle - 1.959964 * sd))), abs=5e-3)
        assert s.high == pytest.approx(1.0 / (1.0 + math.exp(-(middle + 1.959964 * sd))), abs=5e-3)


def _curvature(f, at: np.ndarray, step: float = 1e-3) -> np.ndarray:
    """Second derivatives by differences."""
    n = len(at)
    out = np.empty((n, n))
    for i in range(n):
        for j in range(n):
            e, g = step * np.eye(n)[i], step * np.eye(n)[j]
            out[i, j] = (f(at + e + g) - f(at + e - g) - f(at - e + g) + f(at - e - g)) / (4 * step * step)
    return out


def test_one_that_never_lost_has_a_strength_that_can_be_told():
    first = strengths(picks(("a", "b", 6, 0, 0)))[0]
    assert 0.9 < first.share < 1.0
    assert first.low > 0.4


@pytest.mark.parametrize(
    ("wins", "losses", "p"), [(9, 3, 0.14599609375), (6, 0, 0.03125), (10, 2, 0.03857421875), (5, 5, 1.0), (0, 0, 1.0), (3, 0, 0.25)]
)
def test_the_sign_test_is_exact(wins, losses, p):
    assert sign_p(wins, losses) == pytest.approx(p)
    assert sign_p(losses, wins) == pytest.approx(p)


def test_nine_of_twelve_is_chance_ten_is_not_and_five_cannot_say():
    assert between(picks(("a", "b", 9, 3, 0)))[0].word is Word.CHANCE
    assert between(picks(("a", "b", 10, 2, 4)))[0].word is Word.REAL  # ties say nothing
    assert between(picks(("a", "b", 5, 0, 0)))[0].word is Word.TOO_FEW
    assert between(picks(("a", "b", 6, 0, 0)))[0].word is Word.REAL
    assert between(picks(("a", "b", 5, 1, 0)))[0].word is Word.CHANCE


def test_pairs_of_recipes_are_judged_together():
    told = between(picks(("a", "b", 10, 2, 0), ("a", "c", 6, 6, 0), ("b", "c", 7, 5, 0)))
    assert told[0].p == pytest.approx(3 * 0.03857421875)
    assert told[0].word is Word.CHANCE
    assert (told[0].wins, told[0].losses) == (10, 2)


def test_sides_do_not_matter():
    a = between([PairSeen(left="a", right="b", liked=1), PairSeen(left="b", right="a", liked=-1)])[0]
    assert (a.wins, a.losses, a.ties) == (2, 0, 0)


def test_whether_anything_was_liked_more_is_the_share_of_coins_that_do_as_much():
    told = picks(("a", "b", 3, 0, 0), ("b", "c", 3, 0, 0))
    figures = []
    for coins in product((-1, 1), repeat=6):  # all 64 ways to turn the picks
        counted = {"a": sum(coins[:3]), "b": -sum(coins[:3]) + sum(coins[3:]), "c": -sum(coins[3:])}
        figures.append(sum(v * v for v in counted.values()))
    exact = sum(f >= 18 for f in figures) / 64.0
    assert any_p(told) == pytest.approx(exact, abs=0.02)
    assert any_p(picks(("a", "b", 0, 0, 4))) == 1.0


def test_without_a_liking_anything_is_called_liked_one_time_in_twenty():
    rng = np.random.default_rng(5)
    called = 0
    for _ in range(200):
        told = [PairSeen(left=a, right=b, liked=int(rng.choice((-1, 1)))) for a, b in (("a", "b"), ("b", "c"), ("a", "c")) for _ in range(6)]
        called += any_p(told) < preference.REAL
    assert called / 200 < 0.05 + 2.0 * math.sqrt(0.05 * 0.95 / 200)


def test_a_circle_is_found_and_an_order_is_none():
    assert circles(between(picks(("a", "b", 4, 1, 0), ("b", "c", 4, 1, 0), ("a", "c", 1, 4, 0)))) == (("a", "b", "c"),)
    assert circles(between(picks(("a", "b", 4, 1, 0), ("b", "c", 4, 1, 0), ("a", "c", 4, 1, 0)))) == ()


def test_the_same_pair_again_counts_as_alike_whichever_side():
    assert repeated([("x", "y", 1), ("u", "v", 0), ("y", "x", -1), ("v", "u", 1)]) == (1, 2)
    assert repeated([("x", "y", 1)]) == (0, 0)


def test_pairs_balance_recipes_panels_and_sides_and_some_come_twice():
    groups = {"a": ("a1", "a2"), "b": ("b1", "b2"), "c": ("c1", "c2")}
    pairs = pairs_of(groups, seed=4)
    assert len(pairs) == 4 * 3 + 3
    first = pairs[:-3]
    kinds = [tuple(sorted((x[0], y[0]))) for x, y in first]
    assert {kinds.count(k) for k in set(kinds)} == {4}
    assert len({frozenset(p) for p in first}) == len(first)  # every two panels once
    assert list(pairs[-3:]) == [(right, left) for left, right in first[:3]]
    assert pairs == pairs_of(groups, seed=4) != pairs_of(groups, seed=5)
    left = sum(x < y for x, y in [p for s in range(40) for p in pairs_of(groups, seed=s)[:-3]])
    assert abs(left - 240) < 45  # sides by lot


def test_two_recipes_have_twelve_pairs_and_one_has_none():
    assert len(pairs_of({"a": ("a1", "a2"), "b": ("b1",)}, 1)) == 12
    assert pairs_of({"a": ("a1",), "b": ()}, 1) == ()
    assert len(pairs_of({r: (f"{r}1",) for r in "abcdefgh"}, 1)) == 27
