"""Which of two was liked better, over many pairs: strengths, whether they could be chance, circles, and one's own repeatability.

Strengths are Bradley and Terry's (1952, Biometrika 39) with Davidson's ties (1970, JASA 65), by maximum likelihood with half a pick of
each kind added to every pair of recipes, so that one that never lost has a strength that can be told (Agresti 2013, ch. 11).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import combinations
from typing import TYPE_CHECKING, Final

import numpy as np
from scipy.special import bdtr, ndtri

from dribbet.lab.verdict.judge import CONFIDENCE
from dribbet.records import Word

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

TWICE: Final = 3  # pairs that come a second time, sides exchanged, to see whether one picks the same again
LEAST_PAIRS: Final = 12
EACH_KIND: Final = 4  # pairs of every two recipes in a sitting, as far as that goes
MOST_PAIRS: Final = 27
FLIPS: Final = 4000
REAL: Final = 1.0 - CONFIDENCE
HALF: Final = 0.5
STEPS: Final = 60


@dataclass(frozen=True, slots=True, kw_only=True)
class PairSeen:
    """One pair as it was picked: recipes on the left and on the right; 1 where the left was liked, -1 the right, 0 neither."""

    left: str
    right: str
    liked: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Strength:
    """One recipe: its chance to be picked before an average one, with its interval."""

    recipe: str
    share: float
    low: float
    high: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Between:
    """Two recipes: how often each was picked, and whether that could be chance."""

    first: str
    second: str
    wins: int
    losses: int
    ties: int
    p: float
    """Exact, of both sides, adjusted by Holm for all pairs of recipes."""
    word: Word


def pairs_of(recipes: Mapping[str, Sequence[str]], seed: int, twice: int = TWICE) -> tuple[tuple[str, str], ...]:
    """Pairs of panels to look at: recipes in turn, panels and sides by lot, the first few once more at the end with sides exchanged.

    No two panels meet again before all panels of their recipes have met.

    Parameters
    ----------
    recipes : mapping of str to sequence of str
        Panels of each recipe.
    seed : int
        Draws the lots; the same seed draws the same pairs.

    Returns
    -------
    tuple of (left, right) panels; empty with fewer than two recipes.
    """
    rng = np.random.default_rng(seed)
    groups = {r: list(p) for r, p in recipes.items() if p}
    kinds = list(combinations(sorted(groups), 2))
    if not kinds:
        return ()
    made: list[tuple[str, str]] = []
    kinds = [kinds[i] for i in rng.permutation(len(kinds))]
    left_over: dict[tuple[str, str], list[tuple[str, str]]] = {}
    for i in range(min(max(LEAST_PAIRS, EACH_KIND * len(kinds) + twice), MOST_PAIRS) - twice):
        kind = kinds[i % len(kinds)]
        if not left_over.get(kind):
            meet = [(x, y) for x in groups[kind[0]] for y in groups[kind[1]]]
            left_over[kind] = [meet[k] for k in rng.permutation(len(meet))]
        left, right = left_over[kind].pop()
        made.append((left, right) if rng.random() < HALF else (right, left))
    made += [(right, left) for left, right in made[:twice]]
    return tuple(made)


def strengths(picks: Sequence[PairSeen]) -> tuple[Strength, ...]:
    """Recipes by how likely each is picked before an average one, best first.

    Examples
    --------
    >>> first, second = strengths([PairSeen(left="a", right="b", liked=1)] * 9 + [PairSeen(left="b", right="a", liked=1)] * 3)
    >>> first.recipe, round(first.share, 2), second.low < 0.5
    ('a', 0.73, True)
    """
    recipes = sorted({r for p in picks for r in (p.left, p.right)})
    if len(recipes) < 2:
        return ()
    at = {r: i for i, r in enumerate(recipes)}
    wins, ties = np.zeros((len(recipes), len(recipes))), np.zeros((len(recipes), len(recipes)))
    for p in picks:
        i, j = at[p.left], at[p.right]
        if p.liked:
            winner, loser = (i, j) if p.liked > 0 else (j, i)
            wins[winner, loser] += 1.0
        else:
            ties[i, j] += 1.0
            ties[j, i] += 1.0
    met = (wins + wins.T + ties) > 0
    wins = wins + HALF * met
    ties = ties + HALF * met * bool(ties.any())
    return tuple(sorted(_fitted(recipes, wins, ties), key=lambda s: -s.share))


def _fitted(recipes: list[str], wins: np.ndarray, ties: np.ndarray) -> list[Strength]:
    """Newton's steps on the strengths (sum nought) and the readiness to call a tie."""
    k = len(recipes)
    x = np.zeros(k + 1)  # log strengths, then log of nu
    x[k] = 0.0 if ties.any() else -30.0
    free = k + (1 if ties.any() else 0)
    ridge = 1e-9 * np.eye(free)
    for _ in range(STEPS):
        gradient, information = _slopes(x, wins, ties, k)
        step = np.linalg.lstsq(information[:free, :free] + ridge, gradient[:free], rcond=None)[0]
        x[:free] += np.clip(step, -1.0, 1.0)
        x[:k] -= x[:k].mean()
        if np.abs(step).max() < 1e-10:
            break
    _, information = _slopes(x, wins, ties, k)
    covariance = np.linalg.pinv(information[:free, :free])[:k, :k]
    z = float(ndtri(0.5 + CONFIDENCE / 2.0))
    made = []
    for i, r in enumerate(recipes):  # against the mean of the others, so that two recipes are told as one against the other
        others = np.array([(1.0 if j == i else -1.0 / (k - 1)) for j in range(k)])
        middle, sd = float(others @ x[:k]), math.sqrt(max(float(others @ covariance @ others), 0.0))
        made.append(Strength(recipe=r, share=_chance(middle), low=_chance(middle - z * sd), high=_chance(middle + z * sd)))
    return made


