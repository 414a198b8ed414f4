"""Brings a database to the newest migration."""

from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import Connection, Engine

_HERE = Path(__file__).parent / "migrations"


def _config(connection: Connection) -> Config:
    config = Config()
    config.set_main_option("script_location", str(_HERE))
    config.attributes["connection"] = connection
    return config


def migrate(engine: Engine) -> None:
    """Runs all migrations that are missing."""
    with engine.begin() as connection:
        command.upgrade(_config(connection), "head")


def downgrade(engine: Engine) -> None:
    """Takes everything away again; used by the tests to try the way back."""
    with engine.begin() as connection:
        command.downgrade(_config(connection), "base")


def write_revision(engine: Engine, message: str) -> None:
    """Writes a new migration from the difference between tables and database; for developers."""
    with engine.begin() as connection:
        command.revision(_config(connection), message, autogenerate=True)
