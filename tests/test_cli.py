"""The command line keeps its promises: names, keys, exit codes, one sentence for each mistake, nothing half written."""

from __future__ import annotations

import json
import subprocess
import sys
import zipfile

import cv2
import numpy as np
import pytest
from PIL import Image

from dribbet import cli
from dribbet.demo.build import PHOTOS
from dribbet.lab.cup.typed_amounts import amount
from dribbet.records import DribbetError
from tests.sight import drawn

PHOTO = PHOTOS / "K2-b1-dry-diffuse.jpg"
COMMANDS = {"demo", "open", "tour", "measure", "drips", "mix", "effects", "judge", "export", "import", "verify", "card", "draw-demo"}


def run(*words: object) -> int:
    return cli.main([str(w) for w in words])


def refused(capsys, *words: object) -> str:
    """Run a command that cannot be done; returns its one line."""
    assert run(*words) == 1
    out = capsys.readouterr()
    (line,) = out.err.strip().splitlines()
    assert "Traceback" not in line
    assert line.startswith("dribbet: ")
    return line


def test_every_promised_command_is_there_and_helped():
    top = cli.parser()
    (choices,) = [a.choices for a in top._actions if isinstance(a.choices, dict)]
    assert set(choices) == COMMANDS
    assert all(sub.description for sub in choices.values())


@pytest.mark.parametrize(
    "words",
    [
        (),
        ("no-such-command",),
        ("measure", PHOTO),
        ("measure", PHOTO, "--size", "big"),
        ("measure", PHOTO, "--size", "200x150", "--corners", "1,2,3"),
        ("measure", "--left", PHOTO, "--size", "200x150", PHOTO),
        ("tour", "out", "--size", "10x10"),
        ("effects", "runs.csv", "--response", "y", "--factors", ","),
        ("card", "postcard", "x.pdf"),
    ],
)
def test_wrong_usage_is_exit_code_two(words, capsys):
    assert run(*words) == 2
    assert "Traceback" not in capsys.readouterr().err


def test_command_runs_as_a_program_of_its_own(tmp_path):
    done = subprocess.run([sys.executable, "-m", "dribbet.cli", "verify", tmp_path / "none.dribbet"], capture_output=True, text=True)
    assert done.returncode == 1
    assert done.stderr.startswith("dribbet: There is no notebook")
    assert done.stdout == ""


# ---------------------------------------------------------------- measure, drips


def test_measure_writes_its_figures_and_masks(tmp_path):
    assert run("measure", PHOTO, "--size", "200x150", "--auto", "--json", tmp_path / "m.json", "--masks", tmp_path / "masks") == 0
    found = json.loads((tmp_path / "m.json").read_text())
    assert found["schema"] == "dribbet-measure/1"
    assert found["panel"]["corner_source"] == "found"
    assert found["light"]["card_found"] is True
    labels = cv2.imread(str(tmp_path / "masks" / "cells.png"), cv2.IMREAD_UNCHANGED)
    assert labels.dtype == np.uint16
    assert len(np.unique(labels)) - 1 == found["cells"]["count"]
    for name in ("cracks", "spread", "lacing"):
        assert set(np.unique(cv2.imread(str(tmp_path / "masks" / f"{name}.png"), cv2.IMREAD_UNCHANGED))) <= {0, 255}


def test_three_lamps_give_shimmer(tmp_path):
    lamps = [w for lamp in ("left", "right", "diffuse") for w in (f"--{lamp}", PHOTOS / f"H1-d1-dry-{lamp}.jpg")]
    assert run("measure", *lamps, "--size", "150x150", "--json", tmp_path / "s.json") == 0
    assert json.loads((tmp_path / "s.json").read_text())["shimmer"]["index"] > 0.05


def test_lamps_of_unlike_size_are_refused(tmp_path, capsys):
    Image.fromarray(drawn.marble(400, 300)).save(tmp_path / "small.png")
    words = ("--left", tmp_path / "small.png", "--right", tmp_path / "small.png", "--diffuse", PHOTO)
    assert "one pose" in refused(capsys, "measure", *words, "--size", "150x150")


