"""How often something may be tried in vain: counted in the database, so that it holds for all web processes."""

import hashlib
from datetime import timedelta
from typing import Final

from sqlalchemy import delete, select
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.sql import case

from kunstflug.core.quantity.errors import TooOften
from kunstflug.store.base import now
from kunstflug.store.database import Store, retried
from kunstflug.store.people import AttemptRow

WINDOW: Final = timedelta(minutes=15)
BY_NAME: Final = 8
BY_ADDRESS: Final = 40


def _key(kind: str, words: str) -> str:
    return hashlib.sha256(f"{kind} {words.casefold()}".encode()).hexdigest()


@retried
def count(store: Store, kind: str, words: str, most: int) -> None:
    """Counts a try, before anybody knows whether it is in vain: several at once do not slip through.

    Raises
    ------
    TooOften
    """
    at = now()
    fresh = AttemptRow.until < at
    until = case((fresh, at + WINDOW), else_=AttemptRow.until)
    tried = case((fresh, 1), else_=AttemptRow.times + 1)
    row = insert(AttemptRow).values(key=_key(kind, words), times=1, until=at + WINDOW)
    with store.transaction() as session:
        # In this order: MariaDB sets one after the other, and the count looks at the time before.
        session.execute(row.on_duplicate_key_update([("times", tried), ("until", until)]))
        found = session.execute(
            select(AttemptRow.times, AttemptRow.until).where(AttemptRow.key == _key(kind, words))
        ).one()
    if found.times > most:
        raise TooOften(max(1.0, (found.until - at).total_seconds()))


@retried
def forget(store: Store, kind: str, words: str) -> None:
    """It was not in vain."""
    with store.transaction() as session:
        session.execute(delete(AttemptRow).where(AttemptRow.key == _key(kind, words)))


@retried
def clean(store: Store) -> None:
    """Takes away what is over."""
    with store.transaction() as session:
        session.execute(delete(AttemptRow).where(AttemptRow.until < now()))
