from __future__ import annotations

import sqlite3

import pytest
from sqlalchemy import inspect

from dribbet.notebook import NotebookError, open_notebook, schema
from dribbet.notebook.migrate import bring_up_to_date, stored_version


def test_new_notebook_has_the_present_schema(notebook):
    assert stored_version(notebook.folder / "notebook.sqlite3") == schema.VERSION


def test_migrations_make_the_tables_that_the_schema_describes(notebook):
    found = inspect(notebook._engine)
    for table in schema.metadata.sorted_tables:
        made = {c["name"]: str(c["type"]) for c in found.get_columns(table.name)}
        assert set(made) == {c.name for c in table.columns}, table.name
        keys = {k["constrained_columns"][0] for k in found.get_foreign_keys(table.name)}
        assert keys == {c.name for c in table.columns if c.foreign_keys}, table.name
    assert set(found.get_table_names()) == {*schema.metadata.tables, "alembic_version"}


def test_notebook_of_a_newer_program_is_refused_and_left_alone(notebook):
    folder = notebook.folder
    notebook.close()
    with sqlite3.connect(folder / "notebook.sqlite3") as connection:
        connection.execute("UPDATE alembic_version SET version_num = '9999'")
    before = (folder / "notebook.sqlite3").read_bytes()
    with pytest.raises(NotebookError, match="newer Dribbet"):
        open_notebook(folder)
    assert (folder / "notebook.sqlite3").read_bytes() == before


def test_copy_is_kept_before_a_migration(notebook):
    folder = notebook.folder
    notebook.close()
    with sqlite3.connect(folder / "notebook.sqlite3") as connection:
        connection.execute("UPDATE alembic_version SET version_num = '0000'")
    with pytest.raises(Exception):  # noqa: B017, PT011 - there is no way up from a schema that never was
        bring_up_to_date(folder)
    (copy,) = (folder / "copies").iterdir()
    assert stored_version(copy) == "0000"


def test_folder_that_may_not_be_written_opens_read_only(notebook, monkeypatch):
    folder = notebook.folder
    notebook.close()
    monkeypatch.setattr("dribbet.notebook.store._lock", lambda _: None)  # root may write anywhere, so the lock stands for it
    second = open_notebook(folder)
    assert second.read_only
    second.close()
