"""A pre-test without panels: a set of colours, measured one after the other before anything is planned with them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from dribbet.records.errors import RecordError
from dribbet.records.materials import GaugingKind
from dribbet.records.order import Happened
from dribbet.records.require import require_text

if TYPE_CHECKING:
    from datetime import datetime

MOST_SURVEYED: Final = 24
SURVEYED: Final = (GaugingKind.DENSITY, GaugingKind.DRIP, GaugingKind.BODY)
"""What a pre-test measures of each colour, in this order."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Survey(Happened):
    """The colours that are measured together, and since when; the measurements are their containers' own gaugings."""

    id: str
    name: str
    materials: tuple[str, ...]
    """Keys of containers, in the order in which they are measured."""
    at: datetime
    finished: bool = False

    def __post_init__(self) -> None:
        require_text(self.name, "The name of a pre-test", 80)
        if not 2 <= len(self.materials) <= MOST_SURVEYED:
            raise RecordError(f"A pre-test compares 2 to {MOST_SURVEYED} colours, not {len(self.materials)}. Name colours of the shelf.")
        if len(set(self.materials)) < len(self.materials):
            raise RecordError("A colour is named twice in this pre-test. Name each once.")
