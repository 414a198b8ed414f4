"""Passkeys: a device signs what the server asks, and no secret is sent (WebAuthn level 2, by a library)."""

import json
import secrets
from datetime import timedelta
from hashlib import sha256
from typing import Any, Final

import webauthn
from sqlalchemy import delete, select
from sqlalchemy.orm import Session
from webauthn.helpers import base64url_to_bytes, bytes_to_base64url
from webauthn.helpers.exceptions import WebAuthnException
from webauthn.helpers.structs import (
    AuthenticatorSelectionCriteria,
    PublicKeyCredentialDescriptor,
    ResidentKeyRequirement,
    UserVerificationRequirement,
)

from kunstflug.core.quantity.errors import NotAllowed, NotSignedIn
from kunstflug.documents.account import PasskeyView
from kunstflug.services.account import audit
from kunstflug.services.shared.views import utc
from kunstflug.store.acting import EVERY_RACER
from kunstflug.store.base import now
from kunstflug.store.database import Store, retried
from kunstflug.store.people import ChallengeRow, PasskeyRow, Racer

ASKED_FOR: Final = timedelta(minutes=5)
_WRONG: Final = "this passkey does not sign in here"


def _hash(credential: bytes) -> str:
    return sha256(credential).hexdigest()


def _asked(session: Session, challenge: bytes, racer: int | None) -> None:
    session.execute(delete(ChallengeRow).where(ChallengeRow.expires_at < now()))
    session.add(ChallengeRow(challenge=bytes_to_base64url(challenge), racer_id=racer, expires_at=now() + ASKED_FOR))


def _answered(session: Session, credential: dict[str, Any], racer: int | None) -> bytes:
    """The challenge that a device answers; it holds no more.

    Raises
    ------
    NotSignedIn : it was never asked, is over, or somebody else was asked.
    """
    try:
        told = json.loads(base64url_to_bytes(credential["response"]["clientDataJSON"]))["challenge"]
        found = session.get(ChallengeRow, str(told)[:64], with_for_update=True)
    except (KeyError, TypeError, ValueError) as error:
        raise NotSignedIn(_WRONG) from error
    if found is None or found.racer_id != racer or found.expires_at < now():
        raise NotSignedIn(_WRONG)
    session.delete(found)
    return base64url_to_bytes(found.challenge)


@retried
def registration(store: Store, racer: int, host: str) -> dict[str, Any]:
    """What a browser is asked to make a passkey with."""
    with store.transaction() as session:
        row = session.get_one(Racer, racer)
        there = session.scalars(select(PasskeyRow.credential).where(PasskeyRow.owner_id == racer)).all()
        options = webauthn.generate_registration_options(
            rp_id=host,
            rp_name="Kunstflug",
            challenge=secrets.token_bytes(32),
            user_id=str(racer).encode(),
            user_name=row.name,
            exclude_credentials=[PublicKeyCredentialDescriptor(id=one) for one in there],
            authenticator_selection=AuthenticatorSelectionCriteria(
                resident_key=ResidentKeyRequirement.REQUIRED, user_verification=UserVerificationRequirement.REQUIRED
            ),
        )
        _asked(session, options.challenge, racer)
    return json.loads(webauthn.options_to_json(options))


@retried
def register(
    store: Store, racer: int, name: str, credential: dict[str, Any], host: str, origin: str, address: str
) -> PasskeyView:
    """Keeps a new passkey.

    Raises
    ------
    NotAllowed : it does not answer what was asked here.
    """
    with store.transaction() as session:
        try:
            seen = webauthn.verify_registration_response(
                credential=credential,
                expected_challenge=_answered(session, credential, racer),
                expected_rp_id=host,
                expected_origin=origin,
                require_user_verification=True,
            )
        except (WebAuthnException, NotSignedIn, ValueError, KeyError, TypeError) as error:
            raise NotAllowed("this passkey cannot be kept; begin again") from error
        row = PasskeyRow(
            owner_id=racer, name="".join(c for c in name if c.isprintable())[:60] or "a passkey",
            credential_hash=_hash(seen.credential_id), credential=seen.credential_id,
            public_key=seen.credential_public_key, signs=seen.sign_count,
        )  # fmt: skip
        session.add(row)
        audit.note(session, racer, "passkey added", row.name, address)
        session.flush()
        return PasskeyView(id=row.id, name=row.name, made_at=utc(row.created_at))


@retried
def question(store: Store, host: str) -> dict[str, Any]:
    """What a browser is asked to sign in with; who it is says the passkey."""
    options = webauthn.generate_authentication_options(
        rp_id=host,
        challenge=secrets.token_bytes(32),
        user_verification=UserVerificationRequirement.REQUIRED,
    )
    with store.transaction() as session:
        _asked(session, options.challenge, None)
    return json.loads(webauthn.options_to_json(options))


@retried
def answer(store: Store, credential: dict[str, Any], host: str, origin: str, racer: int | None = None) -> int:
    """The racer that a passkey signs in.

    Parameters
    ----------
    racer : whose it has to be; anybody's if None.

    Raises
    ------
    NotSignedIn : it does not, or the device behind it seems to be copied.
    """
    with store.transaction() as session:
        challenge = _answered(session, credential, None)
        try:
            known = base64url_to_bytes(str(credential["rawId"]))
        except (KeyError, ValueError) as error:
            raise NotSignedIn(_WRONG) from error
        row = session.scalar(
            select(PasskeyRow).where(PasskeyRow.credential_hash == _hash(known)).execution_options(**EVERY_RACER)
        )
        if row is None or row.owner_id != (racer or row.owner_id):
            raise NotSignedIn(_WRONG)
        if session.get_one(Racer, row.owner_id).disabled_at is not None:
            raise NotSignedIn(_WRONG)
        try:
            seen = webauthn.verify_authentication_response(
                credential=credential,
                expected_challenge=challenge,
                expected_rp_id=host,
                expected_origin=origin,
                credential_public_key=row.public_key,
                credential_current_sign_count=row.signs,
                require_user_verification=True,
            )
        except (WebAuthnException, ValueError, KeyError, TypeError) as error:
            raise NotSignedIn(_WRONG) from error
        row.signs = seen.new_sign_count
        return row.owner_id
