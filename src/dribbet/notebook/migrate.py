"""Brings a notebook's database to the present schema, with a copy kept before each migration."""

from __future__ import annotations

import sqlite3
from pathlib import Path

from dribbet.notebook.engine import DATABASE, NotebookError, open_engine
from dribbet.notebook.schema import VERSION

MIGRATIONS = Path(__file__).parent / "migrations"


def stored_version(database: Path) -> str | None:
    """Schema version of a database file; None where it has none yet. Needs no migration tool, so opening stays quick."""
    try:
        connection = sqlite3.connect(f"file:{database}?mode=ro", uri=True, timeout=10.0)
    except sqlite3.Error:
        raise NotebookError(f"{database.parent} cannot be opened. Check its permissions.") from None
    try:
        tables = {name for (name,) in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
        if "alembic_version" not in tables:
            return None
        row = connection.execute("SELECT version_num FROM alembic_version").fetchone()
        return str(row[0]) if row else None
    except sqlite3.DatabaseError as error:
        if "not a database" in str(error) or "malformed" in str(error):
            raise NotebookError(
                f"{database} is damaged. Open the newest copy in its folder `copies`, or run: dribbet verify {database.parent}"
            ) from None
        raise NotebookError(f"{database.parent} cannot be read: {error}. Check its permissions.") from None
    finally:
        connection.close()


def _copy(database: Path, copy: Path) -> None:
    """Copy a database with what is still in its write-ahead log; the copy appears whole."""
    part = copy.with_name(f".{copy.name}.part")
    part.unlink(missing_ok=True)
    source, target = sqlite3.connect(database), sqlite3.connect(part)
    try:
        source.backup(target)
    finally:
        source.close()
        target.close()
    part.replace(copy)


def bring_up_to_date(folder: Path, *, to: str = VERSION) -> None:
    """Migrate forwards where needed.

    Raises
    ------
    NotebookError
        If the notebook was written by a newer Dribbet.
    """
    database = folder / DATABASE
    now = stored_version(database) if database.exists() else None
    if now == to:
        return
    if now is not None and now > to:
        raise NotebookError(f"{folder.name} was written by a newer Dribbet (schema {now}, this one knows {to}). Update the program to open it.")
    if now is not None:
        copies = folder / "copies"
        copies.mkdir(exist_ok=True)
        _copy(database, copies / f"before-{now}.sqlite3")
    from alembic import command  # a second to import: only when there is something to migrate
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    engine = open_engine(database)
    try:
        with engine.begin() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, to)
    finally:
        engine.dispose()
