"""Accounts of a club's server: joining by invitation, signing in, passwords, recovery, where one is signed in."""

import hashlib
import hmac
import re
import secrets
import threading
from dataclasses import dataclass
from datetime import timedelta
from functools import cache
from typing import Final

import argon2
from sqlalchemy import ColumnElement, delete, func, select, update
from sqlalchemy.orm import Session
from zxcvbn import zxcvbn

from kunstflug.core.quantity.errors import AlreadyThere, InvalidValue, NotAllowed, NotFound, NotSignedIn
from kunstflug.documents.account import (
    InvitationOut,
    Join,
    JoinedOut,
    Recover,
    SignIn,
)
from kunstflug.services.account import attempts, audit
from kunstflug.services.shared.rows import CLUB, LOCAL_RACER, club_id
from kunstflug.services.shared.views import utc
from kunstflug.store.acting import EVERY_RACER
from kunstflug.store.base import now
from kunstflug.store.database import Store, retried
from kunstflug.store.people import DeviceRow, InvitationRow, Racer, RecoveryCodeRow
from kunstflug.store.tables import Boat

LEAST: Final = 12
LEAST_SCORE: Final = 3  # of zxcvbn's 0 to 4: "safely unguessable"
CODES: Final = 10
IDLE: Final = timedelta(days=30)
AT_MOST: Final = timedelta(days=180)
INVITED: Final = timedelta(days=7)
RESET: Final = timedelta(hours=1)
SEEN_EVERY: Final = timedelta(minutes=1)
_TOKEN: Final = re.compile(r"[A-Za-z0-9_-]{43}")
_ALPHABET: Final = "23456789abcdefghjkmnpqrstuvwxyz"
_WRONG: Final = "name and password do not belong together"

_hasher = argon2.PasswordHasher()  # argon2id with the parameters of RFC 9106 for little memory
_hashing = threading.BoundedSemaphore(2)  # 64 MiB each: many at once must not fill the memory


@dataclass(frozen=True, slots=True, kw_only=True)
class Client:
    """From where a request came: an address, what browser it is, and what it was once given as a known one."""

    address: str = ""
    browser: str = ""
    known: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Who:
    """Whoever is signed in."""

    racer: int
    name: str
    role: str
    device: int


def digest(token: str) -> str:
    """What is kept of a secret of 50 bits and more."""
    return hashlib.sha256(token.encode()).hexdigest()


def called(name: str) -> ColumnElement[bool]:
    """Whose name is that; capital letters make no other racer."""
    return func.lower(Racer.name) == name.lower()


# --- passwords


def check_password(password: str, name: str) -> None:
    """Lets a password through that nobody guesses.

    Raises
    ------
    InvalidValue : it is short, common, or the name.
    """
    if len(password) < LEAST:
        raise InvalidValue("password", "too short", f"at least {LEAST} characters; a few words in a row do well")
    if zxcvbn(password[:72], user_inputs=[name, "kunstflug"])["score"] < LEAST_SCORE:
        raise InvalidValue("password", "easy to guess", "harder to guess; a few words that do not belong together do")


@cache
def _nobodys() -> str:
    """What the password of somebody who is not there is held against."""
    return _hasher.hash(secrets.token_urlsafe(16))


def hashed(password: str) -> str:
    """A password as it is kept."""
    with _hashing:
        return _hasher.hash(password)


def right(stored: str | None, password: str) -> bool:
    """Whether a password is the one that was kept; takes as long where there is none."""
    nobodys = _nobodys()  # made by whoever is first, there or not
    try:
        with _hashing:
            _hasher.verify(stored or nobodys, password)
    except argon2.exceptions.VerifyMismatchError:
        return False
    return stored is not None


# --- joining


@retried
def invite(store: Store, role: str, by: int | None = None, *, address: str = "") -> InvitationOut:
    """A link that makes an account; holds once, for a week.

    Parameters
    ----------
    by : who invites; the club itself where the server's operator does.
    """
    token = secrets.token_urlsafe(32)
    with store.transaction() as session:
        owner = by if by is not None else club_id(session)
        row = InvitationRow(owner_id=owner, token_hash=digest(token), role=role, expires_at=now() + INVITED)
        session.add(row)
        audit.note(session, owner, "invited", f"a {role}", address)
    return InvitationOut(path=f"/join#{token}", expires_at=utc(row.expires_at))


