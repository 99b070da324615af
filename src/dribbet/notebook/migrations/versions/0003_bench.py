"""The bench: more about each container, measurements of it, what happens to a cup beside weighing, bottles; checks with tool and time.

Written out in full: a migration never imports the present schema.
"""

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    for column in (
        sa.Column("packs", sa.JSON, nullable=False, server_default="[]"),
        sa.Column("grade", sa.String(12), nullable=False, server_default=""),
        sa.Column("form", sa.String(12), nullable=False, server_default=""),
        sa.Column("sheen", sa.String(8), nullable=False, server_default=""),
        sa.Column("smallest_share", sa.Float, nullable=False, server_default="0"),
        sa.Column("made_of", sa.JSON, nullable=False, server_default="[]"),
        sa.Column("made_at", sa.String(40)),
        sa.Column("opened_at", sa.String(40)),
        sa.Column("lot_since", sa.String(40)),
        sa.Column("strained_at", sa.String(40)),
        sa.Column("levels", sa.String(8), nullable=False, server_default=""),
        sa.Column("neutral_ph", sa.Boolean),
        sa.Column("variant", sa.String(40), nullable=False, server_default=""),
        sa.Column("note", sa.Text, nullable=False, server_default=""),
    ):
        op.add_column("material", column)
    for column in (
        sa.Column("tool", sa.String(40), nullable=False, server_default=""),
        sa.Column("seconds", sa.Float, nullable=False, server_default="0"),
        sa.Column("celsius", sa.Float),
        sa.Column("note", sa.Text, nullable=False, server_default=""),
    ):
        op.add_column("consistency_check", column)

    def made(name: str, parent: str, *columns: sa.Column[Any]) -> None:
        op.create_table(
            name,
            sa.Column("id", sa.String(32), primary_key=True),
            sa.Column(f"{parent}_id", sa.String(32), sa.ForeignKey(f"{parent}.id", ondelete="RESTRICT"), nullable=False),
            *columns,
            sa.Column("taken_back", sa.Boolean, nullable=False),
        )
        op.create_index(f"ix_{name}_{parent}_id", name, [f"{parent}_id"])

    made(
        "gauging",
        "material",
        sa.Column("kind", sa.String(12), nullable=False),
        sa.Column("value", sa.Float, nullable=False),
        sa.Column("readings", sa.JSON, nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("count", sa.Integer, nullable=False),
        sa.Column("sample_kg", sa.Float, nullable=False),
        sa.Column("seconds", sa.Float, nullable=False),
        sa.Column("lot", sa.String(40), nullable=False),
    )
    made(
        "mix_mark",
        "mix",
        sa.Column("kind", sa.String(24), nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("note", sa.Text, nullable=False),
    )
    op.create_table(
        "bottle",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("code", sa.String(12), nullable=False, unique=True),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("kind", sa.String(12), nullable=False),
        sa.Column("contents", sa.JSON, nullable=False),
        sa.Column("stored_at", sa.String(40), nullable=False),
        sa.Column("stored_kg", sa.Float, nullable=False),
        sa.Column("empty_kg", sa.Float, nullable=False),
        sa.Column("hex", sa.String(7), nullable=False),
        sa.Column("silicone", sa.Boolean, nullable=False),
        sa.Column("activator", sa.Boolean, nullable=False),
        sa.Column("series_id", sa.String(32), sa.ForeignKey("series.id", ondelete="RESTRICT")),
        sa.Column("mix_id", sa.String(32), sa.ForeignKey("mix.id", ondelete="RESTRICT")),
        sa.Column("grade", sa.Float, nullable=False),
        sa.Column("note", sa.Text, nullable=False),
        sa.Column("finished", sa.Boolean, nullable=False),
    )
    for parent in ("series", "mix"):
        op.create_index(f"ix_bottle_{parent}_id", "bottle", [f"{parent}_id"])
    made(
        "bottle_weighing",
        "bottle",
        sa.Column("mass_kg", sa.Float, nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("water_added_kg", sa.Float, nullable=False),
        sa.Column("taken_out_kg", sa.Float, nullable=False),
    )
