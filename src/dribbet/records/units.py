"""Which systems of units a person reads in; stored quantities are SI whatever this says."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

SYSTEMS: Final = {"mass": ("g", "oz"), "volume": ("mL", "fl oz"), "length": ("mm", "in"), "temperature": ("°C", "°F")}


@dataclass(frozen=True, slots=True)
class UnitChoice:
    """One of the two systems for each quantity."""

    mass: str = "g"
    volume: str = "mL"
    length: str = "mm"
    temperature: str = "°C"

    @classmethod
    def of(cls, stored: object) -> UnitChoice:
        """Choice as it was stored; what is none of the two systems is the usual one."""
        told = stored if isinstance(stored, dict) else {}
        return cls(**{name: told[name] for name, known in SYSTEMS.items() if told.get(name) in known})
