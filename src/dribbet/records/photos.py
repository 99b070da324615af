"""Photographs of panels and what was read from them."""

from __future__ import annotations

import re
from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING, Any, Final

from dribbet.records.errors import RecordError
from dribbet.records.order import Happened
from dribbet.records.require import require_between, require_text
from dribbet.records.results import check_result
from dribbet.records.signs import Seen  # noqa: TC001 - the notebook builds records by their hints

if TYPE_CHECKING:
    from datetime import datetime

PHOTO_SUFFIXES: Final = (".jpg", ".jpeg", ".png", ".tif", ".tiff", ".webp", ".heic", ".heif")
MOST_TAKES: Final = 99
MENDED: Final = ", mended by hand"
"""How the reader of a reading ends that a person has mended."""
_SHA256: Final = re.compile(r"[0-9a-f]{64}\Z")


class Stage(StrEnum):
    """When in a panel's life a photograph was taken."""

    WET = "wet"
    H12 = "12 h"
    H24 = "24 h"
    H48 = "48 h"
    DRY = "dry"
    D7 = "7 d"
    CURED = "cured"


class Lamp(StrEnum):
    """Where the light stood."""

    DIFFUSE = "diffuse"
    LEFT = "left"
    RIGHT = "right"
    EDGE = "edge"
    """A lit board beyond the panel, whose straight edge is mirrored across it."""


class Where(StrEnum):
    """What of a panel a figure is of."""

    WHOLE = "whole"
    MIDDLE = "middle"
    RIM = "rim"
    HERE = "here"
    """A place that a person points at."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Photo(Happened):
    """An original, kept under its SHA-256, and what it shows."""

    id: str
    panel_id: str | None
    sha256: str
    suffix: str
    name: str
    stage: Stage
    lamp: Lamp
    width_px: int
    height_px: int
    taken_at: datetime | None
    added_at: datetime
    corners_px: tuple[tuple[float, float], ...] = ()
    quality: tuple[Seen, ...] = ()
    left_out: bool = False
    take: int = 0
    """0: the one that stands for its panel at its stage. More: the panel taken up and photographed again, to see what photographing alone changes."""

    def __post_init__(self) -> None:
        if not _SHA256.match(self.sha256):
            raise RecordError(f"The photo {self.name[:60]} has no name of its own content. Bring it in again.")
        if self.suffix not in PHOTO_SUFFIXES:
            raise RecordError(f"The photo {self.name[:60]} ends in {self.suffix[:12]!r}. Use JPEG, PNG, TIFF, WebP or HEIC.")
        require_text(self.name, "The name of a photo", 400)
        for side in (self.width_px, self.height_px):
            require_between(side, 1, 1_000_000, f"A side of the photo {self.name[:60]}, in pixels,", "Bring it in again.")
        require_between(self.take, 0, MOST_TAKES, f"How often the panel of {self.name[:60]} was photographed again", "Bring it in anew.")
        if len(self.corners_px) not in (0, 4):
            raise RecordError(f"The photo {self.name[:60]} has {len(self.corners_px)} corners. A panel has four.")
        for x, y in self.corners_px:
            if not (abs(x) <= 1e7 and abs(y) <= 1e7):
                raise RecordError(f"A corner of the photo {self.name[:60]} lies nowhere. Drag it onto the panel.")

    @property
    def at(self) -> datetime:
        """When it came in."""
        return self.added_at


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading(Happened):
    """What a version of the reader found on one panel's photographs."""

    id: str
    panel_id: str
    photo_id: str
    stage: Stage
    reader: str
    at: datetime
    result: dict[str, Any]
    """As `dribbet measure` writes it, with outlines in mm."""

    def __post_init__(self) -> None:
        check_result(self.result)

    @property
    def mended(self) -> bool:
        """Whether a person took something out of it, or said what the reader had left open."""
        return self.reader.endswith(MENDED)
