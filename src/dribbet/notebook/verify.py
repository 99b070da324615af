"""Checks a notebook: database, rows, counts, references, photographs, copies, left-overs. Says what is wrong, each in one sentence."""

from __future__ import annotations

import hashlib
import sqlite3
from contextlib import closing
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Final

from sqlalchemy import JSON, Boolean

from dribbet.notebook import schema
from dribbet.notebook.copies import copies
from dribbet.notebook.engine import DATABASE, NotebookError, connect
from dribbet.notebook.incoming import check_setting
from dribbet.notebook.mapping import TABLES, Unreadable, record_of
from dribbet.notebook.migrate import KNOWN, require_known, stored_version
from dribbet.notebook.opening import leftovers, lost_writes, take_lock, told_writes
from dribbet.notebook.photo_files import PhotoFiles
from dribbet.notebook.plain_json import loads_or_broken
from dribbet.notebook.references import TABLE_OF, misfits
from dribbet.notebook.schema import VERSION, Instant, metadata, moment_of
from dribbet.notebook.tally import IDENTITY, TALLIED, WRITES, counted, quoted, row_select
from dribbet.records import DribbetError, Report, silent

if TYPE_CHECKING:
    from collections.abc import Iterator
    from pathlib import Path

    from sqlalchemy import Column, Table

CHUNK: Final = 1 << 20


@dataclass(frozen=True, slots=True, kw_only=True)
class Fault:
    """Something wrong with a notebook, and whether what is left can stand in for it."""

    sentence: str
    repairable: bool


def lost(sentence: str) -> Fault:
    """A fault that nothing here makes good."""
    return Fault(sentence=sentence, repairable=False)


def mendable(sentence: str) -> Fault:
    """A fault that `verify --repair` or the person makes good."""
    return Fault(sentence=sentence, repairable=True)


def verify(folder: Path, report: Report = silent) -> list[Fault]:
    """Faults of a notebook; an empty list where all is well. Nothing is written.

    Raises
    ------
    NotebookError
        If there is no notebook at all, or a newer Dribbet wrote it.
    """
    folder = folder.absolute()
    database = folder / DATABASE
    if not database.exists() and not copies(folder):
        raise NotebookError(f"There is no notebook at {folder}. Check the path.")
    faults = [*_of_database(database), *_of_leftovers(folder), *_of_copies(folder)]
    photos = _photos_of(database)
    faults += _of_photos(folder, photos, report)
    return faults


# ---------------------------------------------------------------- the database


def _of_database(database: Path) -> list[Fault]:
    if not database.exists():
        return [mendable(f"{DATABASE} is missing. The newest copy in `copies` can stand in.")]
    if database.stat().st_size == 0:
        return [mendable(f"{DATABASE} is empty. The newest copy in `copies` can stand in.")]
    try:
        version = stored_version(database)
    except NotebookError:
        return [mendable(f"{DATABASE} cannot be opened: its first pages are damaged. The newest copy in `copies` can stand in.")]
    if version is None:
        return [mendable(f"{DATABASE} holds no tables. The newest copy in `copies` can stand in.")]
    if version not in KNOWN:
        if version > VERSION:
            require_known(database.parent.name, version)
        return [mendable(f"It says it is of a schema that never was ({version[:20]}). What it holds can be copied by what its tables are.")]
    found: list[Fault] = []
    told = told_writes(database.parent)
    try:
        with closing(connect(database)) as connection:
            connection.execute("BEGIN")  # one moment of it, whatever a window writes meanwhile
            found += _of_pages(connection)
            if version != VERSION:
                return [*found, mendable(f"It is of an older Dribbet (schema {version}). Open it once, then check it again.")] if found else []
            found += _of_schema(connection)
            found += _of_references(connection)
            rows = _of_rows(connection, found)
            found += _of_counts(connection, told)
            found += [mendable(m.sentence) for m in misfits(lambda kind: rows.get(kind, []))]
            found += _of_settings(connection)
    except sqlite3.Error as error:
        found.append(mendable(f"The database cannot be read to its end: {error}. What can be read can be copied, the rest comes from `copies`."))
    return list(dict.fromkeys(found))


def _of_pages(connection: sqlite3.Connection) -> Iterator[Fault]:
    try:
        lines = [str(line) for (line,) in connection.execute("PRAGMA integrity_check(20)")]
    except sqlite3.Error as error:
        lines = [str(error)]
    if lines != ["ok"]:
        yield mendable(f"The database is damaged ({'; '.join(line.splitlines()[-1] for line in lines[:3])}). A copy in `copies` can stand in.")


