"""The order in which things happened, and a running count and sum of every table.

Written out in full: a migration never imports the present schema. The tallies themselves are counted after the last migration,
by `notebook.tally`. A photograph's moment that nobody could read again (a year without its zeros) becomes 'no time known'.
"""

import re

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"

HAPPENED = (
    "gauging", "weighing", "consistency_check", "mix_mark", "bottle_weighing", "step_mark", "panel_weighing", "mishap", "look", "photo", "reading",
)  # fmt: skip
MOMENT = re.compile(r"\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d\.\d{6}Z[+-]\d{4}")


def upgrade() -> None:
    connection = op.get_bind()
    happened: list[tuple[str, int, int, str]] = []
    for place, table in enumerate(HAPPENED):
        op.add_column(table, sa.Column("number", sa.Integer, nullable=False, server_default="0"))
        at = "added_at" if table == "photo" else "at"
        rows = connection.exec_driver_sql(f"SELECT {at}, rowid FROM {table}")
        happened += [(str(moment), place, rowid, table) for moment, rowid in rows]
    for number, (_, _, rowid, table) in enumerate(sorted(happened), start=1):
        connection.exec_driver_sql(f"UPDATE {table} SET number = ? WHERE rowid = ?", (number, rowid))
    for rowid, moment in connection.exec_driver_sql("SELECT rowid, taken_at FROM photo WHERE taken_at IS NOT NULL").fetchall():
        if not MOMENT.fullmatch(str(moment)) or not 1900 <= int(str(moment)[:4]) <= 2200:
            connection.exec_driver_sql("UPDATE photo SET taken_at = NULL WHERE rowid = ?", (rowid,))
    op.create_table(
        "tally",
        sa.Column("name", sa.String(24), primary_key=True),
        sa.Column("rows", sa.Integer, nullable=False),
        sa.Column("sum", sa.String(20), nullable=False),
    )
