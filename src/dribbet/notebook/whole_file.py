"""Files that appear whole or not at all."""

from __future__ import annotations

import os
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from pathlib import Path


def write_whole(path: Path, data: bytes) -> None:
    """Replace `path` by `data`, or leave what was there."""
    part = path.with_name(f".{path.name}.{os.getpid()}.part")  # same folder, so same disk
    try:
        with part.open("wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        part.replace(path)
    finally:
        part.unlink(missing_ok=True)
