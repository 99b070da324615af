"""Records read once and kept: what a page shows is asked for many times between two writes."""

from __future__ import annotations

import threading
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable


class Memory:
    """All records of each kind that was asked for, in the order they were written or happened.

    `read(kind)` fetches them from the database. Writers tell of every record they write; a write that fails is
    answered by `forget`, so that what is remembered is never more than what is stored.
    """

    def __init__(self, read: Callable[[type[Any]], list[Any]]) -> None:
        self._read = read
        self._records: dict[type[Any], dict[str, Any]] = {}
        self._groups: dict[tuple[type[Any], str], dict[Any, list[Any]]] = {}
        self._settings: dict[str, Any] | None = None
        self._guard = threading.RLock()
        self._news: list[Any] | None = []

    def all(self, kind: type[Any]) -> list[Any]:
        """Every record of a kind."""
        with self._guard:
            return list(self._of(kind).values())

    def get(self, kind: type[Any], id_: str) -> Any | None:
        """One record, or None."""
        with self._guard:
            return self._of(kind).get(id_)

    def where(self, kind: type[Any], name: str, values: Iterable[Any]) -> list[Any]:
        """Records whose field `name` is one of the values, value by value."""
        with self._guard:
            groups = self._groups.get((kind, name))
            if groups is None:
                groups = {}
                for record in self._of(kind).values():
                    groups.setdefault(getattr(record, name), []).append(record)
                self._groups[kind, name] = groups
            return [record for value in values for record in groups.get(value, ())]

    def written(self, record: Any) -> None:
        """Take in a record that was added or replaced."""
        kind = type(record)
        with self._guard:
            if self._news is not None:
                self._news.append(record)
            known = self._records.get(kind)
            if known is None:
                return
            known[record.id] = record
            for key in [k for k in self._groups if k[0] is kind]:
                del self._groups[key]

    def setting(self, key: str, read: Callable[[], dict[str, Any]]) -> Any | None:
        """One setting, or None; all are read once."""
        with self._guard:
            if self._settings is None:
                self._settings = read()
            return self._settings.get(key)

    def forget_settings(self) -> None:
        """Read settings anew when one is next asked for."""
        with self._guard:
            self._settings = None

    def forget_kinds(self, *kinds: type[Any]) -> None:
        """Read some kinds anew when they are next asked for."""
        with self._guard:
            self._news = None
            for kind in kinds:
                self._records.pop(kind, None)
            for key in [k for k in self._groups if k[0] in kinds]:
                del self._groups[key]

    def forget(self) -> None:
        """Read everything anew when it is next asked for."""
        with self._guard:
            self._news = None
            self._records.clear()
            self._groups.clear()
            self._settings = None

    def news(self) -> list[Any] | None:
        """Records written since this was last asked; None where anything may have changed."""
        with self._guard:
            told, self._news = self._news, []
            return told

    def _of(self, kind: type[Any]) -> dict[str, Any]:
        known = self._records.get(kind)
        if known is None:
            known = self._records[kind] = {record.id: record for record in self._read(kind)}
        return known
