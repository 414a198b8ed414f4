"""aim of a boat"""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("boats", sa.Column("aim", sa.JSON(), nullable=True), if_not_exists=True)


def downgrade() -> None:
    op.drop_column("boats", "aim", if_exists=True)
