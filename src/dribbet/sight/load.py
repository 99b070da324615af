"""Reads photograph files: JPEG, PNG, TIFF, WebP, HEIC; turned upright, refused in one sentence where they cannot be."""

from __future__ import annotations

import warnings
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import TYPE_CHECKING, Final

import numpy as np

from dribbet.sight.arrays import Rgb, SightError

if TYPE_CHECKING:
    from pathlib import Path

MOST_PIXELS: Final = 150_000_000
SUFFIXES: Final = (".jpg", ".jpeg", ".png", ".tif", ".tiff", ".webp", ".heic", ".heif")
EXIF_TAKEN: Final = 36867
EXIF_OFFSET: Final = 36881


@dataclass(frozen=True, slots=True, kw_only=True)
class Loaded:
    """A photograph as displayed."""

    rgb: Rgb
    taken_at: datetime | None
    format: str


def load(path: Path) -> Loaded:
    """Read a photograph with its EXIF orientation applied.

    Raises
    ------
    SightError
        If the file is missing, empty, cut off, no picture, or larger than 150 megapixels.
    """
    from PIL import Image, ImageOps, UnidentifiedImageError

    if path.suffix.lower() in {".heic", ".heif"}:
        import pillow_heif

        pillow_heif.register_heif_opener()
    if not path.exists():
        raise SightError(f"There is no photo at {path}. Check the name.")
    if path.is_dir():
        raise SightError(f"{path} is a folder. Name one photo in it.")
    if path.stat().st_size == 0:
        raise SightError(f"{path.name} is empty. Copy it from the camera again.")
    Image.MAX_IMAGE_PIXELS = None  # the size is checked below, before any pixel is decoded
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            with Image.open(path) as picture:
                width, height = picture.size
                if width * height > MOST_PIXELS:
                    raise SightError(f"{path.name} has {width} × {height} pixels, more than {MOST_PIXELS // 1_000_000} million. Save a smaller copy.")
                exif = picture.getexif()
                taken = _taken(exif.get_ifd(0x8769).get(EXIF_TAKEN), exif.get_ifd(0x8769).get(EXIF_OFFSET))
                kind = picture.format or ""
                upright = ImageOps.exif_transpose(picture)
                rgb = np.ascontiguousarray(np.asarray(upright.convert("RGB"), dtype=np.uint8))
    except UnidentifiedImageError:
        raise SightError(f"{path.name} is not a photo that can be read. Use JPEG, PNG, TIFF, WebP or HEIC.") from None
    except (OSError, SyntaxError, ValueError, EOFError, MemoryError) as error:
        if isinstance(error, PermissionError):
            raise SightError(f"{path.name} may not be read. Check its permissions.") from None
        raise SightError(f"{path.name} is damaged or cut off. Copy it from the camera again.") from None
    if min(rgb.shape[:2]) < 64:
        raise SightError(f"{path.name} is only {rgb.shape[1]} × {rgb.shape[0]} pixels. Take a larger photo.")
    return Loaded(rgb=rgb, taken_at=taken, format=kind)


def _taken(stamp: object, offset: object) -> datetime | None:
    try:
        when = datetime.strptime(str(stamp).strip("\x00 "), "%Y:%m:%d %H:%M:%S")
    except ValueError:
        return None
    try:
        return datetime.strptime(f"{when:%Y:%m:%d %H:%M:%S} {str(offset).strip()}", "%Y:%m:%d %H:%M:%S %z")
    except ValueError:
        return when.replace(tzinfo=UTC)
