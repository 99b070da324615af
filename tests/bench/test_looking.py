"""Look: many panels at one scale and one place; over time with gaps shown; two that take turns; turned."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.bench.looking.presenter import LookingPresenter, columns_of
from dribbet.bench.tour import settle
from dribbet.notebook.store import new_id
from dribbet.records import Layout, Photo, Stage
from tests.bench.conftest import press


@pytest.fixture
def looking(open_window, desk, qtbot):
    desk.choose_series("d1")
    window = open_window(desk)
    window.walk("decide")
    press(window, "K")
    page = window.page("looking")
    qtbot.waitUntil(lambda: all(s.image is not None for s in page.stages), timeout=60_000)
    return window, page


def test_eight_panels_stand_at_one_scale_and_move_together(looking):
    _, page = looking
    assert [t.code.split("-")[1] for t in page.view.tiles] == ["a1", "a2", "b1", "b2", "c1", "c2", "d1", "d2"]
    assert [t.note for t in page.view.tiles[:3]] == ["no silicone", "no silicone", "1 drop"]
    page._scale()
    shown = {round(s.scale() / s.unit_per_px, 6) for s in page.stages}
    assert len(shown) == 1  # screen pixels a millimetre
    page.stages[2].zoom_by(3.0)
    assert {s.place for s in page.stages} == {page.stages[2].place}
    assert page.stages[0].place.zoom == pytest.approx(3.0)


def test_a_smaller_panel_is_shown_smaller(looking):
    _, page = looking
    first = page.stages[0]
    first.unit_per_px /= 2.0  # a panel of half the size
    page._scale()
    assert first.photo_room().width() == pytest.approx(page.stages[1].photo_room().width() / 2.0, rel=0.01)


def test_two_panels_that_were_taken_blink_and_a_third_takes_the_place_of_the_first(looking, qtbot):
    window, page = looking
    press(window, "2", "7")
    assert page.view.marked == (1, 6)
    press(window, "K")
    assert page.blinking.isActive()
    assert page.stages[1].shown_instead is page.stages[6]
    qtbot.waitUntil(lambda: page.stages[1].shown_instead is None, timeout=5_000)
    press(window, "8")
    assert page.view.marked == (6, 7)
    press(window, "8")
    assert page.view.marked == (6,)
    assert not page.blinking.isActive()
    window.walk("today")
    assert all(s.shown_instead is None for s in page.stages)


def test_all_pictures_turn_by_a_quarter(looking):
    window, page = looking
    before = (page.stages[0].image.width(), page.stages[0].image.height())
    press(window, "R")
    settle(window)
    assert (page.stages[0].image.width(), page.stages[0].image.height()) == before[::-1]
    press(window, "R", "R", "R")
    settle(window)
    assert (page.stages[0].image.width(), page.stages[0].image.height()) == before


def test_over_time_a_missing_photograph_is_shown_as_missing(looking, desk, qtbot):
    window, page = looking
    page.stages[0].zoom_by(3.0)
    press(window, "T")
    assert [t.note for t in page.view.tiles] == ["wet", "dry"] * 3
    assert [t.shot is None for t in page.view.tiles] == [True, False] * 3
    assert page.stages[0].image is None
    assert page.stages[0].empty == "no photo"
    assert {s.place.zoom for s in page.stages[:6]} == {1.0}  # another sheet begins unzoomed
    press(window, "M")
    assert [t.code for t in page.view.tiles] == ["D1-d1", "D1-d1"]
    run = desk.need_run()
    dry = run.photo(next(p for p in run.panels if p.code == "D1-d1"))
    corners = tuple((x, y) for x, y in run.reading(next(p for p in run.panels if p.code == "D1-d1")).result["panel"]["corners_px"])
    desk.notebook.add(replace(dry, id=new_id(), stage=Stage.H24, corners_px=corners))
    desk.changed()
    assert [t.note for t in page.view.tiles] == ["wet", "24 h", "dry"]
    assert page.view.tiles[1].shot is not None


def test_a_photograph_without_corners_is_no_picture(desk):
    desk.choose_series("d1")
    run = desk.need_run()
    panel = run.panels[0]
    desk.notebook.add(replace(run.photo(panel), id=new_id(), stage=Stage.WET, corners_px=()))
    desk.changed()
    presenter = LookingPresenter(desk)
    presenter.turn_time()
    assert presenter.view().tiles[0].shot is None
    assert desk.notebook.all(Photo)[-1].stage is Stage.WET


def test_a_covered_test_shows_letters_only(desk):
    desk.notebook.replace(replace(desk.load("d1").series, layout=Layout(blind=True)))
    desk.changed()
    desk.choose_series("d1")
    notes = {t.note for t in LookingPresenter(desk).view().tiles}
    assert all(n.startswith("recipe ") for n in notes)


def test_nothing_photographed_says_so(open_window, desk):
    desk.choose_series("e1")
    window = open_window(desk)
    window.walk("looking")
    assert window.page("looking").view.tiles == ()
    press(window, "Space")
    assert window.current == "decide"


@pytest.mark.parametrize(("count", "columns"), [(1, 1), (2, 2), (5, 3), (7, 4), (12, 4)])
def test_columns(count, columns):
    assert columns_of(count) == columns


def test_the_same_ninth_of_every_panel_stands_side_by_side(looking):
    window, page = looking
    press(window, "Z")
    assert page.view.zone == "Zone in the middle"
    assert {(round(s.place.zoom, 3), s.place.x, s.place.y) for s in page.stages} == {(3.0, 0.5, 0.5)}
    press(window, "Z")
    assert page.view.zone == "Zone in the far left corner"
    assert {(round(s.place.x, 4), round(s.place.y, 4)) for s in page.stages} == {(0.1667, 0.1667)}
    press(window, "R")  # a quarter to the right: what was at the far left is now at the far right
    assert {(round(s.place.x, 4), round(s.place.y, 4)) for s in page.stages} == {(0.8333, 0.1667)}
    press(window, "R", "R", "R")
    for _ in range(7):
        press(window, "Z")
    assert page.view.zone == "Zone in the near right corner"
    press(window, "Z")
    assert page.view.zone == "Zone: all of it"
    assert {s.place.zoom for s in page.stages} == {1.0}


def test_another_sheet_begins_at_the_ninth_that_is_looked_at(looking):
    window, page = looking
    press(window, "Z", "Z", "T")
    assert page.view.over_time
    assert page.view.zone == "Zone in the far left corner"
    shown = [s for s, tile in zip(page.stages, page.view.tiles, strict=False) if tile.shot is not None]
    assert {(s.place.zoom, round(s.place.x, 4), round(s.place.y, 4)) for s in shown} == {(3.0, 0.1667, 0.1667)}
