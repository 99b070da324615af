"""A notebook, and a package, of the first schema are read whole by the present one."""

from __future__ import annotations

import csv
import io
import json
import sqlite3
import zipfile
from dataclasses import asdict, replace

import pytest

from dribbet.notebook import open_notebook, schema, told_before
from dribbet.notebook.engine import DATABASE
from dribbet.notebook.exchange import import_package
from dribbet.notebook.migrate import bring_up_to_date, stored_version
from dribbet.notebook.older_packages import Upgrade
from dribbet.records import (
    Advice,
    Bottle,
    Check,
    CheckKind,
    Constants,
    Factor,
    Gauging,
    Level,
    Material,
    Mix,
    MixMark,
    Pack,
    Panel,
    Photo,
    Seen,
    Series,
    Sheen,
    Sign,
)

CONSTANTS = {
    k: v for k, v in asdict(Constants()).items() if k in ("panel_width_m", "panel_height_m", "support", "poured_kg", "medium", "water_share")
}
ROWS = {
    "series": [
        {"id": "s1", "code": "K3", "name": "Kelp 03", "factor": "water share",
         "levels": '[{"value": 0.1, "name": ""}, {"value": 0.2, "name": ""}]',
         "repeats": 2, "responses": '[["crack length", "less"]]', "constants": json.dumps(CONSTANTS),
         "layers": '[{"material": "foam", "share": 1.0}]',
         "prediction": None, "crossed": "silicone", "crossed_levels": '[{"value": 0.0, "name": ""}, {"value": 2.0, "name": ""}]', "seed": 3,
         "state": "running", "verdict": "", "created_at": "2026-11-19T12:00:00.000000Z+0100", "note": ""},
        {"id": "s2", "code": "B2", "name": "Bladderwrack 02", "factor": "medium", "levels": '[{"value": null, "name": "glue"}]', "repeats": 1,
         "responses": '[["spread", "more"]]', "constants": "{}", "layers": "[]", "prediction": None, "crossed": None, "crossed_levels": "[]",
         "seed": None, "state": "planned", "verdict": "", "created_at": "2026-11-20T12:00:00.000000Z+0100", "note": ""},
    ],
    "panel": [
        {"id": "p1", "series_id": "s1", "code": "K3-d1", "recipe": "d", "repeat": 1, "place": 2, "level": 1, "crossed_level": 1, "spoiled": ""},
        {"id": "p2", "series_id": "s2", "code": "B2-a1", "recipe": "a", "repeat": 1, "place": 1, "level": 0, "crossed_level": 0,
         "spoiled": "dropped"},
    ],
    "mix": [
        {"id": "m1", "series_id": "s1", "colour": "foam", "recipes": "bd", "place": 1, "plan": '[["foam", 0.1]]', "drops": 0, "drop_material": "",
         "covered_at": None, "kept_over": 0, "done": 1},
    ],
}  # fmt: skip


@pytest.fixture
def old_folder(tmp_path):
    """A notebook as the first schema left it."""
    folder = tmp_path / "Old.dribbet"
    folder.mkdir()
    bring_up_to_date(folder, to="0001")
    with sqlite3.connect(folder / DATABASE) as connection:
        for table, rows in ROWS.items():
            for row in rows:
                connection.execute(f"INSERT INTO {table} ({', '.join(row)}) VALUES ({', '.join('?' * len(row))})", list(row.values()))
    return folder


def check(book) -> None:
    first, second = book.get(Series, "s1"), book.get(Series, "s2")
    assert [(v.factor, v.levels) for v in first.varied] == [
        (Factor.WATER_SHARE, (Level(value=0.1), Level(value=0.2))), (Factor.SILICONE, (Level(value=0.0), Level(value=2.0))),
    ]  # fmt: skip
    assert [v.factor for v in second.varied] == [Factor.MEDIUM]
    assert second.constants == Constants()
    assert (book.get(Panel, "p1").settings, book.get(Panel, "p2").settings) == ((1, 1), (0,))
    assert book.get(Panel, "p2").spoiled == "dropped"
    assert book.get(Mix, "m1").block == 0


def test_notebook_of_the_first_schema_opens_with_all_it_held_and_a_copy_is_kept(old_folder):
    book = open_notebook(old_folder)
    check(book)
    assert stored_version(old_folder / DATABASE) == schema.VERSION
    assert stored_version(old_folder / "copies" / "before-0001.sqlite3") == "0001"
    book.close()


