"""what a racer types of a run: peaks off a display, current, charge put back, damage"""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("runs", sa.Column("typed", sa.JSON(), nullable=True), if_not_exists=True)


def downgrade() -> None:
    op.drop_column("runs", "typed", if_exists=True)
