"""Photographs in: every format, turned upright, refused in one sentence where they cannot be."""

from __future__ import annotations

import struct
import time
import zlib
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest
from PIL import Image

from dribbet.sight.arrays import SightError
from dribbet.sight.load import P3_TO_SRGB, _from_p3, load, taken_at
from tests.sight import drawn, icc

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
@pytest.mark.parametrize(("name", "grey"), [("p.png", False), ("p.tif", False), ("p.tif", True), ("p.webp", False)])
def test_photo_is_turned_upright(tmp_path, orientation, turns, name, grey):
    exif = Image.Exif()
    exif[274] = orientation
    picture = PICTURE[..., 0] if grey else PICTURE
    Image.fromarray(picture).save(tmp_path / name, exif=exif, lossless=True)
    found = load(tmp_path / name).rgb
    np.testing.assert_array_equal(found[..., 0] if grey else found, np.rot90(picture, turns))


def here(moment: datetime) -> datetime:
    """A clock on the wall, as this computer's own."""
    return moment.astimezone()


@pytest.mark.parametrize(
    ("stamp", "offset", "when"),
    [
        ("2026:11:19 14:20:00", "+01:00", datetime(2026, 11, 19, 13, 20, tzinfo=UTC)),
        ("2026:11:19 14:20:00", "-09:30", datetime(2026, 11, 19, 23, 50, tzinfo=UTC)),
        ("2026:11:19 14:20:00", None, here(datetime(2026, 11, 19, 14, 20))),
        ("2026:11:19 14:20:00", "+99:00", here(datetime(2026, 11, 19, 14, 20))),
        ("2026:11:19 14:20:00", "+15:00", here(datetime(2026, 11, 19, 14, 20))),
        ("0001:01:01 00:00:00", None, None),
        ("0800:01:01 00:00:00", "+01:00", None),
        ("1989:12:31 23:59:59", None, None),
        ("9999:12:31 23:59:59", "-12:00", None),
        ("9999:12:31 23:59:59", None, None),
        ("0000:00:00 00:00:00", None, None),
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
    if taken is not None and offset == "+01:00":
        assert taken.utcoffset() == timedelta(hours=1)


@pytest.mark.parametrize(("month", "offset"), [(1, "+0100"), (7, "+0200")])
def test_time_without_an_offset_is_the_clock_on_the_wall_in_summer_and_winter(month, offset, monkeypatch):
    monkeypatch.setenv("TZ", "CET-1CEST,M3.5.0,M10.5.0/3")
    time.tzset()
    try:
        found = taken_at(f"2026:{month:02d}:15 12:00:00", None)
        assert f"{found:%H:%M %z}" == f"12:00 {offset}"
    finally:
        monkeypatch.undo()
        time.tzset()


# ---------------------------------------------------------------- brightness and colour


RAMP = np.tile(np.linspace(0, 65535, 256).astype(np.uint16), (100, 1))


def test_sixteen_bit_grey_keeps_its_greys(tmp_path):
    Image.fromarray(RAMP).save(tmp_path / "p.png")
    Image.fromarray(RAMP).save(tmp_path / "p.tif")
    for name in ("p.png", "p.tif"):
        rgb = load(tmp_path / name).rgb
        np.testing.assert_array_equal(rgb[0, :, 0], np.arange(256))
        assert (rgb == rgb[..., :1]).all()


@pytest.mark.parametrize(
    ("make", "words"),
    [
        (lambda: Image.fromarray(RAMP.astype(np.int32) * 60000), "32-bit whole numbers"),
        (lambda: Image.fromarray(RAMP.astype(np.float32) / 65535.0), "floating-point numbers"),
        (lambda: Image.fromarray(PICTURE).convert("1"), "without greys"),
        (lambda: Image.fromarray(PICTURE).convert("CMYK"), "printing inks without a colour profile"),
        (lambda: Image.fromarray(PICTURE).convert("LAB"), "LAB colours"),
    ],
)
def test_picture_whose_brightness_nobody_can_know_is_refused_with_a_reason(tmp_path, make, words):
    make().save(tmp_path / "p.tif")
    with pytest.raises(SightError, match=words):
        load(tmp_path / "p.tif")


@pytest.mark.parametrize("mode", ["RGBA", "LA", "P"])
def test_see_through_parts_are_white_and_said(tmp_path, mode):
    picture = np.full((120, 120, 4), (200, 30, 30, 255), np.uint8)
    picture[:60] = (200, 30, 30, 0)
    picture[60:70] = (200, 30, 30, 128)
    whole = Image.fromarray(picture)
    whole = whole.convert("LA") if mode == "LA" else whole.quantize(8) if mode == "P" else whole
    whole.save(tmp_path / "p.png")
    found = load(tmp_path / "p.png")
    assert (found.rgb[:50] == 255).all()
    assert "see-through" in found.remarks[0]
    if mode == "RGBA":
        np.testing.assert_allclose(found.rgb[65, 5], np.rint(0.502 * np.array([200, 30, 30]) + 0.498 * 255), atol=1)
    veil = Image.fromarray(np.full((120, 120, 4), (200, 30, 30, 200), np.uint8))
    veil.save(tmp_path / "v.png")
    assert load(tmp_path / "v.png").remarks, "a little see-through is see-through"
    np.testing.assert_allclose(load(tmp_path / "v.png").rgb[5, 5], np.rint((200 * np.array([200, 30, 30]) + 55 * 255) / 255), atol=1)
    opaque = Image.fromarray(PICTURE).convert("RGBA")
    opaque.save(tmp_path / "q.png")
    assert load(tmp_path / "q.png").remarks == ()
    np.testing.assert_array_equal(load(tmp_path / "q.png").rgb, PICTURE)


@pytest.mark.parametrize(("suffix", "kind", "near"), [(".png", "PNG", 2), (".jpg", "JPEG", 5), (".tif", "TIFF", 2), (".webp", "WEBP", 8)])
def test_wide_colours_of_a_phone_are_seen_as_they_are(tmp_path, suffix, kind, near):
    colours = np.array([[60, 60, 200], [200, 60, 60], [60, 200, 60], [220, 180, 40], [128, 128, 128], [240, 240, 240], [20, 60, 90], [180, 90, 160]])
    patches = np.repeat(np.repeat(colours.reshape(2, 4, 3), 64, axis=0), 64, axis=1).astype(np.uint8)
    Image.fromarray(patches).save(tmp_path / f"p{suffix}", kind, quality=98, icc_profile=icc.profile())
    found = load(tmp_path / f"p{suffix}").rgb[32::64, 32::64].reshape(-1, 3)
    wanted = icc.seen_in_srgb(colours)
    assert np.abs(wanted - colours).max() > 20, "the profile matters"
    np.testing.assert_allclose(found, wanted, atol=near)


def test_wide_colours_without_a_profile_are_told_by_the_file_itself():
    """HEIC names its primaries instead; grey stays grey, and the published matrix is the one that the primaries give."""
    wanted = np.linalg.inv(icc.to_xyz(icc.SRGB)) @ icc.to_xyz(icc.WIDE)
    np.testing.assert_allclose(P3_TO_SRGB, wanted, atol=2e-4)
    grey = np.repeat(np.arange(256, dtype=np.uint8)[:, None, None], 3, axis=2)
    np.testing.assert_allclose(_from_p3(grey), grey, atol=1)


@pytest.mark.parametrize("profile", [b"no profile at all", b"\0" * 200, icc.profile()[:150]])
def test_profile_that_cannot_be_used_is_said(tmp_path, profile):
    Image.fromarray(PICTURE).save(tmp_path / "p.png", icc_profile=profile)
    found = load(tmp_path / "p.png")
    np.testing.assert_array_equal(found.rgb, PICTURE)
    assert "colour profile cannot be used" in found.remarks[0]


@pytest.mark.parametrize(("suffix", "mode"), [(".png", "RGB"), (".png", "RGBA"), (".jpg", "RGB"), (".png", "I;16"), (".tif", "L")])
def test_very_large_photo_is_read_smaller_and_says_so(tmp_path, suffix, mode, monkeypatch):
    monkeypatch.setattr("dribbet.sight.load.READ_PIXELS", 320 * 240 - 1)  # half is one pixel too large
    deep = np.repeat(np.repeat(RAMP[:, ::2], 2, axis=1)[:96], 4, axis=0)
    picture = Image.fromarray(deep) if mode == "I;16" else Image.fromarray(np.asarray(Image.fromarray(PICTURE).resize((640, 480)))).convert(mode)
    if mode == "I;16":
        monkeypatch.setattr("dribbet.sight.load.READ_PIXELS", deep.size - 1)
    exif = Image.Exif()
    exif[274] = 6
    picture.save(tmp_path / f"p{suffix}", quality=95, exif=exif)
    found = load(tmp_path / f"p{suffix}")
    times = 2 if mode == "I;16" else 4
    assert found.shrink == times
    assert found.rgb.shape[:2] == (picture.size[0] // times, picture.size[1] // times), "turned upright too"
    assert "1/4" in found.remarks[-1] or "half" in found.remarks[-1]
    whole = np.asarray(picture if mode != "I;16" else Image.fromarray((deep // 257).astype(np.uint8)), np.float64)
    assert found.rgb.mean() == pytest.approx(whole[..., :3].mean() if whole.ndim == 3 else whole.mean(), abs=2.0)


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
        ("huge.png", huge_png(60_000, 60_000), "more than 160 million"),
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


def test_photo_needs_64_pixels_either_way(tmp_path):
    small = np.full((64, 90, 3), 120, np.uint8)
    Image.fromarray(small).save(tmp_path / "p.png")
    assert load(tmp_path / "p.png").rgb.shape == (64, 90, 3)
    Image.fromarray(small[:63]).save(tmp_path / "q.png")
    with pytest.raises(SightError, match="90 × 63 pixels"):
        load(tmp_path / "q.png")
