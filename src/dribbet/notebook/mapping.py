"""Records to rows and back, by their own type hints."""

from __future__ import annotations

import dataclasses
import types
import typing
from datetime import datetime
from enum import Enum
from functools import cache
from typing import Any, TypeVar, Union, get_args, get_origin

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
    records.MixMark: schema.mix_mark,
    records.Bottle: schema.bottle,
    records.BottleWeighing: schema.bottle_weighing,
    records.StepMark: schema.step_mark,
    records.PanelWeighing: schema.panel_weighing,
    records.Mishap: schema.mishap,
    records.Look: schema.look,
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


def built(hint: Any, value: Any) -> Any:
    """Value of a type hint from what JSON held."""
    origin = get_origin(hint)
    if origin in (Union, types.UnionType):
        kinds = [a for a in get_args(hint) if a is not type(None)]
        return None if value is None else built(kinds[0], value)
    if origin is tuple:
        args = get_args(hint)
        if len(args) == 2 and args[1] is Ellipsis:
            return tuple(built(args[0], v) for v in value)
        return tuple(built(a, v) for a, v in zip(args, value, strict=True))
    if isinstance(hint, type):
        if issubclass(hint, Enum):
            return hint(value)
        if dataclasses.is_dataclass(hint):
            known = _hints(hint)
            return hint(**{k: built(known[k], v) for k, v in value.items() if k in known})
        if issubclass(hint, datetime):
            return value if isinstance(value, datetime) else datetime.fromisoformat(value)
    return value


def row_of(record: Any) -> dict[str, Any]:
    """Column values of a record; moments that are columns of their own stay moments."""
    return {f.name: (value if isinstance(value := getattr(record, f.name), datetime) else plain(value)) for f in dataclasses.fields(record)}


def record_of(kind: type[R], row: Mapping[str, Any]) -> R:
    """Record from a row."""
    hints = _hints(typing.cast("typing.Any", kind))
    return kind(**{name: built(hint, row[name]) for name, hint in hints.items()})
