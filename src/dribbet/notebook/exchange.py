"""A whole notebook as one zip: a Frictionless Data Package with CSV tables, readings as JSON, and the photographs as they were taken."""

from __future__ import annotations

import csv
import io
import json
import re
import zipfile
from typing import TYPE_CHECKING, Any, Final

from sqlalchemy import JSON, Boolean, Float, Integer, select

from dribbet.notebook import schema
from dribbet.notebook.engine import NotebookError, said_plainly
from dribbet.notebook.plain_json import Broken, dumps, loads
from dribbet.notebook.schema import Instant, metadata, moment_of
from dribbet.notebook.store import schema_order
from dribbet.notebook.whole_file import arriving
from dribbet.records import Report, silent

if TYPE_CHECKING:
    from collections.abc import Mapping
    from pathlib import Path

    from sqlalchemy import Column, Table

    from dribbet.notebook.store import Notebook

PROFILE: Final = "data-package"
UNITS: Final = {
    "_kg": "kilogram",
    "_kg_m3": "kilogram per cubic metre",
    "_m": "metre",
    "_s": "second",
    "_px": "pixel",
    "_per_kg": "money per kilogram",
}
NOTHING: Final = "\\N"
TABLES_OUT: Final = tuple(t for t in metadata.sorted_tables if t is not schema.tally)  # counts of one notebook say nothing of another
APART: Final = {(schema.reading.name, "result"): "readings"}
"""Columns too large for a cell: each value is a JSON file in this folder, named in the cell."""


def _type(column: Column[Any]) -> str:
    kind = column.type
    if isinstance(kind, Boolean):
        return "boolean"
    if isinstance(kind, Integer):
        return "integer"
    if isinstance(kind, Float):
        return "number"
    return "object" if isinstance(kind, JSON) and (column.table.name, column.name) not in APART else "string"


def _describe(table: Table) -> dict[str, Any]:
    fields = []
    for column in table.columns:
        unit = next((words for end, words in sorted(UNITS.items(), key=lambda i: -len(i[0])) if column.name.endswith(end)), "")
        entry: dict[str, Any] = {"name": column.name, "type": _type(column)}
        if unit:
            entry["description"] = f"in {unit}"
        if isinstance(column.type, Instant):
            entry["description"] = "moment in UTC, with the local offset behind the Z"
        if column.name == "number":
            entry["description"] = "place in the order of all that happened"
        if (table.name, column.name) in APART:
            entry["description"] = "file in this package that holds it"
        fields.append(entry)
    return {
        "name": table.name.replace("_", "-"),
        "path": f"tables/{table.name}.csv",
        "encoding": "utf-8",
        "format": "csv",
        "profile": "tabular-data-resource",
        "schema": {"fields": fields, "missingValues": [NOTHING]},
    }


def text_of(column: Column[Any], value: Any) -> str:
    """Cell of a value."""
    if value is None:
        return NOTHING
    if isinstance(value, Broken):
        return value.text
    if isinstance(column.type, Instant):
        return value if isinstance(value, str) else str(column.type.process_bind_param(value, None))  # type: ignore[arg-type]
    if isinstance(column.type, JSON):
        return dumps(value)
    if isinstance(column.type, Boolean):
        return "true" if value else "false"
    if isinstance(column.type, Float) and isinstance(value, (int, float)):
        return repr(float(value))
    return str(value)


def value_of(column: Column[Any], text: str) -> Any:
    """Value of a cell.

    Raises
    ------
    ValueError, KeyError
        If the text is none of its kind.
    """
    if text == NOTHING:
        return None
    if isinstance(column.type, Instant):
        return moment_of(text)
    if isinstance(column.type, JSON):
        return loads(text)
    if isinstance(column.type, Boolean):
        return {"true": True, "false": False}[text]
    if isinstance(column.type, Integer):
        return int(text)
    return float(text) if isinstance(column.type, Float) else text


def _slug(name: str) -> str:
    """Name as the package's standard allows it."""
    return re.sub(r"[^a-z0-9._-]+", "-", name.lower()).strip("-.") or "notebook"


def _cell(package: zipfile.ZipFile, table: Table, row: Mapping[str, Any], column: Column[Any]) -> str:
    folder = APART.get((table.name, column.name))
    if folder is None or isinstance(row[column.name], Broken):
        return text_of(column, row[column.name])
    name = f"{folder}/{row['id']}.json"
    package.writestr(name, dumps(row[column.name]))
    return name


def export(notebook: Notebook, out: Path, report: Report = silent) -> None:
    """Write the notebook as one zip; the file appears whole or not at all.

    All tables are read at one moment, whatever a window writes meanwhile; photographs are those that the tables name.
    """
    out = out.absolute()
    try:
        with (
            arriving(out) as part,
            zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED) as package,
            notebook.snapshot() as connection,
        ):
            photos = {}
            for table in TABLES_OUT:
                buffer = io.StringIO()
                writer = csv.writer(buffer, lineterminator="\n")
                writer.writerow([c.name for c in table.columns])
                for row in map(dict, connection.execute(select(table).order_by(schema_order(table))).mappings()):
                    writer.writerow([_cell(package, table, row, c) for c in table.columns])
                    if table is schema.photo:
                        photos[row["sha256"], row["suffix"]] = notebook.photos.path(row["sha256"], row["suffix"])
                package.writestr(f"tables/{table.name}.csv", buffer.getvalue())
            resources = [_describe(t) for t in TABLES_OUT]
            there = {key: path for key, path in sorted(photos.items()) if path.exists()}
            for done, ((digest, suffix), path) in enumerate(there.items()):
                report(done, len(there))
                name = f"photos/{digest[:2]}/{digest}{suffix}"
                package.write(path, name, zipfile.ZIP_STORED)
                resources.append({"name": f"photo-{digest}", "path": name, "hash": f"sha256:{digest}", "profile": "data-resource"})
            head = {"profile": PROFILE, "name": _slug(notebook.folder.stem), "dribbet_schema": schema.VERSION, "resources": resources}
            package.writestr("datapackage.json", json.dumps(head, indent=1, ensure_ascii=False))
    except (OSError, UnicodeError) as error:
        said = getattr(error, "strerror", None) or "its name cannot be written"
        raise NotebookError(f"{out} could not be written: {said}. Choose another folder or free some room.") from None


def import_package(file: Path, notebook: Notebook, report: Report = silent) -> dict[str, int]:
    """Read a zip into a notebook; returns how many rows came into each table. All of it or nothing.

    Raises
    ------
    NotebookError
        If the file is no package of ours, tries to write outside its folder, is damaged, or holds a value that the window
        would not take either.
    """
    from dribbet.notebook.incoming import take_in

    with said_plainly(notebook.folder):
        return take_in(file, notebook, report)
