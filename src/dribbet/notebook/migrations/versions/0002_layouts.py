"""Tests of several factors: what is varied, how it is laid out, when it is judged; pieces of a panel; goals.

Written out in full: a migration never imports the present schema.
"""

import json

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"

LAYOUT = {
    "design": "every combination",
    "halvings": 1,
    "centre_points": 0,
    "blocks": 1,
    "block_by": "day",
    "strip_m": 0.01,
    "blind": False,
    "extras": [],
}


def upgrade() -> None:
    op.create_table(
        "goal",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("aims", sa.JSON, nullable=False),
    )
    plain = json.dumps(LAYOUT)
    for column in (
        sa.Column("varied", sa.JSON, nullable=False, server_default="[]"),
        sa.Column("layout", sa.JSON, nullable=False, server_default=plain),
        sa.Column("equal", sa.String(24), nullable=False, server_default="equal recipe"),
        sa.Column("prices", sa.JSON, nullable=False, server_default="[]"),
        sa.Column("protocol", sa.JSON, nullable=False, server_default="[]"),
        sa.Column("insisted", sa.JSON, nullable=False, server_default="[]"),
    ):
        op.add_column("series", column)
    op.execute("ALTER TABLE series ADD COLUMN goal_id VARCHAR(32) REFERENCES goal (id) ON DELETE RESTRICT")
    op.create_index("ix_series_goal_id", "series", ["goal_id"])
    for column in (
        sa.Column("settings", sa.JSON, nullable=False, server_default="[]"),
        sa.Column("block", sa.Integer, nullable=False, server_default="1"),
        sa.Column("slot", sa.Integer, nullable=False, server_default="0"),
        sa.Column("sheet", sa.Integer, nullable=False, server_default="0"),
        sa.Column("region", sa.JSON, nullable=False, server_default="[]"),
    ):
        op.add_column("panel", column)
    op.add_column("mix", sa.Column("block", sa.Integer, nullable=False, server_default="0"))
    connection = op.get_bind()
    crossed_in = {}
    for row in connection.execute(sa.text("SELECT id, factor, levels, crossed, crossed_levels FROM series")).mappings().all():
        varied = [{"factor": row["factor"], "levels": json.loads(row["levels"]), "name": ""}]
        second = json.loads(row["crossed_levels"] or "[]")
        crossed_in[row["id"]] = bool(row["crossed"] and second)
        if crossed_in[row["id"]]:
            varied.append({"factor": row["crossed"], "levels": second, "name": ""})
        connection.execute(sa.text("UPDATE series SET varied = :v WHERE id = :i"), {"v": json.dumps(varied), "i": row["id"]})
    for row in connection.execute(sa.text("SELECT id, series_id, level, crossed_level FROM panel")).mappings().all():
        settings = [row["level"], row["crossed_level"]] if crossed_in.get(row["series_id"]) else [row["level"]]
        connection.execute(sa.text("UPDATE panel SET settings = :s WHERE id = :i"), {"s": json.dumps(settings), "i": row["id"]})
    for table, names in (("series", ("factor", "levels", "crossed", "crossed_levels")), ("panel", ("level", "crossed_level"))):
        for name in names:
            op.drop_column(table, name)
