"""The notebook: a folder with a database, photographs under their hashes, and things that can be made again.

One writer: the first to open a notebook holds its lock; a second opens it read-only and says so.
"""

from __future__ import annotations

import fcntl
import os
import sqlite3
import threading
import uuid
from contextlib import contextmanager
from datetime import UTC, datetime
from typing import IO, TYPE_CHECKING, Any, TypeVar

from sqlalchemy import insert, select, update

from dribbet.notebook import schema
from dribbet.notebook.engine import DATABASE, NotebookError, open_engine, said_plainly
from dribbet.notebook.mapping import TABLES, plain, record_of, row_of
from dribbet.notebook.memory import Memory
from dribbet.notebook.migrate import bring_up_to_date, stored_version
from dribbet.notebook.photo_files import PhotoFiles
from dribbet.notebook.schema import VERSION

if TYPE_CHECKING:
    from collections.abc import Iterable, Iterator
    from pathlib import Path

    from sqlalchemy import Connection

R = TypeVar("R")


def new_id() -> str:
    """Make an identifier that no other notebook has."""
    return uuid.uuid4().hex


class Notebook:
    """An open notebook. Writing methods are safe to call from any thread, one at a time."""

    def __init__(self, folder: Path, *, read_only: bool, lock: IO[str] | None) -> None:
        self.folder = folder
        self.read_only = read_only
        self._lock_file = lock
        self._engine = open_engine(folder / DATABASE, read_only=read_only)
        self._writing = threading.RLock()
        self._open: Connection | None = None
        self._owner: int | None = None
        self._memory = Memory(self._stored)
        self._watch: sqlite3.Connection | None = None
        self._seen_version: object = None
        self.photos = PhotoFiles(folder)

    def close(self) -> None:
        """Let go of the notebook and its lock."""
        if self._watch is not None:
            self._watch.close()
            self._watch = None
        self._engine.dispose()
        if self._lock_file is not None:
            self._lock_file.close()
            self._lock_file = None

    # ------------------------------------------------------------ reading

    def all(self, kind: type[R], **where: Any) -> list[R]:
        """All records of a kind whose fields have these values, in the order they happened or were written."""
        self._notice_other_writer()
        if not where:
            return self._memory.all(kind)
        (name, value), *more = where.items()
        found: list[R] = self._memory.where(kind, name, (value,))
        return [r for r in found if all(getattr(r, n) == v for n, v in more)]

    def among(self, kind: type[R], name: str, values: Iterable[Any]) -> list[R]:
        """All records of a kind whose field is one of the values, in the order they happened."""
        self._notice_other_writer()
        found: list[R] = self._memory.where(kind, name, values)
        return sorted(found, key=lambda r: r.at) if "at" in TABLES[kind].c else found  # type: ignore[attr-defined]

    def get(self, kind: type[R], id_: str) -> R:
        """Return one record.

        Raises
        ------
        NotebookError
            If there is none.
        """
        self._notice_other_writer()
        found: R | None = self._memory.get(kind, id_)
        if found is None:
            raise NotebookError(f"This {kind.__name__.lower()} is no longer in the notebook. Open the series again.")
        return found

    def _stored(self, kind: type[R]) -> list[R]:
        table = TABLES[kind]
        query = select(table).order_by(table.c.at if "at" in table.c else schema_order(table))
        return [record_of(kind, dict(row)) for row in self._rows(query)]

    def _notice_other_writer(self) -> None:
        """Let a window that only reads see what the writing one has done since."""
        if not self.read_only:
            return
        with said_plainly(self.folder):
            if self._watch is None:  # outside the engine, which would hold a transaction and so one version for ever
                self._watch = sqlite3.connect(f"file:{self.folder / DATABASE}?mode=ro", uri=True, check_same_thread=False)
            version = self._watch.execute("PRAGMA data_version").fetchone()
        if version != self._seen_version:
            self._seen_version = version
            self._memory.forget()

    def setting(self, key: str, otherwise: Any = None) -> Any:
        """Return a setting, or what stands for it."""
        rows = self._rows(select(schema.setting).where(schema.setting.c.key == key))
        return rows[0]["value"] if rows else otherwise

    def changes(self, row_id: str) -> list[dict[str, Any]]:
        """Old values of a row, oldest first."""
        return [dict(r) for r in self._rows(select(schema.change).where(schema.change.c.row_id == row_id).order_by(schema.change.c.number))]

    def _rows(self, query: Any) -> list[Any]:
        with said_plainly(self.folder):
            if self._open is not None and self._owner == threading.get_ident():
                return list(self._open.execute(query).mappings())
            with self._engine.connect() as connection:
                return list(connection.execute(query).mappings())

    # ------------------------------------------------------------ writing

    @contextmanager
    def transaction(self) -> Iterator[Connection]:
        """Everything written inside is kept whole, or not at all."""
        if self.read_only:
            raise NotebookError("This window only reads: the notebook is open in another one. Close that one to write here.")
        with self._writing:
            if self._open is not None:
                yield self._open
                return
            with said_plainly(self.folder), self._engine.begin() as connection:
                self._open, self._owner = connection, threading.get_ident()
                try:
                    yield connection
                except BaseException:
                    self._memory.forget()
                    raise
                finally:
                    self._open = self._owner = None

    def add(self, *records: Any) -> None:
        """Write new records, all or none."""
        with self.transaction() as connection:
            for record in records:
                connection.execute(insert(TABLES[type(record)]), [row_of(record)])
                self._memory.written(record)

    def replace(self, *records: Any) -> None:
        """Write changed records; their old values go into the change log."""
        with self.transaction() as connection:
            for record in records:
                table = TABLES[type(record)]
                before = connection.execute(select(table).where(table.c.id == record.id)).mappings().first()
                if before is None:
                    raise NotebookError("What you are changing is no longer in the notebook. Open the series again.")
                old = record_of(type(record), dict(before))
                if old == record:
                    continue
                connection.execute(update(table).where(table.c.id == record.id), [row_of(record)])
                entry = {"table_name": table.name, "row_id": record.id, "at": datetime.now(UTC).astimezone(), "before": plain(old)}
                connection.execute(insert(schema.change), [entry])
                self._memory.written(record)

    def remove_plan(self, series_id: str) -> None:
        """Forget panels and mixes of a series that nothing was done with yet, so that it can be planned anew."""
        from sqlalchemy import delete

        from dribbet import records

        with self.transaction() as connection:
            for kind in (records.Panel, records.Mix):
                connection.execute(delete(TABLES[kind]).where(TABLES[kind].c.series_id == series_id))
        self._memory.forget()

    def forget(self) -> None:
        """Read everything anew: rows were written past the records."""
        self._memory.forget()

    def put_setting(self, key: str, value: Any) -> None:
        """Write a setting."""
        from sqlalchemy.dialects.sqlite import insert as upsert

        with self.transaction() as connection:
            statement = upsert(schema.setting).values(key=key, value=plain(value))
            connection.execute(statement.on_conflict_do_update(index_elements=["key"], set_={"value": plain(value)}))