@pytest.mark.parametrize(("content", "words"), [(None, "no photo at"), (b"", "is empty"), (b"words", "not a photo")])
def test_photo_that_cannot_be_measured_leaves_no_file(tmp_path, capsys, content, words):
    photo = tmp_path / "p.jpg"
    if content is not None:
        photo.write_bytes(content)
    assert words in refused(capsys, "measure", photo, "--size", "100x100", "--json", tmp_path / "m.json", "--masks", tmp_path / "masks")
    assert not (tmp_path / "m.json").exists()
    assert not (tmp_path / "masks").exists()


def test_cut_photo_and_crossed_corners_are_refused(tmp_path, capsys):
    (tmp_path / "cut.jpg").write_bytes(PHOTO.read_bytes()[:9000])
    assert "cut off" in refused(capsys, "measure", tmp_path / "cut.jpg", "--size", "200x150")
    corners = "100,100,900,900,900,100,100,900"
    assert "no quadrilateral" in refused(capsys, "measure", PHOTO, "--size", "200x150", "--corners", corners)


def test_drips_of_a_photo_without_a_card_are_refused(capsys):
    assert "whole card" in refused(capsys, "drips", PHOTO)


# ---------------------------------------------------------------- mix, effects


@pytest.fixture
def recipe(tmp_path):
    path = tmp_path / "r.json"
    path.write_text(
        json.dumps({"basis": "mass", "ingredients": [{"name": n, "parts": p} for n, p in (("paint", 1), ("conditioner", 2), ("water", 0.5))]})
    )
    return path


@pytest.mark.parametrize(("total", "grams"), [("250g", 250.0), ("0.25kg", 250.0), ("8oz", 226.796)])
def test_mix_scales_to_a_mass(recipe, tmp_path, total, grams):
    assert run("mix", recipe, "--total", total, "--json", tmp_path / "x.json") == 0
    found = json.loads((tmp_path / "x.json").read_text())
    assert found["total_g"] == pytest.approx(grams, abs=0.01)
    assert sum(i["mass_g"] for i in found["ingredients"]) == pytest.approx(grams, abs=0.01)
    assert sum(i["mass_fraction"] for i in found["ingredients"]) == pytest.approx(1.0)


@pytest.mark.parametrize(("total", "ml"), [("120ml", 120.0), ("4 fl oz", 118.294), ("0.1 litre", 100.0)])
def test_mix_scales_to_a_volume(recipe, tmp_path, total, ml):
    assert run("mix", recipe, "--total", total, "--json", tmp_path / "x.json") == 0
    found = json.loads((tmp_path / "x.json").read_text())
    assert found["total_ml"] == pytest.approx(ml, abs=0.01)
    assert sum(i["volume_ml"] for i in found["ingredients"]) == pytest.approx(ml, abs=0.01)


def test_mix_mends_a_cup(recipe, tmp_path, capsys):
    (tmp_path / "c.json").write_text(json.dumps({"paint": 20, "conditioner": 40, "water": 16}))
    assert run("mix", recipe, "--cup", tmp_path / "c.json") == 0
    found = json.loads(capsys.readouterr().out)["repair"]
    assert found["additions_g"] == {"paint": 12.0, "conditioner": 24.0, "water": 0.0}
    assert found["exact"] is True
    assert run("mix", recipe, "--cup", tmp_path / "c.json", "--capacity", "100g") == 0
    tight = json.loads(capsys.readouterr().out)["repair"]
    assert tight["exact"] is False
    assert tight["left_wrong"]
    assert tight["total_g"] <= 100.0 + 1e-6


@pytest.mark.parametrize("total", ["much", "-5g", "12 parsec", "0g"])
def test_total_that_is_no_amount_is_refused(recipe, total, capsys):
    assert run("mix", recipe, f"--total={total}") in (1, 2)
    assert "Traceback" not in capsys.readouterr().err


