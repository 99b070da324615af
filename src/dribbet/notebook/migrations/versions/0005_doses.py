"""Drops as they were counted, prediluted drops, and containers known by a key that no renaming changes.

Written out in full: a migration never imports the present schema. A container's key is the name it has now, because that is what
recipes, ledgers and bottles hold.
"""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"


def upgrade() -> None:
    op.add_column("mix", sa.Column("drop_share", sa.Float, nullable=False, server_default="1"))
    op.add_column("weighing", sa.Column("drops", sa.Integer, nullable=False, server_default="0"))
    op.add_column("material", sa.Column("key", sa.String(80), nullable=False, server_default=""))
    connection = op.get_bind()
    connection.exec_driver_sql("UPDATE material SET key = name")
    connection.exec_driver_sql(
        "UPDATE weighing SET drops = (SELECT mix.drops FROM mix WHERE mix.id = weighing.mix_id) WHERE source = 'counted' "
        "AND ingredient = (SELECT mix.drop_material FROM mix WHERE mix.id = weighing.mix_id)"
    )
    op.create_index("material_key", "material", ["key"], unique=True)
