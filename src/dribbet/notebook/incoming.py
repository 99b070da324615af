"""What comes in with a package: checked by the same records as the window, fitted to what is there, all of it or nothing."""

from __future__ import annotations

import csv
import re
from pathlib import PurePosixPath
from typing import TYPE_CHECKING, Any, Final

from sqlalchemy import JSON, or_, select

from dribbet.notebook import schema
from dribbet.notebook.engine import NotebookError
from dribbet.notebook.exchange import APART, TABLES_OUT, value_of
from dribbet.notebook.mapping import Unreadable, built, record_of
from dribbet.notebook.migrate import KNOWN
from dribbet.notebook.older_packages import Upgrade
from dribbet.notebook.package_file import MOST_TABLE, PackageFile, open_package
from dribbet.notebook.plain_json import Broken
from dribbet.notebook.references import TABLE_OF, misfits
from dribbet.records import PHOTO_SUFFIXES, DribbetError, HouseRules, Report

if TYPE_CHECKING:
    from collections.abc import Iterator
    from pathlib import Path

    from sqlalchemy import Table

    from dribbet.notebook.store import Notebook

SAME_MATERIAL: Final = ("kind", "density_kg_m3", "volume_solids", "opacity", "alcohol_share", "made_of")
"""Figures by which two containers of one name are taken for the same material."""
NAMING: Final = {
    "series": ("varied", "constants", "layers", "prices"),
    "mix": ("colour", "plan", "drop_material"),
    "weighing": ("ingredient",),
    "bottle": ("contents",),
    "material": ("made_of",),
}
"""Columns that name materials."""


def take_in(file: Path, notebook: Notebook, report: Report) -> dict[str, int]:
    """Read a package into a notebook; returns how many rows came into each table."""
    with open_package(file) as package:
        head = package.json("datapackage.json") if "datapackage.json" in package.entries else None
        if not isinstance(head, dict):
            raise NotebookError(f"{file.name} has no datapackage.json that can be read. Choose a zip that dribbet export wrote.")
        version = str(head.get("dribbet_schema", ""))
        if version > schema.VERSION:
            raise NotebookError(f"{file.name} was written by a newer Dribbet. Update the program to import it.")
        if version not in KNOWN:
            raise NotebookError(f"{file.name} does not say which Dribbet wrote it. Choose a zip that dribbet export wrote.")
        package.require_room(notebook.folder)
        with notebook.transaction():
            coming = _Incoming(package, version, notebook)
            coming.take_tables()
            notebook.forget()
            coming.require_fit()
            coming.take_photos(head, report)
    notebook.forget()
    return coming.taken


