"""What a fault can do to a notebook is found, said in one sentence each, and made good in a copy where something can stand in."""

from __future__ import annotations

import os
import re
import shutil
import sqlite3
import threading
from contextlib import closing
from dataclasses import replace
from datetime import date, timedelta
from pathlib import Path

import pytest

from dribbet.notebook import NotebookError, open_notebook
from dribbet.notebook.copies import copies, keep_daily
from dribbet.notebook.mapping import TABLES
from dribbet.notebook.repair import repair
from dribbet.notebook.verify import verify
from dribbet.records import Material, Photo, Reading, Series, Weighing
from tests.made_up import material
from tests.notebook.test_packages import filled
from tests.notebook.test_photos import a_photo

TODAY = date(2026, 11, 27)


@pytest.fixture(scope="session")
def whole(tmp_path_factory) -> Path:
    """A small notebook with something in most tables, and a kept copy."""
    folder = tmp_path_factory.mktemp("whole") / "Whole.dribbet"
    book = open_notebook(folder, create=True)
    first, _ = filled(book), filled(book, "T2")
    book.replace(*book.all(Material), first)
    book.put_setting("last_series", first.id)
    book.put_setting("units", {"mass": "g"})
    book.replace(type(first)(**{f: getattr(first, f) for f in first.__dataclass_fields__} | {"note": "seen"}))
    keep_daily(folder, TODAY)
    book.close()
    return folder


@pytest.fixture
def damaged(whole, tmp_path) -> Path:
    return Path(shutil.copytree(whole, tmp_path / "N.dribbet"))


def sql(*statements: str):
    def change(folder: Path) -> None:
        with closing(sqlite3.connect(folder / "notebook.sqlite3")) as connection:
            for statement in statements:
                connection.execute(statement)
            connection.commit()

    return change


def zeroed(start: int, end: int):
    def change(folder: Path) -> None:
        data = bytearray((folder / "notebook.sqlite3").read_bytes())
        data[start:end] = bytes(end - start)
        (folder / "notebook.sqlite3").write_bytes(data)

    return change


def first_photo(folder: Path) -> Path:
    return next((folder / "photos").glob("*/*.jpg"))


def lost_log(folder: Path) -> None:
    """The write-ahead log goes while a window is open: what was told as saved is not in the file beside it."""
    book = open_notebook(folder)
    book.put_setting("one", 1)
    kept = (folder / "notebook.sqlite3").read_bytes()
    book.put_setting("two", 2)
    book.close()
    (folder / "notebook.sqlite3").write_bytes(kept)


def building(folder: Path) -> None:
    left = folder.with_name(f".{folder.name}.building")
    left.mkdir()
    (left / ".lock").touch()


