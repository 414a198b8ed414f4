"""forecasts of runs are worked out from what was known then, and not kept"""

import sqlalchemy as sa
from alembic import op

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.drop_table("run_forecasts", if_exists=True)


def downgrade() -> None:
    op.create_table(
        "run_forecasts",
        sa.Column("run_id", sa.Integer(), nullable=False),
        sa.Column("model_version", sa.String(length=20), nullable=False),
        sa.Column("state_hash", sa.String(length=64), nullable=False),
        sa.Column("result", sa.JSON(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.Column("owner_id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(["owner_id"], ["racers.id"], name=op.f("fk_run_forecasts_owner_id")),
        sa.ForeignKeyConstraint(["run_id"], ["runs.id"], name=op.f("fk_run_forecasts_run_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_run_forecasts")),
        sa.UniqueConstraint("run_id", name=op.f("uq_run_forecasts_run_id")),
        if_not_exists=True,
    )
