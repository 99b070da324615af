"""A test played through before it is poured: made-up panels by the scatter that is known, judged by the very judge of Decide.

What a plan promises is then what the judge keeps, all that is asked and its closing together included.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Final

import numpy as np

from dribbet.lab.verdict.judge import Word
from dribbet.lab.verdict.laws import Kind
from dribbet.lab.verdict.model import Asked, Test, answers

if TYPE_CHECKING:
    from collections.abc import Mapping

    from dribbet.records import Report

TESTS: Final = 400
MOST_SHARE: Final = 0.995
HALF: Final = 0.5
FOLLOWED_H: Final = 96.0
"""Hours for which a panel is looked at: what has not cracked by then has not cracked."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Played:
    """One response as it is made up: on a panel of `area_dm2`, in the response's own unit (shares 0..1)."""

    name: str
    kind: Kind
    mean: float
    sd: float
    dispersion: float = 1.0
    """Variance over mean of counts and lengths."""
    measuring_sd: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Rehearsed:
    """What came out of many made-up tests."""

    tests: int
    found: float
    """Share of the tests with the effect in which it is called real between the ends."""
    wrong: float
    """Share of the tests without any effect in which anything is called real."""


def _values(rng: np.random.Generator, played: Played, shift: np.ndarray) -> tuple[float | None, ...]:
    """Made-up panels with these means above the usual one."""
    mean = played.mean + shift
    if played.kind is Kind.COUNT:
        mean = np.maximum(mean, 0.05)
        excess = max(played.dispersion - 1.0, 0.0) / max(played.mean, 0.05)  # variance mu + excess mu^2
        rate = mean * rng.gamma(1.0 / excess, excess, mean.shape) if excess > 1e-6 else mean
        return tuple(float(v) for v in rng.poisson(rate))
    if played.kind is Kind.LENGTH:
        mean = np.maximum(mean, 1e-3)
        return tuple(float(v) for v in rng.gamma(mean / max(played.dispersion, 1e-6), max(played.dispersion, 1e-6)))
    if played.kind is Kind.SHARE:
        mean = np.clip(mean, 1.0 - MOST_SHARE, MOST_SHARE)
        usual = min(max(played.mean, 1.0 - MOST_SHARE), MOST_SHARE)
        precision = max(usual * (1.0 - usual) / max(played.sd, 1e-4) ** 2 - 1.0, 1.0)
        return tuple(float(v) for v in rng.beta(mean * precision, (1.0 - mean) * precision))
    if played.kind is Kind.YES_NO:
        return tuple(float(v) for v in rng.random(mean.shape) < np.clip(mean, 0.0, 1.0))
    if played.kind is Kind.TIME:
        hours = rng.exponential(np.maximum(mean, 0.1))
        return tuple(None if h > FOLLOWED_H else float(h) for h in hours)
    return tuple(float(v) for v in rng.normal(mean, max(played.sd, 1e-12)))


def rehearse(
    report: Report, plan: Test, responses: tuple[Played, ...], effect: Mapping[str, float], factor: str, ends: tuple[str, str], seed: int = 7
) -> Rehearsed:
    """Play a plan many times with an effect, and as often with none.

    Parameters
    ----------
    report : callable
        Told of each test; may raise `Cancelled`.
    plan : Test
        Factors, blocks, sheets and areas of the planned panels; its responses are not looked at.
    responses : tuple of Played
        What is asked; the first one carries the effect.
    effect : mapping of level to float
        How much each level of `factor` adds to the first response's mean.
    factor, ends : str, (str, str)
        The pair of levels whose word is wanted.
    """
    rng = np.random.default_rng(seed)
    shift = np.array([effect.get(v, 0.0) for v in plan.factors[factor]])
    nothing = np.zeros(len(shift))
    found = wrong = 0
    for i in range(TESTS):
        report(i, TESTS)
        said = answers(_played(rng, plan, responses, shift))
        pair = [a for a in said if a.response == responses[0].name and a.factors == (factor,) and {a.first, a.second} == set(ends)]
        found += any(a.word is Word.REAL for a in pair)
        wrong += any(a.word is Word.REAL for a in answers(_played(rng, plan, responses, nothing)))
    report(TESTS, TESTS)
    return Rehearsed(tests=TESTS, found=found / TESTS, wrong=wrong / TESTS)


@dataclass(frozen=True, slots=True, kw_only=True)
class Made:
    """One made-up test: what its panels show of the first response, what the judge says of the pair, and whether there was an effect."""

    values: tuple[float | None, ...]
    word: Word
    effect: bool


@dataclass(frozen=True, slots=True)
class Tally:
    """How often one was right."""

    hits: int = 0
    there: int = 0
    """Tests with a difference."""
    alarms: int = 0
    none: int = 0
    """Tests without one."""

    def after(self, made: Made, *, real: bool) -> Tally:
        """The tally with one test more."""
        if made.effect:
            return replace(self, hits=self.hits + real, there=self.there + 1)
        return replace(self, alarms=self.alarms + real, none=self.none + 1)


def one(plan: Test, responses: tuple[Played, ...], effect: Mapping[str, float], factor: str, ends: tuple[str, str], seed: int) -> Made:
    """One made-up test, with the effect or, as often, with none: the seed draws which."""
    rng = np.random.default_rng(seed)
    there = bool(rng.random() < HALF)
    shift = np.array([effect.get(v, 0.0) for v in plan.factors[factor]]) * there
    test = _played(rng, plan, responses, shift)
    pair = [a for a in answers(test) if a.response == responses[0].name and a.factors == (factor,) and {a.first, a.second} == set(ends)]
    return Made(values=test.responses[0].values, word=pair[0].word if pair else Word.TOO_FEW, effect=there)


def _played(rng: np.random.Generator, plan: Test, responses: tuple[Played, ...], shift: np.ndarray) -> Test:
    asked = tuple(
        Asked(name=r.name, kind=r.kind, values=_values(rng, r, shift if i == 0 else np.zeros(len(shift))), measuring_sd=r.measuring_sd)
        for i, r in enumerate(responses)
    )
    return Test(factors=plan.factors, responses=asked, area_dm2=plan.area_dm2, block=plan.block, sheet=plan.sheet)
