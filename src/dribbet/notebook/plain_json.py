"""JSON as the database and packages hold it: no figures beyond figures, no nesting without end, broken text told apart."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any, Final, NoReturn

DEEPEST: Final = 40


@dataclass(frozen=True, slots=True)
class Broken:
    """Text in a JSON column that is none; no record takes it."""

    text: str


def dumps(value: Any) -> str:
    """Text of a value; NaN and infinity are refused with a ValueError."""
    return json.dumps(value, ensure_ascii=False, separators=(",", ":"), allow_nan=False)


def _no_figure(text: str) -> NoReturn:
    raise ValueError(f"{text} is no figure")


def loads(text: str | bytes) -> Any:
    """Value of a text.

    Raises
    ------
    ValueError
        If it is no JSON, holds NaN or infinity, or is nested deeper than anything Dribbet writes.
    """
    try:
        value = json.loads(text, parse_constant=_no_figure)
    except RecursionError:
        raise ValueError("nested without end") from None
    _measured(value, 0)
    return value


def _measured(value: Any, depth: int) -> None:
    if depth > DEEPEST:
        raise ValueError(f"nested deeper than {DEEPEST}")
    if isinstance(value, dict):
        for inner in value.values():
            _measured(inner, depth + 1)
    elif isinstance(value, list) and any(isinstance(v, (list, dict)) for v in value):
        for inner in value:
            _measured(inner, depth + 1)


def loads_or_broken(text: str | bytes) -> Any:
    """Value of a text; `Broken` where it is none, so that one bad cell does not hide a table.

    Raises
    ------
    TypeError
        For a figure: SQLite keeps the text of a bare one as a number, which SQLAlchemy then takes as it is.
    """
    if not isinstance(text, (str, bytes)):
        raise TypeError
    try:
        return loads(text)
    except ValueError:
        return Broken(str(text))
