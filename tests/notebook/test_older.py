"""A notebook, and a package, of the first schema are read whole by the present one."""

from __future__ import annotations

import csv
import io
import json
import sqlite3
import zipfile
from dataclasses import asdict

import pytest

from dribbet.notebook import open_notebook, schema
from dribbet.notebook.engine import DATABASE
from dribbet.notebook.exchange import import_package
from dribbet.notebook.migrate import bring_up_to_date, stored_version
from dribbet.records import Constants, Factor, Level, Mix, Panel, Series

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
