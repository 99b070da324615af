"""Stills: a small picture of the bench at a step of a pour."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"


def upgrade() -> None:
    op.create_table(
        "still",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("panel_id", sa.String(32), sa.ForeignKey("panel.id", ondelete="RESTRICT"), nullable=False),
        sa.Column("step_id", sa.String(32), sa.ForeignKey("step_mark.id", ondelete="RESTRICT"), nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("jpeg", sa.Text, nullable=False),
        sa.Column("taken_back", sa.Boolean, nullable=False),
    )
    op.create_index("ix_still_panel_id", "still", ["panel_id"])
