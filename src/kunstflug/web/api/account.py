"""Accounts: the ways in, one's own account, boats that are shared, the club."""

import asyncio
from typing import Annotated, Any

from fastapi import Body, Depends, Path, Request, Response
from starlette.concurrency import run_in_threadpool

from kunstflug.core.quantity.errors import NotAllowed, NotFound, NotSignedIn
from kunstflug.documents import account as doc
from kunstflug.documents.priors import PriorsOut
from kunstflug.services.club import accounts, attempts, audit, club, own_account, priors, sharing
from kunstflug.services.club.accounts import Who
from kunstflug.services.shared.computing import computing
from kunstflug.services.shared.rows import is_demo
from kunstflug.store.acting import acting_now
from kunstflug.store.database import Store
from kunstflug.web.api.deps import Id, StoreOf, routes_of
from kunstflug.web.who import COOKIE, KNOWN, SEES, WHO, client_of


async def _accounts(store: StoreOf) -> None:
    if not store.accounts:
        raise NotFound("account", "on this machine; start it with: kunstflug serve --accounts")


router = routes_of("account")
in_club = routes_of("account", Depends(_accounts))


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
    from kunstflug.services.club import passkeys

    return passkeys.question(store, _place(request)[0])


# What knows of passkeys is loaded when somebody uses one: its library takes a quarter of a second of every start.
Credential = Annotated[dict[str, Any], Body(description="as the browser gives it (WebAuthn's JSON form)")]


@in_club.post("/account/passkey/answer", status_code=204)
def passkey_answer(credential: Credential, request: Request, response: Response, store: StoreOf) -> None:
    """Signs in with a passkey."""
    from kunstflug.services.club import passkeys

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
    from kunstflug.services.club import passkeys

    return passkeys.registration(store, who.racer, _place(request)[0])


@in_club.post("/account/passkeys", status_code=201)
def keep_passkey(credential: Credential, request: Request, who: WhoOf, store: StoreOf) -> doc.PasskeyView:
    """Keeps a passkey that a browser made."""
    client = client_of(request)
    from kunstflug.services.club import passkeys

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


@in_club.get("/boats/{boat_id}/shares")
def shares(boat_id: Id, who: WhoOf, store: StoreOf) -> list[doc.BoatShareView]:
    """How a boat is shared."""
    _own(who)
    return sharing.shares(store, boat_id)


@in_club.post("/boats/{boat_id}/shares", status_code=201)
def share_boat(boat_id: Id, asked: doc.ShareIn, who: WhoOf, store: StoreOf) -> doc.BoatShareView:
    """Shares a boat with a racer by name, or makes a link that shows it."""
    _own(who)
    return sharing.share(store, boat_id, asked)


def _own(who: Who) -> None:
    """A boat is shared by its owner only, not by whom it is shared with."""
    act = acting_now()
    if act is None or act.racer != who.racer or act.boat is not None:
        raise NotFound("boat", "of yours")


@in_club.delete("/shares/{share_id}", status_code=204)
def take_back_share(share_id: Id, who: WhoOf, store: StoreOf) -> None:
    """Takes a share back."""
    sharing.take_back(store, share_id)


@in_club.post("/account/takeover/{setup_id}", status_code=201)
def take_over(setup_id: Id, who: WhoOf, store: StoreOf) -> doc.TakenOver:
    """Makes a setup that is looked at through a share a boat of one's own."""
    return doc.TakenOver(boat_id=sharing.take_over(store, setup_id, who))


# --- the club


@in_club.get("/club")
def the_club(who: WhoOf, store: StoreOf) -> doc.ClubOut:
    """Members, classes, and the boats that others share."""
    return club.club(store, who)


@in_club.post("/club/invitations", status_code=201)
def invite(asked: doc.InviteIn, request: Request, who: KeeperOf, store: StoreOf) -> doc.InvitationOut:
    """A link that makes an account; holds once, for a week."""
    return accounts.invite(store, asked.role, who.racer, address=client_of(request).address)


@in_club.patch("/club/members/{member_id}", status_code=204)
def change_member(member_id: Id, asked: doc.MemberIn, request: Request, who: KeeperOf, store: StoreOf) -> None:
    """Changes what a member may, closes an account or opens it again."""
    club.change_member(store, who, member_id, asked, client_of(request).address)


@in_club.get("/club/entries")
def club_entries(who: KeeperOf, store: StoreOf) -> list[doc.AuditItem]:
    """What was done with the club's accounts, the last first."""
    return audit.all_entries(store)


@in_club.get("/club/priors")
def club_priors(who: WhoOf, store: StoreOf) -> PriorsOut:
    """Which families the club knows, how many racers share each, and whether one's own boats count."""
    return priors.standing(store, who)


@in_club.post("/club/priors", status_code=204)
def share_priors(request: Request, who: WhoOf, store: StoreOf) -> None:
    """Shares a summary of one's runs from now on."""
    priors.agree(store, who, client_of(request).address)


@in_club.delete("/club/priors", status_code=204)
def stop_sharing_priors(request: Request, who: WhoOf, store: StoreOf) -> None:
    """Stops sharing at once."""
    priors.withdraw(store, who, client_of(request).address)


@in_club.post("/club/priors/anew")
def recalculate_priors(who: KeeperOf, store: StoreOf) -> PriorsOut:
    """Recalculates all summaries. A club of hundreds uses the nightly command instead."""
    with computing() as work:
        priors.make_anew(store, work)
    return priors.standing(store, who)


@in_club.put("/club/classes/{name}")
def keep_class(name: ClassName, rule: doc.ClassRule, who: KeeperOf, store: StoreOf) -> doc.ClassRuleView:
    """Keeps what a class allows."""
    return club.keep_class(store, name, rule)


@in_club.delete("/club/classes/{name}", status_code=204)
def forget_class(name: ClassName, who: KeeperOf, store: StoreOf) -> None:
    """Takes a class away."""
    club.forget_class(store, name)


@in_club.post("/club/parts/{part_id}/take", status_code=201)
def take_part(part_id: Id, who: WhoOf, store: StoreOf) -> doc.TakenPart:
    """Puts a copy of a part of the club's shelf on one's own."""
    return doc.TakenPart(part_id=club.take_part(store, part_id))
