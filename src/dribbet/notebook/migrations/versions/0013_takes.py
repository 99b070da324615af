"""Photographs of a panel that was photographed again stand beside the first."""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"


def upgrade() -> None:
    op.add_column("photo", sa.Column("take", sa.Integer, nullable=False, server_default="0"))
