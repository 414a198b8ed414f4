"""Alembic's entry: the connection is handed in, so that no address stands in a file."""

from alembic import context

from kunstflug.store.tables import Base

connection = context.config.attributes["connection"]
context.configure(connection=connection, target_metadata=Base.metadata, compare_type=True)
with context.begin_transaction():
    context.run_migrations()
