"""Runs a function as a user without rights: root may write anywhere, so permissions say nothing to it."""

from __future__ import annotations

import os
import pickle
import traceback
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from collections.abc import Callable
    from pathlib import Path

NOBODY = 65534


def without_rights(act: Callable[[], Any]) -> Any:
    """Result of a function that ran in a process of its own, without rights; its error is raised here."""
    read, write = os.pipe()
    child = os.fork()
    if child == 0:
        try:
            os.close(read)
            if os.getuid() == 0:
                os.setgroups([])
                os.setgid(NOBODY)
                os.setuid(NOBODY)
            try:
                answer = (True, act())
            except BaseException as error:
                answer = (False, (type(error).__name__, str(error), traceback.format_exc()))
            os.write(write, pickle.dumps(answer))
        finally:
            os._exit(0)
    os.close(write)
    with os.fdopen(read, "rb") as pipe:
        good, found = pickle.loads(pipe.read())
    os.waitpid(child, 0)
    if not good:
        raise Refused(*found)
    return found


class Refused(Exception):
    """An error of the child: its class, its words, its trace."""

    def __init__(self, kind: str, words: str, trace: str) -> None:
        super().__init__(f"{kind}: {words}")
        self.kind, self.words, self.trace = kind, words, trace


def locked(folder: Path, *, folders: int = 0o555, files: int = 0o444) -> None:
    """Make a folder and all in it read-only for everybody; folders above it can be walked through."""
    for path in [folder, *folder.rglob("*")]:
        path.chmod(folders if path.is_dir() else files)
    for above in folder.parents:
        if above.stat().st_uid == os.getuid() and above.stat().st_mode & 0o111 != 0o111:
            above.chmod(above.stat().st_mode | 0o111)