def effects_of(tmp_path, text: str | bytes, *words: str, encoding: str = "utf-8") -> tuple[int, dict]:
    path = tmp_path / "runs.csv"
    path.write_bytes(text if isinstance(text, bytes) else text.encode(encoding))
    code = run("effects", path, "--response", "y", "--factors", "a,b", "--json", tmp_path / "e.json", *words)
    return code, json.loads((tmp_path / "e.json").read_text()) if (tmp_path / "e.json").exists() else {}


TABLE = "a,b,y\n" + "".join(f"{a},{b},{10 + 3 * a - b}\n" for a in (-1, 1) for b in (-1, 1) for _ in range(2))


@pytest.mark.parametrize(
    ("text", "encoding"),
    [(TABLE, "utf-8"), (TABLE, "utf-8-sig"), (TABLE, "utf-16"), (TABLE.replace("a,", "é,", 0), "cp1252"), (TABLE.replace(",", ";"), "utf-8")],
)
def test_effects_read_tables_as_spreadsheets_write_them(tmp_path, text, encoding):
    code, found = effects_of(tmp_path, text, encoding=encoding)
    assert code == 0
    assert {t["term"]: t["effect"] for t in found["terms"]} == {"a": pytest.approx(6.0), "b": pytest.approx(-2.0)}
    assert {"n", "residual_df", "residual_sd", "terms", "anova"} <= set(found)
    assert set(found["anova"]) == {"ss_between", "ms_between", "df_between", "ss_within", "ms_within", "df_within", "f", "p", "r_squared"}


def test_decimal_commas_are_numbers_where_columns_part_by_semicolons(tmp_path):
    code, found = effects_of(tmp_path, "a;b;y\n0;0;1,5\n1;0;2,5\n0;1;1,5\n1;1;2,5\n")
    assert code == 0
    assert found["terms"][0]["effect"] == pytest.approx(1.0)


def test_interactions_are_added_when_asked(tmp_path):
    _, found = effects_of(tmp_path, TABLE, "--interactions")
    assert [t["term"] for t in found["terms"]] == ["a", "b", "a:b"]


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("a,b,y\n1,1,much\n", "line 2: y is 'much', not a number"),
        ("a,b,y\n1,1,2\n2,1,1e308\n", "line 3: y is '1e308', not a number"),
        ("a,b,y\n1,1,nan\n", "line 2: y is 'nan', not a number"),
        ("a,b,y\n1,1,inf\n", "line 2: y is 'inf', not a number"),
        ("a,c,y\n1,1,2\n", "no column b; it has a, c, y"),
        ("a,b,y\n", "no rows"),
        (b"a,b,y\n\x00\x01\x02\n", "encoding"),
        ("a,b,y\n1,1,2\n", "at least two runs"),
    ],
)
def test_table_that_cannot_be_used_is_refused_at_its_place(tmp_path, capsys, text, words):
    code, found = effects_of(tmp_path, text)
    assert code == 1
    assert found == {}
    (line,) = capsys.readouterr().err.strip().splitlines()
    assert words in line


def test_missing_table_is_named(tmp_path, capsys):
    assert "no file" in refused(capsys, "effects", tmp_path / "none.csv", "--response", "y", "--factors", "a")


# ---------------------------------------------------------------- notebooks, cards


def test_export_import_and_verify_go_round(demo_folder, tmp_path, capsys):
    assert run("export", demo_folder, tmp_path / "all.zip") == 0
    assert run("import", tmp_path / "all.zip", "--into", tmp_path / "Copy.dribbet") == 0
    assert "panel" in capsys.readouterr().out
    assert run("verify", tmp_path / "Copy.dribbet") == 0
    assert "whole" in capsys.readouterr().out


def test_verify_lists_faults(demo_copy, capsys):
    next(p for p in (demo_copy / "photos").rglob("*.jpg")).unlink()
    assert run("verify", demo_copy) == 1
    out = capsys.readouterr()
    assert "can be repaired" in out.out
    assert "1 fault" in out.err


def test_zip_that_writes_outside_is_refused(tmp_path, capsys):
    with zipfile.ZipFile(tmp_path / "evil.zip", "w") as package:
        package.writestr("../../evil.txt", "x")
    assert "outside its folder" in refused(capsys, "import", tmp_path / "evil.zip", "--into", tmp_path / "N.dribbet")
    assert not list(tmp_path.parent.glob("evil.txt"))


