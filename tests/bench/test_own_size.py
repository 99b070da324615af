"""The size a panel really has, typed on Shoot: millimetres rest on it, and what was read otherwise no longer counts."""

from __future__ import annotations

from dataclasses import replace

import pytest
from PyQt6.QtCore import Qt

from dribbet.bench.stations.read.presenter import ReadPresenter
from dribbet.bench.stations.shoot.presenter import ShootPresenter
from dribbet.notebook.store import new_id
from dribbet.records import DribbetError, Panel, Reading, RecordError, Response, Series, SeriesState
from dribbet.sight.as_laid import measured_as
from dribbet.studio.acts import sizing
from dribbet.studio.standing import verdict
from dribbet.words.units import Units
from tests.bench.conftest import on_series, press, trouble

shoot = on_series("k2", ShootPresenter)
WHOLE = (0.0, 0.0, 1.0, 1.0)
CORNERS = ((100.0, 100.0), (1700.0, 110.0), (1690.0, 1300.0), (110.0, 1290.0))


def panel_of(desk, code: str = "K2-b1") -> Panel:
    return next(p for p in desk.need_run().panels if p.code == code)


def read_anew(desk, panel: Panel, size_mm, corners_px=None) -> None:
    """As the reader would say it, with what was read before at another scale."""
    was = next(r for r in reversed(desk.notebook.all(Reading, panel_id=panel.id)))
    told = was.result["panel"] | dict(zip(("width_mm", "height_mm"), size_mm, strict=True))
    told |= {"corners_px": [list(c) for c in corners_px]} if corners_px else {}
    desk.notebook.add(replace(was, id=new_id(), at=desk.now(), result=was.result | {"panel": told}))
    desk.changed()


def test_a_typed_size_is_the_panels_and_what_was_read_is_read_again(desk, shoot):
    panel = panel_of(desk)
    shoot.choose(panel.id)
    assert "as you measured it" not in shoot.view().panel_words
    face, area, film = desk.need_run().face_dm2(panel), desk.need_run().area_m2(panel), desk.need_run().size_mm(panel)
    assert (face, area, film) == (pytest.approx(3.0), pytest.approx(0.03), (200.0, 150.0))
    assert desk.notebook.get(Series, "k2").state is SeriesState.DECIDED
    shoot.take_size("198 x 151")
    run, now = desk.need_run(), panel_of(desk)
    assert (now.width_m, now.height_m) == (0.198, 0.151)
    assert (run.size_mm(now), run.sheet_mm(now), run.planned_mm(now)) == ((198.0, 151.0), (198.0, 151.0), (200.0, 150.0))
    assert run.face_dm2(now) == pytest.approx(2.9898)
    assert run.area_m2(now) == pytest.approx(0.029898)
    assert run.reading(now) is None  # its millimetres are those of another size
    assert desk.notebook.get(Series, "k2").state is not SeriesState.DECIDED
    assert [p.code for p in ReadPresenter(desk).unread(run)] == ["K2-b1"]
    assert ReadPresenter(desk).to_read(now, run.photo(now)).size_mm == (198.0, 151.0)
    assert shoot.view().panel_words.replace("\u202f", " ") == "198 × 151 mm, as you measured it"
    others = [p for p in run.panels if p.id != now.id]
    assert all(run.reading(p) is not None and run.size_mm(p) == (200.0, 150.0) for p in others if run.photo(p) is not None)
    read_anew(desk, now, (198.0, 151.0))
    assert desk.need_run().reading(now) is not None
    shoot.take_size(" ")
    assert panel_of(desk).width_m == 0.0
    assert desk.need_run().reading(now).result["panel"]["width_mm"] == 200.0  # what was read at the planned size counts again


def test_counts_are_told_per_the_area_that_was_measured(desk, shoot):
    desk.choose_series("d1")
    shoot.choose(panel_of(desk, "D1-b1").id)
    run = desk.need_run()
    count = run.value(panel_of(desk, "D1-b1"), Response.CELL_COUNT)
    was = {p.code: v for p, v in verdict.figures(verdict.shown(desk, run), Response.CELL_COUNT)}
    shoot.take_size("180 by 135")
    read_anew(desk, panel_of(desk, "D1-b1"), (180.0, 135.0))
    run = desk.need_run()
    assert run.value(panel_of(desk, "D1-b1"), Response.CELL_COUNT) == count
    assert run.face_dm2(panel_of(desk, "D1-b1")) == pytest.approx(2.43)
    now = {p.code: v for p, v in verdict.figures(verdict.shown(desk, run), Response.CELL_COUNT)}
    assert now.pop("D1-b1") == pytest.approx(was.pop("D1-b1") * 3.0 / 2.43)
    assert now == was