ROW = "WHERE rowid = 1"
DAMAGES = {
    # tables, columns and rows
    "table dropped": sql("DROP TABLE weighing"),
    "table of photos dropped": sql("DROP TABLE photo"),
    "settings dropped": sql("DROP TABLE setting"),
    "change log dropped": sql("DROP TABLE change"),
    "counts dropped": sql("DROP TABLE tally"),
    "column dropped": sql("ALTER TABLE panel DROP COLUMN spoiled"),
    "row gone": sql(f"DELETE FROM weighing {ROW}"),
    "series gone": sql(f"DELETE FROM series {ROW}"),
    "all settings gone": sql("DELETE FROM setting"),
    "change log emptied": sql("DELETE FROM change"),
    "row put in": sql(
        "INSERT INTO look (id, number, panel_id, due, at, taken_back) "
        "SELECT 'x', 99, id, 'wet', '2026-11-27T12:00:00.000000Z+0000', 0 FROM panel LIMIT 1"
    ),
    "count altered": sql("UPDATE tally SET \"rows\" = 3 WHERE name = 'look'"),
    "count of writes gone": sql("DELETE FROM tally WHERE name = ''"),
    "trigger put in": sql("CREATE TRIGGER t AFTER INSERT ON look BEGIN DELETE FROM weighing; END"),
    "table put in": sql("CREATE TABLE odd (x)"),
    "schema unknown": sql("UPDATE alembic_version SET version_num = '0000'"),
    "schema not said": sql("DELETE FROM alembic_version"),
    # values
    "negative": sql(f"UPDATE weighing SET mass_kg = -1 {ROW}"),
    "word for a figure": sql(f"UPDATE weighing SET mass_kg = 'abc' {ROW}"),
    "another figure": sql(f"UPDATE weighing SET mass_kg = 0.5 {ROW}"),
    "infinite": sql(f"UPDATE weighing SET mass_kg = 9e999 {ROW}"),
    "no moment": sql(f"UPDATE weighing SET at = 'yesterday' {ROW}"),
    "year without its zero": sql(f"UPDATE weighing SET at = '800-01-01T00:00:00.000000Z+0000' {ROW}"),
    "seven for yes": sql(f"UPDATE weighing SET taken_back = 7 {ROW}"),
    "order altered": sql(f"UPDATE weighing SET number = 0 {ROW}"),
    "word of no list": sql(f"UPDATE series SET state = 'dreaming' {ROW}"),
    "technique of no list": sql(f"UPDATE series SET constants = replace(constants, 'flip cup', 'magic') {ROW}"),
    "half a JSON": sql(f"UPDATE series SET varied = '[' {ROW}"),
    "nothing varied": sql(f"UPDATE series SET varied = '[]' {ROW}"),
    "verdict altered": sql(f"UPDATE series SET verdict = 'all good' {ROW}"),
    "levels of no series": sql(f"UPDATE panel SET settings = '[7]' {ROW}"),
    "recipe of no letters": sql(f"UPDATE panel SET recipe = '?' {ROW}"),
    "another recipe": sql(f"UPDATE panel SET recipe = 'z' {ROW}"),
    "reading of nothing": sql(f"UPDATE reading SET result = '{{}}' {ROW}"),
    "reading null": sql(f"UPDATE reading SET result = 'null' {ROW}"),
    "reading misspelt": sql(f"UPDATE reading SET result = replace(result, '\"count\"', '\"cuont\"') {ROW}"),
    "hash of no photo": sql(f"UPDATE photo SET sha256 = '00' {ROW}"),
    "suffix that climbs": sql(f"UPDATE photo SET suffix = '/../../x' {ROW}"),
    "stage of no list": sql(f"UPDATE photo SET stage = 'tomorrow' {ROW}"),
    "one corner": sql(f"UPDATE photo SET corners_px = '[[1,2]]' {ROW}"),
    "density of nothing": sql(f"UPDATE material SET density_kg_m3 = 0 {ROW}"),
    "colour of no hue": sql(f"UPDATE material SET hex = 'red' {ROW}"),
    "plan below zero": sql(f"UPDATE mix SET plan = '[[\"x\",-1]]' {ROW}"),
    "setting half": sql("UPDATE setting SET value = '{' WHERE key = 'units'"),
    "rules that cannot be": sql("INSERT INTO setting VALUES ('house_rules', '{\"drip_seconds\": -1}')"),
    "change of no table": sql(f"UPDATE change SET table_name = 'zebra' {ROW}"),
    # references and held names
    "cup of no series": sql(f"UPDATE weighing SET mix_id = 'nowhere' {ROW}"),
    "panel of no series": sql(f"UPDATE panel SET series_id = 'x' {ROW}"),
    "panel of another series": sql(f"UPDATE panel SET code = 'XX-1' {ROW}"),
    "goal that is not there": sql(f"UPDATE series SET goal_id = 'x' {ROW}"),
    "reading of another panel's photo": sql(f"UPDATE reading SET photo_id = (SELECT photo_id FROM reading WHERE rowid = 2) {ROW}"),
    "reading of another stage": sql(f"UPDATE reading SET stage = 'wet' {ROW}"),
    "paint that is not on the shelf": sql(f'UPDATE series SET layers = \'[{{"material":"moon","share":0.5}}]\' {ROW}'),
    "moon dust in the cup": sql(f"UPDATE weighing SET ingredient = 'moon dust' {ROW}"),
    "renamed container": sql("UPDATE material SET name = 'other' WHERE name = 'foam'"),
    "series in hand gone": sql("UPDATE setting SET value = '\"gone\"' WHERE key = 'last_series'"),
    # pages and files
    "head zeroed": zeroed(0, 100),
    "first pages zeroed": zeroed(0, 8192),
    "a page zeroed": zeroed(8192, 12288),
    "later pages zeroed": zeroed(24576, 40960),
    "garbage": lambda f: (f / "notebook.sqlite3").write_bytes(bytes(range(256)) * 200),
    "cut off": lambda f: os.truncate(f / "notebook.sqlite3", 30_000),
    "empty": lambda f: (f / "notebook.sqlite3").write_bytes(b""),
    "gone": lambda f: (f / "notebook.sqlite3").unlink(),
    "log lost": lost_log,
    "copy damaged": lambda f: os.truncate(next((f / "copies").glob("*")), 5000),
    "photo gone": lambda f: first_photo(f).unlink(),
    "photo altered": lambda f: first_photo(f).write_bytes(b"other"),
    "stray photo": lambda f: (first_photo(f).parent / f"{'0' * 64}.jpg").write_bytes(b"x"),
    "write cut off": lambda f: (f / ".x~0.999999.part").write_bytes(b"x"),
    "photo cut off": lambda f: (first_photo(f).parent / ".x~0.999999.part").write_bytes(b"x"),
    "photo on its way": lambda f: [(f / "photos/.arriving").mkdir(exist_ok=True), (f / "photos/.arriving/x.jpg").write_bytes(b"x")],
    "notebook cut off while it was built": building,
}
CANNOT_COME_BACK = {"photo gone", "photo altered", "renamed container", "moon dust in the cup"}
"""Only the person has the original, or knows which of two names is right."""


