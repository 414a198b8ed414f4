"""accounts, sharing, the club's classes"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None


def _owned(table, *columns, unique=()):
    op.create_table(
        table,
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("owner_id", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        *columns,
        sa.ForeignKeyConstraint(["owner_id"], ["racers.id"], name=f"fk_{table}_owner_id"),
        sa.PrimaryKeyConstraint("id", name=f"pk_{table}"),
        *[sa.UniqueConstraint(*keys, name=f"uq_{table}_{keys[0]}") for keys in unique],
        if_not_exists=True,
    )


def _to(table, column, other="racers.id"):
    return sa.ForeignKeyConstraint([column], [other], name=f"fk_{table}_{column}")


def _columns(table):
    return {column["name"] for column in sa.inspect(op.get_bind()).get_columns(table)}


def upgrade() -> None:
    there = _columns("racers")
    for column in (
        sa.Column("role", sa.String(length=10), nullable=False, server_default="racer"),
        sa.Column("password_hash", sa.String(length=200), nullable=True),
        sa.Column("disabled_at", sa.DateTime(), nullable=True),
    ):
        if column.name not in there:
            op.add_column("racers", column)
    there = _columns("devices")
    for column in (
        sa.Column("kind", sa.String(length=10), nullable=False, server_default="phone"),
        sa.Column("expires_at", sa.DateTime(), nullable=True),
    ):
        if column.name not in there:
            op.add_column("devices", column)
    _owned(
        "invitations",
        sa.Column("token_hash", sa.String(length=64), nullable=False),
        sa.Column("role", sa.String(length=10), nullable=False),
        sa.Column("racer_id", sa.Integer(), nullable=True),
        sa.Column("expires_at", sa.DateTime(), nullable=False),
        _to("invitations", "racer_id"),
        unique=[("token_hash",)],
    )
    _owned("recovery_codes", sa.Column("code_hash", sa.String(length=64), nullable=False), unique=[("code_hash",)])
    _owned(
        "passkeys",
        sa.Column("name", sa.String(length=60), nullable=False),
        sa.Column("credential_hash", sa.String(length=64), nullable=False),
        sa.Column("credential", mysql.LONGBLOB(), nullable=False),
        sa.Column("public_key", mysql.LONGBLOB(), nullable=False),
        sa.Column("signs", sa.Integer(), nullable=False),
        unique=[("credential_hash",)],
    )
    op.create_table(
        "challenges",
        sa.Column("challenge", sa.String(length=64), nullable=False),
        sa.Column("racer_id", sa.Integer(), nullable=True),
        sa.Column("expires_at", sa.DateTime(), nullable=False),
        _to("challenges", "racer_id"),
        sa.PrimaryKeyConstraint("challenge", name="pk_challenges"),
        if_not_exists=True,
    )
    op.create_table(
        "attempts",
        sa.Column("key", sa.String(length=64), nullable=False),
        sa.Column("times", sa.Integer(), nullable=False),
        sa.Column("until", sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint("key", name="pk_attempts"),
        if_not_exists=True,
    )
    op.create_table(
        "audit_entries",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("racer_id", sa.Integer(), nullable=True),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("what", sa.String(length=30), nullable=False),
        sa.Column("words", sa.String(length=200), nullable=False),
        sa.Column("address", sa.String(length=60), nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_audit_entries"),
        if_not_exists=True,
    )
    op.create_index("ix_audit_entries_racer_id", "audit_entries", ["racer_id"], if_not_exists=True)
    _owned(
        "shares",
        sa.Column("boat_id", sa.Integer(), nullable=False),
        sa.Column("with_id", sa.Integer(), nullable=True),
        sa.Column("token_hash", sa.String(length=64), nullable=True),
        sa.Column("writes", sa.Boolean(), nullable=False),
        _to("shares", "boat_id", "boats.id"),
        _to("shares", "with_id"),
        sa.UniqueConstraint("token_hash", name="uq_shares_token_hash"),
        unique=[("boat_id", "with_id")],
    )
    _owned(
        "class_rules",
        sa.Column("name", sa.String(length=60), nullable=False),
        sa.Column("rule", sa.JSON(), nullable=False),
        unique=[("owner_id", "name")],
    )


def downgrade() -> None:
    for table in ("class_rules", "shares", "audit_entries", "attempts", "challenges", "passkeys", "recovery_codes", "invitations"):
        op.drop_table(table, if_exists=True)
    op.execute("DELETE FROM devices WHERE kind <> 'phone'") if "kind" in _columns("devices") else None
    for table, names in (("devices", ("kind", "expires_at")), ("racers", ("role", "password_hash", "disabled_at"))):
        for name in names:
            if name in _columns(table):
                op.drop_column(table, name)
