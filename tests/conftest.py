"""A real MariaDB of our own for the tests, never the demo's."""

import itertools
import os
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

from kunstflug.launch.mariadb import PrivateMariaDB
from kunstflug.store.database import Store
from kunstflug.store.migrate import migrate

# The machine may be busy: what counts is the answer, not its time. The same examples every time.
settings.register_profile(
    "kunstflug", deadline=None, max_examples=50, derandomize=True, suppress_health_check=[HealthCheck.too_slow]
)
settings.load_profile("kunstflug")

_numbers = itertools.count(1)


@pytest.fixture(scope="session")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[PrivateMariaDB]:
    """The server, for the whole session, in a folder of its own."""
    with PrivateMariaDB(tmp_path_factory.mktemp("mariadb")) as running:
        yield running


@pytest.fixture
def fresh_store(server: PrivateMariaDB) -> Iterator[Store]:
    """An empty, migrated database for one test."""
    name = f"kunstflug_test_{os.getpid()}_{next(_numbers)}"
    store = Store(server.url(name))
    migrate(store.engine)
    yield store
    store.close()
    server.drop(name)


@pytest.fixture(scope="module")
def store(server: PrivateMariaDB) -> Iterator[Store]:
    """An empty, migrated database for one test file."""
    name = f"kunstflug_test_{os.getpid()}_{next(_numbers)}"
    store = Store(server.url(name))
    migrate(store.engine)
    yield store
    store.close()
    server.drop(name)


@pytest.fixture
def data() -> Path:
    """Folder of the tests' data."""
    return Path(__file__).parent / "data"
