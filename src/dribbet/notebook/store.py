"""The notebook: a folder with a database, photographs under their hashes, and things that can be made again.

One writer: the first to open a notebook holds its lock; a second opens it read-only and says so, and takes over when the
first is gone.
"""

from __future__ import annotations

import dataclasses
import threading
import uuid
from contextlib import contextmanager, suppress
from datetime import UTC, datetime
from typing import TYPE_CHECKING, Any, TypeVar

from sqlalchemy import delete, insert, select, update

from dribbet.notebook import copies, schema
from dribbet.notebook.engine import READS, NotebookError, connect, open_engine, said_plainly
from dribbet.notebook.mapping import TABLES, Unreadable, plain, record_of, row_of
from dribbet.notebook.memory import Memory
from dribbet.notebook.migrate import stored_version
from dribbet.notebook.opening import WrittenCount, lost_writes, may_write, prepare, sweep, take_lock, told_writes
from dribbet.notebook.photo_files import PhotoFiles
from dribbet.notebook.tally import TableTally, quoted, row_select, stored
from dribbet.records import DribbetError, Mix, Panel

if TYPE_CHECKING:
    import sqlite3
    from collections.abc import Iterable, Iterator, Mapping
    from datetime import date
    from pathlib import Path

    from sqlalchemy import Connection, Table

    from dribbet.notebook.opening import Opened

R = TypeVar("R")


def new_id() -> str:
    """Make an identifier that no other notebook has."""
    return uuid.uuid4().hex


