"""Errors that a person may see as they stand, and the way long work is watched and stopped."""

from __future__ import annotations

from typing import Protocol


class DribbetError(Exception):
    """Something the person can act on: the text says what is wrong and what to do."""


class RecordError(DribbetError):
    """A value that cannot be true."""


class Cancelled(Exception):
    """Raised by a `Report` when the work should end."""


class Report(Protocol):
    """Called by long work between its steps; raises `Cancelled` to end it."""

    def __call__(self, done: int, total: int, /) -> None:
        """Say that `done` of `total` steps are behind us."""


def silent(done: int, total: int) -> None:
    """Report to nobody."""
