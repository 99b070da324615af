"""Records to rows and back, by their own type hints."""

from __future__ import annotations

import dataclasses
import types
import typing
from datetime import datetime
from enum import Enum
from functools import cache
from typing import Any, Final, TypeVar, Union, get_args, get_origin

from dribbet import records
from dribbet.notebook import schema

if typing.TYPE_CHECKING:
    from collections.abc import Mapping

    from sqlalchemy import Table

R = TypeVar("R")

TABLES: dict[type[Any], Table] = {
    records.Material: schema.material,
    records.Goal: schema.goal,
    records.Series: schema.series,
    records.Panel: schema.panel,
    records.Mix: schema.mix,
    records.Weighing: schema.weighing,
    records.Check: schema.check,
    records.Gauging: schema.gauging,
    records.Survey: schema.survey,
    records.MixMark: schema.mix_mark,
    records.Bottle: schema.bottle,
    records.BottleWeighing: schema.bottle_weighing,
    records.StepMark: schema.step_mark,
    records.Still: schema.still,
    records.PanelWeighing: schema.panel_weighing,
    records.Mishap: schema.mishap,
    records.Look: schema.look,
    records.Climate: schema.climate,
    records.Levelled: schema.levelled,
    records.Treated: schema.treated,
    records.Pick: schema.pick,
    records.Score: schema.score,
    records.Way: schema.way,
    records.Photo: schema.photo,
    records.Reading: schema.reading,
}


@cache
def _hints(kind: type[Any]) -> dict[str, Any]:
    module = vars(__import__(kind.__module__, fromlist=["_"]))
    return typing.get_type_hints(kind, {**module, "datetime": datetime, "Any": Any}, vars(records))


def plain(value: Any) -> Any:
    """Value as JSON can hold it; moments inside JSON columns become ISO text."""
    if isinstance(value, Enum):
        return value.value
    if isinstance(value, datetime):
        return value.isoformat()
    if dataclasses.is_dataclass(value) and not isinstance(value, type):
        return {f.name: plain(getattr(value, f.name)) for f in dataclasses.fields(value)}
    if isinstance(value, (list, tuple)):
        return [plain(v) for v in value]
    return value


class Unreadable(Exception):
    """A stored value that no record can hold; says which, for `verify` and `import` to put into a sentence."""


def built(hint: Any, value: Any) -> Any:
    """Value of a type hint from what JSON or a row held.

    Raises
    ------
    Unreadable
        If it is of another kind, infinite, or a word that the enumeration does not have.
    """
    origin = get_origin(hint)
    if origin in (Union, types.UnionType):
        kinds = [a for a in get_args(hint) if a is not type(None)]
        return None if value is None else built(kinds[0], value)
    if origin is tuple:
        if not isinstance(value, (list, tuple)):
            raise Unreadable(f"{_said(value)} is no list")
        args = get_args(hint)
        if len(args) == 2 and args[1] is Ellipsis:
            return tuple(built(args[0], v) for v in value)
        if len(value) != len(args):
            raise Unreadable(f"a list of {len(value)} stands where {len(args)} belong")
        return tuple(built(a, v) for a, v in zip(args, value, strict=True))
    if origin is dict:
        if not isinstance(value, dict):
            raise Unreadable(f"{_said(value)} is no table")
        return value
    return _built_plain(hint, value) if isinstance(hint, type) else value


def _built_plain(hint: type[Any], value: Any) -> Any:
    if issubclass(hint, Enum):
        try:
            return hint(value)
        except ValueError:
            raise Unreadable(f"{_said(value)} is none of {', '.join(str(m.value) or 'nothing' for m in list(hint)[:8])}") from None
    if dataclasses.is_dataclass(hint):
        if not isinstance(value, dict):
            raise Unreadable(f"{_said(value)} is no table")
        known = _hints(hint)
        try:
            return hint(**{k: built(known[k], v) for k, v in value.items() if k in known})
        except TypeError:
            raise Unreadable(f"a {hint.__name__.lower()} lacks a part") from None
    if issubclass(hint, datetime):
        return _moment(value)
    fits = {float: (int, float), int: (int,), bool: (bool,), str: (str,)}.get(hint)
    if fits is None:
        return value
    if not isinstance(value, fits) or (hint is not bool and isinstance(value, bool)):
        raise Unreadable(f"{_said(value)} is no {NAMED[hint]}")
    if isinstance(value, str) and not _is_text(value):
        raise Unreadable("text in signs that are none")
    if isinstance(value, (float, int)) and not abs(value) < MOST:
        raise Unreadable(f"{_said(value)} is beyond any figure")
    return value


NAMED: Final = {float: "figure", int: "whole number", bool: "yes or no", str: "text"}
MOST: Final = 1e15


def _is_text(value: str) -> bool:
    try:
        value.encode()
    except UnicodeEncodeError:  # bytes that are no UTF-8, read as they are
        return False
    return True


def _said(value: Any) -> str:
    text = ascii(value)
    return text if len(text) <= 40 else text[:37] + "..."


def _moment(value: Any) -> datetime:
    try:
        moment = value if isinstance(value, datetime) else datetime.fromisoformat(value)
    except (TypeError, ValueError):
        raise Unreadable(f"{_said(value)} is no moment") from None
    if moment.tzinfo is None or not 1900 <= moment.year <= 2200:
        raise Unreadable(f"{_said(value)} is no moment that can be")
    return moment


def row_of(record: Any) -> dict[str, Any]:
    """Column values of a record; moments that are columns of their own stay moments."""
    return {f.name: (value if isinstance(value := getattr(record, f.name), datetime) else plain(value)) for f in dataclasses.fields(record)}


def record_of(kind: type[R], row: Mapping[str, Any]) -> R:
    """Record from a row.

    Raises
    ------
    Unreadable
        If a column holds what its field cannot; says which.
    RecordError
        If the values cannot be true together.
    """
    values = {}
    for name, hint in _hints(typing.cast("typing.Any", kind)).items():
        try:
            values[name] = built(hint, row[name])
        except Unreadable as error:
            raise Unreadable(f"{name.replace('_', ' ')}: {error}") from None
        except RecursionError:
            raise Unreadable(f"{name.replace('_', ' ')}: nested without end") from None
    return kind(**values)
