"""Tables of runs, one row a panel, as spreadsheets write them: for `effects` and `judge`."""

from __future__ import annotations

import contextlib
import csv
import io
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Final

from dribbet.records import DribbetError

if TYPE_CHECKING:
    from pathlib import Path

    from dribbet.lab.verdict.model import Test

SCHEMA: Final = "dribbet-judge/1"
MOST_CELL = 10_000
LEAST_FIGURE, MOST_FIGURE = 1e-12, 1e12  # of any response, in any unit
MOST_RUNS_BYTES = 50_000_000
MOST_FACTORS: Final = 8


@dataclass(frozen=True, slots=True)
class Table:
    """Rows of a table as they stand, and whether a comma is its decimal point."""

    name: str
    rows: list[dict[str, str]]
    decimal_comma: bool

    @property
    def head(self) -> list[str]:
        """Names of the columns."""
        return [h for h in self.rows[0] if h]

    def need(self, options: str, *names: str) -> None:
        """Refuse a column that is not there, or named twice."""
        doubled = next((n for i, n in enumerate(names) if n in names[:i]), None)
        if doubled is not None:
            raise DribbetError(f"{doubled} is named twice. Name each column once in {options}.")
        for name in names:
            if name not in self.head:
                raise DribbetError(f"{self.name} has no column {name}; it has {', '.join(self.head)}. Check {options}.")

    def cell(self, row: int, column: str) -> str:
        """One cell, without spaces round it."""
        return (self.rows[row][column] or "").strip()

    def number(self, row: int, column: str) -> float | None:
        """One cell as a number; None where it is empty."""
        cell = self.cell(row, column)
        if not cell:
            return None
        try:
            value = float(cell.replace(",", ".") if self.decimal_comma else cell)
            if not (value == 0.0 or LEAST_FIGURE <= abs(value) <= MOST_FIGURE):  # NaN and infinity too
                raise ValueError(cell)
        except ValueError:
            raise DribbetError(f"{self.name}, line {row + 2}: {column} is {cell!r}, not a number. Correct it or leave it empty.") from None
        return value


def read_table(path: Path) -> Table:
    """Read a table.

    Raises
    ------
    DribbetError
        If the file cannot be read as one.
    """
    try:
        if path.stat().st_size > MOST_RUNS_BYTES:
            raise DribbetError(f"{path.name} is larger than any table of runs. Take the columns that are judged.")
        data = path.read_bytes()
    except OSError:
        raise DribbetError(f"There is no file {path} that can be read. Check the name.") from None
    text = None
    for encoding in ("utf-8-sig", "utf-16") if data[:2] in (b"\xff\xfe", b"\xfe\xff") else ("utf-8-sig", "cp1252"):
        with contextlib.suppress(UnicodeDecodeError):
            text = data.decode(encoding)
            break
    if text is None or "\x00" in text:
        raise DribbetError(f"{path.name} is in an encoding that cannot be read. Save it as CSV UTF-8.")
    try:
        dialect: Any = csv.Sniffer().sniff(text[:4096], delimiters=",;\t")
    except csv.Error:
        dialect = csv.excel
    rows = _rows(text, dialect, path.name)
    return Table(path.name, rows, dialect.delimiter == ";")


def read_runs(path: Path, response: str, factors: list[str]) -> tuple[list[float], dict[str, list[str]]]:
    """Columns of a runs table; rows whose response is empty are left out.

    Raises
    ------
    DribbetError
        If the file cannot be read, a column is missing, or a response is a word.
    """
    table = read_table(path)
    table.need("--response and --factors", response, *factors)
    values: list[float] = []
    columns: dict[str, list[str]] = {f: [] for f in factors}
    for row in range(len(table.rows)):
        value = table.number(row, response)
        if value is None:
            continue
        values.append(value)
        for f in factors:
            columns[f].append(table.cell(row, f))
    return values, columns


def _rows(text: str, dialect: Any, name: str) -> list[dict[str, str]]:
    """Rows of a runs table; a quote that is never closed, a cell like a book, or a column named twice is said."""
    csv.field_size_limit(MOST_CELL)
    try:
        lines = list(csv.reader(io.StringIO(text, newline=""), dialect=dialect, strict=True))
    except csv.Error as error:
        said = str(error)
        if "field larger" in said:
            raise DribbetError(f"{name} has a cell of more than {MOST_CELL} signs. A run is a row of short figures and words.") from None
        if "unexpected end of data" in said:
            raise DribbetError(f"{name} has a quotation mark that is never closed. Close it, or take it away.") from None
        raise DribbetError(f"{name} is no table that can be read ({said}). Save it as CSV UTF-8.") from None
    lines = [line for line in lines if any(cell.strip() for cell in line)]
    if len(lines) < 2:
        raise DribbetError(f"{name} has no rows below its header. Add the runs.")
    head, *rows = lines
    doubled = next((h for i, h in enumerate(head) if h and h in head[:i]), None)
    if doubled is not None:
        raise DribbetError(f"{name} has two columns named {doubled}. Give each its own name.")
    return [dict(zip(head, [*row, *[""] * (len(head) - len(row))], strict=False)) for row in rows]


