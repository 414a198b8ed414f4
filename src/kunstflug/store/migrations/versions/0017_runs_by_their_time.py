"""the newest runs of a racer are found without reading all of them"""

from alembic import op

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None


def upgrade() -> None:
    columns = ["owner_id", "deleted_at", "started_at", "id"]
    op.create_index("ix_runs_owner_started", "runs", columns, unique=False, if_not_exists=True)


def downgrade() -> None:
    op.drop_index("ix_runs_owner_started", table_name="runs", if_exists=True)
