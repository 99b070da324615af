"""A part of a sentence that can be chosen or typed."""

from __future__ import annotations

from dataclasses import dataclass


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
