"""Photographs of panels and what was read from them."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from datetime import datetime


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


@dataclass(frozen=True, slots=True, kw_only=True)
class Photo:
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
    quality: tuple[str, ...] = ()
    left_out: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """What a version of the reader found on one panel's photographs."""

    id: str
    panel_id: str
    photo_id: str
    stage: Stage
    reader: str
    at: datetime
    result: dict[str, Any]
    """As `dribbet measure` writes it, with outlines in mm."""
