"""Opens a notebook: who may write, what a killed write left behind, and whether the last writes are still there."""

from __future__ import annotations

import fcntl
import os
import shutil
import sqlite3
import tempfile
from contextlib import closing, suppress
from dataclasses import dataclass
from pathlib import Path
from typing import IO, TYPE_CHECKING, Final

from dribbet.notebook.copies import copies
from dribbet.notebook.engine import DATABASE, NotebookError, connect, damaged, said_plainly
from dribbet.notebook.migrate import bring_up_to_date, require_known, stored_version
from dribbet.notebook.schema import VERSION
from dribbet.notebook.tally import IDENTITY, WRITES
from dribbet.notebook.whole_file import is_part, make_folder

if TYPE_CHECKING:
    from collections.abc import Iterator

LOCK: Final = ".lock"
WRITTEN: Final = ".written"
"""Number of writes that were told as saved, beside the database: if the write-ahead log is lost, it shows."""


class WrittenCount:
    """The number of writes that were done, kept outside the database.

    It is written after each commit and not synced: after a power cut it may be behind the database, never before it.
    """

    def __init__(self, folder: Path) -> None:
        self._file = (folder / WRITTEN).open("r+b" if (folder / WRITTEN).exists() else "w+b", buffering=0)

    def put(self, writes: int, identity: str) -> None:
        """Say that so many writes are done in the notebook of this identity."""
        os.pwrite(self._file.fileno(), b"%020d %20s\n" % (writes, identity.encode()), 0)

    def close(self) -> None:
        """Let go of the file."""
        self._file.close()


def told_writes(folder: Path) -> tuple[int, str]:
    """Writes that were told as saved, and the identity of the notebook they went into; nothing where nobody counted."""
    try:
        writes, _, identity = (folder / WRITTEN).read_bytes()[:64].partition(b" ")
        return int(writes), identity.decode().strip()
    except (OSError, ValueError):
        return 0, ""


def lost_writes(told_before: tuple[int, str], connection: sqlite3.Connection) -> int:
    """Writes that were told as saved and are not in the database: its write-ahead log was lost, or an old copy put in its place.

    `told_before` is what `told_writes` said before the connection first read: another window may be writing.
    """
    told, whose = told_before
    writes, identity = _said_of_itself(connection)
    return max(0, told - writes) if whose == identity and identity else 0


def _said_of_itself(connection: sqlite3.Connection) -> tuple[int, str]:
    """Writes and identity of a database; nothing where it has none yet, or cannot be read."""
    try:
        found = {name: (rows, total) for name, rows, total in connection.execute('SELECT "name", "rows", "sum" FROM tally')}
        return int(found.get(WRITES, (0, 0))[0]), str(found[IDENTITY][1]) if IDENTITY in found else ""
    except (sqlite3.DatabaseError, ValueError, TypeError):
        return 0, ""


def take_lock(folder: Path) -> IO[str] | None:
    """Take the writer's lock; None where another window has it or the folder may not be written."""
    try:
        file = (folder / LOCK).open("a+")
    except OSError:
        return None
    try:
        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        file.close()
        return None
    with suppress(OSError):  # a full disk: the lock holds all the same
        file.truncate(0)
        file.write(str(os.getpid()))
        file.flush()
    return file


def may_write(folder: Path) -> bool:
    """Whether this folder and its database can be written at all."""
    database = folder / DATABASE
    return os.access(folder, os.W_OK) and (not database.exists() or os.access(database, os.W_OK)) and not os.statvfs(folder).f_flag & os.ST_RDONLY


@dataclass(frozen=True, slots=True, kw_only=True)
class Opened:
    """A database that may be read, and the lock where it may be written too."""

    database: Path
    lock: IO[str] | None
    scratch: tempfile.TemporaryDirectory[str] | None = None
    """Holds a copy of the database where its own folder does not even let it be read beside its log."""


