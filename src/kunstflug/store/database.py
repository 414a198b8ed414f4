"""Engine, sessions, and what a database error means."""

from collections.abc import Iterator
from contextlib import contextmanager

from sqlalchemy import create_engine, text
from sqlalchemy.exc import DBAPIError, InterfaceError, OperationalError
from sqlalchemy.orm import Session, sessionmaker

from kunstflug.core.errors import StoreUnavailable


class Store:
    """One database."""

    def __init__(self, url: str) -> None:
        # pre_ping: a server that went away and came back costs one retry, not an error
        self.engine = create_engine(
            url, pool_pre_ping=True, pool_recycle=3600, connect_args={"connect_timeout": 3, "read_timeout": 30}
        )
        self._sessions = sessionmaker(self.engine, expire_on_commit=False)

    @contextmanager
    def transaction(self) -> Iterator[Session]:
        """A session that commits at the end, or rolls everything back.

        Raises
        ------
        StoreUnavailable : the server does not answer, or went away on the way; nothing was saved.
        """
        try:
            with self._sessions.begin() as session:
                yield session
        except (OperationalError, InterfaceError) as error:
            raise StoreUnavailable("the database does not answer; nothing was saved, your input is kept") from error
        except DBAPIError as error:
            if error.connection_invalidated:
                raise StoreUnavailable("the database went away; nothing was saved, your input is kept") from error
            raise

    def answers(self) -> bool:
        """Whether the server answers."""
        try:
            with self.engine.connect() as connection:
                connection.execute(text("select 1"))
            return True
        except DBAPIError:
            return False

    def close(self) -> None:
        """Closes all connections."""
        self.engine.dispose()
