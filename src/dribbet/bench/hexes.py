"""Colour of what is in a cup, by the shelf."""

from __future__ import annotations

from typing import TYPE_CHECKING

from dribbet.records import NO_HEX

if TYPE_CHECKING:
    from collections.abc import Mapping

    from dribbet.records import Material


def hex_of(name: str, shelf: Mapping[str, Material]) -> str:
    """Colour of a container; that of its paint where the cup of a base or an activator shares its name with a colour."""
    material = shelf.get(name) or shelf.get(name.rpartition(",")[0])
    return material.hex if material is not None else NO_HEX
