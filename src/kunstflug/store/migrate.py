"""Brings a database to the newest migration; killed on the way, it goes on at the next start."""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Final

from alembic import command
from alembic.config import Config
from alembic.migration import MigrationContext
from sqlalchemy import Connection, Engine, text

from kunstflug.core.quantity.errors import StartupProblem
from kunstflug.store.database import patient
from kunstflug.store.revision import MIGRATIONS, is_known, newest_revision

_LOCK: Final = "kunstflug migration"
_LOCK_S: Final = 60


def _config(connection: Connection | None = None) -> Config:
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    config.attributes["connection"] = connection
    return config


def migrate(engine: Engine, revision: str = "head") -> None:
    """Runs all migrations that are missing, to the newest or to a certain one.

    MariaDB commits each change of a table by itself, so every step of a migration can be repeated: killed anywhere,
    the next start runs the same migration again over what is there.

    Raises
    ------
    StartupProblem : the database was made by a newer program.
    """
    with locked(engine) as connection:
        found = MigrationContext.configure(connection).get_current_revision()
        if found is not None and not is_known(found):
            raise StartupProblem(
                f"the data was written by a newer Kunstflug (its tables are revision {found}, this program knows up to "
                f"{newest_revision()}); start the newer program, or use another folder. Nothing was changed"
            )
        command.upgrade(_config(connection), revision)


def downgrade(engine: Engine, revision: str = "base") -> None:
    """Takes everything away again, or back to a revision; used by the tests to try the way back."""
    with locked(engine) as connection:
        command.downgrade(_config(connection), revision)


def write_revision(engine: Engine, message: str) -> None:
    """Writes a new migration from the difference between tables and database; for developers."""
    with engine.begin() as connection:
        command.revision(_config(connection), message, autogenerate=True)


@contextmanager
def locked(engine: Engine) -> Iterator[Connection]:
    """A connection that alone migrates, however many programs start on one database."""
    with engine.connect() as guard, engine.begin() as connection, patient(guard), patient(connection):
        if guard.scalar(text("SELECT GET_LOCK(:name, :wait)"), {"name": _LOCK, "wait": _LOCK_S}) != 1:
            raise StartupProblem("another program is migrating this database; try again when it is done")
        try:
            yield connection
        finally:
            guard.scalar(text("SELECT RELEASE_LOCK(:name)"), {"name": _LOCK})
