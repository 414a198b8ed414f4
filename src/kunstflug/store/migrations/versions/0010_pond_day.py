"""ticks and plans of pond days"""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "day_ticks",
        sa.Column("owner_id", sa.Integer(), nullable=False),
        sa.Column("day", sa.String(length=10), nullable=False),
        sa.Column("boat_id", sa.Integer(), nullable=False),
        sa.Column("check", sa.String(length=40), nullable=False),
        sa.Column("done", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(["boat_id"], ["boats.id"], name="fk_day_ticks_boat_id"),
        sa.ForeignKeyConstraint(["owner_id"], ["racers.id"], name="fk_day_ticks_owner_id"),
        sa.PrimaryKeyConstraint("owner_id", "day", "boat_id", "check", name="pk_day_ticks"),
        if_not_exists=True,
    )
    op.create_table(
        "pond_days",
        sa.Column("owner_id", sa.Integer(), nullable=False),
        sa.Column("day", sa.String(length=10), nullable=False),
        sa.Column("plan", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(["owner_id"], ["racers.id"], name="fk_pond_days_owner_id"),
        sa.PrimaryKeyConstraint("owner_id", "day", name="pk_pond_days"),
        if_not_exists=True,
    )


def downgrade() -> None:
    op.drop_table("pond_days", if_exists=True)
    op.drop_table("day_ticks", if_exists=True)
