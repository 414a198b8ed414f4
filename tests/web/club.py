"""A club's server with racers in it, for the tests."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import argon2
from fastapi.testclient import TestClient

from kunstflug.services.account import accounts
from kunstflug.store.database import Store
from kunstflug.web.app import create_app

REAL_HASHER = accounts._hasher
accounts._hasher = argon2.PasswordHasher(time_cost=1, memory_cost=64, parallelism=1)
"""A password costs a tenth of a second by design; tests ask for hundreds."""
OWN = "https://127.0.0.1:8417"
"""With TLS, as behind a proxy: the cookie is for that only."""
WORDS = {
    "kim": "seven quiet herons at noon", "sam": "brass kettle under the pier", "ada": "old rope and orange peel",
    "bo": "nine stones across the slow ford",
}  # fmt: skip


@contextmanager
def a_club(store: Store) -> Iterator[TestClient]:
    """The server, asked by nobody in particular, and whoever else joins; see ``joined``."""
    clubs = Store(store.engine.url.render_as_string(hide_password=False), accounts=True)
    app = create_app(clubs, Path("no-front-end"))
    with TestClient(app, base_url=OWN, raise_server_exceptions=False) as client:
        yield client
    clubs.close()


def somebody(client: TestClient) -> TestClient:
    """Another browser at the same server."""
    return TestClient(client.app, base_url=OWN, raise_server_exceptions=False)


def store_of(client: TestClient) -> Store:
    """The server's database."""
    found: Store = client.app.api.state.store  # type: ignore[attr-defined]
    return found


def joined(client: TestClient, name: str, role: str = "racer") -> TestClient:
    """A browser of somebody who has just joined."""
    made = somebody(client)
    token = accounts.invite(store_of(client), role).path.partition("#")[2]
    body = {"token": token, "name": name, "password": WORDS[name]}
    answer = made.post("/api/account/join", json=body)
    assert answer.status_code == 201, answer.text
    made.codes = answer.json()["recovery_codes"]  # type: ignore[attr-defined]
    return made
