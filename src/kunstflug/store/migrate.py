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


def migrate(engine: Engine, revision: str = "head") -> None:
    """Runs all migrations that are missing, to the newest or to a certain one."""
    with engine.begin() as connection:
        command.upgrade(_config(connection), revision)


def downgrade(engine: Engine, revision: str = "base") -> None:
    """Takes everything away again, or back to a revision; used by the tests to try the way back."""
    with engine.begin() as connection:
        command.downgrade(_config(connection), revision)


def write_revision(engine: Engine, message: str) -> None:
    """Writes a new migration from the difference between tables and database; for developers."""
    with engine.begin() as connection:
        command.revision(_config(connection), message, autogenerate=True)
