"""What a closed series said: facts, never a sentence."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime  # noqa: TC003 - the notebook builds records by their hints
from enum import StrEnum

from dribbet.records.plans import Response  # noqa: TC001 - the notebook builds records by their hints
from dribbet.records.require import require_between


class Word(StrEnum):
    """The only three answers."""

    REAL = "real"
    CHANCE = "could be chance"
    TOO_FEW = "too few panels to say"


@dataclass(frozen=True, slots=True, kw_only=True)
class Concluded:
    """One response of a closed series: first level of a thing varied minus second, as it was judged then."""

    response: Response
    which: int
    """Place of the thing among what the series varies."""
    first: int
    second: int
    difference: float | None
    """Per dm2 for counts and lengths, shares from 0 to 1."""
    low: float | None
    high: float | None
    level: float
    word: Word

    def __post_init__(self) -> None:
        require_between(self.level, 0.5, 1.0, "The level of an interval", "Close the series again on Decide.")


@dataclass(frozen=True, slots=True, kw_only=True)
class Closing:
    """What a series said at one closing, kept when it was opened again."""

    until: datetime
    """When it was opened again."""
    concluded: tuple[Concluded, ...]
