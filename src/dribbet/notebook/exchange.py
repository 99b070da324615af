"""A whole notebook as one zip, and back: a Frictionless Data Package with CSV tables and the photographs as they were taken."""

from __future__ import annotations

import csv
import hashlib
import io
import json
import os
import zipfile
from pathlib import Path, PurePosixPath
from typing import TYPE_CHECKING, Any

from sqlalchemy import JSON, Boolean, Float, Integer, insert, select

from dribbet.notebook import schema
from dribbet.notebook.engine import NotebookError
from dribbet.notebook.older_packages import Upgrade
from dribbet.notebook.schema import Instant, metadata
from dribbet.records import Report, silent

if TYPE_CHECKING:
    from sqlalchemy import Column, Table

    from dribbet.notebook.store import Notebook

PROFILE = "data-package"
UNITS = {"_kg": "kilogram", "_kg_m3": "kilogram per cubic metre", "_m": "metre", "_s": "second", "_px": "pixel", "_per_kg": "money per kilogram"}
MOST_BYTES = 20_000_000_000


def _type(column: Column[Any]) -> str:
    kind = column.type
    if isinstance(kind, Boolean):
        return "boolean"
    if isinstance(kind, Integer):
        return "integer"
    if isinstance(kind, Float):
        return "number"
    return "object" if isinstance(kind, JSON) else "string"


def _describe(table: Table) -> dict[str, Any]:
    fields = []
    for column in table.columns:
        unit = next((words for end, words in sorted(UNITS.items(), key=lambda i: -len(i[0])) if column.name.endswith(end)), "")
        entry: dict[str, Any] = {"name": column.name, "type": _type(column)}
        if unit:
            entry["description"] = f"in {unit}"
        if isinstance(column.type, Instant):
            entry["description"] = "moment in UTC, with the local offset behind the Z"
        fields.append(entry)
    return {
        "name": table.name.replace("_", "-"),
        "path": f"tables/{table.name}.csv",
        "encoding": "utf-8",
        "format": "csv",
        "profile": "tabular-data-resource",
        "schema": {"fields": fields, "missingValues": ["\\N"]},
    }


def _text(column: Column[Any], value: Any) -> str:
    if value is None:
        return "\\N"
    if isinstance(column.type, Instant):
        return str(column.type.process_bind_param(value, None))  # type: ignore[arg-type]
    if isinstance(column.type, JSON):
        return json.dumps(value, ensure_ascii=False, separators=(",", ":"))
    if isinstance(column.type, Boolean):
        return "true" if value else "false"
    if isinstance(column.type, Float):
        return repr(float(value))
    return str(value)


def _value(column: Column[Any], text: str) -> Any:
    if text == "\\N":
        return None
    if isinstance(column.type, Instant):
        return column.type.process_result_value(text, None)  # type: ignore[arg-type]
    if isinstance(column.type, JSON):
        return json.loads(text)
    if isinstance(column.type, Boolean):
        return {"true": True, "false": False}[text]
    if isinstance(column.type, Integer):
        return int(text)
    return float(text) if isinstance(column.type, Float) else text


def export(notebook: Notebook, out: Path, report: Report = silent) -> None:
    """Write the notebook as one zip; the file appears whole or not at all."""
    part = out.with_name(f".{out.name}.{os.getpid()}.part")
    tables = list(metadata.sorted_tables)
    originals = notebook.photos.stored()
    try:
        with zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED) as package:
            resources = [_describe(t) for t in tables]
            for path in originals:
                digest = hashlib.sha256(path.read_bytes()).hexdigest()
                resources.append(
                    {
                        "name": f"photo-{path.stem}",
                        "path": f"photos/{path.parent.name}/{path.name}",
                        "hash": f"sha256:{digest}",
                        "profile": "data-resource",
                    }
                )
            head = {"profile": PROFILE, "name": notebook.folder.stem.lower(), "dribbet_schema": schema.VERSION, "resources": resources}
            package.writestr("datapackage.json", json.dumps(head, indent=1, ensure_ascii=False))
            for table in tables:
                buffer = io.StringIO()
                writer = csv.writer(buffer, lineterminator="\n")
                writer.writerow([c.name for c in table.columns])
                for row in notebook._rows(select(table)):
                    writer.writerow([_text(c, row[c.name]) for c in table.columns])
                package.writestr(f"tables/{table.name}.csv", buffer.getvalue())
            for done, path in enumerate(originals):
                report(done, len(originals))
                package.write(path, f"photos/{path.parent.name}/{path.name}", zipfile.ZIP_STORED)
        with part.open("rb+") as file:
            os.fsync(file.fileno())
        part.replace(out)
    except OSError as error:
        raise NotebookError(f"{out} could not be written: {error.strerror}. Choose another folder or free some room.") from None
    finally:
        part.unlink(missing_ok=True)


