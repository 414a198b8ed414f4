"""A database that somebody else runs: its address comes from outside."""

import os
from contextlib import AbstractContextManager, closing
from typing import Final

from sqlalchemy.exc import ArgumentError, NoSuchModuleError

from kunstflug.core.quantity.errors import StartupProblem
from kunstflug.store.cluster import nodes_of
from kunstflug.store.database import Store

DATABASE: Final = "kunstflug"
"""Name of the database on a private server."""


def elsewhere() -> str | None:
    """Address of a database that is not ours; None where there is none."""
    return os.environ.get("KUNSTFLUG_DATABASE_URL") or None


def external_store(*, accounts: bool = False) -> AbstractContextManager[Store] | None:
    """The database of ``KUNSTFLUG_DATABASE_URL``; None where that is not set.

    Parameters
    ----------
    accounts : whether each racer signs in.

    Raises
    ------
    StartupProblem : it is no address, or nothing answers there.
    """
    url = elsewhere()
    if url is None:
        return None
    try:
        if nodes_of(url)[0].get_dialect().name not in ("mariadb", "mysql"):
            raise ArgumentError("another kind of database")
        store = Store(url, accounts=accounts)
    except (ArgumentError, NoSuchModuleError) as error:
        raise StartupProblem("KUNSTFLUG_DATABASE_URL is no address of a MariaDB; see the README") from error
    if not store.answers():
        store.close()
        raise StartupProblem("the database of KUNSTFLUG_DATABASE_URL does not answer")
    return closing(store)