def test_whole_notebook_is_called_whole(whole):
    assert verify(whole) == []


@pytest.mark.parametrize("name", DAMAGES)
def test_damage_is_found_and_a_whole_copy_can_be_made(damaged, whole, name, tmp_path):
    DAMAGES[name](damaged)
    before = {p: p.read_bytes() for p in damaged.rglob("*") if p.is_file() and not p.name.endswith("-shm")}
    sentences = [f.sentence for f in verify(damaged)]
    assert sentences, "called whole"
    assert all(s.endswith(".") and "\n" not in s and "Traceback" not in s and len(s) < 400 for s in sentences), sentences
    repair(damaged, tmp_path / "R.dribbet")
    after = {p: p.read_bytes() for p in damaged.rglob("*") if p.is_file() and not p.name.endswith("-shm")}
    assert {p: d for p, d in after.items() if "-wal" not in p.name} == {p: d for p, d in before.items() if "-wal" not in p.name}, "it was written to"
    left = verify(tmp_path / "R.dribbet")
    assert name in CANNOT_COME_BACK or left == [], left
    book, known = open_notebook(tmp_path / "R.dribbet"), open_notebook(whole)
    counts = {kind: (len(book.all(kind)), len(known.all(kind))) for kind in TABLES}
    book.close()
    known.close()
    assert {k.__name__: c for k, c in counts.items() if c[0] != c[1] and not (name == "row put in")} == {}


def test_copy_can_be_opened_as_it_was(damaged, tmp_path):
    book = open_notebook(damaged)
    book.add(material("late"))
    book.close()
    said = repair(damaged, tmp_path / "Then.dribbet", from_copy=str(TODAY))
    then = open_notebook(tmp_path / "Then.dribbet")
    assert "late" not in {m.name for m in then.all(Material)}
    assert all(then.photos.path_of(p).exists() for p in then.all(Photo))
    then.close()
    assert said == []


def test_repair_never_writes_over_anything_and_names_the_copies_there_are(damaged, tmp_path):
    (tmp_path / "there").mkdir()
    with pytest.raises(NotebookError, match="there already"):
        repair(damaged, tmp_path / "there")
    with pytest.raises(NotebookError, match=f"There are: {TODAY}"):
        repair(damaged, tmp_path / "R.dribbet", from_copy="monday")
    assert not (tmp_path / "R.dribbet").exists()


def test_nothing_to_read_is_said(tmp_path):
    folder = tmp_path / "N.dribbet"
    open_notebook(folder, create=True).close()
    (folder / "notebook.sqlite3").write_bytes(b"garbage" * 999)
    with pytest.raises(NotebookError, match="Nothing of"):
        repair(folder, tmp_path / "R.dribbet")
    assert sorted(p.name for p in tmp_path.iterdir()) == ["N.dribbet"]


def test_photos_are_never_called_deletable_while_the_database_cannot_be_read(damaged):
    (damaged / "notebook.sqlite3").write_bytes(b"garbage" * 999)
    said = [f.sentence for f in verify(damaged) if ".jpg" in f.sentence]
    assert len(said) == 2
    assert all("Keep it" in s for s in said)