class _Incoming:
    """One import: what was taken so far, and what had to be renamed to fit."""

    def __init__(self, package: PackageFile, version: str, notebook: Notebook) -> None:
        self.package = package
        self.notebook = notebook
        self.taken: dict[str, int] = {}
        self.ids: dict[str, set[str]] = {}
        self.photos: set[tuple[str, str]] = set()
        self._upgrade = Upgrade(version)
        self._first_number = notebook.numbers
        self._places = self._older_places() if version < "0004" else {}
        self._same: dict[str, str] = {}
        """Ids of materials that are there already, by the id in the package."""
        self._renamed: dict[str, str] = {}
        self._codes: dict[str, tuple[str, str]] = {}
        """Old and new code of each series whose code was taken."""

    # ------------------------------------------------------------ rows

    def _lines(self, table: Table) -> Iterator[tuple[int, dict[str, str]]]:
        name = f"tables/{table.name}.csv"
        if name not in self.package.entries:
            return
        csv.field_size_limit(MOST_TABLE)  # Python's own limit is 128 kB; what a package may hold is limited when it is looked through
        with self.package.text(name) as text:
            reader = csv.reader(text, strict=True)
            try:
                header = next(reader)
                if len(set(header)) < len(header):
                    raise self._unread(name)
                for line in reader:
                    if len(line) != len(header):
                        raise self._unread(name, reader.line_num)
                    yield reader.line_num, dict(zip(header, line, strict=True))
            except (csv.Error, StopIteration):
                raise self._unread(name) from None

    def _unread(self, name: str, line: int = 0, why: str = "") -> NotebookError:
        where = f"{name}, line {line}," if line else name
        return NotebookError(f"{where} in {self.package.name} cannot be read{': ' + why if why else ''}. Export it again.")

    def _older_places(self) -> dict[tuple[str, str], int]:
        """Order of what happened, for packages that knew only the clock."""
        happened: list[tuple[str, int, str, str]] = []
        for table in (t for t in TABLES_OUT if "number" in t.c and t is not schema.change):
            at = "added_at" if table is schema.photo else "at"
            happened += [(row.get(at, ""), len(happened), table.name, row.get("id", "")) for _, row in self._lines(table)]
        return {(name, id_): place for place, (_, _, name, id_) in enumerate(sorted(happened), start=1)}

    def take_tables(self) -> None:
        """Take all rows that are not there yet."""
        for table in sorted(TABLES_OUT, key=lambda t: t is schema.setting):  # settings speak of series: they come last
            there = self._there(table)
            self.ids[table.name] = set()
            count = 0
            for line, text in self._lines(table):
                row = self._row(table, line, text)
                key = self._key(table, row)
                if key in there:
                    continue
                there.add(key)
                self._check(table, line, row)
                if self._is_there_by_name(table, row) or self._speaks_of_nothing(table, row):
                    continue
                self._fit(table, row)
                self.notebook.put_row(table, row)
                count += 1
                if "id" in row:
                    self.ids[table.name].add(row["id"])
                if table is schema.photo:
                    self.photos.add((row["sha256"], row["suffix"]))
            if f"tables/{table.name}.csv" in self.package.entries:
                self.taken[table.name] = count

    def _there(self, table: Table) -> set[object]:
        names = ("table_name", "row_id", "at") if table is schema.change else ("key",) if table is schema.setting else ("id",)
        with self.notebook.transaction() as connection:
            return {self._key(table, dict(row)) for row in connection.execute(select(*(table.c[n] for n in names))).mappings()}

    @staticmethod
    def _key(table: Table, row: dict[str, Any]) -> object:
        if table is schema.change:  # its number counts within one notebook
            return row["table_name"], row["row_id"], row["at"]
        return row["key"] if table is schema.setting else row["id"]

    def _row(self, table: Table, line: int, text: dict[str, str]) -> dict[str, Any]:
        where = f"tables/{table.name}.csv"
        try:
            text = self._upgrade.row(table.name, text)
            if "number" in table.c and table is not schema.change and "number" not in text:
                text["number"] = str(self._places.get((table.name, text["id"]), 0))
            wanted = {c.name for c in table.columns}
            if set(text) != wanted:
                odd = sorted(set(text) ^ wanted)[0]
                raise self._unread(where, line, f"the column {odd[:40]} is {'unknown' if odd in text else 'missing'}")
            row = {c.name: self._value(table, c.name, text[c.name]) for c in table.columns}
        except (ValueError, KeyError, TypeError, OverflowError, RecursionError):
            raise self._unread(where, line) from None
        if "number" in row and table is not schema.change:
            row["number"] = self._first_number + max(0, row["number"] or 0)
            self.notebook.reach_number(row["number"])
        elif table is schema.change:
            del row["number"]
        return row

    def _value(self, table: Table, column: str, text: str) -> Any:
        folder = APART.get((table.name, column))
        if folder is not None and text.startswith(f"{folder}/"):
            return self.package.json(text)
        return value_of(table.c[column], text)

    def _check(self, table: Table, line: int, row: dict[str, Any]) -> None:
        """Refuse what the window could not have written."""
        kind = TABLE_OF.get(table.name)
        for column in table.columns:
            if not column.nullable and column.name in row and row[column.name] is None and not isinstance(column.type, JSON):
                raise self._unread(f"tables/{table.name}.csv", line, f"{column.name} is empty")
        try:
            if kind is not None:
                record_of(kind, row)
                if not re.fullmatch(r"[\w.-]{1,64}", str(row["id"])):
                    raise Unreadable("id: no identifier")
            elif table is schema.setting:
                check_setting(row["key"], row["value"])
            elif not (row["table_name"] in TABLE_OF and isinstance(row["before"], dict) and isinstance(row["row_id"], str)):
                raise Unreadable("a change of nothing known")
        except (Unreadable, DribbetError) as error:
            where = f"Line {line} of tables/{table.name}.csv in {self.package.name}"
            raise NotebookError(f"{where}: {str(error).rstrip('.')}. Nothing was taken; correct it and import again.") from None

    # ------------------------------------------------------------ fitting in

    def _is_there_by_name(self, table: Table, row: dict[str, Any]) -> bool:
        """Whether a container of this key or name and these figures stands on the shelf already."""
        if table is not schema.material:
            return False
        with self.notebook.transaction() as connection:
            alike = connection.execute(select(table).where(or_(table.c.key == row["key"], table.c.name == row["name"]))).mappings().all()
        own = next((one for one in alike if all(one[name] == row[name] for name in SAME_MATERIAL)), None)
        if own is None:
            return False
        self._same[row["id"]] = own["id"]
        if own["key"] != row["key"]:
            self._renamed[row["key"]] = own["key"]
        return True

    def _speaks_of_nothing(self, table: Table, row: dict[str, Any]) -> bool:
        """Whether a setting names a series that is not there: the window then begins with another."""
        return table is schema.setting and row["key"] == "last_series" and str(row["value"]) not in self._there(schema.series)

    def _fit(self, table: Table, row: dict[str, Any]) -> None:
        """Give a row another name or code where its own is taken, and follow the renamed."""
        if "material_id" in row:
            row["material_id"] = self._same.get(row["material_id"], row["material_id"])
        for column in NAMING.get(table.name, ()):
            row[column] = self._new_names(row[column])
        if table is schema.material:
            row["name"] = self._free(table, "name", row["name"], " {}", 80)
            key = self._free(table, "key", row["key"], " {}", 80)
            if key != row["key"]:
                self._renamed[row["key"]] = row["key"] = key
        elif table is schema.series:
            stem = re.sub(r"\d+\Z", "", str(row["code"]))[:8]
            code = self._free(table, "code", row["code"], "", 12, stem=stem)
            if code != row["code"]:
                self._codes[row["id"]] = (row["code"], code)
                row["code"] = code
        elif table is schema.panel and row["series_id"] in self._codes:
            old, new = self._codes[row["series_id"]]
            row["code"] = new + str(row["code"]).removeprefix(old)
        elif table is schema.bottle:
            row["code"] = self._free(table, "code", row["code"], "", 12, stem=re.sub(r"\d+\Z", "", str(row["code"]))[:8])

    def _new_names(self, value: Any) -> Any:
        if not self._renamed:
            return value
        if isinstance(value, str):
            return self._renamed.get(value, value)
        if isinstance(value, list):
            return [self._new_names(v) for v in value]
        return {k: self._new_names(v) for k, v in value.items()} if isinstance(value, dict) else value

    def _free(self, table: Table, column: str, wanted: Any, ending: str, most: int, *, stem: str | None = None) -> Any:
        """The wanted name, or the first like it that is not taken."""
        with self.notebook.transaction() as connection:
            taken = {r[column] for r in connection.execute(select(table.c[column])).mappings()}
        if wanted not in taken or not isinstance(wanted, str):
            return wanted
        numbers = range(2 if stem is None else 1, 100_000)
        tries = (f"{wanted[: most - 6]}{ending.format(n)}" if stem is None else f"{stem}{n}" for n in numbers)
        return next(name for name in tries if name not in taken)

    def require_fit(self) -> None:
        """Refuse records that do not fit those they speak of."""
        for misfit in misfits(self.notebook.all):
            if misfit.id in self.ids.get(misfit.table, ()):
                raise NotebookError(f"{misfit.sentence[:-1]}, in {self.package.name}. Nothing was taken; correct it and import again.")

    # ------------------------------------------------------------ photographs

    def take_photos(self, head: dict[str, Any], report: Report) -> None:
        """Take the photographs that the new rows name; all others are only checked."""
        names = sorted(n for n in self.package.entries if n.startswith("photos/"))
        for done, name in enumerate(names):
            report(done, len(names))
            path = PurePosixPath(name)
            wanted = (path.stem, path.suffix) in self.photos and path.suffix in PHOTO_SUFFIXES
            self.package.copy_photo(name, self.notebook.photos.place_for(path.stem, path.suffix) if wanted else None)
        listed = {str(r.get("path")) for r in head.get("resources", ()) if isinstance(r, dict)} if isinstance(head.get("resources"), list) else set()
        for digest, suffix in sorted(self.photos):
            name = f"photos/{digest[:2]}/{digest}{suffix}"
            if name in listed and name not in self.package.entries:
                raise NotebookError(f"The photo {digest[:12]}{suffix} is missing from {self.package.name}. Export it again.")


def check_setting(key: Any, value: Any) -> None:
    """Refuse a setting that the window cannot read.

    Raises
    ------
    Unreadable
        Naming the setting.
    RecordError
        If rules of the bench cannot be true.
    """
    if not isinstance(key, str) or not 0 < len(key) <= 80:
        raise Unreadable("a setting without a name")
    if not key.isprintable() or isinstance(value, Broken):
        raise Unreadable(f"{key}: no JSON")
    if key == "house_rules":
        if not isinstance(value, dict):
            raise Unreadable("house rules: no table")
        built(HouseRules, value)
    elif key == "units" and not (isinstance(value, dict) and all(isinstance(v, str) for v in value.values())):
        raise Unreadable("units: no table of words")
