"""What a closed series said, as facts; sentences of older ones stay as they were told."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"


def upgrade() -> None:
    op.add_column("series", sa.Column("concluded", sa.JSON, nullable=False, server_default="[]"))
