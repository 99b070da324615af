from __future__ import annotations

import sqlite3

import pytest
from sqlalchemy import inspect

from dribbet.notebook import NotebookError, open_notebook, schema
from dribbet.notebook.migrate import bring_up_to_date, stored_version
from dribbet.notebook.verify import verify


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


def test_schema_that_never_was_is_refused_with_the_way_on(notebook):
    folder = notebook.folder
    notebook.close()
    with sqlite3.connect(folder / "notebook.sqlite3") as connection:
        connection.execute("UPDATE alembic_version SET version_num = '0000'")
    with pytest.raises(NotebookError, match="--repair"):
        open_notebook(folder)


def test_copy_is_kept_before_a_migration(tmp_path):
    folder = tmp_path / "Old.dribbet"
    folder.mkdir()
    bring_up_to_date(folder, to="0003")
    open_notebook(folder).close()
    (copy,) = (folder / "copies").iterdir()
    assert stored_version(copy) == "0003"
    assert stored_version(folder / "notebook.sqlite3") == schema.VERSION
    assert verify(folder) == []
