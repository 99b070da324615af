"""Reads photograph files: JPEG, PNG, TIFF, WebP, HEIC; upright, in sRGB, 8 bits a channel; refused in one sentence where they cannot be."""

from __future__ import annotations

import io
import struct
import warnings
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import TYPE_CHECKING, Any, Final

import numpy as np

from dribbet.records import PHOTO_SUFFIXES, Seen, Sign
from dribbet.sight.arrays import Rgb, SightError

if TYPE_CHECKING:
    from pathlib import Path

    from PIL import Image as Pillow

MM_PER_INCH: Final = 25.4
MOST_PIXELS: Final = 160_000_000
READ_PIXELS: Final = 64_000_000
"""Larger photographs are read at half or a quarter of their width: a panel that fills them still has 20 px and more to each mm."""
SUFFIXES: Final = PHOTO_SUFFIXES
EXIF_TAKEN: Final = 36867
EXIF_OFFSETS: Final = (36881, 36880)
YEARS: Final = (1990, 2100)
"""A camera's clock outside these years was never set."""
BAND_ROWS: Final = 256
SIXTEEN_BITS: Final = ("I;16", "I;16L", "I;16B", "I;16N")
P3_PRIMARIES: Final = 12  # ITU-T H.273: SMPTE EG 432-1 with D65, as phones use it without a profile in HEIC
P3_TO_SRGB: Final = np.array(
    [[1.2249401763, -0.2249401763, 0.0], [-0.0420569547, 1.0420569547, 0.0], [-0.0196375546, -0.0786360456, 1.0982736002]], np.float32
)
"""Linear Display P3 to linear sRGB, both D65: from the primaries of SMPTE EG 432-1 and IEC 61966-2-1."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Loaded:
    """A photograph as displayed."""

    rgb: Rgb
    taken_at: datetime | None
    format: str
    shrink: int = 1
    """The file has so many times as many pixels either way; coordinates in `rgb` times this are those of the file."""
    remarks: tuple[str, ...] = ()
    """What was done to it that a person should know."""
    signs: tuple[Seen, ...] = ()
    """The same as facts."""
    px_per_mm: float = 0.0
    """By the resolution that the file states, in pixels of `rgb`; 0 where it states none, or one that differs by direction."""


def load(path: Path) -> Loaded:
    """Read a photograph with its EXIF orientation and its colour profile applied.

    Raises
    ------
    SightError
        If the file is missing, empty, cut off, no picture, larger than 160 megapixels, or of a kind whose brightness nobody
        can know (32-bit or floating point, or printing inks without a profile).
    """
    from PIL import Image, UnidentifiedImageError

    if path.suffix.lower() in {".heic", ".heif"}:
        import pillow_heif

        pillow_heif.register_heif_opener()
    _require_file(path)
    Image.MAX_IMAGE_PIXELS = None  # the size is checked below, before any pixel is decoded
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            # Opened as a stream: Pillow 13 maps a plain TIFF by its path and scrambles it where its orientation is on its side.
            with path.open("rb") as file, Image.open(file) as picture:
                loaded = _read(picture, path.name)
    except UnidentifiedImageError:
        raise SightError(f"{path.name} is not a photo that can be read. Use JPEG, PNG, TIFF, WebP or HEIC.") from None
    except PermissionError:
        raise SightError(f"{path.name} may not be read. Check its permissions.") from None
    except MemoryError:
        raise SightError(f"There is not enough memory for {path.name}. Close other programs, or save a smaller copy.") from None
    except SightError:
        raise
    except Exception:  # decoders raise whatever a damaged file leads them to
        raise SightError(f"{path.name} is damaged or cut off. Copy it from the camera again.") from None
    if min(loaded.rgb.shape[:2]) < 64:
        raise SightError(f"{path.name} is only {loaded.rgb.shape[1]} × {loaded.rgb.shape[0]} pixels. Take a larger photo.")
    return loaded


def _require_file(path: Path) -> None:
    try:
        if not path.exists():
            raise SightError(f"There is no photo at {path}. Check the name.")
        if path.is_dir():
            raise SightError(f"{path} is a folder. Name one photo in it.")
        if not path.is_file():
            raise SightError(f"{path} is no file. Name a photo.")
        if path.stat().st_size == 0:
            raise SightError(f"{path.name} is empty. Copy it from the camera again.")
    except OSError as error:
        raise SightError(f"{path.name[:80]} cannot be reached: {error.strerror}. Check its name and its disk.") from None


def _read(picture: Pillow.Image, name: str) -> Loaded:
    from PIL import ImageOps

    width, height = picture.size
    if width * height > MOST_PIXELS:
        raise SightError(f"{name} has {width} × {height} pixels, more than {MOST_PIXELS // 1_000_000} million. Save a smaller copy.")
    kind, profile, nclx = picture.format or "", picture.info.get("icc_profile"), picture.info.get("nclx_profile")
    inner = picture.getexif().get_ifd(0x8769)
    taken = taken_at(inner.get(EXIF_TAKEN), next((inner[t] for t in EXIF_OFFSETS if t in inner), None))
    resolution = _px_per_mm(picture.info.get("dpi"))
    shrink = 1
    while (width // shrink) * (height // shrink) > READ_PIXELS:
        shrink *= 2  # a power of two: what a JPEG can be decoded at
    if shrink > 1:
        picture.draft("RGB" if picture.mode != "L" else "L", (width // shrink, height // shrink))  # JPEG: decoded smaller at once
        left = shrink // max(1, round(width / picture.size[0]))
        if left > 1:
            picture = _reduced(picture, left)
    upright = ImageOps.exif_transpose(picture)
    eight, see_through = _eight_bits(upright, name, bool(profile))
    rgb, remark = _in_srgb(eight, profile, nclx, name)
    remarks, signs = ([remark], [Seen(sign=Sign.NO_PROFILE)]) if remark else ([], [])
    if see_through:
        signs.append(Seen(sign=Sign.SEE_THROUGH))
        remarks.append("Parts of the picture are see-through; they are taken as white.")
    if shrink > 1:
        signs.append(Seen(sign=Sign.REDUCED, figures=(float(shrink),)))
        remarks.append(f"The picture is very large and was read at {'half' if shrink == 2 else f'1/{shrink}'} of its width.")
    return Loaded(rgb=rgb, taken_at=taken, format=kind, shrink=shrink, remarks=tuple(remarks), signs=tuple(signs), px_per_mm=resolution / shrink)


def _px_per_mm(dpi: object) -> float:
    """Pixels per millimetre of a file's dots per inch; 0 where they make no sense."""
    try:
        across, down = (float(v) for v in dpi)  # type: ignore[attr-defined]
    except (TypeError, ValueError, ZeroDivisionError):
        return 0.0
    return across / MM_PER_INCH if 1.0 < across < 1e5 and abs(across - down) < 0.5 else 0.0


