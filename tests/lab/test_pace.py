"""Check-ins move the windows of drying: values worked by hand."""

from __future__ import annotations

import math
from datetime import UTC, datetime, timedelta

import pytest

from dribbet.lab.panel import pace
from dribbet.lab.panel.drying import DryingWindow, DryStage
from dribbet.records import Feel, Look, Stage

POURED = datetime(2026, 5, 1, 10, tzinfo=UTC)
WINDOW = DryingWindow(stage=DryStage.TOUCH, earliest_s=3600.0, latest_s=4 * 3600.0)
MIDDLE_S = 7200.0  # the geometric mean of one and four hours
SD = math.log(4.0) / 2 / 1.6449  # nine chances in ten lie within


def look(hours: float, feel: Feel | None, due: str = "12 h") -> Look:
    return Look(id=f"l{hours}", panel_id="p", due=due, at=POURED + timedelta(hours=hours), feel=feel, cracked=False)


def test_one_panel_still_wet_at_the_middle_moves_the_window_as_a_probit_has_it():
    """Beyond the middle with probability Phi(shift / sd): mean shift = s^2 / sd x phi(0) / Phi(0), with s^2 half of sd^2."""
    told = pace.learn([pace.PaceSeen(window=WINDOW, after_s=MIDDLE_S, by_s=math.inf)])
    assert told.shift == pytest.approx(0.5 * SD * 0.79788, rel=1e-3)
    assert told.sure == pytest.approx(math.sqrt(1 - 0.5 * 0.79788**2), rel=1e-3)  # 0.8257
    assert told.panels == 1


def test_the_same_before_the_middle_moves_it_as_far_back():
    later, sooner = (pace.learn([pace.PaceSeen(window=WINDOW, after_s=a, by_s=b)]) for a, b in ((MIDDLE_S, math.inf), (0.0, MIDDLE_S)))
    assert sooner.shift == pytest.approx(-later.shift, abs=1e-6)


def test_many_panels_dry_in_the_same_hour_settle_it_but_never_narrow_it_below_what_parts_panels():
    hour = pace.PaceSeen(window=WINDOW, after_s=3.0 * 3600, by_s=3.0 * 3600 * 1.001)
    told = pace.learn([hour] * 200)
    assert told.shift == pytest.approx(math.log(1.5), abs=0.01)
    moved = pace.moved((WINDOW,), {DryStage.TOUCH: told})[0]
    assert math.sqrt(moved.earliest_s * moved.latest_s) == pytest.approx(3.0 * 3600, rel=0.01)
    assert math.log(moved.latest_s / moved.earliest_s) == pytest.approx(math.log(4.0) * math.sqrt(0.5), rel=0.02)


def test_nothing_seen_leaves_the_windows_as_physics_has_them():
    assert pace.learn([]) == pace.PourPace(shift=0.0, sure=1.0, panels=0)
    assert pace.moved((WINDOW,), {DryStage.TOUCH: pace.learn([])}) == (WINDOW,)


@pytest.mark.parametrize(
    ("looks", "stage", "interval"),
    [
        ([(10, Feel.MARKS), (21, Feel.TACKY), (30, Feel.FIRM)], DryStage.TOUCH, (21, 30)),
        ([(10, Feel.MARKS), (30, Feel.FIRM)], DryStage.THROUGH, (10, math.inf)),  # firm to a touch says nothing of the inside
        ([(30, Feel.HARD)], DryStage.THROUGH, (0, 30)),
        ([(30, None)], DryStage.TOUCH, None),
        ([(10, Feel.FIRM), (20, Feel.TACKY)], DryStage.TOUCH, None),  # thumbs that differ teach nothing
    ],
)
def test_what_looks_say_of_a_stage(looks, stage, interval):
    window = DryingWindow(stage=stage, earliest_s=3600.0, latest_s=7200.0)
    told = pace.seen(window, POURED, [look(h, f) for h, f in looks])
    assert (None if told is None else (told.after_s / 3600, told.by_s / 3600)) == interval


def test_a_nail_at_the_dry_look_tells_the_inside():
    window = DryingWindow(stage=DryStage.THROUGH, earliest_s=3600.0, latest_s=7200.0)
    assert pace.seen(window, POURED, [look(96, Feel.FIRM, Stage.DRY)]).by_s == 96 * 3600


def test_stages_keep_their_order_when_one_is_moved():
    through = DryingWindow(stage=DryStage.THROUGH, earliest_s=2 * 3600.0, latest_s=5 * 3600.0)
    late = pace.PourPace(shift=1.5, sure=0.5, panels=9)
    touch, inside = pace.moved((WINDOW, through), {DryStage.TOUCH: late})
    assert inside.earliest_s >= touch.earliest_s > WINDOW.earliest_s
    assert inside.latest_s >= touch.latest_s
