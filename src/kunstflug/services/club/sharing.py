"""Boats that are shown to others: to look at, to work on together, or to whoever has a link."""

import secrets

from sqlalchemy import delete, select
from sqlalchemy.orm import Session, aliased

from kunstflug.core.quantity.errors import AlreadyThere, InvalidValue, NotAllowed, NotFound
from kunstflug.documents.account import BoatShareView, SharedBoat, ShareIn
from kunstflug.documents.boat import BoatDocument, PartIn
from kunstflug.services.account import audit
from kunstflug.services.account.accounts import Who, called, digest
from kunstflug.services.boats.boat_file import export_boat, import_boat
from kunstflug.services.shared.rows import CLUB, club_id, is_id, owned, racer_of
from kunstflug.services.shared.views import utc
from kunstflug.store.acting import EVERY_RACER, Acting, acting
from kunstflug.store.base import new_uid
from kunstflug.store.database import Store, retried
from kunstflug.store.people import Racer, ShareRow
from kunstflug.store.tables import Boat, SetupRow


def shares(store: Store, boat_id: int) -> list[BoatShareView]:
    """How a boat is shared."""
    with store.transaction() as session:
        boat = owned(session, Boat, boat_id, racer_of(session))
        rows = session.execute(
            select(ShareRow, Racer.name).outerjoin(Racer, Racer.id == ShareRow.with_id).where(
                ShareRow.boat_id == boat.id
            ).order_by(ShareRow.id)
        )  # fmt: skip
        return [_view(row, name) for row, name in rows]


def _view(row: ShareRow, name: str | None, path: str | None = None) -> BoatShareView:
    return BoatShareView(id=row.id, with_name=name, together=row.writes, made_at=utc(row.created_at), path=path)


@retried
def share(store: Store, boat_id: int, asked: ShareIn) -> BoatShareView:
    """Shares a boat with a racer, or makes a link that shows it; the link is said this once.

    Raises
    ------
    InvalidValue : nobody is called that; a link that lets whoever has it change the boat; oneself.
    AlreadyThere : it is shared with them.
    """
    token = None
    with store.transaction() as session:
        owner = racer_of(session)
        boat = owned(session, Boat, boat_id, owner, lock=True)
        row = ShareRow(owner_id=owner, boat_id=boat.id, writes=asked.together)
        if asked.with_name is not None:
            row.with_id = _racer(session, asked.with_name, owner)
            if session.scalar(select(ShareRow.id).where(ShareRow.boat_id == boat.id, ShareRow.with_id == row.with_id)):
                raise AlreadyThere(f"{boat.name} is shared with {asked.with_name} already; take that back first")
        elif asked.together:
            raise InvalidValue("together", "a link", "for a racer by name; a link only shows")
        else:
            token = secrets.token_urlsafe(32)
            row.token_hash = digest(token)
        session.add(row)
        audit.note(session, owner, "shared", f"{boat.name} with {asked.with_name or 'a link'}")
        session.flush()
        return _view(row, asked.with_name, f"/shared#{token}" if token else None)


def _racer(session: Session, name: str, owner: int) -> int:
    found = session.scalar(select(Racer.id).where(called(name), Racer.role != CLUB, Racer.disabled_at.is_(None)))
    if found is None or found == owner:
        raise InvalidValue("with_name", name, "the name of another racer of the club")
    return found


@retried
def take_back(store: Store, share_id: int) -> None:
    """Takes a share back; from the next request on nothing is seen through it.

    Raises
    ------
    NotFound
    """
    with store.transaction() as session:
        owner = racer_of(session)
        row = session.get(ShareRow, share_id) if is_id(share_id) else None
        if row is None or row.owner_id != owner:
            raise NotFound("share", share_id)
        session.delete(row)
        audit.note(session, owner, "share taken back")


def shared_with(store: Store, who: Who) -> list[SharedBoat]:
    """Boats that others share with somebody."""
    owner = aliased(Racer)
    with store.transaction() as session:
        rows = session.execute(
            select(ShareRow, Boat, owner.name)
            .join(Boat, Boat.id == ShareRow.boat_id)
            .join(owner, owner.id == ShareRow.owner_id)
            .where(ShareRow.with_id == who.racer, Boat.deleted_at.is_(None), owner.disabled_at.is_(None))
            .order_by(owner.name, Boat.name)
            .execution_options(**EVERY_RACER)
        )
        return [
            SharedBoat(share_id=row.id, boat_id=boat.id, boat=boat.name, owner=name, together=row.writes)
            for row, boat, name in rows
        ]


def seen_through(store: Store, asked: str, who: Who | None) -> tuple[Acting, str] | None:
    """For whom a request acts that names a share: the club, a share by its number, or a link's token; and whose it is.

    None for what is not there, was taken back, or is another's: no word of which.
    """
    with store.transaction() as session:
        if asked == CLUB:
            if who is None:
                return None
            return Acting(racer=club_id(session), login=who.racer, writes=who.role == "keeper"), "the club"
        query = (
            select(ShareRow, Racer.name)
            .join(Racer, Racer.id == ShareRow.owner_id)
            .join(Boat, Boat.id == ShareRow.boat_id)
            .where(Racer.disabled_at.is_(None), Boat.deleted_at.is_(None))
        )
        if asked.isascii() and asked.isdigit() and len(asked) < 10:
            if who is None:
                return None
            query = query.where(ShareRow.id == int(asked), ShareRow.with_id == who.racer)
        else:
            query = query.where(ShareRow.token_hash == digest(asked))
        found = session.execute(query.execution_options(**EVERY_RACER)).first()
        if found is None:
            return None
        row, name = found
        login = who.racer if who else None
        may = row.writes and (who is not None and who.role != "guest")
        return Acting(racer=row.owner_id, login=login, boat=row.boat_id, writes=may), name


def take_over(store: Store, setup_id: int, who: Who) -> int:
    """Makes a setup that is looked at through a share one's own, as a new boat: parts, no runs. Gives its number.

    Raises
    ------
    NotFound : the setup is not seen through this share.
    NotAllowed : for a guest.
    """
    if who.role == "guest":
        raise NotAllowed("guests look; ask a keeper for an account with boats")
    with store.transaction() as session:
        row = owned(session, SetupRow, setup_id, racer_of(session))
        uid, boat_id = row.uid, row.boat_id
    whole = export_boat(store, boat_id, tracks=False)
    mine = _only(whole, uid)
    with acting(Acting(racer=who.racer, login=who.racer)):
        return import_boat(store, mine).boat_id


def _only(whole: BoatDocument, uid: str) -> BoatDocument:
    """A boat with one setup and its parts, under names of its own."""
    setup = next(one for one in whole.setups if one.key == uid)
    names = {part.key: new_uid() for part in whole.parts if part.key in setup.parts.values()}
    parts = [
        PartIn(key=names[part.key], kind=part.kind, document=part.document) for part in whole.parts if part.key in names
    ]
    alone = setup.model_copy(
        update={
            "key": new_uid(), "parent": None, "ticks": [],
            "parts": {kind: names[key] for kind, key in setup.parts.items() if key in names},
        }
    )  # fmt: skip
    return whole.model_copy(update={"key": new_uid(), "setups": [alone], "parts": parts, "runs": [], "tub_tests": []})


def forget_shares(session: Session, racer: int) -> None:
    """Takes away what was shared with somebody who goes."""
    session.execute(delete(ShareRow).where(ShareRow.with_id == racer).execution_options(**EVERY_RACER))
