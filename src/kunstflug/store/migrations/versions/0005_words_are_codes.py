"""kinds of parts and verdicts are codes, not words"""

from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("UPDATE parts SET kind = 'receiver-pack' WHERE kind = 'receiver pack'")
    op.execute("UPDATE forecasts SET verdict = 'short' WHERE verdict = 'short runs'")
    op.execute("UPDATE forecasts SET verdict = 'none' WHERE speed_mps IS NULL")


def downgrade() -> None:
    op.execute("UPDATE parts SET kind = 'receiver pack' WHERE kind = 'receiver-pack'")
    op.execute("UPDATE forecasts SET verdict = 'short runs' WHERE verdict = 'short'")
    op.execute("UPDATE forecasts SET verdict = 'stop' WHERE verdict = 'none'")