def test_package_of_the_first_schema_is_imported_whole(notebook, tmp_path):
    file = tmp_path / "old.zip"
    with zipfile.ZipFile(file, "w") as package:
        package.writestr("datapackage.json", json.dumps({"dribbet_schema": "0001", "resources": []}))
        for table, rows in ROWS.items():
            out = io.StringIO()
            writer = csv.writer(out, lineterminator="\n")
            writer.writerow(rows[0])
            for row in rows:
                writer.writerow([{None: "\\N", 0: "false" if k in ("kept_over", "done") else "0", 1: "true" if k == "done" else "1"}.get(v, v)
                                 for k, v in row.items()])  # fmt: skip
            package.writestr(f"tables/{table}.csv", out.getvalue())
    assert import_package(file, notebook) == {"series": 2, "panel": 2, "mix": 1}
    check(notebook)


SECOND = {
    "material": {
        "id": "glue", "name": "glue", "kind": "medium", "hex": "#EFECE2", "density_kg_m3": 1080.0, "volume_solids": 0.47, "opacity": "transparent",
        "drop_kg": 0.0, "alcohol_share": 0.0, "wash_off": 0, "bakeable": 0, "hazards": "[]", "lot": "7", "stock_kg": 0.9, "full_kg": 1.0,
        "price_per_kg": 7.0,
    },
    "consistency_check": {
        "id": "c1", "mix_id": "m1", "kind": "mound", "value": 2.4, "at": "2026-11-19T14:00:00.000000Z+0100", "source": "stopwatch", "taken_back": 0,
    },
}  # fmt: skip


@pytest.fixture
def second_folder(old_folder):
    """The same notebook as the second schema left it, with a container and a check."""
    bring_up_to_date(old_folder, to="0002")
    with sqlite3.connect(old_folder / DATABASE) as connection:
        for table, row in SECOND.items():
            connection.execute(f"INSERT INTO {table} ({', '.join(row)}) VALUES ({', '.join('?' * len(row))})", list(row.values()))
    return old_folder


def check_second(book) -> None:
    glue, read = book.get(Material, "glue"), book.get(Check, "c1")
    assert (glue.lot, glue.stock_kg, glue.price_per_kg) == ("7", 0.9, 7.0)
    assert (glue.packs, glue.made_of, glue.sheen, glue.lot_since, glue.neutral_ph, glue.note) == ((), (), Sheen.UNKNOWN, None, None, "")
    assert (read.kind, read.value, read.tool, read.seconds, read.celsius, read.note) == (CheckKind.MOUND, 2.4, "", 0.0, None, "")
    assert (book.all(Bottle), book.all(Gauging), book.all(MixMark)) == ([], [], [])


def test_notebook_of_the_second_schema_opens_with_its_shelf_and_checks(second_folder):
    book = open_notebook(second_folder)
    check(book)
    check_second(book)
    book.replace(replace(book.get(Material, "glue"), packs=(Pack(content_kg=1.0, price=7.0),)))
    book.close()
    again = open_notebook(second_folder)
    assert again.get(Material, "glue").packs[0].price == 7.0
    again.close()


def test_package_of_the_second_schema_is_imported_with_its_shelf_and_checks(notebook, tmp_path):
    file = tmp_path / "second.zip"
    with zipfile.ZipFile(file, "w") as package:
        package.writestr("datapackage.json", json.dumps({"dribbet_schema": "0002", "resources": []}))
        row = {k: "false" if k in ("wash_off", "bakeable") else str(v) for k, v in SECOND["material"].items()}
        out = io.StringIO()
        writer = csv.DictWriter(out, list(row), lineterminator="\n")
        writer.writeheader()
        writer.writerow(row)
        package.writestr("tables/material.csv", out.getvalue())
    assert import_package(file, notebook)["material"] == 1
    assert notebook.get(Material, "glue").made_of == ()


