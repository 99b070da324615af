"""Judging made-up tests in the window: half with the plan's own effect, half with none; the truth is told only after one said."""

from __future__ import annotations

import numpy as np
import pytest

from dribbet.bench.playing.presenter import PlayingPresenter
from dribbet.lab.verdict import rehearse
from dribbet.lab.verdict.laws import Kind
from dribbet.lab.verdict.model import Test
from dribbet.lab.verdict.rehearse import Made, Played, Tally
from dribbet.records import Word
from tests.bench.conftest import press

PLAN = Test(factors={"A": tuple("111222")}, responses=(), area_dm2=(3.0,) * 6)
WIDTH = Played(name="width", kind=Kind.AMOUNT, mean=4.0, sd=0.1)


def test_half_of_the_tests_have_the_effect_and_the_judge_is_the_one_of_decide():
    made = [rehearse.one(PLAN, (WIDTH,), {"1": 0.0, "2": 2.0}, "A", ("1", "2"), seed) for seed in range(200)]
    assert np.mean([m.effect for m in made]) == pytest.approx(0.5, abs=0.09)
    for m in made:
        gap = np.mean(m.values[3:]) - np.mean(m.values[:3])
        assert gap == pytest.approx(2.0 if m.effect else 0.0, abs=0.4)
    assert all(m.word is Word.REAL for m in made if m.effect)  # twenty standard deviations
    assert np.mean([m.word is Word.REAL for m in made if not m.effect]) < 0.12
    assert made[3] == rehearse.one(PLAN, (WIDTH,), {"1": 0.0, "2": 2.0}, "A", ("1", "2"), 3)


def test_tally_counts_hits_and_false_alarms_apart():
    there, none = (Made(values=(), word=Word.REAL, effect=e) for e in (True, False))
    tally = Tally().after(there, real=True).after(there, real=False).after(none, real=True).after(none, real=False).after(none, real=False)
    assert tally == Tally(hits=1, there=2, alarms=1, none=3)


def test_truth_comes_after_ones_own_word(open_window, desk):
    desk.choose_series("e1")
    window = open_window(desk)
    window.walk("ask")
    press(window, "J")
    assert window.current == "playing"
    page = window.page("playing")
    assert page.view.told == page.view.tallies == ()
    assert len(page.plots.plots[0].points) == 8
    press(window, "R")
    made = page.presenter.made()
    assert page.view.told[0].startswith("There was a difference of" if made.effect else "There was no difference")
    assert page.view.told[1] == ("The judge: real." if made.word is Word.REAL else "The judge: could be chance.")
    before = page.presenter.you
    press(window, "C")  # one says it once
    assert page.presenter.you == before
    press(window, "Space")
    assert page.view.told == ()
    assert page.presenter.made() != made
    press(window, "X")
    assert window.current == "ask"


def test_points_are_drawn_as_they_are_judged(desk):
    """Lengths per dm2: the panel's figure over its face."""
    desk.choose_series("e1")
    presenter = PlayingPresenter(desk)
    view = presenter.view()
    assert view.head == "Crack length, mm/dm²"
    made = presenter.made()
    areas = presenter._played.plan.area_dm2
    assert [y for _, y, _ in view.plot.points] == pytest.approx([v / a for v, a in zip(made.values, areas, strict=True)])
    assert [words for _, words in view.plot.levels] == ["conditioner", "glue"]


def test_plan_that_promises_nothing_is_not_played(open_window, desk, monkeypatch):
    monkeypatch.setattr("dribbet.bench.playing.presenter.rehearsal", lambda desk, series: None)
    desk.choose_series("e1")
    window = open_window(desk)
    window.walk("playing")
    assert window.page("playing").view.cannot
    press(window, "Space")
    assert window.current == "ask"
