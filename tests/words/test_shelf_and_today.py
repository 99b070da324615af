"""Shelf and Today in words: from facts made by hand."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import pytest

from dribbet.lab.paint.experience import Experience
from dribbet.records import NO_HEX, DribbetError, Kind, Response
from dribbet.studio.standing.shelf import Money
from dribbet.studio.standing.today import Due, Todo
from dribbet.words import shelf, today
from dribbet.words.units import Units
from tests.made_up import material

UNITS = Units(names=(("glue", "harbour glue"),))
NOW = datetime(2026, 11, 19, 14, 20, tzinfo=UTC)


def same(moment: datetime) -> datetime:
    return moment


def due(todo: Todo = Todo.LOOK, **more) -> Due:
    return Due(**({"todo": todo, "series_id": "k3", "series_name": "Kelp 03", "code": "K3-a1", "when": NOW, "look": "dry"} | more))


@pytest.mark.parametrize(
    ("what", "words"),
    [
        (due(), "Look at it: dry check."),
        (due(panels=4), "Look at it: dry check. Then three more."),
        (due(now=False, moved_s=-3.2 * 3600), "Look at it: dry check (3.2\u202fh sooner, by day)."),
        (due(moved_s=-3.2 * 3600), "Look at it: dry check."),
        (due(Todo.POUR, panels=2), "Pour it. Then one more."),
        (due(Todo.DECIDE), "All panels of Kelp 03 are read. Decide."),
    ],
)
def test_a_task_says_what_to_do_and_how_many_more(what, words):
    assert today.task(what) == words


def test_a_time_has_its_day_only_where_that_is_another():
    assert today.when(due(overdue=True), NOW, same) == "overdue"
    assert today.when(due(), NOW, same) == "now"
    assert today.when(due(now=False, when=NOW + timedelta(hours=2)), NOW, same) == "16:20"
    assert today.when(due(now=False, when=NOW + timedelta(hours=20)), NOW, same) == "Fri 10:20"


def test_the_head_counts_what_is_to_be_done_now():
    assert today.head([]) == "Nothing is due."
    assert today.head([due(now=False)]) == "Nothing is due yet."
    assert today.head([due(), due(now=False)]) == "One thing to do now."
    assert today.head([due(), due()]) == "Two things to do now."


def test_the_shelf_says_first_what_is_to_be_measured_then_what_runs_low():
    red, teal = material("dulse red"), material("channel teal")
    assert shelf.sentence([red], [teal], 5, 0) == ("Dulse red came in a new lot: measure it again.", "5 containers.")
    assert shelf.sentence([red, teal], [], 5, 1)[0] == "Dulse red and channel teal came in a new lot: measure them again."
    assert shelf.sentence([], [teal], 1, 2) == ("Channel teal is running low.", "1 container and 2 bottles; the oldest mix first.")
    assert shelf.sentence([], [], 3, 0)[0] == "Nothing is running low."
    assert shelf.sentence([], [], 0, 0) == ("The shelf is empty. Add what you pour with.", "")


def test_experience_is_said_beside_the_panels_without_it():
    found = Experience(panels=3, means={Response.CRACK_LENGTH: 12.4, Response.VIVIDNESS: 20.6}, others={Response.CRACK_LENGTH: 58.2})
    assert shelf.seen(found) == "three panels: 12 mm of cracks (58 without it), vividness 21"
    assert shelf.seen(Experience(panels=1, means={}, others={})) == "one panel: not measured yet"
    assert shelf.seen(Experience(panels=0, means={}, others={})) == "not tried yet"


def test_money_is_said_by_the_kilogram_the_millilitre_and_what_stays_dry():
    said = shelf._money(Money(per_kg=28.0, per_m3=30800.0, per_dry_m3=77000.0, drops=1200, pours=40, per_pour_kg=0.0005), UNITS)
    assert [r.body for r in said] == [
        "28.00 a kg, 0.031 a mL, 0.077 a mL of what stays dry.",
        "1200 drops are left: 40 pours as the last ones, 0.014 each.",
    ]
    assert shelf._money(Money(drops=7), UNITS)[0].body == "7 drops are left."


def test_contents_are_said_by_their_present_names_and_without_traces():
    assert shelf.contents({"teal": 0.28, "glue": 0.7155, "salt": 0.0045}, UNITS) == "teal 28\u202f%, harbour glue 72\u202f%"


def test_a_new_container_is_read_in_any_order_and_what_is_strange_is_refused():
    assert shelf.new_container("sea glass") == ("sea glass", Kind.PAINT, NO_HEX)
    assert shelf.new_container("sea glass, #7fb3a8, medium") == ("sea glass", Kind.MEDIUM, "#7FB3A8")
    with pytest.raises(DribbetError, match="“shiny” is no kind"):
        shelf.new_container("sea glass, shiny")
    with pytest.raises(DribbetError, match="needs a name"):
        shelf.new_container(" , paint")


def test_scraped_cups_are_read_with_their_weights():
    assert shelf.scraped("K3-a 35; K3-b 20 g", UNITS) == [("K3-a", pytest.approx(0.035)), ("K3-b", pytest.approx(0.020))]
    with pytest.raises(DribbetError, match="which cups and how much"):
        shelf.scraped("K3-a", UNITS)