def _safe(name: str) -> bool:
    path = PurePosixPath(name)
    return not path.is_absolute() and ".." not in path.parts and "\\" not in name and ":" not in name


def import_package(file: Path, notebook: Notebook, report: Report = silent) -> dict[str, int]:
    """Read a zip into a notebook; returns how many rows came into each table. All of it or nothing.

    Raises
    ------
    NotebookError
        If the file is no package of ours, tries to write outside its folder, is damaged, or meets rows already there.
    """
    try:
        package = zipfile.ZipFile(file)
    except FileNotFoundError:
        raise NotebookError(f"There is no file {file}. Check the name.") from None
    except (zipfile.BadZipFile, OSError):
        raise NotebookError(f"{file.name} is not a zip, or is damaged. Export it again.") from None
    with package:
        names = package.namelist()
        bad = [n for n in names if not _safe(n)]
        if bad:
            raise NotebookError(f"{file.name} tries to write outside its folder ({bad[0]}). Nothing was taken from it; do not trust this file.")
        if sum(i.file_size for i in package.infolist()) > MOST_BYTES:
            raise NotebookError(f"{file.name} would unpack to more than {MOST_BYTES // 10**9} GB. Export it in parts.")
        try:
            head = json.loads(package.read("datapackage.json"))
        except (KeyError, ValueError, zipfile.BadZipFile):
            raise NotebookError(f"{file.name} has no datapackage.json that can be read. Choose a zip that dribbet export wrote.") from None
        if str(head.get("dribbet_schema", "")) > schema.VERSION:
            raise NotebookError(f"{file.name} was written by a newer Dribbet. Update the program to import it.")
        for done, name in enumerate(n for n in names if n.startswith("photos/") and not n.endswith("/")):
            report(done, len(names))
            _take_photo(package, name, file, notebook)
        taken = _take_tables(package, names, file, notebook, Upgrade(str(head.get("dribbet_schema", ""))))
    notebook.forget()
    return taken


def _take_photo(package: zipfile.ZipFile, name: str, file: Path, notebook: Notebook) -> None:
    try:
        data = package.read(name)
    except (zipfile.BadZipFile, OSError, EOFError):
        raise NotebookError(f"The photo {Path(name).name} in {file.name} is damaged. Export it again.") from None
    path = PurePosixPath(name)
    if hashlib.sha256(data).hexdigest() != path.stem:
        raise NotebookError(f"The photo {path.name} in {file.name} is not the one that was exported. Export it again.")
    notebook.photos.keep(data, path.suffix)


def _take_tables(package: zipfile.ZipFile, names: list[str], file: Path, notebook: Notebook, upgrade: Upgrade) -> dict[str, int]:
    taken: dict[str, int] = {}
    with notebook.transaction() as connection:
        for table in metadata.sorted_tables:
            name = f"tables/{table.name}.csv"
            if name not in names:
                continue
            try:
                reader = csv.reader(io.StringIO(package.read(name).decode("utf-8")))
                header = next(reader)
                texts = [upgrade.row(table.name, dict(zip(header, line, strict=True))) for line in reader]
                rows = [{name: _value(table.c[name], text) for name, text in row.items()} for row in texts]
            except (UnicodeDecodeError, ValueError, KeyError, StopIteration, zipfile.BadZipFile):
                raise NotebookError(f"{name} in {file.name} cannot be read. Export it again.") from None
            key = next(iter(table.primary_key.columns))
            there = {row[key.name] for row in connection.execute(select(key)).mappings()}
            new = [r for r in rows if r[key.name] not in there]
            if new:
                connection.execute(insert(table), new)
            taken[table.name] = len(new)
    return taken
