"""Originals under their SHA-256, never altered; what can be made again lies beside them in `derived`."""

from __future__ import annotations

import hashlib
from typing import TYPE_CHECKING

from dribbet.notebook.engine import said_plainly
from dribbet.notebook.whole_file import write_whole

if TYPE_CHECKING:
    from pathlib import Path

    from dribbet.records import Photo


class PhotoFiles:
    """The photo folder of a notebook."""

    def __init__(self, folder: Path) -> None:
        self._photos = folder / "photos"
        self._derived = folder / "derived"

    def keep(self, data: bytes, suffix: str) -> str:
        """Store an original; returns its SHA-256. The same photo twice is stored once."""
        digest = hashlib.sha256(data).hexdigest()
        path = self.path(digest, suffix)
        if not path.exists():
            with said_plainly(self._photos):
                path.parent.mkdir(parents=True, exist_ok=True)
                write_whole(path, data)
        return digest

    def path(self, sha256: str, suffix: str) -> Path:
        """Where an original of this hash lies."""
        return self._photos / sha256[:2] / f"{sha256}{suffix}"

    def path_of(self, photo: Photo) -> Path:
        """Where a photo's original lies."""
        return self.path(photo.sha256, photo.suffix)

    def derived(self, name: str) -> Path:
        """Path of a file that can be made again; its folder exists."""
        self._derived.mkdir(parents=True, exist_ok=True)
        return self._derived / name

    def stored(self) -> list[Path]:
        """All original files, without unfinished ones."""
        return sorted(p for p in self._photos.glob("*/*") if not p.name.startswith("."))
