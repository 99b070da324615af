"""What `dribbet measure` leaves to a person is said to scripts too."""

from __future__ import annotations

import json

import cv2
import numpy as np
import pytest

from dribbet import cli
from dribbet.demo.build import PHOTOS, jpeg
from dribbet.demo.camera import Shot, photograph
from dribbet.demo.painter import Pour, draw_panel
from tests.test_cli import run


def test_what_is_left_to_a_person_is_said_to_scripts():
    whole = {"spread": {"fraction": 1.0, "doubtful": 0.0}, "cracks": {"count": 0, "length_sd": 11.9, "doubtful_mm": 0.0}}
    assert cli._open_questions(whole) == []
    (missed,) = cli._open_questions(whole | {"cracks": {"count": 0, "length_sd": 12.0, "doubtful_mm": 0.0}})
    assert missed == "No crack was found, but 12 mm may be missed: some lines are hard to tell apart. Look at the panel."
    assert cli._open_questions(whole | {"cracks": {"count": 2, "length_sd": 32.0, "doubtful_mm": 0.0}}) == []
    base, lines = cli._open_questions({"spread": {"fraction": 0.97, "doubtful": 0.16}, "cracks": {"doubtful_mm": 24.3}})
    assert base.startswith("16 % of the panel, at its edge, may be bare base or paint of its colour: 81 to 97 % are covered.")
    assert lines == "24 mm of lines may be cracks, and are not counted. Look at the panel."
    told = {"doubtful_mm": 24.3, "under_lamps": {"deep_mm": 0.0, "flat_mm": 20.6}}
    (flat,) = cli._open_questions({"spread": {"fraction": 1.0, "doubtful": 0.0}, "cracks": told})
    assert flat == "24 mm of lines may be cracks, and are not counted. 21 mm of them lie flat under the lamps, as paint does. Look at the panel."


def test_measure_says_lines_that_may_be_cracks(tmp_path):
    assert run("measure", PHOTOS / "K2-a1-dry-diffuse.jpg", "--size", "200x150", "--json", tmp_path / "r.json") == 0
    assert any("15 mm of lines may be cracks" in w for w in json.loads((tmp_path / "r.json").read_text())["light"]["warnings"])


def test_measure_adds_the_shine_where_an_edge_is_mirrored(tmp_path, capsys):
    pour = Pour(width_mm=120.0, height_mm=90.0, palette=("#16323a", "#0f6a7a", "#d8d2c0"), shares=(0.5, 0.3, 0.2), seed=3, rough_deg=0.5)
    for lamp in ("diffuse", "edge"):
        (tmp_path / f"{lamp}.jpg").write_bytes(jpeg(photograph(draw_panel(pour), Shot(seed=9, width_px=2000, height_px=1500), lamp)[0]))
    main, edge = tmp_path / "diffuse.jpg", tmp_path / "edge.jpg"
    assert run("measure", main, "--edge", edge, "--size", "120x90", "--json", tmp_path / "m.json") == 0
    shine = json.loads((tmp_path / "m.json").read_text())["shine"]
    assert set(shine) == {"step", "step_sd", "contrast", "width_mm", "grade", "pieces"}
    assert shine["width_mm"] == pytest.approx(500 * np.tan(np.radians(0.5)), rel=0.12)
    assert run("measure", main, "--size", "120x90", "--json", tmp_path / "n.json") == 0
    assert "shine" not in json.loads((tmp_path / "n.json").read_text())
    cv2.imwrite(str(tmp_path / "small.jpg"), np.full((300, 400, 3), 120, np.uint8))
    assert run("measure", main, "--edge", tmp_path / "small.jpg", "--size", "120x90") == 1
    assert "mirrored edge is of unlike size" in capsys.readouterr().err
