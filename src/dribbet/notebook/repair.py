"""Makes a whole notebook of what is left of one: always a new folder, never the damaged one itself."""

from __future__ import annotations

import shutil
import sqlite3
from contextlib import closing
from typing import TYPE_CHECKING, Any, Final

from dribbet.notebook import schema
from dribbet.notebook.copies import copies
from dribbet.notebook.engine import DATABASE, NotebookError, connect, said_plainly
from dribbet.notebook.incoming import check_setting
from dribbet.notebook.mapping import Unreadable, record_of
from dribbet.notebook.photo_files import PhotoFiles
from dribbet.notebook.references import TABLE_OF, misfits
from dribbet.notebook.schema import VERSION, metadata
from dribbet.notebook.store import open_notebook
from dribbet.notebook.tally import counted, quoted
from dribbet.notebook.verify import file_hash, is_whole, row_from
from dribbet.records import DribbetError, Report, silent

if TYPE_CHECKING:
    from collections.abc import Iterator
    from pathlib import Path

    from sqlalchemy import Table

    from dribbet.notebook.store import Notebook

MOST_ROWID: Final = 5_000_000
STRAYS: Final = "strays"


def repair(folder: Path, out: Path, *, from_copy: str = "", report: Report = silent) -> list[str]:
    """Write a whole notebook to `out` from what can be read of `folder`; says in sentences what was done.

    Rows come from the database; what it cannot give, and what its counts say is missing, comes from the newest whole copy that has
    it. With `from_copy` (a file's name in `copies`) that copy stands in for the database: a way to look at the notebook as it was.

    Raises
    ------
    NotebookError
        If `out` is there already, there is nothing to read, or it cannot be written.
    """
    folder, out = folder.absolute(), out.absolute()
    if out.exists():
        raise NotebookError(f"{out} is there already. Name a new folder for the repaired copy.")
    whole = [c for c in reversed(copies(folder)) if is_whole(c)]
    if from_copy:
        whole = [c for c in whole if from_copy in (c.name, c.stem)]
        if not whole:
            known = ", ".join(c.name for c in copies(folder)) or "none"
            raise NotebookError(f"There is no whole copy named {from_copy} in {folder}. There are: {known}.")
    building = out.with_name(f".{out.name}.building")
    shutil.rmtree(building, ignore_errors=True)
    try:
        with said_plainly(out):
            said = _Rescue(folder, building, whole, only_copy=bool(from_copy)).run(report)
            building.rename(out)
    except BaseException:
        shutil.rmtree(building, ignore_errors=True)
        raise
    return said