def prepare(folder: Path, *, create: bool) -> Opened:
    """Check, migrate and put in order what is there; start a notebook where there is none and `create` is set."""
    database = folder / DATABASE
    if not database.exists() or database.stat().st_size == 0:
        _require_new(folder)
        if not create:
            raise NotebookError(f"There is no notebook at {folder}. Check the path, or start one with: dribbet open {folder}")
        with said_plainly(folder):
            for inner in (folder, folder / "photos", folder / "derived"):
                make_folder(inner)
            (folder / WRITTEN).unlink(missing_ok=True)
    lock = take_lock(folder) if may_write(folder) else None
    try:
        if lock is None:
            return _only_read(folder)
        with said_plainly(folder):
            _require_sound_log(database)
            bring_up_to_date(folder)
            sweep(folder)
        return Opened(database=database, lock=lock)
    except BaseException:
        if lock is not None:
            lock.close()
        raise


def _require_new(folder: Path) -> None:
    """Refuse to start an empty notebook over the remains of one."""
    left = copies(folder) or any((folder / "photos").glob("*/*")) or (folder / f"{DATABASE}-wal").exists()
    if left:
        raise NotebookError(
            f"{DATABASE} is missing from {folder}, but its photos or copies are there. Put it back, "
            f"or make a whole copy of what is left with: dribbet verify {folder} --repair NEW.dribbet"
        )


def _require_sound_log(database: Path) -> None:
    """Refuse a write-ahead log of another database before SQLite mixes it in: after a crash, or when files were copied about."""
    log = database.with_name(f"{DATABASE}-wal")
    if not log.exists() or log.stat().st_size == 0 or not database.exists():
        return
    try:
        with closing(connect(database)) as connection:
            (said,) = connection.execute("PRAGMA quick_check(1)").fetchone()
            together = _said_of_itself(connection)
    except sqlite3.OperationalError:
        return  # busy, or the disk does not let us: said when it is opened
    except sqlite3.DatabaseError as error:
        said, together = str(error), (0, "")
    try:
        with closing(sqlite3.connect(f"{database.absolute().as_uri()}?mode=ro&immutable=1", uri=True)) as connection:
            (alone,) = connection.execute("PRAGMA quick_check(1)").fetchone()
            writes, identity = _said_of_itself(connection)
    except sqlite3.DatabaseError:
        alone, writes, identity = "damaged", 0, ""
    identity = identity or told_writes(database.parent)[1]
    foreign = bool(identity) and (together[1] != identity or together[0] < writes)
    if said == "ok" and not foreign:
        return
    if alone == "ok" or foreign:
        raise NotebookError(
            f"{log.name} in {database.parent} does not belong to the database beside it. Move it to another folder, then open the notebook again."
        )
    raise damaged(database)


def _only_read(folder: Path) -> Opened:
    database = folder / DATABASE
    scratch = None
    try:
        with closing(connect(database)) as connection:
            connection.execute("SELECT count(*) FROM sqlite_master").fetchone()
    except sqlite3.OperationalError:  # a disk that lets nobody write, not even the index of the log
        scratch = tempfile.TemporaryDirectory(prefix="dribbet-")
        with said_plainly(folder):
            for ending in ("", "-wal"):
                if (whole := database.with_name(DATABASE + ending)).exists():
                    shutil.copyfile(whole, Path(scratch.name) / whole.name)
        database = Path(scratch.name) / DATABASE
    except sqlite3.DatabaseError:
        raise damaged(database) from None
    version = stored_version(database)
    require_known(folder.name, version)
    if version != VERSION:
        raise NotebookError(f"{folder.name} was written by an older Dribbet and may not be changed here. Copy it to a writable folder.")
    return Opened(database=database, lock=None, scratch=scratch)


def leftovers(folder: Path) -> Iterator[Path]:
    """Files and folders that killed writes left behind."""
    for place in (folder, folder / "copies"):
        yield from (p for p in place.glob(".*.part") if is_part(p))
    for inner in ("photos", "derived"):
        yield from (p for p in (folder / inner).rglob(".*.part") if is_part(p))
    building = folder.with_name(f".{folder.name}.building")
    if building.is_dir() and (building / LOCK).exists():
        lock = take_lock(building)
        if lock is not None:  # nobody builds it any more
            lock.close()
            yield building


def sweep(folder: Path) -> None:
    """Remove what killed writes left behind."""
    for path in leftovers(folder):
        with suppress(OSError):
            shutil.rmtree(path) if path.is_dir() else path.unlink(missing_ok=True)
