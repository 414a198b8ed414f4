"""Accounts: the ways in, one's own account, boats that are shared, the club."""

import asyncio
from typing import Annotated, Any

from fastapi import Body, Depends, Path, Request, Response
from starlette.concurrency import run_in_threadpool

from kunstflug.core.quantity.errors import NotAllowed, NotFound, NotSignedIn
from kunstflug.documents import account as doc
from kunstflug.services.account import accounts, attempts, own_account
from kunstflug.services.account.accounts import Who
from kunstflug.services.club import club
from kunstflug.services.shared.rows import is_demo
from kunstflug.store.database import Store
from kunstflug.web.api.deps import Id, StoreOf, routes_of
from kunstflug.web.who import COOKIE, KNOWN, SEES, WHO, client_of


async def _accounts(store: StoreOf) -> None:
    if not store.accounts:
        raise NotFound("account", "on this machine; start it with: kunstflug serve --accounts")


router = routes_of("account")
ACCOUNTS = Depends(_accounts)
in_club = routes_of("account", ACCOUNTS)


async def _who(request: Request) -> Who:
    found: Who | None = request.scope.get(WHO)
    if found is None:
        raise NotSignedIn
    return found


WhoOf = Annotated[Who, Depends(_who)]


async def _keeper(who: WhoOf) -> Who:
    if who.role != "keeper":
        raise NotAllowed("this is for the club's keepers")
    return who


KeeperOf = Annotated[Who, Depends(_keeper)]
ClassName = Annotated[str, Path(min_length=1, max_length=60)]


def _stay(response: Response, store: Store, token: str, racer: int) -> None:
    """The cookie of a login: for this server only, over HTTPS or on this machine, out of reach for scripts.

    Beside it what the browser is known by from now on.
    """
    age = int(accounts.AT_MOST.total_seconds())
    for name, value in ((COOKIE, token), (KNOWN, accounts.known_mark(store, racer))):
        response.set_cookie(name, value, max_age=age, path="/", secure=True, httponly=True, samesite="strict")


def _place(request: Request) -> tuple[str, str]:
    """Host and origin that a passkey belongs to."""
    return request.url.hostname or "", f"{request.url.scheme}://{request.headers.get('host', '')}"


@router.get("/account")
def account(request: Request, store: StoreOf) -> doc.AccountOut:
    """Whether there are accounts, who is signed in, and whose boat is looked at."""
    who: Who | None = request.scope.get(WHO)
    seen = request.scope.get(SEES)
    return doc.AccountOut.model_validate(
        {
            "accounts": store.accounts,
            "demo": not store.accounts and is_demo(store),
            "name": who.name if who else None,
            "role": who.role if who else None,
            "sees": seen[1] if seen else "",
            "writes": seen[0].writes if seen else who is None or who.role != "guest",
            "boat_id": seen[0].boat if seen else None,
            "news": own_account.news(store, who) if who and not seen else [],
        }
    )


# --- the ways in


@in_club.post("/account/sign-in", status_code=204)
async def sign_in(asked: doc.SignIn, request: Request, response: Response, store: StoreOf) -> None:
    """Signs in with name and password; says with a cookie who one is from now on. Guesses get slower and slower."""
    client = client_of(request)
    await asyncio.sleep(await run_in_threadpool(accounts.slowed, store, asked.name, client))  # holds up no thread

    def enters() -> None:
        _stay(response, store, *accounts.sign_in(store, asked, client))

    await run_in_threadpool(enters)


@in_club.post("/account/join", status_code=201)
def join(asked: doc.Join, request: Request, response: Response, store: StoreOf) -> doc.JoinedOut:
    """Makes an account of an invitation, and signs in."""
    made, racer = accounts.join(store, asked, client_of(request))
    _stay(response, store, accounts.new_login(store, racer, client_of(request)), racer)
    return made


@in_club.post("/account/recover", status_code=204)
def recover(asked: doc.Recover, request: Request, response: Response, store: StoreOf) -> None:
    """Sets a forgotten password anew with a code, and signs in."""
    _stay(response, store, *accounts.recover(store, asked, client_of(request)))


