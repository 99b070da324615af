"""A zip from somewhere else: looked through before anything is taken from it, and read within limits."""

from __future__ import annotations

import hashlib
import io
import os
import shutil
import stat
import zipfile
import zlib
from contextlib import contextmanager
from pathlib import Path, PurePosixPath
from typing import IO, TYPE_CHECKING, Any, Final

from dribbet.notebook.engine import NotebookError
from dribbet.notebook.plain_json import loads

if TYPE_CHECKING:
    from collections.abc import Iterator

MOST_BYTES: Final = 50_000_000_000  # of all photographs together
MOST_TABLE: Final = 400_000_000
MOST_JSON: Final = 60_000_000  # a reading of a thousand cells with outlines takes 2 MB
MOST_PHOTO: Final = 400_000_000
MOST_FILES: Final = 300_000
MOST_DEEP: Final = 4
MOST_SQUEEZED: Final = 250
"""A text that unpacks to more than this many times its size is no table of ours: the demo's tables unpack to 12 times theirs."""
CHUNK: Final = 1 << 20
SPARE_BYTES: Final = 50_000_000
_BROKEN: Final = (zipfile.BadZipFile, OSError, EOFError, zlib.error, NotImplementedError, RuntimeError, ValueError)


class PackageFile:
    """An open package; every way in which reading may fail ends in one sentence."""

    def __init__(self, file: Path, zip_file: zipfile.ZipFile) -> None:
        self.name = file.name
        self._zip = zip_file
        self.entries = {i.filename: i for i in zip_file.infolist() if not i.is_dir()}
        self._look_through()

    def _look_through(self) -> None:
        infos = self._zip.infolist()
        bad = next((i.filename for i in infos if not _safe(i.filename)), None)
        if bad is not None:
            raise NotebookError(f"{self.name} tries to write outside its folder ({bad[:80]}). Nothing was taken from it; do not trust this file.")
        if len(infos) > MOST_FILES:
            raise NotebookError(f"{self.name} holds {len(infos)} files, more than any notebook. Nothing was taken from it.")
        names = [i.filename for i in infos]
        if len(set(names)) < len(names):
            raise NotebookError(f"{self.name} holds a file twice, so nobody can say which counts. Export it again.")
        for i in infos:
            if i.flag_bits & 0x1:
                raise NotebookError(f"{self.name} is locked with a password. Unpack it and export it again without one.")
            if stat.S_ISLNK(i.external_attr >> 16):
                raise NotebookError(f"{self.name} holds a link instead of a file ({i.filename[:80]}). Export it again.")
            if i.file_size > self._most(i.filename) or (i.file_size > CHUNK and i.file_size > MOST_SQUEEZED * max(i.compress_size, 1)):
                raise NotebookError(
                    f"{i.filename[:80]} in {self.name} would unpack to {i.file_size / 1e6:.0f} MB, more than it can be. Nothing was taken from it."
                )
        if sum(i.file_size for i in infos) > MOST_BYTES:
            raise NotebookError(f"{self.name} would unpack to more than {MOST_BYTES // 10**9} GB. Export it in parts.")

    @staticmethod
    def _most(name: str) -> int:
        return MOST_PHOTO if name.startswith("photos/") else MOST_TABLE if name.startswith("tables/") else MOST_JSON

    def require_room(self, folder: Path) -> None:
        """Refuse what would not fit onto the disk."""
        coming = sum(i.file_size for i in self.entries.values())
        free = shutil.disk_usage(folder).free
        if coming + SPARE_BYTES > free:
            raise NotebookError(f"{self.name} takes {coming / 1e6:.0f} MB, and {free / 1e6:.0f} MB are free. Free some room and do it again.")

    @contextmanager
    def opened(self, name: str) -> Iterator[IO[bytes]]:
        """Open one file of the package; damage found while reading it is said in words."""
        try:
            with self._zip.open(self.entries[name]) as stream:
                yield stream
        except KeyError:
            raise NotebookError(f"{name} is missing from {self.name}. Export it again.") from None
        except UnicodeDecodeError:
            raise NotebookError(f"{name} in {self.name} cannot be read. Export it again.") from None
        except _BROKEN as error:
            if isinstance(error, OSError) and error.errno is not None:
                raise
            raise NotebookError(f"{name} in {self.name} is damaged. Export it again.") from None

    def json(self, name: str) -> Any:
        """Value of a JSON file."""
        with self.opened(name) as stream:
            data = stream.read(MOST_JSON + 1)
        try:
            return loads(data.decode("utf-8"))
        except ValueError:
            raise NotebookError(f"{name} in {self.name} cannot be read. Export it again.") from None

    @contextmanager
    def text(self, name: str) -> Iterator[IO[str]]:
        """Open a table; read line by line, it never stands in memory whole."""
        with self.opened(name) as stream, io.TextIOWrapper(stream, encoding="utf-8", newline="") as lines:
            yield lines

    def copy_photo(self, name: str, place: Path | None) -> None:
        """Copy a photograph to a place, checking on the way that it is the one its name says; only checks where there is none."""
        digest, size = hashlib.sha256(), 0
        target = place.open("wb") if place is not None else None
        try:
            with self.opened(name) as stream:
                while chunk := stream.read(CHUNK):
                    size += len(chunk)
                    if size > MOST_PHOTO:
                        raise NotebookError(
                            f"The photo {PurePosixPath(name).name} in {self.name} is larger than any photo. Nothing was taken from it."
                        )
                    digest.update(chunk)
                    if target is not None:
                        target.write(chunk)
            if digest.hexdigest() != PurePosixPath(name).stem:
                raise NotebookError(f"The photo {PurePosixPath(name).name} in {self.name} is not the one that was exported. Export it again.")
            if target is not None:
                target.flush()
                os.fsync(target.fileno())
        finally:
            if target is not None:
                target.close()


@contextmanager
def open_package(file: Path) -> Iterator[PackageFile]:
    """Open a zip and look through it.

    Raises
    ------
    NotebookError
        If it is none, or may not be trusted; the sentence says why.
    """
    try:
        zip_file = zipfile.ZipFile(file)
    except FileNotFoundError:
        raise NotebookError(f"There is no file {file}. Check the name.") from None
    except PermissionError:
        raise NotebookError(f"{file.name} may not be read. Check its permissions.") from None
    except IsADirectoryError:
        raise NotebookError(f"{file} is a folder. Choose a zip that dribbet export wrote.") from None
    except _BROKEN:
        raise NotebookError(f"{file.name} is not a zip, or is damaged. Export it again.") from None
    with zip_file:
        yield PackageFile(file, zip_file)


def _safe(name: str) -> bool:
    path = PurePosixPath(name)
    printable = all(sign.isprintable() for sign in name)
    return not path.is_absolute() and ".." not in path.parts and "\\" not in name and ":" not in name and printable and len(path.parts) <= MOST_DEEP
