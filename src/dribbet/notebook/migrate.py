"""Brings a notebook's database to the present schema, with a copy kept before each migration."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from pathlib import Path

from dribbet.notebook.copies import copy_database
from dribbet.notebook.engine import DATABASE, NotebookError, connect, damaged, open_engine, said_plainly
from dribbet.notebook.schema import VERSION
from dribbet.notebook.tally import TableTally
from dribbet.notebook.whole_file import make_folder

MIGRATIONS = Path(__file__).parent / "migrations"
KNOWN = tuple(sorted(p.name[:4] for p in (MIGRATIONS / "versions").glob("[0-9]*.py")))


def stored_version(database: Path) -> str | None:
    """Schema version of a database file; None where nothing was ever written into it. Needs no migration tool, so opening stays quick.

    Raises
    ------
    NotebookError
        If the file is damaged, or cannot be read.
    """
    try:
        with closing(connect(database)) as connection:
            tables = {name for (name,) in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
            if not tables:
                return None
            if "alembic_version" not in tables:
                raise damaged(database)
            row = connection.execute("SELECT version_num FROM alembic_version").fetchone()
            if row is None:
                raise damaged(database)
            return str(row[0])
    except sqlite3.Error as error:
        text = str(error)
        if any(word in text for word in ("not a database", "malformed", "no such column", "disk image", "Could not decode")):
            raise damaged(database) from None
        raise NotebookError(f"{database.parent} cannot be read: {error}. Check its permissions and its disk.") from None


def require_known(name: str, version: str | None) -> None:
    """Refuse a notebook of a schema that this Dribbet does not know."""
    if version is not None and version > VERSION:
        told = f"schema {version[:20]}, this one knows {VERSION}"
        raise NotebookError(f"{name} was written by a newer Dribbet ({told}). Update the program to open it.")
    if version is not None and version not in KNOWN:
        raise NotebookError(f"{name} is of an unknown schema ({version[:20]}). Make a whole copy with: dribbet verify {name} --repair NEW.dribbet")


def bring_up_to_date(folder: Path, *, to: str = VERSION) -> None:
    """Migrate forwards where needed.

    Raises
    ------
    NotebookError
        If the notebook was written by a newer Dribbet, is damaged, or cannot be written; it is then as it was.
    """
    database = folder / DATABASE
    now = stored_version(database) if database.exists() and database.stat().st_size else None
    if now == to:
        return
    require_known(folder.name, now)
    if now is not None:
        copy = folder / "copies" / f"before-{now}.sqlite3"
        make_folder(copy.parent)
        copy_database(database, copy)
    from alembic import command  # a second to import: only when there is something to migrate
    from alembic.config import Config
    from alembic.util import CommandError

    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS).replace("%", "%%"))
    engine = open_engine(database)
    try:
        with said_plainly(folder), engine.begin() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, to)
            if to == VERSION:
                TableTally().recount(connection)
    except CommandError as error:
        raise NotebookError(f"{folder.name} could not be brought up to date: {error}. It is as it was.") from None
    finally:
        engine.dispose()
