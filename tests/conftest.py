"""A real MariaDB of our own for the tests, never the demo's."""

import gc
import itertools
import os
from collections.abc import Generator, Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings
from sqlalchemy import text

from kunstflug.launch.loading import seldom_collected
from kunstflug.launch.mariadb import PrivateMariaDB
from kunstflug.store.database import Store
from kunstflug.store.migrate import migrate
from kunstflug.store.revision import newest_revision
from kunstflug.store.tables import Base
from tests.amount import SLOW

# The machine may be busy: what counts is the answer, not its time. The same examples every time.
settings.register_profile(
    "kunstflug",
    deadline=None,
    max_examples=200 if SLOW else 25,
    derandomize=True,
    suppress_health_check=[HealthCheck.too_slow],
)
settings.load_profile("kunstflug")
seldom_collected()

_numbers = itertools.count(1)


def pytest_collection_finish() -> None:
    """The collector leaves out what was loaded."""
    gc.freeze()


def pytest_unconfigure() -> None:
    """No last collection."""
    gc.freeze()


@pytest.hookimpl(wrapper=True)
def pytest_runtest_setup(item: pytest.Item) -> Generator[None, None, None]:
    """What a test is prepared with is counted no more than the test itself, where that is not."""
    counting = item.config.pluginmanager.getplugin("_cov")
    uncounted = counting is not None and item.get_closest_marker("no_cover") is not None
    if not uncounted or counting.cov_controller is None:
        return (yield)
    counting.cov_controller.pause()
    try:
        return (yield)
    finally:
        counting.cov_controller.resume()


@pytest.fixture(scope="session")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[PrivateMariaDB]:
    """The server, for the whole session, in a folder of its own; how slow the disk is decides no test."""
    with PrivateMariaDB(tmp_path_factory.mktemp("mariadb"), lasting=False) as running:
        yield running


@pytest.fixture(scope="session")
def template(server: PrivateMariaDB) -> tuple[str, ...]:
    """What makes an empty database of today: the statements of one that was migrated."""
    store = Store(server.url("kunstflug_template"))
    migrate(store.engine)
    with store.engine.connect() as connection:
        names = connection.execute(text("SHOW TABLES")).scalars().all()
        made = [connection.execute(text(f"SHOW CREATE TABLE `{name}`")).all()[0][1] for name in names]
    store.close()
    return ("SET foreign_key_checks = 0", *made, f"INSERT INTO alembic_version VALUES ('{newest_revision()}')")


_used: list[str] = []
"""Databases that were emptied again: making one anew takes a fifth of a second."""


def _emptied(store: Store) -> bool:
    """Whether the database is as it was made: whatever holds rows, or has counted any, begins anew."""
    with store.engine.begin() as connection:
        connection.exec_driver_sql("SET lock_wait_timeout = 5")
        tables = set(connection.execute(text("SHOW TABLES")).scalars()) - {"alembic_version"}
        if tables != set(Base.metadata.tables):
            return False
        holds = " UNION ALL ".join(
            f"SELECT '{name}' FROM DUAL WHERE EXISTS (SELECT 1 FROM `{name}`)" for name in tables
        )
        counted = (
            "SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE() AND auto_increment > 1"
        )
        connection.exec_driver_sql("SET foreign_key_checks = 0")
        for name in set(connection.exec_driver_sql(f"{holds} UNION {counted}").scalars()):
            connection.exec_driver_sql(f"TRUNCATE TABLE `{name}`")
        versions = connection.exec_driver_sql("SELECT version_num FROM alembic_version").scalars().all()
        connection.exec_driver_sql("SET foreign_key_checks = 1")
    return versions == [newest_revision()]


@contextmanager
def _empty(server: PrivateMariaDB, template: tuple[str, ...]) -> Iterator[Store]:
    name = _used.pop() if _used else f"kunstflug_test_{os.getpid()}_{next(_numbers)}"
    store = Store(server.url(name))
    with store.engine.begin() as connection:
        if not connection.exec_driver_sql("SHOW TABLES").all():
            for statement in template:
                connection.exec_driver_sql(statement)
            connection.exec_driver_sql("SET foreign_key_checks = 1")
    yield store
    store.close()
    again = Store(server.url(name))
    whole = _emptied(again)
    again.close()
    if whole:
        _used.append(name)
    else:
        server.drop(name)


@pytest.fixture
def fresh_store(server: PrivateMariaDB, template: tuple[str, ...]) -> Iterator[Store]:
    """An empty, migrated database for one test."""
    with _empty(server, template) as made:
        yield made


@pytest.fixture(scope="module")
def store(server: PrivateMariaDB, template: tuple[str, ...]) -> Iterator[Store]:
    """An empty, migrated database for one test file."""
    with _empty(server, template) as made:
        yield made


@pytest.fixture
def data() -> Path:
    """Folder of the tests' data."""
    return Path(__file__).parent / "data"
