"""First schema: materials, series, panels, bench work, photos, readings.

Written out in full: a migration never imports the present schema.
"""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    op.create_table(
        "material",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("name", sa.String(80), nullable=False, unique=True),
        sa.Column("kind", sa.String(16), nullable=False),
        sa.Column("hex", sa.String(7), nullable=False),
        sa.Column("density_kg_m3", sa.Float, nullable=False),
        sa.Column("volume_solids", sa.Float, nullable=False),
        sa.Column("opacity", sa.String(16), nullable=False),
        sa.Column("drop_kg", sa.Float, nullable=False),
        sa.Column("alcohol_share", sa.Float, nullable=False),
        sa.Column("wash_off", sa.Boolean, nullable=False),
        sa.Column("bakeable", sa.Boolean, nullable=False),
        sa.Column("hazards", sa.JSON, nullable=False),
        sa.Column("lot", sa.String(40), nullable=False),
        sa.Column("stock_kg", sa.Float, nullable=False),
        sa.Column("full_kg", sa.Float, nullable=False),
        sa.Column("price_per_kg", sa.Float, nullable=False),
    )
    op.create_table(
        "series",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("code", sa.String(12), nullable=False, unique=True),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("factor", sa.String(24), nullable=False),
        sa.Column("levels", sa.JSON, nullable=False),
        sa.Column("repeats", sa.Integer, nullable=False),
        sa.Column("responses", sa.JSON, nullable=False),
        sa.Column("constants", sa.JSON, nullable=False),
        sa.Column("layers", sa.JSON, nullable=False),
        sa.Column("prediction", sa.JSON),
        sa.Column("crossed", sa.String(24)),
        sa.Column("crossed_levels", sa.JSON, nullable=False),
        sa.Column("seed", sa.Integer),
        sa.Column("state", sa.String(16), nullable=False),
        sa.Column("verdict", sa.Text, nullable=False),
        sa.Column("created_at", sa.String(40), nullable=False),
        sa.Column("note", sa.Text, nullable=False),
    )
    op.create_table(
        "panel",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("series_id", sa.String(32), sa.ForeignKey("series.id", ondelete="RESTRICT"), nullable=False, index=True),
        sa.Column("code", sa.String(20), nullable=False, unique=True),
        sa.Column("recipe", sa.String(2), nullable=False),
        sa.Column("repeat", sa.Integer, nullable=False),
        sa.Column("place", sa.Integer, nullable=False),
        sa.Column("level", sa.Integer, nullable=False),
        sa.Column("crossed_level", sa.Integer, nullable=False),
        sa.Column("spoiled", sa.Text, nullable=False),
    )
    op.create_table(
        "mix",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("series_id", sa.String(32), sa.ForeignKey("series.id", ondelete="RESTRICT"), nullable=False, index=True),
        sa.Column("colour", sa.String(80), nullable=False),
        sa.Column("recipes", sa.String(32), nullable=False),
        sa.Column("place", sa.Integer, nullable=False),
        sa.Column("plan", sa.JSON, nullable=False),
        sa.Column("drops", sa.Integer, nullable=False),
        sa.Column("drop_material", sa.String(80), nullable=False),
        sa.Column("covered_at", sa.String(40)),
        sa.Column("kept_over", sa.Boolean, nullable=False),
        sa.Column("done", sa.Boolean, nullable=False),
    )
    op.create_table(
        "weighing",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("mix_id", sa.String(32), sa.ForeignKey("mix.id", ondelete="RESTRICT"), nullable=False, index=True),
        sa.Column("ingredient", sa.String(80), nullable=False),
        sa.Column("mass_kg", sa.Float, nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("source", sa.String(16), nullable=False),
        sa.Column("taken_back", sa.Boolean, nullable=False),
    )
    op.create_table(
        "consistency_check",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("mix_id", sa.String(32), sa.ForeignKey("mix.id", ondelete="RESTRICT"), nullable=False, index=True),
        sa.Column("kind", sa.String(8), nullable=False),
        sa.Column("value", sa.Float, nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("source", sa.String(16), nullable=False),
        sa.Column("taken_back", sa.Boolean, nullable=False),
    )
    op.create_table(
        "step_mark",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("panel_id", sa.String(32), sa.ForeignKey("panel.id", ondelete="RESTRICT"), nullable=False, index=True),
        sa.Column("step", sa.String(8), nullable=False),
        sa.Column("planned_s", sa.Float, nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("taken_back", sa.Boolean, nullable=False),
    )
    op.create_table(
        "panel_weighing",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("panel_id", sa.String(32), sa.ForeignKey("panel.id", ondelete="RESTRICT"), nullable=False, index=True),
        sa.Column("kind", sa.String(8), nullable=False),
        sa.Column("mass_kg", sa.Float, nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("taken_back", sa.Boolean, nullable=False),
    )
    op.create_table(
        "mishap",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("panel_id", sa.String(32), sa.ForeignKey("panel.id", ondelete="RESTRICT"), nullable=False, index=True),
        sa.Column("kind", sa.String(24), nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("x_share", sa.Float),
        sa.Column("y_share", sa.Float),
        sa.Column("taken_back", sa.Boolean, nullable=False),
    )
    op.create_table(
        "look",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("panel_id", sa.String(32), sa.ForeignKey("panel.id", ondelete="RESTRICT"), nullable=False, index=True),
        sa.Column("due", sa.String(12), nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("feel", sa.String(12)),
        sa.Column("cracked", sa.Boolean),
        sa.Column("taken_back", sa.Boolean, nullable=False),
    )
    op.create_table(
        "photo",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("panel_id", sa.String(32), sa.ForeignKey("panel.id", ondelete="RESTRICT"), nullable=True, index=True),
        sa.Column("sha256", sa.String(64), nullable=False),
        sa.Column("suffix", sa.String(8), nullable=False),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("stage", sa.String(8), nullable=False),
        sa.Column("lamp", sa.String(8), nullable=False),
        sa.Column("width_px", sa.Integer, nullable=False),
        sa.Column("height_px", sa.Integer, nullable=False),
        sa.Column("taken_at", sa.String(40)),
        sa.Column("added_at", sa.String(40), nullable=False),
        sa.Column("corners_px", sa.JSON, nullable=False),
        sa.Column("quality", sa.JSON, nullable=False),
        sa.Column("left_out", sa.Boolean, nullable=False),
    )
    op.create_table(
        "reading",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("panel_id", sa.String(32), sa.ForeignKey("panel.id", ondelete="RESTRICT"), nullable=False, index=True),
        sa.Column("photo_id", sa.String(32), sa.ForeignKey("photo.id", ondelete="RESTRICT"), nullable=False, index=True),
        sa.Column("stage", sa.String(8), nullable=False),
        sa.Column("reader", sa.String(24), nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("result", sa.JSON, nullable=False),
    )
    op.create_table("setting", sa.Column("key", sa.String(40), primary_key=True), sa.Column("value", sa.JSON, nullable=False))
    op.create_table(
        "change",
        sa.Column("number", sa.Integer, primary_key=True, autoincrement=True),
        sa.Column("table_name", sa.String(24), nullable=False),
        sa.Column("row_id", sa.String(32), nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("before", sa.JSON, nullable=False),
        sa.Index("ix_change_row", "table_name", "row_id"),
    )
