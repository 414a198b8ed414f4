"""a racer's own rules of thumb for trim"""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("racers", sa.Column("trim_rules", sa.JSON(), nullable=True), if_not_exists=True)


def downgrade() -> None:
    op.drop_column("racers", "trim_rules", if_exists=True)