def _chance(log_odds: float) -> float:
    return 1.0 / (1.0 + math.exp(-min(max(log_odds, -500.0), 500.0)))


def _slopes(x: np.ndarray, wins: np.ndarray, ties: np.ndarray, k: int) -> tuple[np.ndarray, np.ndarray]:
    """Gradient of the log likelihood and expected information of Davidson's model."""
    gradient, information = np.zeros(k + 1), np.zeros((k + 1, k + 1))
    for i in range(k):
        for j in range(i + 1, k):
            n = wins[i, j] + wins[j, i] + ties[i, j]
            if not n:
                continue
            terms = np.array([x[i], x[j], x[k] + (x[i] + x[j]) / 2.0])
            p = np.exp(terms - terms.max())
            p /= p.sum()
            # derivatives of the three terms by (x_i, x_j, log nu)
            d = np.array([[1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [0.5, 0.5, 1.0]])
            mean = p @ d
            seen = np.array([wins[i, j], wins[j, i], ties[i, j]]) @ d
            where = np.array([i, j, k])
            gradient[where] += seen - n * mean
            information[np.ix_(where, where)] += n * ((d * p[:, None]).T @ d - np.outer(mean, mean))
    return gradient, information


def between(picks: Sequence[PairSeen]) -> tuple[Between, ...]:
    """Every pair of recipes that met: an exact sign test, ties left out, all adjusted together.

    Examples
    --------
    >>> told = between([PairSeen(left="a", right="b", liked=1)] * 9 + [PairSeen(left="a", right="b", liked=-1)] * 3)[0]
    >>> round(told.p, 3), str(told.word)  # nine of twelve is still chance
    (0.146, 'could be chance')
    """
    counts: dict[tuple[str, str], list[int]] = {}
    for p in picks:
        first, second = sorted((p.left, p.right))
        if first == second:
            continue
        row = counts.setdefault((first, second), [0, 0, 0])
        liked = p.liked if p.left == first else -p.liked
        row[0 if liked > 0 else 1 if liked < 0 else 2] += 1
    plain = {pair: sign_p(w, lost) for pair, (w, lost, _) in counts.items()}
    adjusted, last = {}, 0.0
    for rank, (pair, chance) in enumerate(sorted(plain.items(), key=lambda item: item[1])):
        last = max(last, min(1.0, (len(plain) - rank) * chance))
        adjusted[pair] = last
    made = []
    for pair, (w, lost, tied) in counts.items():
        word = Word.TOO_FEW if sign_p(w + lost, 0) >= REAL else Word.REAL if adjusted[pair] < REAL else Word.CHANCE
        made.append(Between(first=pair[0], second=pair[1], wins=w, losses=lost, ties=tied, p=adjusted[pair], word=word))
    return tuple(sorted(made, key=lambda b: (b.first, b.second)))


def any_p(picks: Sequence[PairSeen], seed: int = 1) -> float:
    """Chance that recipes would be picked so unlike often if nobody cared which: each pick turned by a coin, many times over.

    The figure is the sum over recipes of (times picked - times left)^2, as in Durbin's rank test (1951, British Journal of Psychology 4).
    """
    counted = [p for p in picks if p.liked and p.left != p.right]
    if not counted:
        return 1.0
    recipes = sorted({r for p in counted for r in (p.left, p.right)})
    at = {r: i for i, r in enumerate(recipes)}
    design = np.zeros((len(counted), len(recipes)))
    for row, p in enumerate(counted):
        design[row, at[p.left]], design[row, at[p.right]] = 1.0, -1.0
    seen = float((np.array([float(p.liked) for p in counted]) @ design) @ (np.array([float(p.liked) for p in counted]) @ design))
    coins = np.random.default_rng(seed).choice((-1.0, 1.0), (FLIPS, len(counted)))
    return float((1 + np.sum(((coins @ design) ** 2).sum(axis=1) >= seen - 1e-9)) / (1 + FLIPS))


def sign_p(wins: int, losses: int) -> float:
    """Chance of so unlike a count, or a more unlike one, if either were picked with even chance: exact, of both sides."""
    n = wins + losses
    return min(1.0, 2.0 * float(bdtr(min(wins, losses), n, 0.5))) if n else 1.0


def repeated(picks: Sequence[tuple[str, str, int]]) -> tuple[int, int]:
    """Pairs of panels that were looked at again: how often the same was picked, and of how many.

    Each pick is (left panel, right panel, liked).
    """
    before: dict[tuple[str, ...], int] = {}
    same = seen = 0
    for left, right, liked in picks:
        key = tuple(sorted((left, right)))
        turned = liked if left == key[0] else -liked
        if key in before:
            seen += 1
            same += before[key] == turned
        before[key] = turned
    return same, seen


def circles(told: Sequence[Between]) -> tuple[tuple[str, str, str], ...]:
    """Recipes that beat each other in a circle: a before b, b before c, c before a (Kendall and Babington Smith 1940)."""
    beats = {(b.first, b.second) if b.wins > b.losses else (b.second, b.first) for b in told if b.wins != b.losses}
    names = sorted({r for pair in beats for r in pair})
    found = []
    for a, b, c in combinations(names, 3):
        for x, y, z in ((a, b, c), (a, c, b)):
            if (x, y) in beats and (y, z) in beats and (z, x) in beats:
                found.append((x, y, z))
    return tuple(found)