def _of_schema(connection: sqlite3.Connection) -> Iterator[Fault]:
    known = {row[0]: row[1] for row in connection.execute("SELECT name, type FROM sqlite_master")}
    for table in metadata.sorted_tables:
        if known.get(table.name) != "table":
            yield mendable(f"The table {table.name} is gone. Its rows can come from a copy in `copies`.")
            continue
        held = {row[1]: row for row in connection.execute(f"PRAGMA table_info({quoted(table.name)})")}
        for column in table.columns:
            if column.name not in held:
                yield mendable(f"The column {column.name} of {table.name} is gone. Its values can come from a copy in `copies`.")
        lone = {
            tuple(c[2] for c in connection.execute(f"PRAGMA index_info({quoted(i[1])})"))
            for i in connection.execute(f"PRAGMA index_list({quoted(table.name)})")
            if i[2]
        }
        for column in table.columns:
            if column.unique and (column.name,) not in lone:
                yield mendable(f"Nothing keeps {column.name} of {table.name} from being given twice. A repaired copy does.")
    strange = [name for name, kind in known.items() if kind in ("trigger", "view")]
    strange += [name for name, kind in known.items() if kind == "table" and name not in {*metadata.tables, "alembic_version", "sqlite_sequence"}]
    for name in strange:
        yield mendable(f"The database holds {name}, which Dribbet never made. A repaired copy leaves it out.")


def _of_references(connection: sqlite3.Connection) -> Iterator[Fault]:
    for table, row, parent, _ in connection.execute("PRAGMA foreign_key_check"):
        yield mendable(f"A row of {table} ({row}) points to a {parent} that is gone. The {parent} can come from a copy in `copies`.")


def row_from(table: Table, values: tuple[Any, ...]) -> dict[str, Any]:
    """Row as the schema reads it, from what SQLite holds; what it cannot read stays as it is, and no record takes it."""
    return {c.name: _read(c, v) for c, v in zip(table.columns, values, strict=True)}


def _read(column: Column[Any], value: Any) -> Any:
    if value is None:
        return None
    if isinstance(column.type, Instant):
        try:
            return moment_of(value)
        except ValueError:
            return value
    if isinstance(column.type, JSON):
        return loads_or_broken(value) if isinstance(value, (str, bytes)) else value
    if isinstance(column.type, Boolean):
        return {0: False, 1: True}.get(value, value)
    return value


def _of_rows(connection: sqlite3.Connection, found: list[Fault]) -> dict[type[Any], list[Any]]:
    """Records of all tables; what no record can hold is added to `found`."""
    rows: dict[type[Any], list[Any]] = {}
    for kind, table in TABLES.items():
        mine = rows.setdefault(kind, [])
        try:
            for values in connection.execute(row_select(table)):
                row = row_from(table, values)
                try:
                    mine.append(record_of(kind, row))
                except (Unreadable, DribbetError) as error:
                    text = str(error).rstrip(".")
                    found.append(mendable(f"A row of {table.name} ({row['id']}) holds what cannot be: {text}. It can come from a copy in `copies`."))
        except sqlite3.OperationalError:
            continue  # the table or a column is gone: said already
    for values in connection.execute(row_select(schema.change)):
        row = row_from(schema.change, values)
        if row["table_name"] not in TABLE_OF or not isinstance(row["before"], dict) or isinstance(row["at"], str):
            found.append(mendable(f"An entry of the change log ({row['number']}) cannot be read. A repaired copy leaves it out."))
    return rows


