"""Copies of the database that are kept beside it: one a day for a week, and one before each migration."""

from __future__ import annotations

import re
import sqlite3
from typing import TYPE_CHECKING, Final

from dribbet.notebook.engine import DATABASE, connect, said_plainly
from dribbet.notebook.whole_file import arriving, make_folder

if TYPE_CHECKING:
    from datetime import date
    from pathlib import Path

KEPT_DAYS: Final = 7
_DAILY: Final = re.compile(r"\d{4}-\d\d-\d\d\.sqlite3\Z")


def copies(folder: Path) -> list[Path]:
    """Kept copies of a notebook's database, oldest first."""
    found = [p for p in (folder / "copies").glob("*.sqlite3") if p.is_file()]
    return sorted(found, key=lambda p: (p.stat().st_mtime, p.name))


def copy_database(database: Path, copy: Path) -> None:
    """Copy a database with what is still in its write-ahead log; the copy is synced, checked, and appears whole.

    Raises
    ------
    sqlite3.DatabaseError
        If what was to be copied is damaged: a whole copy is never replaced by a damaged one.
    """
    with arriving(copy) as part:
        source = connect(database)
        try:
            target = connect(part, "rwc")
            try:
                source.backup(target)
                target.execute("PRAGMA journal_mode = DELETE")
                (said,) = target.execute("PRAGMA quick_check(1)").fetchone()
                if said != "ok":
                    raise sqlite3.DatabaseError(f"database disk image is malformed: {said}")
            finally:
                target.close()
        finally:
            source.close()


def keep_daily(folder: Path, today: date) -> Path | None:
    """Keep today's copy, once a day, and no more than seven of them; None where today's is there.

    Raises
    ------
    NotebookError
        If it cannot be written, or the notebook is damaged; older copies then stay as they are.
    """
    copy = folder / "copies" / f"{today:%Y-%m-%d}.sqlite3"
    if copy.exists():
        return None
    with said_plainly(folder):
        make_folder(copy.parent)
        copy_database(folder / DATABASE, copy)
        daily = sorted(p for p in copy.parent.iterdir() if _DAILY.match(p.name))
        for old in daily[:-KEPT_DAYS]:
            old.unlink(missing_ok=True)
    return copy
