"""A bake's own moments: when the oven was hot, and when its door was set ajar."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    op.add_column("treated", sa.Column("hot_at", sa.String(40)))
    op.add_column("treated", sa.Column("ajar_at", sa.String(40)))
