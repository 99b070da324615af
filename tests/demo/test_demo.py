"""The made-up studio: its story holds what every screen needs, and its renderer tells the truth."""

from __future__ import annotations

import io
import re
import zlib
from dataclasses import replace
from datetime import timedelta

import numpy as np
import pytest
from PIL import Image

from dribbet.demo import build, story
from dribbet.demo.camera import Shot, photograph
from dribbet.demo.painter import Pour, draw_panel
from dribbet.devices import Lapse
from dribbet.lab.panel import progress
from dribbet.notebook import open_notebook
from dribbet.notebook.verify import verify
from dribbet.records import Lamp, Look, Mishap, Panel, Photo, Reading, Series, SeriesState, Weighing
from tests.conftest import NOW


def test_story_is_that_of_the_studio():
    names = [c.name for c in story.CHAPTERS]
    assert {"Kelp 02", "Kelp 03", "Dulse 01", "Bladderwrack 02", "Haar 01", "Squall 01"} <= set(names)
    assert {"foam", "channel teal", "kelp green", "wrack ochre", "wet slate", "dulse red", "brass", "interference gull"} <= {
        m.name for m in story.SHELF
    }
    assert story.STUDIO == "Tidewrack Studio"


@pytest.fixture
def book(demo_folder):
    opened = open_notebook(demo_folder)
    yield opened
    opened.close()


def test_demo_has_series_in_every_state_and_panels_with_photographs(book):
    assert {s.state for s in book.all(Series)} == set(SeriesState)
    shown = {p.panel_id for p in book.all(Photo)}
    assert len(shown) >= 30
    assert len(book.all(Reading)) >= 20
    assert all(re.fullmatch(r"[A-Z]\d-[a-z]\d", p.code) for p in book.all(Panel))


def test_demo_has_a_spoiled_panel_mishaps_and_an_overshoot(book):
    assert [p.code for p in book.all(Panel) if p.spoiled] == ["B2-b3"]
    assert len(book.all(Mishap)) >= 2
    mixed = {w.mix_id for w in book.all(Weighing)}
    assert mixed


def test_a_test_in_progress_has_looks_due_now(book):
    kelp = next(s for s in book.all(Series) if s.name == "Kelp 03")
    panels = book.all(Panel, series_id=kelp.id)
    due = []
    for panel in panels:
        from dribbet.records import PanelWeighing, StepMark

        poured = progress.poured_at(panel, book.all(PanelWeighing, panel_id=panel.id), book.all(StepMark, panel_id=panel.id))
        if poured:
            due.append(progress.next_look(panel, poured, book.all(Look, panel_id=panel.id), NOW))
    assert any(d is not None and d.now for d in due)
    assert 0 < len(due) < len(panels)


def test_demo_is_whole_and_small(demo_folder):
    assert verify(demo_folder) == []
    shipped = sum(p.stat().st_size for p in build.PHOTOS.iterdir()) + (build.PHOTOS.parent / build.READINGS_NAME).stat().st_size
    assert shipped < 25e6


def test_demo_copy_that_is_there_already_is_left_alone(demo_copy):
    before = (demo_copy / "notebook.sqlite3").read_bytes()
    build.build_notebook(demo_copy, NOW + timedelta(days=3))
    assert (demo_copy / "notebook.sqlite3").read_bytes() == before


def test_every_planned_shot_has_its_file():
    for shot in build.planned_shots():
        for name in shot.files.values():
            assert (build.PHOTOS / name).exists()
    readings = build.shipped_readings()
    assert {s.key for s in build.planned_shots()} == set(readings)


def test_shipped_photograph_is_what_the_command_draws():
    shot = next(build.planned_shots())
    drawn = build.shoot_panel(shot.pour, "diffuse", Lapse.NONE, seed=zlib.crc32(shot.key.encode()) % 9973)
    assert drawn == (build.PHOTOS / shot.files["diffuse"]).read_bytes()