@pytest.mark.parametrize("kind", ["photo", "drip"])
def test_card_is_written(tmp_path, kind):
    assert run("card", kind, tmp_path / "c.pdf") == 0
    assert (tmp_path / "c.pdf").read_bytes().startswith(b"%PDF-")


def test_output_into_a_folder_that_is_not_there_is_said(tmp_path, capsys):
    line = refused(capsys, "card", "photo", tmp_path / "none" / "c.pdf")
    assert "Check the path" in line


def test_mix_tells_the_thrifty_repair_too(tmp_path):
    recipe, cup, out = (tmp_path / n for n in ("r.json", "c.json", "o.json"))
    recipe.write_text(
        '{"basis": "mass", "ingredients": [{"name": "paint", "parts": 1}, {"name": "conditioner", "parts": 2}, {"name": "water", "parts": 0.5}]}'
    )
    cup.write_text('{"paint": 20, "conditioner": 40, "water": 16}')
    from dribbet.cli import main

    assert main(["mix", str(recipe), "--cup", str(cup), "--total", "70g", "--json", str(out)]) == 0
    told = json.loads(out.read_text())["repair"]
    assert told["total_g"] == pytest.approx(112.0)
    assert told["take_out_first"]["take_out_g"] == pytest.approx(76 * (1 - 70 / 112))
    assert told["take_out_first"]["total_g"] == pytest.approx(70.0)
    assert main(["mix", str(recipe), "--cup", str(cup), "--json", str(out)]) == 0
    assert "take_out_first" not in json.loads(out.read_text())["repair"]


# ---------------------------------------------------------------- nothing read wrong in silence


@pytest.mark.parametrize(
    ("text", "kg", "m3"),
    [
        ("250g", 0.25, None), (" 0.25 kg ", 0.25, None), ("0,25kg", 0.25, None), ("8oz", 0.226796185, None), ("1 lb", 0.45359237, None),
        ("120ml", None, 120e-6), ("4 fl oz", None, 4 * 29.5735295625e-6), ("4 fl. oz.", None, 4 * 29.5735295625e-6), ("2 tsp", None, 10e-6),
        ("1.5 L", None, 1.5e-3), ("15 cm³", None, 15e-6), (".5g", 0.0005, None), ("500 mg", 0.0005, None),
    ],
)  # fmt: skip
def test_amount_is_a_figure_and_a_unit(text, kg, m3):
    found = amount(text)
    assert found.kg == (None if kg is None else pytest.approx(kg))
    assert found.m3 == (None if m3 is None else pytest.approx(m3))


@pytest.mark.parametrize(
    "text",
    ["9**9**9", "9**9**9g", "1e400g", "1e3g", "nan g", "inf ml", "-5g", "0g", "g", "5", "5 parsec", "1_000g", "2*3g", "(5)g", "5 g 3",
     "1" * 400 + "g",      "٣g", "1000001 g", "5 kg/m3", "__import__('os')", ""],
)  # fmt: skip
def test_what_is_no_amount_is_never_computed(text, recipe, capsys):
    with pytest.raises(DribbetError, match=r"is no amount|cannot be mixed"):
        amount(text)
    assert run("mix", recipe, f"--total={text or ' '}") in (1, 2)
    assert "Traceback" not in capsys.readouterr().err


@pytest.mark.parametrize(
    ("text", "factors", "words"),
    [
        ("a,b,y\n1,1,2\n2,2,3\n", "a,a", "a is named twice"),
        ("a,b,y\n1,1,2\n2,2,3\n", "a,y", "y is named twice"),
        ("a,a,y\n1,1,2\n2,2,3\n", "a", "two columns named a"),
        ('a,b,y\n1,"1,2\n2,2,3\n', "a,b", "never closed"),
        ("a,b,y\n1,1,2\n" + "x" * 20_000 + ",2,3\n", "a,b", "more than 10000 signs"),
    ],
)
def test_table_with_a_trap_is_refused_in_one_sentence(tmp_path, capsys, text, factors, words):
    (tmp_path / "runs.csv").write_text(text)
    assert words in refused(capsys, "effects", tmp_path / "runs.csv", "--response", "y", "--factors", factors)


