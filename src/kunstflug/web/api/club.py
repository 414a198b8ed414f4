"""The club: boats that are shared, who is in it, its classes, its shelf, what its racers pool."""

from typing import Annotated

from fastapi import Path, Request

from kunstflug.core.quantity.errors import NotFound
from kunstflug.documents import account as doc
from kunstflug.documents.priors import PriorsOut
from kunstflug.services.account import accounts, audit
from kunstflug.services.account.accounts import Who
from kunstflug.services.club import club, priors, sharing
from kunstflug.services.shared.computing import computing
from kunstflug.store.acting import acting_now
from kunstflug.web.api.account import ACCOUNTS, KeeperOf, WhoOf
from kunstflug.web.api.deps import Id, StoreOf, routes_of
from kunstflug.web.who import client_of

router = routes_of("club", ACCOUNTS)
ClassName = Annotated[str, Path(min_length=1, max_length=60)]


@router.get("/boats/{boat_id}/shares")
def shares(boat_id: Id, who: WhoOf, store: StoreOf) -> list[doc.BoatShareView]:
    """How a boat is shared."""
    _own(who)
    return sharing.shares(store, boat_id)


@router.post("/boats/{boat_id}/shares", status_code=201)
def share_boat(boat_id: Id, asked: doc.ShareIn, who: WhoOf, store: StoreOf) -> doc.BoatShareView:
    """Shares a boat with a racer by name, or makes a link that shows it."""
    _own(who)
    return sharing.share(store, boat_id, asked)


def _own(who: Who) -> None:
    """A boat is shared by its owner only, not by whom it is shared with."""
    act = acting_now()
    if act is None or act.racer != who.racer or act.boat is not None:
        raise NotFound("boat", "of yours")


@router.delete("/shares/{share_id}", status_code=204)
def take_back_share(share_id: Id, who: WhoOf, store: StoreOf) -> None:
    """Takes a share back."""
    sharing.take_back(store, share_id)


@router.post("/account/takeover/{setup_id}", status_code=201)
def take_over(setup_id: Id, who: WhoOf, store: StoreOf) -> doc.TakenOver:
    """Makes a setup that is looked at through a share a boat of one's own."""
    return doc.TakenOver(boat_id=sharing.take_over(store, setup_id, who))


# --- the club


@router.get("/club")
def the_club(who: WhoOf, store: StoreOf) -> doc.ClubOut:
    """Members, classes, and the boats that others share."""
    return club.club(store, who)


@router.post("/club/invitations", status_code=201)
def invite(asked: doc.InviteIn, request: Request, who: KeeperOf, store: StoreOf) -> doc.InvitationOut:
    """A link that makes an account; holds once, for a week."""
    return accounts.invite(store, asked.role, who.racer, address=client_of(request).address)


@router.patch("/club/members/{member_id}", status_code=204)
def change_member(member_id: Id, asked: doc.MemberIn, request: Request, who: KeeperOf, store: StoreOf) -> None:
    """Changes what a member may, closes an account or opens it again."""
    club.change_member(store, who, member_id, asked, client_of(request).address)


@router.get("/club/entries")
def club_entries(who: KeeperOf, store: StoreOf) -> list[doc.AuditItem]:
    """What was done with the club's accounts, the last first."""
    return audit.all_entries(store)


@router.get("/club/priors")
def club_priors(who: WhoOf, store: StoreOf) -> PriorsOut:
    """Which families the club knows, how many racers share each, and whether one's own boats count."""
    return priors.standing(store, who)


@router.post("/club/priors", status_code=204)
def share_priors(request: Request, who: WhoOf, store: StoreOf) -> None:
    """Shares a summary of one's runs from now on."""
    priors.agree(store, who, client_of(request).address)


@router.delete("/club/priors", status_code=204)
def stop_sharing_priors(request: Request, who: WhoOf, store: StoreOf) -> None:
    """Stops sharing at once."""
    priors.withdraw(store, who, client_of(request).address)


@router.post("/club/priors/anew")
def recalculate_priors(who: KeeperOf, store: StoreOf) -> PriorsOut:
    """Recalculates all summaries. A club of hundreds uses the nightly command instead."""
    with computing() as work:
        priors.make_anew(store, work)
    return priors.standing(store, who)


@router.put("/club/classes/{name}")
def keep_class(name: ClassName, rule: doc.ClassRule, who: KeeperOf, store: StoreOf) -> doc.ClassRuleView:
    """Keeps what a class allows."""
    return club.keep_class(store, name, rule)


@router.delete("/club/classes/{name}", status_code=204)
def forget_class(name: ClassName, who: KeeperOf, store: StoreOf) -> None:
    """Takes a class away."""
    club.forget_class(store, name)


@router.post("/club/parts/{part_id}/take", status_code=201)
def take_part(part_id: Id, who: WhoOf, store: StoreOf) -> doc.TakenPart:
    """Puts a copy of a part of the club's shelf on one's own."""
    return doc.TakenPart(part_id=club.take_part(store, part_id))