class Notebook:
    """An open notebook. Writing methods are safe to call from any thread, one at a time."""

    def __init__(self, folder: Path, opened: Opened) -> None:
        self.folder = folder
        self.read_only = opened.lock is None
        self._database = opened.database
        self._scratch = opened.scratch
        self._lock_file = opened.lock
        self._engine = open_engine(self._database, read_only=self.read_only)
        self._writing = threading.RLock()
        self._open: Connection | None = None
        self._owner: int | None = None
        self._memory = Memory(self._stored)
        self._watch: sqlite3.Connection | None = None
        self._others = 0
        self._seen_version: object = None
        self._tally = TableTally()
        self._written: WrittenCount | None = None
        self._place: tuple[int, int] | None = None
        self.photos = PhotoFiles(folder)
        self.unreadable: dict[tuple[str, str], str] = {}
        """Rows that no record can hold, by table and id, with what is wrong; they are left out of everything."""
        self.lost_writes = 0
        """Writes that were told as saved and were not there when the notebook was opened."""
        told = told_writes(folder)
        with said_plainly(folder), self._reading() as connection:
            raw = connection.connection.driver_connection
            assert raw is not None
            self.lost_writes = lost_writes(told, raw)
        if not self.read_only:
            self._begin_to_write()

    @property
    def because_of_another_window(self) -> bool:
        """Whether it is only read because another window writes; otherwise the disk or its permissions are why."""
        return self.read_only and may_write(self.folder)

    def _begin_to_write(self) -> None:
        with said_plainly(self.folder):
            sweep(self.folder)
            with self._reading() as connection:
                self._tally.load(connection)
                known = {(r["sha256"], r["suffix"]) for r in connection.execute(select(schema.photo.c.sha256, schema.photo.c.suffix)).mappings()}
            self.photos.sweep(known)
            self._written = WrittenCount(self.folder)
            status = self._database.stat()
            self._place = (status.st_dev, status.st_ino)

    def take_over(self) -> bool:
        """Write from now on, if the window that wrote is gone; True where this notebook now writes."""
        if not self.read_only:
            return True
        if self._scratch is not None or not may_write(self.folder):
            return False
        lock = take_lock(self.folder)
        if lock is None:
            return False
        if stored_version(self._database) != schema.VERSION:
            lock.close()
            raise NotebookError(f"Another Dribbet has brought {self.folder.name} up to date. Close this window and open the notebook again.")
        engine = open_engine(self._database)
        self._engine.dispose()
        self._engine, self._lock_file, self.read_only = engine, lock, False
        try:
            self._begin_to_write()
        except BaseException:
            self._lock_file, self.read_only = None, True
            lock.close()
            raise
        self._memory.forget()
        return True

    def close(self) -> None:
        """Let go of the notebook and its lock."""
        if self._watch is not None:
            self._watch.close()
            self._watch = None
        self._engine.dispose()
        if self._written is not None:
            self._written.close()
            self._written = None
        if self._lock_file is not None:
            self._lock_file.close()
            self._lock_file = None
        if self._scratch is not None:
            self._scratch.cleanup()

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
        return sorted(found, key=lambda r: r.number) if "number" in TABLES[kind].c else found  # type: ignore[attr-defined]

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
        query = select(table).order_by(table.c.number, schema_order(table)) if "number" in table.c else select(table).order_by(schema_order(table))
        found = []
        rows = self._rows(query)
        for key in [k for k in self.unreadable if k[0] == table.name]:
            del self.unreadable[key]
        for row in rows:
            try:
                found.append(record_of(kind, row))
            except (Unreadable, DribbetError) as error:
                self.unreadable[table.name, str(row["id"])] = str(error)
        return found

    def _notice_other_writer(self) -> None:
        """Let a window that only reads see what the writing one has done since."""
        if not self.read_only or self._scratch is not None:
            return
        with said_plainly(self.folder):
            if self._watch is None:  # outside the engine, which would hold a transaction and so one version for ever
                self._watch = connect(self._database)
            version = self._watch.execute("PRAGMA data_version").fetchone()
        if version != self._seen_version:
            self._seen_version = version
            self._others += 1
            self._memory.forget()

    def others_wrote(self) -> int:
        """How often a window that only reads found something new of the writing one's."""
        self._notice_other_writer()
        return self._others

    def setting(self, key: str, otherwise: Any = None) -> Any:
        """Return a setting, or what stands for it."""
        self._notice_other_writer()
        value = self._memory.setting(key, self._stored_settings)
        return otherwise if value is None else value

    def _stored_settings(self) -> dict[str, Any]:
        return {row["key"]: row["value"] for row in self._rows(select(schema.setting))}

    def changes(self, row_id: str) -> list[dict[str, Any]]:
        """Old values of a row, oldest first."""
        return [dict(r) for r in self._rows(select(schema.change).where(schema.change.c.row_id == row_id).order_by(schema.change.c.number))]

    def _rows(self, query: Any) -> list[Mapping[str, Any]]:
        with said_plainly(self.folder):
            if self._open is not None and self._owner == threading.get_ident():
                return [dict(row) for row in self._open.execute(query).mappings()]
            with self._reading() as connection:
                return [dict(row) for row in connection.execute(query).mappings()]

    @contextmanager
    def _reading(self) -> Iterator[Connection]:
        """A connection that reads one moment of the notebook and takes no lock that writers wait for."""
        with self._engine.connect() as connection:
            yield connection.execution_options(**{READS: True})

    @contextmanager
    def snapshot(self) -> Iterator[Connection]:
        """Everything read inside is of one moment, whatever is written meanwhile."""
        with said_plainly(self.folder), self._reading() as connection:
            yield connection

    # ------------------------------------------------------------ writing

    @contextmanager
    def transaction(self) -> Iterator[Connection]:
        """Everything written inside is kept whole, or not at all."""
        if self.read_only:
            raise NotebookError(
                "This window only reads: the notebook is open in another one. Close that one to write here."
                if self.because_of_another_window
                else f"This window only reads: {self.folder} may not be written. Copy it to a disk that may."
            )
        with self._writing:
            if self._open is not None:
                yield self._open
                return
            self._require_still_there()
            try:
                with said_plainly(self.folder), self._engine.begin() as connection:
                    self._open, self._owner = connection, threading.get_ident()
                    self.photos.waits = True
                    try:
                        yield connection
                        self._tally.save(connection)
                    finally:
                        self._open = self._owner = None
                        self.photos.waits = False
            except BaseException:
                self._memory.forget()
                self.photos.drop()
                self._reload_tally()
                raise
            with said_plainly(self.folder):
                self.photos.settle()
            if self._written is not None:
                with suppress(OSError):
                    self._written.put(self._tally.writes, self._tally.identity)

    def _require_still_there(self) -> None:
        """Refuse to write into a database that was removed or replaced: SQLite itself would not notice."""
        try:
            status = self._database.stat()
        except OSError:
            raise NotebookError(f"Not saved: {self.folder} is no longer there. Bring its disk or folder back, then do it again.") from None
        if self._place is not None and (status.st_dev, status.st_ino) != self._place:
            raise NotebookError(f"Not saved: the database in {self.folder} was replaced by another. Close this window and open the notebook again.")

    def _reload_tally(self) -> None:
        try:
            with self._reading() as connection:
                self._tally.load(connection)
        except Exception:  # the disk is gone: the next write says so
            self._tally = TableTally()

    def add(self, *records: Any) -> None:
        """Write new records, all or none; what happened gets its place in the order."""
        with self.transaction() as connection:
            for record in records:
                if "number" in TABLES[type(record)].c:
                    record = dataclasses.replace(record, number=self._tally.next_number())
                self._insert(connection, TABLES[type(record)], row_of(record))
                self._memory.written(record)

    def _insert(self, connection: Connection, table: Table, row: Mapping[str, Any]) -> None:
        key = next(iter(table.primary_key.columns)).name
        result = connection.execute(insert(table), [row])
        whole = row if key in row else {**row, key: result.lastrowid}
        self._tally.put_in(table, [stored(c, whole.get(c.name)) for c in table.columns])

    def replace(self, *records: Any) -> None:
        """Write changed records; their old values go into the change log."""
        with self.transaction() as connection:
            for record in records:
                table = TABLES[type(record)]
                before = connection.execute(select(table).where(table.c.id == record.id)).mappings().first()
                if before is None:
                    raise NotebookError("What you are changing is no longer in the notebook. Open the series again.")
                old = record_of(type(record), dict(before))
                if "number" in table.c:
                    record = dataclasses.replace(record, number=before["number"])
                if old == record:
                    continue
                self._take_out(connection, table, record.id)
                row = row_of(record)
                connection.execute(update(table).where(table.c.id == record.id), [row])
                self._tally.put_in(table, [stored(c, row.get(c.name)) for c in table.columns])
                entry = {"table_name": table.name, "row_id": record.id, "at": datetime.now(UTC).astimezone(), "before": plain(old)}
                self._insert(connection, schema.change, entry)
                self._memory.written(record)

    def _take_out(self, connection: Connection, table: Table, key: str, column: str = "id") -> None:
        """Count out the rows that are about to change or go."""
        for values in connection.exec_driver_sql(f"{row_select(table)} WHERE {quoted(column)} = ?", (key,)).fetchall():
            self._tally.take_out(table, list(values))

    def remove_plan(self, series_id: str) -> None:
        """Forget panels and mixes of a series that nothing was done with yet, so that it can be planned anew."""
        with self.transaction() as connection:
            for table in (schema.panel, schema.mix):
                self._take_out(connection, table, series_id, "series_id")
                connection.execute(delete(table).where(table.c.series_id == series_id))
        self._memory.forget_kinds(Panel, Mix)

    def put_row(self, table: Table, row: Mapping[str, Any]) -> None:
        """Write a row of an imported package inside a transaction; the memory of records is read anew afterwards."""
        assert self._open is not None
        self._insert(self._open, table, row)

    def put_row_anew(self, table: Table, row: Mapping[str, Any]) -> None:
        """Put another row in place of one with the same id, in a copy that is being repaired, inside a transaction."""
        assert self._open is not None
        self._take_out(self._open, table, row["id"])
        self._open.execute(update(table).where(table.c.id == row["id"]), [dict(row)])
        self._tally.put_in(table, [stored(c, row.get(c.name)) for c in table.columns])

    def take_row_out(self, table: Table, id_: str) -> None:
        """Take a row out of a copy that is being repaired, inside a transaction."""
        assert self._open is not None
        self._take_out(self._open, table, id_)
        self._open.execute(delete(table).where(table.c.id == id_))

    def reach_number(self, number: int) -> None:
        """What happens from now on comes after this place: a row of an import holds it."""
        self._tally.number = max(self._tally.number, number)

    @property
    def numbers(self) -> int:
        """How many things have happened so far."""
        return self._tally.number

    def forget(self) -> None:
        """Read everything anew: rows were written past the records."""
        self._memory.forget()

    def news(self) -> list[Any] | None:
        """Records written since this was last asked, so that only what they touch is read anew; None where anything may have changed."""
        self._notice_other_writer()
        return self._memory.news()

    def put_setting(self, key: str, value: Any) -> None:
        """Write a setting."""
        with self.transaction() as connection:
            self._take_out(connection, schema.setting, key, "key")
            connection.execute(delete(schema.setting).where(schema.setting.c.key == key))
            self._insert(connection, schema.setting, {"key": key, "value": plain(value)})
            self._memory.forget_settings()

    def keep_daily_copy(self, today: date) -> Path | None:
        """Keep today's copy of the database, once a day; None where it is there or this window only reads."""
        return None if self.read_only else copies.keep_daily(self.folder, today)


def schema_order(table: Any) -> Any:
    """Order of writing, for tables without a moment of their own."""
    from sqlalchemy import literal_column

    return literal_column(f"{table.name}.rowid")


def open_notebook(folder: Path, *, create: bool = False) -> Notebook:
    """Open a notebook folder, migrating it where needed; read-only where another window writes or the disk does not let us.

    Raises
    ------
    NotebookError
        If there is none (and `create` is not set), it is from a newer Dribbet, or it is damaged.
    """
    folder = folder.absolute()
    opened = prepare(folder, create=create)
    try:
        return Notebook(folder, opened)
    except BaseException:
        if opened.lock is not None:
            opened.lock.close()
        raise
