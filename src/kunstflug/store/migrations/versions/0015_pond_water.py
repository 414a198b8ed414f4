"""what was read of a pond's water through the year"""

import sqlalchemy as sa
from alembic import op

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("ponds", sa.Column("water", sa.JSON(), nullable=True), if_not_exists=True)


def downgrade() -> None:
    op.drop_column("ponds", "water", if_exists=True)