def _reduced(picture: Pillow.Image, times: int) -> Pillow.Image:
    """Mean of each block of pixels, with the orientation kept; worked in bands, so that the whole never stands there twice."""
    from PIL import Image

    picture.load()
    deep = picture.mode in SIXTEEN_BITS
    mode = "I;16" if deep else picture.mode if picture.mode in ("L", "RGB", "RGBA", "LA", "CMYK") else "RGB"
    wide, tall = picture.size[0] // times, picture.size[1] // times
    small = Image.new(mode, (wide, tall))
    for top in range(0, tall, BAND_ROWS):
        rows = min(BAND_ROWS, tall - top)
        band = picture.crop((0, top * times, wide * times, (top + rows) * times))
        if deep:
            blocks = np.asarray(band).reshape(rows, times, wide, times).mean(axis=(1, 3))
            small.paste(Image.fromarray(blocks.astype(np.uint16)), (0, top))
        else:
            small.paste((band if band.mode == mode else band.convert(mode)).reduce(times), (0, top))
    if picture.format != "TIFF":  # which Pillow turns upright as it loads
        small.info["exif"] = picture.getexif().tobytes()
    picture.close()  # lets go of the large one
    return small


def _eight_bits(picture: Pillow.Image, name: str, has_profile: bool) -> tuple[Pillow.Image, bool]:
    """Picture with 8 bits in L, RGB or CMYK, and whether parts of it were see-through and are white now."""
    from PIL import Image

    mode = picture.mode
    if mode in SIXTEEN_BITS or (mode == "I" and picture.format == "PNG"):
        deep = np.asarray(picture).astype(np.uint32)
        return Image.fromarray(((deep * 255 + 32767) // 65535).astype(np.uint8)), False
    if mode in ("I", "F"):
        kind = "32-bit whole" if mode == "I" else "floating-point"
        raise SightError(f"{name} holds {kind} numbers, and nobody can know which of them is white. Save it with 8 or 16 bits.")
    if mode == "1":
        raise SightError(f"{name} is only black and white, without greys. Save it as a photo, in colour or grey.")
    if mode == "CMYK" and not has_profile:
        raise SightError(f"{name} is in printing inks without a colour profile. Save it as RGB.")
    if mode in ("LAB", "YCbCr", "HSV") and mode != "YCbCr":
        raise SightError(f"{name} is in {mode} colours. Save it as RGB.")
    if "A" in picture.getbands() or "transparency" in picture.info or mode in ("PA", "La", "RGBa"):
        whole = picture.convert("RGBA")
        (low, _) = whole.getchannel("A").getextrema()
        if low == 255:
            return whole.convert("RGB"), False
        white = Image.new("RGBA", whole.size, (255, 255, 255, 255))
        white.alpha_composite(whole)
        return white.convert("RGB"), True
    return (picture if mode in ("L", "RGB", "CMYK") else picture.convert("RGB")), False


def _in_srgb(picture: Pillow.Image, profile: Any, nclx: Any, name: str) -> tuple[Rgb, str]:
    """Pixels in sRGB, and a remark where the profile could not be used."""
    if profile:
        from PIL import ImageCms

        try:
            source = ImageCms.ImageCmsProfile(io.BytesIO(profile))
            if _space(profile) == ("GRAY" if picture.mode == "L" else picture.mode):
                target = ImageCms.createProfile("sRGB")
                picture = picture if picture.mode == "L" else _converted(picture, source, target)
                return _pixels(picture), ""
        except (ImageCms.PyCMSError, OSError, ValueError, TypeError, struct.error):
            pass
        if picture.mode == "CMYK":
            raise SightError(f"{name} is in printing inks, and its colour profile cannot be used. Save it as RGB.")
        return _pixels(picture), "Its colour profile cannot be used, so its colours are taken as sRGB."
    if isinstance(nclx, dict) and nclx.get("color_primaries") == P3_PRIMARIES and picture.mode == "RGB":
        return _from_p3(_pixels(picture)), ""
    return _pixels(picture), ""


def _space(profile: bytes) -> str:
    """Colours that a profile speaks of: bytes 16 to 19 of its head (ICC.1:2010, 7.2)."""
    return profile[16:20].decode("ascii", "replace").strip()


def _converted(picture: Pillow.Image, source: Any, target: Any) -> Pillow.Image:
    from PIL import ImageCms

    flags = ImageCms.Flags.BLACKPOINTCOMPENSATION
    converted = ImageCms.profileToProfile(
        picture, source, target, renderingIntent=ImageCms.Intent.RELATIVE_COLORIMETRIC, outputMode="RGB", flags=flags
    )
    if converted is None:
        raise ValueError("no picture")
    return converted


def _pixels(picture: Pillow.Image) -> Rgb:
    return np.ascontiguousarray(np.asarray(picture if picture.mode == "RGB" else picture.convert("RGB"), dtype=np.uint8))


def _from_p3(rgb: Rgb) -> Rgb:
    """Display P3 to sRGB, a band of rows at a time; both have the same curve."""
    levels = np.arange(256, dtype=np.float32) / 255.0
    linear = np.where(levels <= 0.04045, levels / 12.92, ((levels + 0.055) / 1.055) ** 2.4).astype(np.float32)
    out = np.empty_like(rgb)
    for top in range(0, rgb.shape[0], 256):
        there = np.clip(linear[rgb[top : top + 256]] @ P3_TO_SRGB.T, 0.0, 1.0)
        curved = np.where(there <= 0.0031308, there * 12.92, 1.055 * there ** (1.0 / 2.4) - 0.055)
        out[top : top + 256] = np.rint(curved * 255.0).astype(np.uint8)
    return out


def taken_at(stamp: object, offset: object) -> datetime | None:
    """Moment of a photograph from what its EXIF says; None where that is no time, or none that a camera can have meant.

    Without an offset the stamp is the clock on the wall where this computer stands, summer time included.
    """
    try:
        when = datetime.strptime(str(stamp).strip("\x00 "), "%Y:%m:%d %H:%M:%S")
    except ValueError:
        return None
    if not YEARS[0] <= when.year < YEARS[1]:
        return None
    try:
        zone = datetime.strptime(str(offset).strip("\x00 "), "%z").tzinfo
        if zone is not None and abs(zone.utcoffset(None) or timedelta()) <= timedelta(hours=14):
            return when.replace(tzinfo=zone)
    except ValueError:
        pass
    return when.astimezone()