def _of_counts(connection: sqlite3.Connection, told: tuple[int, str]) -> Iterator[Fault]:
    try:
        said = {name: (int(rows), int(total)) for name, rows, total in connection.execute('SELECT "name", "rows", "sum" FROM tally')}
    except (sqlite3.Error, ValueError, TypeError):
        yield mendable("The counts of its tables cannot be read. A repaired copy counts anew.")
        return
    if WRITES not in said or IDENTITY not in said:
        yield mendable("The count of its writes is gone. A repaired copy counts anew.")
    for table in TALLIED:
        try:
            rows, total = counted(connection, table)
        except sqlite3.OperationalError:
            continue
        wanted = said.get(table.name, (0, 0))
        if (rows, total) == wanted:
            continue
        if rows < wanted[0]:
            yield mendable(f"{wanted[0] - rows} of {wanted[0]} rows of {table.name} are gone. They can come from a copy in `copies`.")
        elif rows > wanted[0]:
            yield mendable(f"{table.name} has {rows - wanted[0]} rows that Dribbet never wrote. Compare it with a copy in `copies`.")
        else:
            yield mendable(f"A row of {table.name} was altered by something else than Dribbet. Compare it with a copy in `copies`.")
    missing = lost_writes(told, connection)
    if missing:
        yield lost(
            f"The last {missing} writes that were told as saved are not there: {DATABASE}-wal was lost, or an older database put in its place. "
            f"If you have the file, put it back beside the database before anything is written."
        )


def _of_settings(connection: sqlite3.Connection) -> Iterator[Fault]:
    series = {id_ for (id_,) in connection.execute("SELECT id FROM series")}
    for values in connection.execute(row_select(schema.setting)):
        row = row_from(schema.setting, values)
        try:
            check_setting(row["key"], row["value"])
        except (Unreadable, DribbetError) as error:
            yield mendable(f"The setting {row['key']} cannot be read ({str(error).rstrip('.')}). A repaired copy goes without it.")
            continue
        if row["key"] == "last_series" and row["value"] not in (*series, "", None):
            yield mendable("The series that was in hand is no longer there. A repaired copy begins with another.")


# ---------------------------------------------------------------- files


def _photos_of(database: Path) -> list[tuple[str, str, str]]:
    try:
        with closing(connect(database)) as connection:
            return [tuple(map(str, row)) for row in connection.execute("SELECT sha256, suffix, name FROM photo")]  # type: ignore[misc]
    except sqlite3.Error:
        return []


def file_hash(path: Path) -> str:
    """SHA-256 of a file, read in pieces."""
    digest = hashlib.sha256()
    with path.open("rb") as file:
        while chunk := file.read(CHUNK):
            digest.update(chunk)
    return digest.hexdigest()


def _of_photos(folder: Path, photos: list[tuple[str, str, str]], report: Report) -> list[Fault]:
    files, found, wanted = PhotoFiles(folder), [], set()
    for done, (digest, suffix, name) in enumerate(photos):
        report(done, len(photos))
        if "/" in suffix or "/" in digest:
            continue  # no photo of ours: said with its row
        path = files.path(digest, suffix)
        if path in wanted:
            continue
        wanted.add(path)
        try:
            if not path.exists():
                found.append(mendable(f"The photo {name} is missing. Put the original back in as {path.name}."))
            elif file_hash(path) != digest:
                found.append(mendable(f"The photo {name} has changed since it was stored. Put the original back in."))
        except OSError as error:
            found.append(mendable(f"The photo {name} cannot be read ({error.strerror}). Check the disk, or put the original back in."))
    for path in files.stored():
        if path not in wanted:
            known = photos or not copies(folder)
            found.append(
                mendable(
                    f"{path.name} belongs to no panel. It may be deleted, or brought in again."
                    if known
                    else f"{path.name} cannot be matched while the database cannot be read. Keep it."
                )
            )
    return found


def _of_leftovers(folder: Path) -> Iterator[Fault]:
    for path in leftovers(folder):
        yield mendable(f"{path.name} was left behind by a write that was cut off. It goes when the notebook is next opened.")
    arriving = PhotoFiles(folder).arriving
    waiting = [p for p in arriving.iterdir() if p.is_file()] if arriving.is_dir() else []
    if waiting:
        lock = take_lock(folder)
        if lock is not None:  # nobody writes just now, so nothing is on its way
            lock.close()
            yield mendable(
                f"{len(waiting)} photos were on their way in when a write was cut off. They are put in order when the notebook is next opened."
            )


def _of_copies(folder: Path) -> Iterator[Fault]:
    for copy in copies(folder):
        if not is_whole(copy):
            yield mendable(f"The copy {copy.name} is damaged. It may be deleted; a new one is made every day.")


def is_whole(copy: Path) -> bool:
    """Whether a kept copy opens, is of a known schema, and its pages are sound."""
    try:
        if stored_version(copy) not in KNOWN:
            return False
        with closing(connect(copy)) as connection:
            return [row[0] for row in connection.execute("PRAGMA quick_check(1)")] == ["ok"]
    except (sqlite3.Error, DribbetError):
        return False
