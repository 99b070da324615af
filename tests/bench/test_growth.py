"""Type goes with the window: larger where it is looked at from far away, and nothing is cut by it."""

from __future__ import annotations

import pytest

from dribbet.bench.parts.base import Words
from dribbet.bench.theme import type as type_
from dribbet.bench.tour import settle


def test_type_grows_in_a_large_window_and_shrinks_with_it(open_window, desk):
    window = open_window(desk)
    window.walk("dry")
    page = window.page("dry")
    px, rail, wide = page.sentence.font().pixelSize(), window.line.width(), page.sentence.sizeHint().height()
    window.resize(1920, 1080)
    settle(window)
    assert page.sentence.font().pixelSize() == round(px * 1.18)
    assert window.line.width() == round(rail * 1.18)
    assert page.sentence.sizeHint().height() > wide
    assert type_.font(20).pixelSize() == 24  # what is painted, too
    window.resize(1280, 800)
    settle(window)
    assert (page.sentence.font().pixelSize(), window.line.width(), type_.font(20).pixelSize()) == (px, rail, 20)


@pytest.mark.parametrize("page", ["ask", "mix", "check", "pour", "dry", "shelf", "today", "findings", "rules"])
def test_no_words_are_cut_in_a_large_window(open_window, desk, page):
    window = open_window(desk, 1920, 1080)
    window.walk(page)
    settle(window)
    for words in window.pages[page].findChildren(Words):
        if words.isVisible() and words.text() and words.wordWrap():
            assert words.height() >= words.heightForWidth(words.width()) - 1, words.said()
