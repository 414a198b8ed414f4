"""a mark for each racer that moves with what teaches"""

import sqlalchemy as sa
from alembic import op

revision = "0018"
down_revision = "0017"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "change_marks",
        sa.Column("owner_id", sa.Integer(), nullable=False),
        sa.Column("mark", sa.String(32), nullable=False),
        sa.ForeignKeyConstraint(["owner_id"], ["racers.id"], name="fk_change_marks_owner_id"),
        sa.PrimaryKeyConstraint("owner_id", name="pk_change_marks"),
        if_not_exists=True,
    )
    # A log that is there already is like no other.
    op.execute("INSERT IGNORE INTO change_marks (owner_id, mark) SELECT id, REPLACE(UUID(), '-', '') FROM racers")


def downgrade() -> None:
    op.drop_table("change_marks", if_exists=True)