@retried
def join(store: Store, asked: Join, client: Client) -> tuple[JoinedOut, int]:
    """A new account, and its racer. The first keeper takes over the boats that were there without accounts.

    Raises
    ------
    NotAllowed : the invitation does not hold.
    AlreadyThere : the name is taken.
    """
    attempts.count(store, "address", client.address, attempts.BY_ADDRESS)
    check_password(asked.password, asked.name)
    kept = hashed(asked.password)
    with store.transaction() as session:
        invited = _invitation(session, asked.token)
        if invited.racer_id is not None:
            raise NotAllowed(_NO_INVITATION)
        if asked.name.casefold() in (LOCAL_RACER, CLUB) or session.scalar(select(Racer.id).where(called(asked.name))):
            raise AlreadyThere("somebody is called that already; choose another name")
        racer = _first_keeper(session) if invited.role == "keeper" else None
        if racer is None:
            racer = Racer(name=asked.name)
            session.add(racer)
        racer.name, racer.role, racer.password_hash = asked.name, invited.role, kept
        session.delete(invited)
        session.flush()
        codes = fresh_codes(session, racer.id)
        audit.note(session, racer.id, "joined", f"as {invited.role}", client.address)
    attempts.right(store, "address", client.address)
    return JoinedOut.model_validate({"name": asked.name, "role": racer.role, "recovery_codes": codes}), racer.id


_NO_INVITATION: Final = "this link does not hold: it was used, is over, or was never given; ask for another"


def _invitation(session: Session, token: str) -> InvitationRow:
    found = session.scalar(
        select(InvitationRow)
        .where(InvitationRow.token_hash == digest(token), InvitationRow.expires_at > now())
        .with_for_update()
        .execution_options(**EVERY_RACER)
    )
    if found is None:
        raise NotAllowed(_NO_INVITATION)
    return found


def _first_keeper(session: Session) -> Racer | None:
    """The racer of the machine before it had accounts, where there is no keeper yet and there are boats."""
    if session.scalar(select(Racer.id).where(Racer.role == "keeper").limit(1)):
        return None
    local = session.scalar(select(Racer).where(Racer.name == LOCAL_RACER))
    if local is None:
        return None
    boats = select(Boat.id).where(Boat.owner_id == local.id).limit(1).execution_options(**EVERY_RACER)
    return local if session.scalar(boats) else None


# --- signing in


def known_mark(store: Store, racer: int) -> str:
    """What a browser that signed in is known by from then on: until the password is another, and to nobody else.

    Signed with the kept password's hash, which nobody outside the database has; it signs nobody in.
    """
    with store.transaction() as session:
        kept = session.get_one(Racer, racer).password_hash or ""
    chance = secrets.token_urlsafe(12)
    return f"{chance}.{_signed(kept, racer, chance)}"


def _signed(kept: str, racer: int, chance: str) -> str:
    return hmac.new(kept.encode(), f"known {racer} {chance}".encode(), hashlib.sha256).hexdigest()


def _knows(racer: Racer | None, mark: str) -> bool:
    if racer is None or not racer.password_hash:
        return False
    chance, _, told = mark.partition(".")
    return hmac.compare_digest(told.encode(), _signed(racer.password_hash, racer.id, chance).encode())


def slowed(store: Store, name: str, client: Client) -> float:
    """How long a try by a name waits [s]; counted here. A browser that signed in there before does not wait.

    Raises
    ------
    TooOften : too many in vain from one address.
    """
    with store.transaction() as session:
        racer = session.scalar(select(Racer).where(called(name)))
    if _knows(racer, client.known):
        attempts.count(store, "known", client.known, attempts.BY_LOGIN)
        return 0.0
    attempts.count(store, "address", client.address, attempts.BY_ADDRESS)
    return attempts.slowed_s(attempts.count(store, "name", name))


def _not_in_vain(store: Store, racer: Racer, client: Client) -> None:
    if _knows(racer, client.known):
        attempts.right(store, "known", client.known)
    else:
        attempts.right(store, "address", client.address)
        attempts.right(store, "name", racer.name)
    attempts.clean(store)


def sign_in(store: Store, asked: SignIn, client: Client) -> tuple[str, int]:
    """The token of a new login, and whose; what was there before is worth nothing to whoever fixed it.

    The try was counted before, see ``slowed``.

    Raises
    ------
    NotSignedIn : name and password do not belong together; no word of which is wrong.
    """
    with store.transaction() as session:
        racer = session.scalar(select(Racer).where(called(asked.name)))
    good = right(racer.password_hash if racer else None, asked.password)
    if not good or racer is None or racer.disabled_at is not None:
        _failed(store, racer.id if racer else None, client)
        raise NotSignedIn(_WRONG)
    _not_in_vain(store, racer, client)
    if racer.password_hash and _hasher.check_needs_rehash(racer.password_hash):
        _keep_password(store, racer.id, hashed(asked.password))
    return new_login(store, racer.id, client), racer.id


@retried
def _failed(store: Store, racer: int | None, client: Client) -> None:
    with store.transaction() as session:
        audit.note(session, racer, "sign-in refused", client.browser, client.address)


@retried
def _keep_password(store: Store, racer: int, kept: str) -> None:
    with store.transaction() as session:
        session.get_one(Racer, racer).password_hash = kept


@retried
def new_login(store: Store, racer: int, client: Client, how: str = "") -> str:
    """The token of a browser that is signed in: 256 bits of chance, of which the database keeps a hash."""
    token = secrets.token_urlsafe(32)
    with store.transaction() as session:
        session.add(
            DeviceRow(
                owner_id=racer,
                name=client.browser[:60] or "a browser",
                kind="browser",
                token_hash=digest(token),
                expires_at=now() + AT_MOST,
            )
        )
        audit.note(session, racer, "signed in", how or client.browser, client.address)
    return token


