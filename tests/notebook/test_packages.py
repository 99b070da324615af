"""What a package may hold, and what an import refuses: all of it or nothing, in one sentence."""

from __future__ import annotations

import csv
import io
import json
import struct
import threading
import zipfile
from dataclasses import replace

import pytest

from dribbet.lab.plan import design, planning
from dribbet.notebook import NotebookError, open_notebook, package_file
from dribbet.notebook.exchange import export, import_package
from dribbet.notebook.mapping import TABLES
from dribbet.notebook.store import new_id
from dribbet.notebook.verify import verify
from dribbet.records import Lamp, Material, Mix, Panel, Photo, Reading, Series, Stage, Weighing
from tests.made_up import CUP, NOON, material, result, series


def filled(book, code: str = "T1", *, cells: int = 3, name: str = "Thrift 01") -> Series:
    """A series with panels, cups, a weighing, a photo and its reading."""
    s = series(id=new_id(), code=code, name=name, seed=1)
    panels, mixes = design.panels(s, new_id), planning.mixes(s, new_id)
    known = {m.name for m in book.all(Material)}
    names = dict.fromkeys(n for m in mixes for n, _ in m.plan) | dict.fromkeys(layer.material for layer in CUP)
    book.add(*[replace(material(n), id=new_id()) for n in names if n not in known], s, *panels, *mixes)
    book.add(Weighing(id=new_id(), mix_id=mixes[0].id, ingredient="water", mass_kg=0.01, at=NOON))
    with book.transaction():
        digest = book.photos.keep(f"picture of {code}".encode(), ".jpg")
        photo = Photo(
            id=new_id(), panel_id=panels[0].id, sha256=digest, suffix=".jpg", name="a.jpg", stage=Stage.DRY, lamp=Lamp.DIFFUSE, width_px=10,
            height_px=10, taken_at=None, added_at=NOON,
        )  # fmt: skip
        book.add(photo)
        found = result(cells) | {"outlines": {"cells": [[[float(i), j / 7.0] for j in range(400)] for i in range(cells)], "cracks": [], "edge": []}}
        book.add(Reading(id=new_id(), panel_id=panels[0].id, photo_id=photo.id, stage=Stage.DRY, reader="r", at=NOON, result=found))
    return s


@pytest.fixture
def target(tmp_path):
    book = open_notebook(tmp_path / "Target.dribbet", create=True)
    yield book
    book.close()


def everything(book) -> dict[str, set]:
    return {kind.__name__: {repr(r) for r in book.all(kind)} for kind in TABLES}


def test_panel_with_164_cells_goes_out_and_comes_in(notebook, tmp_path, target):
    filled(notebook, cells=164)
    export(notebook, tmp_path / "p.zip")
    import_package(tmp_path / "p.zip", target)
    assert target.all(Reading)[0].result == notebook.all(Reading)[0].result
    with zipfile.ZipFile(tmp_path / "p.zip") as package:
        cells = [cell for row in csv.reader(io.StringIO(package.read("tables/reading.csv").decode())) for cell in row]
    assert max(map(len, cells)) < 200, "what is long stands in a file of its own"


def test_package_made_beside_a_writing_window_is_of_one_moment(notebook, tmp_path):
    """Each write adds a series with its panels and cups at once: no package may hold a part of one."""
    filled(notebook)
    halt = threading.Event()

    def write() -> None:
        for n in range(400):
            if halt.is_set():
                return
            s = series(id=new_id(), code=f"W{n}", seed=1)
            with notebook.transaction():
                notebook.add(s)
                notebook.add(*design.panels(s, new_id))
                notebook.add(*planning.mixes(s, new_id))

    writer = threading.Thread(target=write)
    writer.start()
    torn = []
    for n in range(6):
        export(notebook, tmp_path / f"{n}.zip")
        with zipfile.ZipFile(tmp_path / f"{n}.zip") as package:
            rows = {t: list(csv.DictReader(io.StringIO(package.read(f"tables/{t}.csv").decode()))) for t in ("series", "panel", "mix")}
        per = {s["id"]: [sum(r["series_id"] == s["id"] for r in rows[t]) for t in ("panel", "mix")] for s in rows["series"]}
        torn += [counts for counts in per.values() if counts != [6, 9]]
        assert {r["series_id"] for t in ("panel", "mix") for r in rows[t]} <= set(per)
    halt.set()
    writer.join()
    assert torn == []


