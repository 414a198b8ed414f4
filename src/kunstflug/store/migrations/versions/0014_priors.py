"""summaries that racers share with their club, and the pool of them"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for table in ("summaries", "pools"):
        op.create_table(
            table,
            sa.Column("id", sa.Integer(), nullable=False),
            sa.Column("owner_id", sa.Integer(), nullable=False),
            sa.Column("created_at", sa.DateTime(), nullable=False),
            sa.Column("made_at", mysql.DATETIME(fsp=6), nullable=True),
            sa.Column("document", sa.JSON(), nullable=True),
            sa.ForeignKeyConstraint(["owner_id"], ["racers.id"], name=f"fk_{table}_owner_id"),
            sa.PrimaryKeyConstraint("id", name=f"pk_{table}"),
            sa.UniqueConstraint("owner_id", name=f"uq_{table}_owner_id"),
            if_not_exists=True,
        )


def downgrade() -> None:
    for table in ("pools", "summaries"):
        op.drop_table(table, if_exists=True)
