"""`dribbet judge`: the judge of Decide for tables of runs, as users' scripts call it."""

from __future__ import annotations

import json

import pytest

from dribbet import cli
from dribbet.demo.build import PHOTOS

PHOTO = PHOTOS / "K2-b1-dry-diffuse.jpg"
COMMANDS = {"demo", "open", "tour", "measure", "drips", "mix", "effects", "judge", "export", "import", "verify", "card", "draw-demo"}


CROSSED = "test,a,b,width\n" + "".join(
    f"{t},{a},{b},{5.0 + 4.0 * a + 6.0 * b + (0.1, -0.2, 0.05, 0.15, -0.1, 0.0, 0.2, -0.15)[2 * (2 * a + b) + k]}\n"
    for t in ("one", "two") for a in (0, 1) for b in (0, 1) for k in (0, 1)
)  # fmt: skip


def judged(tmp_path, text: str, *words: str) -> dict:
    (tmp_path / "runs.csv").write_text(text)
    out = tmp_path / "j.json"
    assert cli.main(["judge", str(tmp_path / "runs.csv"), *words, "--json", str(out)]) == 0
    return json.loads(out.read_text())


def test_judge_tells_both_factors_of_a_crossed_test_and_each_series_apart(tmp_path):
    found = judged(tmp_path, CROSSED, "--responses", "width:amount", "--factors", "a,b", "--series", "test")
    assert (found["schema"], [s["series"] for s in found["series"]], [s["n"] for s in found["series"]]) == ("dribbet-judge/1", ["one", "two"], [8, 8])
    assert {a["what"]: a["word"] for a in found["series"][1]["answers"]} == {"a": "real", "b": "real", "a:b": "could be chance"}
    assert set(found["series"][0]["answers"][0]) == {"response", "what", "difference", "low", "high", "level", "p", "word", "method"}


def test_judge_reads_areas_times_and_what_moved_along(tmp_path):
    text = "r;cells;dm2;hours;film\n" + "".join(
        f"{r};{c};{a};{h};{f}\n"
        for r, c, a, h, f in (
            (1, 30, 2, "10,5", "1,5"), (1, 32, 2, 12, "1,6"), (1, 28, 2, 20, "1,55"), (1, 31, 2, 14, "1,5"), (1, 30, 2, 15, "1,6"),
            (2, 61, 4, "", "1,9"), (2, 59, 4, "", "1,8"), (2, 60, 4, "", "1,85"), (2, 62, 4, "", "1,9"), (2, 60, 4, "", "1,8"),
        )
    )  # fmt: skip
    (found,) = judged(tmp_path, text, "--responses", "cells:count,hours:time", "--factors", "r", "--area", "dm2", "--covariates", "film")["series"]
    cells, hours = found["answers"]
    assert cells["word"] == "could be chance"
    assert hours["word"] == "real"
    (said,) = found["unlike"]
    assert said.startswith("film moved along with r (r = 0.9")


@pytest.mark.parametrize(
    ("words", "said"),
    [
        (("--responses", "width:weight", "--factors", "a"), "'weight' is no kind of response for width"),
        (("--responses", "width:", "--factors", "a"), "no kind of response"),
        (("--responses", "wide:amount", "--factors", "a"), "has no column wide"),
        (("--responses", "width:share", "--factors", "a"), "line 2: width is 5.1, but a share lies from 0 to 1"),
        (("--responses", "width:count", "--factors", "a"), "a count is a whole number"),
        (("--responses", "width:yesno", "--factors", "a"), "a yesno is 0 or 1"),
        (("--responses", "width:amount", "--factors", "a,a"), "a is named twice"),
        (("--responses", "width:amount", "--factors", "a", "--area", "a"), "a is named twice"),
        (("--responses", "width:count", "--factors", "b", "--area", "a"), "a count is a whole number"),
        (("--responses", "width:amount", "--factors", "b", "--area", "a"), "an area is nought or less"),
    ],
)
def test_judge_refuses_in_one_sentence(tmp_path, capsys, words, said):
    (tmp_path / "runs.csv").write_text(CROSSED)
    assert cli.main(["judge", str(tmp_path / "runs.csv"), *words]) == 1
    assert said in capsys.readouterr().err


def test_judge_says_what_is_the_same_in_all(tmp_path):
    text = "a,b,y\n1,x,2.0\n1,x,2.1\n2,x,4.0\n2,x,4.1\n"
    (found,) = judged(tmp_path, text, "--responses", "y:amount", "--factors", "a,b")["series"]
    assert [a["what"] for a in found["answers"]] == ["a"]
    assert found["unlike"] == ["b has the same level in every panel, so nothing can be said of it."]
