"""keys of boats, setups, runs and tub tests that hold across databases"""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None

KEYED = ("boats", "setups", "runs", "tub_tests")


def upgrade() -> None:
    for table in KEYED:
        op.add_column(table, sa.Column("uid", sa.String(length=32), nullable=True), if_not_exists=True)
        op.execute(f"UPDATE {table} SET uid = REPLACE(UUID(), '-', '') WHERE uid IS NULL")
        op.alter_column(table, "uid", existing_type=sa.String(length=32), nullable=False)
        op.create_index(f"ix_{table}_owner_uid", table, ["owner_id", "uid"], unique=True, if_not_exists=True)


def downgrade() -> None:
    for table in KEYED:
        op.create_index(f"fk_{table}_owner_id", table, ["owner_id"], if_not_exists=True)  # the foreign key needs one
        op.drop_index(f"ix_{table}_owner_uid", table_name=table, if_exists=True)
        op.drop_column(table, "uid", if_exists=True)
