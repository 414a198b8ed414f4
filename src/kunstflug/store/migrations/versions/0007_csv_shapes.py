"""what a racer said of the columns of a CSV file, for the next of its shape; pictures of runs"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import LONGBLOB

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "csv_shapes",
        sa.Column("owner_id", sa.Integer(), nullable=False),
        sa.Column("shape", sa.String(length=32), nullable=False),
        sa.Column("mapping", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(["owner_id"], ["racers.id"], name=op.f("fk_csv_shapes_owner_id")),
        sa.PrimaryKeyConstraint("owner_id", "shape", name=op.f("pk_csv_shapes")),
        if_not_exists=True,
    )
    op.create_table(
        "run_photos",
        sa.Column("run_id", sa.Integer(), nullable=False),
        sa.Column("width", sa.Integer(), nullable=False),
        sa.Column("height", sa.Integer(), nullable=False),
        sa.Column("jpeg", LONGBLOB(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("owner_id", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(["owner_id"], ["racers.id"], name=op.f("fk_run_photos_owner_id")),
        sa.ForeignKeyConstraint(["run_id"], ["runs.id"], name=op.f("fk_run_photos_run_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_run_photos")),
        sa.UniqueConstraint("run_id", name=op.f("uq_run_photos_run_id")),
        if_not_exists=True,
    )


def downgrade() -> None:
    op.drop_table("run_photos", if_exists=True)
    op.drop_table("csv_shapes", if_exists=True)
