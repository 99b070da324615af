"""Files that appear whole or not at all, and stay when the power goes."""

from __future__ import annotations

import os
import re
import zlib
from contextlib import contextmanager, suppress
from typing import TYPE_CHECKING, Final

from dribbet.records import DribbetError

if TYPE_CHECKING:
    from collections.abc import Iterator
    from pathlib import Path

_PART: Final = re.compile(r"\.(?P<stem>.*)\.(?P<pid>\d+)\.part\Z", re.DOTALL)


def _stem(path: Path) -> str:
    """Short stem for the unfinished file: with process number and ending it must fit into any name the target has."""
    return f"{path.name[:24]}~{zlib.crc32(os.fsencode(path.name)):08x}"


def is_part(path: Path) -> bool:
    """Whether a file is one that was never finished, and the process that wrote it is gone."""
    named = _PART.match(path.name)
    return named is not None and not _alive(int(named["pid"]))


def _alive(pid: int) -> bool:
    if pid == os.getpid():
        return True
    try:
        os.kill(pid, 0)
    except (ProcessLookupError, OverflowError):
        return False
    except PermissionError:
        return True
    return True


def sync_folder(folder: Path) -> None:
    """Make the names in a folder last: without it a new file may be gone after a power cut, though its content was synced."""
    try:
        descriptor = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
    except OSError:
        return
    try:
        with suppress(OSError):  # some network disks cannot
            os.fsync(descriptor)
    finally:
        os.close(descriptor)


def make_folder(folder: Path) -> None:
    """Make a folder, with those above it, so that it lasts."""
    if not folder.is_dir():
        folder.mkdir(parents=True, exist_ok=True)
        sync_folder(folder.parent)


@contextmanager
def arriving(path: Path) -> Iterator[Path]:
    """Name to write a file under; it takes the place of `path` when the block ends well, and is removed otherwise.

    The file is synced, then renamed, then its folder is synced. Left-overs of killed writes of the same file are removed.
    """
    part = path.with_name(f".{_stem(path)}.{os.getpid()}.part")  # same folder, so same disk
    for old in path.parent.glob(f".{_escaped(_stem(path))}.*.part"):
        if is_part(old):
            old.unlink(missing_ok=True)
    try:
        yield part
        with part.open("rb+") as file:
            os.fsync(file.fileno())
        part.replace(path)
        sync_folder(path.parent)
    finally:
        part.unlink(missing_ok=True)


def _escaped(name: str) -> str:
    return re.sub(r"([\[\]*?])", r"[\1]", name)


def write_whole(path: Path, data: bytes) -> None:
    """Replace `path` by `data`, or leave what was there."""
    with arriving(path) as part:
        part.write_bytes(data)


def save_file(path: Path, data: bytes) -> None:
    """Write a file where a person wants it: whole, or not at all with a sentence.

    Raises
    ------
    DribbetError
        If it cannot be written there, and what to do.
    """
    try:
        write_whole(path, data)
    except OSError as error:
        raise DribbetError(f"{path} could not be written: {error.strerror or error}. Choose another folder or free some room.") from None


def file_name(words: str) -> str:
    """Words as a name that any disk takes."""
    kept = "".join(sign if sign.isprintable() and sign not in '/\\:*?"<>|' else "-" for sign in words).strip(". ")
    return kept[:80] or "Dribbet"
