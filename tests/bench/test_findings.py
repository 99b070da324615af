"""Findings in the window: claims are listed, looked for, settled, and luck has its page."""

from __future__ import annotations

from dribbet.bench.tour import settle
from dribbet.records import Response
from dribbet.studio.standing import findings
from tests.bench.conftest import press, trouble


def opened(open_window, desk, qtbot, *size):
    window = open_window(desk, *size)
    window.walk("findings")
    page = window.page("findings")
    qtbot.waitUntil(lambda: not page.view.waiting, timeout=10_000)
    settle(window)
    return window, page


def test_claims_stand_with_their_panels_and_what_is_behind_the_one_in_hand(open_window, desk, qtbot):
    window, page = opened(open_window, desk, qtbot)
    assert len(page.view.claims) == len(findings.claims(desk))
    assert page.view.claims[0].codes
    assert page.plot.isVisibleTo(page)
    heads = [h for h, _ in page.view.detail.notes]
    assert heads[0] == "For it"
    assert heads[-1] == "What would settle it"
    qtbot.waitUntil(lambda: not page._loading and len(page.rows.thumbs) > 10, timeout=20_000)
    image = next(iter(page.rows.thumbs.values()))
    assert max(image.width(), image.height()) == 96
    before = page.view.hand
    press(window, "N")
    assert page.view.hand == before + 1


def test_search_keeps_the_claims_that_hold_all_words(open_window, desk, qtbot):
    window, page = opened(open_window, desk, qtbot)
    press(window, "S")
    page.search.setText("silicone cells")
    assert page.view.claims
    assert all("ilicone" in c.sentence for c in page.view.claims)
    page.search.setText("K2-a1 crack")
    assert {c.codes for c in page.view.claims} == {("K2",)}
    page.search.setText("no such thing anywhere")
    assert page.view.claims == ()
    assert page.search.isVisibleTo(page)


def test_luck_takes_the_place_of_the_claims_and_gives_it_back(open_window, desk, qtbot):
    window, page = opened(open_window, desk, qtbot)
    press(window, "L")
    assert page.luck.isVisibleTo(page)
    assert not page.listing.isVisibleTo(page)
    assert "Cell count: panels poured alike differ by" in page.luck.said()
    press(window, "L")
    assert not page.luck.isVisibleTo(page)


def test_one_key_asks_what_would_settle_it(open_window, desk, qtbot):
    window, page = opened(open_window, desk, qtbot)
    first = page.presenter.claims()[0]
    press(window, "Space")
    assert trouble(window) == ""
    assert window.current == "ask"
    series = desk.need_run().series
    assert (series.levels, series.repeats) == ((first.first, first.second), 3)
    assert series.responses[0][0] is Response(first.response)


def test_while_series_are_judged_the_sentence_stands_on_top(open_window, desk, qtbot):
    desk.read_anew()
    window = open_window(desk)
    window.walk("findings")
    page = window.page("findings")
    assert page.busy()
    assert page.view.waiting
    assert page.sentence.mapTo(page, page.sentence.rect().topLeft()).y() < 60
    settle(window)
    assert not page.busy()
    assert page.rows.thumbs


def test_an_empty_notebook_says_what_will_stand_here(open_window, empty_desk, qtbot):
    window, page = opened(open_window, empty_desk, qtbot)
    assert page.view.claims == ()
    assert "Nothing was judged yet" in page.view.sentence
    press(window, "Space")
    assert window.current == "today"
