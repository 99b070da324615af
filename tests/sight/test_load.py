"""Photographs in: every format, turned upright, refused in one sentence where they cannot be."""

from __future__ import annotations

import struct
import zlib
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest
from PIL import Image

from dribbet.sight.arrays import SightError
from dribbet.sight.load import load
from tests.sight import drawn

PICTURE = drawn.marble(320, 240)


@pytest.mark.parametrize(("suffix", "kind", "near"), [(".jpg", "JPEG", 12), (".png", "PNG", 0), (".tif", "TIFF", 0), (".webp", "WEBP", 14)])
def test_every_format_is_read(tmp_path, suffix, kind, near):
    path = tmp_path / f"p{suffix}"
    Image.fromarray(PICTURE).save(path, kind, quality=95)
    found = load(path)
    assert found.format == kind
    assert np.mean(np.abs(found.rgb.astype(int) - PICTURE)) <= near


def test_heic_is_read(tmp_path):
    import pillow_heif

    path = tmp_path / "p.heic"
    pillow_heif.from_pillow(Image.fromarray(PICTURE)).save(path, quality=90)
    assert np.mean(np.abs(load(path).rgb.astype(int) - PICTURE)) < 8


@pytest.mark.parametrize(("orientation", "turns"), [(1, 0), (6, -1), (3, 2), (8, 1)])
def test_photo_is_turned_upright(tmp_path, orientation, turns):
    exif = Image.Exif()
    exif[274] = orientation
    Image.fromarray(PICTURE).save(tmp_path / "p.png", exif=exif)
    np.testing.assert_array_equal(load(tmp_path / "p.png").rgb, np.rot90(PICTURE, turns))


@pytest.mark.parametrize(
    ("stamp", "offset", "when"),
    [
        ("2026:11:19 14:20:00", "+01:00", datetime(2026, 11, 19, 13, 20, tzinfo=UTC)),
        ("2026:11:19 14:20:00", None, datetime(2026, 11, 19, 14, 20, tzinfo=UTC)),
        ("no time at all", None, None),
        (None, None, None),
    ],
)
def test_time_is_taken_from_the_photo(tmp_path, stamp, offset, when):
    exif = Image.Exif()
    inner = exif.get_ifd(0x8769)
    if stamp:
        inner[36867] = stamp
    if offset:
        inner[36881] = offset
    Image.fromarray(PICTURE).save(tmp_path / "p.jpg", exif=exif)
    taken = load(tmp_path / "p.jpg").taken_at
    assert taken == when
    if offset:
        assert taken.utcoffset() == timedelta(hours=1)


def huge_png(width: int, height: int) -> bytes:
    """Header of a picture of any size, with next to no data behind it."""

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    head = chunk(b"IHDR", struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0))
    return b"\x89PNG\r\n\x1a\n" + head + chunk(b"IDAT", zlib.compress(b"\0" * 1000)) + chunk(b"IEND", b"")


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [
        ("empty.jpg", b"", "is empty"),
        ("words.jpg", b"this is no picture", "not a photo"),
        ("huge.png", huge_png(60_000, 60_000), "more than 150 million"),
        ("tiny.png", None, "larger photo"),
        ("cut.jpg", None, "damaged or cut off"),
        ("cut.png", None, "damaged or cut off"),
    ],
)
def test_photo_that_cannot_be_read_is_refused_in_one_sentence(tmp_path, name, data, words):
    path = tmp_path / name
    if data is not None:
        path.write_bytes(data)
    elif name == "tiny.png":
        Image.fromarray(PICTURE[:20, :20]).save(path)
    else:
        Image.fromarray(PICTURE).save(path)
        path.write_bytes(path.read_bytes()[: path.stat().st_size // 2])
    with pytest.raises(SightError, match=words):
        load(path)


def test_missing_photo_and_folder_are_named(tmp_path):
    with pytest.raises(SightError, match="Check the name"):
        load(tmp_path / "none.jpg")
    with pytest.raises(SightError, match="is a folder"):
        load(tmp_path)
