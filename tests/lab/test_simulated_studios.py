"""Whole tests poured by simulated artists: how often the judge is right, and how often it cries wolf."""

from __future__ import annotations

import numpy as np
import pytest

from dribbet.lab.plan import power
from dribbet.lab.plan.power import Model, Scatter
from dribbet.lab.verdict.judge import Word
from dribbet.lab.verdict.laws import Kind
from dribbet.lab.verdict.model import Answer, Asked, Test, answers

STUDIOS = 800
SD = 12.0


def poured(rng: np.random.Generator, means: list[float], panels: int, measuring_sd: float = 0.0) -> tuple[Answer, ...]:
    values = [float(v) for mean in means for v in rng.normal(mean, SD, panels)]
    asked = Asked(name="y", kind=Kind.AMOUNT, values=tuple(values), measuring_sd=measuring_sd)
    return answers(Test(factors={"A": tuple(str(i) for i, _ in enumerate(means) for _ in range(panels))}, responses=(asked,)))


def share(seed: int, means: list[float], panels: int, measuring_sd: float = 0.0) -> float:
    """Share of simulated tests in which anything is called real."""
    rng = np.random.default_rng(seed)
    return sum(any(a.word is Word.REAL for a in poured(rng, means, panels, measuring_sd)) for _ in range(STUDIOS)) / STUDIOS


@pytest.mark.parametrize(("panels", "levels"), [(2, 2), (3, 2), (4, 2), (2, 3), (3, 4)])
def test_without_an_effect_about_one_test_in_twenty_cries_wolf(panels, levels):
    assert share(1, [100.0] * levels, panels) < 0.07


@pytest.mark.parametrize(("panels", "levels"), [(3, 2), (4, 3), (6, 2), (3, 4)])
def test_difference_that_the_margin_promises_is_seen_about_four_times_in_five(panels, levels):
    known = Scatter(sd=SD, df=12, mean=100.0, dispersion=1.0, panels=20, sources=("Kelp 02",))
    pairs = levels * (levels - 1) // 2
    promised = power.can_show(Model.MEAN, known, panels, levels * (panels - 1), questions=pairs, repeats=panels)
    rng = np.random.default_rng(2)
    means = [100.0 + promised * (i == levels - 1) for i in range(levels)]
    seen = 0
    for _ in range(STUDIOS):
        found = [a for a in poured(rng, means, panels) if str(levels - 1) in (a.first, a.second)]
        seen += found[0].word is Word.REAL  # the first level against the last
    assert seen / STUDIOS == pytest.approx(0.80, abs=0.075)


def test_measuring_noise_as_large_as_the_effect_keeps_the_judge_quiet():
    assert share(3, [100.0, 130.0], 6) > 0.8
    assert share(3, [100.0, 130.0], 6, measuring_sd=40.0) < 0.03


def test_intervals_hold_the_truth_nineteen_times_in_twenty():
    rng, held = np.random.default_rng(4), 0
    for _ in range(STUDIOS):
        (found,) = poured(rng, [100.0, 120.0], 3)
        held += found.low <= 20.0 <= found.high
    assert held / STUDIOS == pytest.approx(0.95, abs=0.03)


def test_intervals_of_counts_hold_the_truth():
    rng, held = np.random.default_rng(5), 0
    for _ in range(STUDIOS):
        values = (*rng.poisson(20, 4), *rng.poisson(32, 4))
        asked = Asked(name="y", kind=Kind.COUNT, values=tuple(float(v) for v in values))
        (found,) = answers(Test(factors={"A": tuple("11112222")}, responses=(asked,)))
        held += found.low <= 12.0 <= found.high
    assert held / STUDIOS == pytest.approx(0.97, abs=0.025)  # a little wide: what goes beyond Poisson is looked for and is not there


def test_asking_many_things_of_one_test_cries_wolf_no_more_often():
    rng, alarms = np.random.default_rng(6), 0
    for _ in range(STUDIOS // 2):
        asked = tuple(Asked(name=f"y{i}", kind=Kind.AMOUNT, values=tuple(float(v) for v in rng.normal(0, 1, 8))) for i in range(5))
        alarms += any(a.word is Word.REAL for a in answers(Test(factors={"A": tuple("11112222")}, responses=asked)))
    assert alarms / (STUDIOS // 2) < 0.08


def test_a_true_effect_is_found_beside_a_factor_that_matters():
    """Crossed 2 x 2, three panels each; B does six standard deviations, A two and a half."""
    rng, seen = np.random.default_rng(7), 0
    a, b = np.repeat([0, 0, 1, 1], 3), np.repeat([0, 1, 0, 1], 3)
    for _ in range(STUDIOS // 2):
        y = 10 + 2.5 * a + 6.0 * b + rng.normal(0, 1, 12)
        asked = Asked(name="y", kind=Kind.AMOUNT, values=tuple(float(v) for v in y))
        found = {x.what: x.word for x in answers(Test(factors={"A": tuple(map(str, a)), "B": tuple(map(str, b))}, responses=(asked,)))}
        seen += found["A"] is Word.REAL
    assert seen / (STUDIOS // 2) > 0.8
