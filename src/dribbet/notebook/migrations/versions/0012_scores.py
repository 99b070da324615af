"""Points that judges give panels, one thing at a time."""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"


def upgrade() -> None:
    op.create_table(
        "score",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("panel_id", sa.String(32), sa.ForeignKey("panel.id", ondelete="RESTRICT"), nullable=False),
        sa.Column("judge", sa.String(40), nullable=False),
        sa.Column("sitting", sa.Integer, nullable=False),
        sa.Column("criterion", sa.String(40)),
        sa.Column("points", sa.Integer),
        sa.Column("guest", sa.Boolean, nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("taken_back", sa.Boolean, nullable=False),
    )
    op.create_index("ix_score_panel_id", "score", ["panel_id"])
