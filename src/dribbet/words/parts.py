"""Pieces of what a page says: a part of a sentence that can be chosen or typed, and a remark beside it."""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum


@dataclass(frozen=True, slots=True)
class Part:
    """A part of the sentence that can be chosen: its words, and what it may become."""

    id: str
    text: str
    choices: tuple[tuple[str, str], ...] = ()
    """(value, words); empty where it is typed."""
    typed: str = ""
    hint: str = ""
    """What to type, over the field."""
    trouble: str = ""
    """Why what was typed last could not be taken; `typed` then still holds it."""


@dataclass(frozen=True, slots=True)
class CardLine:
    """One line of a card or of the rules: what it is, what it says, and whether a press chooses the next value or asks for one."""

    key: str
    head: str
    text: str
    ask: str = ""
    """What to type; empty where a press goes on to the next value."""


class Weight(Enum):
    """How much a sentence weighs."""

    PLAIN = "plain"
    CAUTION = "caution"
    STOP = "stop"


@dataclass(frozen=True, slots=True)
class Remark:
    """A head in bold, a body, and how much it weighs."""

    head: str
    body: str
    weight: Weight = Weight.PLAIN
