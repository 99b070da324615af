"""The database connection: every write whole or absent, foreign keys kept, a disk that is full said in words."""

from __future__ import annotations

from contextlib import contextmanager
from typing import TYPE_CHECKING

from sqlalchemy import Connection, Engine, create_engine, event
from sqlalchemy.exc import DatabaseError

from dribbet.records import DribbetError

if TYPE_CHECKING:
    import sqlite3
    from collections.abc import Iterator
    from pathlib import Path

DATABASE = "notebook.sqlite3"


class NotebookError(DribbetError):
    """The notebook cannot be read or written, and what to do."""


def open_engine(path: Path, *, read_only: bool = False) -> Engine:
    """Open a notebook's database so that any write, schema changes included, is whole or absent."""
    mode = "ro" if read_only else "rwc"
    engine = create_engine(f"sqlite:///file:{path}?mode={mode}&uri=true", connect_args={"timeout": 10.0})

    @event.listens_for(engine, "connect")
    def _connected(connection: sqlite3.Connection, _record: object) -> None:
        connection.isolation_level = None  # left to itself, the driver begins too late for DDL
        connection.execute("PRAGMA foreign_keys = ON")
        if not read_only:
            connection.execute("PRAGMA journal_mode = WAL")
            connection.execute("PRAGMA synchronous = FULL")

    @event.listens_for(engine, "begin")
    def _begun(connection: Connection) -> None:
        connection.exec_driver_sql("BEGIN" if read_only else "BEGIN IMMEDIATE")

    return engine


@contextmanager
def said_plainly(where: Path) -> Iterator[None]:
    """Turn database and disk errors into sentences."""
    try:
        yield
    except DatabaseError as error:
        text = str(error.orig).lower()
        if "full" in text:
            raise NotebookError("Not saved: the disk is full. Free some room and do it again.") from error
        if "readonly" in text or "read-only" in text or "unable to open" in text:
            raise NotebookError(f"Not saved: {where} may not be written. Check its permissions, or copy it somewhere else.") from error
        if "malformed" in text or "not a database" in text:
            raise NotebookError(f"{where} is damaged. Open the newest copy in its folder `copies`, or run: dribbet verify {where}") from error
        if "locked" in text or "busy" in text:
            raise NotebookError("Another program is writing to this notebook. Wait a moment and do it again.") from error
        raise NotebookError(f"The notebook refused this: {error.orig}. Nothing was changed.") from error
    except OSError as error:
        if error.errno == 28:
            raise NotebookError("Not saved: the disk is full. Free some room and do it again.") from error
        if isinstance(error, PermissionError) or error.errno == 30:
            raise NotebookError(f"Not saved: {where} may not be written. Check its permissions, or copy it somewhere else.") from error
        raise
