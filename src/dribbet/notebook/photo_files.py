"""Originals under their SHA-256, never altered; what can be made again lies beside them in `derived`.

A photograph that comes in with a write waits in `.arriving` and moves to its place when the write is done: a write that fails
takes it along, and what a killed one left is put in order when the notebook is next opened.
"""

from __future__ import annotations

import hashlib
import re
from contextlib import suppress
from typing import TYPE_CHECKING, Final

from dribbet.notebook.engine import said_plainly
from dribbet.notebook.whole_file import is_part, make_folder, sync_folder, write_whole

if TYPE_CHECKING:
    from collections.abc import Collection
    from pathlib import Path

    from dribbet.records import Photo

_ORIGINAL: Final = re.compile(r"[0-9a-f]{64}\.[a-z]{3,4}\Z")


class PhotoFiles:
    """The photo folder of a notebook."""

    def __init__(self, folder: Path) -> None:
        self._photos = folder / "photos"
        self._derived = folder / "derived"
        self.arriving = self._photos / ".arriving"
        self.waits = False
        """Whether photographs wait for the end of a write; set by the notebook."""
        self._waiting: list[tuple[Path, Path]] = []

    def keep(self, data: bytes, suffix: str) -> str:
        """Store an original; returns its SHA-256. The same photo twice is stored once."""
        digest = hashlib.sha256(data).hexdigest()
        with said_plainly(self._photos):
            place = self.place_for(digest, suffix)
            if place is not None:
                write_whole(place, data)
        return digest

    def place_for(self, sha256: str, suffix: str) -> Path | None:
        """Where a coming original is to be written; None where it is there already. Its folder exists."""
        path = self.path(sha256, suffix)
        if path.exists():
            return None
        if not self.waits:
            make_folder(path.parent)
            return path
        make_folder(self.arriving)
        waiting = self.arriving / path.name
        if (waiting, path) not in self._waiting:
            self._waiting.append((waiting, path))
        return waiting

    def settle(self) -> None:
        """The write is done: what waited for it moves to its place."""
        waiting, self._waiting = self._waiting, []
        for path, place in waiting:
            make_folder(place.parent)
            path.replace(place)
            sync_folder(place.parent)

    def drop(self) -> None:
        """The write failed: what waited for it goes."""
        waiting, self._waiting = self._waiting, []
        for path, _ in waiting:
            with suppress(OSError):
                path.unlink(missing_ok=True)

    def sweep(self, known: Collection[tuple[str, str]]) -> None:
        """Put in order what a killed write left: originals whose row was written move in, all else of it goes."""
        if self.arriving.is_dir():
            for path in self.arriving.iterdir():
                place = self.path(path.stem, path.suffix)
                if (path.stem, path.suffix) in known and not place.exists():
                    make_folder(place.parent)
                    path.replace(place)
                elif not path.is_dir():
                    path.unlink(missing_ok=True)
        for folder in (self._photos, self._derived):
            for part in folder.rglob(".*.part"):
                if is_part(part):
                    part.unlink(missing_ok=True)

    def path(self, sha256: str, suffix: str) -> Path:
        """Where an original of this hash lies."""
        return self._photos / sha256[:2] / f"{sha256}{suffix}"

    def path_of(self, photo: Photo) -> Path:
        """Where a photo's original lies."""
        return self.path(photo.sha256, photo.suffix)

    def stored(self) -> list[Path]:
        """All original files, without unfinished ones."""
        return sorted(p for p in self._photos.glob("*/*") if not p.name.startswith(".") and p.parent != self.arriving)

    def foreign(self) -> list[Path]:
        """Files among the originals that Dribbet never put there."""
        return [p for p in self.stored() if not _ORIGINAL.match(p.name)]
