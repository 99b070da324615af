"""Read tells a panel's middle and its rim apart."""

from __future__ import annotations

import pytest

from dribbet.bench.parts.keys import KeyButton
from tests.bench.conftest import press


@pytest.fixture
def reading(open_window, desk):
    desk.choose_series("d1")
    desk.take("read", next(p.id for p in desk.need_run().panels if p.code == "D1-d2"))
    window = open_window(desk)
    window.walk("read")
    return window, window.page("read")


def keys(page) -> dict[str, str]:
    return {b.key.cap: b.key.words for b in page.findChildren(KeyButton) if not b.isHidden()}


def test_figures_of_middle_and_rim_stand_for_each_square_decimetre(reading, desk):
    window, page = reading
    whole = page.view
    panel = whole.panel
    count = desk.need_run().counted(panel)["cells"]["count"]
    assert keys(page)["Z"] == "Zone"
    told = {}
    for word in ("Middle", "Rim"):
        press(window, "Z")
        assert keys(page)["Z"] == word
        assert page.view.sentence == whole.sentence
        figure = page.view.figures[0]
        assert figure.unit == "cells in each dm²"
        told[word] = (float(figure.figure), int(figure.words.split()[0]))
        assert page.view.overlay.inner == ((22.5, 22.5), (177.5, 127.5))  # 15 % of 150 mm
    assert told["Middle"][1] + told["Rim"][1] == count
    middle_dm2 = 1.55 * 1.05
    assert told["Middle"][0] == pytest.approx(told["Middle"][1] / middle_dm2, rel=0.01)
    assert told["Rim"][0] == pytest.approx(told["Rim"][1] / (3.0 - middle_dm2), rel=0.01)
    press(window, "Z", "Z")  # over the ring that a person draws
    assert page.view == whole
    assert page.view.overlay.inner is None


def test_a_cell_in_hand_brings_the_key_that_removes_it(reading):
    _, page = reading
    assert "X" not in keys(page)
    page.stage.hand_cell = 0
    page._cell_chosen(0)
    assert keys(page)["X"] == "Remove"
    assert "Z" not in keys(page)


def test_a_crack_length_says_how_far_it_may_be_off(open_window, desk):
    desk.choose_series("k2")
    panel = next(p for p in desk.need_run().panels if p.code == "K2-b2")
    desk.take("read", panel.id)
    window = open_window(desk)
    window.walk("read")
    sd = desk.need_run().counted(panel)["cracks"]["length_sd"]
    assert sd > 5.0
    assert window.page("read").view.figures[1].words.endswith(f"wide. It may be off by {sd:.0f}\u202fmm.")


def test_what_is_asked_of_the_whole_panel_comes_before_its_zones(open_window, desk):
    """K2-a1 leaves lines open: whoever looked at rims is shown the whole of it, with the question and its figures."""
    desk.choose_series("k2")
    codes = {p.code: p.id for p in desk.need_run().panels}
    desk.take("read", codes["K2-b2"])
    window = open_window(desk)
    window.walk("read")
    page = window.page("read")
    press(window, "Z")
    assert page.view.part == "Middle"
    desk.take("read", codes["K2-a1"])
    desk.changed()
    assert page.view.lines_open
    assert page.view.part == "Zone"
    assert page.view.overlay.inner is None
    assert "of dotted lines may be cracks (D) or none (P)" in page.view.figures[1].words
    desk.take("read", codes["K2-b2"])
    desk.changed()
    assert page.view.part == "Middle"


def test_no_figure_is_cut_on_a_large_window(reading):
    """Type grows with the window, and so does the column that it stands in."""
    window, page = reading
    window.resize(1920, 1080)
    press(window, "Z")
    for out in page.figures:
        if out.isVisible():
            assert out.figure.sizeHint().width() <= out.width(), out.figure.said()
