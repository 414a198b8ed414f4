"""first tables"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = '0001'
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table('racers',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('name', sa.String(length=120), nullable=False),
    sa.Column('created_at', sa.DateTime(), nullable=False),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_racers')),
    sa.UniqueConstraint('name', name=op.f('uq_racers_name')),
    if_not_exists=True,
    )
    op.create_table('boats',
    sa.Column('name', sa.String(length=120), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('owner_id', sa.Integer(), nullable=False),
    sa.Column('created_at', sa.DateTime(), nullable=False),
    sa.ForeignKeyConstraint(['owner_id'], ['racers.id'], name=op.f('fk_boats_owner_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_boats')),
    if_not_exists=True,
    )
    op.create_table('parts',
    sa.Column('kind', sa.String(length=20), nullable=False),
    sa.Column('name', sa.String(length=120), nullable=False),
    sa.Column('document', sa.JSON(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('owner_id', sa.Integer(), nullable=False),
    sa.Column('created_at', sa.DateTime(), nullable=False),
    sa.ForeignKeyConstraint(['owner_id'], ['racers.id'], name=op.f('fk_parts_owner_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_parts')),
    if_not_exists=True,
    )
    op.create_index('ix_parts_owner_kind', 'parts', ['owner_id', 'kind'], unique=False, if_not_exists=True)
    op.create_table('setups',
    sa.Column('boat_id', sa.Integer(), nullable=False),
    sa.Column('parent_id', sa.Integer(), nullable=True),
    sa.Column('name', sa.String(length=120), nullable=False),
    sa.Column('document', sa.JSON(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('owner_id', sa.Integer(), nullable=False),
    sa.Column('created_at', sa.DateTime(), nullable=False),
    sa.ForeignKeyConstraint(['boat_id'], ['boats.id'], name=op.f('fk_setups_boat_id')),
    sa.ForeignKeyConstraint(['owner_id'], ['racers.id'], name=op.f('fk_setups_owner_id')),
    sa.ForeignKeyConstraint(['parent_id'], ['setups.id'], name=op.f('fk_setups_parent_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_setups')),
    if_not_exists=True,
    )
    op.create_table('forecasts',
    sa.Column('setup_id', sa.Integer(), nullable=False),
    sa.Column('model_version', sa.String(length=20), nullable=False),
    sa.Column('inputs', sa.JSON(), nullable=False),
    sa.Column('result', sa.JSON(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('owner_id', sa.Integer(), nullable=False),
    sa.Column('created_at', sa.DateTime(), nullable=False),
    sa.ForeignKeyConstraint(['owner_id'], ['racers.id'], name=op.f('fk_forecasts_owner_id')),
    sa.ForeignKeyConstraint(['setup_id'], ['setups.id'], name=op.f('fk_forecasts_setup_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_forecasts')),
    if_not_exists=True,
    )
    op.create_table('runs',
    sa.Column('setup_id', sa.Integer(), nullable=False),
    sa.Column('started_at', sa.DateTime(), nullable=False),
    sa.Column('source', sa.String(length=200), nullable=False),
    sa.Column('conditions', sa.JSON(), nullable=False),
    sa.Column('note', sa.Text(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('owner_id', sa.Integer(), nullable=False),
    sa.Column('created_at', sa.DateTime(), nullable=False),
    sa.ForeignKeyConstraint(['owner_id'], ['racers.id'], name=op.f('fk_runs_owner_id')),
    sa.ForeignKeyConstraint(['setup_id'], ['setups.id'], name=op.f('fk_runs_setup_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_runs')),
    if_not_exists=True,
    )
    op.create_table('setup_parts',
    sa.Column('setup_id', sa.Integer(), nullable=False),
    sa.Column('kind', sa.String(length=20), nullable=False),
    sa.Column('part_id', sa.Integer(), nullable=False),
    sa.Column('owner_id', sa.Integer(), nullable=False),
    sa.ForeignKeyConstraint(['owner_id'], ['racers.id'], name=op.f('fk_setup_parts_owner_id')),
    sa.ForeignKeyConstraint(['part_id'], ['parts.id'], name=op.f('fk_setup_parts_part_id')),
    sa.ForeignKeyConstraint(['setup_id'], ['setups.id'], name=op.f('fk_setup_parts_setup_id')),
    sa.PrimaryKeyConstraint('setup_id', 'kind', name=op.f('pk_setup_parts')),
    if_not_exists=True,
    )
    op.create_table('controller_logs',
    sa.Column('run_id', sa.Integer(), nullable=False),
    sa.Column('samples', sa.Integer(), nullable=False),
    sa.Column('block', sa.LargeBinary().with_variant(mysql.LONGBLOB(), 'mariadb').with_variant(mysql.LONGBLOB(), 'mysql'), nullable=False),
    sa.Column('summary', sa.JSON(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('owner_id', sa.Integer(), nullable=False),
    sa.Column('created_at', sa.DateTime(), nullable=False),
    sa.ForeignKeyConstraint(['owner_id'], ['racers.id'], name=op.f('fk_controller_logs_owner_id')),
    sa.ForeignKeyConstraint(['run_id'], ['runs.id'], name=op.f('fk_controller_logs_run_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_controller_logs')),
    sa.UniqueConstraint('run_id', name=op.f('uq_controller_logs_run_id')),
    if_not_exists=True,
    )
    op.create_table('observations',
    sa.Column('run_id', sa.Integer(), nullable=False),
    sa.Column('words', sa.String(length=500), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('owner_id', sa.Integer(), nullable=False),
    sa.Column('created_at', sa.DateTime(), nullable=False),
    sa.ForeignKeyConstraint(['owner_id'], ['racers.id'], name=op.f('fk_observations_owner_id')),
    sa.ForeignKeyConstraint(['run_id'], ['runs.id'], name=op.f('fk_observations_run_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_observations')),
    if_not_exists=True,
    )
    op.create_table('temperature_readings',
    sa.Column('run_id', sa.Integer(), nullable=False),
    sa.Column('position', sa.Integer(), nullable=False),
    sa.Column('place', sa.String(length=40), nullable=False),
    sa.Column('celsius', sa.Double(), nullable=False),
    sa.Column('typed', sa.JSON(), nullable=False),
    sa.Column('minutes_after', sa.Double(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('owner_id', sa.Integer(), nullable=False),
    sa.Column('created_at', sa.DateTime(), nullable=False),
    sa.ForeignKeyConstraint(['owner_id'], ['racers.id'], name=op.f('fk_temperature_readings_owner_id')),
    sa.ForeignKeyConstraint(['run_id'], ['runs.id'], name=op.f('fk_temperature_readings_run_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_temperature_readings')),
    if_not_exists=True,
    )
    op.create_table('tracks',
    sa.Column('run_id', sa.Integer(), nullable=False),
    sa.Column('format', sa.String(length=20), nullable=False),
    sa.Column('samples', sa.Integer(), nullable=False),
    sa.Column('block', sa.LargeBinary().with_variant(mysql.LONGBLOB(), 'mariadb').with_variant(mysql.LONGBLOB(), 'mysql'), nullable=False),
    sa.Column('summary', sa.JSON(), nullable=False),
    sa.Column('damages', sa.JSON(), nullable=False),
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('owner_id', sa.Integer(), nullable=False),
    sa.Column('created_at', sa.DateTime(), nullable=False),
    sa.ForeignKeyConstraint(['owner_id'], ['racers.id'], name=op.f('fk_tracks_owner_id')),
    sa.ForeignKeyConstraint(['run_id'], ['runs.id'], name=op.f('fk_tracks_run_id')),
    sa.PrimaryKeyConstraint('id', name=op.f('pk_tracks')),
    sa.UniqueConstraint('run_id', name=op.f('uq_tracks_run_id')),
    if_not_exists=True,
    )


def downgrade() -> None:
    op.drop_table('tracks', if_exists=True)
    op.drop_table('temperature_readings', if_exists=True)
    op.drop_table('observations', if_exists=True)
    op.drop_table('controller_logs', if_exists=True)
    op.drop_table('setup_parts', if_exists=True)
    op.drop_table('runs', if_exists=True)
    op.drop_table('forecasts', if_exists=True)
    op.drop_table('setups', if_exists=True)
    op.drop_table('parts', if_exists=True)
    op.drop_table('boats', if_exists=True)
    op.drop_table('racers', if_exists=True)
