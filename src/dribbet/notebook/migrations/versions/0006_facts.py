"""What was seen of a photograph, and advice gone against, as facts instead of sentences; pre-tests of a set of colours."""

import json

import sqlalchemy as sa
from alembic import op

from dribbet.notebook import told_before

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    op.create_table(
        "survey",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("number", sa.Integer, nullable=False, server_default="0"),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("materials", sa.JSON, nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("finished", sa.Boolean, nullable=False),
    )
    connection = op.get_bind()
    for row, quality in connection.exec_driver_sql("SELECT id, quality FROM photo").fetchall():
        signs = [s for s in (told_before.seen(line) for line in json.loads(quality)) if s is not None]
        connection.exec_driver_sql("UPDATE photo SET quality = ? WHERE id = ?", (json.dumps(signs), row))
    for row, insisted in connection.exec_driver_sql("SELECT id, insisted FROM series WHERE insisted != '[]'").fetchall():
        told = [told_before.insisted(one) for one in json.loads(insisted)]
        connection.exec_driver_sql("UPDATE series SET insisted = ? WHERE id = ?", (json.dumps(told), row))