def who_is(store: Store, token: str) -> Who | None:
    """Who a token signs in; None for one that was never given, is over, was taken back, or of a closed account."""
    if not _TOKEN.fullmatch(token):
        return None
    at = now()
    with store.transaction() as session:
        found = session.execute(
            select(DeviceRow.id, DeviceRow.seen_at, DeviceRow.expires_at, Racer.id, Racer.name, Racer.role)
            .join(Racer, Racer.id == DeviceRow.owner_id)
            .where(DeviceRow.token_hash == digest(token), DeviceRow.kind == "browser", Racer.disabled_at.is_(None))
            .execution_options(**EVERY_RACER)
        ).first()
        if found is None:
            return None
        device, seen_at, expires_at, racer, name, role = found
        if (expires_at is not None and at > expires_at) or at - seen_at > IDLE:
            return None
        if at - seen_at > SEEN_EVERY:
            session.execute(
                update(DeviceRow).where(DeviceRow.id == device).values(seen_at=at).execution_options(**EVERY_RACER)
            )
    return Who(racer=racer, name=name, role=role, device=device)


@retried
def sign_out(store: Store, who: Who) -> None:
    """Takes a login back."""
    with store.transaction() as session:
        session.execute(delete(DeviceRow).where(DeviceRow.id == who.device, DeviceRow.owner_id == who.racer))


# --- a forgotten password


def fresh_codes(session: Session, racer: int) -> list[str]:
    """New recovery codes; those before hold no more."""
    session.execute(delete(RecoveryCodeRow).where(RecoveryCodeRow.owner_id == racer).execution_options(**EVERY_RACER))
    codes = ["-".join("".join(secrets.choice(_ALPHABET) for _ in range(4)) for _ in range(4)) for _ in range(CODES)]
    session.add_all(RecoveryCodeRow(owner_id=racer, code_hash=digest(code)) for code in codes)
    return codes


@retried
def recover(store: Store, asked: Recover, client: Client) -> tuple[str, int]:
    """A new password with a recovery code, or with a link of the operator; signs in, and signs out everywhere else.

    Raises
    ------
    NotSignedIn : name and code do not belong together.
    TooOften
    """
    attempts.count(store, "address", client.address, attempts.BY_ADDRESS)
    check_password(asked.password, asked.name)
    kept = hashed(asked.password)
    with store.transaction() as session:
        racer = session.scalar(select(Racer).where(called(asked.name)))
        if racer is None or racer.disabled_at is not None or not _spent(session, racer.id, asked.code):
            raise NotSignedIn("name and code do not belong together, or the code was used")
        racer.password_hash = kept
        out_everywhere(session, racer.id)
        audit.note(session, racer.id, "password set anew", "with a code", client.address)
    attempts.right(store, "address", client.address)
    return new_login(store, racer.id, client), racer.id


def _spent(session: Session, racer: int, code: str) -> bool:
    """Whether a code or a reset link holds for somebody; it does no more."""
    plain = re.sub(r"[\s-]", "", code.strip()).lower()
    spelt = "-".join(plain[i : i + 4] for i in range(0, len(plain), 4))
    used = session.execute(
        delete(RecoveryCodeRow)
        .where(RecoveryCodeRow.owner_id == racer, RecoveryCodeRow.code_hash == digest(spelt))
        .execution_options(**EVERY_RACER)
    )
    if used.rowcount:  # type: ignore[attr-defined]  # of a delete it is there
        return True
    reset = session.execute(
        delete(InvitationRow)
        .where(
            InvitationRow.racer_id == racer,
            InvitationRow.token_hash == digest(code.strip()),
            InvitationRow.expires_at > now(),
        )
        .execution_options(**EVERY_RACER)
    )
    return bool(reset.rowcount)  # type: ignore[attr-defined]


def out_everywhere(session: Session, racer: int, but: int | None = None) -> None:
    """Signs somebody out in all browsers, but for one."""
    gone = delete(DeviceRow).where(DeviceRow.owner_id == racer, DeviceRow.kind == "browser")
    if but is not None:
        gone = gone.where(DeviceRow.id != but)
    session.execute(gone.execution_options(**EVERY_RACER))


@retried
def reset_link(store: Store, name: str) -> InvitationOut:
    """A link that sets a racer's password anew, for an hour; made by whoever runs the server.

    Raises
    ------
    NotFound
    """
    token = secrets.token_urlsafe(32)
    with store.transaction() as session:
        racer = session.scalar(select(Racer).where(called(name), Racer.role != CLUB))
        if racer is None:
            raise NotFound("racer", name)
        row = InvitationRow(
            owner_id=racer.id, token_hash=digest(token), role=racer.role, racer_id=racer.id, expires_at=now() + RESET
        )
        session.add(row)
        audit.note(session, racer.id, "reset link made", "by the operator")
    return InvitationOut(path=f"/recover#{token}", expires_at=utc(row.expires_at))