@pytest.mark.parametrize(
    ("typed", "words"),
    [
        ("large", "“large” is no size. Type width and height, such as 200 × 150"),
        ("198", "“198” is no size."),
        ("19.8 x 15.1", "K2-b1 cannot be so much larger or smaller than planned. Type its width, then"),
        ("198 x 301", "cannot be so much larger"),
        ("99 x 151", "cannot be so much larger"),
        ("nan x 150", "is no size."),
    ],
)
def test_what_is_no_size_of_this_panel_is_refused_with_what_to_type(desk, shoot, typed, words):
    shoot.choose(panel_of(desk).id)
    with pytest.raises(DribbetError) as refused:
        shoot.take_size(typed)
    assert words in str(refused.value).replace("\u202f", " ")
    assert panel_of(desk).width_m == 0.0


def test_pieces_of_one_panel_have_its_size_together(desk):
    from dribbet.bench.stations.ask.presenter import AskPresenter

    ask = AskPresenter(desk)
    ask.planning.new_series()
    ask.choose("design", "paired")
    ask.draw_lots()
    run = desk.need_run()
    first = run.panels[0]
    mates = run.together(first)
    assert len(mates) > 1
    sizing.measured(desk, first, (190.0, 145.0))
    run = desk.need_run()
    mine = [p for p in run.panels if p.sheet == first.sheet]
    assert all((p.width_m, p.height_m) == (0.19, 0.145) for p in mine)
    assert all(p.width_m == 0.0 for p in run.panels if p.sheet != first.sheet)
    wide = sum(run.area_m2(p) for p in mine)
    assert wide == pytest.approx(0.19 * 0.145)
    sizing.as_planned(desk, mine[-1])
    assert all(p.width_m == 0.0 for p in desk.need_run().panels)


def test_corners_that_are_moved_after_reading_have_the_panel_read_again(desk, shoot):
    panel = panel_of(desk)
    shoot.choose(panel.id)
    photo = shoot.view().photo
    assert desk.need_run().reading(panel) is not None
    moved = [(x + 3.0, y) for x, y in photo.corners_px]
    shoot.move_corners(moved)
    run = desk.need_run()
    assert run.reading(panel) is None
    assert run.photo(panel).corners_px[0] == pytest.approx(moved[0])
    assert desk.notebook.get(Series, "k2").state is not SeriesState.DECIDED
    assert ReadPresenter(desk).unread(run) == [panel]
    read_anew(desk, panel, (200.0, 150.0), run.photo(panel).corners_px)
    assert desk.need_run().reading(panel) is not None
    shoot.move_corners(list(photo.corners_px))
    assert desk.need_run().reading(panel) is not None  # the first reading is of these corners: it holds again


@pytest.mark.parametrize(
    ("panel", "size", "corners", "box", "holds"),
    [
        ({}, (200.0, 150.0), CORNERS, WHOLE, True),
        ({}, (200.04, 150.0), CORNERS, WHOLE, True),
        ({}, (200.06, 150.0), CORNERS, WHOLE, False),
        ({}, (200.0, 149.9), CORNERS, WHOLE, False),
        ({}, (200.0, 150.0), ((100.3, 100.0), *CORNERS[1:]), WHOLE, True),  # 2e-4 of a diagonal of 1989 px is 0.4
        ({}, (200.0, 150.0), (*CORNERS[:3], (110.0, 1290.5)), WHOLE, False),
        ({}, (200.0, 150.0), (), WHOLE, True),
        ({}, (200.0, 150.0), CORNERS, (0.0, 0.0, 0.5, 1.0), False),
        (
            {"corners_px": ((0.0, 0.0), (50.0, 0.0), (50.0, 80.0), (0.0, 80.0))},
            (200.0, 150.0),
            ((0, 0), (100, 0), (100, 80), (0, 80)),
            (0, 0, 0.5, 1),
            True,
        ),
    ],
)
def test_a_reading_is_of_its_size_and_corners(panel, size, corners, box, holds):
    assert measured_as({"width_mm": 200.0, "height_mm": 150.0, "corners_px": CORNERS} | panel, size, corners, box) is holds


