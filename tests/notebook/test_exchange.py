from __future__ import annotations

import csv
import io
import json
import zipfile

import pytest

from dribbet.notebook import NotebookError, open_notebook
from dribbet.notebook.exchange import export, import_package
from dribbet.notebook.mapping import TABLES


def everything(book) -> dict:
    found = {kind.__name__: {r.id: r for r in book.all(kind)} for kind in TABLES}
    return found | {"photos": {p.name: p.read_bytes() for p in book.photos.stored()}}


def test_round_trip_is_lossless(demo_folder, tmp_path):
    source = open_notebook(demo_folder)
    export(source, tmp_path / "all.zip")
    target = open_notebook(tmp_path / "Copy.dribbet", create=True)
    import_package(tmp_path / "all.zip", target)
    assert everything(target) == everything(source)
    export(target, tmp_path / "again.zip")
    with zipfile.ZipFile(tmp_path / "all.zip") as a, zipfile.ZipFile(tmp_path / "again.zip") as b:
        assert sorted(a.namelist()) == sorted(b.namelist())
    source.close()
    target.close()


def test_importing_twice_adds_nothing(demo_folder, tmp_path):
    source = open_notebook(demo_folder)
    export(source, tmp_path / "all.zip")
    source.close()
    target = open_notebook(tmp_path / "Copy.dribbet", create=True)
    import_package(tmp_path / "all.zip", target)
    before = everything(target)
    assert set(import_package(tmp_path / "all.zip", target).values()) == {0}
    assert everything(target) == before
    target.close()


def test_package_describes_its_tables_and_their_units(notebook, tmp_path):
    export(notebook, tmp_path / "p.zip")
    with zipfile.ZipFile(tmp_path / "p.zip") as package:
        head = json.loads(package.read("datapackage.json"))
        for resource in head["resources"]:
            rows = list(csv.reader(io.StringIO(package.read(resource["path"]).decode("utf-8"))))
            assert rows[0] == [f["name"] for f in resource["schema"]["fields"]]
    weighing = next(r for r in head["resources"] if r["name"] == "weighing")
    assert {"name": "mass_kg", "type": "number", "description": "in kilogram"} in weighing["schema"]["fields"]


@pytest.fixture
def package(notebook, tmp_path):
    export(notebook, tmp_path / "p.zip")
    with zipfile.ZipFile(tmp_path / "p.zip") as source:
        content = {n: source.read(n) for n in source.namelist()}

    def with_changes(changes: dict[str, bytes | None]) -> object:
        path = tmp_path / "changed.zip"
        with zipfile.ZipFile(path, "w") as out:
            for name, data in (content | changes).items():
                if data is not None:
                    out.writestr(name, data)
        return path

    return with_changes


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"../outside.txt": b"x"}, "outside its folder"),
        ({"/etc/outside": b"x"}, "outside its folder"),
        ({"photos/..\\outside": b"x"}, "outside its folder"),
        ({"datapackage.json": None}, "no datapackage.json"),
        ({"datapackage.json": b"{"}, "datapackage.json in changed.zip cannot be read"),
        ({"datapackage.json": b"[]"}, "no datapackage.json"),
        ({"datapackage.json": b'{"dribbet_schema": "9999"}'}, "newer Dribbet"),
        ({"photos/ab/abc.jpg": b"not that one"}, "not the one that was exported"),
        ({"tables/weighing.csv": "id,mix_id\nä".encode("latin-1")}, "cannot be read"),
        ({"tables/weighing.csv": b"id,no_such_column\n1,2\n"}, "cannot be read"),
    ],
)  # fmt: skip
def test_bad_package_is_refused_whole(package, tmp_path, changes, words):
    target = open_notebook(tmp_path / "Target.dribbet", create=True)
    before = {p for p in tmp_path.rglob("*") if "Target" not in str(p)}
    path = package(changes)
    with pytest.raises(NotebookError, match=words):
        import_package(path, target)
    assert all(not target.all(kind) for kind in TABLES)
    assert {p for p in tmp_path.rglob("*") if "Target" not in str(p)} - before <= {path}
    target.close()


@pytest.mark.parametrize("content", [b"", b"no zip", b"PK\x03\x04 cut"])
def test_file_that_is_no_zip_is_refused(notebook, tmp_path, content):
    (tmp_path / "x.zip").write_bytes(content)
    with pytest.raises(NotebookError, match="not a zip"):
        import_package(tmp_path / "x.zip", notebook)


def test_export_into_a_folder_that_is_not_there_leaves_nothing(notebook, tmp_path):
    with pytest.raises(NotebookError, match="could not be written"):
        export(notebook, tmp_path / "none" / "p.zip")
