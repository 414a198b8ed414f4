"""How often something was tried in vain: counted in the database, so that it holds for all web processes.

A stranger must not have a lock to turn: by name, guesses only get slower (for browsers that never signed in there); by
address, and by the login of whoever is in already, there is an end to them. What was right does not count.
"""

import hashlib
from datetime import timedelta
from typing import Final

from sqlalchemy import delete, select, update
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.sql import case

from kunstflug.core.quantity.errors import TooOften
from kunstflug.store.base import now
from kunstflug.store.database import Store, retried
from kunstflug.store.people import AttemptRow

WINDOW: Final = timedelta(minutes=15)
BY_ADDRESS: Final = 40
BY_LOGIN: Final = 8
FREE: Final = 4
"""So many wrong passwords by name cost no time; each more doubles it."""
FIRST_S: Final = 0.5
LONGEST_S: Final = 8.0


def _key(kind: str, words: str) -> str:
    return hashlib.sha256(f"{kind} {words.casefold()}".encode()).hexdigest()


@retried
def count(store: Store, kind: str, words: str, most: int | None = None) -> int:
    """Counts a try, before anybody knows whether it is in vain: several at once do not slip through. How many it makes.

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
    if most is not None and found.times > most:
        raise TooOften(max(1.0, (found.until - at).total_seconds()))
    return int(found.times)


def slowed_s(times: int) -> float:
    """How long the answer to so many tries by one name waits [s]."""
    return 0.0 if times <= FREE else min(FIRST_S * 2.0 ** (times - FREE - 1), LONGEST_S)


@retried
def right(store: Store, kind: str, words: str) -> None:
    """The try was not in vain: it does not count. What others tried in vain does."""
    with store.transaction() as session:
        session.execute(
            update(AttemptRow)
            .where(AttemptRow.key == _key(kind, words), AttemptRow.times > 0)
            .values(times=AttemptRow.times - 1)
        )


@retried
def clean(store: Store) -> None:
    """Takes away what is over."""
    with store.transaction() as session:
        session.execute(delete(AttemptRow).where(AttemptRow.until < now()))