# ---------------------------------------------------------------- false values


def cell(table: str, column: str, value: str, row: int = 0):
    """A package in which one cell says something else."""

    def change(content: dict[str, bytes]) -> None:
        name = f"tables/{table}.csv"
        rows = list(csv.reader(io.StringIO(content[name].decode())))
        rows[row + 1][rows[0].index(column)] = value
        out = io.StringIO()
        csv.writer(out, lineterminator="\n").writerows(rows)
        content[name] = out.getvalue().encode()

    return change


def reading(**groups):
    def change(content: dict[str, bytes]) -> None:
        name = next(n for n in content if n.startswith("readings/"))
        content[name] = json.dumps(json.loads(content[name]) | groups).encode()

    return change


def repacked(source, path, *changes) -> None:
    with zipfile.ZipFile(source) as package:
        content = {n: package.read(n) for n in package.namelist()}
    for change in changes:
        change(content)
    with zipfile.ZipFile(path, "w") as out:
        for name, data in content.items():
            out.writestr(name, data)


FALSE = [
    cell("weighing", "mass_kg", "-0.01"),
    cell("weighing", "mass_kg", "nan"),
    cell("weighing", "mass_kg", "inf"),
    cell("weighing", "mass_kg", "1e308"),
    cell("weighing", "mass_kg", "much"),
    cell("weighing", "at", "yesterday"),
    cell("weighing", "at", "0001-01-01T00:00:00.000000Z+0000"),
    cell("weighing", "taken_back", "maybe"),
    cell("weighing", "mix_id", "nowhere"),
    cell("weighing", "id", "../x"),
    cell("weighing", "ingredient", "\\N"),
    cell("weighing", "ingredient", "moon dust"),
    cell("series", "state", "dreaming"),
    cell("series", "repeats", "99"),
    cell("series", "varied", "[]"),
    cell("series", "constants", '{"water_share": 7}'),
    cell("series", "layers", '[{"material": "moon", "share": 0.5}]'),
    cell("series", "layers", "[" * 5000 + "]" * 5000),
    cell("series", "name", "x" * 5000),
    cell("panel", "settings", "[9]"),
    cell("panel", "recipe", "?"),
    cell("panel", "region", "[5]"),
    cell("panel", "code", "other"),
    cell("photo", "suffix", "/../../../tmp/x"),
    cell("photo", "suffix", ".exe"),
    cell("photo", "sha256", "ab"),
    cell("photo", "width_px", "-5"),
    cell("photo", "stage", "tomorrow"),
    cell("photo", "corners_px", "[[1,2]]"),
    cell("material", "density_kg_m3", "0"),
    cell("material", "hex", "<b>"),
    cell("mix", "plan", '[["water", -1]]'),
    cell("mix", "recipes", ""),
    cell("reading", "photo_id", "nowhere"),
    cell("reading", "stage", "wet"),
    cell("reading", "result", "readings/none.json"),
    reading(cells={}),
    reading(cracks={"length_mm": "long"}),
    reading(spread=None),
    lambda c: c.update({"tables/setting.csv": b'key,value\nhouse_rules,"{""drip_seconds"": -1}"\n'}),
    lambda c: c.update({"tables/weighing.csv": c["tables/weighing.csv"].replace(b",source", b"")}),
    lambda c: c.update({"tables/weighing.csv": c["tables/weighing.csv"] + b"one,two\n"}),
]


