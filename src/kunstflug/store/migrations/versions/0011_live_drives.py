"""boats that are followed while they are driven, what came of their devices; phones that may talk to us"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "live_drives",
        sa.Column("setup_id", sa.Integer(), nullable=False),
        sa.Column("source", sa.JSON(), nullable=False),
        sa.Column("relay", sa.String(length=40), nullable=True),
        sa.Column("ended_at", sa.DateTime(), nullable=True),
        sa.Column("run_id", sa.Integer(), nullable=True),
        sa.Column("soak", sa.JSON(), nullable=True),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("owner_id", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(["setup_id"], ["setups.id"], name="fk_live_drives_setup_id"),
        sa.ForeignKeyConstraint(["run_id"], ["runs.id"], name="fk_live_drives_run_id"),
        sa.ForeignKeyConstraint(["owner_id"], ["racers.id"], name="fk_live_drives_owner_id"),
        sa.PrimaryKeyConstraint("id", name="pk_live_drives"),
        if_not_exists=True,
    )
    op.create_table(
        "live_blocks",
        sa.Column("drive_id", sa.Integer(), nullable=False),
        sa.Column("part", sa.String(length=32), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("lines", sa.Integer(), nullable=False),
        sa.Column("block", mysql.LONGBLOB(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("owner_id", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(["drive_id"], ["live_drives.id"], name="fk_live_blocks_drive_id"),
        sa.ForeignKeyConstraint(["owner_id"], ["racers.id"], name="fk_live_blocks_owner_id"),
        sa.PrimaryKeyConstraint("id", name="pk_live_blocks"),
        sa.UniqueConstraint("drive_id", "part", "number", name="uq_live_blocks_drive_id"),
        if_not_exists=True,
    )
    op.create_table(
        "pairings",
        sa.Column("code_hash", sa.String(length=64), nullable=False),
        sa.Column("expires_at", sa.DateTime(), nullable=False),
        sa.Column("tries", sa.Integer(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("owner_id", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(["owner_id"], ["racers.id"], name="fk_pairings_owner_id"),
        sa.PrimaryKeyConstraint("id", name="pk_pairings"),
        if_not_exists=True,
    )
    op.create_table(
        "devices",
        sa.Column("name", sa.String(length=60), nullable=False),
        sa.Column("token_hash", sa.String(length=64), nullable=False),
        sa.Column("seen_at", sa.DateTime(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("owner_id", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(["owner_id"], ["racers.id"], name="fk_devices_owner_id"),
        sa.PrimaryKeyConstraint("id", name="pk_devices"),
        sa.UniqueConstraint("token_hash", name="uq_devices_token_hash"),
        if_not_exists=True,
    )


def downgrade() -> None:
    op.drop_table("devices", if_exists=True)
    op.drop_table("pairings", if_exists=True)
    op.drop_table("live_blocks", if_exists=True)
    op.drop_table("live_drives", if_exists=True)
