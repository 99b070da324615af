"""How a sentence begins, for every room that says one."""

from __future__ import annotations


def first_up(words: str) -> str:
    """The words with a capital at their head; names and units inside keep theirs (`str.capitalize` would lower them)."""
    return words[:1].upper() + words[1:]
