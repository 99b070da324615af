"""A test on round panels, from the plan to what Decide shows, by the window."""

from __future__ import annotations

import io
import math

import pytest
from PIL import Image

from dribbet.bench.stations.ask.presenter import AskPresenter
from dribbet.bench.stations.decide.presenter import DecidePresenter
from dribbet.bench.theme.inks import WALL
from dribbet.demo.build import practice_photo
from dribbet.demo.camera import Shot, photograph
from dribbet.demo.painter import Pour, draw_panel
from dribbet.devices.camera import Lapse
from dribbet.lab.plan import pieces
from dribbet.records import Lamp, Photo, Reading, Sign, silent
from dribbet.sight.photographs import look_at
from dribbet.sight.zones import Zone
from tests.bench.conftest import press, trouble

ACROSS_MM = 100.0
CELLS = {"a": 12.0, "b": 40.0}


@pytest.fixture
def round_test(desk):
    """Two recipes, two round panels each, lots drawn."""
    ask = AskPresenter(desk)
    ask.planning.new_series()
    for part, text in (("size_mm", "100 x 100"), ("outline", "round"), ("levels", "8, 24"), ("repeats", "2")):
        ask.choose(part, text)
    ask.draw_lots()
    return desk


def round_photo(letter: str, repeat: int):
    """File name and bytes of a photograph of a round panel."""
    pour = Pour(
        width_mm=ACROSS_MM, height_mm=ACROSS_MM, palette=("#F2F0EA", "#1F4E79", "#9C2F3C"), shares=(3, 2, 1), seed=ord(letter) * 7 + repeat,
        cells_per_dm2=CELLS[letter], cell_mm=4.0, cell_spread=0.2, rim_lines=0.0, px_per_mm=8.0,
    )  # fmt: skip
    photo, _ = photograph(draw_panel(pour), Shot(seed=repeat + ord(letter), width_px=1500, height_px=1125, noise=0.004), is_round=True)
    buffer = io.BytesIO()
    Image.fromarray(photo).save(buffer, "JPEG", quality=92)
    return f"{letter}{repeat}.jpg", buffer.getvalue()


def test_round_panels_are_planned_photographed_read_and_judged_on_the_disc_they_are(open_window, qtbot, round_test, tmp_path):
    desk = round_test
    window = open_window(desk)
    run = desk.need_run()
    assert all(run.is_round(p) for p in run.panels)
    assert run.face_dm2(run.panels[0]) == pytest.approx(math.pi / 4, rel=1e-6)

    window.walk("shoot")
    page = window.page("shoot")
    mine = {p.id for p in run.panels}
    for panel in run.in_order():
        name, data = round_photo(panel.recipe, int(panel.code[-1]))
        (tmp_path / name).write_bytes(data)
        page.presenter.choose(panel.id)
        page.bring([tmp_path / name])
        qtbot.waitUntil(lambda: not window.jobs.busy(), timeout=60_000)
        assert trouble(window) == ""
    photos = [p for p in desk.notebook.all(Photo) if p.panel_id in mine]
    assert len(photos) == 4
    assert not any(s.doubtful for p in photos for s in p.quality)
    assert page.stage.round_face

    window.walk("read")
    page = window.page("read")
    for _ in range(4):
        press(window, "Space")
        qtbot.waitUntil(lambda: not window.jobs.busy(), timeout=60_000)
        assert page.view.is_read, page.view.sentence
        press(window, "Space")
    readings = [r for r in desk.notebook.all(Reading) if r.panel_id in mine]
    assert len(readings) == 4
    for r in readings:
        panel, cells = r.result["panel"], r.result["cells"]
        assert panel["face_share"] == pytest.approx(math.pi / 4, abs=2e-4)
        assert panel["disc_mm"] == [50.0, 50.0, 50.0, 50.0]
        assert cells["per_dm2"] == pytest.approx(cells["count"] / (math.pi / 4), abs=0.05)
        assert all(math.hypot(c["x_mm"] - 50.0, c["y_mm"] - 50.0) < 50.5 for c in cells["items"])
        assert r.result["spread"]["area_mm2"] == pytest.approx(math.pi / 4 * 1e4 * r.result["spread"]["fraction"], rel=1e-3)
    read_page = window.page("read")
    qtbot.waitUntil(lambda: read_page.stage.image is not None and not window.jobs.busy(), timeout=60_000)
    picture = read_page.stage.image  # the table beyond the rim is not shown
    assert picture.pixelColor(2, 2) == WALL.ground
    assert picture.pixelColor(picture.width() // 2, 2) != WALL.ground
    view = DecidePresenter(desk).view()
    assert not view.empty
    assert len(view.strips) >= 2


def test_the_practice_camera_lays_round_panels_where_round_ones_were_planned(round_test):
    run = round_test.need_run()
    data = practice_photo(run.series, run.panels[0], Lamp.DIFFUSE, Lapse.NONE)
    seen = look_at(silent, data, ".jpg", (ACROSS_MM, ACROSS_MM), is_round=True)
    assert not any(s.doubtful for s in seen.seen), seen.seen
    square = look_at(silent, data, ".jpg", (ACROSS_MM, ACROSS_MM))
    assert any(s.sign in {Sign.CORNERS_FAINT, Sign.CORNERS_SIZE, Sign.CORNERS_SHAPE} for s in square.seen)


def test_what_is_left_out_of_a_round_panel_is_a_share_of_its_disc(round_test, monkeypatch):
    run = round_test.need_run()
    panel = run.panels[0]
    assert run.left_out(panel) == 0.0
    for zone, share in ((Zone(50.0, 50.0, 25.0), 0.25), (Zone(0.0, 0.0, 10.0), 0.0)):  # a quarter of the disc, and a corner of table
        monkeypatch.setattr(type(run), "zones", lambda _run, _panel, zone=zone: (zone,))
        assert run.left_out(panel) == pytest.approx(share, abs=2e-3)


def test_area_of_a_region_of_a_round_panel_is_what_lies_within_its_rim(desk):
    ask = AskPresenter(desk)
    ask.planning.new_series()
    for part, text in (("size_mm", "100 x 100"), ("outline", "round"), ("levels", "8, 24"), ("design", "paired"), ("strip", "0")):
        ask.choose(part, text)
    ask.draw_lots()
    run = desk.need_run()
    halves = [pieces.measured_dm2(run.series, next(a for a in run.arms if a.letter == p.recipe), p) for p in run.panels[:2]]
    assert halves == pytest.approx([math.pi / 8] * 2, rel=2e-3)