def nested(depth: int, wide: int = 1) -> dict:
    inner: list[dict] = [{"name": "paint", "parts": 1}]
    if depth > 1:
        inner += [{"name": f"mix{n}", "parts": 1, "recipe": nested(depth - 1, wide if depth > 30 else 1)} for n in range(wide)]
    return {"basis": "volume", "ingredients": inner}


def test_recipe_thirty_two_deep_is_flattened_at_once_and_thirty_three_are_refused(tmp_path, capsys):
    """Each level once doubled the work: fifty would never have ended."""
    (tmp_path / "r.json").write_text(json.dumps(nested(32)))
    assert run("mix", tmp_path / "r.json", "--json", tmp_path / "x.json") == 0
    assert [i["name"] for i in json.loads((tmp_path / "x.json").read_text())["ingredients"]] == ["paint"]
    for depth in (33, 50, 900):
        (tmp_path / "d.json").write_text(
            json.dumps(nested(depth)) if depth < 900 else '{"basis":"mass","ingredients":[{"name":"x","parts":1,"recipe":' * 900
        )
        line = refused(capsys, "mix", tmp_path / "d.json")
        assert "nested" in line or "cannot be" in line or "can be read" in line


@pytest.mark.parametrize("cup", ['{"paint": Infinity}', '{"paint": NaN}', '{"paint": -1}', '{"paint": 1e308}', '{"paint": "5"}', "[1]"])
def test_cup_that_cannot_be_is_refused(recipe, tmp_path, capsys, cup):
    (tmp_path / "c.json").write_text(cup)
    assert "Correct it" in (line := refused(capsys, "mix", recipe, "--cup", tmp_path / "c.json")) or "JSON" in line


def test_repaired_copy_is_written_and_kept_copies_are_named(demo_copy, tmp_path, capsys):
    from datetime import date

    from dribbet.notebook import open_notebook

    book = open_notebook(demo_copy)
    book.keep_daily_copy(date(2026, 11, 19))
    book.close()
    (demo_copy / "notebook.sqlite3").write_bytes(b"garbage" * 1000)
    assert run("verify", demo_copy) == 1
    assert "cannot be opened" in capsys.readouterr().out
    assert run("verify", demo_copy, "--repair", tmp_path / "Whole.dribbet") == 0
    assert "A whole copy stands" in capsys.readouterr().out
    assert run("verify", tmp_path / "Whole.dribbet") == 0
    assert "2026-11-19" in refused(capsys, "verify", demo_copy, "--repair", tmp_path / "B.dribbet", "--from", "monday")
    assert run("verify", demo_copy, "--from", "x") == 2


def test_corners_of_a_very_large_photo_are_those_of_its_file(tmp_path, monkeypatch):
    """Read at half its width, but asked and answered in the file's own pixels."""
    from PIL import Image

    from dribbet.demo.build import PHOTOS, shipped_readings

    corners = shipped_readings()["K2-b1"]["result"]["panel"]["corners_px"]
    with Image.open(PHOTOS / "K2-b1-dry-diffuse.jpg") as picture:
        picture.resize((picture.width * 2, picture.height * 2)).save(tmp_path / "big.png")
    monkeypatch.setattr("dribbet.sight.load.READ_PIXELS", 2000 * 1500)
    said = ",".join(f"{v * 2:.2f}" for corner in corners for v in corner)
    assert run("measure", tmp_path / "big.png", "--size", "200x150", "--corners", said, "--json", tmp_path / "m.json") == 0
    found = json.loads((tmp_path / "m.json").read_text())
    assert np.abs(np.array(found["panel"]["corners_px"]) - 2 * np.array(corners)).max() < 0.1
    assert any("half of its width" in w for w in found["light"]["warnings"])
    known = shipped_readings()["K2-b1"]["result"]
    assert found["cells"]["count"] == pytest.approx(known["cells"]["count"], rel=0.2)


# ---------------------------------------------------------------- judge
