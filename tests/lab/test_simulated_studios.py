"""Whole tests poured by simulated artists: how often the judge is right, and how often it cries wolf."""

from __future__ import annotations

import numpy as np
import pytest

from dribbet.lab.verdict import judge
from dribbet.lab.verdict.judge import Word

STUDIOS = 1200


def words(rng: np.random.Generator, effect: float, panels: int, levels: int, sd: float = 12.0, measuring_sd: float = 0.0) -> float:
    """Share of simulated tests in which the last level is called really different from the first."""
    real = 0
    for _ in range(STUDIOS):
        poured = [rng.normal(100.0 + effect * i / (levels - 1), sd, panels).tolist() for i in range(levels)]
        found = judge.compare(poured[0], poured[-1], others=poured[1:-1], measuring_sd=measuring_sd)
        real += found.word is Word.REAL
    return real / STUDIOS


@pytest.mark.parametrize(("panels", "levels"), [(2, 2), (3, 2), (4, 2), (2, 3), (3, 4)])
def test_without_an_effect_about_one_test_in_twenty_cries_wolf(panels, levels):
    assert words(np.random.default_rng(1), 0.0, panels, levels) < 0.07


@pytest.mark.parametrize(("panels", "levels"), [(3, 2), (4, 3), (6, 2)])
def test_difference_that_the_margin_promises_is_seen_about_four_times_in_five_and_a_little_less_with_three_panels(panels, levels):
    df = levels * (panels - 1)
    promised = judge.smallest_difference(12.0, panels, df)
    wanted = 0.70 if panels == 3 else 0.80  # Welch pays for so few panels; the formula of the science page does not know it
    assert words(np.random.default_rng(2), promised, panels, levels) == pytest.approx(wanted, abs=0.07)


def test_measuring_noise_as_large_as_the_effect_keeps_the_judge_quiet():
    loud = words(np.random.default_rng(3), 30.0, 6, 2)
    quiet = words(np.random.default_rng(3), 30.0, 6, 2, measuring_sd=40.0)
    assert loud > 0.8
    assert quiet < 0.03


def test_intervals_hold_the_truth_nineteen_times_in_twenty():
    rng, held = np.random.default_rng(4), 0
    for _ in range(STUDIOS):
        a, b = rng.normal(100.0, 12.0, 3), rng.normal(120.0, 12.0, 3)
        found = judge.compare(a.tolist(), b.tolist())
        held += found.low <= -20.0 <= found.high
    assert held / STUDIOS == pytest.approx(0.95, abs=0.03)


def test_intervals_of_counts_hold_the_truth():
    rng, held = np.random.default_rng(5), 0
    for _ in range(STUDIOS):
        found = judge.compare(rng.poisson(20, 4).tolist(), rng.poisson(32, 4).tolist(), count=True)
        held += found.low <= -12.0 <= found.high
    assert held / STUDIOS == pytest.approx(0.95, abs=0.04)


def test_asking_many_things_of_one_test_cries_wolf_no_more_often():
    rng, alarms = np.random.default_rng(6), 0
    for _ in range(STUDIOS // 2):
        asked = [judge.compare(rng.normal(0, 1, 4).tolist(), rng.normal(0, 1, 4).tolist(), questions=5) for _ in range(5)]
        alarms += any(d.word is Word.REAL for d in judge.judge_all(asked))
    assert alarms / (STUDIOS // 2) < 0.08