@pytest.mark.parametrize("change", FALSE)
def test_false_cell_is_refused_by_the_records_that_the_window_uses(notebook, tmp_path, target, change):
    filled(notebook)
    export(notebook, tmp_path / "p.zip")
    repacked(tmp_path / "p.zip", tmp_path / "false.zip", change)
    kept = filled(target, "K9")
    before = everything(target)
    files = sorted(p for p in target.folder.rglob("*") if p.is_file())
    with pytest.raises(NotebookError) as refused:
        import_package(tmp_path / "false.zip", target)
    assert "\n" not in str(refused.value)
    assert "Traceback" not in str(refused.value)
    assert len(str(refused.value)) < 400
    assert everything(target) == before, "all of it or nothing"
    assert sorted(p for p in target.folder.rglob("*") if p.is_file()) == files, "no photo is left behind"
    assert target.get(Series, kept.id) == kept
    assert verify(target.folder) == []


def test_true_package_of_the_same_kind_is_taken(notebook, tmp_path, target):
    filled(notebook)
    export(notebook, tmp_path / "p.zip")
    repacked(tmp_path / "p.zip", tmp_path / "same.zip")
    assert import_package(tmp_path / "same.zip", target)["reading"] == 1
    assert everything(target) == everything(notebook)


# ---------------------------------------------------------------- zips that are none


def wrong_head(data: bytes) -> bytes:
    """The local head of the first file names another one than the list at the end."""
    at = data.index(b"PK\x03\x04")
    length = struct.unpack("<H", data[at + 26 : at + 28])[0]
    return data[: at + 30] + b"x" * length + data[at + 30 + length :]


def locked(data: bytes) -> bytes:
    """Every file is marked as locked with a password."""
    out = bytearray(data)
    for sign, offset in ((b"PK\x03\x04", 6), (b"PK\x01\x02", 8)):
        at = out.find(sign)
        while at >= 0:
            out[at + offset] |= 1
            at = out.find(sign, at + 4)
    return bytes(out)


def odd_packing(data: bytes) -> bytes:
    out = bytearray(data)
    for sign, offset in ((b"PK\x03\x04", 8), (b"PK\x01\x02", 10)):
        at = out.find(sign)
        while at >= 0:
            out[at + offset : at + offset + 2] = struct.pack("<H", 97)
            at = out.find(sign, at + 4)
    return bytes(out)


