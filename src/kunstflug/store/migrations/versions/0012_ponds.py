"""ponds with their shores"""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "ponds",
        sa.Column("name", sa.String(length=60), nullable=False),
        sa.Column("shore", sa.JSON(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("owner_id", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(["owner_id"], ["racers.id"], name="fk_ponds_owner_id"),
        sa.PrimaryKeyConstraint("id", name="pk_ponds"),
        sa.UniqueConstraint("owner_id", "name", name="uq_ponds_owner_id"),
        if_not_exists=True,
    )


def downgrade() -> None:
    op.drop_table("ponds", if_exists=True)
