"""bin and archive; ticks a row each; headlines beside forecasts and runs; idempotency; forecasts of runs"""

import json

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None

BINNED = ("boats", "parts", "setups", "runs", "tub_tests", "controller_logs")


def upgrade() -> None:
    for table in BINNED:
        op.add_column(table, sa.Column("deleted_at", mysql.DATETIME(fsp=6), nullable=True), if_not_exists=True)
    op.add_column("boats", sa.Column("archived_at", sa.DateTime(), nullable=True), if_not_exists=True)
    demo = sa.Column("demo", sa.String(length=20), nullable=False, server_default="")
    op.add_column("racers", demo, if_not_exists=True)
    # Until now the demo was the only way to start: boats that are there are a demo that was loaded.
    op.execute("UPDATE racers SET demo = 'loaded' WHERE demo = '' AND id IN (SELECT owner_id FROM boats)")
    _parts()
    _forecasts()
    _runs()
    _ticks()
    op.create_table(
        "run_forecasts",
        sa.Column("run_id", sa.Integer(), nullable=False),
        sa.Column("model_version", sa.String(length=20), nullable=False),
        sa.Column("state_hash", sa.String(length=64), nullable=False),
        sa.Column("result", sa.JSON(), nullable=False),
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("owner_id", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(["owner_id"], ["racers.id"], name=op.f("fk_run_forecasts_owner_id")),
        sa.ForeignKeyConstraint(["run_id"], ["runs.id"], name=op.f("fk_run_forecasts_run_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_run_forecasts")),
        sa.UniqueConstraint("run_id", name=op.f("uq_run_forecasts_run_id")),
        if_not_exists=True,
    )
    op.create_table(
        "idempotency_keys",
        sa.Column("owner_id", sa.Integer(), nullable=False),
        sa.Column("key", sa.String(length=80), nullable=False),
        sa.Column("digest", sa.String(length=64), nullable=False),
        sa.Column("made_id", sa.Integer(), nullable=True),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(["owner_id"], ["racers.id"], name=op.f("fk_idempotency_keys_owner_id")),
        sa.PrimaryKeyConstraint("owner_id", "key", name=op.f("pk_idempotency_keys")),
        if_not_exists=True,
    )


def _parts() -> None:
    op.add_column("parts", sa.Column("uid", sa.String(length=32), nullable=True), if_not_exists=True)
    op.execute("UPDATE parts SET uid = REPLACE(UUID(), '-', '') WHERE uid IS NULL")
    op.alter_column("parts", "uid", existing_type=sa.String(length=32), nullable=False)
    op.create_index("ix_parts_owner_uid", "parts", ["owner_id", "uid"], unique=True, if_not_exists=True)


def _forecasts() -> None:
    for name in ("speed_mps", "low_mps", "high_mps"):
        op.add_column("forecasts", sa.Column(name, sa.Double(), nullable=True), if_not_exists=True)
    verdict = sa.Column("verdict", sa.String(length=20), nullable=False, server_default="")
    op.add_column("forecasts", verdict, if_not_exists=True)
    op.execute(
        "UPDATE forecasts SET verdict = COALESCE(JSON_VALUE(result, '$.verdict'), ''), "
        "speed_mps = JSON_VALUE(result, '$.point.speed_mps.value'), "
        "low_mps = JSON_VALUE(result, '$.point.speed_mps.low'), "
        "high_mps = JSON_VALUE(result, '$.point.speed_mps.high') WHERE verdict = ''"
    )


def _runs() -> None:
    op.add_column("runs", sa.Column("boat_id", sa.Integer(), nullable=True), if_not_exists=True)
    op.add_column("runs", sa.Column("content_hash", sa.String(length=64), nullable=True), if_not_exists=True)
    op.add_column("runs", sa.Column("best_mps", sa.Double(), nullable=True), if_not_exists=True)
    op.add_column("runs", sa.Column("duration_s", sa.Double(), nullable=True), if_not_exists=True)
    op.execute("UPDATE runs JOIN setups ON setups.id = runs.setup_id SET runs.boat_id = setups.boat_id")
    op.execute(
        "UPDATE runs JOIN tracks ON tracks.run_id = runs.id SET "
        "runs.best_mps = COALESCE(JSON_VALUE(tracks.summary, '$.both_ways_mps'), "
        "JSON_VALUE(tracks.summary, '$.best_2s_mps')), "
        "runs.duration_s = JSON_VALUE(tracks.summary, '$.duration_s') WHERE runs.duration_s IS NULL"
    )
    op.alter_column("runs", "boat_id", existing_type=sa.Integer(), nullable=False)
    op.execute(
        "ALTER TABLE runs ADD CONSTRAINT fk_runs_boat_id FOREIGN KEY IF NOT EXISTS (boat_id) REFERENCES boats (id)"
    )
    for index, columns in (
        ("ix_runs_boat_started", ["boat_id", "deleted_at", "started_at", "id", "best_mps"]),
        ("ix_runs_setup_started", ["setup_id", "deleted_at", "started_at", "id", "duration_s"]),
        ("ix_runs_owner_hash", ["owner_id", "content_hash"]),
    ):
        op.create_index(index, "runs", columns, unique=False, if_not_exists=True)


def _ticks() -> None:
    op.create_table(
        "setup_ticks",
        sa.Column("setup_id", sa.Integer(), nullable=False),
        sa.Column("step", sa.String(length=60), nullable=False),
        sa.Column("owner_id", sa.Integer(), nullable=False),
        sa.Column("done", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(["owner_id"], ["racers.id"], name=op.f("fk_setup_ticks_owner_id")),
        sa.ForeignKeyConstraint(["setup_id"], ["setups.id"], name=op.f("fk_setup_ticks_setup_id")),
        sa.PrimaryKeyConstraint("setup_id", "step", name=op.f("pk_setup_ticks")),
        if_not_exists=True,
    )
    connection = op.get_bind()
    if "ticks" not in {c["name"] for c in sa.inspect(connection).get_columns("setups")}:
        return
    rows = connection.execute(sa.text("SELECT id, owner_id, ticks FROM setups WHERE ticks IS NOT NULL")).all()
    for setup_id, owner_id, ticks in rows:
        for step, done in (json.loads(ticks) or {}).items():
            connection.execute(
                sa.text("INSERT IGNORE INTO setup_ticks (setup_id, step, owner_id, done) VALUES (:s, :k, :o, :d)"),
                {"s": setup_id, "k": step[:60], "o": owner_id, "d": bool(done)},
            )
    op.drop_column("setups", "ticks", if_exists=True)


def downgrade() -> None:
    op.add_column("setups", sa.Column("ticks", sa.JSON(), nullable=True), if_not_exists=True)
    for table in ("idempotency_keys", "run_forecasts", "setup_ticks"):
        op.drop_table(table, if_exists=True)
    op.execute("ALTER TABLE runs DROP FOREIGN KEY IF EXISTS fk_runs_boat_id")
    # The foreign keys need an index of their own before ours go.
    op.create_index("fk_runs_owner_id", "runs", ["owner_id"], if_not_exists=True)
    op.create_index("fk_runs_setup_id", "runs", ["setup_id"], if_not_exists=True)
    for index in ("ix_runs_boat_started", "ix_runs_setup_started", "ix_runs_owner_hash"):
        op.drop_index(index, "runs", if_exists=True)
    for name in ("duration_s", "best_mps", "content_hash", "boat_id"):
        op.drop_column("runs", name, if_exists=True)
    for name in ("verdict", "high_mps", "low_mps", "speed_mps"):
        op.drop_column("forecasts", name, if_exists=True)
    op.drop_index("ix_parts_owner_uid", "parts", if_exists=True)
    op.drop_column("parts", "uid", if_exists=True)
    op.drop_column("boats", "archived_at", if_exists=True)
    op.drop_column("racers", "demo", if_exists=True)
    for table in BINNED:
        op.drop_column(table, "deleted_at", if_exists=True)
