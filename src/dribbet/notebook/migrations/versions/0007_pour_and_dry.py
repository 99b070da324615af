"""Pour and Dry: steps that are skipped or added, zones that are left out, looks with a place, climate, treatments, own ways to pour."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    op.add_column("step_mark", sa.Column("place", sa.Integer, nullable=False, server_default="-1"))
    op.add_column("step_mark", sa.Column("how", sa.String(8), nullable=False, server_default="done"))
    op.add_column("step_mark", sa.Column("figures", sa.JSON, nullable=False, server_default="[]"))
    op.add_column("mishap", sa.Column("reach_share", sa.Float, nullable=False, server_default="0.1"))
    op.add_column("mishap", sa.Column("zone_out", sa.Boolean, nullable=False, server_default="0"))
    op.add_column("mishap", sa.Column("note", sa.Text, nullable=False, server_default=""))
    for column in (sa.Column("x_share", sa.Float), sa.Column("y_share", sa.Float)):
        op.add_column("look", column)
    op.add_column("look", sa.Column("flaws", sa.JSON, nullable=False, server_default="[]"))
    op.add_column("look", sa.Column("late_s", sa.Float, nullable=False, server_default="0"))
    op.add_column("look", sa.Column("note", sa.Text, nullable=False, server_default=""))
    op.create_table(
        "levelled",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("panel_id", sa.String(32), sa.ForeignKey("panel.id", ondelete="RESTRICT"), nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("slope_x", sa.Float, nullable=False),
        sa.Column("slope_y", sa.Float, nullable=False),
        sa.Column("taken_back", sa.Boolean, nullable=False),
    )
    op.create_index("ix_levelled_panel_id", "levelled", ["panel_id"])
    op.create_table(
        "climate",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("celsius", sa.Float, nullable=False),
        sa.Column("damp", sa.Float, nullable=False),
        sa.Column("by", sa.String(8), nullable=False),
        sa.Column("taken_back", sa.Boolean, nullable=False),
    )
    op.create_table(
        "treated",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("panel_id", sa.String(32), sa.ForeignKey("panel.id", ondelete="RESTRICT"), nullable=False),
        sa.Column("kind", sa.String(12), nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("celsius", sa.Float),
        sa.Column("seconds", sa.Float, nullable=False),
        sa.Column("load_kg", sa.Float, nullable=False),
        sa.Column("stuck", sa.String(12)),
        sa.Column("finished_at", sa.String(40)),
        sa.Column("note", sa.Text, nullable=False),
        sa.Column("taken_back", sa.Boolean, nullable=False),
    )
    op.create_index("ix_treated_panel_id", "treated", ["panel_id"])
    op.create_table(
        "way",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("name", sa.String(40), nullable=False),
        sa.Column("of", sa.String(20), nullable=False),
        sa.Column("steps", sa.JSON, nullable=False),
        sa.Column("made_at", sa.String(40), nullable=False),
        sa.Column("replaced", sa.Boolean, nullable=False),
    )
