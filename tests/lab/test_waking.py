"""No look is due at night: it moves to the nearer edge of the day, never before it may be made, over summer time too."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest

from dribbet.lab.panel import progress
from dribbet.lab.panel.waking import Waking
from tests.lab.test_planning_days import plan_of
from tests.lab.test_progress import PANEL
from tests.made_up import series

BERLIN = ZoneInfo("Europe/Berlin")
LONG_AGO = timedelta(days=9)


def on_wall(zone: ZoneInfo) -> Waking:
    return Waking(local=lambda moment: moment.astimezone(zone), at_wall=lambda naive: naive.replace(tzinfo=zone))


@pytest.mark.parametrize(
    ("due", "becomes"),
    [
        ("20 07:00", "20 07:00"),
        ("20 22:00", "20 22:00"),
        ("20 22:01", "20 22:00"),
        ("20 06:59", "20 07:00"),
        ("20 02:29", "19 22:00"),
        ("20 02:31", "20 07:00"),
        ("20 02:30", "19 22:00"),
        ("20 23:59", "20 22:00"),
    ],
)
def test_the_nearer_edge_of_the_night_is_taken(due, becomes):
    def moment(text: str) -> datetime:
        return datetime.strptime(f"2026-11-{text}", "%Y-%m-%d %H:%M").replace(tzinfo=UTC)

    assert Waking().moved(moment(due), moment(due) - LONG_AGO) == moment(becomes)


def test_a_look_is_never_moved_before_it_may_be_made():
    due = datetime(2026, 11, 20, 1, 0, tzinfo=UTC)
    assert Waking().moved(due, due - timedelta(hours=3)) == datetime(2026, 11, 19, 22, tzinfo=UTC)
    assert Waking().moved(due, due - timedelta(hours=2, minutes=59)) == datetime(2026, 11, 20, 7, tzinfo=UTC)


def test_the_hour_is_the_walls_over_the_change_to_winter_time():
    due = datetime(2026, 10, 25, 3, 30, tzinfo=UTC)  # 04:30 on the wall, after the clock went back at 03:00
    moved = on_wall(BERLIN).moved(due, due)
    assert moved.astimezone(BERLIN).hour == 7
    assert moved == datetime(2026, 10, 25, 6, 0, tzinfo=UTC)
    before = datetime(2026, 10, 24, 23, 30, tzinfo=UTC)  # 01:30, summer time still
    assert on_wall(BERLIN).moved(before, before) == datetime(2026, 10, 25, 6, 0, tzinfo=UTC)
    assert on_wall(BERLIN).moved(before, before - LONG_AGO) == datetime(2026, 10, 24, 20, 0, tzinfo=UTC)


def test_a_look_says_by_how_much_it_moved_and_is_not_overdue_before_it_is_due():
    poured = datetime(2026, 11, 20, 9, 0, tzinfo=UTC)
    look = progress.next_look(PANEL, poured, (), poured, ("24 h",), Waking())
    assert look.due == datetime(2026, 11, 21, 7, 0, tzinfo=UTC)  # 21 h are 06:00
    assert look.moved_s == 3600.0


def test_a_look_of_the_night_is_overdue_an_hour_after_it_was_moved_to():
    poured = datetime(2026, 11, 20, 12, 30, tzinfo=UTC)  # 11 h are 23:30, and 22:00 is more than a tenth too soon

    def at(hour: int, minute: int) -> progress.DueLook:
        return progress.next_look(PANEL, poured, (), datetime(2026, 11, 21, hour, minute, tzinfo=UTC), ("12 h",), Waking())

    assert at(5, 0).due == datetime(2026, 11, 21, 7, tzinfo=UTC)
    assert not at(8, 0).overdue
    assert at(8, 1).overdue


def test_a_wet_look_stays_while_the_person_is_at_the_bench():
    poured = datetime(2026, 11, 20, 22, 10, tzinfo=UTC)
    look = progress.next_look(PANEL, poured, (), poured, ("wet",), Waking())
    assert look.due == poured + timedelta(minutes=30)
    assert look.moved_s == 0.0


def test_the_plan_of_days_moves_its_looks_alike():
    begins = datetime(2026, 11, 20, 9, 0, tzinfo=UTC)
    plain, by_day = plan_of(series(), begins=begins), plan_of(series(), begins=begins, waking=Waking())
    first = next(d for d in by_day.looks if d.look == "24 h")
    assert first.moved_s == 3600.0
    assert first.first - next(d for d in plain.looks if d.look == "24 h").first == timedelta(hours=1)
    assert all(d.moved_s == 0.0 for d in plain.looks)
