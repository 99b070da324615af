"""Choosing blind in the window: codes covered, picks kept and taken back, what they say, blind tests hidden until then."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.records import DribbetError, Layout, Liked, Pick, RecordError, Series
from dribbet.studio.acts import choosing as acts
from dribbet.studio.standing import choosing, findings
from dribbet.words import choosing as words
from dribbet.words import pour as pour_words
from dribbet.words.units import Units
from tests.bench.conftest import press, trouble


def opened(open_window, desk, series_id="d1"):
    desk.choose_series(series_id)
    window = open_window(desk)
    window.walk("decide")
    press(window, "C")
    assert window.current == "choosing"
    return window, window.page("choosing")


def begin(window, page, name):
    page.who.setText(name)
    press(window, "Enter")
    assert trouble(window) == ""


def test_two_panels_without_their_codes_and_three_keys(open_window, desk, qtbot):
    window, page = opened(open_window, desk)
    press(window, "Enter")
    assert "Say who picks" in trouble(window)
    begin(window, page, "Ilka")
    assert page.view.sentence == "Which one is better?"
    qtbot.waitUntil(lambda: page.left.image is not None and page.right.image is not None, timeout=20_000)
    assert page.left.code == page.right.code == ""
    assert "D1" not in " ".join((page.view.sentence, page.view.note, *page.view.lines))
    press(window, "→")
    run = desk.need_run()
    assert [(p.judge, p.sitting, p.liked, p.guest) for p in run.picks] == [("Ilka", 1, Liked.RIGHT, False)]
    assert page.view.done == 1
    press(window, "Z")
    assert desk.need_run().picks == ()
    assert page.view.done == 0


def test_a_sitting_ends_with_what_its_picks_say_and_another_follows(open_window, desk):
    window, page = opened(open_window, desk)
    begin(window, page, "Ilka")
    recipe = {p.id: p.recipe for p in desk.need_run().panels}
    pairs = page.view.pairs
    for _ in range(pairs):
        left, right = choosing.sitting(desk.need_run(), "Ilka", 1, guest=False).pair
        press(window, "←" if recipe[left.id] > recipe[right.id] else "→")  # more drops are always liked better
    assert page.view.over
    (told,) = page.view.results
    assert told.result == "4 drops was picked most, no silicone least. That is real."
    assert [r.name for r in told.rows] == ["4 drops", "2 drops", "1 drop", "No silicone"]
    assert told.rows[0].count == "12 of 12"
    assert "Of 3 pairs that came twice, 3 were picked alike." in told.note
    press(window, "A")
    begin(window, page, "Ilka")
    assert page.view.done == 0
    press(window, "Space")
    assert {p.sitting for p in desk.need_run().picks} == {1, 2}


def test_guests_are_told_apart_and_never_added_to_the_makers_own(desk):
    desk.choose_series("d1")
    for judge, guest in (("Ilka", False), ("Marten", True)):
        for _ in range(4):
            acts.pick(desk, choosing.sitting(desk.need_run(), judge, 1, guest=guest), Liked.LEFT)
    run = desk.need_run()
    own, guests = choosing.preferred(run, guests=False), choosing.preferred(run, guests=True)
    assert (own.judges, own.picks, guests.judges, guests.picks) == (("Ilka",), 4, ("Marten",), 4)
    assert words.who(guests, guests=True).startswith("Guests (Marten)")
    assert words.result(own, str) == "Too few picks to say."


def test_a_judge_goes_on_where_the_sitting_was_left(open_window, desk):
    window, page = opened(open_window, desk)
    begin(window, page, "Ilka")
    press(window, "←", "→")
    press(window, "X")
    assert page.view.asking
    begin(window, page, " ilka".strip().title())
    assert page.view.done == 2


def test_pairs_of_a_judge_are_the_same_whenever_they_are_asked_for(desk):
    run = desk.load("d1")
    assert choosing.sitting(run, "Ilka", 1, guest=False).pairs == choosing.sitting(run, "Ilka", 1, guest=False).pairs
    assert choosing.sitting(run, "Ilka", 1, guest=False).pairs != choosing.sitting(run, "Ilka", 2, guest=False).pairs


def test_recipes_of_a_blind_test_stay_hidden_until_they_are_opened(open_window, desk):
    run = desk.load("d1")
    desk.notebook.replace(replace(run.series, layout=Layout(blind=True)))
    desk.changed()
    desk.choose_series("d1")
    window = open_window(desk)
    window.walk("decide")
    page = window.page("decide")
    assert page.view.covered
    assert not page.strips.isVisibleTo(page)
    assert "drops" not in page.view.sentence + page.view.note
    press(window, "Space")
    assert window.current == "choosing"
    name = window.page("choosing").presenter.called(desk.need_run())
    assert name("a") == "recipe a"
    window.walk("decide")
    press(window, "U")
    assert desk.notebook.get(Series, "d1").opened_at is not None
    assert not page.view.covered
    assert window.page("choosing").presenter.called(desk.need_run())("a") != "recipe a"
    with pytest.raises(DribbetError, match="not hidden"):
        acts.open_recipes(desk)


def test_no_page_says_which_letter_is_which_recipe_before_it_is_opened(open_window, blind):
    window = open_window(blind)
    window.walk("ask")
    shelf = window.page("ask").view.rows
    cups = [cup for row in shelf for cup in row.cups if cup is not None]
    assert {code for cup in cups for code in cup.codes} == {"D1"}
    assert all(cup.words.startswith("Recipe: ") for cup in cups)
    assert not any(b.series.code == "D1" for c in findings.claims(blind) for b in c.tests)
    window.walk("why")
    assert window.page("why").view.sentence == words.COVERED
    run = blind.need_run()
    assert "is not shown here" in pour_words.recipe(run.series, run.arms[0], Units(), covered=choosing.covered(run))
    acts.open_recipes(blind)
    run = blind.need_run()
    assert "is not shown here" not in pour_words.recipe(run.series, run.arms[0], Units(), covered=choosing.covered(run))
    assert any(b.series.code == "D1" for c in findings.claims(blind) for b in c.tests)
    window.walk("ask")
    assert "D1-a1" in {code for row in window.page("ask").view.rows for cup in row.cups if cup is not None for code in cup.codes}


def test_a_whole_sitting_of_the_maker_opens_it_and_a_guests_does_not(blind):
    for judge, guest in (("Marten", True), ("Ilka", False)):
        while (now := choosing.sitting(blind.need_run(), judge, 1, guest=guest)).pair is not None:
            assert choosing.covered(blind.need_run())
            acts.pick(blind, now, Liked.LEFT)
    assert not choosing.covered(blind.need_run())
    assert blind.need_run().series.opened_at is None  # nobody looked before


def test_the_next_judge_sees_nothing_of_the_last_unless_it_is_asked_for(open_window, desk):
    desk.choose_series("d1")
    for _ in range(8):
        acts.pick(desk, choosing.sitting(desk.need_run(), "Ilka", 1, guest=False), Liked.LEFT)
    window, page = opened(open_window, desk)
    assert page.view.asking
    assert page.view.results == ()
    page.setFocus()
    press(window, "S")
    assert len(page.view.results) == 1
    begin(window, page, "Marten")
    assert page.view.results == ()


def test_neither_side_is_the_larger_key(open_window, desk):
    window, page = opened(open_window, desk)
    begin(window, page, "Ilka")
    left, right, neither = page.strip.buttons[:3]
    assert (left.one, right.one, neither.one) == (True, True, False)
    assert abs((left.width() - left.natural_width()) - (right.width() - right.natural_width())) <= 1
    press(window, "X")
    assert [b.one for b in page.strip.buttons[:3]] == [True, False, False]


def test_picks_need_a_name_two_panels_and_a_pair(desk):
    good = {"id": "x", "panel_id": "a", "other_id": "b", "judge": "Ilka", "sitting": 1, "liked": Liked.LEFT, "at": desk.now()}
    Pick(**good)
    with pytest.raises(RecordError, match="against itself"):
        Pick(**good | {"other_id": "a"})
    with pytest.raises(RecordError, match="Say who picks"):
        Pick(**good | {"judge": "  "})
    desk.choose_series("d1")
    with pytest.raises(DribbetError, match="Nothing is picked"):
        acts.take_back(desk, choosing.sitting(desk.need_run(), "Nobody", 1, guest=False))


def test_one_recipe_alone_cannot_be_chosen_from(open_window, desk):
    window, page = opened(open_window, desk, "s1")
    assert page.view.cannot
    press(window, "Space")
    assert window.current == "decide"
