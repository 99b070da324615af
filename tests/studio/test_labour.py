"""How long a panel keeps a person at the bench: weighing and pouring, without the time away."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

import pytest

from dribbet.bench.stations.decide import liked
from dribbet.studio.standing import labour


def made(run, minutes: dict[str, float], weigh_s: float = 30.0):
    """The run with its panels poured so long each, and each cup weighed in two goes a person-away apart."""
    panels = {p.id: p for p in run.panels}
    steps, seen = [], {}
    for s in run.steps:
        at = run.poured_at(panels[s.panel_id])
        n = seen[s.panel_id] = seen.get(s.panel_id, 0) + 1
        if n <= 2:
            late = timedelta(minutes=minutes[panels[s.panel_id].recipe] - 1.0) if n == 2 else timedelta()
            steps.append(replace(s, at=at + late, planned_s=60.0))
    weighings, count = [], {}
    for w in run.weighings:
        n = count[w.mix_id] = count.get(w.mix_id, 0) + 1
        away = timedelta(hours=2) if n > 2 else timedelta()  # after the second one, nobody was there for two hours
        weighings.append(replace(w, at=run.steps[0].at - timedelta(days=1) + n * timedelta(seconds=weigh_s) + away))
    return replace(run, steps=tuple(steps), weighings=tuple(weighings))


def test_pouring_and_weighing_count_and_time_away_does_not(desk):
    desk.choose_series("k2")
    run = made(desk.need_run(), {"a": 4.0, "b": 9.0})
    for letter, minutes in (("a", 4.0), ("b", 9.0)):
        weighing = 0.0
        for mix in (m for m in run.mixes if letter in m.recipes):
            n = sum(w.mix_id == mix.id for w in run.weighings)
            share = sum(p.recipe in mix.recipes and mix.block in (0, p.block) for p in run.panels)
            weighing += (n - 1 - (n > 2)) * 30.0 / share  # gaps of half a minute, but the one of two hours
        assert weighing > 0.0
        assert labour.of_recipes(run, "ab")[letter] == pytest.approx(60.0 * minutes + weighing)


def test_nothing_is_said_of_recipes_that_were_not_poured(desk):
    desk.choose_series("e1")
    assert labour.of_recipes(desk.need_run(), "ab") == {}


def test_good_is_plotted_against_time_where_recipes_take_unlike_long(desk, monkeypatch):
    desk.choose_series("k2")
    run = desk.need_run()
    monkeypatch.setattr(labour, "of_recipes", lambda run, letters: {"a": 240.0, "b": 900.0})
    (plot,) = liked.labour_plot(desk, run)
    assert [words for _, words in plot.levels] == ["4.0 min", "15 min"]
    assert {(x, name) for x, _, name in plot.points} == {(0.0, "a"), (1.0, "b")}
    monkeypatch.setattr(labour, "of_recipes", lambda run, letters: {"a": 860.0, "b": 900.0})
    assert liked.labour_plot(desk, run) == ()  # hands are no clocks
