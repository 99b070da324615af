"""Rows of packages that an earlier schema wrote, as the present schema has them."""

from __future__ import annotations

import json
from typing import Any, Final

from sqlalchemy import Boolean

from dribbet.notebook import schema, told_before

PLAIN_LAYOUT: Final = {
    "design": "every combination",
    "halvings": 1,
    "centre_points": 0,
    "blocks": 1,
    "block_by": "day",
    "strip_m": 0.01,
    "blind": False,
    "extras": [],
}


NEW_IN_0003: Final = {
    "material": {
        "packs": "[]", "grade": "", "form": "", "sheen": "", "smallest_share": "0.0", "made_of": "[]", "made_at": "\\N", "opened_at": "\\N",
        "lot_since": "\\N", "strained_at": "\\N", "levels": "", "neutral_ph": "\\N", "variant": "", "note": "",
    },
    "consistency_check": {"tool": "", "seconds": "0.0", "celsius": "\\N", "note": ""},
}  # fmt: skip


NEW_IN_0005: Final = {"mix": {"drop_share": "1.0"}, "weighing": {"drops": "0"}}


def _from_0004(table: str, row: dict[str, str]) -> dict[str, str]:
    key = {"key": row["name"]} if table == "material" else {}
    return NEW_IN_0005.get(table, {}) | key | row


def _from_0002(table: str, row: dict[str, str]) -> dict[str, str]:
    return NEW_IN_0003.get(table, {}) | row


def _from_0005(table: str, row: dict[str, str]) -> dict[str, str]:
    if table == "photo" and "quality" in row:
        signs = (told_before.seen(line) for line in json.loads(row["quality"]))
        return row | {"quality": json.dumps([s for s in signs if s is not None])}
    if table == "series" and row.get("insisted", "[]") != "[]":
        return row | {"insisted": json.dumps([told_before.insisted(one) for one in json.loads(row["insisted"])])}
    return row


def _with_defaults(table: str, row: dict[str, str]) -> dict[str, str]:
    """Columns that came later hold what the schema gives them where nobody said anything."""
    known = schema.metadata.tables.get(table)
    if known is None:
        return row
    made = dict(row)
    for column in known.columns:
        if column.name in made:
            continue
        if column.server_default is not None:
            told = str(column.server_default.arg)  # type: ignore[attr-defined]
            made[column.name] = {"0": "false", "1": "true"}[told] if isinstance(column.type, Boolean) else told
        elif column.nullable:
            made[column.name] = "\\N"
    return made


class Upgrade:
    """Brings the rows of one package up to date, table by table in the order in which tables refer to each other."""

    def __init__(self, version: str) -> None:
        self._version = version
        self._crossed: dict[str, bool] = {}

    def row(self, table: str, row: dict[str, str]) -> dict[str, str]:
        """One row as text, with the columns of the present schema."""
        if self._version == "0001":
            row = self._from_0001(table, row)
        if self._version <= "0002":
            row = _from_0002(table, row)
        if self._version <= "0004":
            row = _from_0004(table, row)
        row = _from_0005(table, row) if self._version <= "0005" else row
        return _with_defaults(table, row) if self._version < schema.VERSION else row

    def _from_0001(self, table: str, row: dict[str, str]) -> dict[str, str]:
        new = dict(row)
        if table == "series":
            varied: list[dict[str, Any]] = [{"factor": new.pop("factor"), "levels": json.loads(new.pop("levels")), "name": ""}]
            crossed, levels = new.pop("crossed"), json.loads(new.pop("crossed_levels"))
            if crossed != "\\N" and levels:
                varied.append({"factor": crossed, "levels": levels, "name": ""})
            self._crossed[new["id"]] = len(varied) > 1
            new |= {"varied": json.dumps(varied), "layout": json.dumps(PLAIN_LAYOUT), "equal": "equal recipe", "goal_id": "\\N"}
            new |= {"prices": "[]", "protocol": "[]", "insisted": "[]"}
        elif table == "panel":
            first, second = int(new.pop("level")), int(new.pop("crossed_level"))
            settings = [first, second] if self._crossed.get(new["series_id"]) else [first]
            new |= {"settings": json.dumps(settings), "block": "1", "slot": "0", "sheet": "0", "region": "[]"}
        elif table == "mix":
            new["block"] = "0"
        return new