def test_panel_under_the_next_lamp_is_drawn_once_and_photographed_as_if_it_were_new(monkeypatch):
    shot = next(s for s in build.planned_shots() if {"diffuse", "left"} <= set(s.files))
    seed = zlib.crc32(shot.key.encode()) % 9973
    drawn: list[Pour] = []
    monkeypatch.setattr("dribbet.demo.painter.draw_panel", lambda pour: drawn.append(pour) or draw_panel(pour))
    build.shoot_panel(replace(shot.pour, seed=shot.pour.seed + 1), "diffuse", Lapse.NONE, seed=seed)  # another one lay there before
    for lamp in ("diffuse", "left"):
        assert build.shoot_panel(shot.pour, lamp, Lapse.NONE, seed=seed) == (build.PHOTOS / shot.files[lamp]).read_bytes()
    assert [p.seed for p in drawn] == [shot.pour.seed + 1, shot.pour.seed]


def test_readings_pack_to_the_same_bytes():
    some = {"K1-a1": {"result": {"cells": {"count": 3}}}}
    assert build.pack_readings(some) == build.pack_readings(some)


def test_practice_camera_photographs_any_panel(book):
    kelp = next(s for s in book.all(Series) if s.name == "Kelp 04")
    panel = book.all(Panel, series_id=kelp.id)[0]
    data = build.practice_photo(kelp, panel, Lamp.DIFFUSE, Lapse.NONE)
    assert data.startswith(b"\xff\xd8")
    assert build.practice_photo(kelp, panel, Lamp.DIFFUSE, Lapse.NO_CARD) != data


def test_panel_laid_down_anew_lies_otherwise_and_is_the_same_panel(book):
    dulse = next(s for s in book.all(Series) if s.code == "D1")
    panel = next(p for p in book.all(Panel, series_id=dulse.id) if p.code == "D1-b1")
    shipped, again, third = (build.practice_photo(dulse, panel, Lamp.DIFFUSE, Lapse.NONE, laid) for laid in range(3))
    assert shipped == (build.PHOTOS / "D1-b1-dry-diffuse.jpg").read_bytes()
    assert len({shipped, again, third}) == 3
    means = [np.asarray(Image.open(io.BytesIO(data)), float).mean(axis=(0, 1)) for data in (shipped, again)]
    assert np.abs(means[0] - means[1]).max() < 12.0  # of 255: the same panel on the same table


# ---------------------------------------------------------------- the renderer


PLAIN = {"width_mm": 80, "height_mm": 60, "palette": ("#ECE8DC", "#0F6A7A", "#1F262A"), "shares": (2, 1, 1), "seed": 4}


def test_same_pour_is_drawn_the_same():
    a, b = draw_panel(Pour(**PLAIN)), draw_panel(Pour(**PLAIN))
    np.testing.assert_array_equal(a.linear, b.linear)
    np.testing.assert_array_equal(a.cells, b.cells)


def test_truth_follows_the_description():
    none = draw_panel(Pour(**PLAIN, cells_per_dm2=0))
    assert none.cells.max() == 0
    assert none.spread.all()
    assert none.crack_mm == 0.0
    full = draw_panel(Pour(**PLAIN, cells_per_dm2=60, crack_mm=120.0, bare_corners=2, lacing=0.3))
    assert full.cells.max() > 10
    assert full.crack_mm == pytest.approx(120.0, rel=0.4)
    assert 0.5 < full.spread.mean() < 1.0
    assert full.lacing.any()
    areas = np.bincount(full.cells.ravel())[1:] / 64.0
    assert areas.min() >= np.pi / 4 * 0.99


@pytest.mark.parametrize("kind", [{"crack_net": True, "crack_mm": 150.0}, {"lacing_strands": True, "lacing": 0.4}])
def test_other_kinds_of_lines_are_drawn_too(kind):
    drawn = draw_panel(Pour(**PLAIN, **kind))
    assert (drawn.cracks if "crack_net" in kind else drawn.lacing).any()


def test_photograph_has_the_panel_where_it_says():
    drawn = draw_panel(Pour(**PLAIN))
    photo, corners = photograph(drawn, Shot(seed=3, width_px=900, height_px=700, noise=0.0, exposure_ev=0.0))
    assert photo.shape == (700, 900, 3)
    centre = corners.mean(axis=0)
    assert np.all(corners > 0)
    assert np.all(corners < [900, 700])
    rim = photo[:4].reshape(-1, 3).mean(axis=0)
    assert np.abs(photo[int(centre[1]), int(centre[0])].astype(float) - rim).max() > 8
