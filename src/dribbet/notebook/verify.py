"""Checks a notebook: database, photographs against their hashes, references. Says what is wrong and what can be repaired."""

from __future__ import annotations

import hashlib
import sqlite3
from dataclasses import dataclass
from typing import TYPE_CHECKING

from dribbet.notebook.engine import DATABASE, NotebookError
from dribbet.notebook.migrate import stored_version
from dribbet.notebook.photo_files import PhotoFiles
from dribbet.notebook.schema import VERSION
from dribbet.records import Report, silent

if TYPE_CHECKING:
    from pathlib import Path


@dataclass(frozen=True, slots=True, kw_only=True)
class Fault:
    """Something wrong with a notebook, and whether what is left can stand in for it."""

    sentence: str
    repairable: bool


def verify(folder: Path, report: Report = silent) -> list[Fault]:
    """Faults of a notebook; an empty list where all is well.

    Raises
    ------
    NotebookError
        If there is no notebook at all.
    """
    database = folder / DATABASE
    if not database.exists():
        raise NotebookError(f"There is no notebook at {folder}. Check the path.")
    version = stored_version(database)
    if version is None or version > VERSION:
        raise NotebookError(f"{folder.name} was written by a newer Dribbet. Update the program to check it.")
    faults: list[Fault] = []
    connection = sqlite3.connect(f"file:{database}?mode=ro", uri=True)
    try:
        for (line,) in connection.execute("PRAGMA integrity_check"):
            if line != "ok":
                faults.append(Fault(sentence=f"The database is damaged: {line}. The newest copy in `copies` can stand in.", repairable=False))
        for table, row, parent, _ in connection.execute("PRAGMA foreign_key_check"):
            faults.append(Fault(sentence=f"A row of {table} ({row}) points to a {parent} that is gone.", repairable=False))
        photos = connection.execute("SELECT sha256, suffix, name FROM photo").fetchall()
    finally:
        connection.close()
    files = PhotoFiles(folder)
    wanted = set()
    for done, (digest, suffix, name) in enumerate(photos):
        report(done, len(photos))
        path = files.path(digest, suffix)
        wanted.add(path)
        if not path.exists():
            faults.append(Fault(sentence=f"The photo {name} is missing. Put the original back in as {path.name}.", repairable=True))
        elif hashlib.sha256(path.read_bytes()).hexdigest() != digest:
            faults.append(Fault(sentence=f"The photo {name} has changed since it was stored. Put the original back in.", repairable=True))
    for path in files.stored():
        if path not in wanted:
            faults.append(Fault(sentence=f"{path.name} belongs to no panel. It may be deleted, or imported again.", repairable=True))
    return faults
