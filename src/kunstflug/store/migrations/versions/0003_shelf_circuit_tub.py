"""state, price and history of parts; water circuit of a boat; ticks of a setup's build list; tub tests"""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("parts", sa.Column("state", sa.String(length=20), nullable=False, server_default="in use"), if_not_exists=True)
    op.add_column("parts", sa.Column("pieces", sa.Integer(), nullable=False, server_default="1"), if_not_exists=True)
    op.add_column("parts", sa.Column("price", sa.Double(), nullable=True), if_not_exists=True)
    op.add_column("parts", sa.Column("record", sa.JSON(), nullable=True), if_not_exists=True)
    op.execute("UPDATE parts SET record = '{}' WHERE record IS NULL")
    op.alter_column("parts", "record", existing_type=sa.JSON(), nullable=False)
    op.add_column("boats", sa.Column("circuit", sa.JSON(), nullable=True), if_not_exists=True)
    op.add_column("setups", sa.Column("ticks", sa.JSON(), nullable=True), if_not_exists=True)
    op.create_table(
        "part_events",
        sa.Column("part_id", sa.Integer(), nullable=False),
        sa.Column("happened_at", sa.DateTime(), nullable=False),
        sa.Column("kind", sa.String(length=20), nullable=False),
        sa.Column("words", sa.String(length=1000), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("owner_id", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(["owner_id"], ["racers.id"], name=op.f("fk_part_events_owner_id")),
        sa.ForeignKeyConstraint(["part_id"], ["parts.id"], name=op.f("fk_part_events_part_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_part_events")),
        if_not_exists=True,
    )
    op.create_table(
        "tub_tests",
        sa.Column("setup_id", sa.Integer(), nullable=False),
        sa.Column("water_c", sa.Double(), nullable=False),
        sa.Column("air_c", sa.Double(), nullable=False),
        sa.Column("readings", sa.JSON(), nullable=False),
        sa.Column("outcome", sa.JSON(), nullable=False),
        sa.Column("note", sa.String(length=1000), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("owner_id", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(["owner_id"], ["racers.id"], name=op.f("fk_tub_tests_owner_id")),
        sa.ForeignKeyConstraint(["setup_id"], ["setups.id"], name=op.f("fk_tub_tests_setup_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_tub_tests")),
        if_not_exists=True,
    )


def downgrade() -> None:
    op.drop_table("tub_tests", if_exists=True)
    op.drop_table("part_events", if_exists=True)
    op.drop_column("setups", "ticks", if_exists=True)
    op.drop_column("boats", "circuit", if_exists=True)
    for name in ("record", "price", "pieces", "state"):
        op.drop_column("parts", name, if_exists=True)
