"""A running count and sum of every table, kept inside each write: rows that are lost, added or altered from outside show.

The sum adds the hashes of the rows as SQLite holds them, so that order does not matter and one write changes one number.
"""

from __future__ import annotations

import hashlib
import secrets
from typing import TYPE_CHECKING, Any, Final

from sqlalchemy import JSON, Boolean, Float, select

from dribbet.notebook import schema
from dribbet.notebook.plain_json import dumps
from dribbet.notebook.schema import Instant, metadata

if TYPE_CHECKING:
    import sqlite3
    from collections.abc import Iterable, Sequence

    from sqlalchemy import Column, Connection, Table

WRITES: Final = ""
"""Name of the row that counts writes (`rows`) and gives the last running number (`sum`)."""
IDENTITY: Final = "notebook"
"""Name of the row whose `sum` tells this notebook from every other."""
_ROUND: Final = 2**63
TALLIED: Final = tuple(t for t in metadata.sorted_tables if t is not schema.tally)


def stored(column: Column[Any], value: Any) -> object:
    """Value as SQLite holds it once it was written through the schema."""
    if isinstance(column.type, JSON):
        if isinstance(value, (int, float)) and not isinstance(value, bool):  # text that is one figure becomes a number
            return int(value) if float(value).is_integer() and abs(value) < 2**53 else float(value)
        return dumps(value)
    if value is None:
        return None
    if isinstance(column.type, Instant):
        return column.type.process_bind_param(value, None)  # type: ignore[arg-type]
    if isinstance(column.type, Boolean):
        return int(value)
    return float(value) if isinstance(column.type, Float) else value


def row_hash(values: Iterable[object]) -> int:
    """Hash of one row from what SQLite holds in its columns, in the order of the schema."""
    text = "\x1f".join("\\N" if v is None else repr(v) if isinstance(v, float) else str(v) for v in values)
    return int.from_bytes(hashlib.blake2b(text.encode("utf-8", "surrogatepass"), digest_size=8).digest(), "big") % _ROUND


def row_select(table: Table) -> str:
    """SQL that reads a table's rows as they are held, in the order of the schema's columns."""
    return f"SELECT {', '.join(quoted(c.name) for c in table.columns)} FROM {quoted(table.name)}"


def quoted(name: str) -> str:
    """Name as SQL takes it; `change` and `rows` are words of its own."""
    return f'"{name}"'


class TableTally:
    """Counts and sums of all tables, as they will be when the write in hand is done."""

    def __init__(self) -> None:
        self.rows: dict[str, int] = {}
        self.sums: dict[str, int] = {}
        self.writes = 0
        self.number = 0
        self.identity = ""
        self._touched: set[str] = set()

    def load(self, connection: Connection) -> None:
        """Read what the database says."""
        found = {row["name"]: row for row in connection.execute(select(schema.tally)).mappings()}
        self.rows = {t.name: int(found[t.name]["rows"]) if t.name in found else 0 for t in TALLIED}
        self.sums = {t.name: int(found[t.name]["sum"]) if t.name in found else 0 for t in TALLIED}
        own = found.get(WRITES)
        self.writes, self.number = (int(own["rows"]), int(own["sum"])) if own is not None else (0, 0)
        self.identity = str(found[IDENTITY]["sum"]) if IDENTITY in found else ""
        self._touched = set()

    def put_in(self, table: Table, values: Sequence[object]) -> None:
        """Count a row that is written."""
        self._move(table.name, 1, row_hash(values))

    def take_out(self, table: Table, values: Sequence[object]) -> None:
        """Count a row that goes, or that another takes the place of."""
        self._move(table.name, -1, -row_hash(values))

    def _move(self, name: str, rows: int, by: int) -> None:
        self.rows[name] = self.rows.get(name, 0) + rows
        self.sums[name] = (self.sums.get(name, 0) + by) % _ROUND
        self._touched.add(name)

    def next_number(self) -> int:
        """Place in the order of all that happens."""
        self.number += 1
        return self.number

    def save(self, connection: Connection) -> None:
        """Write what changed, and count the write."""
        self.writes += 1
        for name in sorted(self._touched):
            _put(connection, name, self.rows[name], self.sums[name])
        _put(connection, WRITES, self.writes, self.number)
        self._touched = set()

    def recount(self, connection: Connection) -> None:
        """Count everything that is there, as after a migration."""
        raw = connection.connection.driver_connection
        assert raw is not None
        for table in TALLIED:
            rows, total = counted(raw, table)
            self.rows[table.name], self.sums[table.name] = rows, total
            self._touched.add(table.name)
        numbered = [t for t in TALLIED if "number" in t.c and t is not schema.change]
        if raw.execute('SELECT 1 FROM tally WHERE "name" = ?', (IDENTITY,)).fetchone() is None:
            _put(connection, IDENTITY, 0, secrets.randbelow(_ROUND))
        self.number = max(raw.execute(f"SELECT COALESCE(MAX(number), 0) FROM {quoted(t.name)}").fetchone()[0] for t in numbered)
        self.save(connection)


def _put(connection: Connection, name: str, rows: int, total: int) -> None:
    connection.exec_driver_sql('INSERT OR REPLACE INTO tally ("name", "rows", "sum") VALUES (?, ?, ?)', (name, rows, str(total)))


def counted(connection: sqlite3.Connection, table: Table) -> tuple[int, int]:
    """Rows of a table, and the sum of their hashes, as they are held now."""
    rows = total = 0
    for values in connection.execute(row_select(table)):
        rows += 1
        total = (total + row_hash(values)) % _ROUND
    return rows, total