# ---------------------------------------------------------------- judge


@dataclass(frozen=True, kw_only=True)
class RunColumns:
    """Which column of a table is what."""

    responses: tuple[tuple[str, str], ...]
    """(column, kind)."""
    factors: tuple[str, ...]
    area: str | None = None
    block: str | None = None
    sheet: str | None = None
    covariates: tuple[str, ...] = ()
    series: str | None = None


def judged(path: Path, asked: RunColumns) -> dict[str, Any]:
    """Judge every test of a table, as contracts.md writes it.

    Raises
    ------
    DribbetError
        If a column is missing, a kind is none, or a cell is not what its column wants.
    """
    from dribbet.lab.verdict.model import answers, unlike
    from dribbet.words.verdict import METHOD, moved, same_in_all

    table = read_table(path)
    options = "--responses, --factors, --area, --block, --sheet, --covariates and --series"
    single = [c for c in (asked.area, asked.block, asked.sheet, asked.series) if c is not None]
    table.need(options, *(name for name, _ in asked.responses), *asked.factors, *asked.covariates, *single)
    if len(asked.factors) > MOST_FACTORS:
        raise DribbetError(f"{len(asked.factors)} factors are more than one test can tell apart. Name at most {MOST_FACTORS}.")
    groups: dict[str, list[int]] = {}
    for row in range(len(table.rows)):
        groups.setdefault(table.cell(row, asked.series) if asked.series else "", []).append(row)
    made = []
    for name, rows in groups.items():
        test = _test(table, asked, rows)
        made.append(
            {
                "series": name,
                "n": len(rows),
                "answers": [
                    {
                        "response": a.response, "what": a.what, "difference": a.difference, "low": a.low, "high": a.high, "level": round(a.level, 6),
                        "p": a.p, "word": str(a.word), "method": METHOD[a.way],
                    }
                    for a in answers(test)
                ],
                "unlike": [*(same_in_all(f) for f, c in test.factors.items() if len(set(c)) < 2), *(moved(u) for u in unlike(test))],
            }
        )  # fmt: skip
    return {"schema": SCHEMA, "series": made}


def _test(table: Table, asked: RunColumns, rows: list[int]) -> Test:
    from dribbet.lab.verdict.laws import Kind
    from dribbet.lab.verdict.model import Asked, Test

    def words(column: str) -> tuple[str, ...]:
        return tuple(table.cell(r, column) for r in rows)

    def numbers(column: str) -> tuple[float, ...]:
        found = []
        for r in rows:
            value = table.number(r, column)
            if value is None:
                raise DribbetError(f"{table.name}, line {r + 2}: {column} is empty. Fill it, or leave that panel out.")
            found.append(value)
        return tuple(found)

    responses = []
    for name, kind in asked.responses:
        if kind not in {k.value for k in Kind}:
            raise DribbetError(f"{kind or 'nothing'!r} is no kind of response for {name}. Say count, length, share, yesno, amount or time.")
        values = tuple(table.number(r, name) for r in rows)
        for r, value in zip(rows, values, strict=True):
            wrong = _wrong(Kind(kind), value)
            if wrong:
                raise DribbetError(f"{table.name}, line {r + 2}: {name} is {table.cell(r, name)}, but a {kind} {wrong}.")
        responses.append(Asked(name=name, kind=Kind(kind), values=values))
    area = numbers(asked.area) if asked.area else None
    if area is not None and min(area) <= 0.0:
        raise DribbetError(f"{table.name}: an area is nought or less. Write the measured face of each panel in dm².")
    return Test(
        factors={f: words(f) for f in asked.factors}, responses=tuple(responses), area_dm2=area,
        block=words(asked.block) if asked.block else None, sheet=words(asked.sheet) if asked.sheet else None,
        covariates={c: numbers(c) for c in asked.covariates},
    )  # fmt: skip


def _wrong(kind: Any, value: float | None) -> str:
    """Why a value cannot be one of its kind; empty where it can."""
    if value is None:
        return ""
    if kind == "share" and not 0.0 <= value <= 1.0:
        return "lies from 0 to 1"
    if kind == "yesno" and value not in (0.0, 1.0):
        return "is 0 or 1"
    if kind == "count" and (value < 0.0 or value != int(value)):
        return "is a whole number from 0 on"
    if kind in ("length", "time") and value < 0.0:
        return "is not below 0"
    return ""