@pytest.mark.parametrize(
    ("spoil", "words"),
    [
        (wrong_head, "damaged"),
        (locked, "password"),
        (odd_packing, "damaged"),
        (lambda d: d[: len(d) // 2], "not a zip"),
        (lambda d: d[:-30], "not a zip"),
        (lambda d: d.replace(b"tables/series.csv", b"tables/../../.csv"), "outside its folder"),
        (lambda d: d.replace(b"tables/series.csv", b"tables/panel.csv\n"), "outside its folder"),
    ],
)
def test_spoiled_zip_is_refused_in_a_sentence(notebook, tmp_path, target, spoil, words):
    filled(notebook)
    export(notebook, tmp_path / "p.zip")
    (tmp_path / "s.zip").write_bytes(spoil((tmp_path / "p.zip").read_bytes()))
    with pytest.raises(NotebookError, match=words):
        import_package(tmp_path / "s.zip", target)
    assert everything(target) == {kind.__name__: set() for kind in TABLES}
    assert target.photos.stored() == []


def test_file_that_stands_twice_in_a_package_is_refused(notebook, tmp_path, target):
    filled(notebook)
    export(notebook, tmp_path / "p.zip")
    with pytest.warns(UserWarning, match="Duplicate"), zipfile.ZipFile(tmp_path / "p.zip", "a") as package:
        package.writestr("tables/series.csv", "id\n")
    with pytest.raises(NotebookError, match="twice"):
        import_package(tmp_path / "p.zip", target)


def test_deep_names_and_deep_json_are_refused(notebook, tmp_path, target):
    filled(notebook)
    export(notebook, tmp_path / "p.zip")
    repacked(tmp_path / "p.zip", tmp_path / "deep.zip", lambda c: c.update({"a/" * 300 + "b": b""}))
    with pytest.raises(NotebookError, match="outside its folder"):
        import_package(tmp_path / "deep.zip", target)
    repacked(tmp_path / "p.zip", tmp_path / "nested.zip", lambda c: c.update({"datapackage.json": b"[" * 100_000}))
    with pytest.raises(NotebookError, match="cannot be read"):
        import_package(tmp_path / "nested.zip", target)


def test_small_zip_that_would_fill_the_memory_is_refused_before_it_is_unpacked(notebook, tmp_path, target):
    filled(notebook)
    export(notebook, tmp_path / "p.zip")
    with zipfile.ZipFile(tmp_path / "p.zip") as package:
        content = {n: package.read(n) for n in package.namelist()}
    with zipfile.ZipFile(tmp_path / "bomb.zip", "w", zipfile.ZIP_DEFLATED) as out:
        for name, data in content.items():
            out.writestr(name, data if name != "tables/look.csv" else b"0" * 40_000_000)
    assert (tmp_path / "bomb.zip").stat().st_size < 200_000
    with pytest.raises(NotebookError, match="unpack to 40 MB"):
        import_package(tmp_path / "bomb.zip", target)


def test_package_that_would_not_fit_onto_the_disk_is_refused_before_it_begins(notebook, tmp_path, target, monkeypatch):
    filled(notebook)
    export(notebook, tmp_path / "p.zip")
    monkeypatch.setattr(package_file.shutil, "disk_usage", lambda _: type("Usage", (), {"free": 1_000_000})())
    with pytest.raises(NotebookError, match="Free some room"):
        import_package(tmp_path / "p.zip", target)


def test_photo_that_the_package_lists_and_lacks_is_missed(notebook, tmp_path, target):
    filled(notebook)
    export(notebook, tmp_path / "p.zip")
    repacked(tmp_path / "p.zip", tmp_path / "less.zip", lambda c: c.pop(next(n for n in c if n.startswith("photos/"))))
    with pytest.raises(NotebookError, match="is missing from"):
        import_package(tmp_path / "less.zip", target)


# ---------------------------------------------------------------- two notebooks become one


def test_two_notebooks_that_both_began_with_a_new_series_become_one(notebook, tmp_path, target):
    ours, theirs = filled(target, "S1", name="New series"), filled(notebook, "S1", name="New series")
    export(notebook, tmp_path / "p.zip")
    import_package(tmp_path / "p.zip", target)
    codes = {s.id: s.code for s in target.all(Series)}
    assert codes == {ours.id: "S1", theirs.id: "S2"}
    assert {p.code[:2] for p in target.all(Panel, series_id=theirs.id)} == {"S2"}
    assert len(target.all(Material)) == len(notebook.all(Material)), "the same paints stand on the shelf once"
    assert verify(target.folder) == []


def test_material_of_the_same_name_and_other_figures_gets_another_name_everywhere(notebook, tmp_path, target):
    filled(target, "S1")
    theirs = filled(notebook, "S2")
    foam = next(m for m in notebook.all(Material) if m.name == "foam")
    notebook.replace(replace(foam, density_kg_m3=1500.0))
    export(notebook, tmp_path / "p.zip")
    import_package(tmp_path / "p.zip", target)
    assert {m.name: m.density_kg_m3 for m in target.all(Material) if m.name.startswith("foam")} == {"foam": 1200.0, "foam 2": 1500.0}
    assert {layer.material for layer in target.get(Series, theirs.id).layers} == {"foam 2", "teal", "slate"}
    theirs_mixes = target.all(Mix, series_id=theirs.id)
    assert {m.colour for m in theirs_mixes} == {"foam 2", "teal", "slate"}
    assert all(m.plan[0][0] == m.colour for m in theirs_mixes)
    assert {m.colour for m in target.all(Mix)} == {"foam", "foam 2", "teal", "slate"}
    assert verify(target.folder) == []


@pytest.mark.parametrize("value", ['"gone"', "5", "null", "[]"])
def test_series_in_hand_that_is_not_in_the_package_is_left_out(notebook, tmp_path, target, value):
    s = filled(notebook)
    notebook.put_setting("last_series", s.id)
    export(notebook, tmp_path / "p.zip")
    repacked(tmp_path / "p.zip", tmp_path / "q.zip", cell("setting", "value", value))
    import_package(tmp_path / "q.zip", target)
    assert target.setting("last_series") is None
    assert verify(target.folder) == []