def test_seven_daily_copies_are_kept_and_those_before_a_migration_stay(notebook):
    a_photo(notebook, b"one")
    (notebook.folder / "copies").mkdir()
    (notebook.folder / "copies" / "before-0003.sqlite3").write_bytes(b"x")
    for n in range(10):
        assert notebook.keep_daily_copy(TODAY + timedelta(days=n)) is not None
        assert notebook.keep_daily_copy(TODAY + timedelta(days=n)) is None, "one a day"
    names = sorted(c.name for c in copies(notebook.folder))
    assert names == [*(f"{TODAY + timedelta(days=n)}.sqlite3" for n in range(3, 10)), "before-0003.sqlite3"]


def test_damaged_notebook_does_not_replace_a_whole_copy(notebook):
    folder = notebook.folder
    notebook.add(*[material(f"paint {n}") for n in range(200)])
    keep_daily(folder, TODAY)
    notebook.close()
    zeroed(8192, 16384)(folder)
    with pytest.raises(NotebookError, match="damaged"):
        keep_daily(folder, TODAY + timedelta(days=1))
    assert [c.name for c in copies(folder)] == [f"{TODAY}.sqlite3"]


def test_lost_writes_are_told_when_the_notebook_is_opened(damaged):
    lost_log(damaged)
    book = open_notebook(damaged)
    assert book.lost_writes == 2, "both were in the log only"
    book.close()
    assert re.search(r"last 2 writes", " ".join(f.sentence for f in verify(damaged)))


def test_row_that_no_record_takes_hides_no_other(damaged):
    sql("UPDATE reading SET result = '{}' WHERE rowid = 1", "UPDATE series SET state = 'dreaming' WHERE rowid = 2")(damaged)
    book = open_notebook(damaged)
    assert len(book.all(Reading)) == 1
    assert len(book.all(Series)) == 1
    assert len(book.all(Weighing)) == 2
    assert {table for table, _ in book.unreadable} == {"reading", "series"}
    book.close()


@pytest.mark.parametrize(
    ("name", "words"),
    [
        ("reading of another panel's photo", "was made from another panel's photo"),
        ("reading of another stage", "is kept as wet, its photo a.jpg as dry"),
        ("levels of no series", "has levels that Thrift 01 does not vary"),
        ("panel of another series", "whose panels begin with T1"),
        ("paint that is not on the shelf", "pours moon, which is not on the shelf"),
        ("moon dust in the cup", "went moon dust, which is not on the shelf"),
        ("row gone", "1 of 2 rows of weighing are gone"),
        ("row put in", "look has 1 rows that Dribbet never wrote"),
        ("another figure", "A row of weighing was altered by something else"),
        ("negative", "holds what cannot be: Weight of"),
        ("table dropped", "The table weighing is gone"),
        ("column dropped", "The column spoiled of panel is gone"),
        ("trigger put in", "The database holds t, which Dribbet never made"),
        ("log lost", "The last 2 writes that were told as saved are not there"),
        ("half a JSON", "A row of series"),
        ("copy damaged", "The copy 2026-11-27.sqlite3 is damaged"),
    ],
)
def test_each_damage_is_told_as_what_it_is(damaged, name, words):
    DAMAGES[name](damaged)
    assert any(words in f.sentence for f in verify(damaged)), [f.sentence for f in verify(damaged)]


def test_every_write_moves_the_counts_by_itself(notebook):
    """Adding, correcting, planning anew, settings of every kind: the counts are right after each."""
    s = filled(notebook)
    assert verify(notebook.folder) == []
    foam = notebook.all(Material)[0]
    notebook.replace(type(foam)(**{f: getattr(foam, f) for f in foam.__dataclass_fields__} | {"note": "ä", "stock_kg": 0.3}))
    for value in (4, 4.0, 1e3, 0.5, "4", True, None, [1, 2.5], {"a": {"b": "ü"}}):
        notebook.put_setting("x", value)
        assert notebook.setting("x") == value
        assert verify(notebook.folder) == [], value
    with pytest.raises(NotebookError):
        notebook.remove_plan(s.id)  # something was weighed
    assert verify(notebook.folder) == []


def test_notebook_that_is_being_written_is_called_whole(notebook):
    s = filled(notebook)
    halt = threading.Event()

    def write() -> None:
        n = 0
        while not halt.is_set():
            notebook.put_setting("n", n)
            notebook.replace(replace(notebook.get(Series, s.id), note=f"{n}"))
            n += 1

    writer = threading.Thread(target=write)
    writer.start()
    faults = [f for _ in range(12) for f in verify(notebook.folder)]
    halt.set()
    writer.join()
    assert faults == []
