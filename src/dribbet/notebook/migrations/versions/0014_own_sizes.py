"""A panel may have the size that a person measured, beside the planned one."""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"


def upgrade() -> None:
    for side in ("width_m", "height_m"):
        op.add_column("panel", sa.Column(side, sa.Float, nullable=False, server_default="0"))