@in_club.post("/account/passkey")
def passkey_question(request: Request, store: StoreOf) -> dict[str, Any]:
    """What a browser is asked to sign in with a passkey (WebAuthn's request options)."""
    from kunstflug.services.account import passkeys

    return passkeys.question(store, _place(request)[0])


# What knows of passkeys is loaded when somebody uses one: its library takes a quarter of a second of every start.
Credential = Annotated[dict[str, Any], Body(description="as the browser gives it (WebAuthn's JSON form)")]


@in_club.post("/account/passkey/answer", status_code=204)
def passkey_answer(credential: Credential, request: Request, response: Response, store: StoreOf) -> None:
    """Signs in with a passkey."""
    from kunstflug.services.account import passkeys

    attempts.count(store, "passkey", client_of(request).address, attempts.BY_ADDRESS)
    racer = passkeys.answer(store, credential, *_place(request))
    attempts.right(store, "passkey", client_of(request).address)
    _stay(response, store, accounts.new_login(store, racer, client_of(request), "with a passkey"), racer)


# --- one's own account


@in_club.post("/account/sign-out", status_code=204)
def sign_out(response: Response, who: WhoOf, store: StoreOf) -> None:
    """Signs this browser out."""
    accounts.sign_out(store, who)
    response.delete_cookie(COOKIE, path="/", secure=True, httponly=True, samesite="strict")
    # The page itself forgets its answers; what waits to be sent stays in the racer's own box until they are back.
    response.headers["clear-site-data"] = '"cache"'


@in_club.get("/account/security")
def security(who: WhoOf, store: StoreOf) -> doc.SecurityOut:
    """Where one is signed in, passkeys, recovery codes left, what was done with the account."""
    return own_account.security(store, who)


@in_club.delete("/account/logins/{login_id}", status_code=204)
def revoke_login(login_id: Id, request: Request, who: WhoOf, store: StoreOf) -> None:
    """Signs a browser out, or forgets a phone."""
    own_account.revoke(store, who, login_id, client_of(request))


@in_club.put("/account/password", status_code=204)
def change_password(asked: doc.NewPassword, request: Request, who: WhoOf, store: StoreOf) -> None:
    """Another password; all other browsers are signed out."""
    own_account.change_password(store, who, asked, client_of(request))


@in_club.post("/account/codes", status_code=201)
def new_codes(asked: doc.Confirmed, request: Request, who: WhoOf, store: StoreOf) -> doc.CodesOut:
    """New recovery codes; those before hold no more."""
    return own_account.new_codes(store, who, asked.password, client_of(request))


@in_club.post("/account/passkeys/question")
def passkey_registration(proof: doc.Proof, request: Request, who: WhoOf, store: StoreOf) -> dict[str, Any]:
    """What a browser is asked to make a passkey with (WebAuthn's creation options); the password once more before."""
    own_account.proven(store, who, proof, *_place(request))
    from kunstflug.services.account import passkeys

    return passkeys.registration(store, who.racer, _place(request)[0])


@in_club.post("/account/passkeys", status_code=201)
def keep_passkey(credential: Credential, request: Request, who: WhoOf, store: StoreOf) -> doc.PasskeyView:
    """Keeps a passkey that a browser made."""
    client = client_of(request)
    from kunstflug.services.account import passkeys

    return passkeys.register(store, who.racer, client.browser, credential, *_place(request), client.address)


@in_club.post("/account/passkeys/{passkey_id}/forget", status_code=204)
def forget_passkey(passkey_id: Id, proof: doc.Proof, request: Request, who: WhoOf, store: StoreOf) -> None:
    """Takes a passkey away; the password once more before."""
    own_account.proven(store, who, proof, *_place(request))
    own_account.forget_passkey(store, who.racer, passkey_id, client_of(request).address)


@in_club.post("/account/delete", status_code=204)
def delete_account(asked: doc.Confirmed, response: Response, who: WhoOf, store: StoreOf) -> None:
    """Deletes the account with everything that is its own, for good."""
    own_account.delete_account(store, who, asked.password, club.wipe)
    response.delete_cookie(COOKIE, path="/", secure=True, httponly=True, samesite="strict")


# --- sharing
