"""Decide's plots of how good each recipe is: against what a panel of it costs and how long it takes, and by how much each thing asked weighs."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.bench.parts.response_plots import PlotView
from dribbet.lab.plan import goals
from dribbet.records import Aim, Goal
from dribbet.studio.standing import labour, panel_costs
from dribbet.words import decide as decide_words
from dribbet.words import verdict as verdict_words
from dribbet.words.tongue import name

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping

    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

ALIKE_COST: Final = 0.02
ALIKE_LABOUR: Final = 0.10  # of the longest: hands are no clocks
MOST_PLAIN: Final = 2  # fewer recipes than this are not plotted against each other
LEAST_RANKED: Final = 3  # without ranges of a goal the best that was seen is 1 and the worst 0: two recipes are all or nothing
STEPS: Final = 20
MOST_PLOTS: Final = 3


def goal_of(desk: Desk, run: Run) -> Goal:
    """What good means for a series: its goal, or all that is asked alike."""
    found = next((g for g in desk.notebook.all(Goal) if g.id == run.series.goal_id), None)
    return found or Goal(id="", name=decide_words.ALL_ALIKE, aims=tuple(Aim(response=r, weight=1.0) for r, _ in run.series.responses))


def cost_plot(desk: Desk, run: Run) -> tuple[PlotView, ...]:
    """How good each recipe is against what a panel of it costs; those that nobody beats are joined."""
    costs_of = {letter: c.mixed for letter, c in panel_costs.of_recipes(desk, run, "".join(a.letter for a in run.arms))}
    return _against(desk, run, costs_of, ALIKE_COST, lambda c: f"{c:.2f}")


def labour_plot(desk: Desk, run: Run) -> tuple[PlotView, ...]:
    """How good each recipe is against how long a panel of it keeps a person at the bench."""
    return _against(desk, run, labour.of_recipes(run, "".join(a.letter for a in run.arms)), ALIKE_LABOUR, decide_words.minutes)


def _against(desk: Desk, run: Run, price_of: Mapping[str, float], alike: float, said: Callable[[float], str]) -> tuple[PlotView, ...]:
    """How good each recipe is against a price of it; those that nobody beats in both are joined. None where their prices are alike."""
    asked = dict(run.series.responses)
    values = {a.letter: {r: run.values(r).get(a.letter, []) for r in asked} for a in run.arms}
    told = {letter: (share, price_of[letter]) for letter, share in goals.ranked(goal_of(desk, run), asked, values) if letter in price_of}
    if len(told) < MOST_PLAIN:
        return ()
    prices = [c for _, c in told.values()]
    low, span = min(prices), max(prices) - min(prices)
    if span < alike * max(prices):  # the scale's last digit is no price
        return ()
    levels = tuple(dict.fromkeys((round((c - low) / span, 6), said(c)) for _, c in sorted(told.values(), key=lambda v: v[1])))
    points = tuple(((c - low) / span, liked, letter) for letter, (liked, c) in told.items())
    front = tuple(((told[n][1] - low) / span, told[n][0]) for n in goals.unbeaten(told))
    return (PlotView(verdict_words.UNBEATEN, levels, points, (("", front),), named=True),)


def weight_plots(desk: Desk, run: Run) -> tuple[PlotView, ...]:
    """How good each recipe is as one thing takes from none to all of the weight: where two lines cross, the ranking changes."""
    asked = dict(run.series.responses)
    values = {a.letter: {r: run.values(r).get(a.letter, []) for r in asked} for a in run.arms}
    values = {letter: mine for letter, mine in values.items() if all(mine.values())}
    goal = goal_of(desk, run)
    counted = [a for a in goal.aims if a.weight > 0.0 and a.response in asked]
    ranged = all(a.low is not None or a.high is not None for a in counted)
    if len(counted) < MOST_PLAIN or len(values) < (MOST_PLAIN if ranged else LEAST_RANKED):
        return ()
    total = sum(a.weight for a in counted)
    places = [i / STEPS for i in range(STEPS + 1)]
    made = []
    for aim in counted[:MOST_PLOTS]:
        scores = goals.weighed(goal, asked, values, aim.response, places)
        now = aim.weight / total
        here = goals.weighed(goal, asked, values, aim.response, [now])
        lines = tuple((letter, tuple(zip(places, told, strict=True))) for letter, told in scores.items())
        points = tuple((now, told[0], letter) for letter, told in here.items())
        levels = tuple((place, words) for place, words in ((0.0, "0"), (now, f"{now:.0%}"), (1.0, decide_words.ALL_OF_IT)))
        made.append(PlotView(verdict_words.SHORT.get(aim.response) or name(aim.response).capitalize(), levels, points, lines))
    return tuple(made)