class _Rescue:
    def __init__(self, folder: Path, out: Path, whole: list[Path], *, only_copy: bool) -> None:
        self._folder, self._out = folder, out
        self._said: list[str] = []
        self._sources = self._opened([*([] if only_copy else [folder / DATABASE]), *whole])

    def _opened(self, paths: list[Path]) -> list[tuple[str, sqlite3.Connection]]:
        """Databases of the present schema, first the notebook's own; older copies are brought up to date in a scratch file."""
        found = []
        scratch = self._out.with_name(f"{self._out.name}.copies")
        for i, path in enumerate(paths):
            if not path.exists() or path.stat().st_size == 0:
                continue
            place = scratch / str(i)
            place.mkdir(parents=True, exist_ok=True)
            for ending in ("", "-wal"):
                if (file := path.with_name(path.name + ending)).exists():
                    shutil.copyfile(file, place / f"{DATABASE}{ending}")
            if path.name != DATABASE or self._version(place / DATABASE) != VERSION:
                try:
                    open_notebook(place).close()
                except DribbetError:
                    if path.name != DATABASE:
                        continue
            connection = connect(place / DATABASE, "rw")
            try:
                connection.execute("SELECT count(*) FROM sqlite_master").fetchone()
            except sqlite3.Error:
                connection.close()
                continue
            connection.text_factory = lambda data: data.decode("utf-8", "surrogateescape")
            found.append((path.name, connection))
        if not found:
            shutil.rmtree(scratch, ignore_errors=True)
            raise NotebookError(f"Nothing of {self._folder} can be read: its database is damaged and no whole copy was kept.")
        return found

    @staticmethod
    def _version(database: Path) -> str:
        try:
            with closing(connect(database)) as connection:
                return str(connection.execute("SELECT version_num FROM alembic_version").fetchone()[0])
        except (sqlite3.Error, TypeError):
            return VERSION  # too damaged to say: read what there is as it should be

    def run(self, report: Report) -> list[str]:
        notebook = open_notebook(self._out, create=True)
        try:
            with notebook.transaction():
                self._rows(notebook)
                self._leave_out_misfits(notebook)
                self._settings_and_changes(notebook)
            self._photos(notebook, report)
        finally:
            notebook.close()
            for _, connection in self._sources:
                connection.close()
            shutil.rmtree(self._out.with_name(f"{self._out.name}.copies"), ignore_errors=True)
        return self._said

    def _rows(self, notebook: Notebook) -> None:
        """Rows of all tables in the order in which they refer to each other, each from the first source that has it whole."""
        kept: dict[str, set[str]] = {}
        for table in metadata.sorted_tables:
            kind = TABLE_OF.get(table.name)
            if kind is None:
                continue
            mine = kept.setdefault(table.name, set())
            bad: set[str] = set()
            unique: set[object] = set()
            for place, (name, connection) in enumerate(self._sources):
                if place and not bad and self._complete(table):
                    break
                came = 0
                for row in self._read(connection, table):
                    key = str(row["id"])
                    if key in mine:
                        continue
                    try:
                        record_of(kind, row)
                    except (Unreadable, DribbetError):
                        bad.add(key)
                        continue
                    lone = next((row[c.name] for c in table.columns if c.unique), None)
                    if not self._has_parents(table, row, kept) or (lone is not None and lone in unique):
                        bad.add(key)
                        continue
                    if "number" in row:
                        notebook.reach_number(row["number"])
                    notebook.put_row(table, row)
                    mine.add(key)
                    unique.add(lone)
                    bad.discard(key)
                    came += 1
                if place and came:
                    self._said.append(f"{came} rows of {table.name} came from the copy {name}.")
            if bad:
                self._said.append(f"{len(bad)} rows of {table.name} could not be read anywhere and are left out: {', '.join(sorted(bad)[:5])}.")
        notebook.forget()

    def _complete(self, table: Table) -> bool:
        """Whether the first database gives this table whole, by its own count."""
        connection = self._sources[0][1]
        try:
            row = connection.execute('SELECT "rows", "sum" FROM tally WHERE "name" = ?', (table.name,)).fetchone()
            return (int(row[0]), int(row[1])) == counted(connection, table) if row is not None else counted(connection, table)[0] == 0
        except (sqlite3.Error, ValueError, TypeError):
            return False

    @staticmethod
    def _has_parents(table: Table, row: dict[str, Any], kept: dict[str, set[str]]) -> bool:
        for column in table.columns:
            for key in column.foreign_keys:
                if row[column.name] is not None and row[column.name] not in kept.get(key.column.table.name, ()):
                    return False
        return True

    def _read(self, connection: sqlite3.Connection, table: Table) -> Iterator[dict[str, Any]]:
        """Rows of a table as far as they can be read: all at once, or one by one past damaged pages."""
        try:
            held = {row[1] for row in connection.execute(f"PRAGMA table_info({quoted(table.name)})")}
        except sqlite3.Error:
            return
        if not held:
            return
        columns = ", ".join(quoted(c.name) if c.name in held else f"NULL AS {quoted(c.name)}" for c in table.columns)
        select = f"SELECT {columns} FROM {quoted(table.name)}"
        try:
            rows = connection.execute(f"{select} ORDER BY rowid").fetchall()
        except (sqlite3.Error, UnicodeError):
            rows = list(self._one_by_one(connection, table, select))
        for values in rows:
            yield row_from(table, values)

    @staticmethod
    def _one_by_one(connection: sqlite3.Connection, table: Table, select: str) -> Iterator[tuple[Any, ...]]:
        try:
            (last,) = connection.execute(f"SELECT max(rowid) FROM {quoted(table.name)}").fetchone()
        except sqlite3.Error:
            last = 100_000
        misses = 0
        for rowid in range(1, min(last or 0, MOST_ROWID) + 1):
            try:
                found = connection.execute(f"{select} WHERE rowid = ?", (rowid,)).fetchone()
            except (sqlite3.Error, UnicodeError):
                misses += 1
                if misses > 5000:
                    return
                continue
            if found is not None:
                yield found

    def _older_row(self, table: Table, id_: str) -> dict[str, Any] | None:
        """The same row as the newest copy has it, if it has and a record takes it."""
        for _, connection in self._sources[1:]:
            row = next((r for r in self._read(connection, table) if r["id"] == id_), None)
            if row is not None:
                try:
                    record_of(TABLE_OF[table.name], row)
                except (Unreadable, DribbetError):
                    continue
                return row
        return None

    def _leave_out_misfits(self, notebook: Notebook) -> None:
        for misfit in misfits(notebook.all):  # a row that fits nothing may have been altered: the copies know it as it was
            table = metadata.tables[misfit.table]
            older = None if self._complete(table) else self._older_row(table, misfit.id)
            if older is not None:
                notebook.put_row_anew(table, older)
                self._said.append(f"{misfit.sentence} It is put back as the newest copy has it.")
        notebook.forget()
        for misfit in misfits(notebook.all):
            if misfit.table == schema.reading.name:  # a reading tied to another panel's photo would judge the wrong panel
                notebook.take_row_out(schema.reading, misfit.id)
                self._said.append(f"{misfit.sentence} It is left out; read the panel again.")
            else:
                self._said.append(f"{misfit.sentence} It was kept as it is.")
        notebook.forget()

    def _settings_and_changes(self, notebook: Notebook) -> None:
        seen: set[str] = set()
        series = {s for (s,) in self._sources[0][1].execute("SELECT id FROM series")} if self._complete(schema.series) else set()
        for _, connection in self._sources[:1]:
            for row in self._read(connection, schema.setting):
                try:
                    check_setting(row["key"], row["value"])
                except (Unreadable, DribbetError):
                    self._said.append(f"The setting {row['key']} could not be read and is left out.")
                    continue
                gone = row["key"] == "last_series" and row["value"] not in series
                if row["key"] not in seen and not gone:
                    seen.add(row["key"])
                    notebook.put_row(schema.setting, row)
            for row in self._read(connection, schema.change):
                if row["table_name"] in TABLE_OF and isinstance(row["before"], dict) and not isinstance(row["at"], str) and row["row_id"]:
                    notebook.put_row(schema.change, {k: v for k, v in row.items() if k != "number"})

    def _photos(self, notebook: Notebook, report: Report) -> None:
        from dribbet.records import Photo

        old, wanted = PhotoFiles(self._folder), {}
        for photo in notebook.all(Photo):
            wanted[notebook.photos.path_of(photo).name] = (photo, notebook.photos.path_of(photo))
        for done, (photo, place) in enumerate(wanted.values()):
            report(done, len(wanted))
            source = old.path_of(photo)
            waiting = old.arriving / source.name
            source = source if source.exists() else waiting
            if not source.exists():
                self._said.append(f"The photo {photo.name} is missing. Put the original back in as {place.name}.")
            elif file_hash(source) != photo.sha256:
                self._said.append(f"The photo {photo.name} has changed and is left out. Put the original back in as {place.name}.")
            else:
                place.parent.mkdir(parents=True, exist_ok=True)
                shutil.copyfile(source, place)
        strays = [p for p in old.stored() if p.name not in wanted]
        for path in strays:
            (self._out / STRAYS).mkdir(exist_ok=True)
            shutil.copyfile(path, self._out / STRAYS / path.name)
        if strays:
            self._said.append(f"{len(strays)} photos belong to no panel; they lie in {STRAYS}.")
