"""Blind picks of pairs, when a blind test was opened, and what a series said when it was closed before."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"


def upgrade() -> None:
    op.add_column("series", sa.Column("opened_at", sa.String(40)))
    op.add_column("series", sa.Column("earlier", sa.JSON, nullable=False, server_default="[]"))
    op.create_table(
        "pick",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("panel_id", sa.String(32), sa.ForeignKey("panel.id", ondelete="RESTRICT"), nullable=False),
        sa.Column("other_id", sa.String(32), sa.ForeignKey("panel.id", ondelete="RESTRICT"), nullable=False),
        sa.Column("judge", sa.String(40), nullable=False),
        sa.Column("sitting", sa.Integer, nullable=False),
        sa.Column("liked", sa.String(8), nullable=False),
        sa.Column("guest", sa.Boolean, nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("taken_back", sa.Boolean, nullable=False),
    )
    op.create_index("ix_pick_panel_id", "pick", ["panel_id"])
