"""Phones of the local network: paired by a code that is read off this machine's screen, and forgotten again."""

import hashlib
import re
import secrets
from datetime import timedelta
from typing import Final

from sqlalchemy import delete, select, update

from kunstflug.core.quantity.errors import NotFound
from kunstflug.documents.devices import DeviceView
from kunstflug.services.account import attempts
from kunstflug.services.shared.rows import is_id, racer_of
from kunstflug.services.shared.views import utc
from kunstflug.store.base import now
from kunstflug.store.database import Store, retried
from kunstflug.store.people import DeviceRow, Pairing

ALPHABET: Final = "23456789ABCDEFGHJKLMNPQRSTUVWXYZ"  # without what is read as another: 0 and O, 1 and I
CODE_LONG: Final = 8
CODE_S: Final = 300
MOST_TRIES: Final = 100_000
"""Of a code of 40 bits, from wherever: one in ten millions guesses it. Nobody but the racer takes a code back."""
BY_ADDRESS: Final = 10
"""In a quarter of an hour, from one address."""
SEEN_EVERY: Final = timedelta(minutes=1)


def _hash(words: str) -> str:
    return hashlib.sha256(words.encode()).hexdigest()


def _plain(code: str) -> str:
    return re.sub(r"[\s-]", "", code).upper()


@retried
def new_code(store: Store) -> str:
    """A code for one more device; the one before holds no more."""
    code = "".join(secrets.choice(ALPHABET) for _ in range(CODE_LONG))
    with store.transaction() as session:
        owner = racer_of(session)
        session.execute(delete(Pairing).where(Pairing.owner_id == owner))
        session.add(Pairing(owner_id=owner, code_hash=_hash(code), expires_at=now() + timedelta(seconds=CODE_S)))
    return code


@retried
def pair(store: Store, code: str, name: str, address: str = "") -> str | None:
    """The token of a device that knows the code; None where it does not, or the code is used, over, or tried too often.

    Wrong tries end for an address, not for the code: a neighbour who is not paired cannot keep a phone from it.

    A token is 256 bits of chance; the database keeps its hash only.
    """
    token = secrets.token_urlsafe(32)
    attempts.count(store, "pairing", address, BY_ADDRESS)
    with store.transaction() as session:
        owner = racer_of(session)
        asked = session.scalar(select(Pairing).where(Pairing.owner_id == owner).with_for_update())
        if asked is None:
            return None
        asked.tries += 1
        right = secrets.compare_digest(asked.code_hash, _hash(_plain(code)))
        good = right and asked.tries <= MOST_TRIES and now() < asked.expires_at
        if good:
            session.add(DeviceRow(owner_id=owner, name=_name(name), token_hash=_hash(token)))
        if good:
            session.delete(asked)
    if good:
        attempts.right(store, "pairing", address)
    return token if good else None


def _name(given: str) -> str:
    words = "".join(c for c in given if c.isprintable()).strip()
    return words[:60] or "a phone"


def device_of(store: Store, token: str) -> int | None:
    """The device of a token; None for one that was never given, or taken back."""
    if not re.fullmatch(r"[A-Za-z0-9_-]{43}", token):
        return None
    with store.transaction() as session:
        found = session.execute(
            select(DeviceRow.id, DeviceRow.seen_at).where(
                DeviceRow.token_hash == _hash(token), DeviceRow.kind == "phone"
            )
        ).first()
        if found is None:
            return None
        if now() - found.seen_at > SEEN_EVERY:
            session.execute(update(DeviceRow).where(DeviceRow.id == found.id).values(seen_at=now()))
        return int(found.id)


def devices(store: Store) -> list[DeviceView]:
    """All devices, the last paired first."""
    with store.transaction() as session:
        owner = racer_of(session)
        rows = session.scalars(select(DeviceRow).where(DeviceRow.owner_id == owner).order_by(DeviceRow.id.desc()))
        return [
            DeviceView(id=row.id, name=row.name, paired_at=utc(row.created_at), seen_at=utc(row.seen_at))
            for row in rows
        ]


@retried
def forget_device(store: Store, device_id: int) -> None:
    """Takes a device's token back; it is answered no more.

    Raises
    ------
    NotFound
    """
    with store.transaction() as session:
        found = session.get(DeviceRow, device_id) if is_id(device_id) else None
        if found is None or found.owner_id != racer_of(session):
            raise NotFound("device", device_id)
        session.delete(found)
