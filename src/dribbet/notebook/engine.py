"""The database connection: every write whole or absent, foreign keys kept, a disk that is full said in words."""

from __future__ import annotations

import errno
import sqlite3
from contextlib import contextmanager
from typing import TYPE_CHECKING, Final

from sqlalchemy import Connection, Engine, QueuePool, create_engine, event
from sqlalchemy.exc import DatabaseError, DBAPIError

from dribbet.notebook.plain_json import dumps, loads_or_broken
from dribbet.records import DribbetError

if TYPE_CHECKING:
    from collections.abc import Iterator
    from pathlib import Path

DATABASE = "notebook.sqlite3"
READS: Final = "dribbet_reads"
"""Execution option of a connection that only reads."""
WAIT_S: Final = 10.0  # for another program that writes; two windows' writes last milliseconds


class NotebookError(DribbetError):
    """The notebook cannot be read or written, and what to do."""


def connect(database: Path, mode: str = "ro", *, timeout_s: float = WAIT_S) -> sqlite3.Connection:
    """Open a database file by any path that the system allows; `mode` is ro, rw or rwc.

    Every connection of the notebook is made here: SQLite reads `#`, `?` and `%41` in a `file:` address as its own signs,
    so the path goes in as an address in which they are written out.
    """
    return sqlite3.connect(f"{database.absolute().as_uri()}?mode={mode}", uri=True, timeout=timeout_s, check_same_thread=False)


def open_engine(database: Path, *, read_only: bool = False) -> Engine:
    """Open a notebook's database so that any write, schema changes included, is whole or absent."""

    def fresh() -> sqlite3.Connection:
        connection = connect(database, "ro" if read_only else "rwc")
        try:
            connection.isolation_level = None  # left to itself, the driver begins too late for DDL
            connection.execute("PRAGMA foreign_keys = ON")
            connection.execute("PRAGMA trusted_schema = OFF")
            if not read_only:
                connection.execute("PRAGMA journal_mode = WAL")
                connection.execute("PRAGMA synchronous = FULL")
        except BaseException:
            connection.close()
            raise
        return connection

    engine = create_engine("sqlite://", creator=fresh, poolclass=QueuePool, json_serializer=dumps, json_deserializer=loads_or_broken)

    @event.listens_for(engine, "begin")
    def _begun(connection: Connection) -> None:
        reads = read_only or connection.get_execution_options().get(READS)
        connection.exec_driver_sql("BEGIN" if reads else "BEGIN IMMEDIATE")  # a reader takes no lock that a writer waits for

    return engine


@contextmanager
def said_plainly(where: Path) -> Iterator[None]:
    """Turn database and disk errors into sentences that name a remedy."""
    try:
        yield
    except DBAPIError as error:
        raise _refused(str(error.orig), where, whole=isinstance(error, DatabaseError)) from error
    except sqlite3.Error as error:
        raise _refused(str(error), where, whole=True) from error
    except OSError as error:
        raise _unwritten(error, where) from error


def _refused(said: str, where: Path, *, whole: bool) -> NotebookError:
    text = said.lower()
    if "full" in text:
        return NotebookError("Not saved: the disk is full. Free some room and do it again.")
    if "disk i/o" in text:
        return NotebookError(f"The disk does not answer at {where}. Check its cable and its room, then do it again; what was saved stays.")
    if "readonly" in text or "read-only" in text or "unable to open" in text or "permission" in text:
        return NotebookError(f"Not saved: {where} may not be written. Check its permissions, or copy it somewhere else.")
    if "malformed" in text or "not a database" in text or "no such table" in text or "no such column" in text or "corrupt" in text:
        return damaged(where)
    if "locked" in text or "busy" in text:
        return NotebookError("Another program is writing to this notebook. Wait a moment and do it again.")
    if "unique constraint" in text:
        return NotebookError(f"The notebook has this already ({said.partition(':')[2].strip() or said}). Choose another name. Nothing was changed.")
    if "foreign key" in text:
        return NotebookError("This belongs to something that is not in the notebook, or something else rests on it. Nothing was changed.")
    return NotebookError(f"The notebook refused this{'' if whole else ' for now'}: {said}. Nothing was changed; do it again, or run: dribbet verify.")


def damaged(where: Path) -> NotebookError:
    """Say that a notebook cannot be read, and the way on."""
    folder = where.parent if where.name == DATABASE else where
    return NotebookError(f"{folder} is damaged. Make a whole copy of what is left with: dribbet verify {folder} --repair NEW.dribbet")


def _unwritten(error: OSError, where: Path) -> NotebookError:
    if error.errno in (errno.ENOSPC, errno.EDQUOT):
        return NotebookError("Not saved: the disk is full. Free some room and do it again.")
    if isinstance(error, PermissionError) or error.errno == errno.EROFS:
        return NotebookError(f"Not saved: {where} may not be written. Check its permissions, or copy it somewhere else.")
    if isinstance(error, (FileNotFoundError, NotADirectoryError)) or error.errno in (errno.ESTALE, errno.ENXIO, errno.ENODEV):
        return NotebookError(f"{where} is no longer there. Bring its disk or folder back, then do it again.")
    if error.errno == errno.ENAMETOOLONG:
        return NotebookError(f"The name of {where.name[:40]}... is too long for this disk. Choose a shorter one.")
    return NotebookError(f"{where} could not be used: {error.strerror or error}. Check the disk and its path, then do it again.")