def schema_order(table: Any) -> Any:
    """Order of writing, for tables without a moment of their own."""
    from sqlalchemy import literal_column

    return literal_column(f"{table.name}.rowid")


def _lock(folder: Path) -> IO[str] | None:
    """Take the writer's lock; None where another window has it or the folder may not be written."""
    try:
        file = (folder / ".lock").open("a+")
    except OSError:
        return None
    try:
        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        file.close()
        return None
    file.truncate(0)
    file.write(str(os.getpid()))
    file.flush()
    return file


def open_notebook(folder: Path, *, create: bool = False) -> Notebook:
    """Open a notebook folder, migrating it where needed; read-only where another window writes or the disk does not let us.

    Raises
    ------
    NotebookError
        If there is none (and `create` is not set), it is from a newer Dribbet, or it is damaged.
    """
    database = folder / DATABASE
    if not database.exists():
        if not create:
            raise NotebookError(f"There is no notebook at {folder}. Check the path, or start one with: dribbet open {folder}")
        with said_plainly(folder):
            for inner in ("photos", "derived"):
                (folder / inner).mkdir(parents=True, exist_ok=True)
    lock = _lock(folder)
    try:
        if lock is not None:
            with said_plainly(folder):
                bring_up_to_date(folder)
        else:
            now = stored_version(database)
            if now is not None and now > VERSION:
                raise NotebookError(
                    f"{folder.name} was written by a newer Dribbet (schema {now}, this one knows {VERSION}). Update the program to open it."
                )
            if now != VERSION:
                raise NotebookError(f"{folder.name} was written by an older Dribbet and may not be changed here. Copy it to a writable folder.")
    except BaseException:
        if lock is not None:
            lock.close()
        raise
    return Notebook(folder, read_only=lock is None, lock=lock)
