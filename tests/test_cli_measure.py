"""What `dribbet measure` leaves to a person is said to scripts too."""

from __future__ import annotations

import json

from dribbet import cli
from dribbet.demo.build import PHOTOS
from tests.test_cli import run


def test_what_is_left_to_a_person_is_said_to_scripts():
    whole = {"spread": {"fraction": 1.0, "doubtful": 0.0}, "cracks": {"doubtful_mm": 0.0}}
    assert cli._open_questions(whole) == []
    base, lines = cli._open_questions({"spread": {"fraction": 0.97, "doubtful": 0.16}, "cracks": {"doubtful_mm": 24.3}})
    assert base.startswith("16 % of the panel, at its edge, may be bare base or paint of its colour: 81 to 97 % are covered.")
    assert lines.startswith("24 mm of lines may be cracks, and are not counted.")


def test_measure_says_lines_that_may_be_cracks(tmp_path):
    assert run("measure", PHOTOS / "K2-a2-dry-diffuse.jpg", "--size", "200x150", "--json", tmp_path / "r.json") == 0
    assert any("23 mm of lines may be cracks" in w for w in json.loads((tmp_path / "r.json").read_text())["light"]["warnings"])