@pytest.mark.parametrize(("width", "height"), [(0.019, 0.15), (0.2, 3.01), (0.2, 0.0), (0.0, 0.2)])
def test_a_panel_cannot_have_any_size(width, height):
    with pytest.raises(RecordError, match="Measure the panel again"):
        Panel(id="p", series_id="s", code="K9-a1", recipe="a", repeat=1, place=1, settings=(0,), width_m=width, height_m=height)


@pytest.mark.parametrize(
    ("typed", "unit", "mm"),
    [
        ("198 x 151", "mm", (198.0, 151.0)), ("198×151 mm", "mm", (198.0, 151.0)), ("198 151", "mm", (198.0, 151.0)),
        ("198,5 by 151", "mm", (198.5, 151.0)), ("8 X 6 in", "in", (203.2, 152.4)),
    ],
)  # fmt: skip
def test_sizes_are_typed_as_people_write_them(typed, unit, mm):
    assert Units(length=unit).size_mm(typed) == pytest.approx(mm)


def test_the_size_is_asked_for_and_kept_in_the_window(desk, window, qtbot):
    desk.choose_series("k2")
    panel = panel_of(desk)
    desk.take("shoot", panel.id)
    window.walk("shoot")
    page = window.pages["shoot"]
    press(window, "W")
    assert page.typed.isVisible()
    assert page.sentence.text().replace("\xa0", " ") == "How large is K2-b1? Planned: 200 × 150 mm."
    assert [side.replace("\u202f", " ") for side in page.stage.sides] == ["width 200 mm", "height 150 mm"]
    assert not page.verdict_box.isVisible()
    qtbot.keyClicks(page.typed, "20 x")
    assert page.stage.sides == ("width 20", "height ?")
    qtbot.keyClicks(page.typed, " 15")
    assert page.stage.sides == ("width 20", "height 15")
    qtbot.keyClick(page.typed, Qt.Key.Key_Return)
    assert "cannot be so much larger" in trouble(window)
    assert page.typed.isVisible()
    page.typed.clear()
    qtbot.keyClicks(page.typed, "199 x 149")
    qtbot.keyClick(page.typed, Qt.Key.Key_Return)
    assert not page.typed.isVisible()
    assert panel_of(desk).width_m == pytest.approx(0.199)
    assert "199 × 149" in page.camera.text().replace("\xa0", " ")
    press(window, "W")
    assert "Nothing typed: the planned size holds again." in page.subline.text()
    qtbot.keyClick(page.typed, Qt.Key.Key_Return)
    assert panel_of(desk).width_m == 0.0
    assert not page.typed.isVisible()
    press(window, "W", "Esc")
    assert not page.typed.isVisible()


def test_nothing_is_asked_for_where_no_panel_is(open_window, desk):
    window = open_window(desk)
    desk.choose_series("k2")
    window.walk("shoot")
    page = window.pages["shoot"]
    press(window, "W")
    assert page.typed.isVisible()
    desk.choose_series("e1")  # planned, no panel drawn
    page.refresh()
    assert page.view.empty
    assert not page.typed.isVisible()
    assert not page.sizing


def test_a_reading_of_a_recipe_that_nobody_knows_is_left_to_verify(desk):
    run = desk.load("k2")
    reading = next(r for r in run.readings)
    photo = next(p for p in run.photos if p.id == reading.photo_id)
    strange = replace(run, panels=tuple(replace(p, recipe="zz", width_m=0.15, height_m=0.1) for p in run.panels))
    assert strange.holds(reading, photo)
    assert replace(run, panels=()).holds(reading, photo)
    assert not replace(run, panels=tuple(replace(p, width_m=0.15, height_m=0.1) for p in run.panels)).holds(reading, photo)


def test_keys_that_are_seldom_wanted_stand_behind_more_and_act_without_it(desk, window):
    desk.choose_series("k2")
    desk.take("shoot", panel_of(desk).id)
    window.walk("shoot")
    page = window.pages["shoot"]

    def shown() -> list[str]:
        return [b.key.cap for b in page.strip.buttons if not b.isHidden()]

    assert shown() == ["Space", "F", "L", "R", "X", "M"]
    press(window, "M")
    assert shown() == ["Space", "S", "W", "M"]
    press(window, "M", "W")
    assert page.typed.isVisible()
    press(window, "Esc")
    assert page.stage.sides is None
    assert page.verdict_box.isVisible()
