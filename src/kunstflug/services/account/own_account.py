"""One's own account: password, recovery codes, where one is signed in, and its end."""

from collections.abc import Callable
from datetime import timedelta
from typing import Final

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from kunstflug.core.quantity.errors import NotAllowed, NotFound
from kunstflug.documents.account import AuditItem, CodesOut, LoginView, NewPassword, PasskeyView, Proof, SecurityOut
from kunstflug.services.account import attempts, audit
from kunstflug.services.account.accounts import (
    IDLE,
    Client,
    Who,
    check_password,
    fresh_codes,
    hashed,
    out_everywhere,
    right,
)
from kunstflug.services.shared.room import room
from kunstflug.services.shared.rows import is_id, racer_of
from kunstflug.services.shared.views import utc
from kunstflug.store.base import now
from kunstflug.store.database import Store, retried
from kunstflug.store.people import AuditRow, DeviceRow, PasskeyRow, Racer, RecoveryCodeRow


def passkeys_of(session: Session, racer: int) -> list[PasskeyView]:
    """Somebody's passkeys."""
    rows = session.scalars(select(PasskeyRow).where(PasskeyRow.owner_id == racer).order_by(PasskeyRow.id))
    return [PasskeyView(id=row.id, name=row.name, made_at=utc(row.created_at)) for row in rows]


NEWS: Final = timedelta(days=30)
TELLS: Final = (
    "passkey added", "passkey taken away", "password changed", "password set anew", "new recovery codes",
    "reset link made",
)  # fmt: skip
"""What somebody is told of at their next sign-in, whoever did it."""


def news(store: Store, who: Who) -> list[AuditItem]:
    """What was done with the keys of one's account of late, the last first: there is no mail that would tell."""
    with store.transaction() as session:
        rows = session.scalars(
            select(AuditRow)
            .where(AuditRow.racer_id == who.racer, AuditRow.what.in_(TELLS), AuditRow.at > now() - NEWS)
            .order_by(AuditRow.id.desc())
            .limit(10)
        )
        return [audit.item(row, "") for row in rows]


def proven(store: Store, who: Who, proof: Proof, host: str, origin: str) -> None:
    """That it is really them who changes the keys: a login alone, which may be stolen, does not.

    Raises
    ------
    NotAllowed, NotSignedIn : the password is wrong, or the passkey is not theirs.
    TooOften
    """
    if proof.passkey is None:
        _confirmed(store, who, proof.password or "")
        return
    from kunstflug.services.account import passkeys

    passkeys.answer(store, proof.passkey, host, origin, who.racer)


def _confirmed(store: Store, who: Who, password: str) -> None:
    # By login, not by name: no stranger's guesses keep out whoever is in.
    attempts.count(store, "login", str(who.device), attempts.BY_LOGIN)
    with store.transaction() as session:
        stored = session.get_one(Racer, who.racer).password_hash
    if not right(stored, password):
        raise NotAllowed("this is not your password")
    attempts.right(store, "login", str(who.device))


def change_password(store: Store, who: Who, asked: NewPassword, client: Client) -> None:
    """Another password; signs out everywhere else.

    Raises
    ------
    NotAllowed : the old one is wrong.
    """
    _confirmed(store, who, asked.old)
    check_password(asked.new, who.name)
    kept = hashed(asked.new)

    @retried
    def keep() -> None:
        with store.transaction() as session:
            session.get_one(Racer, who.racer).password_hash = kept
            out_everywhere(session, who.racer, but=who.device)
            audit.note(session, who.racer, "password changed", "", client.address)

    keep()


def new_codes(store: Store, who: Who, password: str, client: Client) -> CodesOut:
    """Ten new recovery codes; those before hold no more."""
    _confirmed(store, who, password)
    with store.transaction() as session:
        codes = fresh_codes(session, who.racer)
        audit.note(session, who.racer, "new recovery codes", "", client.address)
    return CodesOut(recovery_codes=codes)


def security(store: Store, who: Who) -> SecurityOut:
    """Where one is signed in, with what, and what was done with the account."""
    with store.transaction() as session:
        racer = racer_of(session)
        rows = session.scalars(
            select(DeviceRow).where(DeviceRow.owner_id == racer).order_by(DeviceRow.seen_at.desc(), DeviceRow.id)
        )
        at = now()
        logins = [
            LoginView.model_validate(
                {
                    "id": row.id,
                    "kind": row.kind,
                    "name": row.name,
                    "signed_in_at": utc(row.created_at),
                    "seen_at": utc(row.seen_at),
                    "this": row.id == who.device,
                }
            )
            for row in rows
            if row.expires_at is None or (at < row.expires_at and at - row.seen_at < IDLE)
        ]
        codes = session.scalar(
            select(func.count()).select_from(RecoveryCodeRow).where(RecoveryCodeRow.owner_id == racer)
        )
        keys = passkeys_of(session, racer)
    taken, most = room(store)
    entries = audit.own_entries(store)
    return SecurityOut(
        logins=logins, passkeys=keys, codes_left=codes or 0, room_taken=taken, room=most, entries=entries
    )


@retried
def revoke(store: Store, who: Who, login_id: int, client: Client) -> None:
    """Signs a browser out, or forgets a phone.

    Raises
    ------
    NotFound
    """
    with store.transaction() as session:
        found = session.get(DeviceRow, login_id) if is_id(login_id) else None
        if found is None or found.owner_id != who.racer:
            raise NotFound("login", login_id)
        session.delete(found)
        audit.note(session, who.racer, "signed out", found.name, client.address)


def delete_account(store: Store, who: Who, password: str, wipe: Callable[[Session, int], None]) -> None:
    """Deletes an account with all that is its own.

    Raises
    ------
    NotAllowed : the password is wrong, or it is the last keeper.
    """
    _confirmed(store, who, password)

    @retried
    def gone() -> None:
        with store.transaction() as session:
            keepers = select(func.count()).select_from(Racer).where(Racer.role == "keeper", Racer.disabled_at.is_(None))
            if who.role == "keeper" and session.scalar(keepers.with_for_update()) == 1:
                raise NotAllowed("you are the club's last keeper; make somebody else one first")
            wipe(session, who.racer)
            audit.note(session, None, "account deleted")

    gone()


@retried
def forget_passkey(store: Store, racer: int, passkey_id: int, address: str) -> None:
    """Takes a passkey away.

    Raises
    ------
    NotFound
    """
    with store.transaction() as session:
        row = session.get(PasskeyRow, passkey_id) if is_id(passkey_id) else None
        if row is None or row.owner_id != racer:
            raise NotFound("passkey", passkey_id)
        session.delete(row)
        audit.note(session, racer, "passkey taken away", row.name, address)
