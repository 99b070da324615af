"""Read asks what is base where the photo does not tell, and Decide waits for the answer."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.bench.parts.keys import KeyButton
from dribbet.notebook.store import new_id
from dribbet.records import Response
from tests.bench.conftest import press

STRIP = [[0.0, 0.0], [30.0, 0.0], [30.0, 150.0], [0.0, 150.0]]


@pytest.fixture
def open_base(open_window, desk):
    """Read, with a panel of which the left 15 % may be base or paint."""
    desk.choose_series("d1")
    window = open_window(desk)
    window.walk("read")
    page = window.page("read")
    run = desk.need_run()
    panel = page.presenter.panel(run)
    reading = run.reading(panel)
    result = {
        **reading.result,
        "spread": {"fraction": 1.0, "area_mm2": 30000.0, "bare_corners": [], "doubtful": 0.15},
        "outlines": {**reading.result["outlines"], "edge": [], "unsure": [STRIP]},
    }
    with desk.notebook.transaction():
        desk.notebook.add(replace(reading, id=new_id(), at=desk.now(), result=result))
    desk.changed()
    return window, panel


def keys(window) -> dict[str, str]:
    return {b.key.cap: b.key.words for b in window.page("read").findChildren(KeyButton) if not b.isHidden()}


def covered(window) -> tuple[str, str]:
    return next((out.figure.text(), out.words.text()) for out in window.page("read").figures if "covered" in out.figure.text())


def test_field_that_may_be_base_is_asked_and_is_no_figure_until_then(open_base, desk):
    window, panel = open_base
    figure, words = covered(window)
    assert "85–100" in figure
    assert window.page("read").view.sentence.endswith(" Is the hatched field base?")
    assert words.startswith("15\xa0% of the face, hatched on the photo, may be base (D) or paint (P).")
    assert keys(window)["D"] == "It is base"
    assert keys(window)["P"] == "It is paint"
    assert desk.need_run().value(panel, Response.SPREAD) is None
    assert len(window.page("read").view.overlay.unsure) == 1


@pytest.mark.parametrize(("cap", "share", "corners"), [("D", 85.0, ["top-left", "bottom-left"]), ("P", 100.0, [])])
def test_one_key_says_what_it_is(open_base, desk, cap, share, corners):
    window, panel = open_base
    press(window, cap)
    run = desk.need_run()
    assert run.value(panel, Response.SPREAD) == pytest.approx(share)
    assert run.reading(panel).result["spread"]["bare_corners"] == corners
    assert "by hand" in run.reading(panel).reader
    assert f"{share:.0f}" in covered(window)[0]
    assert "–" not in covered(window)[0]
    assert "hatched" not in window.page("read").view.sentence
    assert "D" not in keys(window)


def test_decide_says_whose_spread_it_waits_for_and_which_lines_count_as_none(open_window, desk):
    desk.choose_series("k2")
    run = desk.need_run()
    first, second = run.in_order()[:2]
    reading = run.reading(first)
    result = {**reading.result, "spread": {**reading.result["spread"], "doubtful": 0.15}}
    unsure = run.reading(second)
    cracks = {**unsure.result["cracks"], "length_mm": 0.0, "count": 0, "doubtful_mm": 31.0}
    with desk.notebook.transaction():
        desk.notebook.add(replace(reading, id=new_id(), at=desk.now(), result=result))
        desk.notebook.add(replace(unsure, id=new_id(), at=desk.now(), result={**unsure.result, "cracks": cracks}))
    desk.changed()
    window = open_window(desk)
    window.walk("decide")
    said = [r.body for r in window.page("decide").view.differs]
    assert f"Spread waits for {first.code}: say on Read what is base there." in said
    assert any(s.startswith("Lines on") and second.code in s and "may be cracks and count as none" in s for s in said)


def test_decide_says_whose_cracks_alone_were_read_under_raking_lamps(open_window, desk):
    """They show more cracks: a panel read with them and one read without are not read alike."""
    desk.choose_series("k2")
    panels = [p for p in desk.need_run().in_order() if not p.spoiled]

    def read_under_lamps(some):
        with desk.notebook.transaction():
            for panel in some:
                reading = desk.need_run().reading(panel)
                cracks = {**reading.result["cracks"], "under_lamps": {"deep_mm": 0.0, "flat_mm": 0.0}}
                desk.notebook.add(replace(reading, id=new_id(), at=desk.now(), result={**reading.result, "cracks": cracks}))
        desk.changed()
        window.walk("decide")
        window.refresh()
        return [r.body for r in window.page("decide").view.differs if "raking lamps" in r.body]

    window = open_window(desk)
    assert read_under_lamps([]) == []
    (said,) = read_under_lamps(panels[:1])
    assert (
        said
        == f"Cracks of {panels[0].code} alone were read under raking lamps, which show more of them. Photograph the others so, too, if they were not."
    )
    assert read_under_lamps(panels[1:]) == []


LINES = {"length_mm": 47.0, "area_fraction": 0.0004, "mean_width_mm": 0.18, "max_width_mm": 0.6, "count": 5}


def test_dotted_lines_beside_cracks_that_are_counted_are_asked_about_by_themselves(open_window, desk):
    """D1-b1 of the demo as it was read: cracks, and lines that may be some."""
    desk.choose_series("d1")
    panel = next(p for p in desk.need_run().panels if p.code == "D1-b1")
    before = desk.need_run().reading(panel).result["cracks"]
    assert before["count"] >= 3
    assert before["doubtful_mm"] > 5.0
    desk.take("read", panel.id)
    window = open_window(desk)
    window.walk("read")
    page = window.page("read")
    assert (keys(window)["D"], keys(window)["P"]) == ("Cracks, too", "Not these")
    assert page.view.overlay.cracks
    assert page.view.overlay.lines
    assert page.key_line.dotted
    said = page.view.figures[1].words
    assert f"{before['doubtful_mm']:.0f} mm of dotted lines may be cracks, too (D), or none (P)." in said.replace("\u202f", " ")
    press(window, "D")
    after = desk.need_run().reading(panel).result["cracks"]
    assert after["length_mm"] == pytest.approx(before["length_mm"] + before["doubtful_mm"], abs=0.15)
    assert after["doubtful_mm"] == 0.0
    assert page.view.overlay.lines == ()
    assert not page.key_line.dotted


@pytest.mark.parametrize(("cap", "length", "count"), [("D", 47.0, 5), ("P", 0.0, 0)])
def test_dotted_lines_are_asked_and_one_key_counts_them_or_not(open_window, desk, cap, length, count):
    desk.choose_series("d1")
    panel = next(p for p in desk.need_run().panels if p.code == "D1-c1")
    reading = desk.need_run().reading(panel)
    assert reading.result["cracks"]["length_mm"] == 0.0
    result = {
        **reading.result,
        "cracks": {**reading.result["cracks"], "doubtful_mm": 47.0, "doubtful": LINES},
        "outlines": {**reading.result["outlines"], "lines": [STRIP, STRIP]},
    }
    with desk.notebook.transaction():
        desk.notebook.add(replace(reading, id=new_id(), at=desk.now(), result=result))
    desk.changed()
    desk.take("read", panel.id)
    window = open_window(desk)
    window.walk("read")
    page = window.page("read")
    assert page.view.sentence.endswith(" Are the dotted lines cracks?")
    assert len(page.view.overlay.lines) == 2
    assert (keys(window)["D"], keys(window)["P"]) == ("Cracks", "No cracks")
    press(window, cap)
    run = desk.need_run()
    cracks = run.reading(panel).result["cracks"]
    assert (cracks["length_mm"], cracks["count"], cracks["doubtful_mm"]) == (length, count, 0.0)
    assert run.value(panel, Response.CRACK_LENGTH) == length
    assert page.view.overlay.lines == ()
    assert bool(page.view.overlay.cracks) is bool(count)
    assert "dotted" not in page.view.sentence
    assert "D" not in keys(window)