TOLD = [
    ("Sharp|Yes. Finest edges are 0.6 mm.|fine", Seen(sign=Sign.SHARP, figures=(0.6,))),
    ("Sharp|No fine edges to tell by.|fine", Seen(sign=Sign.PLAIN)),
    ("Sharp|the finest lines are 0.9 mm wide. Steady the camera and focus again.|doubt", Seen(sign=Sign.BLURRED, figures=(0.9,))),
    ("Exposure|Right, by the card.|fine", Seen(sign=Sign.EXPOSURE, figures=(0.0,))),
    ("Exposure|Card is 0.4 EV under; taken out.|fine", Seen(sign=Sign.EXPOSURE, figures=(-0.4,))),
    ("Exposure|12\u202f% of the panel is white-out. Use less light or a shorter exposure.|doubt", Seen(sign=Sign.WHITE_OUT, figures=(0.12,))),
    ("Glare|On 3\u202f% of the panel. Move the lamp aside; cells under it cannot be read.|doubt|0.500|0.250",
     Seen(sign=Sign.GLARE, figures=(0.03, 0.5, 0.25))),
    ("No card|Colours are as the camera saw them. Lay the card beside the panel and take it again.|doubt", Seen(sign=Sign.NO_CARD)),
    ("Corners|The card says the panel is 120 × 90 mm. Check its size or drag the corners.|doubt",
     Seen(sign=Sign.CORNERS_SIZE, figures=(120.0, 90.0))),
    ("Corners|One side of the panel hardly stands out from the table. Check the corners.|doubt", Seen(sign=Sign.CORNERS_FAINT)),
    ("Corners|Moved by hand.|fine", Seen(sign=Sign.CORNERS_BY_HAND)),
    ("Tilt|3°. The photo will be squared up.|fine", Seen(sign=Sign.TILT, figures=(3.0,))),
    ("Coarse|Only 3.4 pixels per mm: thin cracks vanish. Go closer.|doubt", Seen(sign=Sign.COARSE, figures=(3.4,))),
    ("File|The picture is very large and was read at half of its width.|fine", Seen(sign=Sign.REDUCED, figures=(2.0,))),
    ("File|The picture is very large and was read at 1/4 of its width.|fine", Seen(sign=Sign.REDUCED, figures=(4.0,))),
]  # fmt: skip


@pytest.mark.parametrize(("line", "seen"), TOLD)
def test_sentence_that_an_earlier_schema_kept_of_a_photo_becomes_the_fact_it_told(line, seen):
    told = told_before.seen(line)
    assert Seen(sign=Sign(told["sign"]), figures=tuple(told["figures"])) == seen


def test_photo_and_advice_kept_as_sentences_are_read_as_facts(second_folder):
    bring_up_to_date(second_folder, to="0005")
    lines = [line for line, _ in TOLD[:2]] + ["Exposure|No card to tell by.|fine"]
    photo = {
        "id": "f1", "panel_id": "p1", "sha256": "0" * 64, "suffix": ".jpg", "name": "x.jpg", "stage": "dry", "lamp": "diffuse", "width_px": 10,
        "height_px": 10, "taken_at": None, "added_at": "2026-11-19T14:00:00.000000Z+0100", "corners_px": "[]", "quality": json.dumps(lines),
        "left_out": 0, "number": 9,
    }  # fmt: skip
    against = [{"what": "no panel without silicone", "at": "2026-11-19T13:00:00+01:00"}]
    with sqlite3.connect(second_folder / DATABASE) as connection:
        connection.execute(f"INSERT INTO photo ({', '.join(photo)}) VALUES ({', '.join('?' * len(photo))})", list(photo.values()))
        connection.execute("UPDATE series SET insisted = ? WHERE id = 's1'", (json.dumps(against),))
    book = open_notebook(second_folder)
    assert book.get(Photo, "f1").quality == (TOLD[0][1], TOLD[1][1])
    (insisted,) = book.get(Series, "s1").insisted
    assert (insisted.against, insisted.of, insisted.at.isoformat()) == (Advice.CONTROL, "silicone", "2026-11-19T13:00:00+01:00")
    book.close()


@pytest.mark.parametrize("version", ["0006", "0007", "0008", "0009"])
def test_columns_that_came_later_hold_what_the_schema_gives_them(version):
    upgrade = Upgrade(version)
    look = upgrade.row("look", {"id": "k", "cracked": "true"})
    assert (look["x_share"], look["flaws"], look["late_s"], look["note"]) == ("\\N", "[]", "0", "")
    step = upgrade.row("step_mark", {"id": "s", "place": "4"})
    assert (step["place"], step["how"], step["figures"]) == ("4", "done", "[]")
    assert upgrade.row("mishap", {})["zone_out"] == "false"
    assert upgrade.row("series", {"id": "s"})["concluded"] == "[]"
    assert upgrade.row("treated", {})["hot_at"] == "\\N"


def test_a_package_of_today_is_not_filled_in():
    assert Upgrade(schema.VERSION).row("series", {"id": "s"}) == {"id": "s"}
